"""The rim of a hinged shape, and where an outline is as wide as a hinge."""

from __future__ import annotations

from dechirer.core.shape.affine import Points
from dechirer.core.shape.silhouettes import circle

MOST_INSET = 0.9
"""Centres of a rim's repeats lie inside by at most so much of the room an outline has."""


def chord_at(outline: Points, y: float) -> float:
    """How wide an outline is at a height from its leftmost to its rightmost point, in mm; 0 where it is not."""
    crossings = []
    for (x0, y0), (x1, y1) in zip(outline, outline[1:] + outline[:1], strict=True):
        if (y0 <= y < y1) or (y1 <= y < y0):
            crossings.append(x0 + (y - y0) * (x1 - x0) / (y1 - y0))
    return max(crossings) - min(crossings) if len(crossings) >= 2 else 0.0


def find_hinge_height(outline: Points, hinge: float) -> float | None:
    """The lowest height at which a convex outline is exactly `hinge` wide, or None when it never is.

    By bisection between the widest height and the bottom, where the width falls steadily. For a circle of diameter
    D it is (D + sqrt(D^2 - h^2)) / 2 (plain geometry).
    """
    bottom = max(y for _, y in outline)
    heights = sorted({y for _, y in outline})
    widest = max(heights[:-1], key=lambda y: chord_at(outline, y))
    if hinge > chord_at(outline, widest) + 1e-9:
        return None
    edge = [x for x, y in outline if abs(y - bottom) < 1e-9]
    if max(edge) - min(edge) >= hinge:
        return bottom
    low, high = widest, bottom
    for _ in range(80):
        middle = (low + high) / 2
        if chord_at(outline, middle) >= hinge:
            low = middle
        else:
            high = middle
    return (low + high) / 2


def with_rim(outline: Points, repeats: int, proud: float) -> Points:
    """An outline with round repeats set evenly along it, standing out by `proud` mm; unchanged for none.

    The repeats are circles about points of the outline at equal distances along it, so they close evenly.
    """
    if repeats < 3:
        return outline
    import shapely

    area, ring = shapely.Polygon(outline), shapely.LinearRing(outline)
    # Centres lie inside by what the radius is more than `proud`, so that neighbours meet in a soft notch; of few
    # repeats on a narrow outline by as much as there is room.
    room = shapely.maximum_inscribed_circle(area, tolerance=max(1e-3, ring.length / 1e4)).length
    inset = min(max(0.0, ring.length / repeats / 2 * 1.02 - proud), MOST_INSET * room)
    radius = inset + proud
    inside = max(shapely.get_parts(area.buffer(-inset, quad_segs=64)), key=shapely.area)
    inner = shapely.LinearRing(inside.exterior.coords)
    parts = [area]
    for number in range(repeats):
        place = inner.interpolate(number / repeats, normalized=True)
        parts.append(shapely.Polygon(circle((place.x, place.y), radius)))
    joined = shapely.union_all(parts)
    coordinates = list(joined.exterior.coords)[:-1]
    return tuple((float(x), float(y)) for x, y in coordinates)
