"""The ruler: a distance between two places of a drawing, each drawn to a corner or a line nearby."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.outline import foot_on_line
from dechirer.drawing.display import Display, Shape
from dechirer.drawing.viewport import Viewport

CORNER_PX = 10.0
LINE_PX = 7.0
"""So near the pointer must be to a corner or a line to be drawn to it."""
STRAIGHT_DEG = 12.0
"""A path turns by more than this at a corner; by less it is a curve."""


class Place(Struct, frozen=True):
    """A place in mm, and what it was drawn to: `corner`, `line`, or empty for neither."""

    at: Point
    to: str = ""


def snap(display: Display, viewport: Viewport, px: Point) -> Place:
    """The corner near a pixel, else the nearest place of a line near it, else the place itself."""
    here = viewport.to_mm(px)
    near_mm = CORNER_PX / viewport.scale
    corners, lines = [], []
    for points, closed in _paths(display):
        if not _is_near(points, here, near_mm):
            continue
        corners += [(math.dist(corner, here), corner) for corner in _corners(points, closed)]
        feet = [foot_on_line(a, b, here) for a, b in _legs(points, closed)]
        lines += [(math.dist(foot, here), foot) for foot in feet]
    if corners and min(corners)[0] <= near_mm:
        return Place(min(corners)[1], "corner")
    if lines and min(lines)[0] * viewport.scale <= LINE_PX:
        return Place(min(lines)[1], "line")
    return Place(here)


def _paths(display: Display) -> Iterator[tuple[Points, bool]]:
    for item in display.items:
        if isinstance(item, Shape) and (item.form or item.fill):
            for points in item.paths:
                yield points, item.closed


def _is_near(points: Points, here: Point, by: float) -> bool:
    xs, ys = [x for x, _ in points], [y for _, y in points]
    return bool(points) and min(xs) - by <= here[0] <= max(xs) + by and min(ys) - by <= here[1] <= max(ys) + by


def _legs(points: Points, closed: bool) -> Iterator[tuple[Point, Point]]:
    yield from itertools.pairwise(points)
    if closed and len(points) > 2:
        yield points[-1], points[0]


def _corners(points: Points, closed: bool) -> Iterator[Point]:
    """The ends of an open path, and where a path turns sharply."""
    count = len(points)
    for index, point in enumerate(points):
        if not closed and index in (0, count - 1):
            yield point
            continue
        (x0, y0), (x1, y1) = points[index - 1], points[(index + 1) % count]
        turned = math.atan2(y1 - point[1], x1 - point[0]) - math.atan2(point[1] - y0, point[0] - x0)
        if abs(math.degrees(math.remainder(turned, math.tau))) > STRAIGHT_DEG:
            yield point
