"""How near the lay is to the least there can be, and looking for a closer one."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QCheckBox, QPushButton, QVBoxLayout, QWidget

from dechirer.core.decide.change import Change
from dechirer.core.lay.closer import Ask, Near, how_near, keep_closer, least_sheets, sheets_now
from dechirer.core.lay.decisions import Closer
from dechirer.core.lay.lay import asks_for
from dechirer.core.lay.wanted import wanted
from dechirer.core.plan import Plan
from dechirer.core.press.station import PRESS
from dechirer.core.words import plural
from dechirer.desk.widgets.choices import small
from dechirer.desk.work.beside import Beside
from dechirer.desk.work.document import Document
from dechirer.desk.work.looking import Looker
from dechirer.desk.work.settings import Settings

SOON_MS = 1500
"""So long after the last edit a closer lay is looked for."""


class _Known(Struct, frozen=True):
    """What is known of a plan: the papers that may do with fewer sheets, what can be asked for, and what of that is for
    those papers."""

    plan: Plan
    near: tuple[Near, ...]
    asks: tuple[Ask, ...]

    @property
    def open_asks(self) -> tuple[Ask, ...]:
        """What can be asked for the papers that may do with fewer sheets."""
        near = {(each.paper, each.face) for each in self.near}
        return tuple(ask for ask in self.asks if (ask.paper, ask.face) in near)


def _know(plan: Plan) -> _Known:
    """Of thousands of copies this takes a second."""
    job = plan.job
    near = how_near(plan.lay.layouts, job.brief.papers, job.lay, job.brief.machine)
    pieces = wanted((*plan.part(PRESS).pieces, *plan.lay.guest_pieces), job.lay)
    asks = asks_for(pieces, job.brief.papers, job.lay, job.brief.machine, plan.lay.layouts)
    return _Known(plan, tuple(each for each in near if each.sheets > each.least), tuple(asks))


class CloserPanel(QWidget):
    """A line that says how many sheets are needed at least, and a button that looks for a lay with fewer.

    What is found is taken when it has fewer sheets, and only while nothing is under the maker's hands.
    """

    def __init__(self, document: Document, is_held: Callable[[], bool]) -> None:
        super().__init__()
        self._document, self._is_held = document, is_held
        self._plan: Plan | None = None
        self._known: _Known | None = None
        self._is_pressed = False
        self._waits: Closer | None = None
        self._saved = 0
        self.words = small()
        self.words.setObjectName("closer-words")
        self.words.setWordWrap(True)
        self.button = QPushButton("Look for a closer lay")
        self.button.setObjectName("closer-look")
        self.button.clicked.connect(self._press)
        self.beside = Beside(self)
        self.beside.done.connect(self._show_known)
        self.beside.failed.connect(lambda error: self.words.setText(f"It was not worked out ({type(error).__name__})."))
        self.looker = Looker(self)
        self.looker.better.connect(self._take)
        self.looker.moved.connect(self._say_moved)
        self.looker.ended.connect(self._end)
        self.itself = QCheckBox("Look by itself")
        self.itself.setObjectName("closer-itself")
        self.itself.setToolTip("While Lay is open and nothing is touched, a lay with fewer sheets is looked for")
        self.itself.setChecked(Settings().looks)
        self.itself.clicked.connect(self._let_look)
        self._tried: set[str] = set()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(SOON_MS)
        self._soon.timeout.connect(self._look_itself)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.words)
        column.addWidget(self.button)
        column.addWidget(self.itself)

    def show_plan(self, plan: Plan) -> None:
        """Show how near a plan is, as soon as that is worked out beside the window."""
        self._plan = plan
        self.beside.run(lambda: _know(plan))

    def _show_known(self, known: _Known) -> None:
        self._known = known
        asked = self.looker.asked
        if asked is not None and asked.seal not in {ask.seal for ask in known.asks}:
            self.looker.stop()
            self._waits = None
            self._end("the job has changed")
        elif self.looker.is_busy:
            self._take_waiting()
        elif self._is_pressed:
            self._press()
        else:
            self.button.setEnabled(bool(known.near))
            self.button.setText("Look for a closer lay")
            if not self._saved:
                self.words.setText(self._say(known.plan, known.near))
                self.words.setToolTip("\n".join(each.working for each in known.near))
            if known.near and self.itself.isChecked():
                self._soon.start()

    def _known_now(self) -> _Known | None:
        """What is known of the plan that is shown, once it is."""
        return self._known if self._known is not None and self._known.plan is self._plan else None

    def _let_look(self, on: bool) -> None:
        Settings().looks = on
        if on and self._plan is not None:
            self.show_plan(self._plan)

    def _look_itself(self) -> None:
        """Begin where it is seen, nothing is at work, and this was not looked for already."""
        known = self._known_now()
        if known is None or self.looker.is_busy or not self.isVisible() or not self.itself.isChecked():
            return
        if not self._document.is_current or self._is_held():
            self._soon.start()
        elif any(ask.seal not in self._tried for ask in known.open_asks):
            self._press()

    def _say(self, plan: Plan, near: tuple[Near, ...]) -> str:
        if not near:
            return "No paper can do with fewer sheets." if plan.lay.layouts else ""
        names = {paper.id: paper.name for paper in plan.job.brief.papers}
        told = [
            f"{names[each.paper]}: {each.sheets} {plural(each.sheets, 'sheet')}, at least {each.least} ({each.why})"
            for each in near
        ]
        return "; ".join(told[:3]) + ("…" if len(told) > 3 else ".")

    def _press(self) -> None:
        if self.looker.is_busy:
            self.looker.stop()
            self._end("stopped")
            return
        known = self._known_now()
        self._is_pressed = known is None
        if known is not None:
            self._saved = 0
            self.button.setText("Stop")
            self.words.setText("Looking for a closer lay …")
            self._tried |= {ask.seal for ask in known.open_asks}
            self.looker.look(list(known.open_asks))

    def _say_moved(self, ask: Ask, needs: float) -> None:
        papers = self._document.job.brief.papers
        paper = next((paper.name for paper in papers if paper.id == ask.paper), "")
        self.words.setText(f"{paper}: {needs:.2f} sheets, at least {least_sheets(ask)}; looking …")

    def _take(self, ask: Ask, closer: Closer, needs: float) -> None:
        if self._plan is not None and len(closer.sheets) < sheets_now(self._plan.lay.layouts, ask):
            self._waits = closer
            self._take_waiting()

    def _take_waiting(self) -> None:
        """Take what was found, once the plan is the job's and nothing is being dragged."""
        closer, known = self._waits, self._known_now()
        if closer is None or known is None or self._is_held() or not self._document.is_current:
            return
        self._waits = None
        ask = next((each for each in known.asks if each.seal == closer.seal), None)
        if ask is None:  # the job has changed under it
            self.looker.stop()
            self._end("the job has changed")
            return
        saved = sheets_now(known.plan.lay.layouts, ask) - len(closer.sheets)
        if saved > 0:
            self._saved += saved
            change = Change("lay.closer", keep_closer(self._document.job.lay, closer))
            self._document.edit(f"Laid closer: {saved} {plural(saved, 'sheet')} less", [change])

    def _end(self, why: str) -> None:
        self._take_waiting()
        self.button.setText("Look for a closer lay")
        saved = f"{self._saved} {plural(self._saved, 'sheet')} saved" if self._saved else "nothing closer was found"
        self.words.setText((f"{why}: {saved}." if why else f"{saved}.").capitalize())
        known = self._known_now()
        if known is not None:
            self.button.setEnabled(bool(known.near))
        self._saved = 0

    def end(self) -> None:
        """The window closes."""
        self._soon.stop()
        self.beside.stop()
        self.looker.stop()
