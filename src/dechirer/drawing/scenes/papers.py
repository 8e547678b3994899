"""What papers look like: a colour for each of their two faces, and a pattern that runs one way on the sheet."""

from __future__ import annotations

from collections.abc import Sequence

from dechirer.core.brief.decisions import Paper
from dechirer.core.card.panels import Side
from dechirer.core.card.piece import Piece
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.outline import bounds
from dechirer.drawing.display import Shape

STRIPE_MM = 5.0


def shows_good(piece: Piece, side: Side) -> bool:
    """Whether a side of a piece is its paper's good one: the outside, or the only side that it shows."""
    sides = {face.side for face in piece.tree.faces}
    return side == ("outside" if "outside" in sides else "inside")


def draw_pattern(paper: Paper, rings: Sequence[Points], *, good: bool, across: bool = False) -> list[Shape]:
    """The stripes of a patterned paper over an area (the outer ring, then its holes); none for a plain face.

    Args:
        good: whether its good side is seen.
        across: the area lies turned by a quarter on the sheet, so that the stripes run across it.
    """
    if not paper.is_patterned(good=good) or not rings:
        return []
    colour = paper.face(good=good)
    stripes = stripes_over(rings, across=across)
    return [Shape(stripes, closed=False, form="hair", role="soft", on=colour, weight=0.7)] if stripes else []


def stripes_over(rings: Sequence[Points], *, across: bool) -> tuple[Points, ...]:
    """Lines a stripe apart over an area, upright or across, where they lie in it."""
    box = bounds(rings[0])
    start, end = (box.top, box.bottom) if across else (box.left, box.right)
    found: list[Points] = []
    place = start + STRIPE_MM / 2
    while place < end and len(found) < 2000:
        met = sorted(cut for ring in rings for cut in _crossings(ring, place, across))
        for low, high in zip(met[::2], met[1::2], strict=False):
            if high - low > 0.2:
                ends: tuple[Point, Point] = ((low, place), (high, place)) if across else ((place, low), (place, high))
                found.append(ends)
        place += STRIPE_MM
    return tuple(found)


def _crossings(ring: Points, place: float, across: bool) -> list[float]:
    """Where a line across or down the plane meets a ring."""
    found = []
    for index, (x0, y0) in enumerate(ring):
        x1, y1 = ring[(index + 1) % len(ring)]
        a0, b0, a1, b1 = (y0, x0, y1, x1) if across else (x0, y0, x1, y1)
        if (a0 <= place) != (a1 <= place):
            found.append(b0 + (b1 - b0) * (place - a0) / (a1 - a0))
    return found
