"""Outlines: closed rings of points, clockwise on a y-down sheet, without the first point again at the end.

Rectangles are answered by arithmetic; other outlines go to shapely (GEOS), which is imported on first use so
that the window and a plain card do not wait for it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from msgspec import Struct

from dechirer.core.shape.affine import Point, Points

TOUCH_MM = 1e-6
"""Coordinates closer than this are the same place."""


class Box(Struct, frozen=True):
    """An upright rectangle from (left, top) to (right, bottom), in mm."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def width(self) -> float:
        """Right minus left."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """Bottom minus top."""
        return self.bottom - self.top

    @property
    def middle(self) -> Point:
        """The centre of the box."""
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    def grown(self, by: float) -> Box:
        """The box with every side moved out by that much."""
        return Box(self.left - by, self.top - by, self.right + by, self.bottom + by)

    def within(self, other: Box) -> Box:
        """What of it lies within another; its sides pass each other where nothing does."""
        return Box(
            max(self.left, other.left),
            max(self.top, other.top),
            min(self.right, other.right),
            min(self.bottom, other.bottom),
        )

    def moved(self, dx: float, dy: float) -> Box:
        """The box moved by (dx, dy)."""
        return Box(self.left + dx, self.top + dy, self.right + dx, self.bottom + dy)

    def has(self, point: Point) -> bool:
        """Whether a point lies in the box or on its edge."""
        return self.left <= point[0] <= self.right and self.top <= point[1] <= self.bottom

    def holds(self, other: Box, *, slack: float = TOUCH_MM) -> bool:
        """Whether the other box lies inside this one; touching counts as inside."""
        return (
            other.left >= self.left - slack
            and other.top >= self.top - slack
            and other.right <= self.right + slack
            and other.bottom <= self.bottom + slack
        )

    def overlaps(self, other: Box, *, slack: float = TOUCH_MM) -> bool:
        """Whether the boxes share area; touching edges do not overlap."""
        return (
            self.left < other.right - slack
            and other.left < self.right - slack
            and self.top < other.bottom - slack
            and other.top < self.bottom - slack
        )


def rectangle(width: float, height: float, *, at: Point = (0.0, 0.0)) -> Points:
    """A rectangle's outline with its top left corner at a place."""
    x, y = at
    return (x, y), (x + width, y), (x + width, y + height), (x, y + height)


def bounds(points: Sequence[Point]) -> Box:
    """The smallest upright box round some points.

    Raises:
        ValueError: there are no points.
    """
    xs = [x for x, _ in points]
    ys = [y for _, y in points]
    return Box(min(xs), min(ys), max(xs), max(ys))


def area(outline: Sequence[Point]) -> float:
    """Area inside an outline in mm2, by the shoelace formula; 0 for fewer than three points."""
    total = 0.0
    for (x0, y0), (x1, y1) in zip(outline, [*outline[1:], *outline[:1]], strict=True):
        total += x0 * y1 - x1 * y0
    return abs(total) / 2


def clockwise(outline: Points) -> Points:
    """The outline running clockwise on a y-down sheet, as all outlines here do."""
    total = 0.0
    for (x0, y0), (x1, y1) in zip(outline, outline[1:] + outline[:1], strict=True):
        total += x0 * y1 - x1 * y0
    return outline if total >= 0 else tuple(reversed(outline))


def path_length(points: Sequence[Point], *, closed: bool = False) -> float:
    """Length along a path in mm."""
    ends = [*points[1:], points[0]] if closed and points else points[1:]
    return sum(map(math.dist, points, ends))


def foot_on_line(start: Point, end: Point, place: Point) -> Point:
    """The place of a straight line between two points that is nearest to another place."""
    (ax, ay), (bx, by) = start, end
    length = (bx - ax) ** 2 + (by - ay) ** 2
    share = 0.0 if length == 0 else ((place[0] - ax) * (bx - ax) + (place[1] - ay) * (by - ay)) / length
    share = min(1.0, max(0.0, share))
    return ax + share * (bx - ax), ay + share * (by - ay)


def clip_share(start: Point, end: Point, box: Box) -> tuple[float, float] | None:
    """From which share to which of its length a straight line lies in a box; None when it does not (Liang and Barsky's
    clipping, from memory)."""
    low, high = 0.0, 1.0
    for origin, step, least, most in (
        (start[0], end[0] - start[0], box.left, box.right),
        (start[1], end[1] - start[1], box.top, box.bottom),
    ):
        if abs(step) < 1e-12:
            if not least <= origin <= most:
                return None
            continue
        one, other = (least - origin) / step, (most - origin) / step
        low, high = max(low, min(one, other)), min(high, max(one, other))
        if low > high:
            return None
    return low, high


def distance_outside(outline: Sequence[Point], point: Point) -> float:
    """How far a point lies outside an outline, in mm; 0 when inside or on the edge."""
    if is_rectangle(outline):
        box, (x, y) = bounds(outline), point
        return math.hypot(max(box.left - x, 0.0, x - box.right), max(box.top - y, 0.0, y - box.bottom))
    import shapely

    return float(shapely.distance(shapely.Polygon(outline), shapely.Point(point)))


def distance_to_edge(outline: Sequence[Point], point: Point) -> float:
    """Distance from a point to the nearest edge of an outline, in mm."""
    outside = distance_outside(outline, point) if is_rectangle(outline) else 0.0
    if outside > 0:
        return outside
    if is_rectangle(outline):
        box, (x, y) = bounds(outline), point
        return min(x - box.left, box.right - x, y - box.top, box.bottom - y)
    import shapely

    return float(shapely.distance(shapely.LinearRing(outline), shapely.Point(point)))


def outlines_overlap(first: Sequence[Point], second: Sequence[Point], *, gap: float = 0.0) -> bool:
    """Whether two outlines come closer than `gap` mm, or overlap when the gap is 0; touching is allowed."""
    if not bounds(first).grown(gap).overlaps(bounds(second)):
        return False
    if is_rectangle(first) and is_rectangle(second):
        return True
    import shapely

    one, other = shapely.Polygon(first), shapely.Polygon(second)
    if gap > 0:
        return bool(shapely.distance(one, other) < gap - TOUCH_MM)
    return bool(shapely.area(shapely.intersection(one, other)) > TOUCH_MM)


def is_rectangle(outline: Sequence[Point]) -> bool:
    """Whether an outline is an upright rectangle."""
    if len(outline) != 4:
        return False
    box = bounds(outline)
    return abs(area(outline) - box.width * box.height) <= TOUCH_MM * (1 + box.width + box.height)


def is_inside(ring: Points, point: Point) -> bool:
    """Whether a point is inside a ring, by counting crossings to the right."""
    x, y = point
    inside = False
    for (x0, y0), (x1, y1) in zip(ring, ring[1:] + ring[:1], strict=True):
        if (y0 > y) != (y1 > y) and x < x0 + (y - y0) * (x1 - x0) / (y1 - y0):
            inside = not inside
    return inside
