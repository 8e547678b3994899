"""A plain table of cells, of which some may be edited."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

ROW_PX = 24
LOOKED_AT = 40
"""Columns are made wide enough for so many rows; to look at all of a long table would hold up the window."""


class PlainTable(QTableWidget):
    """Rows of words under headings; one column takes what room is left."""

    def __init__(self, name: str, words: str, columns: tuple[str, ...], wide: int) -> None:
        """`words` names it to screen readers; the column `wide` takes what room is left."""
        super().__init__(0, len(columns))
        self._wide = wide
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
            top.setResizeContentsPrecision(LOOKED_AT)
        self._fit_columns()

    def _fit_columns(self) -> None:
        top = self.horizontalHeader()
        if top is not None:
            top.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
            top.setSectionResizeMode(self._wide, QHeaderView.ResizeMode.Stretch)

    @contextlib.contextmanager
    def filling(self, rows: int) -> Iterator[None]:
        """So many rows are put in: nobody hears of it, and the columns are fitted once, at the end.

        A column that fits itself is fitted anew at every cell: six hundred rows took the better part of a minute.
        """
        top = self.horizontalHeader()
        self.blockSignals(True)
        if top is not None:
            top.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        try:
            self.setRowCount(rows)
            yield
        finally:
            self._fit_columns()
            self.blockSignals(False)

    def put(self, row: int, column: int, text: str, *, edited: bool = False, tip: str = "") -> QTableWidgetItem:
        """Set a cell."""
        cell = QTableWidgetItem(text)
        flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        cell.setFlags(flags | Qt.ItemFlag.ItemIsEditable if edited else flags)
        cell.setToolTip(f"<span>{escape(tip)}</span>" if "<" in tip else tip)
        self.setItem(row, column, cell)
        return cell
