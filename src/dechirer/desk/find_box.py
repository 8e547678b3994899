"""Find (Ctrl+F): pieces, numbers, findings, mats and actions by a few letters."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QVBoxLayout, QWidget

from dechirer.core.plan import Plan
from dechirer.desk.actions import ACTIONS

MOST_ROWS = 60


class Entry(Struct, frozen=True):
    """Something to find: its words and what going to it does."""

    words: str
    go: Callable[[], None]


def list_entries(
    plan: Plan | None,
    show_piece: Callable[[str], None],
    show_figure: Callable[[str], None],
    show_finding: Callable[[object], None],
    show_mat: Callable[[str], None],
    show_item: Callable[[str], None],
    do: Callable[[str], None],
) -> list[Entry]:
    """Everything that can be found in a plan, and every action."""
    entries: list[Entry] = []
    if plan is not None:
        units = plan.job.units
        entries += [
            Entry(f"Finding: {finding.title}", lambda finding=finding: show_finding(finding))  # type: ignore[misc]
            for finding in plan.findings
        ]
        entries += [
            Entry(
                f"Piece: {piece.letter} {piece.name}, {piece.width.text(units)} by {piece.height.text(units)}",
                lambda piece=piece: show_piece(piece.id),
            )  # type: ignore[misc]
            for piece in plan.whole.pieces
        ]
        entries += [
            Entry(f"On {item.face}: {item.name}", lambda item=item: show_item(item.id))  # type: ignore[misc]
            for item in plan.job.dress.items
        ]
        entries += [
            Entry(
                f"Mat {layout.number}, {plan.brief.paper(layout.paper).paper.name}",
                lambda layout=layout: show_mat(layout.id),
            )  # type: ignore[misc]
            for layout in plan.lay.layouts
        ]
        entries += [
            Entry(f"Number: {figure.name} = {figure.text(units)}", lambda figure=figure: show_figure(figure.key))  # type: ignore[misc]
            for figure in plan.figures.values()
        ]
    entries += [Entry(f"Do: {spec.title}", lambda spec=spec: do(spec.id)) for spec in ACTIONS]  # type: ignore[misc]
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
