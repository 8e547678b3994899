"""Keep: what the book knows that matters to this job, the book itself to look through, plots, stock, recipients."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec import Struct
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.change import Change
from dechirer.core.job_in_book import job_lines
from dechirer.core.keep.entries import Entry, Photo, Recipient, StockMoved
from dechirer.core.keep.plotting import Series, dots_of
from dechirer.core.keep.stock import OnShelf, on_shelf
from dechirer.core.learned import Learned
from dechirer.core.plan import Plan
from dechirer.core.press.decisions import keep_calibrations
from dechirer.core.press.records import Calibration
from dechirer.desk.panels.book_menu import BookMenu
from dechirer.desk.panels.entries_panel import MOST_SHOWN, EntriesPanel
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.panels.learned_table import LearnedTable
from dechirer.desk.panels.licences_panel import LicencesPanel
from dechirer.desk.panels.recipients_panel import RecipientsPanel
from dechirer.desk.panels.stock_panel import StockPanel
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.book_plots import PLOTS, BookPlot
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.segments import Segments
from dechirer.desk.work.beside import Beside
from dechirer.desk.work.booking import booking
from dechirer.desk.work.document import Document

TABS = (
    ("entries", "Entries"),
    ("plots", "Plots"),
    ("stock", "Stock"),
    ("people", "Recipients"),
    ("licences", "Licences"),
)
PLOTS_PAGE = 1
NOTHING = (
    "Nothing yet. From the first run on the book tells how your own times differ from the plan, how many sheets are "
    "spoiled, what webs your papers hold and where your machine cuts, each with how sure that is."
)
MOST_PAGES = 8


class Read(Struct, frozen=True):
    """What was read of the book, and made of it for a plan: the newest entries, those of some kinds, what is on the
    shelf, what was learned, what matters to the job in words, and the points of the plots."""

    newest: tuple[Entry, ...] = ()
    photos: tuple[Photo, ...] = ()
    pages: tuple[Calibration, ...] = ()
    people: tuple[Recipient, ...] = ()
    moves: tuple[StockMoved, ...] = ()
    shelf: dict[str, OnShelf] = {}
    learned: tuple[Learned, ...] = ()
    lines: tuple[str, ...] = ()
    dots: dict[str, Series] = {}


def read_book(plan: Plan) -> Read:
    """Read the book as it is now; takes a second where it holds ten thousand runs."""
    from dechirer.core.keep.learning import learn

    booking.wait()
    booking.forget()
    entries = booking.entries()
    by: dict[type, list[Any]] = {kind: [] for kind in (Photo, Calibration, Recipient, StockMoved)}
    for each in entries:
        if type(each) in by:
            by[type(each)].append(each)
    learned, shelf = learn(entries), on_shelf(by[StockMoved])
    return Read(
        tuple(sorted(entries, key=lambda each: each.made, reverse=True)[:MOST_SHOWN]),
        tuple(by[Photo]),
        tuple(by[Calibration]),
        tuple(by[Recipient]),
        tuple(by[StockMoved]),
        shelf,
        learned,
        tuple(job_lines(plan, entries, learned, shelf)),
        {name: dots_of(name, entries) for name in ("minutes", "places", "webs")},
    )


class KeepStation(Station):
    """The book and this job."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._read = Read()
        self.facts = QLabel()
        self.facts.setObjectName("keep-facts")
        self.facts.setWordWrap(True)
        self.facts.setTextFormat(Qt.TextFormat.RichText)
        self.take = QPushButton("Take over what the book knows")
        self.take.setObjectName("keep-learn")
        self.take.clicked.connect(self.take_over)
        self.said = small()
        self.said.setObjectName("keep-said")
        self.said.setWordWrap(True)
        self.values = LearnedTable(document)
        self.nothing = small(NOTHING)
        self.nothing.setObjectName("keep-nothing")
        self.nothing.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.fields = FieldPanel(document, "keep", shape="grid")
        self.tabs = Segments("keep-tab", list(TABS))
        self.tabs.show_chosen("entries")
        self.tabs.chosen.connect(self._show_tab)
        self.menu = BookMenu()
        self.menu.said.connect(self.said.setText)
        self.pages = QStackedWidget()
        self.entries = EntriesPanel(document)
        self.plots = {plot: BookPlot(plot) for plot in PLOTS}
        for plot in self.plots.values():
            plot.picked.connect(self._pick)
        self.item = QComboBox()
        self.item.setObjectName("stock-item")
        self.item.setAccessibleName("Whose stock is drawn")
        self.item.currentTextChanged.connect(lambda _: self._draw_stock())
        self.stock = StockPanel(document)
        self.people = RecipientsPanel(document)
        self.licences = LicencesPanel(document)
        for writes in (self.entries.written, self.stock.written, self.menu.written):
            writes.connect(self.refresh)
        for refuses in (self.entries.refused, self.stock.refused):
            refuses.connect(self.refused.emit)
        self.beside = Beside(self)
        self.beside.done.connect(self._take_book)
        self.beside.failed.connect(
            lambda error: self.said.setText(f"The book cannot be read ({type(error).__name__}).")
        )
        self._arrange()

    def _arrange(self) -> None:
        line = QHBoxLayout(self)
        line.setContentsMargins(12, 10, 14, 8)
        line.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(heading("This job"))
        left.addWidget(self.facts)
        left.addWidget(self.take)
        left.addWidget(self.said)
        left.addWidget(heading("What was learned"))
        left.addWidget(self.nothing, 1)
        left.addWidget(self.values, 1)
        left.addWidget(self.fields)
        line.addLayout(left, 50)
        right = QVBoxLayout()
        top = QHBoxLayout()
        top.addWidget(self.tabs)
        top.addStretch(1)
        top.addWidget(self.menu)
        right.addLayout(top)
        for page in (self.entries, self._plots_page(), self.stock, self.people, self.licences):
            self.pages.addWidget(page)
        right.addWidget(self.pages, 1)
        line.addLayout(right, 50)

    def _plots_page(self) -> QWidget:
        page = QWidget()
        grid = QGridLayout(page)
        grid.setContentsMargins(0, 0, 0, 0)
        for place, plot in enumerate(self.plots.values()):
            grid.addWidget(plot, *divmod(place, 2))
        grid.addWidget(self.item, 2, 1)
        return page

    def refresh(self) -> None:
        if self.plan is None:
            return
        self.fields.show_job()
        self.licences.show_job(self.document.job)
        self.beside.run(partial(read_book, self.plan))

    def end(self) -> None:
        """What is read beside the window is given up."""
        for each in (self.beside, self.entries, self.menu.beside):
            each.stop()

    def _take_book(self, found: Read) -> None:
        self._read = found
        if booking.words:
            self.said.setText(booking.words)
        self.facts.setText("<br>".join(found.lines))
        self._offer_to_take()
        values = found.learned or self.document.job.keep.learned
        self.values.show_values(values)
        self.values.setVisible(bool(values))
        self.nothing.setVisible(not values)
        self.entries.show_entries(found.newest, found.photos)
        if self.plan is not None:
            self.stock.show_stock(self.plan, found.shelf)
            self.people.show_plan(self.plan, found.people)
        self._draw_plots()

    def _offer_to_take(self) -> None:
        fresh, pages = len(self._fresh()), len(self._pages())
        self.take.setEnabled(bool(fresh or pages))
        told = f"Take over what the book knows ({fresh + pages} new)"
        done = "Up to date with the book" if self._read.learned else "Nothing to take over yet"
        self.take.setText(told if fresh or pages else done)

    def _fresh(self) -> list[Learned]:
        """Values the book has that the job was not planned with."""
        have = {each.key: each for each in self.document.job.keep.learned}
        return [each for each in self._read.learned if have.get(each.key) != each]

    def _pages(self) -> tuple[Calibration, ...]:
        """Calibration pages of the job's papers at its printer and machine that the job does not have."""
        job = self.document.job
        have, papers = {each.id for each in job.press.calibrations}, {paper.name for paper in job.brief.papers}
        return tuple(
            each
            for each in self._read.pages
            if each.id not in have
            and each.paper in papers
            and (each.printer, each.machine) == (job.brief.printer.name, job.brief.machine.name)
        )[-MOST_PAGES:]

    def take_over(self) -> None:
        """Plan the job with what the book knows now."""
        changes = [Change("keep.learned", self._read.learned)] if self._fresh() else []
        pages = self._pages()
        if pages:
            changes.append(keep_calibrations(self.document.job.press, pages))
        if changes:
            self.document.edit("Learned from the book", changes)

    def _pick(self, kind: str, id: str) -> None:
        """Show the entry of a point."""
        self._show_tab("entries")
        self.entries.look_up(kind, id)

    def _draw_plots(self) -> None:
        """Draw them once they are looked at."""
        if self.pages.currentIndex() != PLOTS_PAGE or not self._read.dots:
            return
        for name in ("minutes", "places", "webs"):
            self.plots[name].show_series(self._read.dots[name])
        items = sorted(self._read.shelf)
        now = self.item.currentText()
        self.item.blockSignals(True)
        self.item.clear()
        self.item.addItems(items)
        self.item.setCurrentIndex(max(0, self.item.findText(now)))
        self.item.blockSignals(False)
        self.item.setVisible(bool(items))
        self._draw_stock()

    def _draw_stock(self) -> None:
        """Draw how the stock of the chosen thing went."""
        self.plots["stock"].show_series(dots_of("stock", self._read.moves, self.item.currentText()))

    def _show_tab(self, tab: str) -> None:
        self.tabs.show_chosen(tab)
        self.pages.setCurrentIndex([id for id, _ in TABS].index(tab))
        self._draw_plots()

    def point_at(self, element: str) -> None:
        self._show_tab("entries")


VIEW = KeepStation
