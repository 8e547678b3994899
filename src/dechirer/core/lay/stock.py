"""Offcuts that are at hand, and sheets of other sizes: what would begin another sheet is laid on the smallest of them
that holds it."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Literal

from msgspec import Struct, structs

from dechirer.core.brief.decisions import Paper
from dechirer.core.card.mat import Mat
from dechirer.core.card.placed import make_placement
from dechirer.core.decide.change import Change
from dechirer.core.decide.values import Size
from dechirer.core.lay.counting import area_of, share_of
from dechirer.core.lay.decisions import Lay
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.packing import Demand, fill_sheet
from dechirer.core.lay.sheet import load_sheet
from dechirer.core.shape.outline import Box, bounds

MOST_OFFCUTS = 24
MOST_SIZES = 8
SAME_MM = 0.01
StockKind = Literal["offcuts", "other_sheets"]


class Stock(Struct, frozen=True):
    """What there is of a paper: the offcuts and the sizes of its sheets, the mat they are loaded on, and which pieces
    of it, by their ids, lie along its grain."""

    offcuts: tuple[Size, ...]
    sizes: tuple[Size, ...]
    mat: Mat
    held: Collection[str] = ()


def on_smaller(layouts: tuple[MatLayout, ...], stock: Stock, lay: Lay) -> tuple[MatLayout, ...]:
    """The mats of one paper, the last ones on offcuts, or else on smaller sheets, where these hold all that is on them:
    of each the smallest.

    A mat that is cut several times, or was laid by hand, stays on its sheet, and so does one with pieces that follow
    the grain: which way that runs in an offcut is not known.
    """
    if not stock.offcuts and len(stock.sizes) < 2:
        return layouts
    found, offcuts = list(layouts), sorted(stock.offcuts, key=lambda size: size.area)
    whole = sorted(enumerate(stock.sizes), key=lambda each: each[1].area)
    for place in range(len(found) - 1, -1, -1):
        layout = found[place]
        if layout.repeats != 1 or layout.is_pinned:
            break
        if any(placed.piece.id in stock.held for placed in layout.placements):
            break
        other_sizes = whole if layout.sheet.per_sheet == 1 else []
        for number, size in [*((None, each) for each in offcuts), *other_sizes]:
            moved = _laid_on(layout, size, number, lay, stock.mat)
            if moved is None:
                continue
            found[place] = moved
            if number is None:
                offcuts.remove(size)
            break
        else:
            break
    return tuple(found)


def offcuts_left(offcuts: tuple[Size, ...], layouts: Sequence[MatLayout]) -> tuple[Size, ...]:
    """The offcuts without those that mats lie on."""
    left = list(offcuts)
    for sheet in (layout.sheet for layout in layouts if layout.sheet.offcut):
        for size in left:
            if size.is_like(sheet.width, sheet.height, within=SAME_MM):
                left.remove(size)
                break
    return tuple(left)


def is_at_hand(paper: Paper, size: Size) -> bool:
    """Whether a paper is at hand in whole sheets of a size."""
    return any(size.is_like(each.width.mm, each.height.mm, SAME_MM) for each in (paper.sheet, *paper.other_sheets))


def size_now(layouts: Sequence[MatLayout], paper: str, face: str) -> int:
    """Which of its sheet sizes a paper with one side up is cut from, from 0; offcuts are left out."""
    own = (each for each in layouts if (each.paper, each.face) == (paper, face) and not each.sheet.offcut)
    return next((layout.sheet.size_number for layout in own), 0)


def _laid_on(layout: MatLayout, size: Size, number: int | None, lay: Lay, mat: Mat) -> MatLayout | None:
    """A mat laid anew on an offcut of that size, or on a sheet of the size of that number; None where that does not
    hold all of it."""
    sheet = load_sheet(size, lay, mat)
    if sheet.trimmed or sheet.width * sheet.height >= layout.sheet.width * layout.sheet.height:
        return None
    gap, room = lay.spacing.mm, sheet.room
    demands = []
    for place, placed in enumerate(layout.placements):
        box = bounds(placed.piece.outline)
        demands.append(Demand(str(place), box.width + gap, box.height + gap, 1))
    grown = Box(room.left, room.top, room.right + gap, room.bottom + gap)
    spots = fill_sheet(tuple(demands), grown, (), may_turn=lay.may_turn) if room.width > 0 and room.height > 0 else ()
    if len(spots) < len(demands):
        return None
    placements = []
    for spot in sorted(spots, key=lambda spot: int(spot.piece)):
        old = layout.placements[int(spot.piece)]
        placements.append(
            make_placement(old.id, old.piece, spot.box.left, spot.box.top, turned=spot.turned, pinned=False)
        )
    own = structs.replace(sheet, offcut=number is None, size_number=number or 0, per_sheet=1)
    share = share_of(f"{layout.id}.share", f"paper used on mat {layout.number}", area_of(placements), own)
    return structs.replace(layout, sheet=own, placements=tuple(placements), share=share)


def add_size(paper: Paper, kind: StockKind, size: Size) -> Change:
    """The change that puts an offcut, or a sheet size, to a paper's stock; the oldest goes where there are too many."""
    most = MOST_OFFCUTS if kind == "offcuts" else MOST_SIZES
    return Change(f"brief.papers.{paper.id}.{kind}", (*getattr(paper, kind), size)[-most:])


def drop_size(paper: Paper, kind: StockKind, size: Size) -> Change:
    """The change that takes one offcut, or sheet size, of that size from a paper's stock, where there is one."""
    left = list(getattr(paper, kind))
    if size in left:
        left.remove(size)
    return Change(f"brief.papers.{paper.id}.{kind}", tuple(left))
