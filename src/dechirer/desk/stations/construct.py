"""Construct: the flat pieces to scale, and the card folding beside them."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QMenu,
    QSizePolicy,
    QSlider,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.card.folding import fold_steps
from dechirer.core.job.attach import (
    add_bought,
    add_envelope,
    add_layer,
    add_peel,
    add_slits,
    add_stack,
    add_window,
)
from dechirer.core.construct.attachments.liner import Liner
from dechirer.core.decide.change import Change
from dechirer.core.card.fold import FOLD_KINDS
from dechirer.core.length import format_size, parse_length
from dechirer.desk.document import Document
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.extras import Extras
from dechirer.drawing.scenes.flat import make_flat_scene
from dechirer.drawing.scenes.solid import find_model, make_folded_scene

FOLD_TITLES = {"score": "scored", "perforate": "perforated", "ticks": "ticked", "unmarked": "unmarked"}
SLIDER_STEPS = 180
FIRST_OPENING = 128
"""Shown ajar at first, so that both the inside and the fold can be seen."""


class ConstructStation(Station):
    """Every flat piece, and the folded card."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._lit = ""
        self._main = ""
        self.flat = self.take_view(DrawingView("construct-flat"))
        self.folded = self.take_view(DrawingView("construct-folded"))
        self.flat.element_picked.connect(self._choose_main)
        self.flat.resized.connect(self._draw_flat)
        for view in (self.flat, self.folded):
            view.element_hovered.connect(self._light)
        self.liner = QCheckBox("Liner")
        self.liner.setObjectName("liner")
        self.liner.clicked.connect(self._toggle_liner)
        self.liner_paper = QComboBox()
        self.liner_paper.setObjectName("liner-paper")
        self.liner_paper.setAccessibleName("Paper of the liner")
        self.liner_paper.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.liner_paper.activated.connect(self._choose_liner_paper)
        self.base_fold = self._fold_box("base-fold", "Fold of the base", "construct.fold.kind")
        self.liner_fold = self._fold_box("liner-fold", "Fold of the liner", "construct.liner.fold.kind")
        self.extras = Extras(document, self.take_field)
        self.add = QToolButton()
        self.add.setObjectName("add-extra")
        self.add.setText("Add ▾")
        self.add.setProperty("quiet", True)
        self.add.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.add_menu = QMenu(self.add)
        self.add_menu.aboutToShow.connect(self._fill_add_menu)
        self.add.setMenu(self.add_menu)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("opening")
        self.slider.setAccessibleName("How far the card is closed")
        self.slider.setRange(0, SLIDER_STEPS)
        self.slider.setValue(FIRST_OPENING)
        self.slider.valueChanged.connect(self._draw_folded)
        self.closed_words = small()
        self.closed_words.setObjectName("closed-words")
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(0)
        line.addLayout(self._left(), 61)
        line.addLayout(self._right(), 39)

    def _fold_box(self, name: str, title: str, path: str) -> QComboBox:
        box = QComboBox()
        box.setObjectName(name)
        box.setAccessibleName(title)
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        for kind in FOLD_KINDS:
            box.addItem(FOLD_TITLES[kind], kind)
        box.activated.connect(lambda _row, box=box: self._choose_fold(title, path, box.currentData()))
        return box

    def _left(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setContentsMargins(14, 10, 0, 8)
        top = QHBoxLayout()
        top.setSpacing(8)
        top.addWidget(heading("Flat pieces"))
        self.side = small("outside up")
        self.side.setWordWrap(False)
        self.side.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)  # it may be cut short
        top.addWidget(self.side, 1)
        top.addWidget(self.add)
        column.addLayout(top)
        controls = QHBoxLayout()
        controls.setSpacing(6)
        for words, widget in (
            ("Base fold", self.base_fold),
            ("", self.liner),
            ("on", self.liner_paper),
            ("fold", self.liner_fold),
        ):
            if words:
                label = small(words)
                label.setWordWrap(False)
                controls.addWidget(label)
            controls.addWidget(widget)
        controls.addStretch(1)
        column.addLayout(controls)
        column.addWidget(self.extras)
        column.addWidget(self.flat, 1)
        return column

    def _right(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setContentsMargins(6, 10, 14, 8)
        self.folded_title = heading("Folded")
        column.addWidget(self.folded_title)
        column.addWidget(self.folded, 1)
        column.addWidget(self.slider)
        ends = QHBoxLayout()
        self.step_words = QLabel("")
        self.step_words.setObjectName("fold-step")
        self.step_words.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self.step_words.setWordWrap(True)
        self.step_words.setMinimumHeight(2 * self.step_words.fontMetrics().height())  # so that nothing jumps
        ends.addWidget(QLabel("flat"))
        ends.addWidget(self.step_words, 1)
        ends.addWidget(QLabel("closed"))
        column.addLayout(ends)
        column.addWidget(self.closed_words)
        return column

    def refresh(self) -> None:
        plan = self.plan
        if plan is None:
            return
        job = plan.job
        folded = plan.construct.is_folded
        lined = bool(plan.construct.kind.liner)
        has_liner = job.construct.liner is not None
        self.base_fold.setCurrentIndex(FOLD_KINDS.index(job.construct.fold.kind))
        self.base_fold.setEnabled(folded)
        self.liner.setChecked(has_liner)
        self.liner.setEnabled(lined or has_liner)
        self.liner_paper.setEnabled(has_liner and lined)
        self.liner_fold.setEnabled(has_liner and plan.construct.kind.liner == "spread")
        if job.construct.liner is not None:
            self.liner_fold.setCurrentIndex(FOLD_KINDS.index(job.construct.liner.fold.kind))
        names = [paper.name for paper in job.brief.papers]
        if [self.liner_paper.itemText(row) for row in range(self.liner_paper.count())] != names:
            self.liner_paper.clear()
            for paper in job.brief.papers:
                self.liner_paper.addItem(paper.name, paper.id)
        if job.construct.liner is not None:
            self.liner_paper.setCurrentIndex(self.liner_paper.findData(job.construct.liner.paper))
        self.slider.setEnabled(folded)
        self.extras.show_plan(plan)
        self._draw_flat()
        self._draw_folded()
        size = format_size(job.brief.width.mm, job.brief.height.mm, job.units)
        thickness = plan.construct.closed_thickness
        layers = plan.construct.layers
        words = "layer" if layers == 1 else "layers"
        state = "Closed" if folded else "Flat"
        found = plan.construct.bought
        bought = ""
        if found is not None:
            bought = f" · goes into a bought {found.name} envelope, {format_size(found.width, found.height, job.units)}"
        self.closed_words.setText(
            f'{state}: {size}, <a href="{thickness.key}">{thickness.text("mm")} thick</a> ({layers} {words}){bought}'
        )
        if not self.closed_words.property("wired"):
            self.closed_words.setProperty("wired", True)
            self.closed_words.linkActivated.connect(self.figure_picked.emit)

    def _draw_flat(self) -> None:
        if self.plan is not None:
            scene = make_flat_scene(self.plan, self.flat.width(), self.flat.height(), self._main, self._lit)
            self.flat.set_display(scene)
            scale = self.flat.viewport_now.scale * 25.4 / 96
            more = " · click a small piece to see it large" if len(self.plan.construct.pieces) > 1 else ""
            self.side.setText(f"outside up · drawn at {100 * scale:.0f} %{more}")

    def _draw_folded(self) -> None:
        if self.plan is not None:
            model = find_model(self.plan, self._main)
            closed = self.slider.value() / SLIDER_STEPS if model.tree.hinges else 0.0
            self.step_words.setText(name_step(fold_steps(model.tree), closed))
            self.folded_title.setText(f"Folded {model.name}")
            self.folded.set_display(make_folded_scene(self.plan, closed, self._lit, self._main))

    def _light(self, element: str) -> None:
        """A panel pointed at in one picture lights up in both."""
        if element != self._lit:
            self._lit = element
            self._draw_flat()
            self._draw_folded()

    def _choose_main(self, element: str) -> None:
        """A piece clicked on the shelf is shown large."""
        piece = element.split("/")[0]
        if self.plan is not None and self.plan.construct.piece(piece) is not None and piece != self._main:
            self._main = piece
            self._draw_flat()
            self._draw_folded()

    def show_piece(self, piece: str) -> None:
        """Show a piece large."""
        self._choose_main(piece)

    def point_at(self, element: str) -> None:
        self._choose_main(element.rsplit("-", 1)[0] if "-" in element else element)
        self._light(element)

    def _fill_add_menu(self) -> None:
        """What can be glued in or on: a window once, and a layer on each face."""
        menu, plan = self.add_menu, self.plan
        menu.clear()
        if plan is None:
            return
        front = plan.construct.tree.faces[0].name
        window = menu.addAction(f"Window in the {front}")
        if window is not None:
            window.setEnabled(plan.job.construct.window is None)
            window.triggered.connect(lambda: self.document.edit("Window", add_window(self.document.job)))
        entries = (
            ("Insert held by corner slits", plan.job.construct.slits is None, add_slits),
            (f"Peel-away shape in the {front}", plan.job.construct.peel is None, add_peel),
            (f"Layer stack on the {front}", plan.job.construct.stack is None, partial(add_stack, face=front)),
            ("Envelope", plan.job.construct.envelope is None, add_envelope),
            ("Bought envelope", plan.job.construct.bought is None, add_bought),
        )
        for title, free, add in entries:
            action = menu.addAction(title)
            if action is not None:
                action.setEnabled(free)
                action.triggered.connect(
                    lambda _=False, title=title, add=add: self.document.edit(title, add(self.document.job))
                )
        menu.addSeparator()
        for face in plan.construct.tree.faces:
            action = menu.addAction(f"Layer on the {face.name}")
            if action is not None:
                action.triggered.connect(lambda _=False, name=face.name: self._add_layer(name))

    def _add_layer(self, face: str) -> None:
        self.document.edit(f"Layer on the {face}", add_layer(self.document.job, face))

    def _toggle_liner(self, wanted: bool) -> None:
        job = self.document.job
        if not wanted:
            self.document.edit("No liner", [Change("construct.liner", None)])
            return
        other = next((paper.id for paper in job.brief.papers if paper.id != job.brief.base_paper), job.brief.base_paper)
        self.document.edit("Liner", [Change("construct.liner", Liner(parse_length("1/16 in"), other))])

    def _choose_liner_paper(self, row: int) -> None:
        self.document.edit(
            f"Liner on {self.liner_paper.itemText(row)}",
            [Change("construct.liner.paper", self.liner_paper.itemData(row))],
        )

    def _choose_fold(self, title: str, path: str, kind: Any) -> None:
        self.document.edit(f"{title} {FOLD_TITLES[kind]}", [Change(path, kind)])


def name_step(steps: tuple[str, ...], closed: float) -> str:
    """Which step of the folding is under way."""
    if not steps or closed <= 0:
        return ""
    number = min(len(steps) - 1, int(closed * len(steps) - 1e-9))
    return steps[number] if len(steps) == 1 else f"step {number + 1} of {len(steps)}: {steps[number]}"
