"""From pieces to mats: papers kept apart, equal mats counted instead of repeated, pins kept where they are."""

from __future__ import annotations

import itertools
import math
from collections import Counter
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from msgspec import Struct, structs

from dechirer.core.brief.decisions import Paper
from dechirer.core.brief.machine import Machine
from dechirer.core.card.piece import Piece, turn_over, turn_piece
from dechirer.core.card.placed import Placement, make_placement
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.decide.values import Size
from dechirer.core.figure import Figure
from dechirer.core.lay.blanks import Blank, blank_of, lay_blanks, share_of_blanks
from dechirer.core.lay.closer import Ask, Face, lay_closer, make_ask
from dechirer.core.lay.counting import area_of, count_all_sheets, count_mats, count_sheets, share_of, share_of_all
from dechirer.core.lay.decisions import Lay, Locked, Pin
from dechirer.core.lay.grain import is_across
from dechirer.core.lay.guests import Invited, invited
from dechirer.core.lay.holes import nested
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.packing import EPS, Demand, Spot, fill_sheet
from dechirer.core.lay.printed import MOST_ON_ONE, Loaded, Printing, load_printed
from dechirer.core.lay.sheet import loading_of, mat_of, sheet_set, sizes_of, ways_to_lie
from dechirer.core.lay.stock import Stock, offcuts_left, on_smaller, size_now
from dechirer.core.lay.wanted import wanted
from dechirer.core.memory import Memory
from dechirer.core.shape.affine import Affine, Points, rotate_quarter
from dechirer.core.shape.outline import Box, area, bounds
from dechirer.core.stations import Work
from dechirer.core.stopping import checkpoint

if TYPE_CHECKING:
    from dechirer.core.shape.turning import Turn


class LayPlan(Struct, frozen=True):
    """All mats of a job. `unplaced` names pieces that fit on no sheet, with how many; `turned` those that fit only
    when turned askew, with the angle in degrees; `guests` are other jobs laid with this one."""

    layouts: tuple[MatLayout, ...]
    unplaced: tuple[tuple[str, int], ...]
    mats: Figure
    sheets: tuple[Figure, ...]
    sheet_count: Figure
    share: Figure
    turned: tuple[tuple[str, float], ...] = ()
    guests: tuple[Invited, ...] = ()

    @property
    def guest_pieces(self) -> tuple[Piece, ...]:
        """The pieces of the jobs that are laid with this one."""
        return tuple(piece for each in self.guests for piece in each.pieces)

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the lay."""
        return (self.mats, self.sheet_count, self.share, *self.sheets, *(each.share for each in self.layouts))


def make_lay(
    pieces: tuple[Piece, ...],
    papers: tuple[Paper, ...],
    lay: Lay,
    machine: Machine,
    printing: Printing | None,
    work: Work,
) -> LayPlan:
    """Place every piece.

    Args:
        pieces: outside up; turned over here where their paper is loaded inside up.
        papers: the papers on hand.
        lay: margins, spacing, turns, loadings and pins.
        machine: its mat and cut area.
        printing: how pages are loaded; None where nothing is printed.
        work: asked between sheets whether to stop; then what is left counts as unplaced.
    """
    guests = invited(lay.guests, work.other)
    pieces = wanted((*pieces, *(piece for each in guests for piece in each.pieces)), lay)
    layouts: list[MatLayout] = []
    unplaced: list[tuple[str, int]] = []
    turned: list[tuple[str, float]] = []
    loose: list[Blank] = []
    for paper in papers:
        own = [piece for piece in pieces if piece.paper == paper.id]
        rules = structs.replace(lay, may_turn=False) if paper.stands_upright else lay
        face = loading_of(lay, paper.id).face
        offcuts = paper.offcuts
        first = 0
        for up in ("outside-up", "inside-up"):
            mine, inked, blanks = _on_side(own, up, face, printed=printing is not None)
            for some, load in ((mine, None), (inked, printing)):
                if not some:
                    continue
                ways = _ways(paper, some, up, lay, machine, load)
                stock = _stock_of(paper, some, offcuts, rules, machine) if load is None else None
                best = _lay_best(paper, some, ways, rules, layouts, work, first, stock)
                if stock is not None:
                    offcuts = offcuts_left(offcuts, best.layouts)
                layouts += best.layouts
                turned += best.turned
                unplaced += [(piece, count) for piece, count in best.left.items() if count]
                first = sum(1 for layout in layouts if layout.paper == paper.id)
            loose += [blank_of(piece, paper, up, printing and printing.printer) for piece in blanks]
            first = sum(1 for layout in layouts if layout.paper == paper.id)
    unplaced += lay_blanks(loose, lay, machine, layouts)
    sheets = count_sheets(layouts, papers)
    return LayPlan(
        tuple(layouts),
        tuple(unplaced),
        count_mats(layouts),
        sheets,
        count_all_sheets(sheets),
        share_of_all(layouts),
        tuple(turned),
        guests,
    )


def _stock_of(paper: Paper, some: dict[str, Piece], offcuts: tuple[Size, ...], rules: Lay, machine: Machine) -> Stock:
    """What there is of a paper for some pieces, with the offcuts that are left."""
    along = {id for id, piece in some.items() if piece.folds} if lay_along_grain(rules, paper) else frozenset()
    return Stock(offcuts, sizes_of(rules, paper), mat_of(rules, paper, machine), along)


def _ways(
    paper: Paper, some: dict[str, Piece], up: str, lay: Lay, machine: Machine, printing: Printing | None
) -> list[Loaded]:
    """The ways in which sheets of a paper may be loaded for some pieces."""
    if printing is not None:
        return [load_printed(paper, some, up, lay, machine, printing)]
    most = loading_of(lay, paper.id).most or MOST_ON_ONE
    numbers = range(len(sizes_of(lay, paper)))
    return [Loaded(sheet, up, most=most) for number in numbers for sheet in ways_to_lie(lay, paper, machine, number)]


def _on_side(
    own: list[Piece], up: str, face: str, *, printed: bool
) -> tuple[dict[str, Piece], dict[str, Piece], list[Piece]]:
    """The pieces of a paper that are loaded with one side up, as they lie: those that are cut, those that are printed
    first, and the blanks. What is drawn on different sides lies on different mats."""
    mine = {piece.id: piece for piece in own if up == (piece.wants_up if face == "as-drawn" else face)}
    if up == "inside-up":
        mirrored: dict[tuple[int, Affine], tuple[Points, ...]] = {}
        mine = {id: turn_over(piece, mirrored) for id, piece in mine.items()}
    blanks = [mine.pop(id) for id, piece in tuple(mine.items()) if piece.blank]
    inked = {id: mine.pop(id) for id, piece in tuple(mine.items()) if piece.prints and printed}
    return mine, inked, blanks


class _Laid(Struct, frozen=True):
    """The mats of one paper laid in one way, the pieces turned askew, how many of each are left over, and the area of
    its whole sheets, in mm2."""

    layouts: tuple[MatLayout, ...]
    turned: tuple[tuple[str, float], ...]
    left: Counter[str]
    area: float = 0.0

    @property
    def merit(self) -> tuple[int, int, int]:
        """The less the better: what is left over or, put down by hand, beside its sheet; then paper, then sheets."""
        mats = sum(layout.repeats for layout in self.layouts)
        return self.left.total() + sum(map(_beside, self.layouts)), round(self.area), mats


def _beside(layout: MatLayout) -> int:
    """How many pieces lie beside their sheet."""
    return sum(not layout.sheet.box.holds(placed.box, slack=EPS) for placed in layout.placements)


def _on_stock(laid: _Laid, stock: Stock | None, sizes: Sequence[Size], lay: Lay) -> _Laid:
    """The mats, the last ones on what is smaller where there is such, with the area of the whole sheets they take."""
    layouts = on_smaller(laid.layouts, stock, lay) if stock is not None else laid.layouts
    area = 0.0
    for number, size in enumerate(sizes):
        own = [each for each in layouts if each.sheet.size_number == number and not each.sheet.offcut]
        if own:
            area += -(-sum(each.repeats for each in own) // own[0].sheet.per_sheet) * size.area
    return structs.replace(laid, layouts=layouts, area=area)


def _lay_best(
    paper: Paper,
    some: dict[str, Piece],
    ways: list[Loaded],
    rules: Lay,
    layouts: list[MatLayout],
    work: Work,
    first: int,
    stock: Stock | None,
) -> _Laid:
    """One paper laid the way that takes least of it; of equal ones the first. What is printed has no `stock`."""
    best: _Laid | None = None
    sizes = stock.sizes if stock is not None else (sheet_set(rules, paper),)
    for loaded in ways:
        mine, spaced, own = dict(some), loaded.rules(rules), list(layouts)
        if lay_along_grain(rules, paper):
            loaded = structs.replace(loaded, held=_lie_along_grain(mine, loaded.sheet, paper.grain))
        turned = _turn_to_fit(mine, loaded.sheet) if spaced.may_turn else []
        left = _lay_paper(paper, mine, loaded, spaced, own, work, first)
        found = _on_stock(_Laid(tuple(own[len(layouts) :]), tuple(turned), left), stock, sizes, spaced)
        if best is None or found.merit < best.merit:
            best = found
        if len(sizes) == 1 and best.merit[0] == 0 and best.merit[2] <= 1:
            break
        closer = _lay_closer(paper, mine, loaded, spaced, len(layouts), first)
        if closer:
            closer = _on_stock(structs.replace(closer, turned=tuple(turned)), stock, sizes, spaced)
            best = min(best, closer, key=lambda each: each.merit)
    assert best is not None
    return best


def asks_for(
    pieces: tuple[Piece, ...],
    papers: tuple[Paper, ...],
    lay: Lay,
    machine: Machine,
    layouts: Sequence[MatLayout] = (),
) -> Iterator[Ask]:
    """What a closer layout can be looked for: each paper and side of which nothing is put down by hand and every piece
    goes into the room, that where its sheets lie best. What is printed is left out.

    Args:
        pieces: outside up, as `make_lay` takes them.
        layouts: those there are, whose sheet sizes are kept.
    """
    for paper in papers:
        if any(pin.paper == paper.id for pin in lay.pins) or loading_of(lay, paper.id).most is not None:
            continue
        own = [piece for piece in pieces if piece.paper == paper.id and not piece.blank and not piece.prints]
        rules = structs.replace(lay, may_turn=False) if paper.stands_upright else lay
        face = loading_of(lay, paper.id).face
        sides: tuple[Face, Face] = ("outside-up", "inside-up")
        for up in sides:
            mine = {piece.id: piece for piece in own if up == (piece.wants_up if face == "as-drawn" else face)}
            if up == "inside-up":
                mine = {id: turn_over(piece) for id, piece in mine.items()}
            sheet = ways_to_lie(lay, paper, machine, size_now(layouts, paper.id, up))[-1]
            held = _lie_along_grain(mine, sheet, paper.grain) if lay_along_grain(rules, paper) else frozenset()
            if rules.may_turn:
                _turn_to_fit(mine, sheet)
            room = Loaded(sheet, up).room
            goes = all(_goes(piece, room, may_turn=rules.may_turn) for piece in mine.values())
            if goes and sum(piece.count for piece in mine.values()) > 1:
                yield make_ask(paper.id, up, mine, room, rules, held)


def _goes(piece: Piece, room: Box, *, may_turn: bool) -> bool:
    """Whether a piece goes into a room upright, or by a quarter turn, in the whole millimetres of the search."""
    box = bounds(piece.outline)
    ways = [(box.width, box.height), *([(box.height, box.width)] if may_turn else [])]
    whole = [(math.ceil(wide - EPS), math.ceil(high - EPS)) for wide, high in ways]
    return any(wide <= room.width + EPS and high <= room.height + EPS for wide, high in whole)


def _lay_closer(
    paper: Paper, mine: dict[str, Piece], loaded: Loaded, lay: Lay, before: int, first: int
) -> _Laid | None:
    """A closer layout that was found for just this; None where there is none. What is put down by hand goes before."""
    if not lay.closer or any(pin.paper == paper.id for pin in lay.pins) or loaded.most != MOST_ON_ONE:
        return None
    face: Face = "outside-up" if loaded.face == "outside-up" else "inside-up"
    seal = make_ask(paper.id, face, mine, loaded.room, lay, loaded.held).seal
    closer = next((each for each in lay.closer if each.seal == seal), None)
    found = lay_closer(closer, mine, loaded.room, lay.spacing.mm) if closer is not None else []
    if not found:
        return None
    layouts = []
    for index, (placements, repeats) in enumerate(found):
        number = before + index + 1
        share = share_of(f"mat-{number}.share", f"paper used on mat {number}", area_of(placements), loaded.sheet)
        one = (f"mat-{number}", number, paper.id, first + index, loaded.sheet, loaded.face, repeats, placements, share)
        layouts.append(MatLayout(*one))
    return _Laid(tuple(layouts), (), Counter())


def numbered(layouts: Sequence[MatLayout]) -> list[MatLayout]:
    """Mats numbered in the order they come in."""
    found = []
    for number, layout in enumerate(layouts, start=1):
        if layout.number != number:
            key, name = f"mat-{number}.share", f"paper used on mat {number}"
            share = (
                share_of_blanks(number, layout.placements)
                if layout.is_blank
                else share_of(key, name, layout.share.inputs[0].value, layout.sheet)
            )
            layout = structs.replace(layout, id=f"mat-{number}", number=number, share=share)
        found.append(layout)
    return found


def in_order(plan: LayPlan, layouts: Sequence[MatLayout]) -> LayPlan:
    """The plan with its mats in another order, numbered by it; the plan itself where that is its own."""
    own = list(layouts)
    if len(own) == len(plan.layouts) and all(one is other for one, other in zip(own, plan.layouts, strict=True)):
        return plan
    return structs.replace(plan, layouts=tuple(own), mats=count_mats(own), share=share_of_all(own))


def lay_along_grain(lay: Lay, paper: Paper) -> bool:
    """Whether folds of a paper are laid along its grain."""
    return lay.along_grain and paper.grain != "unknown"


def _lie_along_grain(mine: dict[str, Piece], sheet: LoadedSheet, grain: str) -> frozenset[str]:
    """Turn what would be folded across the grain by a quarter; which pieces are not to be turned further. A piece that
    folds both ways lies as most of its folds want."""
    held = set()
    for id, piece in mine.items():
        if not piece.folds:
            continue
        across = sum(is_across(mark, sheet, grain) for mark in piece.folds)
        if 2 * across > len(piece.folds):
            mine[id] = turn_piece(piece, rotate_quarter(bounds(piece.outline).height))
        held.add(id)
    return frozenset(held)


def _turn_to_fit(mine: dict[str, Piece], sheet: LoadedSheet) -> list[tuple[str, float]]:
    """Turn what fits only askew; which pieces were, and by how many degrees."""
    turned = []
    for id, piece in mine.items():
        turn = find_needed_turn(piece, sheet)
        if turn is not None:
            mine[id] = turn_piece(piece, turn.affine)
            turned.append((id, turn.angle_deg))
    return turned


def _areas_of(pieces: dict[str, Piece]) -> dict[str, float]:
    """The area of each piece, mm2; copies that share an outline share its area."""
    known: dict[int, float] = {}
    for piece in pieces.values():
        if id(piece.outline) not in known:
            known[id(piece.outline)] = piece.area
    return {name: known[id(piece.outline)] for name, piece in pieces.items()}


def _lay_paper(
    paper: Paper,
    mine: dict[str, Piece],
    loaded: Loaded,
    lay: Lay,
    layouts: list[MatLayout],
    work: Work,
    first: int = 0,
) -> Counter[str]:
    """Add the mats of one paper loaded in one way, from its `first` on; how many of each piece are left over."""
    sheet, face = loaded.sheet, loaded.face
    left = Counter({piece.id: piece.count for piece in mine.values()})
    shapes = _group_by_size(mine, loaded.held)
    areas = _areas_of(mine)
    index = first
    while left and left.total() and not work.cancelled():
        checkpoint(f"laying mat {len(layouts) + 1}", "")
        pins = [pin for pin in lay.pins if pin.paper == paper.id and pin.mat == index]
        is_locked = Locked(paper.id, index) in lay.locked
        placements = _fill(mine, left, loaded, lay, pins, shapes, work.memory, alone=is_locked)
        if not placements and is_locked:
            index += 1
            continue
        if not placements:
            break
        if pins:
            placements = nested(placements)
        used = Counter(placement.piece.id for placement in placements)
        repeats = min(left[piece] // number for piece, number in used.items())
        left -= Counter({piece: number * repeats for piece, number in used.items()})
        number = len(layouts) + 1
        area = sum(areas[each.piece.id] for each in placements)
        share = share_of(f"mat-{number}.share", f"paper used on mat {number}", area, sheet)
        layouts.append(MatLayout(f"mat-{number}", number, paper.id, index, sheet, face, repeats, placements, share))
        index += 1
    return left


def find_needed_turn(piece: Piece, sheet: LoadedSheet) -> Turn | None:
    """The turn by which a piece fits the sheet that fits it neither upright nor by a quarter turn; else None."""
    box, room = bounds(piece.outline), sheet.room
    if min(room.width, room.height) <= 0:
        return None
    if any(
        wide <= room.width + 1e-6 and high <= room.height + 1e-6
        for wide, high in ((box.width, box.height), (box.height, box.width))
    ):
        return None
    if area(piece.outline) > room.width * room.height:
        return None
    from dechirer.core.shape.turning import find_best_turn

    turn = find_best_turn(piece.outline, room.width, room.height)
    return turn if turn.width <= room.width + 1e-6 and turn.height <= room.height + 1e-6 else None


def _group_by_size(mine: dict[str, Piece], held: frozenset[str]) -> dict[tuple[float, float, bool], list[str]]:
    """The pieces of each size: copies that differ in what is drawn on them stand for each other on a sheet."""
    found: dict[tuple[float, float, bool], list[str]] = {}
    for piece in mine.values():
        box = bounds(piece.outline)
        found.setdefault((box.width, box.height, piece.id in held), []).append(piece.id)
    return found


def _fill(
    mine: dict[str, Piece],
    left: Counter[str],
    loaded: Loaded,
    lay: Lay,
    pins: list[Pin],
    shapes: dict[tuple[float, float, bool], list[str]],
    memory: Memory,
    *,
    alone: bool = False,
) -> tuple[Placement, ...]:
    """Pinned pieces first, then as much as fits round them.

    Args:
        shapes: the ids of the pieces by their size; those that are used up are dropped from it.
        alone: whether nothing joins the pinned pieces.
        memory: of sheets that were filled before, by what was there to fill them with.
    """
    remaining = Counter(left)
    numbers: Counter[str] = Counter()
    placements: list[Placement] = []

    def put(piece: str, x: float, y: float, turned: bool, pinned: bool, half: bool = False, angle: float = 0.0) -> None:
        numbers[piece] += 1
        remaining[piece] -= 1
        id = f"{piece}-{numbers[piece]}"
        placements.append(make_placement(id, mine[piece], x, y, turned=turned, pinned=pinned, half=half, angle=angle))

    for pin in pins:
        if remaining[pin.piece] > 0 and pin.piece in mine:
            put(pin.piece, pin.x, pin.y, pin.turned, True, pin.half, pin.angle)
    inner = loaded.room
    if inner.width <= 0 or inner.height <= 0 or alone:
        return tuple(placements)
    gap = lay.spacing.mm
    room = Box(inner.left, inner.top, inner.right + gap, inner.bottom + gap)
    taken = [Box(p.box.left - gap, p.box.top - gap, p.box.right + gap, p.box.bottom + gap) for p in placements]
    demands, ids = [], {}
    for (width, height, is_held), pieces in shapes.items():
        while pieces and not left[pieces[0]]:
            del pieces[0]
        if pieces:
            most = int(room.width * room.height / max((width + gap) * (height + gap), 1e-9)) + 1
            some = list(itertools.islice(_each(pieces, remaining), most))
            demands.append(Demand(pieces[0], width + gap, height + gap, len(some), not is_held))
            ids[pieces[0]] = iter(some)
    numbered = tuple(structs.replace(each, piece=str(place)) for place, each in enumerate(demands))
    spots: tuple[Spot, ...] = memory.recall(
        ("sheet", numbered, room, tuple(taken), lay.may_turn),
        lambda: fill_sheet(numbered, room, taken, may_turn=lay.may_turn),
    )
    for spot in spots[: loaded.most_now(len(placements))]:
        put(next(ids[demands[int(spot.piece)].piece]), spot.box.left, spot.box.top, spot.turned, False)
    return tuple(placements)


def _each(pieces: list[str], remaining: Counter[str]) -> Iterator[str]:
    """Each piece as often as it is wanted, one kind after the other."""
    for piece in pieces:
        yield from itertools.repeat(piece, remaining[piece])
