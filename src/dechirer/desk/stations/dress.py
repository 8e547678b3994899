"""Dress: a face in front of you as it is seen, what is on it, and where it lands on the flat piece."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QMimeData, Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from dechirer.core.dress.decisions import Item
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import place_at, place_in_middle
from dechirer.core.dress.landing import MOST_SHOWN
from dechirer.core.dress.seen import remove_item
from dechirer.core.dress.spots import Spot
from dechirer.core.plan import Plan
from dechirer.desk.panels.dress_bar import DressBar
from dechirer.desk.panels.empty_face import FaceSide
from dechirer.desk.panels.item_panel import ItemPanel
from dechirer.desk.panels.on_the_card import OnTheCard
from dechirer.desk.panels.recipe_chain import RecipeChain
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.work.bringing import Bringing
from dechirer.desk.work.document import Document
from dechirer.drawing.scenes.face import make_face_scene

MIDDLE_MM = 1.0
"""What is dragged this near the middle is kept there."""


class DressStation(Station):
    """A face, its items, their recipes."""

    takes_drops = True

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._face = ""
        self._copy = 0
        self._shown: tuple[Plan, int, Plan] | None = None
        self._picked = ""
        self._lit = ""
        self._wanted_pick = ""
        self._dragged: Dressed | None = None
        self.bringing = Bringing(document, lambda: self.spot, lambda: self.item, self)
        self.bringing.added.connect(self._want_pick)
        self.bringing.refused.connect(self.refused.emit)
        self.face = self.take_view(DrawingView("dress-face"))
        self.face.draggable = True
        self.face.element_picked.connect(self._pick_element)
        self.face.element_hovered.connect(self._light)
        self.face.drag_began.connect(self._begin_drag)
        self.face.drag_moved.connect(self._drag)
        self.face.drag_ended.connect(self._end_drag)
        self.face.drag_aborted.connect(self._take_back)
        self.face.resized.connect(self._draw_face)
        self.bar = self._make_bar()
        self.on_card = OnTheCard(self.bar.copy)
        self.slider = self.on_card.slider
        self.on_card.folded.element_picked.connect(self._pick_panel)
        for view in (self.on_card.folded, self.on_card.flat):
            self.take_view(view)
        self.panel = ItemPanel(document)
        self.panel.picked.connect(self.pick)
        self.panel.wanted.connect(self.open_box)
        self.beside = FaceSide(self.panel, self.bar)
        self.chain = RecipeChain(document)
        self._arrange()
        for keys, run in (("Ctrl+V", self.bringing.paste), ("Delete", self._delete)):
            key = QShortcut(QKeySequence(keys), self)
            key.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            key.activated.connect(run)

    def _make_bar(self) -> DressBar:
        bar = DressBar(self.document, self.bringing.may_forget)
        bar.face_chosen.connect(self.show_face)
        bar.art_wanted.connect(self.bringing.ask_art)
        bar.words_wanted.connect(self.bringing.add_words)
        bar.shape_wanted.connect(self.bringing.add_shape)
        bar.thing_wanted.connect(self.bringing.add_thing)
        bar.copies_wanted.connect(lambda: self.open_box("copies"))
        bar.copy_chosen.connect(self.show_copy)
        bar.made_of_wanted.connect(self.bringing.add_made_of)
        bar.again_wanted.connect(self.bringing.add_again)
        bar.forget_wanted.connect(self.bringing.forget)
        return bar

    def _arrange(self) -> None:
        page = QVBoxLayout(self)
        page.setContentsMargins(14, 8, 14, 6)
        page.setSpacing(4)
        page.addWidget(self.bar)
        middle = QHBoxLayout()
        middle.setSpacing(8)
        middle.addWidget(self.on_card, 23)
        middle.addWidget(self.face, 52)
        middle.addWidget(self.beside, 25)
        page.addLayout(middle, 1)
        page.addWidget(self.chain)

    # --- showing ---------------------------------------------------------------------------------------------

    @property
    def dressed(self) -> Dressed | None:
        """The picked item as the plan has it, when it is on the face shown."""
        found = self._seen(self.plan).dress.item(self._picked) if self.plan is not None else None
        return found if found is not None and found.item.face == self._face else None

    def _seen(self, plan: Plan) -> Plan:
        """The plan with the kind of copies that is looked at in front."""
        if self._shown is None or self._shown[0] is not plan or self._shown[1] != self._copy:
            self._shown = (plan, self._copy, plan.as_copy(self._copy))
        return self._shown[2]

    @property
    def item(self) -> Item | None:
        """The picked item as the job has it now; None when nothing is picked or it is gone."""
        return self.document.job.dress.item(self._picked) if self.dressed is not None else None

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
        if self._copy not in {copy.number for copy in plan.dress.copies[:MOST_SHOWN]}:
            self._copy = 0
        ids = [spot.id for spot in plan.dress.spots]
        if self._face not in ids:
            busy = [item.face for item in plan.job.dress.items if item.face in ids]
            self._face = busy[0] if busy else ids[0]
        if self.dressed is None:
            mine = [item.id for item in plan.job.dress.items if item.face == self._face]
            self._picked = mine[-1] if mine else ""
        if not self.document.is_dragging:  # what is under the pointer must not be made anew
            self.bar.show_plan(plan, self._face, self.dressed is not None, self._copy)
            self.panel.show_item(plan, self._face, self.dressed)
            self.chain.show_item(plan, self.dressed)
        self.chain.setVisible(self.beside.show_face(plan, self._face))
        self._draw_face()
        self.on_card.show_face(self._seen(plan), self._face, self._picked)

    def _draw_face(self) -> None:
        if self.plan is not None and self._face:
            plan = self._seen(self.plan)
            scene = make_face_scene(plan, self._face, self._picked, self._lit, self.face.viewport_now.scale or 3.0)
            self.face.set_display(scene, self._face)

    def show_copy(self, number: int) -> None:
        """Look at another kind of copies."""
        self._copy = number
        self.refresh()

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

    def _want_pick(self, item: str) -> None:
        """Pick an item as soon as its plan is there."""
        self._wanted_pick = item

    def owns(self, element: str) -> bool:
        return bool(self._item_of(element))

    def _item_of(self, element: str) -> str:
        """The item that an element is, comes from, or is used by; empty for none."""
        plan = self.plan
        if plan is None:
            return ""
        ids = [item.id for item in plan.job.dress.items]
        if element in ids:
            return element
        if plan.dress.piece(element) is not None and plan.construct.piece(element) is None:
            return max((id for id in ids if element.startswith(f"{id}-")), key=len, default="")
        return next(
            (item.id for item in plan.job.dress.items if element in (item.art, item.words and item.words.face)), ""
        )

    def point_at(self, element: str) -> None:
        item = self._item_of(element)
        if item:
            self.pick(item)

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
        here = [spot.id for spot in self.plan.dress.spots if (spot.piece, spot.panel) == (piece, panel)]
        if here:
            # Clicking the same panel again turns it over.
            following = here[(here.index(self._face) + 1) % len(here)] if self._face in here else here[0]
            self.show_face(following)

    # --- moving on the face ----------------------------------------------------------------------------------

    def _begin_drag(self, element: str) -> None:
        self._pick_element(element)
        self._dragged = self.dressed if element.startswith("item:") and self._may_move() else None

    def _may_move(self) -> bool:
        item = self.item
        if item is None or item.of is not None or item.fit_in is not None:
            return False
        return item.words is None or item.words.fit != "shape"

    def _drag(self, dx: float, dy: float) -> None:
        """Move with the pointer; near the middle it is kept there."""
        start, item = self._dragged, self.item
        if start is None or item is None:
            return
        self.face.setCursor(Qt.CursorShape.ClosedHandCursor)
        left, top, right, bottom = start.placed.source
        region = start.placed.region
        changes = place_at(item, left + dx, top + dy, (region[0], region[1]), self.document.job.units)
        off_x = (left + right) / 2 + dx - (region[0] + region[2]) / 2
        off_y = (top + bottom) / 2 + dy - (region[1] + region[3]) / 2
        if abs(off_x) < MIDDLE_MM and abs(off_y) < MIDDLE_MM:
            changes = place_in_middle(item)
        self.document.preview(f"{item.name} moved", changes)

    def _end_drag(self) -> None:
        if self._dragged is not None:
            self._dragged = None
            self.document.commit()

    def _take_back(self) -> None:
        self._dragged = None
        self.document.abort()

    # --- bringing in -----------------------------------------------------------------------------------------

    def bring_in(self, path: Path) -> None:
        """Read a file of art or a typeface and put it on the face."""
        self.bringing.bring_in(path)

    def take_drop(self, mime: QMimeData | None) -> None:
        """Bring in what was dropped on the window."""
        if mime is not None:
            self.bringing.bring(mime)

    def _delete(self) -> None:
        item = self.item
        if item is not None:
            self.document.edit(f"{item.name} taken off", remove_item(self.document.job, item))

    # --- boxes -----------------------------------------------------------------------------------------------

    def open_box(self, what: str) -> QDialog | None:
        """Open the box for the item's `words` or `roles`, or `copies`; take it `apart`, or `gather` its file."""
        dressed, item = self.dressed, self.item
        box: QDialog | None = None
        if what == "copies":
            from dechirer.desk.boxes.copies_box import CopiesBox

            box = CopiesBox(self.document, self)
        elif dressed is None or item is None:
            return None
        elif what == "words" and item.words is not None:
            from dechirer.desk.boxes.words_box import WordsBox

            box = WordsBox(self.document, item.id, self.bringing.importer, self)
        elif what == "roles" and item.art is not None:
            from dechirer.desk.boxes.roles_box import RolesBox

            box = RolesBox(self.document, item.art, self)
        elif what == "apart":
            self.bringing.take_apart(dressed)
        elif what == "gather":
            self.bringing.gather(dressed)
        if box is not None:
            box.show()
        return box


VIEW = DressStation
