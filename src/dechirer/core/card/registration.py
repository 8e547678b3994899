"""Registration marks: printed with a page, found by the machine before it cuts, so that it cuts where the ink lies."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.shape.affine import Point
from dechirer.core.shape.outline import Box

SIGN_BITS, SIGN_START_MM, SIGN_STEP_MM = 8, 8.0, 2.0
BAR_WIDE_MM, BAR_HIGH_MM = 1.2, 3.0


def sign_of(number: int) -> tuple[int, ...]:
    """A page's number as it is told by bars: seven bits of it, the lowest first, and one that makes their sum even."""
    bits = [number >> place & 1 for place in range(SIGN_BITS - 1)]
    return (*bits, sum(bits) % 2)


class Registration(Struct, frozen=True):
    """Rings round what is printed: their centres on the sheet, in mm from its top left corner.

    Each is printed solid between the radii `inner` and `outer`; nothing else may lie within `clear` of its centre. The
    first has a dot of radius `dot` in its middle, so that a sheet that was turned is known. Six show what four hide:
    how far the paper's feed is from even.
    """

    places: tuple[Point, ...]
    outer: float
    inner: float
    clear: float
    dot: float

    def middle(self) -> Point:
        """The middle of all marks."""
        count = len(self.places)
        return sum(x for x, _ in self.places) / count, sum(y for _, y in self.places) / count

    def zones(self) -> tuple[Box, ...]:
        """The boxes that are kept free: one for each mark, and one for the bars that tell the page."""
        clear = self.clear
        x, y = self.places[0]
        bars = Box(x, y - BAR_HIGH_MM, x + SIGN_START_MM + SIGN_STEP_MM * (SIGN_BITS + 1), y + BAR_HIGH_MM)
        return (*(Box(x - clear, y - clear, x + clear, y + clear) for x, y in self.places), bars)

    def sign_bars(self, number: int) -> tuple[Box, ...]:
        """The bars right of the first mark that tell which page it is: one to begin with, then one for each 1."""
        x, y = self.places[0]
        shown = (1, *sign_of(number))
        starts = [x + SIGN_START_MM + SIGN_STEP_MM * place for place, bit in enumerate(shown) if bit]
        half = BAR_WIDE_MM / 2
        return tuple(Box(at - half, y - BAR_HIGH_MM / 2, at + half, y + BAR_HIGH_MM / 2) for at in starts)


def stand_round(room: Box, apart: float, outer: float, inner: float, clear: float, dot: float) -> Registration:
    """Marks round a room: one at each corner, and one in the middle of each long side, `apart` mm outside it."""
    left, top, right, bottom = room.left - apart, room.top - apart, room.right + apart, room.bottom + apart
    across, down = (left + right) / 2, (top + bottom) / 2
    corners = ((left, top), (right, top), (right, bottom), (left, bottom))
    between = ((left, down), (right, down)) if room.height >= room.width else ((across, top), (across, bottom))
    return Registration((*corners, *between), outer, inner, clear, dot)
