"""Keep: what the book knows that matters to this job, the book itself to look through, plots, stock, recipients."""

from __future__ import annotations

from datetime import date

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.change import Change
from dechirer.core.figure import format_minutes
from dechirer.core.from_work import entry_id, needs_of
from dechirer.core.keep.entries import TITLES, Entry, Note, RunDone, StockMoved, about_of, as_plain, kind_of
from dechirer.core.keep.stock import on_shelf, price_of
from dechirer.core.learned import Learned
from dechirer.core.plan import Plan
from dechirer.core.press.records import CornerTrial
from dechirer.core.words import plural
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.panels.learned_table import LearnedTable
from dechirer.desk.panels.recipients_panel import RecipientsPanel
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.book_plots import PLOTS, BookPlot, dots_of
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.segments import Segments
from dechirer.desk.widgets.stock_table import StockTable
from dechirer.desk.work.beside import Beside
from dechirer.desk.work.booking import booking
from dechirer.desk.work.document import Document

TABS = (("entries", "Entries"), ("plots", "Plots"), ("stock", "Stock"), ("people", "Recipients"))
MOST_SHOWN = 300
PLOTS_PAGE = 1


class KeepStation(Station):
    """The book and this job."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._entries: tuple[Entry, ...] = ()
        self._learned: tuple[Learned, ...] = ()
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
        self.fields = FieldPanel(document, "keep", shape="grid")
        self.tabs = Segments("keep-tab", list(TABS))
        self.tabs.show_chosen("entries")
        self.tabs.chosen.connect(self._show_tab)
        self.pages = QStackedWidget()
        self.search = QLineEdit()
        self.search.setObjectName("book-search")
        self.search.setPlaceholderText("Look for a job, a paper, a cause…")
        self.search.setAccessibleName("Look through the book")
        self.search.textChanged.connect(self._list)
        self.list = QListWidget()
        self.list.setObjectName("book-entries")
        self.list.setAccessibleName("Entries of the book")
        self.list.currentRowChanged.connect(self._show_entry)
        self.detail = small()
        self.detail.setObjectName("book-detail")
        self.detail.setWordWrap(True)
        self.drop = QPushButton("Take it out")
        self.drop.setObjectName("book-drop")
        self.drop.clicked.connect(self._drop)
        self.note = QLineEdit()
        self.note.setObjectName("book-note")
        self.note.setPlaceholderText("A note about this job")
        self.note.setAccessibleName("A note about this job")
        self.note.returnPressed.connect(self._keep_note)
        self.plots = {plot: BookPlot(plot) for plot in PLOTS}
        for plot in self.plots.values():
            plot.picked.connect(self._pick)
        self.item = QComboBox()
        self.item.setObjectName("stock-item")
        self.item.setAccessibleName("Whose stock is drawn")
        self.item.currentTextChanged.connect(lambda _: self._draw_stock())
        self.stock = StockTable()
        self.stock.counted.connect(self._count)
        self.stock.priced.connect(self._price)
        self.stock.refused.connect(self.refused.emit)
        self.people = RecipientsPanel(document)
        self._shown: list[Entry] = []
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
        left.addWidget(self.values, 1)
        left.addWidget(self.fields)
        line.addLayout(left, 50)
        right = QVBoxLayout()
        right.addWidget(self.tabs)
        for page in (self._entries_page(), self._plots_page(), self.stock, self.people):
            self.pages.addWidget(page)
        right.addWidget(self.pages, 1)
        line.addLayout(right, 50)

    def _entries_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.search)
        column.addWidget(self.list, 1)
        column.addWidget(self.detail)
        row = QHBoxLayout()
        row.addWidget(self.note, 1)
        row.addWidget(self.drop)
        column.addLayout(row)
        return page

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
        self._say()
        self.beside.run(self._read_book)

    def end(self) -> None:
        """What is read beside the window is given up."""
        self.beside.stop()

    def _read_book(self) -> object:
        booking.wait()
        booking.forget()
        entries = booking.entries()
        from dechirer.core.keep.learning import learn

        return entries, learn(entries)

    def _take_book(self, found: tuple[tuple[Entry, ...], tuple[Learned, ...]]) -> None:
        self._entries, self._learned = found
        self.said.setText(booking.words)
        self._say()
        self.values.show_values(self._learned or self.document.job.keep.learned)
        self._list()
        if self.plan is not None:
            self.stock.show_stock(self._entries, needs_of(self.plan))
            self.people.show_plan(self.plan, self._entries)
        self._draw_plots()

    def _say(self) -> None:
        """What matters to this job."""
        plan = self.plan
        if plan is None:
            return
        lines = job_lines(plan, self._entries, self._learned)
        self.facts.setText("<br>".join(lines))
        fresh = self._fresh()
        self.take.setEnabled(bool(fresh))
        self.take.setText(f"Take over what the book knows ({len(fresh)} new)" if fresh else "Up to date with the book")

    def _fresh(self) -> list[Learned]:
        """Values the book has that the job was not planned with."""
        have = {each.key: each for each in self.document.job.keep.learned}
        return [each for each in self._learned if have.get(each.key) != each]

    def take_over(self) -> None:
        """Plan the job with what the book knows now."""
        if self._fresh():
            self.document.edit("Learned from the book", [Change("keep.learned", self._learned)])

    def _list(self) -> None:
        text = self.search.text().lower().split()
        newest = sorted(self._entries, key=lambda each: each.made, reverse=True)
        self._shown = [each for each in newest if all(word in line_of(each).lower() for word in text)][:MOST_SHOWN]
        self.list.blockSignals(True)
        self.list.clear()
        for each in self._shown:
            self.list.addItem(QListWidgetItem(line_of(each)))
        self.list.blockSignals(False)
        self.detail.setText(
            "" if self._shown else "Nothing in the book yet." if not self._entries else "Nothing found."
        )
        self.drop.setEnabled(False)

    def _show_entry(self, row: int) -> None:
        if not 0 <= row < len(self._shown):
            return
        self.detail.setText(detail_of(self._shown[row]))
        self.drop.setEnabled(True)

    def _drop(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self._shown):
            booking.drop(kind_of(self._shown[row]), self._shown[row].id)
            self.refresh()

    def _keep_note(self) -> None:
        text, job = self.note.text().strip(), self.document.job.name
        if text:
            day = date.today().isoformat()
            booking.keep([Note(entry_id("note", job, text), day, job[:120], text[:4000])])
            self.note.clear()
            self.refresh()

    def _pick(self, kind: str, id: str) -> None:
        """Show the entry of a point."""
        self.search.clear()
        self._show_tab("entries")
        for row, each in enumerate(self._shown):
            if (kind_of(each), each.id) == (kind, id):
                self.list.setCurrentRow(row)
                return

    def _draw_plots(self) -> None:
        """Draw them once they are looked at."""
        if self.pages.currentIndex() != PLOTS_PAGE:
            return
        for name in ("minutes", "places", "webs"):
            self.plots[name].show_series(dots_of(name, self._entries))
        items = sorted({each.item for each in self._entries if isinstance(each, StockMoved)})
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
        self.plots["stock"].show_series(dots_of("stock", self._entries, self.item.currentText()))

    def _count(self, item: str, counted: float) -> None:
        """Stock counted anew."""
        day = date.today().isoformat()
        booking.keep([StockMoved(entry_id("counted", item, day), day, item, counted=counted, why="counted")])
        self.refresh()

    def _price(self, item: str, price: float) -> None:
        """What one of a thing costs."""
        day = date.today().isoformat()
        booking.keep([StockMoved(entry_id("priced", item, day), day, item, price=price, why="priced")])
        self.refresh()

    def _show_tab(self, tab: str) -> None:
        self.tabs.show_chosen(tab)
        self.pages.setCurrentIndex([id for id, _ in TABS].index(tab))
        self._draw_plots()

    def point_at(self, element: str) -> None:
        self._show_tab("entries")


def detail_of(entry: Entry) -> str:
    """All that an entry holds, in words."""
    plain = as_plain(entry)
    left_out = ("id", "took", "kind")
    shown = {name.replace("_", " "): value for name, value in plain.items() if name not in left_out and value != ""}
    told = [f"{name}: {value}" for name, value in shown.items()]
    for each in plain.get("took", ()):
        told.append(f"{each['kind']} {each['seconds'] / 60:.1f} min of {each['planned'] / 60:.1f}")
    return " · ".join([TITLES[kind_of(entry)], *told])


def line_of(entry: Entry) -> str:
    """An entry in one line."""
    plain = as_plain(entry)
    more = ""
    if "minutes" in plain:
        more = f"{plain['cards']} cards, {plain['minutes']:.0f} min ({plain['planned']:.0f} planned)"
    elif "held" in plain:
        more = f"{plain['width']:g} mm {'held' if plain['held'] else 'tore'}"
    elif "change" in plain:
        more = f"counted {plain['counted']:g}" if plain["counted"] is not None else f"{plain['change']:+g}"
    elif "cause" in plain:
        more = f"{plain['paper']}: {plain['cause'] or 'no cause given'}"
    elif "words" in plain:
        more = plain["words"][:80]
    elif "name" in plain:
        more = plain["name"]
    return " · ".join(word for word in (plain["made"], TITLES[plain["kind"]], about_of(plain), more) if word)


def job_lines(plan: Plan, entries: tuple[Entry, ...], learned: tuple[Learned, ...]) -> list[str]:
    """What the book knows that matters to a job, a line each."""
    keeping, job = plan.keeping, plan.job
    low, high = format_minutes(keeping.low), format_minutes(keeping.high)
    lines = [f"<b>{format_minutes(keeping.minutes.value)}</b> in all, between {low} and {high}."]
    spares = int(keeping.spares.value)
    advised = f"{spares} {plural(spares, 'spare')}, {keeping.spares.source}"
    lines.append(f"Cut <b>{job.brief.count + spares}</b> for {job.brief.count}: {advised}.")
    shelf = on_shelf(each for each in entries if isinstance(each, StockMoved))
    needs = needs_of(plan)
    lacking = {item: shelf[item].lacks(need) for item, need in needs.items() if item in shelf}
    short = [f"{item} ({amount:g})" for item, amount in lacking.items() if amount > 0]
    lines.append(f"<b>Lacking</b>: {', '.join(short)}." if short else "Nothing that was counted is lacking.")
    price = price_of(needs, shelf, keeping.minutes.value, job.keep.rate)
    if price.total:
        apart = f" ({price.materials:.2f} of it for materials)" if price.work else ""
        without = f", {len(price.unknown)} things without a price left out" if price.unknown else ""
        lines.append(f"Costs <b>{price.total:.2f}</b>, {price.total / job.brief.count:.2f} a card{apart}{without}.")
    trials = [each for each in entries if isinstance(each, CornerTrial) and each.machine == job.brief.machine.name]
    if trials:
        last_one = trials[-1]
        days = (date.today() - date.fromisoformat(last_one.made)).days
        told = f"{last_one.right:+.2f} mm across, {last_one.down:+.2f} mm down"
        lines.append(f"Corner of the mat: {told}, tried {days} {plural(days, 'day')} ago.")
    papers = {paper.name for paper in job.brief.papers}
    last = [each for each in entries if isinstance(each, RunDone) and each.job == job.name]
    if last:
        lines.append(f"Cut last on {last[-1].made}: {last[-1].minutes:.0f} min, {last[-1].planned:.0f} planned.")
    for each in learned:
        if each.key.startswith("web.") and each.key.removeprefix("web.") in papers:
            lines.append(f"{each.words.capitalize()}: {each.value:.2f} mm ({each.rests_on}).")
    return lines


VIEW = KeepStation
