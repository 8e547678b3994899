"""Find (Ctrl+F): pieces, numbers, findings, mats and actions by a few letters."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec import Struct
from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QVBoxLayout, QWidget

from dechirer.core.finding import Finding
from dechirer.core.plan import Plan
from dechirer.core.stations import STATIONS
from dechirer.desk.actions import ACTIONS
from dechirer.desk.boxes.trade_words import WORDS

MOST_ROWS = 60


class Entry(Struct, frozen=True):
    """Something to find: its words and what going to it does."""

    words: str
    go: Callable[[], None]


class Ways(Struct, frozen=True):
    """How to go to what was found: an element of a station, a number by its key, a finding, an action by its id, a word
    of the trade."""

    element: Callable[[str], None]
    figure: Callable[[str], None]
    finding: Callable[[Finding], None]
    do: Callable[[str], None]
    word: Callable[[str], None]


def list_entries(plan: Plan | None, ways: Ways) -> list[Entry]:
    """Everything that can be found in a plan, and every action."""
    entries: list[Entry] = []
    if plan is not None:
        entries += [Entry(f"Finding: {each.title}", partial(ways.finding, each)) for each in plan.findings]
        for spec in STATIONS:
            entries += [Entry(words, partial(ways.element, element)) for words, element in spec.finds(plan.known)]
        units = plan.job.units
        entries += [
            Entry(f"Number: {figure.name} = {figure.text(units)}", partial(ways.figure, figure.key))
            for figure in plan.figures.values()
        ]
    entries += [Entry(f"Do: {spec.title}", partial(ways.do, spec.id)) for spec in ACTIONS]
    entries += [Entry(f"Word: {word}", partial(ways.word, word)) for word in WORDS]
    return entries


class FindBox(QFrame):
    """A line to type into and the list of what matches. Closes itself on Enter, Escape or a click elsewhere."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("find-box")
        self.setFrameShape(QFrame.Shape.StyledPanel)
        self._entries: list[Entry] = []
        self._matching: list[Entry] = []
        self.line = QLineEdit()
        self.line.setObjectName("find-line")
        self.line.setPlaceholderText("A piece, a number, a finding, an action")
        self.rows = QListWidget()
        self.rows.setObjectName("find-rows")
        column = QVBoxLayout(self)
        column.addWidget(self.line)
        column.addWidget(self.rows)
        self.line.textChanged.connect(self._match)
        self.line.returnPressed.connect(self._go)
        self.line.installEventFilter(self)
        self.rows.itemClicked.connect(lambda _item: self._go())

    def ask(self, entries: list[Entry]) -> None:
        """Open over the middle of the window."""
        self._entries = entries
        parent = self.parentWidget()
        assert parent is not None
        self.setFixedSize(460, 380)
        corner = parent.mapToGlobal(parent.rect().center())
        self.move(corner.x() - 230, parent.mapToGlobal(parent.rect().topLeft()).y() + 60)
        self.line.clear()
        self._match("")
        self.show()
        self.line.setFocus()

    def _match(self, text: str) -> None:
        words = text.lower().split()
        self._matching = [entry for entry in self._entries if all(word in entry.words.lower() for word in words)]
        self.rows.clear()
        self.rows.addItems([entry.words for entry in self._matching[:MOST_ROWS]])
        self.rows.setCurrentRow(0)
        if not self._matching:
            self.rows.addItem("Nothing of that name")

    def _go(self) -> None:
        row = self.rows.currentRow()
        self.hide()
        if 0 <= row < len(self._matching):
            self._matching[row].go()

    def eventFilter(self, watched: object, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0)
            if step:
                self.rows.setCurrentRow(max(0, min(self.rows.count() - 1, self.rows.currentRow() + step)))
                return True
        return super().eventFilter(watched, event)  # type: ignore[arg-type]
