"""Closer layouts: what is asked of the search for one, and how one that was found is laid.

What was found is kept in the job with a seal of what it was found for. It is used while that is so: an edit that
changes a piece, a count, the sheet or the spacing makes the boxes of before the lay again, and it may be looked for
anew.
"""

from __future__ import annotations

import math
import zlib
from collections import Counter
from collections.abc import Iterable
from typing import Literal

from msgspec import Struct

from dechirer.core.brief.decisions import Paper
from dechirer.core.brief.machine import Machine
from dechirer.core.card.piece import Piece
from dechirer.core.card.placed import Placement, make_placement
from dechirer.core.lay.bound import least_by_scales
from dechirer.core.lay.decisions import Closer, Lain, Lay
from dechirer.core.lay.holes import nested, waste_of, with_holes
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.sheet import ways_to_lie
from dechirer.core.lay.stock import size_now
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import Box, area, bounds, is_rectangle

Face = Literal["outside-up", "inside-up"]
DECIMALS = 4
SLACK_MM = 0.01
EPS = 1e-9


class Ask(Struct, frozen=True):
    """What is to be nested: a paper with the side up, its room, the distinct outlines with the turns they may lie in,
    and for each the pieces that have it, each as often as it is wanted; the outlines that are `held` lie upright or
    turned by a half. `holes` are the windows of each outline that take other pieces, where any has one."""

    paper: str
    face: Face
    room: Box
    gap: float
    outlines: tuple[Points, ...]
    turns: tuple[int, ...]
    pieces: tuple[tuple[str, ...], ...]
    held: tuple[int, ...] = ()
    holes: tuple[tuple[Points, ...], ...] = ()

    @property
    def seal(self) -> str:
        """Tells whether something was found for this."""
        told = repr(self).replace(", held=()", "").replace(", holes=()", "")  # as before there were any
        return f"{zlib.crc32(told.encode()):08x}"

    @property
    def count(self) -> int:
        """How many pieces there are."""
        return sum(len(each) for each in self.pieces)


def least_sheets(ask: Ask) -> int:
    """How many sheets are needed at least for what is asked."""
    holes = ask.holes or ((),) * len(ask.outlines)
    taken = sum(
        len(own) * _takes(one, inner, ask.gap) for one, inner, own in zip(ask.outlines, holes, ask.pieces, strict=True)
    )
    counted = [(outline, len(own)) for outline, own in zip(ask.outlines, ask.pieces, strict=True)]
    by_scales = 1 if any(holes) else _by_scales(counted, ask.room, ask.gap, may_turn=len(ask.turns) > 1)
    return max(1, by_scales, math.ceil(_rooms(taken, ask.room, ask.gap) - EPS))


def _by_scales(counted: Iterable[tuple[Points, int]], room: Box, gap: float, *, may_turn: bool) -> int:
    """How many sheets outlines take at least by conservative scales; 1 where one of them is no rectangle."""
    kinds: Counter[tuple[float, float]] = Counter()
    for outline, count in counted:
        if not is_rectangle(outline):
            return 1
        box = bounds(outline)
        kinds[round(box.width + gap, 3), round(box.height + gap, 3)] += count
    sizes = [(wide, high, count) for (wide, high), count in kinds.items()]
    return least_by_scales(sizes, room.width + gap, room.height + gap, may_turn=may_turn)


def _takes(outline: Points, holes: tuple[Points, ...], gap: float) -> float:
    """What a piece takes of a room for itself, in mm2, its windows left out: half a gap all round it too (of an outline
    that is no rectangle, itself alone, so that what is told is a bound)."""
    open_to_others = sum(area(ring) for ring in holes)
    if not is_rectangle(outline):
        return area(outline) - open_to_others
    box = bounds(outline)
    return (box.width + gap) * (box.height + gap) - open_to_others


def _rooms(taken: float, room: Box, gap: float) -> float:
    """How many sheets what takes so much (mm2) is: none of it is shared, of rooms a gap larger."""
    whole = (room.width + gap) * (room.height + gap)
    return taken / whole if whole > 0 else 0.0


class Near(Struct, frozen=True):
    """How near a lay is to the least there can be, of one paper with one side up: by what its pieces take of a sheet's
    room (`taken`, in sheets), and by conservative scales (`scaled`)."""

    paper: str
    face: str
    sheets: int
    taken: float
    scaled: int

    @property
    def least(self) -> int:
        """How many sheets are needed at least."""
        return max(1, self.scaled, math.ceil(self.taken - EPS))

    @property
    def why(self) -> str:
        """Where that comes from, in few words."""
        if self.scaled > math.ceil(self.taken - EPS):
            return "by how few go beside each other"
        return f"the pieces take {self.taken:.1f}"

    @property
    def working(self) -> str:
        """Where that comes from, in words."""
        if self.scaled > math.ceil(self.taken - EPS):
            return (
                f"Of their area alone the pieces would take {self.taken:.2f} sheets. Rectangles that cannot lie beside "
                f"each other are counted as larger than they are (conservative scales), and take {self.scaled}."
            )
        return f"The pieces, each with half a gap round it, take the room of {self.taken:.2f} sheets."


def how_near(layouts: Iterable[MatLayout], papers: Iterable[Paper], lay: Lay, machine: Machine) -> list[Near]:
    """How near each paper's mats are, but for printed ones, blanks, and what is put down by hand.

    It asks nothing but what lies there, so that it may be shown with every plan.
    """
    by_hand = {pin.paper for pin in lay.pins}
    mats: dict[tuple[str, str], list[MatLayout]] = {}
    for layout in layouts:
        if layout.paper not in by_hand and layout.sheet.printable is None and not layout.is_blank:
            mats.setdefault((layout.paper, layout.face), []).append(layout)
    taken: dict[int, tuple[float, bool]] = {}
    found = []
    for paper in papers:
        for (of, face), own in mats.items():
            if of != paper.id:
                continue
            room = ways_to_lie(lay, paper, machine, size_now(own, of, face))[-1].room
            total, gap, open_to_others = 0.0, lay.spacing.mm, False
            counted: list[tuple[Points, int]] = []
            for layout in own:
                for placed in layout.placements:
                    key = id(placed.piece)
                    if key not in taken:
                        waste = waste_of(placed.piece)
                        taken[key] = _takes(placed.piece.outline, waste, gap), bool(waste)
                    total += layout.repeats * taken[key][0]
                    open_to_others = open_to_others or taken[key][1]
                    counted.append((placed.piece.outline, layout.repeats))
            scaled = 1 if open_to_others else _by_scales(counted, room, gap, may_turn=lay.may_turn)
            sheets = sum(layout.repeats for layout in own)
            found.append(Near(of, face, sheets, _rooms(total, room, gap), scaled))
    return found


def sheets_now(layouts: Iterable[MatLayout], ask: Ask) -> int:
    """How many sheets a lay has for what would be asked."""
    return sum(
        layout.repeats
        for layout in layouts
        if (layout.paper, layout.face) == (ask.paper, ask.face)
        and layout.sheet.printable is None
        and not layout.is_blank
    )


def make_ask(
    paper: str, face: Face, mine: dict[str, Piece], room: Box, lay: Lay, held: frozenset[str] = frozenset()
) -> Ask:
    """What would be asked for pieces of one paper."""
    kinds: dict[tuple[Points, bool, tuple[Points, ...]], list[str]] = {}
    for piece in mine.values():
        box = bounds(piece.outline)

        def from_corner(ring: Points, box: Box = box) -> Points:
            return tuple((round(x - box.left, DECIMALS), round(y - box.top, DECIMALS)) for x, y in ring)

        windows = tuple(from_corner(ring) for ring in waste_of(piece))
        kinds.setdefault((from_corner(piece.outline), piece.id in held, windows), []).extend([piece.id] * piece.count)
    turns = (0, 1, 2, 3) if lay.may_turn else (0,)
    outlines = tuple(outline for outline, _, _ in kinds)
    holes = tuple(own for _, _, own in kinds)
    fixed = tuple(number for number, (_, is_held, _) in enumerate(kinds) if is_held)
    pieces = tuple(tuple(each) for each in kinds.values())
    return Ask(paper, face, room, lay.spacing.mm, outlines, turns, pieces, fixed, holes if any(holes) else ())


def as_closer(ask: Ask, sheets: tuple[tuple[tuple[int, int, float, float], ...], ...]) -> Closer:
    """A layout that was found, as it is kept: for each sheet the kind, the turn and the corner in the room of each."""
    left = [list(pieces) for pieces in ask.pieces]
    found = []
    for sheet in sheets:
        lain = []
        for kind, turn, x, y in sheet:
            place = (round(ask.room.left + x, DECIMALS), round(ask.room.top + y, DECIMALS))
            lain.append(Lain(left[kind].pop(0), *place, turn))
        found.append(tuple(lain))
    return Closer(ask.paper, ask.face, ask.seal, tuple(found))


def keep_closer(lay: Lay, closer: Closer) -> tuple[Closer, ...]:
    """The closer layouts of a job with another one, in place of that of the same paper and side."""
    others = (each for each in lay.closer if (each.paper, each.face) != (closer.paper, closer.face))
    return (*others, closer)


def lay_closer(
    closer: Closer, mine: dict[str, Piece], room: Box, gap: float
) -> list[tuple[tuple[Placement, ...], int]]:
    """Its sheets as placements, equal ones once with how often; empty where it does not hold what there is, or where
    pieces lie too close or outside: a job may come from strangers.

    Args:
        gap: between pieces, mm.
    """
    wanted = Counter({piece.id: piece.count for piece in mine.values()})
    if Counter(lain.piece for sheet in closer.sheets for lain in sheet) != wanted:
        return []
    found: dict[object, list[object]] = {}
    for sheet in closer.sheets:
        key = tuple(sorted((each.piece, each.x, each.y, each.turn) for each in sheet))
        if key in found:
            found[key][1] += 1  # type: ignore[operator]
            continue
        numbers: Counter[str] = Counter()
        placements = []
        for each in sheet:
            numbers[each.piece] += 1
            id = f"{each.piece}-{numbers[each.piece]}"
            turned, half = each.turn % 2 == 1, each.turn >= 2
            placements.append(
                make_placement(id, mine[each.piece], each.x, each.y, turned=turned, half=half, pinned=False)
            )
        if not _holds(placements, room, gap):
            return []
        found[key] = [nested(placements), 1]
    return [(placements, repeats) for placements, repeats in found.values()]  # type: ignore[misc]


def _holds(placements: list[Placement], room: Box, gap: float) -> bool:
    """Whether pieces lie in their room, and as far apart as they should."""
    from dechirer.core.lay.nesting.apart import are_apart

    if not all(room.holds(placed.box, slack=SLACK_MM) for placed in placements):
        return False
    return are_apart([with_holes(placed) for placed in placements], gap, SLACK_MM)
