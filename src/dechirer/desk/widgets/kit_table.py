"""The kit list as a table; what is there of each is typed into its last column."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QTableWidgetItem

from dechirer.core.fold.kit import KitRow
from dechirer.desk.theme import theme
from dechirer.desk.widgets.plain_table import PlainTable

HEADINGS = ("What", "Size", "Each card", "In all", "There")
THERE = 4
COUNT = "How many are there; leave it empty where nobody has counted"


class KitTable(PlainTable):
    """Shows a kit list.

    Signals:
        counted(id, text): something was typed for what is there of a row.
    """

    counted = pyqtSignal(str, str)

    def __init__(self) -> None:
        super().__init__("kit-list", "Kit list", HEADINGS, 0)
        self._ids: list[str] = []
        self.itemChanged.connect(self._typed)

    def show_kit(self, rows: tuple[KitRow, ...]) -> None:
        """Show the rows of a plan."""
        with self.filling(len(rows)):
            self._ids = [row.id for row in rows]
            for number, row in enumerate(rows):
                unit = f" {row.unit}" if row.unit else ""
                spare = f" ({row.spare} spare)" if row.spare else ""
                tray = " · count into a tray" if row.tiny else ""
                cells = [
                    self.put(number, 0, row.name + tray),
                    self.put(number, 1, row.size),
                    self.put(number, 2, f"{row.each:.4g}{unit}"),
                    self.put(number, 3, f"{row.total:.4g}{unit}{spare}"),
                    self.put(number, THERE, "" if row.there is None else str(row.there), edited=True, tip=COUNT),
                ]
                for cell in cells if row.lacking else ():
                    cell.setForeground(theme.colour("stop"))

    def _typed(self, cell: QTableWidgetItem) -> None:
        if cell.column() == THERE and cell.row() < len(self._ids):
            self.counted.emit(self._ids[cell.row()], cell.text().strip())
