"""Keeping the numbers of a drawing clear of each other: dimensions that may move are shifted until they are.

Works on estimated widths of words, so that it needs no font; names yield to numbers.
"""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct, structs

from dechirer.core.shape.outline import Box
from dechirer.drawing.dimension import shape_dimension
from dechirer.drawing.display import Dimension, Item, Label
from dechirer.drawing.viewport import Viewport

LETTER_PX = {"strong": 7.4, "small": 6.3, "body": 6.9, "title": 9.0}
"""About how wide a letter is in each style; a little more than on average, to be safe."""
SHIFTS_PX = tuple(step * sign for step in range(0, 241, 10) for sign in ((1, -1) if step else (1,)))
SWAP_COST_PX = 12.0
OUTSIDE_COST = 4000.0


class _Try(Struct, frozen=True):
    """A way to draw a dimension, the box of its number, and what moving it there costs."""

    item: Dimension
    box: Box
    cost: float


def keep_clear(items: Sequence[Item], scale: float, area: Box) -> list[Item]:
    """The items with movable dimensions shifted clear of each other, and panel names under a number left out.

    Args:
        scale: px per mm.
        area: where numbers may stand, in px from the drawing's origin.
    """
    viewport = Viewport(scale, 0.0, 0.0)
    fixed = [box for item in items if (box := _fixed_box(item, viewport)) is not None]
    placed: dict[int, Dimension] = {}
    taken = list(fixed)
    for index, item in enumerate(items):
        if isinstance(item, Dimension) and item.may_move:
            best = min(_ways(item, viewport, area, taken), key=lambda way: way.cost)
            placed[index] = best.item
            taken.append(best.box)
    numbers = [_box_of(item, viewport) for item in placed.values()]
    numbers += [_box_of(item, viewport) for item in items if isinstance(item, Dimension) and not item.may_move]
    numbers += [_label_box(item, viewport) for item in items if isinstance(item, Label) and item.field]
    kept: list[Item] = []
    for index, item in enumerate(items):
        if isinstance(item, Label) and item.yields and any(_label_box(item, viewport).overlaps(box) for box in numbers):
            continue
        kept.append(placed.get(index, item))
    return kept


def _ways(item: Dimension, viewport: Viewport, area: Box, taken: list[Box]) -> list[_Try]:
    ways = []
    for swapped in (False, True):
        start, end, sign = (item.end, item.start, -1.0) if swapped else (item.start, item.end, 1.0)
        for shift in SHIFTS_PX:
            moved = structs.replace(item, start=start, end=end, shift_px=sign * (item.shift_px + shift))
            box = _box_of(moved, viewport)
            cost = abs(shift) + (SWAP_COST_PX if swapped else 0.0)
            cost += 50.0 * sum(_shared(box, other) for other in taken) + (0.0 if area.holds(box) else OUTSIDE_COST)
            ways.append(_Try(moved, box, cost))
            if cost <= abs(shift) + 1e-9 and not swapped:
                return ways  # nothing farther off can be better
    return ways


def _shared(one: Box, other: Box) -> float:
    """Area two boxes share, and a little for merely touching, so that a clear place wins."""
    wide = min(one.right, other.right) - max(one.left, other.left)
    high = min(one.bottom, other.bottom) - max(one.top, other.top)
    return wide * high + 1.0 if wide > 0 and high > 0 else 0.0


def _box_of(item: Dimension, viewport: Viewport) -> Box:
    shaped = shape_dimension(item, viewport, LETTER_PX["strong"] * len(item.text))
    wide, high = (shaped.width, shaped.height) if shaped.turn_deg == 0 else (shaped.height, shaped.width)
    x, y = shaped.centre
    return Box(x - wide / 2, y - high / 2, x + wide / 2, y + high / 2)


def _label_box(item: Label, viewport: Viewport) -> Box:
    x, y = viewport.to_px(item.at)
    x, y = x + item.shift_px[0], y + item.shift_px[1]
    wide = LETTER_PX.get(item.style, 7.0) * len(item.text)
    left = {"start": x, "middle": x - wide / 2, "end": x - wide}[item.anchor]
    return Box(left, y - 8.0, left + wide, y + 8.0)


def _fixed_box(item: Item, viewport: Viewport) -> Box | None:
    if isinstance(item, Dimension) and not item.may_move:
        return _box_of(item, viewport)
    if isinstance(item, Label) and not item.yields and item.turn_deg == 0:
        return _label_box(item, viewport)
    return None
