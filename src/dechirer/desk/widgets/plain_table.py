"""A plain table of cells, of which some may be edited."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

ROW_PX = 24


class PlainTable(QTableWidget):
    """Rows of words under headings; one column takes what room is left."""

    def __init__(self, name: str, words: str, columns: tuple[str, ...], wide: int) -> None:
        """`words` names it to screen readers; the column `wide` takes what room is left."""
        super().__init__(0, len(columns))
        self.setObjectName(name)
        self.setAccessibleName(words)
        self.setHorizontalHeaderLabels(list(columns))
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setEditTriggers(QAbstractItemView.EditTrigger.AllEditTriggers)
        self.setTabKeyNavigation(False)
        self.setWordWrap(False)
        side, top = self.verticalHeader(), self.horizontalHeader()
        if side is not None:
            side.hide()
            side.setDefaultSectionSize(ROW_PX)
        if top is not None:
            top.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
            top.setSectionResizeMode(wide, QHeaderView.ResizeMode.Stretch)

    def put(self, row: int, column: int, text: str, *, edited: bool = False, tip: str = "") -> QTableWidgetItem:
        """Set a cell."""
        cell = QTableWidgetItem(text)
        flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        cell.setFlags(flags | Qt.ItemFlag.ItemIsEditable if edited else flags)
        cell.setToolTip(f"<span>{escape(tip)}</span>" if "<" in tip else tip)
        self.setItem(row, column, cell)
        return cell
