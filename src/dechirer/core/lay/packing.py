"""Placing rectangles on one sheet: several quick ways are tried and the fullest sheet wins.

Words: a *demand* is a rectangle and how many of it are wanted; a *free* rectangle is a largest empty place
(they overlap each other). Rectangles are grown by the spacing beforehand, so no spacing appears here.

Ways tried: for a single kind of rectangle, every split into a block of upright and a block of turned rows or
columns; for any mix, "maximal rectangles" (Jylänki, *A Thousand Ways to Pack the Bin*, 2010) with different
orders and two rules for choosing the place. Limits: quarter turns only, bounding rectangles only.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from msgspec import Struct

from dechirer.core.shape.outline import Box

EPS = 1e-6


class Demand(Struct, frozen=True):
    """A rectangle of a piece, in mm, how many of it are wanted, and whether it may be turned by a quarter."""

    piece: str
    width: float
    height: float
    count: int
    turns: bool = True


class Spot(Struct, frozen=True):
    """Where one rectangle was put: its box, and whether it was turned by 90 degrees."""

    piece: str
    box: Box
    turned: bool


def fill_sheet(demands: Sequence[Demand], room: Box, taken: Sequence[Box], *, may_turn: bool) -> tuple[Spot, ...]:
    """Put as much as fits into one room.

    Args:
        demands: what is wanted; counts are upper bounds.
        room: where rectangles may lie.
        taken: boxes inside the room that are already used.
        may_turn: whether quarter turns are allowed.

    Returns:
        The fullest arrangement found by area, then the one with the fewest turned pieces; empty when nothing fits.
    """
    wanted = [demand for demand in demands if demand.count > 0]
    may_turn = may_turn and any(demand.turns for demand in wanted)
    if not wanted:
        return ()
    found: list[tuple[Spot, ...]] = []
    if len(wanted) == 1 and not taken:
        found += _blocks(wanted[0], room, may_turn)
    orders: tuple[Callable[[Demand], float], ...] = (
        lambda demand: -demand.width * demand.height,
        lambda demand: -max(demand.width, demand.height),
        lambda demand: -min(demand.width, demand.height),
    )
    for order in orders:
        line = sorted(wanted, key=order)
        for rule in (_nearest_corner, _snuggest):
            for turns in ((False, True), (True, False)) if may_turn else ((False,),):
                found.append(_fill_greedily(line, room, taken, turns, rule))
        if len(wanted) == 1:
            break
    return max(found, key=_merit)


def _merit(spots: tuple[Spot, ...]) -> tuple[float, int]:
    covered = sum(spot.box.width * spot.box.height for spot in spots)
    return round(covered, 3), -sum(spot.turned for spot in spots)


def _blocks(demand: Demand, room: Box, may_turn: bool) -> list[tuple[Spot, ...]]:
    """Every split of the room into upright rows (or columns) first and turned ones after."""
    width, height = demand.width, demand.height
    rows = int((room.height + EPS) // height)
    columns = int((room.width + EPS) // width)
    found = []
    for upright in range(rows, -1, -1):
        first = Box(room.left, room.top, room.right, room.top + upright * height)
        rest = Box(room.left, first.bottom, room.right, room.bottom)
        found.append(_grid(demand, first, False) + (_grid(demand, rest, True) if may_turn else ()))
    for upright in range(columns, -1, -1) if may_turn else ():
        first = Box(room.left, room.top, room.left + upright * width, room.bottom)
        rest = Box(first.right, room.top, room.right, room.bottom)
        found.append(_grid(demand, first, False) + _grid(demand, rest, True))
    return [spots[: demand.count] for spots in found]


def _grid(demand: Demand, room: Box, turned: bool) -> tuple[Spot, ...]:
    width, height = (demand.height, demand.width) if turned else (demand.width, demand.height)
    columns, rows = int((room.width + EPS) // width), int((room.height + EPS) // height)
    return tuple(
        Spot(
            demand.piece,
            Box(
                room.left + column * width,
                room.top + row * height,
                room.left + (column + 1) * width,
                room.top + (row + 1) * height,
            ),
            turned,
        )
        for row in range(rows)
        for column in range(columns)
    )


Rule = Callable[[Box, float, float], tuple[float, float]]


def _nearest_corner(free: Box, width: float, height: float) -> tuple[float, float]:
    """Prefer the top, then the left."""
    return free.top + height, free.left


def _snuggest(free: Box, width: float, height: float) -> tuple[float, float]:
    """Prefer the place whose shorter leftover side is least."""
    spare = sorted((free.width - width, free.height - height))
    return spare[0], spare[1]


def _fill_greedily(
    line: Sequence[Demand], room: Box, taken: Sequence[Box], turns: tuple[bool, ...], rule: Rule
) -> tuple[Spot, ...]:
    frees = [room]
    for box in taken:
        frees = carve(frees, box)
    spots: list[Spot] = []
    for demand in line:
        for _ in range(demand.count):
            spot = _best_place(demand, frees, turns, rule)
            if spot is None:
                break
            spots.append(spot)
            frees = carve(frees, spot.box)
    return tuple(spots)


def _best_place(demand: Demand, frees: list[Box], turns: tuple[bool, ...], rule: Rule) -> Spot | None:
    best: tuple[tuple[float, float], Spot] | None = None
    for turned in turns if demand.turns else (False,):
        width, height = (demand.height, demand.width) if turned else (demand.width, demand.height)
        for free in frees:
            if width <= free.width + EPS and height <= free.height + EPS:
                merit = rule(free, width, height)
                if best is None or merit < best[0]:
                    box = Box(free.left, free.top, free.left + width, free.top + height)
                    best = merit, Spot(demand.piece, box, turned)
        if best is not None and rule is _nearest_corner:
            break  # the first turn that fits keeps the rows regular
    return best[1] if best else None


def carve(frees: list[Box], taken: Box) -> list[Box]:
    """The largest empty boxes that are left when a box is taken out of them."""
    whole = [free for free in frees if not free.overlaps(taken)]
    cut: list[Box] = []
    for free in frees:
        if not free.overlaps(taken):
            continue
        if taken.left > free.left + EPS:
            cut.append(Box(free.left, free.top, taken.left, free.bottom))
        if taken.right < free.right - EPS:
            cut.append(Box(taken.right, free.top, free.right, free.bottom))
        if taken.top > free.top + EPS:
            cut.append(Box(free.left, free.top, free.right, taken.top))
        if taken.bottom < free.bottom - EPS:
            cut.append(Box(free.left, taken.bottom, free.right, free.bottom))
    kept: list[Box] = []
    for index, box in enumerate(cut):  # those that stay whole lie in no other: they did not before
        inside = any(other.holds(box) for other in whole) or any(
            other.holds(box) and not (box.holds(other) and index < place)
            for place, other in enumerate(cut)
            if place != index
        )
        if not inside:
            kept.append(box)
    return whole + kept
