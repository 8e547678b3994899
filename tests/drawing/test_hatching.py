"""Strokes within an area, against a geometry library that is not ours."""

from __future__ import annotations

import math

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.shape.affine import Points
from dechirer.core.shape.silhouettes import circle
from dechirer.drawing.scenes.hatching import hatch
from tests.helpers import examples


def star(points: int, inner: float, outer: float, at: tuple[float, float]) -> Points:
    return tuple(
        (
            at[0] + (outer if n % 2 else inner) * math.cos(math.pi * n / points),
            at[1] + (outer if n % 2 else inner) * math.sin(math.pi * n / points),
        )
        for n in range(2 * points)
    )


@given(
    st.integers(3, 40), st.floats(4, 20), st.floats(25, 60), st.floats(-50, 50), st.floats(-50, 50), st.floats(0.8, 8)
)
@examples(60)
def test_strokes_fill_an_area_and_leave_its_holes(
    points: int, inner: float, outer: float, x: float, y: float, apart: float
) -> None:
    ring, hole = star(points, inner, outer, (x, y)), circle((x, y), inner / 4)
    area = shapely.Polygon(ring, [hole])
    strokes = hatch((ring, hole), apart)
    inside = area.buffer(1e-6)
    assert all(inside.covers(shapely.LineString(stroke)) for stroke in strokes)
    # Each stands for a strip as broad as they are apart: together they are the area, but for what a strip cuts short.
    broad = apart / math.sqrt(2)
    total = sum(math.dist(*stroke) for stroke in strokes) * broad
    assert total == pytest.approx(area.area, abs=broad * area.length)
    for (x0, y0), (x1, y1) in strokes:
        assert x0 + y0 == pytest.approx(x1 + y1, abs=1e-6)


def test_strokes_through_corners_and_along_edges_are_counted_once() -> None:
    square = ((0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0))
    diamond = ((5.0, 0.0), (10.0, 5.0), (5.0, 10.0), (0.0, 5.0))
    assert sum(math.dist(*stroke) for stroke in hatch((square,), 1.0)) == pytest.approx(math.sqrt(2) * 100)
    assert all(4.0 < sum(point) < 16.0 for stroke in hatch((diamond,), 1.0) for point in stroke)
    assert hatch((), 1.0) == hatch(((),), 1.0) == []
    assert hatch((((0.0, 0.0), (1.0, 1.0)),), 1.0) == []


def test_a_crossing_outline_is_filled_by_turns() -> None:
    bow = ((0.0, 0.0), (10.0, 10.0), (10.0, 0.0), (0.0, 10.0))
    inside = shapely.make_valid(shapely.Polygon(bow)).buffer(1e-6)
    assert all(inside.covers(shapely.LineString(stroke)) for stroke in hatch((bow,), 0.7))
