"""What can be glued in or on, each as a small picture of itself on this card."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import structs
from PyQt6.QtCore import QSize, Qt, QTimer
from PyQt6.QtGui import QAction, QIcon
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QMenu, QToolButton, QWidget, QWidgetAction

from dechirer.core.card.panels import Face
from dechirer.core.construct.specs import ATTACHMENTS, AttachmentSpec
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Dress
from dechirer.core.job.attach import attach
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, Planner
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import small
from dechirer.desk.widgets.picture_list import make_picture
from dechirer.drawing.display import Dimension, Label
from dechirer.drawing.scenes.solid import make_folded_scene

ICON_PX = (92, 72)
IN_A_ROW = 4
SHOWN_CLOSED = 0.62


class AddMenu(QMenu):
    """Tiles, made anew each time it opens. `attach(spec, face)` is called for the one that is chosen."""

    def __init__(self, parent: QWidget, chosen: Callable[[AttachmentSpec, Face], None]) -> None:
        super().__init__(parent)
        self.setObjectName("add-menu")
        self._chosen = chosen
        self._face = ""
        self._plan: Plan | None = None
        self._waiting: list[tuple[QToolButton, AttachmentSpec, Face]] = []
        self._timer = QTimer(self)
        self._timer.setInterval(0)
        self._timer.timeout.connect(self._draw_next)
        self.aboutToHide.connect(self._timer.stop)

    def fill(self, plan: Plan) -> None:
        """Offer what can be put on a card; what it has already is dimmed."""
        self.clear()
        for action in self.findChildren(QAction):
            action.setParent(None)
            action.deleteLater()
        self._plan, self._waiting = plan, []
        faces = plan.construct.tree.faces
        page = QWidget()
        grid = QGridLayout(page)
        grid.setContentsMargins(10, 8, 10, 8)
        grid.setSpacing(4)
        once = [spec for spec in ATTACHMENTS if not spec.many]
        for place, spec in enumerate(once):
            free = getattr(plan.job.construct, spec.id) is None
            can = free and (bool(plan.construct.kind.liner) or not spec.needs_liner)
            grid.addWidget(self._tile(spec, faces[0], can), *divmod(place, IN_A_ROW))
        line = grid.rowCount()
        self._face = self._face if self._face in [face.name for face in faces] else faces[0].name
        grid.addLayout(self._face_line(faces), line, 0, 1, IN_A_ROW)
        # Every face has its action, so that it is found by name; the tiles are those of the face that is chosen.
        for face in faces:
            for place, spec in enumerate(each for each in ATTACHMENTS if each.many):
                tile = self._tile(spec, face, True)
                if face.name == self._face:
                    grid.addWidget(tile, line + 1, place)
                else:
                    tile.setParent(page)
                    tile.hide()
        holder = QWidgetAction(self)
        holder.setDefaultWidget(page)
        self.addAction(holder)
        self._waiting = [each for each in self._waiting if not each[0].isHidden()]
        self._timer.start()

    def _face_line(self, faces: tuple[Face, ...]) -> QHBoxLayout:
        line = QHBoxLayout()
        line.addWidget(small("On the face"))
        combo = QComboBox()
        combo.setObjectName("add-face")
        combo.setAccessibleName("The face it is put on")
        for face in faces:
            combo.addItem(face.name)
        combo.setCurrentText(self._face)
        combo.activated.connect(lambda _row: self._turn_to(combo.currentText()))
        line.addWidget(combo)
        line.addStretch(1)
        return line

    def _turn_to(self, face: str) -> None:
        self._face = face
        if self._plan is not None:
            self.fill(self._plan)
            self.adjustSize()

    def _tile(self, spec: AttachmentSpec, face: Face, can: bool) -> QToolButton:
        words = spec.add.format(face=face.name)
        action = QAction(words, self)
        on = f"-{face.name.replace(' ', '-')}" if spec.many else ""
        action.setObjectName(f"add-{spec.id}{on}")
        action.setEnabled(can)
        action.triggered.connect(lambda: self._choose(spec, face))
        tile = QToolButton()
        tile.setObjectName(f"tile-{spec.id}{on}")
        tile.setDefaultAction(action)
        tile.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
        tile.setIconSize(QSize(*ICON_PX))
        tile.setFont(theme.font("small"))
        tile.setFixedWidth(ICON_PX[0] + 36)
        tile.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._waiting.append((tile, spec, face))
        return tile

    def _choose(self, spec: AttachmentSpec, face: Face) -> None:
        self.close()
        self._chosen(spec, face)

    def _draw_next(self) -> None:
        """One picture at a time, so that the window does not wait for all of them."""
        if not self._waiting or self._plan is None:
            self._timer.stop()
            return
        tile, spec, face = self._waiting.pop(0)
        job = bare(self._plan.job)
        try:
            plan = Planner().plan(apply_changes(job, attach(job, spec.id, face)))
        except ValueError:
            return  # the tile keeps its words
        piece = "envelope" if spec.piece == "envelope" else ""
        display = make_folded_scene(plan, 1.0 if spec.late else SHOWN_CLOSED, piece=piece)
        items = tuple(item for item in display.items if not isinstance(item, (Dimension, Label)))
        picture = make_picture(structs.replace(display, items=items), *ICON_PX, self.devicePixelRatioF())
        icon = QIcon(picture)
        icon.addPixmap(picture, QIcon.Mode.Disabled)
        action = tile.defaultAction()
        if action is not None:
            action.setIcon(icon)


def bare(job: Job) -> Job:
    """A job's card alone: one copy, nothing on its faces; quick to plan."""
    return apply_changes(job, [Change("dress", Dress()), Change("brief.count", 1)])
