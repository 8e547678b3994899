"""What the sides of a folded card's slabs look like: the colour of the side that is seen, and its pattern."""

from __future__ import annotations

from collections.abc import Sequence

from dechirer.core.card.assembly import FOAM, THING, Slab
from dechirer.core.dress.own_pieces import THING_COLOUR
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Affine, Points
from dechirer.drawing.display import Item, Shape
from dechirer.drawing.scenes.papers import stripes_over

FOAM_COLOUR = "#F3F1EC"


def colour_of(plan: Plan, slab: Slab, *, upper: bool = True) -> str:
    """What a side of a slab is drawn in: its paper's colour on that side, foam's, or a thing's own."""
    if slab.paper.startswith(FOAM):
        return FOAM_COLOUR
    if slab.paper.startswith(THING):
        item = plan.job.dress.item(slab.paper.removeprefix(THING))
        return (item.colour if item is not None else None) or THING_COLOUR
    return plan.brief.paper(slab.paper).paper.face(good=is_good(plan, slab, upper=upper))


def is_good(plan: Plan, slab: Slab, *, upper: bool) -> bool:
    """Whether a side of a slab is its paper's good one. What is glued on shows it to the reader; a backer shows it
    through its opening; the card itself on its outside."""
    if slab.piece in plan.construct.made.parts.values() or abs(slab.bottom) < 1e-9:
        return upper
    outward = slab.bottom > 0
    return upper == (outward != slab.piece.endswith("-backer"))


def stripes_on(plan: Plan, slab: Slab, rings: Sequence[Points], near: Affine, *, upper: bool) -> list[Item]:
    """The pattern of a slab's paper on the side that is seen, as its piece lies on its mat.

    Args:
        rings: where the slab, or the part of it that is drawn, lies on the flat sheet.
        near: from there to the picture.
    """
    if slab.paper.startswith((FOAM, THING)):
        return []
    stock = plan.brief.paper(slab.paper).paper
    if not stock.is_patterned(good=is_good(plan, slab, upper=upper)):
        return []
    across = any(
        placed.turned for layout in plan.lay.layouts for placed in layout.placements if placed.piece.id == slab.piece
    )
    paths = tuple(near.all(path) for path in stripes_over(rings, across=across))
    colour = stock.face(good=is_good(plan, slab, upper=upper))
    return [Shape(paths, closed=False, form="hair", role="soft", on=colour, weight=0.6)] if paths else []
