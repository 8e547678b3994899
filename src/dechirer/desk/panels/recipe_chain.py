"""The recipe of an item as a chain of steps, each with its measures to type or drag."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QMenu,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.dress.decisions import FACE, WAYS, Item
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import add_step, move_step, remove_step
from dechirer.core.dress.step import Step, StepSpec, describe, spec_of, step_groups
from dechirer.core.plan import Plan
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.theme import theme
from dechirer.desk.widgets.picture_list import make_picture
from dechirer.desk.work.document import Document
from dechirer.drawing.scenes.item import make_stage_scene

HEIGHT_PX = 132
WIDE_PX, HIGH_PX = 64, 44


class RecipeChain(QScrollArea):
    """A chip for what the item is drawn from, one per step, and a button to add steps."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("recipe")
        self.document = document
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFixedHeight(HEIGHT_PX)
        self._page = QWidget()
        column = QVBoxLayout(self._page)
        column.setContentsMargins(0, 2, 0, 0)
        column.setSpacing(2)
        self.sentence = QLabel()
        self.sentence.setObjectName("recipe-sentence")
        column.addWidget(self.sentence)
        self._line = QHBoxLayout()
        column.addLayout(self._line, 1)
        self._pictures: list[tuple[QLabel, int]] = []
        self._line.setContentsMargins(0, 0, 0, 2)
        self._line.setSpacing(4)
        self.setWidget(self._page)
        self._panels: list[FieldPanel] = []
        self._key: object = None

    def show_item(self, plan: Plan, dressed: Dressed | None) -> None:
        """Show an item's recipe; rebuilt only when it changed."""
        item = dressed.item if dressed is not None else None
        names = tuple((each.id, each.name) for each in plan.job.dress.items if item and each.face == item.face)
        kinds = tuple((step.id, step.kind) for step in item.steps) if item else ()
        key = (item.id if item else "", kinds, names, self._source_words(plan, item), _told(dressed))
        self.sentence.setText(self._sentence(plan, item))
        if key == self._key:
            for panel in self._panels:
                panel.show_job()
            self._show_pictures(dressed)
            return
        self._key = key
        self._panels.clear()
        self._pictures.clear()
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
        self._line.addWidget(self._source_chip(*self._source_words(plan, item)))
        for number, step in enumerate(item.steps):
            self._line.addWidget(_arrow())
            self._line.addWidget(self._step_chip(item, step, number, names, dressed))
        self._line.addWidget(_arrow())
        self._line.addWidget(self._adder(item, names))
        self._line.addStretch(1)
        for panel in self._panels:
            panel.setMinimumWidth(_width_of(panel))  # in the window: outside it there is no style sheet
        self._show_pictures(dressed)

    def _sentence(self, plan: Plan, item: Item | None) -> str:
        """The recipe read aloud: `“Kite Day”, then join, then border 0.4 mm.`"""
        if item is None:
            return ""
        title, under = self._source_words(plan, item)
        names = {each.id: each.name for each in plan.job.dress.items}
        steps = [describe(step, names) for step in item.steps]
        made = WAYS[item.made].title
        return ", then ".join((f"{title} {under}", *steps)) + f": {made}."

    def _show_pictures(self, dressed: Dressed | None) -> None:
        """What there is before the recipe, and what each step makes of what was there before it."""
        if dressed is None:
            return
        placed = dressed.placed
        stages = (placed.start, *placed.stages)
        for label, number in self._pictures:
            if number < len(stages):
                scene = make_stage_scene(stages[number - 1] if number else None, stages[number])
                label.setPixmap(make_picture(scene, WIDE_PX, HIGH_PX, self.devicePixelRatioF()))

    def _picture(self, number: int, words: str) -> QLabel:
        label = QLabel()
        label.setFixedSize(WIDE_PX, HIGH_PX)
        label.setAccessibleName(words)
        label.setToolTip(words)
        self._pictures.append((label, number))
        return label

    def _source_chip(self, title: str, under: str) -> QWidget:
        chip, column = _chip("recipe-source")
        column.addWidget(_strong(title))
        column.addWidget(_soft(under))
        column.addWidget(self._picture(0, "What it is drawn from"))
        column.addStretch(1)
        return chip

    def _source_words(self, plan: Plan, item: Item | None) -> tuple[str, str]:
        """What an item is drawn from, in two lines."""
        if item is None:
            return "", ""
        if item.words is not None:
            return "words", f"“{item.words.text.splitlines()[0][:22]}”"
        if item.of is not None:
            if item.of == FACE:
                return "made of", "the face's own outline"
            other = plan.job.dress.item(item.of)
            return "made of", other.name[:24] if other else item.of
        art = next((each for each in plan.job.dress.art if each.id == item.art), None)
        return "art", art.name[:24] if art else ""

    def _step_chip(
        self, item: Item, step: Step, number: int, names: tuple[tuple[str, str], ...], dressed: Dressed
    ) -> QWidget:
        chip, column = _chip(f"step-{step.id}")
        known = spec_of(step)
        chip.setToolTip(known.about)
        top = QHBoxLayout()
        top.setSpacing(2)
        top.addWidget(_strong(known.title))
        top.addStretch(1)
        for words, name, by in (("‹", "earlier", -1), ("›", "later", 1)):
            if (by < 0 and number > 0) or (by > 0 and number < len(item.steps) - 1):
                run = partial(self._move, item.id, step.id, by)
                top.addWidget(self._button(words, f"step-{name}-{step.id}", f"{name.capitalize()} in the recipe", run))
        off = partial(self._remove, item.id, step.id)
        top.addWidget(self._button("×", f"step-off-{step.id}", "Take the step out", off))
        column.addLayout(top)
        others = tuple((id, words) for id, words in names if id != item.id)
        path = f"dress.items.{item.id}.steps.{step.id}"
        panel = FieldPanel(self.document, path, items=lambda: others, draggable=True)
        self._panels.append(panel)
        line = QHBoxLayout()
        line.setSpacing(8)
        told = f"After “{known.title}”; the line within is what there was before"
        line.addWidget(self._picture(number + 1, told), 0, Qt.AlignmentFlag.AlignTop)
        line.addWidget(panel, 1)
        column.addLayout(line)
        remark = next((each.words for each in dressed.placed.drawn.remarks if each.step == step.id), "")
        if remark:
            column.addWidget(_soft(remark.replace("the least border that joins all", "least border for")))
        column.addStretch(1)
        return chip

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

    def _remove(self, item_id: str, step_id: str) -> None:
        item = self.document.job.dress.item(item_id)
        if item is not None:
            title = next((spec_of(step).title for step in item.steps if step.id == step_id), "step")
            self.document.edit(f"No {title}", remove_step(item, step_id))

    def _move(self, item_id: str, step_id: str, by: int) -> None:
        item = self.document.job.dress.item(item_id)
        if item is not None and any(step.id == step_id for step in item.steps):
            self.document.edit("Step moved", move_step(item, step_id, by))

    def _add(self, item_id: str, spec: StepSpec, other: str | None) -> None:
        item = self.document.job.dress.item(item_id)
        if item is not None:
            self.document.edit(spec.title.capitalize(), add_step(self.document.job, item, spec.id, other))

    def _adder(self, item: Item, names: tuple[tuple[str, str], ...]) -> QToolButton:
        button = QToolButton()
        button.setObjectName("add-step")
        button.setText("Step ▾")
        button.setProperty("quiet", True)
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(button)
        menu.setToolTipsVisible(True)
        others = [id for id, _ in names if id != item.id]
        for title, specs in step_groups().items():
            menu.addSection(title)
            for spec in specs:
                action = menu.addAction(spec.title)
                if action is None:
                    continue
                action.setObjectName(f"add-step-{spec.id}")
                action.setToolTip(spec.about)
                asks = spec.needs_other
                action.setEnabled(bool(others) or not asks)
                other = others[-1] if asks and others else None
                action.triggered.connect(partial(self._add, item.id, spec, other))
        button.setMenu(menu)
        return button


def _told(dressed: Dressed | None) -> tuple[tuple[str, str], ...]:
    """What steps had to say, by their ids."""
    return tuple((each.step, each.words) for each in dressed.placed.drawn.remarks) if dressed is not None else ()


def _width_of(panel: FieldPanel) -> int:
    """So wide that its fields stand in at most two lines."""
    widths = [widget.sizeHint().width() + 8 for widget in panel.widgets.values()]
    return max(max(widths, default=0), (sum(widths) + 1) // 2 + 40 if len(widths) > 2 else sum(widths))


def _chip(name: str) -> tuple[QFrame, QVBoxLayout]:
    chip = QFrame()
    chip.setObjectName(name)
    chip.setProperty("chip", True)
    column = QVBoxLayout(chip)
    column.setContentsMargins(9, 4, 6, 4)
    column.setSpacing(2)
    return chip, column


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
