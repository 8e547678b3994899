"""Construct: the pieces in a list, one of them large and flat, the card folding below it, the choices beside it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLabel, QSizePolicy, QSlider, QToolButton, QVBoxLayout, QWidget

from dechirer.core.card.folding import fold_steps
from dechirer.core.construct.drawn_card import UNDECIDED
from dechirer.core.construct.specs import ATTACHMENTS
from dechirer.core.length import format_size
from dechirer.core.plan import Plan
from dechirer.core.words import plural
from dechirer.desk.panels.add_button import AddButton
from dechirer.desk.panels.extras import Extras
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.folded_view import LOOKS, FoldedView
from dechirer.desk.widgets.picture_list import PictureList
from dechirer.desk.widgets.segments import Segments
from dechirer.desk.work.card_file import CardFile
from dechirer.desk.work.document import Document
from dechirer.drawing.scenes.flat import make_flat_scene
from dechirer.drawing.scenes.landed import make_small_piece
from dechirer.drawing.solid.model import find_model

SLIDER_STEPS = 180
BESIDE_PX = 176
FIRST_OPENING = 128
"""Shown ajar at first, so that both the inside and the fold can be seen."""


class ConstructStation(Station):
    """Every flat piece, and the folded card."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._lit = ""
        self._main = ""
        self.flat = self.take_view(DrawingView("construct-flat"))
        self.folded = FoldedView("construct-folded")
        self.folded.setMinimumSize(140, 120)
        self.take_view(self.folded)
        self.folded.opening_wanted.connect(lambda share: self.slider.setValue(round(share * SLIDER_STEPS)))
        self.looks = Segments("look", [(id, title) for id, (title, *_) in LOOKS.items()], in_a_row=2)
        for id, (title, *_) in LOOKS.items():
            self.looks.buttons[id].setToolTip(f"{title} (the key {title[0]} in the picture); drag to turn it")
        self.looks.show_chosen("front")
        self.looks.chosen.connect(self.folded.look_from)
        self.folded.look_changed.connect(self.looks.show_chosen)
        self.parts = PictureList("construct-parts", "The pieces", picture_px=48)
        self.parts.setMinimumWidth(132)
        self.parts.setMaximumWidth(196)
        self.parts.chosen.connect(self._choose_row)
        self.flat.resized.connect(self._draw_flat)
        for view in (self.flat, self.folded):
            view.element_hovered.connect(self._light)
        self.extras = Extras(document)
        self.extras.wanted.connect(self.open_box)
        self.card_file = CardFile(document, self)
        self.card_file.refused.connect(self.refused.emit)
        self.add = AddButton(document, "add-extra")
        self.add.refused.connect(self.refused.emit)
        self.folds = QToolButton()
        self.folds.setObjectName("each-fold")
        self.folds.setText("Folds…")
        self.folds.setToolTip("How each fold is marked, where it is not as the others of its piece")
        self.folds.setProperty("quiet", True)
        self.folds.clicked.connect(lambda: self.open_box("folds"))
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("opening")
        self.slider.setAccessibleName("How far the card is closed")
        self.slider.setRange(0, SLIDER_STEPS)
        self.slider.setValue(FIRST_OPENING)
        self.slider.valueChanged.connect(self._draw_folded)
        self.closed_words = small()
        self.closed_words.setObjectName("closed-words")
        self.closed_words.setTextFormat(Qt.TextFormat.RichText)
        self.closed_words.linkActivated.connect(self.figure_picked.emit)
        line = QHBoxLayout(self)
        line.setContentsMargins(14, 10, 14, 8)
        line.setSpacing(10)
        line.addLayout(self._left(), 18)
        line.addLayout(self._middle(), 52)
        line.addLayout(self._right(), 30)

    def _left(self) -> QVBoxLayout:
        column = QVBoxLayout()
        top = QHBoxLayout()
        top.addWidget(heading("Pieces"), 1)
        top.addWidget(self.add)
        column.addLayout(top)
        column.addWidget(self.parts, 1)
        return column

    def _middle(self) -> QVBoxLayout:
        column = QVBoxLayout()
        top = QHBoxLayout()
        top.setSpacing(8)
        self.flat_title = heading("Flat")
        top.addWidget(self.flat_title)
        self.side = small("outside up")
        self.side.setWordWrap(False)
        self.side.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)  # it may be cut short
        top.addWidget(self.side, 1)
        top.addWidget(self.folds)
        column.addLayout(top)
        column.addWidget(self.flat, 56)
        below = QHBoxLayout()
        below.setSpacing(8)
        below.addWidget(self.folded, 1)
        below.addLayout(self._beside_folded())
        column.addLayout(below, 44)
        return column

    def _beside_folded(self) -> QVBoxLayout:
        """What the folded card is looked at and closed with, and what it comes to."""
        column = QVBoxLayout()
        column.setSpacing(4)
        self.folded_title = heading("Folded")
        column.addWidget(self.folded_title)
        column.addWidget(self.looks)
        column.addSpacing(4)
        column.addWidget(self.slider)
        ends = QHBoxLayout()
        ends.addWidget(small("flat"))
        ends.addStretch(1)
        closed = small("closed")
        closed.setAlignment(Qt.AlignmentFlag.AlignRight)
        ends.addWidget(closed)
        column.addLayout(ends)
        self.step_words = QLabel("")
        self.step_words.setObjectName("fold-step")
        self.step_words.setWordWrap(True)
        self.step_words.setMinimumHeight(2 * self.step_words.fontMetrics().height())  # so that nothing jumps
        column.addWidget(self.step_words)
        column.addStretch(1)
        column.addWidget(self.closed_words)
        for widget in (self.slider, self.looks, self.step_words, self.closed_words):
            widget.setFixedWidth(BESIDE_PX)
        return column

    def _right(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.addWidget(heading("Choices"))
        column.addWidget(self.extras, 1)
        return column

    def refresh(self) -> None:
        plan = self.plan
        if plan is None:
            return
        job, construct = plan.job, plan.construct
        self.slider.setEnabled(construct.is_folded)
        self.folds.setVisible(any(piece.folds for piece in construct.pieces))
        self.extras.show_plan(plan)
        self.add.show_plan(plan)
        self._show_parts(plan)
        self._draw_flat()
        self._draw_folded()
        closed = construct.closed
        size = format_size(closed.width.value, closed.height.value, job.units)
        thickness = closed.thickness
        state = "Closed" if construct.is_folded else "Flat"
        found = construct.bought
        bought = ""
        if found is not None:
            bought = f" · goes into a bought {found.name} envelope, {format_size(found.width, found.height, job.units)}"
        weight = f'<a href="{closed.weight.key}">{closed.weight.text(job.units)}</a>'
        self.closed_words.setText(
            f'{state}: {size}, <a href="{thickness.key}">{thickness.text("mm")} thick</a> '
            f"({closed.layers} {plural(closed.layers, 'layer')}), {weight}{bought}"
        )

    def open_box(self, what: str) -> QDialog | None:
        """Ask for the card's `file`, or open the box for the `roles` of its lines or of `folds`; the box opened."""
        if what == "folds":
            from dechirer.desk.boxes.folds_box import FoldsBox

            folds = FoldsBox(self.document, lambda: self.plan, self)
            folds.show()
            return folds
        if what == "file":
            self.card_file.ask_file()
            return None
        art = self.document.job.construct.from_file.art
        if what != "roles" or all(each.id != art for each in self.document.job.dress.art):
            return None
        from dechirer.desk.boxes.roles_box import RolesBox

        box = RolesBox(self.document, art, self)
        box.show()
        return box

    def _show_parts(self, plan: Plan) -> None:
        """List the pieces; the one that is large stays chosen."""
        pieces, units = plan.construct.pieces, plan.job.units
        lines = [
            (
                f"{piece.letter} {piece.name}",
                f"× {piece.count} · {plan.brief.paper(piece.paper).paper.name}",
                format_size(piece.width.value, piece.height.value, units),
            )
            for piece in pieces
        ]
        row = next((number for number, piece in enumerate(pieces) if piece.id == self._main), 0)
        self._main = pieces[row].id
        self.parts.show_rows(plan, lines, row, lambda row: make_small_piece(plan, pieces[row]))

    def _choose_row(self, row: int) -> None:
        if self.plan is not None and row < len(self.plan.construct.pieces):
            self._choose_main(self.plan.construct.pieces[row].id)

    def _draw_flat(self) -> None:
        if self.plan is not None:
            scene = make_flat_scene(self.plan, self.flat.width(), self.flat.height(), self._main, self._lit)
            self.flat.set_display(scene, self._main)
            piece = self.plan.construct.piece(self._main) or self.plan.construct.pieces[0]
            self.flat_title.setText(f"{piece.letter} {piece.name}")
            self.side.setText("flat, outside up")

    def _draw_folded(self) -> None:
        if self.plan is not None:
            model = find_model(self.plan, self._main)
            closed = self.slider.value() / SLIDER_STEPS if model.tree.hinges else 0.0
            self.step_words.setText(name_step(fold_steps(model.tree), closed))
            self.folded_title.setText(f"Folded {model.name}")
            self.folded.show_folded(self.plan, closed, self._lit, self._main)

    def _light(self, element: str) -> None:
        """A panel pointed at in one picture lights up in both."""
        if element != self._lit:
            self._lit = element
            self._draw_flat()
            self._draw_folded()

    def _choose_main(self, element: str) -> None:
        """Show a piece large, and bring what is decided about it into sight."""
        piece = element.split("/")[0]
        if self.plan is None or self.plan.construct.piece(piece) is None or piece == self._main:
            return
        self._main = piece
        self._show_parts(self.plan)
        self._draw_flat()
        self._draw_folded()
        self.extras.show_group(next((spec.path for spec in ATTACHMENTS if spec.piece == piece), "construct.fold"))

    def owns(self, element: str) -> bool:
        return self.plan is not None and self.plan.construct.piece(element) is not None

    def show_piece(self, piece: str) -> None:
        """Show a piece large."""
        self._choose_main(piece)

    def point_at(self, element: str) -> None:
        if element.startswith(UNDECIDED):
            self._choose_main("base")
        else:
            self._choose_main(element if self.owns(element) else element.rsplit("-", 1)[0])
        self._light(element)


def name_step(steps: tuple[str, ...], closed: float) -> str:
    """Which step of the folding is under way."""
    if not steps or closed <= 0:
        return ""
    number = min(len(steps) - 1, int(closed * len(steps) - 1e-9))
    return steps[number] if len(steps) == 1 else f"step {number + 1} of {len(steps)}: {steps[number]}"


VIEW = ConstructStation
