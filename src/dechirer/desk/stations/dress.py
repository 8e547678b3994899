"""Dress: a face in front of you as it is seen, what is on it, and where it lands on the flat piece."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QMimeData, Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from dechirer.core.dress.decisions import Item
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.landing import MOST_SHOWN
from dechirer.core.dress.several import group_of
from dechirer.core.dress.spots import Spot
from dechirer.core.plan import Plan
from dechirer.desk.panels.dress_bar import DressBar
from dechirer.desk.panels.dress_boxes import make_box
from dechirer.desk.panels.empty_face import FaceSide
from dechirer.desk.panels.face_drag import FaceDrag
from dechirer.desk.panels.face_words import FaceWords, words_at
from dechirer.desk.panels.item_panel import ItemPanel
from dechirer.desk.panels.on_the_card import OnTheCard
from dechirer.desk.panels.recipe_chain import RecipeChain
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.work.bringing import Bringing
from dechirer.desk.work.document import Document
from dechirer.drawing.scenes.face import make_face_scene


class DressStation(Station):
    """A face, its items, their recipes."""

    takes_drops = True

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._face = ""
        self._copy = 0
        self._shown: tuple[Plan, int, Plan] | None = None
        self._picked = ""
        self._chosen: list[str] = []
        self._lit = ""
        self._wanted_pick = ""
        self.bringing = Bringing(document, lambda: self.spot, lambda: self.item, self)
        self.bringing.added.connect(self._want_pick)
        self.bringing.refused.connect(self.refused.emit)
        self.bringing.card_file.taken.connect(lambda: self.element_wanted.emit("base"))
        self.face = self.take_view(DrawingView("dress-face"))
        self.face.draggable = True
        self.face.element_picked.connect(self._pick_element)
        self.face.element_hovered.connect(self._light)
        self.hand = FaceDrag(document, self.face, lambda: (self.dressed, self._all_dressed()))
        self.face.drag_began.connect(self._begin_drag)
        self.face.resized.connect(self._draw_face)
        self.face.take_double = self._double_click
        self.typing = FaceWords(document, self.face)
        self.typing.closed.connect(self.refresh)
        self.bar = self._make_bar()
        self.on_card = OnTheCard(self.bar.copy)
        self.slider = self.on_card.slider
        self.on_card.folded.element_picked.connect(self._pick_panel)
        for view in (self.on_card.folded, self.on_card.flat):
            self.take_view(view)
        self.panel = ItemPanel(document)
        self.panel.picked.connect(self.pick)
        self.panel.several_picked.connect(self._choose_several)
        self.panel.wanted.connect(self.open_box)
        self.beside = FaceSide(self.panel, self.bar)
        self.chain = RecipeChain(document)
        self._arrange()
        for keys, run in (("Ctrl+V", self.bringing.paste), ("Delete", self.panel.remove), ("F2", self.type_words)):
            key = QShortcut(QKeySequence(keys), self)
            key.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            key.activated.connect(run)

    def _make_bar(self) -> DressBar:
        bar = DressBar(self.document, self.bringing.may_forget)
        bar.face_chosen.connect(self.show_face)
        bar.art_wanted.connect(self.bringing.ask_art)
        bar.words_wanted.connect(lambda: self.bringing.add_words())
        bar.address_wanted.connect(self.bringing.add_address)
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
        new = ""
        if self._wanted_pick and plan.dress.item(self._wanted_pick) is not None:
            self._picked, new, self._wanted_pick = self._wanted_pick, self._wanted_pick, ""
            self._chosen = [self._picked]
        if self._copy not in {copy.number for copy in plan.dress.copies[:MOST_SHOWN]}:
            self._copy = 0
        ids = [spot.id for spot in plan.dress.spots]
        if self._face not in ids:
            busy = [item.face for item in plan.job.dress.items if item.face in ids]
            self._face = busy[0] if busy else ids[0]
        if self.dressed is None:
            mine = [item.id for item in plan.job.dress.items if item.face == self._face]
            self._picked = mine[-1] if mine else ""
        here = {item.id for item in plan.job.dress.items if item.face == self._face}
        self._chosen = [id for id in self._chosen if id in here]
        if self._picked not in self._chosen:
            self._chosen = self._group_of(self._picked)
        if not self.document.is_dragging:  # what is under the pointer must not be made anew
            self.bar.show_plan(plan, self._face, self.item, self._copy)
            self.panel.show_item(plan, self._face, self.dressed, self._chosen)
            self.chain.show_item(plan, self.dressed)
        self.chain.setVisible(self.beside.show_face(plan, self._face))
        self._draw_face()
        self.on_card.show_face(self._seen(plan), self._face, self._picked)
        self.typing.lie()
        item = self.document.job.dress.item(new) if new else None
        if item is not None and item.words is not None:
            self.typing.open(item, is_new=True)

    def _draw_face(self) -> None:
        if self.plan is not None and self._face:
            plan = self._seen(self.plan)
            scale, others = self.face.viewport_now.scale or 3.0, frozenset(self._chosen)
            scene = make_face_scene(plan, self._face, self._picked, self._lit, scale, others)
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
        self._chosen = self._group_of(item)
        self._face = found.item.face if found.spot is not None else self._face
        self.refresh()
        self.figure_picked.emit(found.width.key)

    def _group_of(self, item_id: str) -> list[str]:
        """An item and what is kept together with it."""
        item = self.document.job.dress.item(item_id)
        return list(group_of(self.document.job, item)) if item is not None else []

    def _choose_several(self) -> None:
        """What is picked in the list is picked on the face."""
        chosen = self.panel.list.chosen
        if chosen != self._chosen:
            self._chosen = chosen
            self._draw_face()

    def _all_dressed(self) -> list[Dressed]:
        """All that is picked, as the plan has it."""
        plan = self.plan
        return [each for each in plan.dress.items if each.item.id in self._chosen] if plan is not None else []

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
        if not element.startswith("item:"):
            return
        item = element.removeprefix("item:")
        if self.face.adds:
            group = self._group_of(item)
            kept = [id for id in self._chosen if id not in group]
            self._chosen = kept if item in self._chosen and kept else [*kept, *group]
            if item in self._chosen:
                self._picked = item
            elif self._picked not in self._chosen:
                self._picked = self._chosen[0]
            self.refresh()
        elif item in self._chosen and item != self._picked:
            self._picked = item  # one of several: all of them stay picked, to be dragged
            self.refresh()
        else:
            self.pick(item)

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
        if not self.face.adds:
            self._pick_element(element)
        self.hand.begin(element)

    # --- words where they stand ------------------------------------------------------------------------------

    def _double_click(self, element: str, at: tuple[float, float]) -> bool:
        """On words, or between their strokes: they are typed. On bare paper of the face: words begin there."""
        item = element.removeprefix("item:") if element.startswith("item:") else words_at(self.plan, self._face, at)
        if item:
            self.pick(item)
            return self.type_words()
        spot = self.spot
        if element or spot is None or not self.face.motion.zoom.is_fitted:
            return False
        if not (0 <= at[0] <= spot.width and 0 <= at[1] <= spot.height):
            return False
        self.bringing.add_words(at)
        return True

    def end_typing(self) -> None:
        """Keep the words that are being typed."""
        if self.typing.is_open:
            self.typing.keep()

    def type_words(self) -> bool:
        """Begin typing the picked words where they stand; whether words are picked."""
        item = self.item
        return item is not None and self.typing.open(item)

    # --- bringing in -----------------------------------------------------------------------------------------

    def bring_in(self, path: Path) -> None:
        """Read a file of art or a typeface and put it on the face."""
        self.bringing.bring_in(path)

    def take_drop(self, mime: QMimeData | None) -> None:
        """Bring in what was dropped on the window."""
        if mime is not None:
            self.bringing.bring(mime)

    # --- boxes -----------------------------------------------------------------------------------------------

    def open_box(self, what: str) -> QDialog | None:
        """Open the box for the item's `words` or `roles`, or `copies`; take it `apart`, or `gather` its file."""
        if what in ("apart", "gather"):
            if self.dressed is not None:
                {"apart": self.bringing.take_apart, "gather": self.bringing.gather}[what](self.dressed)
            return None
        box = make_box(what, self.document, self.item, self.bringing.importer, self)
        if box is not None:
            box.show()
        return box


VIEW = DressStation
