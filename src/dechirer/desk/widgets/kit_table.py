"""The kit list as a table; what is there of each is typed into its last column."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from dechirer.core.fold.kit import KitRow
from dechirer.desk.theme import theme

HEADINGS = ("What", "Size", "Each card", "In all", "There")
THERE = 4


class KitTable(QTableWidget):
    """Shows a kit list.

    Signals:
        counted(id, text): something was typed for what is there of a row.
    """

    counted = pyqtSignal(str, str)

    def __init__(self) -> None:
        super().__init__(0, len(HEADINGS))
        self.setObjectName("kit-list")
        self.setAccessibleName("Kit list")
        self.setHorizontalHeaderLabels(list(HEADINGS))
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setEditTriggers(QAbstractItemView.EditTrigger.AllEditTriggers)
        self.setTabKeyNavigation(False)
        side, top = self.verticalHeader(), self.horizontalHeader()
        if side is not None:
            side.hide()
            side.setDefaultSectionSize(24)
        if top is not None:
            top.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
            top.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self._ids: list[str] = []
        self.itemChanged.connect(self._typed)

    def show_kit(self, rows: tuple[KitRow, ...]) -> None:
        """Show the rows of a plan."""
        self.blockSignals(True)
        self.setRowCount(len(rows))
        self._ids = [row.id for row in rows]
        for number, row in enumerate(rows):
            unit = f" {row.unit}" if row.unit else ""
            spare = f" ({row.spare} spare)" if row.spare else ""
            tray = " · count into a tray" if row.tiny else ""
            cells = (
                row.name + tray,
                row.size,
                f"{row.each:.4g}{unit}",
                f"{row.total:.4g}{unit}{spare}",
                "" if row.there is None else str(row.there),
            )
            for column, text in enumerate(cells):
                cell = QTableWidgetItem(text)
                flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
                cell.setFlags(flags | Qt.ItemFlag.ItemIsEditable if column == THERE else flags)
                if column == THERE:
                    cell.setToolTip("How many are there; leave it empty where nobody has counted")
                if row.lacking:
                    cell.setForeground(theme.colour("stop"))
                self.setItem(number, column, cell)
        self.blockSignals(False)

    def _typed(self, cell: QTableWidgetItem) -> None:
        if cell.column() == THERE and cell.row() < len(self._ids):
            self.counted.emit(self._ids[cell.row()], cell.text().strip())
