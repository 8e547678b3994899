"""Polylines refitted to curves: within the tolerance, corners kept, and far fewer segments."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.plan import make_plan
from dechirer.core.shape.curves import flatten
from dechirer.core.shape.fitting import FIT_MM, Segment, fit_path
from dechirer.demo import load_demo_job


def drawn(points: list[tuple[float, float]], closed: bool) -> tuple[shapely.LineString, list[Segment]]:
    """The fitted path, flattened finely again by way of its text."""
    start, segments = fit_path(points, closed=closed)
    words = [f"M {start[0]} {start[1]}"]
    for segment in segments:
        words.append(("L " if len(segment) == 1 else "C ") + " ".join(f"{x:.9f} {y:.9f}" for x, y in segment))
    return shapely.LineString(flatten(" ".join(words), 1e-3)[0].points), segments


def strays(points: list[tuple[float, float]], closed: bool) -> float:
    line = shapely.LineString([*points, points[0]] if closed else points)
    found, _ = drawn(points, closed)
    return max(shapely.hausdorff_distance(a, b, densify=0.05) for a, b in ((line, found), (found, line)))


def test_a_circle_is_a_few_curves() -> None:
    ring = [(x, y) for x, y in shapely.Point(0, 0).buffer(20, 64).exterior.coords[:-1]]
    found, segments = drawn(ring, True)
    assert len(segments) <= 12
    away = np.hypot(*np.asarray(found.coords).T)
    assert np.abs(away - 20).max() < FIT_MM


@pytest.mark.parametrize("corners", [4, 5, 8])
def test_corners_stay_corners(corners: int) -> None:
    ring = [(30 * math.cos(n / corners * math.tau), 30 * math.sin(n / corners * math.tau)) for n in range(corners)]
    dense = [(x, y) for x, y in shapely.segmentize(shapely.LinearRing(ring), 1.0).coords[:-1]]
    start, segments = fit_path(dense, closed=True)
    assert all(len(segment) == 1 for segment in segments)
    ends = [start, *(segment[-1] for segment in segments)]
    assert all(min(math.dist(corner, end) for end in ends) < 1e-6 for corner in ring)
    assert len(segments) == corners


@given(st.integers(0, 5000), st.floats(0.3, 4))
def test_rounded_outlines_are_followed_within_the_tolerance(seed: int, radius: float) -> None:
    random = np.random.default_rng(seed)
    turns = np.sort(random.uniform(0, math.tau, 9))
    radii = random.uniform(12, 40, 9)
    star = shapely.Polygon(np.column_stack([radii * np.cos(turns), radii * np.sin(turns)]))
    grown = shapely.buffer(star if star.is_valid else star.buffer(0), radius, quad_segs=24)
    for polygon in shapely.get_parts(grown):
        ring = [(x, y) for x, y in polygon.exterior.coords[:-1]]
        assert strays(ring, True) <= FIT_MM * 1.15
        assert len(fit_path(ring, closed=True)[1]) <= len(ring)


places = st.tuples(st.integers(-500, 500), st.integers(-500, 500)).map(lambda at: (at[0] / 10, at[1] / 10))


@given(st.lists(places, min_size=2, max_size=30, unique=True), st.booleans())
def test_any_polyline_is_followed(points: list[tuple[float, float]], closed: bool) -> None:
    if closed and len(points) < 3:
        return
    assert strays(points, closed) <= FIT_MM * 1.15


def test_the_demos_lines_become_a_third_of_the_segments() -> None:
    plan = make_plan(load_demo_job("kites"))
    before = after = 0
    for piece in plan.dress.pieces:
        for line in piece.lines:
            for path in line.paths:
                before += len(path)
                after += len(fit_path(path, closed=line.closed)[1])
                assert strays(list(path), line.closed) <= FIT_MM * 1.15, line.id
    assert after < before / 3
