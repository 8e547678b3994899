"""Offcuts that are at hand: what would begin another sheet is laid on the smallest of them that holds it."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from msgspec import structs

from dechirer.core.brief.decisions import Paper
from dechirer.core.card.mat import Mat
from dechirer.core.card.placed import make_placement
from dechirer.core.decide.change import Change
from dechirer.core.decide.values import Size
from dechirer.core.lay.counting import share_of
from dechirer.core.lay.decisions import Lay
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.packing import Demand, fill_sheet
from dechirer.core.lay.sheet import load_sheet
from dechirer.core.shape.outline import Box, bounds

MOST_OFFCUTS = 24


def on_offcuts(
    layouts: Sequence[MatLayout], offcuts: list[Size], lay: Lay, mat: Mat, held: Collection[str]
) -> tuple[MatLayout, ...]:
    """The mats of one paper, the last ones on offcuts where these hold all that is on them: of each the smallest.

    A mat that is cut several times, or was laid by hand, stays on its sheet, and so does one with pieces that follow
    the grain: which way that runs in an offcut is not known.

    Args:
        offcuts: those at hand; what is used is taken out of them.
        held: the pieces, by their ids, that lie along the grain.
    """
    found = list(layouts)
    left = sorted(offcuts, key=lambda size: size.width.mm * size.height.mm)
    for place in range(len(found) - 1, -1, -1):
        layout = found[place]
        if layout.repeats != 1 or layout.is_pinned or not left:
            break
        if any(placed.piece.id in held for placed in layout.placements):
            break
        for size in left:
            moved = _laid_on(layout, size, lay, mat)
            if moved is not None:
                found[place] = moved
                left.remove(size)
                offcuts.remove(size)
                break
        else:
            break
    return tuple(found)


def _laid_on(layout: MatLayout, size: Size, lay: Lay, mat: Mat) -> MatLayout | None:
    """A mat laid anew on an offcut of that size; None where that does not hold all of it."""
    sheet = load_sheet(size, lay, mat)
    if sheet.trimmed or sheet.width * sheet.height >= layout.sheet.width * layout.sheet.height:
        return None
    gap, room = lay.spacing.mm, sheet.room
    demands = []
    for number, placed in enumerate(layout.placements):
        box = bounds(placed.piece.outline)
        demands.append(Demand(str(number), box.width + gap, box.height + gap, 1))
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
    own = structs.replace(sheet, offcut=True, per_sheet=1)
    share = share_of(f"{layout.id}.share", f"paper used on mat {layout.number}", tuple(placements), own)
    return structs.replace(layout, sheet=own, placements=tuple(placements), share=share)


def add_offcut(paper: Paper, size: Size) -> Change:
    """The change that puts an offcut to a paper's stock; the oldest goes where there are too many."""
    return Change(f"brief.papers.{paper.id}.offcuts", (*paper.offcuts, size)[-MOST_OFFCUTS:])


def drop_offcut(paper: Paper, number: int) -> Change:
    """The change that takes an offcut, by its place from 0, from a paper's stock."""
    left = tuple(size for place, size in enumerate(paper.offcuts) if place != number)
    return Change(f"brief.papers.{paper.id}.offcuts", left)
