"""What there is of a paper besides sheets of its own size: offcuts, those of the stock too, and other sizes."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QInputDialog, QMenu, QPushButton

from dechirer.core.brief.decisions import Paper
from dechirer.core.decide.values import Size
from dechirer.core.keep.entries import Entry
from dechirer.core.keep.stock import on_shelf
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.offcuts import find_offcut
from dechirer.core.lay.stock import StockKind, add_size, drop_size, is_at_hand
from dechirer.core.length import make_length
from dechirer.core.plan import Plan
from dechirer.core.words import plural
from dechirer.desk.work.beside import Beside
from dechirer.desk.work.booking import booking
from dechirer.desk.work.document import Document

MOST_OF_BOOK = 12


class OffcutsButton(QPushButton):
    """A menu that changes the offcuts and sizes of the paper on a mat."""

    def __init__(self, document: Document) -> None:
        super().__init__("Offcuts")
        self.setObjectName("offcuts")
        self.document = document
        self._plan: Plan | None = None
        self._layout: MatLayout | None = None
        self._from_book: QAction | None = None
        """Before this the offcuts of the stock are put, once they are read."""
        self.beside = Beside(self)
        self.beside.done.connect(self._offer_of_book)
        menu = QMenu(self)
        menu.aboutToShow.connect(self._fill)
        self.setMenu(menu)

    def show_paper(self, plan: Plan, layout: MatLayout) -> None:
        """Point at the paper of a mat."""
        self._plan, self._layout = plan, layout
        self.setText(_stock_of(plan.brief.paper(layout.paper).paper))

    def _fill(self) -> None:
        """What is left of the sheet to be kept, another to be typed, and those at hand to be taken off."""
        menu, layout, plan = self.menu(), self._layout, self._plan
        if menu is None or layout is None or plan is None:
            return
        menu.clear()
        units, paper = plan.job.units, plan.brief.paper(layout.paper).paper
        left = find_offcut(layout, plan.job.lay.spacing.mm)
        if left is not None and not layout.sheet.offcut:
            size = Size(make_length(left.width, units), make_length(left.height, units))
            self._offer(menu, f"Keep what is left: {size.width} x {size.height}", partial(self._keep_offcut, size))
        self._offer(menu, "An offcut, by its size…", self._ask_offcut)
        for size in paper.offcuts:
            words = f"Used up: the offcut of {size.width} x {size.height}"
            self._offer(menu, words, partial(self._use_up, words, "offcuts", size))
        self._from_book = menu.addSeparator()
        self.beside.run(lambda: (paper.name, booking.entries("stockmoved")))
        self._offer(menu, "Sheets of another size, too…", self._ask_size)
        for size in paper.other_sheets:
            words = f"No sheets of {size.width} x {size.height} any more"
            self._offer(menu, words, partial(self._use_up, words, "other_sheets", size))

    def _offer_of_book(self, found: tuple[str, tuple[Entry, ...]]) -> None:
        """Offcuts of the paper that the stock has and the job does not, into the menu that is open."""
        name, moves = found
        menu, paper = self.menu(), paper_now(self.document, self._layout)
        if menu is None or paper is None or paper.name != name or self._from_book is None:
            return
        units = self.document.job.units
        shelf = on_shelf(moves)
        for there in [each for each in shelf.values() if each.paper == name and each.amount >= 1][:MOST_OF_BOOK]:
            size = Size(make_length(there.width, units), make_length(there.height, units))
            action = QAction(f"From the stock: {size.width} x {size.height} ({there.amount:g} there)", menu)
            action.triggered.connect(lambda _=False, size=size: self._keep_offcut(size))
            menu.insertAction(self._from_book, action)

    def _offer(self, menu: QMenu, words: str, run: Callable[[], object]) -> None:
        action = menu.addAction(words)
        if action is not None:
            action.triggered.connect(lambda _=False: run())

    def _keep_offcut(self, size: Size) -> None:
        paper = paper_now(self.document, self._layout)
        if paper is not None:
            self.document.edit(f"An offcut of {paper.name}", [add_size(paper, "offcuts", size)])

    def _add_sheets(self, size: Size) -> None:
        paper = paper_now(self.document, self._layout)
        if paper is not None and not is_at_hand(paper, size):
            words = f"Sheets of {size.width} x {size.height} of {paper.name}"
            self.document.edit(words, [add_size(paper, "other_sheets", size)])

    def _use_up(self, words: str, kind: StockKind, size: Size) -> None:
        paper = paper_now(self.document, self._layout)
        if paper is not None:
            self.document.edit(words, [drop_size(paper, kind, size)])

    def _ask_offcut(self) -> None:
        self._ask("Offcut", "Its size, such as 6 x 4 in", self._keep_offcut)

    def _ask_size(self) -> None:
        words = "Their size, such as 8.5 x 11 in; each time the one that takes least paper is chosen"
        self._ask("Sheets of another size", words, self._add_sheets)

    def _ask(self, title: str, words: str, run: Callable[[Size], None]) -> None:
        text, taken = QInputDialog.getText(self, title, words)
        paper = paper_now(self.document, self._layout)
        if taken and text.strip() and paper is not None:
            try:
                run(paper.typed("sheet", text, self.document.job.units)["sheet"])
            except ValueError as error:
                self.document.refused.emit(str(error))


def _stock_of(paper: Paper) -> str:
    """What there is of a paper besides sheets of its own size, in words."""
    told = [
        f"{count} {plural(count, word)}"
        for count, word in ((len(paper.offcuts), "offcut"), (len(paper.other_sheets), "other size"))
        if count
    ]
    return ", ".join(told) if told else "Offcuts and other sizes"


def paper_now(document: Document, layout: MatLayout | None) -> Paper | None:
    """The paper of a mat as it is in the job now; None where it is gone, before the plan was made anew."""
    shown = layout.paper if layout is not None else None
    return next((paper for paper in document.job.brief.papers if paper.id == shown), None)
