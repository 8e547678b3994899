"""Guesses which lines of a drawing are folds: straight lines from edge to edge. All lengths in mm.

Common practice: a cut that runs from one edge of a card to another would part it, so such a line is folded.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from dechirer.core.shape.affine import Points

TOUCH_MM = 0.8
"""An end that lies this near to another line ends on it: drawings are made by eye."""
STRAIGHT_MM = 0.3
MOST_SHARE = 0.8
"""A group is taken for folds when so much of its length is."""
MOST_LINES = 400


def like_folds(lines: Sequence[tuple[Points, bool]], edges: Sequence[tuple[Points, bool]]) -> bool:
    """Tell whether the lines of a group look like folds.

    Args:
        lines: the lines of the group: points, and whether the line is closed.
        edges: all lines that a fold may end on, those of the group among them.
    """
    import shapely

    if not lines or len(lines) > MOST_LINES:
        return False
    shapes = [
        shapely.LineString([*points, points[0]] if closed else points) for points, closed in edges if len(points) > 1
    ]
    tree = shapely.STRtree(shapes)
    total = folds = 0.0
    for points, closed in lines:
        if len(points) < 2:
            continue
        line = shapely.LineString([*points, points[0]] if closed else points)
        total += line.length
        if closed or not _is_straight(points):
            continue
        folds += line.length if all(_ends_on(end, line, tree, shapes) for end in (points[0], points[-1])) else 0.0
    return total > 0 and folds >= MOST_SHARE * total


def _is_straight(points: Points) -> bool:
    (x0, y0), (x1, y1) = points[0], points[-1]
    long = math.dist(points[0], points[-1])
    if long < 2 * TOUCH_MM:
        return False
    return max(abs((x - x0) * (y1 - y0) - (y - y0) * (x1 - x0)) / long for x, y in points) <= STRAIGHT_MM


def _ends_on(end: tuple[float, float], line: object, tree: object, shapes: list[object]) -> bool:
    """Whether an end lies on another line than its own."""
    import shapely

    near = tree.query(shapely.Point(end), predicate="dwithin", distance=TOUCH_MM)  # type: ignore[attr-defined]
    return any(not shapely.equals(shapes[place], line) for place in near.tolist())
