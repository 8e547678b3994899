"""Outline algebra against plain geometry and against second libraries: offsets, joins, webs, ties, flattening."""

from __future__ import annotations

import math

import numpy as np
import pyclipper
import pytest
import shapely
import svgelements
from hypothesis import example, given
from hypothesis import strategies as st
from scipy.sparse import csr_array
from scipy.sparse.csgraph import connected_components

from dechirer.core.plan import make_plan
from dechirer.core.shape.curves import PathError, Run, areas_of, cut_into_dashes, flatten, outline_of_lines
from dechirer.core.shape.webs import even_webs, find_narrow, grow, joining_offset, narrowest, opened, tie_islands
from tests.helpers import examples
from tests.jobs.made import GOOD

coordinates = st.floats(-80, 80, allow_nan=False, allow_infinity=False)


def blob(seed: int, corners: int = 40) -> shapely.Polygon:
    """A wavy outline about 100 mm across."""
    random = np.random.default_rng(seed)
    turns = np.linspace(0, math.tau, corners, endpoint=False)
    radii = 40 + 12 * np.sin(3 * turns + random.uniform(0, 6)) + random.uniform(-6, 6, corners)
    return shapely.Polygon(np.column_stack([radii * np.cos(turns), radii * np.sin(turns)]))


@given(st.lists(st.tuples(coordinates, coordinates), min_size=3, max_size=12), st.floats(0.1, 20))
def test_a_convex_outline_grows_by_steiners_formula(points: list[tuple[float, float]], by: float) -> None:
    hull = shapely.convex_hull(shapely.MultiPoint(points))
    if hull.geom_type != "Polygon" or hull.area < 1:
        return
    wanted = hull.area + hull.length * by + math.pi * by * by  # Steiner's formula, plain geometry
    # Round corners are chords within 0.01 mm of the arc, so the area falls short by at most that along the arcs.
    assert wanted - 0.01 * math.tau * by - 1e-6 <= grow(hull, by).area <= wanted + 1e-6


def test_offsets_agree_with_a_second_library_on_200_outlines() -> None:
    worst = 0.0
    for seed in range(200):
        outline = blob(seed)
        by = (-3.0, 0.5, 2.0, 8.0)[seed % 4]
        scale = 1e5
        offset = pyclipper.PyclipperOffset(2.0, 0.002 * scale)
        path = [(round(x * scale), round(y * scale)) for x, y in outline.exterior.coords[:-1]]
        offset.AddPath(path, pyclipper.JT_ROUND, pyclipper.ET_CLOSEDPOLYGON)
        theirs = shapely.union_all(
            [shapely.make_valid(shapely.Polygon(np.array(ring) / scale)) for ring in offset.Execute(by * scale)]
        )
        ours = grow(outline, by)
        worst = max(worst, shapely.symmetric_difference(ours, theirs).area / ours.area)
    assert worst < 0.0005


@pytest.mark.parametrize("by", [0.3, 1.0, 10.0, 60.0])
def test_round_joins_stay_within_a_hundredth_at_any_distance(by: float) -> None:
    corner = grow(shapely.Polygon([(0, 0), (10, 0), (0, 10)]), by)
    middles = shapely.get_coordinates(corner.exterior)
    middles = (middles[:-1] + middles[1:]) / 2
    away = shapely.distance(shapely.points(middles), shapely.Polygon([(0, 0), (10, 0), (0, 10)]))
    assert by - away.min() < 0.0101
    assert away.max() <= by + 1e-9


@given(st.integers(0, 10_000), st.integers(2, 14))
def test_the_least_joining_offset_is_half_the_longest_edge_of_the_spanning_tree(seed: int, count: int) -> None:
    random = np.random.default_rng(seed)
    shapes = [shapely.box(x, y, x + 4, y + 3) for x, y in random.uniform(0, 60, (count, 2))]
    gaps = shapely.distance(np.array(shapes)[:, None], np.array(shapes)[None, :])
    least = joining_offset(shapes)
    bridged = csr_array(gaps <= 2 * least + 1e-6)
    assert connected_components(bridged)[0] == 1
    if least > 1e-6:
        assert connected_components(csr_array(gaps <= 2 * least - 1e-6))[0] > 1
        assert len(shapely.get_parts(shapely.union_all([grow(s, least + 0.02) for s in shapes]))) == 1
        assert len(shapely.get_parts(shapely.union_all([grow(s, least - 0.02) for s in shapes]))) > 1


def measure_webs(parts: list[shapely.Polygon]) -> list[float]:
    """Every distance between neighbouring parts."""
    return [
        shapely.distance(one, other)
        for index, one in enumerate(parts)
        for other in parts[index + 1 :]
        if shapely.distance(one, other) < 4
    ]


@pytest.mark.parametrize("web", [0.8, 1.5, 2.5])
def test_relief_leaves_even_webs(web: float) -> None:
    kite = [
        shapely.Polygon(p)
        for p in (
            [(32, 2), (32, 30), (4, 30)],
            [(32, 2), (60, 30), (32, 30)],
            [(4, 30), (32, 30), (32, 82)],
            [(32, 30), (60, 30), (32, 82)],
        )
    ]
    frame, parts = even_webs(kite, web)
    whole = shapely.union_all(kite)
    for one, other in ((0, 1), (2, 3), (0, 2), (1, 3)):  # neighbours along an edge
        assert shapely.distance(parts[one], parts[other]) == pytest.approx(web, abs=0.02)
    for part in parts:
        assert shapely.distance(part, whole.exterior) == pytest.approx(web, abs=0.02)
    assert min(measure_webs(parts)) >= web - 0.02
    assert narrowest(frame, 3 * web) == pytest.approx(web, abs=0.02)
    assert shapely.union_all([frame, *parts]).symmetric_difference(whole).area < 0.5


def test_relief_of_parts_painted_over_each_other_keeps_the_upper_one() -> None:
    under, over = shapely.box(0, 0, 40, 40), shapely.Point(20, 20).buffer(10)
    _, (ring, disc) = even_webs([under, over], 2.0)
    assert disc.area == pytest.approx(math.pi * 81, rel=0.01)  # 10 less half a web
    assert shapely.distance(ring, disc) == pytest.approx(2.0, abs=0.02)


def test_relief_of_parts_with_a_gap_still_leaves_a_whole_web() -> None:
    _, parts = even_webs([shapely.box(0, 0, 20, 20), shapely.box(20.6, 0, 40, 20)], 2.0)
    assert shapely.distance(*parts) == pytest.approx(2.0, abs=0.02)


@given(st.floats(0.1, 1.9), st.floats(2, 30), st.floats(0, 360))
def test_a_narrow_web_is_found_and_measured(width: float, length: float, turn: float) -> None:
    left, right = shapely.box(-20 - length / 2, -10, -length / 2, 10), shapely.box(length / 2, -10, 20 + length / 2, 10)
    bar = shapely.box(-length / 2 - 1, -width / 2, length / 2 + 1, width / 2)
    shape = shapely.affinity.rotate(shapely.union_all([left, bar, right]), turn)
    found = find_narrow(shape, 2.0)
    assert [each.kind for each in found] == ["web"]
    assert found[0].width == pytest.approx(width, abs=1e-3)
    assert math.hypot(*found[0].at) < length / 2 + 2


@given(st.integers(0, 2000))
def test_nothing_wide_enough_is_called_narrow(seed: int) -> None:
    outline = opened(blob(seed), 1.05)
    assert not [each for each in find_narrow(outline, 2.0) if each.kind != "detail"]


def test_corners_that_are_only_sharp_are_no_trouble_but_needles_are() -> None:
    assert not find_narrow(shapely.box(0, 0, 20, 20), 1.0)
    assert not find_narrow(shapely.Polygon([(0, 0), (20, 0), (10, 17.3)]), 1.0)
    needle = shapely.union_all([shapely.box(0, 0, 20, 20), shapely.Polygon([(20, 9.8), (40, 10), (20, 10.2)])])
    assert [each.kind for each in find_narrow(needle, 1.0)] == ["tip"]
    speck = find_narrow(shapely.box(0, 0, 30, 0.5), 1.0)
    assert [(each.kind, round(each.width, 2)) for each in speck] == [("speck", 0.5)]


@given(st.integers(1, 5), st.integers(1, 4), st.floats(0.8, 3))
def test_ties_hold_every_island(islands: int, ties: int, width: float) -> None:
    holes = [shapely.Point(30 * number, 0).buffer(8) for number in range(islands)]
    opening = shapely.difference(shapely.box(-20, -20, 30 * islands, 20), shapely.union_all(holes))
    left, count = tie_islands(opening, width, ties)
    assert count == islands * ties
    paper = shapely.difference(shapely.box(-40, -40, 30 * islands + 20, 40), left)
    assert len([part for part in shapely.get_parts(paper) if part.area > 1]) == 1  # all of one piece
    assert narrowest(paper, width * 0.95) >= width * 0.93


def test_islands_within_islands_are_held_too() -> None:
    ring = shapely.Point(0, 0).buffer(30).difference(shapely.Point(0, 0).buffer(22))
    inner = shapely.Point(0, 0).buffer(15).difference(shapely.Point(0, 0).buffer(6))
    left, _ = tie_islands(shapely.union_all([ring, inner]), 1.5, 2)
    paper = shapely.difference(shapely.box(-40, -40, 40, 40), left)
    assert len(shapely.get_parts(paper)) == 1


# --- curves and fill rules ---------------------------------------------------------------------------------------


@given(st.lists(st.tuples(coordinates, coordinates), min_size=4, max_size=4), st.sampled_from([0.01, 0.1, 1.0]))
def test_flattened_curves_stay_within_the_tolerance(p: list[tuple[float, float]], tolerance: float) -> None:
    text = "M {} {} C {} {} {} {} {} {}".format(*(f"{v:.6f}" for point in p for v in point))
    run = flatten(text, tolerance)
    if not run:
        return
    curve = svgelements.CubicBezier(*(complex(*point) for point in p))
    exact = [curve.point(t / 200) for t in range(201)]
    line = shapely.LineString(run[0].points)
    assert max(line.distance(shapely.Point(each.x, each.y)) for each in exact) <= tolerance * 1.02 + 1e-4


def test_fill_rules_differ_where_a_star_crosses_itself() -> None:
    star = [(math.sin(turn), -math.cos(turn)) for turn in (math.tau * 2 * n / 5 for n in range(5))]
    nonzero, evenodd = (areas_of([Run(star, True)], rule) for rule in ("nonzero", "evenodd"))
    hull_less = shapely.union_all(
        shapely.get_parts(shapely.polygonize([shapely.unary_union(shapely.LinearRing(star))]))
    )
    assert nonzero.area == pytest.approx(hull_less.area)
    pentagon = nonzero.area - evenodd.area
    # The inner pentagon of a pentagram on the unit circle: its circumradius is 1 / phi^2, plain geometry.
    radius = ((math.sqrt(5) - 1) / 2) ** 2
    assert pentagon == pytest.approx(2.5 * radius**2 * math.sin(math.tau / 5), rel=1e-6)


@pytest.mark.parametrize(
    ("ways", "rule", "wanted"),
    [
        ((1, 1), "nonzero", 100),
        ((1, -1), "nonzero", 84),
        ((1, 1), "evenodd", 84),
        ((1, 1, 1), "evenodd", 88),
        ((1, -1, 1), "nonzero", 88),
        ((-1, -1, 1), "nonzero", 100),
    ],
)
def test_nested_rings_follow_the_fill_rule(ways: tuple[int, ...], rule: str, wanted: float) -> None:
    """Squares of 10, 4 and 2: what is inside is counted by turns, as SVG 1.1, section 11.3, has it."""
    rings = []
    for side, way in zip((10, 4, 2), ways, strict=False):
        half = side / 2
        ring = [(-half, -half), (half, -half), (half, half), (-half, half)]
        rings.append(Run(ring if way > 0 else ring[::-1], True))
    assert areas_of(rings, rule).area == pytest.approx(wanted)


def test_a_drawn_line_covers_its_width() -> None:
    covered = outline_of_lines([Run([(0.0, 0.0), (10.0, 0.0)], False)], 2.0, "round", "round")
    assert covered.area == pytest.approx(20 + math.pi, abs=0.05)
    assert outline_of_lines([Run([(0.0, 0.0), (10.0, 0.0)], False)], 2.0, "square").area == pytest.approx(24)


@given(st.lists(st.floats(0.5, 5), min_size=1, max_size=5), st.floats(5, 60))
@example([0.6], 18.0)  # the last gap ends at the line's end but for an error of rounding
def test_dashes_cover_what_their_pattern_says(dash: list[float], length: float) -> None:
    parts = cut_into_dashes([(0.0, 0.0), (length, 0.0)], False, dash)
    pattern = dash * (2 if len(dash) % 2 else 1)
    spots = np.cumsum(pattern * 200)
    for part in parts:
        middle = (part[0][0] + part[-1][0]) / 2
        assert np.searchsorted(spots, middle) % 2 == 0  # dashes lie at even places of the pattern


@pytest.mark.parametrize("text", ["M 0 0 L 1e9 0", "M 0 0 L nan 0", "M inf 0 L 0 0", "M 0 0 C 0 0 1e300 0 1 1"])
def test_points_that_are_no_place_on_paper_are_refused(text: str) -> None:
    with pytest.raises(PathError, match="a point lies"):
        flatten(text)


@examples(400)
@given(st.text(alphabet="MLCZ 0123456789.-e", max_size=60))
def test_any_text_is_a_path_or_is_refused(text: str) -> None:
    try:
        runs = flatten(text)
    except PathError as error:
        assert str(error)
    else:
        areas_of(runs, "nonzero")


def star_of(points: int, radius: float, inner: float) -> shapely.Polygon:
    """A star; five points with an inner radius of 0.382 of the outer have 36 degrees, as drawn in one line."""
    ring = [
        (
            (radius if corner % 2 == 0 else inner) * math.cos(math.pi * corner / points),
            (radius if corner % 2 == 0 else inner) * math.sin(math.pi * corner / points),
        )
        for corner in range(2 * points)
    ]
    return shapely.Polygon(ring)


def wedge(degrees: float, length: float) -> shapely.Polygon:
    half = math.radians(degrees) / 2
    return shapely.Polygon([(0, 0), (length, length * math.tan(half)), (length, -length * math.tan(half))])


@pytest.mark.parametrize("holds", [0.5, 0.8, 1.3, 2.0])
@pytest.mark.parametrize(("points", "inner"), [(5, 0.382), (6, 0.577), (8, 0.6), (12, 0.8)])
@pytest.mark.parametrize("radius", [8.0, 25.0, 80.0])
def test_a_corner_is_no_web(points: int, inner: float, radius: float, holds: float) -> None:
    assert find_narrow(star_of(points, radius, radius * inner), holds) == []


@pytest.mark.parametrize("degrees", [22, 25, 30, 36, 45, 60, 90, 120])
def test_triangles_of_any_angle_a_maker_cuts_are_no_trouble(degrees: float) -> None:
    for holds in (0.8, 1.5):
        assert find_narrow(wedge(degrees, 40), holds) == []


@pytest.mark.parametrize("degrees", [4, 8, 12, 16])
def test_a_needle_is_a_tip(degrees: float) -> None:
    (found,) = find_narrow(wedge(degrees, 60), 1.0)
    assert found.kind == "tip"
    assert found.width < 1.0


def test_a_finger_of_paper_is_still_a_detail_and_a_web_a_web() -> None:
    """A strip does not taper, whatever its end looks like."""
    body = shapely.box(0, 0, 20, 20)
    for finger in (shapely.box(19, 9, 32, 9.4), shapely.LineString([(19, 10), (30, 10)]).buffer(0.2)):
        (found,) = find_narrow(shapely.union_all([body, finger]), 1.3)
        assert (found.kind, found.width) == ("detail", pytest.approx(0.4, abs=0.02))
    both = shapely.union_all([body, shapely.box(19, 9, 32, 9.5), shapely.box(31, 0, 50, 20)])
    (found,) = find_narrow(both, 1.3)
    assert (found.kind, found.width) == ("web", pytest.approx(0.5, abs=0.01))


@pytest.mark.parametrize("apart", [9.98, 9.9, 9.7])
def test_a_neck_where_two_rounds_meet_is_as_narrow_as_its_chord(apart: float) -> None:
    """Two discs of 5 mm that just overlap are joined by their common chord, 2 sqrt(25 - (d/2)^2) (plain geometry)."""
    both = shapely.union(shapely.Point(0, 0).buffer(5, quad_segs=64), shapely.Point(apart, 0).buffer(5, quad_segs=64))
    chord = 2 * math.sqrt(25 - apart**2 / 4)
    found = find_narrow(both, chord + 0.3)
    assert [each.kind for each in found] == ["web"]
    assert found[0].width == pytest.approx(chord, abs=0.04)
    assert found[0].at == pytest.approx((apart / 2, 0.0), abs=0.05)
    assert find_narrow(both, chord - 0.1) == []


def test_letters_that_hang_together_by_a_hair_are_told() -> None:
    """Found by rehearsing: the words of two whole jobs tear, and nothing had said so."""
    for name, item in (("14", "word"), ("17", "letters")):
        plan = make_plan(GOOD[name]())
        assert [each.element for each in plan.findings if each.code == "dress.web-narrow"] == [item]
