"""The geometry of a dimension line on the screen: extension lines, slashes, and where its number stands.

The number stands in a gap of the line; where the line is too short for it, it stands beyond its end.
"""

from __future__ import annotations

import math

from msgspec import Struct, structs

from dechirer.core.shape.affine import Point
from dechirer.drawing.display import Dimension
from dechirer.drawing.viewport import Viewport

TEXT_HEIGHT_PX = 18.0
PADDING_PX = 7.0
SLASH_PX = 5.0


class DimensionShape(Struct, frozen=True):
    """What to stroke (pairs of points in px), the thin line that leads to a number that stands apart, and where the
    number goes.

    The number's box is centred at `centre`, `width` by `height` px, turned by `turn_deg` (0 or -90).
    """

    strokes: tuple[tuple[Point, Point], ...]
    slashes: tuple[tuple[Point, Point], ...]
    centre: Point
    width: float
    height: float
    turn_deg: float
    lead: tuple[Point, Point] | None = None

    def holds(self, px: Point) -> bool:
        """Whether a place on the screen is on the number."""
        along, across = (self.width, self.height) if self.turn_deg == 0 else (self.height, self.width)
        return abs(px[0] - self.centre[0]) <= along / 2 and abs(px[1] - self.centre[1]) <= across / 2


def shape_dimension(dimension: Dimension, viewport: Viewport, text_width: float) -> DimensionShape:
    """Lay out a dimension whose number is `text_width` px wide."""
    a, b = viewport.to_px(dimension.start), viewport.to_px(dimension.end)
    length = math.dist(a, b)
    ux, uy = ((b[0] - a[0]) / length, (b[1] - a[1]) / length) if length > 0 else (1.0, 0.0)
    nx, ny = -uy, ux
    shift = dimension.shift_px
    a2 = (a[0] + nx * shift, a[1] + ny * shift)
    b2 = (b[0] + nx * shift, b[1] + ny * shift)
    upright = abs(uy) > abs(ux)
    wide = text_width + 2 * PADDING_PX
    middle = ((a2[0] + b2[0]) / 2, (a2[1] + b2[1]) / 2)
    strokes: list[tuple[Point, Point]] = []
    sign = 1.0 if shift >= 0 else -1.0
    for foot, head in ((a, a2), (b, b2)):
        # A small gap at the piece, a small overshoot past the line.
        strokes.append((_move(foot, nx, ny, 4 * sign), _move(head, nx, ny, 5 * sign)))
    if dimension.led_px is not None:
        strokes.append((a2, b2))
        centre = (middle[0] + dimension.led_px[0], middle[1] + dimension.led_px[1])
        return _led(_shape(strokes, a2, b2, centre, wide, 0.0), middle)
    slide = max(-(length - wide) / 2 + 7, min((length - wide) / 2 - 7, dimension.slide_px))
    if length >= wide + 14:
        centre = _move(middle, ux, uy, slide)
        strokes.append((a2, _move(centre, ux, uy, -wide / 2)))
        strokes.append((_move(centre, ux, uy, wide / 2), b2))
    else:
        strokes.append((a2, b2))
        if upright:
            # Beside the line, upright text: it would be wider than the line is long.
            centre = (middle[0] + nx * sign * (wide / 2 + 4), middle[1])
            return _shape(strokes, a2, b2, centre, wide, 0.0)
        centre = _move(b2, ux, uy, wide / 2 + 6)
    return _shape(strokes, a2, b2, centre, wide, -90.0 if upright else 0.0)


def _shape(
    strokes: list[tuple[Point, Point]], a: Point, b: Point, centre: Point, wide: float, turn: float
) -> DimensionShape:
    slashes = tuple(((x - SLASH_PX, y + SLASH_PX), (x + SLASH_PX, y - SLASH_PX)) for x, y in (a, b))
    return DimensionShape(tuple(strokes), slashes, centre, wide, TEXT_HEIGHT_PX + 4, turn)


def _led(shaped: DimensionShape, middle: Point) -> DimensionShape:
    """With the line that leads to its number: from the line's middle to the near edge of the number's box."""
    (x, y), (mx, my) = shaped.centre, middle
    half_wide, half_high = shaped.width / 2, shaped.height / 2
    share = min(half_wide / max(abs(mx - x), 1e-9), half_high / max(abs(my - y), 1e-9), 1.0)
    foot = (x + (mx - x) * share, y + (my - y) * share)
    return structs.replace(shaped, lead=(middle, foot))


def _move(point: Point, dx: float, dy: float, by: float) -> Point:
    return point[0] + dx * by, point[1] + dy * by
