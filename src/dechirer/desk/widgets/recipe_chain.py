"""The recipe of an item as a chain of steps, each with its measures to type or drag."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMenu,
    QScrollArea,
    QToolButton,
    QWidget,
)

from dechirer.core.dress.edits import add_step, move_step, remove_step
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.step import STEPS
from dechirer.core.dress.decisions import Item
from dechirer.core.dress.step import Step
from dechirer.core.decide.change import Change
from dechirer.core.plan import Plan
from dechirer.desk.document import Document
from dechirer.desk.theme import theme
from dechirer.desk.widgets.field_edit import FieldEdit

HEIGHT_PX = 108
MM_PER_PX = 0.05
"""How far a measure goes for each pixel its name is dragged."""
CHOICES: dict[str, tuple[tuple[str, str], ...]] = {
    "edges": (("outer", "the outer edge"), ("all", "all edges")),
    "corners": (("round", "round"), ("mitre", "pointed")),
    "side": (("left", "left"), ("right", "right"), ("top", "top"), ("bottom", "bottom")),
    "keep": (("frame", "frame"), ("parts", "parts")),
}
GROUPS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("Edge", ("border", "round", "tidy")),
    ("Together", ("join", "merge", "spread", "repeat")),
    ("Out of it", ("cut", "relief", "bridge", "lift")),
    ("Which part", ("fill", "outermost", "item")),
    ("Turn and size", ("mirror", "fit")),
)


class DragName(QLabel):
    """The name of a measure; dragging it to the side changes the measure.

    Signals:
        dragged(mm): by how much since the drag began; `ended` when the button is let go.
    """

    dragged = pyqtSignal(float)
    ended = pyqtSignal()

    def __init__(self, text: str) -> None:
        super().__init__(f"↔ {text}")
        self.setCursor(Qt.CursorShape.SizeHorCursor)
        self.setToolTip("Drag to the side to change it")
        self.setFont(theme.font("small"))
        self._from: QPointF | None = None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._from = event.globalPosition()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._from is not None:
            self.dragged.emit((event.globalPosition().x() - self._from.x()) * MM_PER_PX)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._from = None
        self.ended.emit()


class RecipeChain(QScrollArea):
    """A chip for what the item is drawn from, one per step, and a button to add steps.

    Signals:
        dragging(item, step, mm): a measure is being dragged to a value; show it without keeping it.
        drag_ended(item, step): the drag is over; keep what was shown.
    """

    dragging = pyqtSignal(str, str, float)
    drag_ended = pyqtSignal(str, str)

    def __init__(self, document: Document, take_field: Callable[[FieldEdit], FieldEdit]) -> None:
        super().__init__()
        self.setObjectName("recipe")
        self.document, self._take_field = document, take_field
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFixedHeight(HEIGHT_PX)
        self._page = QWidget()
        self._line = QHBoxLayout(self._page)
        self._line.setContentsMargins(0, 2, 0, 2)
        self._line.setSpacing(4)
        self.setWidget(self._page)
        self._fields: dict[str, FieldEdit] = {}
        self._key: object = None
        self._start_mm: dict[str, float] = {}

    def show_item(self, plan: Plan, dressed: Dressed | None) -> None:
        """Show an item's recipe; rebuilt only when it changed."""
        item = dressed.item if dressed is not None else None
        names = tuple((each.id, each.name) for each in plan.job.dress.items if item and each.face == item.face)
        key = (item, names, dressed.placed.drawn.remarks if dressed else ())
        if key == self._key:
            return
        self._key = key
        for field in self._fields.values():
            field.setParent(self)
            field.hide()
        while self._line.count():
            entry = self._line.takeAt(0)
            widget = entry.widget() if entry is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        if item is None or dressed is None:
            hint = QLabel("Pick something on the face to see how its outline is made.")
            hint.setProperty("role", "soft")
            self._line.addWidget(hint)
            self._line.addStretch(1)
            return
        self._line.addWidget(self._source_chip(plan, item))
        for number, step in enumerate(item.steps):
            self._line.addWidget(_arrow())
            self._line.addWidget(self._step_chip(item, step, number, names, dressed))
        self._line.addWidget(_arrow())
        self._line.addWidget(self._adder(item, names))
        self._line.addStretch(1)

    def _source_chip(self, plan: Plan, item: Item) -> QWidget:
        chip, column = _chip("recipe-source")
        if item.words is not None:
            title, under = "words", f"“{item.words.text.splitlines()[0][:22]}”"
        elif item.of is not None:
            other = plan.job.dress.item(item.of)
            title, under = "made of", other.name[:24] if other else item.of
        else:
            art = next((each for each in plan.job.dress.art if each.id == item.art), None)
            title, under = "art", art.name[:24] if art else ""
        column.addWidget(_strong(title))
        column.addWidget(_soft(under))
        column.addStretch(1)
        return chip

    def _step_chip(
        self, item: Item, step: Step, number: int, names: tuple[tuple[str, str], ...], dressed: Dressed
    ) -> QWidget:
        chip, column = _chip(f"step-{step.id}")
        known = STEPS[step.kind]
        chip.setToolTip(known.about)
        top = QHBoxLayout()
        top.setSpacing(2)
        top.addWidget(_strong(known.title))
        top.addStretch(1)
        for words, name, by in (("‹", "earlier", -1), ("›", "later", 1)):
            if (by < 0 and number > 0) or (by > 0 and number < len(item.steps) - 1):
                top.addWidget(
                    self._button(
                        words,
                        f"step-{name}-{step.id}",
                        f"{name.capitalize()} in the recipe",
                        partial(self._move, item, step, by),
                    )
                )
        top.addWidget(self._button("×", f"step-off-{step.id}", "Take the step out", partial(self._remove, item, step)))
        column.addLayout(top)
        fields = [self._field(item, step, name, title, names) for name, title in known.fields]
        for first in range(0, len(fields), 2):
            pair = QHBoxLayout()
            pair.setSpacing(10)
            for field in fields[first : first + 2]:
                pair.addLayout(field)
            column.addLayout(pair)
        remark = next((words for code, words, _ in dressed.placed.drawn.remarks if code == "merged"), "")
        if step.kind == "merge" and remark:
            column.addWidget(_soft(remark.replace("the least border that joins all", "least border for")))
        column.addStretch(1)
        return chip

    def _field(self, item: Item, step: Step, name: str, title: str, names: tuple[tuple[str, str], ...]) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(4)
        path = f"dress.items.{item.id}.steps.{step.id}.{name}"
        if name in ("by", "to", "count"):
            if name == "by":
                drag = DragName(title)
                drag.setObjectName(f"drag-{step.id}")
                drag.dragged.connect(lambda mm: self._drag(item, step, mm))
                drag.ended.connect(lambda: self.drag_ended.emit(item.id, step.id))
                row.addWidget(drag)
            field = self._fields.get(path)
            if field is None:
                field = self._take_field(FieldEdit(path, "" if name == "by" else title, beside=True))
                self._fields[path] = field
            field.show_text(self.document.field_text(path))
            field.line.setFixedWidth(76 if name != "count" else 44)
            field.line.setMinimumHeight(24)
            field.setVisible(True)
            row.addWidget(field)
        elif name == "each":
            box = QCheckBox(title)
            box.setObjectName(f"each-{step.id}")
            box.setFont(theme.font("small"))
            box.setChecked(step.each)
            box.clicked.connect(lambda on: self.document.edit(title, [Change(path, on)]))
            row.addWidget(box)
        else:
            label = QLabel(title)
            label.setFont(theme.font("small"))
            row.addWidget(label)
            combo = QComboBox()
            combo.setObjectName(f"{name}-{step.id}")
            combo.setAccessibleName(f"{STEPS[step.kind].title}: {title}")
            combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
            entries: list[tuple[str | None, str]] = list(CHOICES.get(name, ()))
            if name == "of":
                entries = [(None, "a circle" if step.kind == "repeat" else "nothing")]
                entries += [(id, words) for id, words in names if id != item.id]
            for data, words in entries:
                combo.addItem(words, data)
            combo.setCurrentIndex(max(0, combo.findData(getattr(step, name))))
            combo.activated.connect(
                lambda _row, combo=combo: self._say(
                    self.document.edit(f"{STEPS[step.kind].title}: {title}", [Change(path, combo.currentData())])
                )
            )
            row.addWidget(combo)
        row.addStretch(1)
        return row

    def _say(self, why: str) -> None:
        """An edit that was refused leaves the chip as the job has it."""
        if why:
            self._key = None

    def _drag(self, item: Item, step: Step, mm: float) -> None:
        self.dragging.emit(item.id, step.id, round((step.by.mm + mm) * 20) / 20)

    def _button(self, words: str, name: str, tip: str, run: Callable[[], None]) -> QToolButton:
        button = QToolButton()
        button.setText(words)
        button.setObjectName(name)
        button.setProperty("quiet", True)
        button.setToolTip(tip)
        button.setAccessibleName(tip)
        button.setFixedSize(22, 22)
        button.clicked.connect(lambda _=False: run())
        return button

    def _remove(self, item: Item, step: Step) -> None:
        self.document.edit(f"No {STEPS[step.kind].title}", remove_step(item, step.id))

    def _move(self, item: Item, step: Step, by: int) -> None:
        self.document.edit(f"{STEPS[step.kind].title} moved", move_step(item, step.id, by))

    def _adder(self, item: Item, names: tuple[tuple[str, str], ...]) -> QToolButton:
        button = QToolButton()
        button.setObjectName("add-step")
        button.setText("Step ▾")
        button.setProperty("quiet", True)
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(button)
        menu.setToolTipsVisible(True)
        others = [id for id, _ in names if id != item.id]
        for title, kinds in GROUPS:
            menu.addSection(title)
            for kind in kinds:
                known = STEPS[kind]  # type: ignore[index]
                action = menu.addAction(known.title)
                if action is None:
                    continue
                action.setObjectName(f"add-step-{kind}")
                action.setToolTip(known.about)
                if kind == "cut":
                    action.setEnabled(bool(others))
                action.triggered.connect(
                    lambda _=False, known=known: self.document.edit(
                        known.title.capitalize(),
                        add_step(
                            self.document.job,
                            self._now(item),
                            known.kind,
                            others[-1] if known.kind == "cut" and others else None,
                        ),
                    )
                )
        button.setMenu(menu)
        return button

    def _now(self, item: Item) -> Item:
        return self.document.job.dress.item(item.id) or item


def _chip(name: str) -> tuple[QFrame, QHBoxLayout]:
    from PyQt6.QtWidgets import QVBoxLayout

    chip = QFrame()
    chip.setObjectName(name)
    chip.setProperty("chip", True)
    column = QVBoxLayout(chip)
    column.setContentsMargins(9, 4, 6, 4)
    column.setSpacing(2)
    return chip, column  # type: ignore[return-value]


def _strong(text: str) -> QLabel:
    label = QLabel(text)
    label.setFont(theme.font("strong"))
    return label


def _soft(text: str) -> QLabel:
    label = QLabel(text)
    label.setFont(theme.font("small"))
    label.setProperty("role", "soft")
    return label


def _arrow() -> QLabel:
    label = QLabel("→")
    label.setProperty("role", "soft")
    return label
