"""What the sides of a folded card's slabs look like: the colour of the side that is seen, and its pattern."""

from __future__ import annotations

import math
from collections.abc import Callable

from dechirer.core.card.assembly import FOAM, THING, Slab
from dechirer.core.card.folding import Vector
from dechirer.core.dress.own_pieces import THING_COLOUR
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Point
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


def stripes_on(
    plan: Plan, slab: Slab, ring: tuple[Vector, ...], eye: Callable[[Vector], Vector], *, upper: bool
) -> list[Item]:
    """The pattern of a slab's paper on the side that is seen (`ring` in space), as its piece lies on its mat."""
    if slab.paper.startswith((FOAM, THING)):
        return []
    stock = plan.brief.paper(slab.paper).paper
    if not stock.is_patterned(good=is_good(plan, slab, upper=upper)):
        return []
    across = any(
        placed.turned for layout in plan.lay.layouts for placed in layout.placements if placed.piece.id == slab.piece
    )
    to_space = _plane(slab, ring)
    paths = tuple(
        tuple(eye(to_space(point))[:2] for point in path)
        for path in stripes_over((slab.outline, *slab.holes), across=across)
    )
    colour = stock.face(good=is_good(plan, slab, upper=upper))
    return [Shape(paths, closed=False, form="hair", role="soft", on=colour, weight=0.6)] if paths else []


def _plane(slab: Slab, ring: tuple[Vector, ...]) -> Callable[[Point], Vector]:
    """The map from the card's flat sheet to where a side of a slab lies in space, by three of its corners."""
    (x0, y0), corners = slab.outline[0], list(zip(slab.outline, ring, strict=True))
    (ax, ay), a = max(corners, key=lambda each: math.dist(each[0], (x0, y0)))
    (bx, by), b = max(corners, key=lambda each: abs((each[0][0] - x0) * (ay - y0) - (each[0][1] - y0) * (ax - x0)))
    det = (ax - x0) * (by - y0) - (bx - x0) * (ay - y0)

    def place(point: Point) -> Vector:
        s = ((point[0] - x0) * (by - y0) - (point[1] - y0) * (bx - x0)) / det
        t = ((ax - x0) * (point[1] - y0) - (ay - y0) * (point[0] - x0)) / det
        return tuple(o + s * (p - o) + t * (q - o) for o, p, q in zip(ring[0], a, b, strict=True))  # type: ignore[return-value]

    return place
