"""Putting a piece down by hand: whether it may lie there, and the pins that result."""

from __future__ import annotations

import math
from collections.abc import Sequence

from msgspec import structs

from dechirer.core.card.placed import Placement, make_placement
from dechirer.core.decide.change import Change
from dechirer.core.lay.decisions import Lay, Pin
from dechirer.core.lay.holes import are_too_close
from dechirer.core.lay.mat import MatLayout
from dechirer.core.length import format_length
from dechirer.core.shape.affine import Point


def explain_obstacle(layout: MatLayout, moved: Placement, spacing: float, units: str) -> str:
    """Why a piece may not lie where it was put, in words; empty when it may.

    It must stay in the room of the sheet and keep the spacing to every other piece.
    """
    room = layout.sheet.room
    if not room.holds(moved.box, slack=0.01):
        beyond = max(
            room.left - moved.box.left,
            moved.box.right - room.right,
            room.top - moved.box.top,
            moved.box.bottom - room.bottom,
        )
        return f"The {moved.piece.name} would lie {format_length(beyond, units)} outside what the machine reaches."
    for other in layout.placements:
        if other.id != moved.id and are_too_close(moved, other, max(0.0, spacing - 0.01)):
            if are_too_close(moved, other, 0.0):
                return f"The {moved.piece.name} would lie on {name_of(other)}."
            return f"The {moved.piece.name} would come closer than {format_length(spacing, units)} to {name_of(other)}."
    return ""


def name_of(placement: Placement) -> str:
    """A placed piece in words: `liner 2`."""
    return placement.id.replace("-", " ")


def move_placement(
    layout: MatLayout, placement_id: str, x: float, y: float, *, turned: bool | None = None, angle: float | None = None
) -> Placement:
    """The placement as it would lie with its box's corner at (x, y), turned by a quarter, or to an angle
    in degrees, where that is asked for.

    Raises:
        KeyError: no such placement on the layout.
    """
    for old in layout.placements:
        if old.id == placement_id:
            new = old.turned if turned is None else turned
            return make_placement(
                old.id,
                old.piece,
                x,
                y,
                turned=new,
                pinned=True,
                half=old.half,
                angle=old.angle if angle is None else angle,
            )
    raise KeyError(placement_id)


CLICKS_DEG, CLICK_SHARE = 15.0, 0.12
"""A turn clicks to every so many degrees, when it comes so near to them."""


def turn_towards(layout: MatLayout, start: Placement, handle: Point, by: Point) -> Placement:
    """The placement turned about its middle as its handle, held at a place, was moved by so much (mm)."""
    x, y = start.box.middle
    before = math.atan2(handle[1] - y, handle[0] - x)
    after = math.atan2(handle[1] + by[1] - y, handle[0] + by[0] - x)
    angle = (start.angle + math.degrees(after - before) + 180.0) % 360.0 - 180.0
    click = round(angle / CLICKS_DEG) * CLICKS_DEG
    if abs(angle - click) < CLICK_SHARE * CLICKS_DEG:
        angle = click
    turned = move_placement(layout, start.id, 0.0, 0.0, angle=angle)
    return move_placement(layout, start.id, x - turned.box.width / 2, y - turned.box.height / 2, angle=angle)


def snap_to(layout: MatLayout, moved: Placement, spacing: float, reach: float) -> tuple[float, float]:
    """Where the piece would go when it clicks to the room's edges, to its neighbours, and to the middle between two of
    them, within `reach` mm."""
    boxes = [each.box for each in layout.placements if each.id != moved.id]
    room, box = layout.sheet.room, moved.box
    lefts = [room.left, room.right - box.width]
    tops = [room.top, room.bottom - box.height]
    for other in boxes:
        lefts += [other.left, other.right + spacing, other.left - spacing - box.width]
        tops += [other.top, other.bottom + spacing, other.top - spacing - box.height]
    level = [other for other in boxes if other.top < box.bottom and other.bottom > box.top]
    lefts += _between([(each.left, each.right) for each in level], (box.left, box.right))
    above = [other for other in boxes if other.left < box.right and other.right > box.left]
    tops += _between([(each.top, each.bottom) for each in above], (box.top, box.bottom))
    x = min(lefts, key=lambda left: abs(left - box.left))
    y = min(tops, key=lambda top: abs(top - box.top))
    return x if abs(x - box.left) <= reach else box.left, y if abs(y - box.top) <= reach else box.top


def _between(others: Sequence[tuple[float, float]], own: tuple[float, float]) -> list[float]:
    """Where something begins that lies as far from what is before it as from what is behind it; nothing where it has
    no neighbour on one side, or no room between them."""
    middle, long = (own[0] + own[1]) / 2, own[1] - own[0]
    before = max((end for begin, end in others if (begin + end) / 2 < middle), default=None)
    behind = min((begin for begin, end in others if (begin + end) / 2 > middle), default=None)
    if before is None or behind is None or behind - before < long:
        return []
    return [(before + behind - long) / 2]


def pin_layout(lay: Lay, layout: MatLayout, moved: Placement) -> Change:
    """Pin every piece of a layout where it lies, with one of them moved, so that nothing else jumps."""
    placements = tuple(moved if old.id == moved.id else old for old in layout.placements)
    pins = pins_of(structs.replace(layout, placements=placements))
    return Change("lay.pins", (*other_pins(lay, layout), *pins))


def pins_of(layout: MatLayout) -> tuple[Pin, ...]:
    """Pins for all that lies on a layout, where it lies."""
    return tuple(
        Pin(
            layout.paper,
            layout.index,
            each.piece.id,
            round(each.box.left, 4),
            round(each.box.top, 4),
            each.turned,
            each.half,
            round(each.angle, 3),
        )
        for each in layout.placements
    )


def unpin_layout(lay: Lay, layout: MatLayout) -> Change:
    """Let the pieces of a layout be placed again."""
    return Change("lay.pins", other_pins(lay, layout))


def other_pins(lay: Lay, layout: MatLayout) -> tuple[Pin, ...]:
    """The pins of all other layouts."""
    return tuple(pin for pin in lay.pins if (pin.paper, pin.mat) != (layout.paper, layout.index))
