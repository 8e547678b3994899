"""Dress: a face in front of you as it is seen, what is on it, and where it lands on the flat piece."""

from __future__ import annotations

from pathlib import Path

from msgspec import structs
from PyQt6.QtCore import QMimeData, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QGuiApplication, QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QSlider,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.card.folding import fold_steps
from dechirer.core.dress.edits import (
    forget_unused,
    place_again,
    place_art,
    place_at,
    place_in_middle,
    place_made_of,
    place_words,
    take_apart,
)
from dechirer.core.dress.seen import remove_item
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.outline import items_of
from dechirer.core.dress.spots import Spot
from dechirer.core.dress.brought import Art, FontFile
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.length import parse_length
from dechirer.desk.document import Document
from dechirer.desk.importing import Importer, contents, takes
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.field_edit import FieldEdit
from dechirer.desk.widgets.item_panel import ItemPanel
from dechirer.desk.widgets.recipe_chain import RecipeChain
from dechirer.drawing.scenes.face import describe_landing, make_face_scene, make_landing_scene
from dechirer.drawing.scenes.solid import make_folded_scene

SLIDER_STEPS = 100


class DressStation(Station):
    """A face, its items, their recipes."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._face = ""
        self._picked = ""
        self._lit = ""
        self._wanted_pick = ""
        self._dragged: tuple[float, float, float, float] | None = None
        self.setAcceptDrops(True)
        self.importer = Importer(self)
        self.importer.art_read.connect(self._take_art)
        self.importer.font_read.connect(self._take_font)
        self.importer.refused.connect(self.refused.emit)
        self.face = self.take_view(DrawingView("dress-face"))
        self.face.draggable = True
        self.face.element_picked.connect(self._pick_element)
        self.face.element_hovered.connect(self._light)
        self.face.drag_began.connect(self._begin_drag)
        self.face.drag_moved.connect(self._drag)
        self.face.drag_ended.connect(self._drop_item)
        self.face.resized.connect(self._draw_face)
        self.folded = self.take_view(DrawingView("dress-folded"))
        self.folded.element_picked.connect(self._pick_panel)
        self.flat = self.take_view(DrawingView("dress-flat"))
        for view in (self.folded, self.flat):
            view.setMinimumSize(120, 90)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("dress-opening")
        self.slider.setAccessibleName("How far the card is closed")
        self.slider.setRange(0, SLIDER_STEPS)
        self.slider.setValue(70)
        self.slider.valueChanged.connect(self._draw_folded)
        self.faces = QComboBox()
        self.faces.setObjectName("dress-faces")
        self.faces.setAccessibleName("The face in front of you")
        self.faces.setMinimumContentsLength(9)
        self.faces.activated.connect(lambda _row: self.show_face(str(self.faces.currentData())))
        self.panel = ItemPanel(document, self.take_field)
        self.panel.picked.connect(self.pick)
        self.panel.wanted.connect(self.open_box)
        self.chain = RecipeChain(document, self.take_field)
        self.chain.dragging.connect(self._drag_measure)
        self.chain.drag_ended.connect(lambda _item, _step: self._end_measure())
        self.landing = small()
        self.landing.setObjectName("landing")
        self.safe = self.take_field(FieldEdit("dress.safe", "safe zone", beside=True))
        self.safe.line.setFixedWidth(70)
        self._arrange()
        for keys, run in (("Ctrl+V", self.paste), ("Delete", self._delete)):
            key = QShortcut(QKeySequence(keys), self)
            key.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            key.activated.connect(run)

    def _arrange(self) -> None:
        page = QVBoxLayout(self)
        page.setContentsMargins(14, 8, 14, 6)
        page.setSpacing(4)
        top = QHBoxLayout()
        top.setSpacing(8)
        top.addWidget(heading("Face"))
        top.addWidget(self.faces)
        for words, name, tip, run in (
            (
                "Bring in art…",
                "bring-art",
                "SVG, DXF, PNG, JPEG or a typeface; dropping and pasting do too",
                self.ask_art,
            ),
            ("Words", "add-words", "Words in the middle of this face", self._add_words),
        ):
            button = QPushButton(words)
            button.setObjectName(name)
            button.setToolTip(tip)
            button.clicked.connect(lambda _=False, run=run: run())
            top.addWidget(button)
        self.again = QToolButton()
        self.again.setObjectName("art-again")
        self.again.setText("Art again ▾")
        self.again.setToolTip("Art that is in the job already, to be placed once more")
        self.again.setProperty("quiet", True)
        self.again.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.again_menu = QMenu(self.again)
        self.again_menu.aboutToShow.connect(self._fill_again)
        self.again.setMenu(self.again_menu)
        top.addWidget(self.again)
        self.of_button = QToolButton()
        self.of_button.setObjectName("made-of")
        self.of_button.setText("Made of it ▾")
        self.of_button.setProperty("quiet", True)
        self.of_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.of_button)
        for words, kind in (
            ("A border card behind it", "border"),
            ("A window of its outline", "window"),
            ("A frame with even webs between its parts", "frame"),
        ):
            action = menu.addAction(words)
            if action is not None:
                action.triggered.connect(lambda _=False, words=words, kind=kind: self._add_made_of(words, kind))
        self.of_button.setMenu(menu)
        top.addWidget(self.of_button)
        wordings = QPushButton("Wordings…")
        wordings.setObjectName("wordings")
        wordings.setToolTip("Words that differ from copy to copy")
        wordings.clicked.connect(lambda: self._open_wordings())
        top.addWidget(wordings)
        top.addStretch(1)
        top.addWidget(self.safe)
        page.addLayout(top)
        middle = QHBoxLayout()
        middle.setSpacing(8)
        left = QVBoxLayout()
        left.setSpacing(2)
        left.addWidget(small("On the card: click a panel to face it"))
        left.addWidget(self.folded, 5)
        left.addWidget(self.slider)
        left.addWidget(small("On the flat piece, outside up"))
        left.addWidget(self.flat, 4)
        left.addWidget(self.landing)
        middle.addLayout(left, 23)
        middle.addWidget(self.face, 52)
        middle.addWidget(self.panel, 25)
        page.addLayout(middle, 1)
        page.addWidget(self.chain)

    # --- showing ---------------------------------------------------------------------------------------------

    @property
    def dressed(self) -> Dressed | None:
        """The picked item, when it is on the face shown."""
        found = self.plan.dress.item(self._picked) if self.plan is not None else None
        return found if found is not None and found.item.face == self._face else None

    @property
    def spot(self) -> Spot | None:
        """The face shown."""
        return self.plan.dress.spot(self._face) if self.plan is not None else None

    def refresh(self) -> None:
        plan = self.plan
        if plan is None:
            return
        if self._wanted_pick and plan.dress.item(self._wanted_pick) is not None:
            self._picked, self._wanted_pick = self._wanted_pick, ""
        ids = [spot.id for spot in plan.dress.spots]
        if self._face not in ids:
            busy = [item.face for item in plan.job.dress.items if item.face in ids]
            self._face = busy[0] if busy else ids[0]
        if self.dressed is None:
            mine = [item.id for item in plan.job.dress.items if item.face == self._face]
            self._picked = mine[-1] if mine else ""
        self._show_faces()
        self.panel.show_item(plan, self._face, self.dressed)
        if not self.document.is_dragging:  # the chip under the pointer must not be made anew
            self.chain.show_item(plan, self.dressed)
        self.of_button.setEnabled(self.dressed is not None)
        self.again.setVisible(bool(plan.job.dress.art or plan.job.dress.fonts))
        self.landing.setText(describe_landing(plan, self._face))
        self._draw_face()
        self._draw_folded()
        self.flat.set_display(make_landing_scene(plan, self._face, self._picked))

    def _show_faces(self) -> None:
        assert self.plan is not None
        entries = []
        for spot in self.plan.dress.spots:
            count = sum(item.face == spot.id for item in self.plan.job.dress.items)
            entries.append((f"{spot.title} ({count})" if count else spot.title, spot.id))
        if [(self.faces.itemText(row), self.faces.itemData(row)) for row in range(self.faces.count())] != entries:
            self.faces.clear()
            for words, id in entries:
                self.faces.addItem(words, id)
        self.faces.setCurrentIndex(self.faces.findData(self._face))

    def _draw_face(self) -> None:
        if self.plan is not None and self._face:
            scene = make_face_scene(self.plan, self._face, self._picked, self._lit, self.face.viewport_now.scale or 3.0)
            self.face.set_display(scene)

    def _draw_folded(self) -> None:
        if self.plan is None:
            return
        closed = self.slider.value() / SLIDER_STEPS if fold_steps(self.plan.construct.tree) else 0.0
        self.slider.setEnabled(bool(self.plan.construct.tree.hinges))
        scene = make_folded_scene(self.plan, closed)
        plain = tuple(item for item in scene.items if not getattr(item, "figure", ""))
        self.folded.set_display(structs.replace(scene, items=plain, room_px=(10.0, 10.0, 10.0, 10.0)))

    # --- picking ---------------------------------------------------------------------------------------------

    def show_face(self, face: str) -> None:
        """Turn to a face."""
        self._face = face
        self.refresh()

    def pick(self, item: str) -> None:
        """Choose an item; its face comes in front."""
        found = self.plan.dress.item(item) if self.plan is not None else None
        if found is None or (item == self._picked and found.item.face == self._face):
            return
        self._picked = item
        self._face = found.item.face if found.spot is not None else self._face
        self.refresh()
        self.figure_picked.emit(found.width.key)

    def point_at(self, element: str) -> None:
        if self.plan is None:
            return
        if self.plan.dress.item(element) is not None:
            self.pick(element)
            return
        using = next(
            (
                item.id
                for item in self.plan.job.dress.items
                if element in (item.art, item.words.face if item.words else None)
            ),
            "",
        )
        if using:
            self.pick(using)

    def _pick_element(self, element: str) -> None:
        if element.startswith("item:"):
            self.pick(element.removeprefix("item:"))

    def _light(self, element: str) -> None:
        lit = element.removeprefix("item:") if element.startswith("item:") else ""
        if lit != self._lit:
            self._lit = lit
            self._draw_face()

    def _pick_panel(self, element: str) -> None:
        """A panel clicked on the folded card: the side of it that is seen comes in front."""
        if self.plan is None or "/" not in element:
            return
        piece, panel = element.split("/", 1)
        spots = [spot for spot in self.plan.dress.spots if (spot.piece, spot.panel) == (piece, panel)]
        if spots:
            here = [spot.id for spot in spots]
            # Clicking the same panel again turns it over.
            following = here[(here.index(self._face) + 1) % len(here)] if self._face in here else here[0]
            self.show_face(following)

    # --- moving on the face ----------------------------------------------------------------------------------

    def _begin_drag(self, element: str) -> None:
        self._pick_element(element)
        dressed = self.dressed
        self._dragged = dressed.placed.source if dressed is not None and self._may_move() else None
        if not element.startswith("item:"):
            self._dragged = None

    def _may_move(self) -> bool:
        item = self.dressed.item if self.dressed is not None else None
        return (
            item is not None
            and item.of is None
            and item.fit_in is None
            and not (item.words is not None and item.words.fit == "shape")
        )

    def _drag(self, dx: float, dy: float) -> None:
        """Move with the pointer; within a millimetre of the middle it is kept there."""
        dressed = self.dressed
        if self._dragged is None or dressed is None:
            return
        self.face.setCursor(Qt.CursorShape.ClosedHandCursor)
        left, top, right, bottom = self._dragged
        region = dressed.placed.region
        changes = place_at(dressed.item, left + dx, top + dy, (region[0], region[1]), self.document.job.units)
        off_x = (left + right) / 2 + dx - (region[0] + region[2]) / 2
        off_y = (top + bottom) / 2 + dy - (region[1] + region[3]) / 2
        if abs(off_x) < 1.0 and abs(off_y) < 1.0:
            changes = place_in_middle(dressed.item)
        self.document.edit(f"{dressed.item.name} moved", changes, merge_key=f"move-{dressed.item.id}", coarse=True)

    def _drop_item(self) -> None:
        if self._dragged is not None:
            self._dragged = None
            self.document.refine()

    # --- measures dragged ------------------------------------------------------------------------------------

    def _drag_measure(self, item: str, step: str, mm: float) -> None:
        """Each value of a drag is one undoable step with the last; its plan supersedes the others."""
        path = f"dress.items.{item}.steps.{step}.by"
        length = parse_length(f"{mm:g} mm")
        self.document.edit("Measure dragged", [Change(path, length)], merge_key=f"drag-{path}", coarse=True)

    def _end_measure(self) -> None:
        self.document.refine()

    # --- bringing in -----------------------------------------------------------------------------------------

    def ask_art(self) -> None:
        """Ask for a file and bring it in."""
        from dechirer.formats.art.read import ART_FILTER

        name, _ = QFileDialog.getOpenFileName(self, "Bring in art", "", ART_FILTER)
        if name:
            self.bring_in(Path(name))

    def bring_in(self, path: Path) -> None:
        """Read a file of art or a typeface and put it on the face."""
        dress = self.document.job.dress
        self.importer.read_file(path, {art.id for art in dress.art}, {font.id for font in dress.fonts})

    def paste(self) -> None:
        """Bring in what is on the clipboard: SVG, a picture, or files."""
        clipboard = QGuiApplication.clipboard()
        mime = clipboard.mimeData() if clipboard is not None else None
        if mime is None or not takes(mime):
            self.refused.emit("There is no SVG, picture or file on the clipboard.")
            return
        self._bring(mime)

    def _bring(self, mime: QMimeData) -> None:
        files, data, name = contents(mime)
        dress = self.document.job.dress
        taken, fonts = {art.id for art in dress.art}, {font.id for font in dress.fonts}
        if files:
            self.importer.read_file(files[0], taken, fonts)
            if len(files) > 1:
                self.refused.emit(f"One file at a time: {files[0].name} is read, {len(files) - 1} more are not.")
        else:
            self.importer.read_data(data, name, taken, fonts)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and takes(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        mime = event.mimeData() if event is not None else None
        if event is not None and mime is not None:
            event.acceptProposedAction()
            self._bring(mime)

    def _take_art(self, art: Art) -> None:
        spot = self.spot
        if spot is None:
            return
        changes = place_art(self.document.job, art, spot)
        self._add(f"{art.name} brought in", changes)

    def _take_font(self, font: FontFile) -> None:
        job = self.document.job
        changes = [Change("dress.fonts", (*job.dress.fonts, font))]
        dressed = self.dressed
        if dressed is not None and dressed.item.words is not None:
            changes.append(Change(f"dress.items.{dressed.item.id}.words.face", font.id))
        why = self.document.edit(f"Typeface {font.name}", changes)
        if why:
            self.refused.emit(why)

    def _add(self, label: str, changes: tuple[Change, ...]) -> None:
        """Make an edit that adds an item, and pick it."""
        before = {item.id for item in self.document.job.dress.items}
        try:
            after = apply_changes(self.document.job, changes).dress.items
        except ValueError as error:
            self.refused.emit(str(error))
            return
        new = [item.id for item in after if item.id not in before]
        self._wanted_pick = new[-1] if new else ""
        self.document.edit(label, changes)

    def _fill_again(self) -> None:
        """What has been brought in before, and a way to drop what nothing uses."""
        job, menu = self.document.job, self.again_menu
        menu.clear()
        for art in job.dress.art:
            action = menu.addAction(art.name)
            if action is not None:
                action.triggered.connect(lambda _=False, art=art: self._place_again(art))
        menu.addSeparator()
        forget = menu.addAction("Drop what nothing uses")
        if forget is not None:
            forget.setEnabled(bool(forget_unused(job)))
            forget.triggered.connect(lambda: self.document.edit("Unused art dropped", forget_unused(self.document.job)))

    def _place_again(self, art: Art) -> None:
        if self.spot is not None:
            self._add(f"{art.name} again", place_again(self.document.job, art, self.spot))

    def _add_words(self) -> None:
        if self.spot is not None:
            self._add("Words", place_words(self.document.job, self.spot))

    def _add_made_of(self, words: str, kind: str) -> None:
        if self.dressed is not None:
            self._add(words, place_made_of(self.document.job, self.dressed.item, kind))

    def _delete(self) -> None:
        if self.dressed is not None:
            self.document.edit(f"{self.dressed.item.name} taken off", remove_item(self.document.job, self.dressed.item))

    # --- boxes -----------------------------------------------------------------------------------------------

    def open_box(self, what: str) -> QDialog | None:
        """Open the box for the picked item's `words` or `roles`, or take it `apart`; the box that was opened."""
        dressed = self.dressed
        if dressed is None:
            return None
        box: QDialog | None = None
        if what == "words" and dressed.item.words is not None:
            from dechirer.desk.words_box import WordsBox

            box = WordsBox(self.document, dressed.item.id, self.importer, self)
        elif what == "roles" and dressed.item.art is not None:
            from dechirer.desk.roles_box import RolesBox

            box = RolesBox(self.document, dressed.item.art, self)
        elif what == "apart":
            count = len(items_of(dressed.placed.start))
            if count < 2:
                self.refused.emit(f"{dressed.item.name} is one outline already.")
            else:
                changes = take_apart(self.document.job, dressed.item, count)
                self.document.edit(f"{dressed.item.name} taken apart", changes)
        if box is not None:
            box.show()
        return box

    def _open_wordings(self) -> None:
        from dechirer.desk.wordings_box import WordingsBox

        WordingsBox(self.document, self).show()
