"""To work from while cutting: one step at a time in large type, by keys or clicks, with a timer where one is held."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from concurrent.futures import Future
from datetime import date

from msgspec import structs
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QFont, QKeyEvent
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.change import Change
from dechirer.core.decide.letters import clean
from dechirer.core.figure import format_minutes
from dechirer.core.from_work import run_entries
from dechirer.core.keep.entries import USUAL_CAUSES, Entry, StockMoved, entry_id
from dechirer.core.keep.stock import lacking, on_shelf
from dechirer.core.lay.decisions import Recut
from dechirer.core.needs import needs_of, offcuts_left
from dechirer.core.plan import Plan
from dechirer.core.run.steps import MachineStep
from dechirer.core.words import plural
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.work.at_machine import NAME, Progress, Spoiled, Watch, keep_progress, read_progress, seal_of
from dechirer.desk.work.beside import Beside
from dechirer.desk.work.booking import booking
from dechirer.desk.work.document import Document
from dechirer.drawing.scenes.mat import make_mat_scene

TITLES = {
    "prepare": "Get ready",
    "load": "Load",
    "fit": "Fit",
    "read": "Read the marks",
    "pass": "Run",
    "hold": "Hold",
    "look": "Look",
    "unload": "Take off",
    "make": "Make up",
}
LARGE_PT, MORE_PT = 30, 15
MOST_LACKING = 4
WHY = "What happened; choose, or type it in your own words"


class MachineView(QDialog):
    """Walks through the steps of a plan's run. Space, Enter or Right: done, the next one; Left or Backspace: back;
    S: a sheet was spoiled. What it took goes into the book when the last step is done."""

    name, where, kept_as = "machine", "at the machine", NAME

    def __init__(self, plan: Plan, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self._document = document
        self.steps, self._planned = self.walk(plan)
        self.setObjectName(f"{self.name}-view")
        self.setWindowTitle(f"{plan.job.name}: {self.where}")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(960, 760)
        self.progress = read_progress(seal_of(plan.job.name, self.steps), name=self.kept_as)
        self._watch = Watch()
        self.kind = QLabel()
        self.kind.setObjectName("machine-kind")
        self.words = _label("machine-words", LARGE_PT, bold=True)
        self.more = _label("machine-more", MORE_PT)
        self.next = _label("machine-next", MORE_PT)
        self.next.setProperty("role", "soft")
        self.bar = QProgressBar()
        self.bar.setObjectName("machine-bar")
        self.bar.setFormat("%v of %m")
        self.timer_words = _label("machine-timer", 22, bold=True)
        self.said = small()
        self.said.setObjectName("machine-said")
        self.back = _button("◂ Back", "machine-back", self.go_back)
        self.done_ = _button("Done ▸", "machine-done", self.go_on)
        self.spoil = _button("Spoiled a sheet…", "machine-spoil", self._ask_spoiled)
        self.again = _button("Lay what was spoiled again", "machine-again", self._lay_again)
        self.left = _button("Keep what is left", "machine-offcuts", self._keep_offcuts)
        self.anew = _button("From the start", "machine-anew", self._begin_anew)
        self.picture = DrawingView("machine-picture")
        self.picture.setMinimumHeight(200)
        self._plan, self._drawn = plan, ""
        self._writing: Future[str] | None = None
        for button in (self.back, self.done_, self.spoil, self.anew, self.again, self.left):
            button.setMinimumHeight(40)
        self._tick = QTimer(self)
        self._tick.setInterval(500)
        self._tick.timeout.connect(self._show_timer)
        self._arrange()
        self.beside = Beside(self)
        self.beside.done.connect(self._say_lacking)
        if self.progress.step:
            self.said.setText("Gone on where it was left.")
        elif self.steps:
            self.beside.run(lambda: lacking(needs_of(plan), on_shelf(booking.entries("stockmoved"))))
        if self.is_over and self.steps:
            self._write()  # the last time it could not be
        self._show()

    def _arrange(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(28, 22, 28, 18)
        column.setSpacing(12)
        top = QHBoxLayout()
        top.addWidget(self.kind)
        top.addStretch(1)
        top.addWidget(self.left)
        top.addWidget(self.again)
        top.addWidget(self.anew)
        top.addWidget(self.spoil)
        column.addLayout(top)
        column.addWidget(self.words)
        column.addWidget(self.more)
        column.addWidget(self.timer_words)
        column.addWidget(self.picture, 1)
        column.addWidget(self.next)
        column.addWidget(self.bar)
        foot = QHBoxLayout()
        foot.addWidget(self.back)
        foot.addWidget(self.said, 1)
        foot.addWidget(self.done_)
        column.addLayout(foot)
        self._empty = QWidget()
        column.insertWidget(4, self._empty, 1)
        self.done_.setDefault(True)

    def walk(self, plan: Plan) -> tuple[tuple[MachineStep, ...], float]:
        """The steps that are walked through, and how many minutes are planned for them."""
        return plan.machine_steps(), plan.run.minutes.value

    def entries(self) -> Iterator[Entry]:
        """What goes into the book once all is done."""
        now = self.progress
        spoiled = [(each.step, each.why) for each in now.spoiled]
        return run_entries(self._plan, date.today().isoformat(), self.steps, now.seconds, spoiled)

    @property
    def is_over(self) -> bool:
        """Whether all steps are done."""
        return self.progress.step >= len(self.steps)

    def go_on(self) -> None:
        """The step in front is done."""
        if not self.is_over:
            self._keep(self.progress.step + 1)

    def go_back(self) -> None:
        """Back to the step before."""
        if self.progress.step:
            self._keep(self.progress.step - 1)

    def spoiled(self, why: str) -> None:
        """A sheet was spoiled at the step in front."""
        found = Spoiled(min(self.progress.step, len(self.steps) - 1), clean(why).strip()[:200])
        self._keep(self.progress.step, (*self.progress.spoiled, found))

    def _keep(self, step: int, spoiled: tuple[Spoiled, ...] | None = None) -> None:
        now = self.progress
        seconds = [*now.seconds, *[0.0] * (len(self.steps) + 1 - len(now.seconds))]
        seconds[min(now.step, len(self.steps))] += self._watch.seconds
        kept = now.spoiled if spoiled is None else spoiled
        took = tuple(round(each, 1) for each in seconds)
        self.progress = structs.replace(now, step=step, seconds=took, spoiled=kept)
        if self.is_over:
            self._write()
        self._watch.begin()
        why = keep_progress(self.progress, name=self.kept_as)
        self.said.setText(f"Where you are could not be kept: {why}." if why else "")
        self._show()

    def _write(self) -> None:
        """Write what was done into the book, once."""
        if not self.progress.booked and self._writing is None:
            self._writing = booking.keep(self.entries(), just_now=True)

    def _ask_written(self) -> str:
        """What is to be said of the book; asked again while it is written."""
        if self._writing is not None and self._writing.done():
            why = self._writing.result()
            self._writing = None
            if why:
                return f"{why}. It is tried again with what is kept next."
            self.progress = structs.replace(self.progress, booked=True)
            keep_progress(self.progress, name=self.kept_as)
        if self._writing is not None:
            return "It is being written into the book."
        return "It stands in the book now." if self.progress.booked else ""

    def _begin_anew(self) -> None:
        self.progress, self._writing = Progress(self.progress.seal), None
        self._watch.begin()
        keep_progress(self.progress, name=self.kept_as)
        self.said.setText("")
        self._show()

    def _ask_spoiled(self) -> None:
        earlier = [each.why for each in self.progress.spoiled if each.why]
        causes = list(dict.fromkeys((*earlier, *USUAL_CAUSES)))
        why, taken = QInputDialog.getItem(self, "A sheet was spoiled", WHY, causes, 0, editable=True)
        if taken:
            self.spoiled(why)

    def spoilt_pieces(self) -> Counter[str]:
        """How many of each piece lay on the sheets that were spoiled."""
        layouts = {layout.id: layout for layout in self._plan.lay.layouts}
        found: Counter[str] = Counter()
        for each in self.progress.spoiled:
            layout = layouts.get(self.steps[each.step].mat)
            found.update(placed.piece.id for placed in (layout.placements if layout is not None else ()))
        return found

    def _lay_again(self) -> None:
        """Only what was spoiled is laid, printed and run from now on."""
        recut = tuple(Recut(piece, count) for piece, count in self.spoilt_pieces().items())
        if recut and self._document.edit("What was spoiled, cut again", [Change("lay.recut", recut)]):
            self.accept()

    def _say_lacking(self, short: dict[str, float]) -> None:
        """What the stock lacks is said before anything is begun."""
        if short and not self.progress.step:
            told = ", ".join(f"{item} ({amount:g})" for item, amount in list(short.items())[:MOST_LACKING])
            more = f" and {len(short) - MOST_LACKING} more" if len(short) > MOST_LACKING else ""
            self.said.setText(f"The stock lacks {told}{more}.")

    def done(self, result: int) -> None:
        """The view closes: what is read beside it is given up."""
        self.beside.stop()
        super().done(result)

    def _offcuts(self) -> tuple[StockMoved, ...]:
        """What is left of the sheets, until it was kept once."""
        if not self.is_over or self.name != "machine" or self.progress.kept_offcuts:
            return ()
        day = date.today().isoformat()
        return offcuts_left(self._plan, entry_id("run", self._plan.job.name, self.progress.seal, day), day)

    def _keep_offcuts(self) -> None:
        """What is left of the sheets goes into the stock."""
        booking.keep(self._offcuts(), just_now=True)
        self.progress = structs.replace(self.progress, kept_offcuts=True)
        keep_progress(self.progress, name=self.kept_as)
        self.said.setText("They are in the stock, in Keep and in Lay under Offcuts.")
        self._show()

    def _show(self) -> None:
        booked = self._ask_written()
        step, count = self.progress.step, len(self.steps)
        self.bar.setRange(0, max(1, count))
        self.bar.setValue(min(step, count))
        self.back.setEnabled(step > 0)
        self.done_.setEnabled(not self.is_over)
        self.spoil.setEnabled(count > 0)
        self.again.setVisible(self.is_over and bool(self.progress.spoiled))
        left = self._offcuts()
        pieces = round(sum(each.change for each in left))
        self.left.setVisible(bool(left))
        self.left.setText(f"Keep {pieces} {plural(pieces, 'offcut')}")
        self.left.setToolTip("\n".join(f"{each.change:g} × {each.item}" for each in left))
        spoilt = len(self.progress.spoiled)
        told = f" · {spoilt} spoiled" if spoilt else ""
        if self.is_over:
            self.kind.setText(f"All done{told}")
            self.words.setText("The run is over." if self.name == "machine" else "All cards are made up.")
            took, planned = format_minutes(self.progress.minutes), format_minutes(self._planned)
            why = "; ".join(each.why for each in self.progress.spoiled if each.why)
            told_why = f" Spoiled: {why}." if why else ""
            self.more.setText(f"It took {took}; {planned} were planned.{told_why} {booked}")
            self.next.setText("")
        else:
            now = self.steps[step]
            mat = now.mat.replace("-", " ")
            self.kind.setText(TITLES[now.kind] + (f" · {mat}" if mat else "") + told)
            self.words.setText(now.words)
            self.more.setText(now.more)
            after = self.steps[step + 1].words if step + 1 < count else "the end"
            self.next.setText(f"then: {after}")
        self._draw(self.steps[step].mat if not self.is_over else "")
        self._show_timer()
        if self._writing is not None or (not self.is_over and self.steps[step].seconds):
            self._tick.start()
        else:
            self._tick.stop()

    def _draw(self, mat: str) -> None:
        """The mat that the step is about; nothing where it is about none."""
        layout = next((each for each in self._plan.lay.layouts if each.id == mat), None)
        self.picture.setVisible(layout is not None)
        self._empty.setVisible(layout is None)
        if layout is not None and mat != self._drawn:
            self._drawn = mat
            self.picture.set_display(make_mat_scene(self._plan, layout, bare=True), mat)

    def _show_timer(self) -> None:
        if self._writing is not None and self._writing.done():
            self._show()
            return
        now = self.steps[self.progress.step] if not self.is_over else None
        if now is None or not now.seconds:
            self.timer_words.setText("")
            return
        left = now.seconds - self._watch.seconds
        minutes, seconds = divmod(max(0, round(left)), 60)
        self.timer_words.setText(f"{minutes}:{seconds:02d}" if left > 0 else "0:00 — that should do")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Keys go through the steps."""
        if event is None:
            return
        key = event.key()
        if key in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Right):
            self.go_on()
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Backspace):
            self.go_back()
        elif key == Qt.Key.Key_S:
            self._ask_spoiled()
        else:
            super().keyPressEvent(event)


def _label(name: str, points: int, *, bold: bool = False) -> QLabel:
    label = QLabel()
    label.setTextFormat(Qt.TextFormat.PlainText)
    label.setObjectName(name)
    label.setWordWrap(True)
    font = QFont(theme.font("body"))
    font.setPointSize(points)
    font.setBold(bold)
    label.setFont(font)
    return label


def _button(words: str, name: str, run: object) -> QPushButton:
    button = QPushButton(words)
    button.setObjectName(name)
    button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
    button.clicked.connect(lambda: run())  # type: ignore[operator]
    return button
