"""Closed outlines by name, drawn for this project, each made to fill a box: disc, heart, kite, hut, cloud and so on.

Curves are flattened at 0.01 mm: a chord over an angle a leaves a circle of radius r by r (1 - cos(a / 2)); a Bézier
curve cut into n equal steps of its parameter strays by at most max|B''| / (8 n^2) (Farin, *Curves and Surfaces*).
"""

from __future__ import annotations

import itertools
import math

from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.outline import bounds, clockwise, rectangle

FLAT_MM = 0.01
"""How far a flattened curve may stray from the true one, in mm."""

CURVED = frozenset({"disc", "heart", "cloud", "gull", "bar"})
"""Outlines that are not made of straight edges alone."""


def circle(centre: Point, radius: float) -> Points:
    """A circle as a ring of chords."""
    steps = max(24, math.ceil(math.pi / math.acos(max(-1.0, 1 - FLAT_MM / radius)))) if radius > FLAT_MM else 24
    steps += -steps % 4  # so that its extremes lie on the ring
    return tuple(
        (centre[0] + radius * math.cos(math.tau * step / steps), centre[1] + radius * math.sin(math.tau * step / steps))
        for step in range(steps)
    )


def arc(centre: Point, radius: float, start_deg: float, end_deg: float) -> Points:
    """An arc as chords, both ends included; angles from the x axis towards y."""
    sweep = math.radians(end_deg - start_deg)
    steps = max(4, math.ceil(abs(sweep) / (2 * math.acos(max(-1.0, 1 - FLAT_MM / max(radius, 2 * FLAT_MM))))))
    steps += steps % 2  # so that the middle of a half circle lies on it
    first = math.radians(start_deg)
    return tuple(
        (
            centre[0] + radius * math.cos(first + sweep * step / steps),
            centre[1] + radius * math.sin(first + sweep * step / steps),
        )
        for step in range(steps + 1)
    )


def oblong(centre: Point, length: float, breadth: float) -> Points:
    """A slot with round ends along x (mm); a circle of its breadth where it is no longer than broad."""
    if length - breadth <= FLAT_MM:
        return circle(centre, breadth / 2)
    (x, y), half, radius = centre, (length - breadth) / 2, breadth / 2
    return (*arc((x + half, y), radius, -90, 90), *arc((x - half, y), radius, 90, 270))


def unit_outline(shape: str, width: float, height: float) -> Points:
    """An outline that fills a box of width x height (mm) from the origin.

    Raises:
        ValueError: no such shape.
    """
    match shape:
        case "rectangle":
            return rectangle(width, height)
        case "disc":
            ring = circle((0.5 * width, 0.5 * width), 0.5 * width)
            return tuple((x, y * height / width) for x, y in ring)
        case "bar":
            return _bar(width, height)
        case "hexagon" | "octagon":
            sides = 6 if shape == "hexagon" else 8
            # A flat side at the bottom, so that there is something to hinge on.
            turns = [math.tau * (step + 0.5) / sides + math.pi / 2 for step in range(sides)]
            return _fill([(math.cos(turn), math.sin(turn)) for turn in turns], width, height)
        case "star":
            # Five points whose sides lie in line with each other (plain geometry: sin 18 / sin 54 of the radius).
            inner = math.sin(math.radians(18)) / math.sin(math.radians(54))
            spokes = [(math.pi * step / 5 - math.pi / 2, inner if step % 2 else 1.0) for step in range(10)]
            return _fill([(far * math.cos(turn), far * math.sin(turn)) for turn, far in spokes], width, height)
        case "kite":
            return _fill([(0.5, 0.0), (1.0, 0.38), (0.5, 1.0), (0.0, 0.38)], width, height)
        case "hut":
            corners = [(0.5, 0.0), (1.0, 0.42), (0.88, 0.42), (0.88, 1.0), (0.12, 1.0), (0.12, 0.42), (0.0, 0.42)]
            return _fill(corners, width, height)
        case "tag":
            return _fill([(0.0, 0.0), (0.72, 0.0), (1.0, 0.24), (1.0, 1.0), (0.0, 1.0)], width, height)
        case "heart":
            return _fill(_heart(max(width, height)), width, height)
        case "gull":
            return _fill(_gull(max(width, height)), width, height)
        case "cloud":
            return _fill(_cloud(max(width, height)), width, height)
    raise ValueError(f"there is no outline called “{shape}”")


def _fill(points: list[Point] | Points, width: float, height: float) -> Points:
    """Points stretched to fill the box."""
    box = bounds(points)
    return tuple(((x - box.left) / box.width * width, (y - box.top) / box.height * height) for x, y in points)


def _bar(width: float, height: float) -> Points:
    radius = min(width, height) / 2
    if width >= height:
        right = arc((width - radius, radius), radius, -90, 90)
        left = arc((radius, radius), radius, 90, 270)
        return _without_repeats(right + left)
    lower = arc((radius, height - radius), radius, 0, 180)
    upper = arc((radius, radius), radius, 180, 360)
    return _without_repeats(lower + upper)


def _without_repeats(points: Points) -> Points:
    kept: list[Point] = []
    for point in points:
        if not kept or math.dist(point, kept[-1]) > 1e-9:
            kept.append(point)
    if math.dist(kept[0], kept[-1]) <= 1e-9:
        kept.pop()
    return tuple(kept)


def curve(controls: tuple[Point, ...], size: float) -> Points:
    """A Bézier curve of degree 2 or 3 in unit coordinates, flattened for a drawing `size` mm large; both ends in."""
    degree = len(controls) - 1
    bends = [
        math.hypot(a[0] - 2 * b[0] + c[0], a[1] - 2 * b[1] + c[1])
        for a, b, c in zip(controls, controls[1:], controls[2:], strict=False)
    ]
    second = degree * (degree - 1) * max(bends) * size
    steps = max(4, math.ceil(math.sqrt(second / (8 * FLAT_MM))))
    found = []
    for step in range(steps + 1):
        t = step / steps
        points = list(controls)
        while len(points) > 1:
            points = [(a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t) for a, b in itertools.pairwise(points)]
        found.append(points[0])
    return tuple(found)


def _mirrored(right: Points) -> Points:
    """A ring from its right half, which runs from the top of the axis x = 0.5 to its bottom."""
    left = tuple((1.0 - x, y) for x, y in reversed(right[1:-1]))
    return right + left


def _heart(size: float) -> Points:
    lobe = tuple(
        (0.75 + 0.25 * math.cos(turn), 0.25 + 0.25 * math.sin(turn))
        for turn in (math.pi + math.pi * step / 96 for step in range(97))
    )
    side = curve(((1.0, 0.25), (1.0, 0.55), (0.72, 0.78), (0.5, 1.0)), size)
    return _mirrored(((0.5, 0.25), *lobe[1:], *side[1:]))


def _gull(size: float) -> Points:
    upper = curve(((0.5, 0.42), (0.62, 0.0), (0.8, -0.06), (1.0, 0.3)), size)
    lower = curve(((1.0, 0.3), (0.8, 0.22), (0.62, 0.5), (0.5, 1.0)), size)
    return _mirrored(upper + lower[1:])


def _cloud(size: float) -> Points:
    import shapely

    puffs = [((0.22, 0.7), 0.2), ((0.42, 0.48), 0.28), ((0.66, 0.56), 0.24), ((0.82, 0.74), 0.17)]
    parts = [shapely.Polygon(circle((x * size, y * size), r * size)) for (x, y), r in puffs]
    parts.append(shapely.box(0.22 * size, 0.6 * size, 0.82 * size, 0.9 * size))
    ring = shapely.union_all(parts).exterior.coords[:-1]
    floor = 0.9 * size
    return clockwise(tuple((float(x), min(float(y), floor)) for x, y in ring))
