"""Outlines and affine maps over a catalogue of sample shapes, against shapely."""

from __future__ import annotations

import math

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.length import make_length
from dechirer.core.shape.affine import Affine, mirror_x, rotate_quarter, translate
from dechirer.core.shape.outline import (
    Box,
    area,
    bounds,
    distance_outside,
    distance_to_edge,
    is_inside,
    is_rectangle,
    outlines_overlap,
    path_length,
    rectangle,
)

CATALOGUE = {
    "card": rectangle(127.0, 177.8),
    "moved": rectangle(30.0, 20.0, at=(90.0, 160.0)),
    "tiny": rectangle(0.02, 0.01, at=(5.0, 5.0)),
    "huge": rectangle(5000.0, 9000.0, at=(-100.0, -100.0)),
    "triangle": ((0.0, 0.0), (80.0, 10.0), (20.0, 60.0)),
    "arrow": ((0.0, 0.0), (100.0, 0.0), (50.0, 40.0), (100.0, 80.0), (0.0, 80.0)),
    "sliver": ((0.0, 0.0), (200.0, 0.001), (200.0, 0.002)),
    "disc": tuple((60 + 40 * math.cos(a / 30 * math.tau), 60 + 40 * math.sin(a / 30 * math.tau)) for a in range(30)),
}
PLACES = [(x, y) for x in (-5.0, 0.0, 5.005, 25.0, 60.0, 100.0, 126.9) for y in (-3.0, 5.005, 40.0, 79.0, 170.0)]

numbers = st.floats(-500, 500, allow_nan=False)
maps = st.builds(
    Affine,
    st.floats(0.2, 3),
    numbers.map(lambda n: n / 500),
    numbers.map(lambda n: n / 900),
    st.floats(0.5, 3),
    numbers,
    numbers,
)


@pytest.mark.parametrize("name", list(CATALOGUE))
def test_area_and_length_agree_with_shapely(name: str) -> None:
    ring = CATALOGUE[name]
    polygon = shapely.Polygon(ring)
    assert area(ring) == pytest.approx(polygon.area, abs=1e-9)
    assert path_length(ring, closed=True) == pytest.approx(polygon.exterior.length)
    box = bounds(ring)
    assert (box.left, box.top, box.right, box.bottom) == pytest.approx(polygon.bounds)


@pytest.mark.parametrize("name", list(CATALOGUE))
@pytest.mark.parametrize("place", PLACES)
def test_inside_and_distances_agree_with_shapely(name: str, place: tuple[float, float]) -> None:
    ring, point = CATALOGUE[name], shapely.Point(place)
    polygon = shapely.Polygon(ring)
    edge = polygon.exterior.distance(point)
    assert distance_outside(ring, place) == pytest.approx(polygon.distance(point), abs=1e-9)
    assert distance_to_edge(ring, place) == pytest.approx(edge, abs=1e-9)
    if edge > 1e-9:
        assert is_inside(ring, place) == polygon.contains(point)


@pytest.mark.parametrize("first", list(CATALOGUE))
@pytest.mark.parametrize("second", list(CATALOGUE))
@pytest.mark.parametrize("gap", [0.0, 3.0])
def test_overlaps_agree_with_shapely(first: str, second: str, gap: float) -> None:
    one, other = CATALOGUE[first], CATALOGUE[second]
    polygons = shapely.Polygon(one), shapely.Polygon(other)
    if min(each.area for each in polygons) < 0.2:
        return  # thinner than any paper: not held to agree
    if gap:
        expected = polygons[0].distance(polygons[1]) < gap
        if is_rectangle(one) and is_rectangle(other):
            grown = bounds(one).grown(gap)
            expected = grown.overlaps(bounds(other))
    else:
        expected = polygons[0].intersection(polygons[1]).area > 1e-6
    assert outlines_overlap(one, other, gap=gap) == expected


@given(maps, maps, st.tuples(numbers, numbers))
def test_maps_follow_one_another(first: Affine, second: Affine, point: tuple[float, float]) -> None:
    assert first.then(second)(point) == pytest.approx(second(first(point)), abs=1e-6)
    assert first.then(second).determinant == pytest.approx(first.determinant * second.determinant, abs=1e-6)


@given(maps.filter(lambda each: abs(each.determinant) > 0.05), st.tuples(numbers, numbers))
def test_a_map_and_its_inverse_lead_back(map: Affine, point: tuple[float, float]) -> None:
    assert map.inverse()(map(point)) == pytest.approx(point, abs=1e-5)
    assert map(map.inverse()(point)) == pytest.approx(point, abs=1e-5)


@given(maps)
def test_areas_grow_by_the_determinant(map: Affine) -> None:
    ring = CATALOGUE["arrow"]
    assert area(map.all(ring)) == pytest.approx(abs(map.determinant) * area(ring), rel=1e-6)


def test_quarter_turns_and_mirrors() -> None:
    ring = rectangle(30.0, 10.0)
    turned = bounds(rotate_quarter(10.0).all(ring))
    assert (turned.left, turned.top, turned.width, turned.height) == pytest.approx((0, 0, 10, 30))
    assert rotate_quarter(10.0).turn_deg == pytest.approx(90)
    assert not rotate_quarter(10.0).is_mirrored
    assert mirror_x(30.0).is_mirrored
    assert mirror_x(30.0).then(mirror_x(30.0)) == Affine()
    assert translate(2.0, 3.0)((1.0, 1.0)) == (3.0, 4.0)
    with pytest.raises(ZeroDivisionError):
        Affine(0.0, 0.0, 0.0, 0.0).inverse()


def test_boxes() -> None:
    box = Box(0.0, 0.0, 10.0, 5.0)
    assert box.holds(Box(0.0, 0.0, 10.0, 5.0))
    assert not box.holds(Box(0.0, 0.0, 10.1, 5.0))
    assert not box.overlaps(Box(10.0, 0.0, 20.0, 5.0))  # touching
    assert box.overlaps(Box(9.0, 4.0, 20.0, 9.0))
    assert box.moved(1.0, 2.0) == Box(1.0, 2.0, 11.0, 7.0)
    with pytest.raises(ValueError, match=r"empty|arg|iterable"):
        bounds(())


@given(st.floats(0.01, 900), st.sampled_from(["in", "mm"]))
def test_round_lengths_are_at_most_the_value_and_near_it(mm: float, units: str) -> None:
    made = make_length(mm, units)
    step = 25.4 / 16 if units == "in" else 0.5
    assert mm - step <= made.mm <= mm + 1e-3
    assert made.typed.endswith("in" if units == "in" else "mm")
