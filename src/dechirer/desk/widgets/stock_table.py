"""Stock beside what a job takes of it; what is there is counted by typing."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QTableWidgetItem

from dechirer.core.keep.stock import OnShelf
from dechirer.desk.theme import theme
from dechirer.desk.widgets.plain_table import PlainTable

COLUMNS = ("What", "There", "This job", "Lacking", "One costs", "Counted")
THERE, COSTS, MOST = 1, 4, 1e6


class StockTable(PlainTable):
    """Shows stock.

    Signals:
        counted(item, amount): so many of an item are there.
        priced(item, price): one of them costs so much.
        refused(text): what was typed is no number.
    """

    counted = pyqtSignal(str, float)
    priced = pyqtSignal(str, float)
    refused = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__("book-stock", "Stock", COLUMNS, 0)
        self.itemChanged.connect(self._typed)
        self._shown: tuple[dict[str, OnShelf], dict[str, float]] = ({}, {})

    def show_stock(self, shelf: dict[str, OnShelf], needed: dict[str, float]) -> None:
        """Show what there is of everything a job takes, then of the rest; offcuts that are used up are left out."""
        self._shown = shelf, needed
        rows = [*needed, *(item for item, there in shelf.items() if item not in needed and not _is_gone(there))]
        with self.filling(len(rows)):
            for row, item in enumerate(rows):
                there, need = shelf.get(item), needed.get(item, 0.0)
                lacking = there.lacks(need) if there is not None else 0.0
                self.put(row, 0, item, tip=item).setData(Qt.ItemDataRole.UserRole, item)
                amount = f"{there.amount:g}" if there is not None and there.is_known else ""
                self.put(row, THERE, amount, edited=True, tip="Counted: type it in")
                self.put(row, 2, f"{need:g}" if need else "")
                short = self.put(row, 3, f"{lacking:g}" if lacking else "")
                short.setForeground(theme.colour("stop"))
                price = f"{there.price:g}" if there is not None and there.price else ""
                self.put(row, COSTS, price, edited=True, tip="What one costs: type it in")
                self.put(row, 5, there.counted if there is not None else "")

    def _typed(self, cell: QTableWidgetItem) -> None:
        first = self.item(cell.row(), 0)
        if cell.column() not in (THERE, COSTS) or first is None:
            return
        try:
            amount = float(cell.text())
        except ValueError:
            amount = -1.0
        if 0 <= amount <= MOST:
            told = self.counted if cell.column() == THERE else self.priced
            told.emit(first.text(), amount)
            return
        self.refused.emit(f"“{cell.text()[:40]}” is no number that goes here.")
        self.show_stock(*self._shown)


def _is_gone(there: OnShelf) -> bool:
    return bool(there.paper) and there.amount <= 0
