"""Moving pieces from mat to mat and exchanging them by hand, and keeping a mat as it is."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.card.placed import Placement, make_placement
from dechirer.core.decide.change import Change
from dechirer.core.lay.decisions import Lay, Locked
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.packing import Demand, fill_sheet
from dechirer.core.lay.pinning import explain_obstacle, other_pins, pins_of
from dechirer.core.shape.outline import Box

Moved = tuple[Change, ...] | str
"""The changes, or why it cannot be, in words."""


def is_locked(lay: Lay, layout: MatLayout) -> bool:
    """Whether just what lies on a mat stays on it."""
    return Locked(layout.paper, layout.index) in lay.locked


def lock(lay: Lay, layout: MatLayout) -> tuple[Change, ...]:
    """The changes that keep a mat as it is: its pieces stay, and nothing joins them."""
    return _keep(lay, (layout, layout.placements))


def unlock(lay: Lay, layout: MatLayout) -> tuple[Change, ...]:
    """The changes that let a mat be laid again."""
    locked = tuple(each for each in lay.locked if each != Locked(layout.paper, layout.index))
    return Change("lay.pins", other_pins(lay, layout)), Change("lay.locked", locked)


def move_across(lay: Lay, source: MatLayout, target: MatLayout, placed: Placement, *, may_turn: bool = True) -> Moved:
    """The changes that put a piece on another mat of its paper, where there is room for it; both mats are kept then.

    Args:
        may_turn: whether it may be turned by a quarter where there is no room for it as it lies.
    """
    if target.paper != source.paper or target.face != source.face or target.is_blank or source.is_blank:
        return f"Mat {target.number} is loaded with another paper, or with its other side up."
    gap, room = lay.spacing.mm, target.sheet.room
    taken = [each.box.grown(gap) for each in target.placements]
    box = placed.box
    demand = Demand(placed.piece.id, box.width + gap, box.height + gap, 1)
    grown = Box(room.left, room.top, room.right + gap, room.bottom + gap)
    spots = fill_sheet((demand,), grown, taken, may_turn=False)
    if not spots and lay.may_turn and may_turn and not placed.angle:
        spots = fill_sheet((demand,), grown, taken, may_turn=True)
    if not spots:
        return f"Mat {target.number} has no room for the {placed.piece.name}."
    spot = spots[0]
    id = f"{placed.piece.id}-{1 + max((_number(each, placed) for each in target.placements), default=0)}"
    turned, ways = placed.turned != spot.turned, {"half": placed.half, "angle": placed.angle}
    put = make_placement(id, placed.piece, spot.box.left, spot.box.top, turned=turned, pinned=True, **ways)  # type: ignore[arg-type]
    left = tuple(each for each in source.placements if each.id != placed.id)
    return _keep(lay, (source, left), (target, (*target.placements, put)))


def _number(each: Placement, placed: Placement) -> int:
    own = each.id.removeprefix(f"{placed.piece.id}-")
    return int(own) if each.piece.id == placed.piece.id and own.isdecimal() else 0


def swap(lay: Lay, layout: MatLayout, one: Placement, other: Placement, units: str) -> Moved:
    """The changes that exchange two pieces of a mat, each with its corner where the other's was."""

    def put(piece: Placement, box: Box) -> Placement:
        ways = {"turned": piece.turned, "half": piece.half, "angle": piece.angle}
        return make_placement(piece.id, piece.piece, box.left, box.top, pinned=True, **ways)  # type: ignore[arg-type]

    moved = {one.id: put(one, other.box), other.id: put(other, one.box)}
    placements = tuple(moved.get(each.id, each) for each in layout.placements)
    after = structs.replace(layout, placements=placements)
    for each in moved.values():
        why = explain_obstacle(after, each, lay.spacing.mm, units)
        if why:
            return why
    return (Change("lay.pins", (*other_pins(lay, layout), *pins_of(after))),)


def _keep(lay: Lay, *kept: tuple[MatLayout, tuple[Placement, ...]]) -> tuple[Change, ...]:
    """Changes that pin what lies on some mats, and let nothing join it."""
    pins, locked = lay.pins, lay.locked
    for layout, placements in kept:
        rest = other_pins(structs.replace(lay, pins=pins), layout)
        pins = (*rest, *pins_of(structs.replace(layout, placements=placements)))
        own = Locked(layout.paper, layout.index)
        locked = (*(each for each in locked if each != own), own)
    return Change("lay.pins", pins), Change("lay.locked", locked)
