"""What can be glued in or on, each as a small picture of itself on this card."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from msgspec import structs
from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QAction, QIcon, QPixmap
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
from dechirer.desk.work.beside import Beside
from dechirer.drawing.display import Dimension, Display, Label
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
        self._tiles: list[tuple[QToolButton, AttachmentSpec, Face]] = []
        self._beside = Beside(self)
        self._beside.told.connect(self._draw)
        self._beside.failed.connect(_raise)
        self.aboutToHide.connect(self._beside.stop)

    def fill(self, plan: Plan) -> None:
        """Offer what can be put on a card; what it has already is dimmed."""
        self.clear()
        for action in self.findChildren(QAction):
            action.setParent(None)
            action.deleteLater()
        self._plan, self._tiles = plan, []
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
        self._tiles = [each for each in self._tiles if not each[0].isHidden()]
        asked = tuple((spec, face) for _, spec, face in self._tiles)
        self._beside.run_telling(partial(_show_each, plan.job, asked))

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
        tile.setMinimumWidth(ICON_PX[0] + 36)
        # As large as with its picture, which comes when the menu has been laid out; that is the action's.
        blank = QPixmap(*ICON_PX)
        blank.fill(Qt.GlobalColor.transparent)
        tile.setIcon(QIcon(blank))
        tile.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._tiles.append((tile, spec, face))
        return tile

    def _choose(self, spec: AttachmentSpec, face: Face) -> None:
        self.close()
        self._chosen(spec, face)

    def _draw(self, told: tuple[int, Display]) -> None:
        """The picture of one tile, as soon as what it shows is known."""
        place, display = told
        action = self._tiles[place][0].defaultAction()
        picture = make_picture(display, *ICON_PX, self.devicePixelRatioF())
        icon = QIcon(picture)
        icon.addPixmap(picture, QIcon.Mode.Disabled)
        if action is not None:
            action.setIcon(icon)


def _show_each(
    job: Job, asked: Sequence[tuple[AttachmentSpec, Face]], tell: Callable[[tuple[int, Display]], None]
) -> None:
    """Tell what a card with each of some things on it looks like, by its number; of what cannot be made nothing."""
    card, planner = bare(job), Planner()
    for place, (spec, face) in enumerate(asked):
        try:
            plan = planner.plan(apply_changes(card, attach(card, spec.id, face)))
        except ValueError:
            continue  # the tile keeps its words
        piece = "envelope" if spec.piece == "envelope" else ""
        display = make_folded_scene(plan, 1.0 if spec.late else SHOWN_CLOSED, piece=piece)
        items = tuple(item for item in display.items if not isinstance(item, (Dimension, Label)))
        tell((place, structs.replace(display, items=items)))


def _raise(error: Exception) -> None:
    """Let the guard tell of a fault."""
    raise error


def bare(job: Job) -> Job:
    """A job's card alone: one copy, nothing on its faces; quick to plan."""
    return apply_changes(job, [Change("dress", Dress()), Change("brief.count", 1)])
