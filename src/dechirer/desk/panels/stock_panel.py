"""Stock: what there is beside what the job takes, counted and priced by typing; offcuts; the shopping list."""

from __future__ import annotations

import time
from datetime import date

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from dechirer.core.decide.letters import clean
from dechirer.core.decide.values import Size
from dechirer.core.keep.entries import StockMoved, entry_id
from dechirer.core.keep.stock import OnShelf
from dechirer.core.lay.stock import add_size
from dechirer.core.length import make_length
from dechirer.core.needs import needs_of
from dechirer.core.plan import Plan
from dechirer.desk.boxes.shopping_box import ShoppingBox
from dechirer.desk.widgets.choices import push_button
from dechirer.desk.widgets.stock_table import StockTable
from dechirer.desk.work.booking import booking
from dechirer.desk.work.document import Document


class StockPanel(QWidget):
    """Shows stock.

    Signals:
        written(): something was written into the book.
        refused(text): what was typed is no number, or an offcut is not of this job.
    """

    written = pyqtSignal()
    refused = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._plan: Plan | None = None
        self._shelf: dict[str, OnShelf] = {}
        self.table = StockTable()
        self.table.counted.connect(lambda item, amount: self._keep(item, "counted", counted=amount))
        self.table.priced.connect(lambda item, price: self._keep(item, "priced", price=price))
        self.table.refused.connect(self.refused.emit)
        self.table.currentCellChanged.connect(lambda *_: self._offer())
        self.name = QLineEdit()
        self.name.setObjectName("stock-new")
        self.name.setPlaceholderText("Another thing, with Enter")
        self.name.setAccessibleName("Another thing to keep stock of")
        self.name.returnPressed.connect(self._add)
        told = "Lay takes an offcut where all of a mat goes on it"
        self.use = push_button("Use the offcut in this job", "stock-use", told, self._use)
        self.list = push_button("Shopping list…", "stock-shopping", "", self.open_shopping)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.table, 1)
        row = QHBoxLayout()
        row.addWidget(self.name, 1)
        row.addWidget(self.use)
        row.addWidget(self.list)
        column.addLayout(row)

    def show_stock(self, plan: Plan, shelf: dict[str, OnShelf]) -> None:
        """Show what there is of everything a job takes, then of the rest."""
        self._plan, self._shelf = plan, shelf
        self.table.show_stock(self._shelf, needs_of(plan))
        self._offer()

    def _keep(self, item: str, why: str, counted: float | None = None, price: float = 0.0) -> None:
        """Stock was counted anew, or priced."""
        known = self._shelf.get(item)
        of = (known.paper, known.width, known.height) if known is not None else ("", 0.0, 0.0)
        id = entry_id(why, item, str(time.time_ns()))  # counted twice on a day is two entries
        moved = StockMoved(id, date.today().isoformat(), item[:120], 0.0, counted, price, why, *of)
        booking.keep([moved], just_now=True)
        self.written.emit()

    def _add(self) -> None:
        item = " ".join(clean(self.name.text()).split())[:120]
        if item:
            self.name.clear()
            self._keep(item, "counted", counted=0.0)

    def _offer(self) -> None:
        there = self._chosen()
        papers = {paper.name for paper in self.document.job.brief.papers}
        self.use.setVisible(there is not None and bool(there.paper))
        self.use.setEnabled(there is not None and there.paper in papers and there.amount > 0)

    def _chosen(self) -> OnShelf | None:
        cell = self.table.item(self.table.currentRow(), 0)
        return self._shelf.get(cell.data(Qt.ItemDataRole.UserRole)) if cell is not None else None

    def _use(self) -> None:
        """The offcut that is chosen is at hand for this job."""
        there, job = self._chosen(), self.document.job
        paper = next((each for each in job.brief.papers if there is not None and each.name == there.paper), None)
        if there is not None and paper is not None:
            size = Size(make_length(there.width, job.units), make_length(there.height, job.units))
            self.document.edit(f"An offcut of {paper.name}", [add_size(paper, "offcuts", size)])

    def open_shopping(self) -> ShoppingBox | None:
        """Open the shopping list of this job."""
        if self._plan is None:
            return None
        box = ShoppingBox(self._plan.job.name, needs_of(self._plan), self._shelf, self)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.show()
        return box
