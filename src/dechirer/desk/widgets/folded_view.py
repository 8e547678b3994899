"""The folded card under the hand: turned by dragging, and looked at from the front, the back, inside or laid open."""

from __future__ import annotations

from msgspec import structs
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from dechirer.core.plan import Plan
from dechirer.core.shape.outline import Box
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.drawing.scenes.portrait import View
from dechirer.drawing.scenes.solid import draw_folded
from dechirer.drawing.solid.eye import BACK, FRONT, INSIDE, OPEN, Look
from dechirer.drawing.solid.model import Folded

DEG_PER_PX = 0.45
LOOKS: dict[str, tuple[str, Look, float | None]] = {
    "front": ("Front", FRONT, None),
    "back": ("Back", BACK, None),
    "inside": ("Inside", INSIDE, 0.42),
    "open": ("Open", OPEN, 0.0),
}
"""The views a key apart (their first letters): title, how it is looked at, and how far the card is closed for it."""


class FoldedView(DrawingView):
    """Shows a folded card.

    Signals:
        opening_wanted(share): a view was chosen that wants the card closed by a share from 0 to 1.
        look_changed(id): the view in use; empty when it was turned by hand.
    """

    opening_wanted = pyqtSignal(float)
    look_changed = pyqtSignal(str)

    def __init__(self, name: str, parent: QWidget | None = None, *, plain: bool = False) -> None:
        """`plain`: small, and without the measures."""
        super().__init__(name, parent, flat=False)
        self.turnable = True
        self._plain = plain
        self._folded: Folded | None = None
        self._lit = ""
        self._look = FRONT
        self._held: tuple[float, float] | None = None
        self.turned.connect(self._turn)
        self.key_pressed.connect(self._take_letter)

    def show_folded(self, plan: Plan, closed: float, lit: str = "", piece: str = "") -> None:
        """Show a plan's card closed by a share, with a panel lit."""
        now = self._folded
        if now is None or now.plan is not plan or now.closed != closed or now.piece != piece:
            self._folded = Folded(plan, closed, piece)
        self._lit = lit
        self._draw()

    def show_model(self, folded: Folded, lit: str = "", look: Look | None = None) -> None:
        """Show something folded that was made elsewhere, looked at so while it is not turned by hand."""
        self._folded, self._lit = folded, lit
        if look is not None and self._held is None:
            self._look = look
        self._draw()

    @property
    def turned_view(self) -> View | None:
        """How it was turned by hand; None while it is seen from one of the four sides."""
        if self._held is None or self._folded is None:
            return None
        return View("as turned", self._folded.closed, self._look)

    def look_from(self, id: str) -> None:
        """Look from one of the four sides."""
        _, self._look, closed = LOOKS[id]
        self._held = None
        self.look_changed.emit(id)
        if closed is not None:
            self.opening_wanted.emit(closed)
        elif self._folded is not None and self._folded.closed < 0.5 and self._folded.model.tree.hinges:
            self.opening_wanted.emit(0.71)
        self.motion.fit()
        self._draw()

    def _take_letter(self, letter: str) -> None:
        for id in LOOKS:
            if id.startswith(letter):
                self.look_from(id)

    def _turn(self, dx: float, dy: float) -> None:
        if self._held is None and self.display is not None:
            self._held = (self.display.box.width, self.display.box.height)
            self.look_changed.emit("")
        self._look = self._look.turned(-dx * DEG_PER_PX, dy * DEG_PER_PX)
        self._draw()

    def _draw(self) -> None:
        if self._folded is None:
            return
        display = draw_folded(self._folded, self._look, self._lit)
        if self._held is not None:  # nothing grows or shrinks while it is turned
            (x, y), (wide, high) = display.box.middle, self._held
            box = Box(x - wide / 2, y - high / 2, x + wide / 2, y + high / 2)
            display = structs.replace(display, box=box)
        if self._plain:
            items = tuple(item for item in display.items if not getattr(item, "figure", ""))
            display = structs.replace(display, items=items, room_px=(10.0, 10.0, 10.0, 10.0))
        self.set_display(display, self._folded.model.name)
