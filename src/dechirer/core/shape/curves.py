"""Paths of lines and cubic curves: flattened within a tolerance, and turned into areas by a fill rule.

A path is text: `M x y`, `L x y`, `C x y x y x y`, `Z`, absolute, in mm. numpy and shapely are imported on first use.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Any

from dechirer.core.memory import until_forgotten
from dechirer.core.shape.affine import Point, Points

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

FLAT_MM = 0.01
"""Curves are flattened so that no chord strays further from them than this."""
FARTHEST_MM = 1e6
"""A coordinate beyond a kilometre is no place on paper, and geometry of such numbers cannot be trusted."""
MOST_CHORDS = 400
"""Of one curve: beyond it a curve is metres long or its coordinates are absurd."""


class PathError(ValueError):
    """A path that is not written as a path; names the place."""


class Run:
    """One subpath: its points in mm and whether it is closed."""

    __slots__ = ("closed", "points")

    def __init__(self, points: list[Point], closed: bool) -> None:
        self.points, self.closed = points, closed


def chords_for(p0: Point, p1: Point, p2: Point, p3: Point, tolerance: float) -> int:
    """How many equal steps of the parameter keep chords of a cubic within `tolerance`.

    From the bound |B''| h^2 / 8 on the distance of a chord (Wang's formula for Bezier curves of degree 3).
    """
    ax, ay = p0[0] - 2 * p1[0] + p2[0], p0[1] - 2 * p1[1] + p2[1]
    bx, by = p1[0] - 2 * p2[0] + p3[0], p1[1] - 2 * p2[1] + p3[1]
    bend = math.sqrt(max(ax * ax + ay * ay, bx * bx + by * by))
    return min(MOST_CHORDS, max(1, math.ceil(math.sqrt(0.75 * bend / tolerance))))


def flatten(path: str, tolerance: float = FLAT_MM, scale: float = 1.0) -> list[Run]:
    """The subpaths of a path as points, scaled.

    Args:
        tolerance: how far chords may stray, in mm after scaling.
        scale: what coordinates are multiplied by.

    Raises:
        PathError: a word that is neither a letter of a path nor a number, a segment without a start, or a point that is
            no place on paper.
    """
    runs: list[Run] = []
    words = path.split()
    here: list[Point] = []
    index, count = 0, len(words)
    try:
        while index < count:
            letter = words[index]
            index += 1
            if letter == "L":
                here.append((float(words[index]) * scale, float(words[index + 1]) * scale))
                index += 2
            elif letter == "C":
                x1, y1, x2, y2, x3, y3 = (float(word) * scale for word in words[index : index + 6])
                index += 6
                here += _chords(here[-1], (x1, y1), (x2, y2), (x3, y3), tolerance)
            elif letter == "M":
                if len(here) > 1:
                    runs.append(Run(here, False))
                here = [(float(words[index]) * scale, float(words[index + 1]) * scale)]
                index += 2
            elif letter == "Z":
                if len(here) > 1:
                    runs.append(Run(here, True))
                here = here[:1]
            else:
                raise PathError(f"“{letter}” at word {index} is not a letter of a path")
    except OverflowError:
        raise PathError(f"a point lies beyond any paper at word {index}") from None
    except (ValueError, IndexError) as error:
        if isinstance(error, PathError):
            raise
        raise PathError(f"the path breaks off or has no number at word {index}") from None
    if len(here) > 1:
        runs.append(Run(here, False))
    _refuse_far_points(runs)
    return runs


def _chords(p0: Point, p1: Point, p2: Point, p3: Point, tolerance: float) -> list[Point]:
    """The ends of the chords of a cubic, without its start; where it turns back along an axis is one of them, so that
    the chords reach exactly as far as the curve."""
    (x0, y0), (x1, y1), (x2, y2), (x3, y3) = p0, p1, p2, p3
    steps = chords_for(p0, p1, p2, p3, tolerance)
    cx, cy = 3 * (x1 - x0), 3 * (y1 - y0)
    bx, by = 3 * (x2 - x1) - cx, 3 * (y2 - y1) - cy
    ax, ay = x3 - x0 - cx - bx, y3 - y0 - cy - by
    found: list[Point] = []
    places = [step / steps for step in range(1, steps)]
    if not (min(x0, x3) <= x1 <= max(x0, x3) and min(x0, x3) <= x2 <= max(x0, x3)):
        places += turning_places(ax, bx, cx)
    if not (min(y0, y3) <= y1 <= max(y0, y3) and min(y0, y3) <= y2 <= max(y0, y3)):
        places += turning_places(ay, by, cy)
    if len(places) >= steps:
        places.sort()
    for t in places:
        found.append((((ax * t + bx) * t + cx) * t + x0, ((ay * t + by) * t + cy) * t + y0))
    found.append(p3)
    return found


def turning_places(a: float, b: float, c: float) -> list[float]:
    """The parameters between 0 and 1 where a t^3 + b t^2 + c t turns: the roots of its derivative."""
    a, b = 3 * a, 2 * b
    if abs(a) < 1e-12 * (abs(b) + abs(c) + 1e-300):
        roots = [-c / b] if b else []
    else:
        under = b * b - 4 * a * c
        if under < 0:
            return []
        # The form that loses no digits where b and the root are near each other.
        half = -(b + math.copysign(math.sqrt(under), b)) / 2
        roots = [half / a, *([c / half] if half else [])]
    return [t for t in roots if 0 < t < 1]


def _refuse_far_points(runs: Iterable[Run]) -> None:
    for run in runs:
        for x, y in run.points:
            if not (-FARTHEST_MM < x < FARTHEST_MM and -FARTHEST_MM < y < FARTHEST_MM):
                raise PathError(f"a point lies at {x:g}, {y:g} mm")


def areas_of(runs: Iterable[Run], rule: str) -> BaseGeometry:
    """The area that runs enclose under a fill rule (`nonzero` or `evenodd`), valid; open runs are closed.

    Rings that neither cross themselves nor each other, the usual case, are sorted by nesting. Others are cut into
    faces, and each face is kept by the rule.
    """
    import shapely

    rings = [shapely.LinearRing(run.points) for run in runs if len(set(run.points)) > 2]
    if not rings:
        return shapely.MultiPolygon()
    if len(rings) == 1:
        only = shapely.Polygon(rings[0])
        if only.is_valid:
            return only
    made = [shapely.Polygon(ring) for ring in rings]
    if all(shapely.is_valid(made)) and not _cross(rings):
        return _nest(rings, made, rule)
    return _by_faces(rings, rule)


def _cross(rings: Sequence[Any]) -> bool:
    import shapely

    tree = shapely.STRtree(rings)
    first, second = tree.query(rings, predicate="intersects")
    return bool((first != second).any())


def _nest(rings: Sequence[Any], made: Sequence[Any], rule: str) -> BaseGeometry:
    """Areas of rings that do not meet: each boundary is kept where the rule changes across it."""
    import shapely

    ways = [1 if shapely.is_ccw(ring) else -1 for ring in rings]
    if len(made) == 1:
        return made[0]
    tree = shapely.STRtree(made)
    points = [shapely.Point(ring.coords[0]) for ring in rings]
    inner, outer = tree.query(points, predicate="within")
    around: list[list[int]] = [[] for _ in made]
    for index, other in zip(inner.tolist(), outer.tolist(), strict=True):
        if index != other:
            around[index].append(other)

    def is_in(turns: int) -> bool:
        return turns % 2 == 1 if rule == "evenodd" else turns != 0

    shells: list[int] = []
    holes: dict[int, list[int]] = {}
    kept: list[tuple[int, bool]] = []
    for index in range(len(made)):
        outside = sum(1 if rule == "evenodd" else ways[other] for other in around[index])
        inside = outside + (1 if rule == "evenodd" else ways[index])
        if is_in(outside) != is_in(inside):
            kept.append((index, is_in(inside)))
    shells = [index for index, solid in kept if solid]
    solid_set = set(shells)
    for index, solid in kept:
        if not solid:
            owners = [other for other in around[index] if other in solid_set]
            if owners:
                owner = max(owners, key=lambda other: len(around[other]))
                holes.setdefault(owner, []).append(index)
    parts = [shapely.Polygon(rings[index], [rings[hole] for hole in holes.get(index, [])]) for index in shells]
    return parts[0] if len(parts) == 1 else shapely.MultiPolygon(parts)


def _by_faces(rings: Sequence[Any], rule: str) -> BaseGeometry:
    """Areas of rings that cross: the plane cut into faces, each face's turns counted at a point inside it."""
    import numpy as np
    import shapely

    faces = shapely.get_parts(shapely.polygonize([shapely.unary_union(list(rings))]))
    if len(faces) == 0:
        return shapely.MultiPolygon()
    places = shapely.get_coordinates(shapely.point_on_surface(faces))
    turns = np.zeros(len(faces), dtype=int)
    for ring in rings:
        turns += _turns_round(np.asarray(ring.coords), places)
    keep = turns % 2 != 0 if rule == "evenodd" else turns != 0
    return shapely.union_all(faces[keep]) if keep.any() else shapely.MultiPolygon()


def _turns_round(ring: Any, places: Any) -> Any:
    """How often a closed ring (n + 1, 2) goes round each of the places (m, 2): crossings to the right, by direction."""
    import numpy as np

    x0, y0, x1, y1 = ring[:-1, 0], ring[:-1, 1], ring[1:, 0], ring[1:, 1]
    found = np.zeros(len(places), dtype=int)
    left, top, right, bottom = x0.min(), y0.min(), x0.max(), y0.max()
    xs, ys = places[:, 0], places[:, 1]
    within = (xs >= left) & (xs <= right) & (ys >= top) & (ys <= bottom)  # beyond its box it goes round nothing
    for index in np.flatnonzero(within).tolist():
        x, y = places[index]
        up, down = (y0 <= y) & (y1 > y), (y0 > y) & (y1 <= y)
        side = (x1 - x0) * (y - y0) - (x - x0) * (y1 - y0)
        found[index] = int(np.count_nonzero(up & (side > 0))) - int(np.count_nonzero(down & (side < 0)))
    return found


def outline_of_lines(
    runs: Iterable[Run], width: float, caps: str = "flat", corners: str = "mitre", tolerance: float = FLAT_MM
) -> BaseGeometry:
    """The area a drawn line of that width covers."""
    import shapely

    from dechirer.core.shape.algebra import quarter_steps

    lines = []
    for run in runs:
        ring = run.closed and len(run.points) > 2
        lines.append(shapely.LinearRing(run.points) if ring else shapely.LineString(run.points))
    if not lines:
        return shapely.MultiPolygon()
    grown = shapely.buffer(
        lines,
        width / 2,
        quad_segs=quarter_steps(width / 2),
        cap_style=caps,
        join_style={"mitre": "mitre", "bevel": "bevel"}.get(corners, "round"),
        mitre_limit=4.0,
    )
    return shapely.union_all(grown)


NO_DASH_MM = 1e-6
"""What is left at the end of a line by an error of rounding is no dash."""


def cut_into_dashes(points: Sequence[Point], closed: bool, dash: Sequence[float]) -> list[Points]:
    """A line cut into its dashes: lengths of line and gap in turn; an odd list is gone through twice."""
    pattern = list(dash) * (2 if len(dash) % 2 else 1)
    legs = [*points, points[0]] if closed else list(points)
    if sum(pattern) <= 0:
        return [tuple(legs)]
    found: list[Points] = []
    place, left, on = 0, pattern[0], True
    here: list[Point] = [legs[0]]
    for a, b in itertools.pairwise(legs):
        length = math.dist(a, b)
        gone = 0.0
        while length - gone > left:
            gone += left
            spot = (a[0] + (b[0] - a[0]) * gone / length, a[1] + (b[1] - a[1]) * gone / length)
            if on and len(here) >= 1:
                found.append((*here, spot))
            here = [spot]
            place = (place + 1) % len(pattern)
            left, on = pattern[place], not on
            if left == 0:
                place = (place + 1) % len(pattern)
                left, on = pattern[place], not on
            if len(found) > 20_000:
                return found
        left -= length - gone
        if on:
            here.append(b)
    if on and len(here) > 1 and any(math.dist(here[0], each) > NO_DASH_MM for each in here):
        found.append(tuple(here))
    return found


@until_forgotten(32)
def flatten_all(paths: tuple[str, ...], tolerance: float, scale: float) -> tuple[Run, ...]:
    """The subpaths of many paths; remembered."""
    return tuple(run for path in paths for run in flatten(path, tolerance, scale))
