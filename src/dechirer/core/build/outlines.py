"""Closed outlines that cards are made of: disc, hexagon, octagon, and a rim of repeats round them.

Curves are flattened at 0.01 mm: a chord over an angle a leaves the circle by r (1 - cos(a / 2)).
"""

from __future__ import annotations

import math

from dechirer.core.shape.affine import Point, Points

FLAT_MM = 0.01
"""How far a flattened curve may stray from the true one, in mm."""


def circle(centre: Point, radius: float) -> Points:
    """A circle as a ring of chords."""
    steps = max(24, math.ceil(math.pi / math.acos(max(-1.0, 1 - FLAT_MM / radius)))) if radius > FLAT_MM else 24
    steps += -steps % 4  # so that its extremes lie on the ring
    return tuple(
        (centre[0] + radius * math.cos(math.tau * step / steps), centre[1] + radius * math.sin(math.tau * step / steps))
        for step in range(steps)
    )


def unit_outline(shape: str, width: float, height: float) -> Points:
    """An outline that fills a box of width x height from the origin.

    Raises:
        ValueError: no such shape.
    """
    if shape == "disc":
        ring = circle((0.5 * width, 0.5 * width), 0.5 * width)
        return tuple((x, y * height / width) for x, y in ring)
    sides = {"hexagon": 6, "octagon": 8}.get(shape)
    if sides is None:
        raise ValueError(f"shape “{shape}” is not one of disc, hexagon, octagon")
    # A flat side at the bottom, so that there is something to hinge on.
    turns = [math.tau * (step + 0.5) / sides + math.pi / 2 for step in range(sides)]
    points = [(math.cos(turn), math.sin(turn)) for turn in turns]
    left, right = min(x for x, _ in points), max(x for x, _ in points)
    top, bottom = min(y for _, y in points), max(y for _, y in points)
    return tuple(((x - left) / (right - left) * width, (y - top) / (bottom - top) * height) for x, y in points)


def chord_at(outline: Points, y: float) -> float:
    """How wide a convex outline is at a height, in mm; 0 where it is not."""
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

    ring = shapely.LinearRing(outline)
    # Centres lie inside by what the radius is more than `proud`, so that neighbours meet in a soft notch.
    radius = max(proud, ring.length / repeats / 2 * 1.02)
    inner = shapely.LinearRing(shapely.Polygon(outline).buffer(-(radius - proud), quad_segs=64).exterior.coords)
    parts = [shapely.Polygon(outline)]
    for number in range(repeats):
        place = inner.interpolate(number / repeats, normalized=True)
        parts.append(shapely.Polygon(circle((place.x, place.y), radius)))
    joined = shapely.union_all(parts)
    coordinates = list(joined.exterior.coords)[:-1]
    return tuple((float(x), float(y)) for x, y in coordinates)
