"""Polylines turned back into lines and cubic curves within a tolerance, so that machines run smoothly.

A polyline is cut at its corners; each stretch between them is fitted by cubic curves after Schneider ("An algorithm for
automatically fitting digitized curves", Graphics Gems, 1990): chord-length parameters, tangents kept at the ends, least
squares for the arms, split where it strays too far. What is straight stays straight.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import Any, NamedTuple

from dechirer.core.shape.affine import Point

FIT_MM = 0.015
"""How far a fitted curve may stray from the polyline it stands for."""
THIN_MM = 0.003
"""Points that move the polyline by less are dropped before it is fitted."""
SAFE_SHARE = 0.75
"""Of the tolerance: between the places that are looked at a curve strays a little more."""
CORNER_DEG = 22.0
"""A turn sharper than this between two chords is a corner and stays one."""
HOPELESS = 20.0
"""A curve that strays this many times too far is split at once."""
LONG_SHARE = 6.0
"""A chord this many times longer than the ones beside it is a straight edge, not part of a curve."""
MOST_HALVINGS = 24
FEWEST = 5
"""A stretch of fewer points is left as straight chords."""

Segment = tuple[Point, ...]
"""One point: a straight line to it. Three: a cubic curve by two arms to the third."""


def fit_path(points: Sequence[Point], *, closed: bool, tolerance: float = FIT_MM) -> tuple[Point, list[Segment]]:
    """A polyline as a start and segments.

    Args:
        points: in mm; a closed one without its first point again at the end.
        tolerance: how far curves may stray from the points.

    Returns:
        Where it starts (for a closed one at a corner, if it has any) and its segments; a closed one ends at its start.
    """
    ring = _thin_out(points, closed)
    if len(ring) < FEWEST:
        ends = [*ring[1:], ring[0]] if closed else ring[1:]
        return ring[0], [(point,) for point in ends]
    outward = _find_extremes(ring, closed)
    marks = {place: _along(ring, place, normals) for place, normals in outward.items()}
    marks |= dict.fromkeys(_find_corners(ring, closed))
    cuts = sorted(marks)
    if closed:
        first = cuts[0] if cuts else 0
        count = len(ring)
        ring = ring[first:] + ring[:first] + [ring[first]]
        marks = {(cut - first) % count: tangent for cut, tangent in marks.items()}
        outward = {(cut - first) % count: normals for cut, normals in outward.items()}
        marks[count], outward[count] = marks.get(0), outward.get(0, [])
        cuts = [*sorted(marks.keys() - {count}), count] if cuts else [0, count]
    else:
        cuts = sorted({0, *cuts, len(ring) - 1})
    tolerance *= SAFE_SHARE
    segments: list[Segment] = []
    for a, b in itertools.pairwise(cuts):
        known = End(marks.get(a), outward.get(a, [])), End(marks.get(b), outward.get(b, []))
        segments += _fit_stretch(ring[a : b + 1], tolerance, known)
    return ring[0], segments


class End(NamedTuple):
    """What is known of a stretch where it ends: its direction, and which ways it may not go farther out."""

    along: Point | None
    outward: list[Point]


def _find_extremes(ring: list[Point], closed: bool) -> dict[int, list[Point]]:
    """Where a line reaches farthest left, right, up and down, with the directions out.

    A curve that is cut there and runs along the axis is exactly as wide and as high as the line it stands for.
    """
    found: dict[int, list[Point]] = {}
    for axis in (0, 1):
        values = [point[axis] for point in ring]
        for place, way in ((values.index(min(values)), -1.0), (values.index(max(values)), 1.0)):
            if closed or 0 < place < len(ring) - 1:
                found.setdefault(place, []).append((way, 0.0) if axis == 0 else (0.0, way))
    return found


def _along(ring: list[Point], place: int, outward: list[Point]) -> Point | None:
    """The direction of a smooth line at an extreme: along the axis; None where it is one in both axes."""
    if len(outward) > 1:
        return None
    axis = 0 if outward[0][0] else 1
    run = ring[(place + 1) % len(ring)][1 - axis] - ring[place - 1][1 - axis]
    along = math.copysign(1.0, run)
    return None if not run else (0.0, along) if axis == 0 else (along, 0.0)


def _thin_out(points: Sequence[Point], closed: bool) -> list[Point]:
    """The points without those that hardly matter: offsets leave many tiny chords."""
    import shapely

    if len(points) < FEWEST:
        return list(points)
    if closed:  # begun at a point that stays: the one farthest out
        x, y = (sum(axis) / len(points) for axis in zip(*points, strict=True))
        first = max(range(len(points)), key=lambda index: math.dist(points[index], (x, y)))
        points = [*points[first:], *points[:first]]
    line = shapely.LinearRing(points) if closed else shapely.LineString(points)
    found = shapely.get_coordinates(shapely.simplify(line, THIN_MM)).tolist()
    if closed:
        found = found[:-1]
    return [(x, y) for x, y in found] if len(found) > 2 or not closed else list(points)


def _find_corners(ring: list[Point], closed: bool) -> list[int]:
    """Where the direction turns sharply, or where a straight edge meets a curve."""
    import numpy as np

    points = np.asarray(ring)
    ahead = np.roll(points, -1, axis=0) - points
    before = points - np.roll(points, 1, axis=0)
    long, back = np.hypot(*ahead.T), np.hypot(*before.T)
    cross = before[:, 0] * ahead[:, 1] - before[:, 1] * ahead[:, 0]
    dot = (before * ahead).sum(axis=1)
    turn = np.degrees(np.abs(np.arctan2(cross, dot)))
    usual = LONG_SHARE * float(np.median(long))
    straight = ((long > usual) | (back > usual)) & ((long > LONG_SHARE * back) | (back > LONG_SHARE * long))
    sharp = (turn > CORNER_DEG) | straight
    if not closed:
        sharp[0] = sharp[-1] = False
    return [int(index) for index in np.flatnonzero(sharp)]


def _fit_stretch(points: list[Point], tolerance: float, ends: tuple[End, End]) -> list[Segment]:
    """One stretch without corners as curves; as chords when it has few points or is straight. `ends` say
    what is known of its directions at its two ends."""
    import numpy as np

    if len(points) < 3:
        return [(point,) for point in points[1:]]
    array = np.asarray(points, dtype=float)
    chord = array[-1] - array[0]
    length = float(np.hypot(*chord))
    if length > 0:
        away = np.abs((array[:, 0] - array[0, 0]) * chord[1] - (array[:, 1] - array[0, 1]) * chord[0]) / length
        along = ((array - array[0]) @ chord) / length
        if away.max() <= tolerance / 4 and np.all(np.diff(along) > 0):
            return [(points[-1],)]
    if len(points) < FEWEST:
        return [(point,) for point in points[1:]]
    first, last = ends
    places = array[:, 0] + 1j * array[:, 1]
    start = complex(*first.along) if first.along is not None else _hold_in(_end_tangent(places), first.outward)
    end = -complex(*last.along) if last.along is not None else _hold_in(_end_tangent(places[::-1]), last.outward)
    found: list[Segment] = []
    _fit(places, start, end, tolerance, found, 0)
    return found


def _hold_in(tangent: complex, outward: list[Point]) -> complex:
    """A direction at a corner that does not lead farther out than the corner, where that is an extreme."""
    for x, y in outward:
        out = tangent.real * x + tangent.imag * y
        if out > 0:
            tangent = _unit(tangent - out * complex(x, y))
    return tangent


def _end_tangent(points: Any) -> complex:
    """The direction of a curve at its first point, from the circle through its first three."""
    a, b = complex(points[1] - points[0]), complex(points[2] - points[0])
    la, lb = abs(a), abs(b)
    if la == 0 or lb == 0 or lb - la <= 0 or abs(a.real * b.imag - a.imag * b.real) <= 1e-12:
        return _unit(a)
    return _unit(a / (la * la) - b / (lb * lb))


def _unit(vector: complex) -> complex:
    length = abs(vector)
    return vector / length if length > 0 else vector


def _fit(points: Any, start: Any, end: Any, tolerance: float, found: list[Segment], depth: int) -> None:
    """Fit one curve to points (complex numbers, so that one operation does for both coordinates), or two halves."""
    import numpy as np

    if len(points) == 2 or depth > MOST_HALVINGS:
        found.extend(((float(point.real), float(point.imag)),) for point in points[1:])
        return
    along = np.abs(points[1:] - points[:-1]).cumsum()
    if along[-1] <= 0:
        return
    middles = (points[1:] + points[:-1]) / 2
    u = np.concatenate([[0.0], along / along[-1]])
    weights = _weights(u)
    curve = _least_squares(points, weights, start, end)
    error, worst, away = _stray(curve, points, middles, weights, u)
    for _ in range(4):
        if error <= tolerance or error > HOPELESS * tolerance:
            break
        u = _reparameterise(curve, away, u)
        weights = _weights(u)
        curve = _least_squares(points, weights, start, end)
        error, worst, away = _stray(curve, points, middles, weights, u)
    if error <= tolerance:
        found.append(tuple((float(point.real), float(point.imag)) for point in curve[1:]))
        return
    worst = min(max(worst, 1), len(points) - 2)
    middle = _unit(points[worst - 1] - points[worst + 1])
    _fit(points[: worst + 1], start, middle, tolerance, found, depth + 1)
    _fit(points[worst:], -middle, end, tolerance, found, depth + 1)


Weights = tuple[Any, Any, Any, Any]


def _weights(u: Any) -> Weights:
    """Bernstein's polynomials of degree 3."""
    v = 1 - u
    uv = 3 * u * v
    return v * v * v, uv * v, uv * u, u * u * u


def _least_squares(points: Any, weights: Weights, start: complex, end: complex) -> tuple[complex, ...]:
    """The cubic with given ends and tangents (of length 1) whose arms fit the points best."""
    b0, b1, b2, b3 = weights
    p0, p3 = points[0], points[-1]
    c11, c22 = b1 @ b1, b2 @ b2
    c12 = (b1 @ b2) * _dot(start, end)
    rest = points - (b0 + b1) * p0 - (b2 + b3) * p3
    x1, x2 = _dot(start, b1 @ rest), _dot(end, b2 @ rest)
    det = c11 * c22 - c12 * c12
    length = abs(p3 - p0)
    third = length / 3
    if abs(det) > 1e-12:
        left, right = (x1 * c22 - x2 * c12) / det, (c11 * x2 - c12 * x1) / det
    else:
        left = right = third
    least = 1e-6 * max(length, 1e-9)
    if left < least or right < least:
        left = right = max(third, 1e-9)
    return p0, p0 + start * left, p3 + end * right, p3


def _dot(one: complex, other: complex) -> float:
    return one.real * other.real + one.imag * other.imag


def _at(curve: tuple[complex, ...], weights: Weights) -> Any:
    return weights[0] * curve[0] + weights[1] * curve[1] + weights[2] * curve[2] + weights[3] * curve[3]


def _stray(curve: tuple[complex, ...], points: Any, middles: Any, weights: Weights, u: Any) -> tuple[float, int, Any]:
    """How far the curve strays from points and the middles of their chords, where most, and from each point."""
    import numpy as np

    away = _at(curve, weights) - points
    far = np.abs(away)
    between = np.abs(_at(curve, _weights((u[1:] + u[:-1]) / 2)) - middles)
    worst = int(far.argmax())
    # A chord lies inside its arc by as much as it was flattened; that is no straying.
    return max(float(far[worst]), float(between.max()) - 0.005) + THIN_MM, worst, away


def _reparameterise(curve: tuple[complex, ...], away: Any, u: Any) -> Any:
    """Parameters moved nearer to each point by one step of Newton's.

    Args:
        away: from each point to the curve at its parameter.
    """
    import numpy as np

    d1 = [3 * (b - a) for a, b in itertools.pairwise(curve)]
    d2 = [2 * (b - a) for a, b in itertools.pairwise(d1)]
    v = 1 - u
    first = v * v * d1[0] + 2 * u * v * d1[1] + u * u * d1[2]
    second = v * d2[0] + u * d2[1]
    turned = first.conj()
    over = (turned * away).real
    under = (turned * first).real + (away.conj() * second).real
    flat = np.abs(under) <= 1e-12
    under[flat], over[flat] = 1.0, 0.0
    moved = np.clip(u - over / under, 0.0, 1.0)
    moved[0], moved[-1] = 0.0, 1.0
    return np.maximum.accumulate(moved)
