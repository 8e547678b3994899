"""A face beside the card it is on: the card folded, to be turned and closed, and the flat piece, with the face lit."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QSlider, QVBoxLayout, QWidget

from dechirer.core.card.folding import fold_steps
from dechirer.core.plan import Plan
from dechirer.desk.widgets.choices import small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.folded_view import FoldedView
from dechirer.drawing.scenes.face import describe_landing, make_landing_scene

SLIDER_STEPS = 100
LEAST_HIGH_PX = 290


class OnTheCard(QWidget):
    """The small drawings of Dress, drawn after the large one, so that none waits for the others."""

    def __init__(self, above: QWidget) -> None:
        """`above` stands on top of the column."""
        super().__init__()
        self._plan: Plan | None = None
        self._face = self._picked = ""
        self.folded = FoldedView("dress-folded", plain=True)
        self.flat = DrawingView("dress-flat")
        for view in (self.folded, self.flat):
            view.setMinimumSize(110, 56)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("dress-opening")
        self.slider.setAccessibleName("How far the card is closed")
        self.slider.setRange(0, SLIDER_STEPS)
        self.slider.setValue(70)
        self.slider.valueChanged.connect(self._draw_folded)
        self.folded.opening_wanted.connect(lambda share: self.slider.setValue(round(share * SLIDER_STEPS)))
        self.landing = small()
        self.landing.setObjectName("landing")
        self.setMinimumHeight(LEAST_HIGH_PX)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._draw)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(above)
        column.addWidget(small("On the card: click a panel to face it, drag to turn it"))
        column.addWidget(self.folded, 5)
        column.addWidget(self.slider)
        column.addWidget(small("On the flat piece, outside up"))
        column.addWidget(self.flat, 4)
        column.addWidget(self.landing)

    def show_face(self, plan: Plan, face: str, picked: str) -> None:
        """Show where a face of a plan lies, and what is picked on it."""
        self._plan, self._face, self._picked = plan, face, picked
        self.landing.setText(describe_landing(plan, face))
        self._later.start()

    def _draw(self) -> None:
        self._draw_folded()
        if self._plan is not None:
            self.flat.set_display(make_landing_scene(self._plan, self._face, self._picked), self._face)

    def _draw_folded(self) -> None:
        if self._plan is None:
            return
        tree = self._plan.construct.tree
        self.slider.setEnabled(bool(tree.hinges))
        self.folded.show_folded(self._plan, self.slider.value() / SLIDER_STEPS if fold_steps(tree) else 0.0)
