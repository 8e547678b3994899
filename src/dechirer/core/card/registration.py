"""Registration marks: printed with a page, found by the machine before it cuts, so that it cuts where the ink lies."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.shape.affine import Point
from dechirer.core.shape.outline import Box


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

    def zones(self) -> tuple[Box, ...]:
        """The boxes that are kept free, one for each mark."""
        clear = self.clear
        return tuple(Box(x - clear, y - clear, x + clear, y + clear) for x, y in self.places)


def stand_round(room: Box, apart: float, outer: float, inner: float, clear: float, dot: float) -> Registration:
    """Marks round a room: one at each corner, and one in the middle of each long side, `apart` mm outside it."""
    left, top, right, bottom = room.left - apart, room.top - apart, room.right + apart, room.bottom + apart
    across, down = (left + right) / 2, (top + bottom) / 2
    corners = ((left, top), (right, top), (right, bottom), (left, bottom))
    between = ((left, down), (right, down)) if room.height >= room.width else ((across, top), (across, bottom))
    return Registration((*corners, *between), outer, inner, clear, dot)
