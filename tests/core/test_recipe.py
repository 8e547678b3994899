"""Recipes step by step: what each makes of an outline, measured."""

from __future__ import annotations

import itertools
import math

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.dress.drawn import Drawn, Part
from dechirer.core.dress.outline import items_of
from dechirer.core.dress.recipe import cook
from dechirer.core.dress.step import STEPS, Step, describe
from dechirer.core.dress.tidying import count_nodes, tidy
from dechirer.core.length import parse_length
from dechirer.core.shape.affine import Affine

BOX = shapely.box(0, 0, 30, 20)
RING = shapely.box(0, 0, 30, 20).difference(shapely.box(10, 6, 20, 14))
DISC = shapely.Point(40, 10).buffer(5, 32)


def step(kind: str, **more: object) -> Step:
    lengths = {name: parse_length(str(value)) if name in ("by", "to") else value for name, value in more.items()}
    return STEPS[kind].decisions(f"{kind}-1", **lengths)


def drawn(*areas: shapely.Polygon, lines: tuple[shapely.LineString, ...] = ()) -> Drawn:
    return Drawn((Part("cut", "#000000", areas, lines),))


def cooked(start: Drawn, *steps: Step, others: dict[str, Drawn] | None = None) -> Drawn:
    return cook(start, steps, others or {})


def remarks(done: Drawn) -> set[str]:
    return {remark.code for remark in done.remarks}


def test_every_kind_of_step_is_described_and_can_be_run_on_anything() -> None:
    for kind in STEPS.ids():
        assert STEPS[kind].about.endswith(".")
        assert describe(step(kind), {})
        for start in (Drawn(), drawn(BOX), drawn(RING, DISC), drawn(lines=(shapely.LineString([(0, 0), (9, 9)]),))):
            cooked(start, step(kind))


def test_a_border_of_the_outer_edge_leaves_holes_and_one_of_all_edges_does_not() -> None:
    outer = cooked(drawn(RING), step("border", by="2 mm")).areas[0]
    every = cooked(drawn(RING), step("border", by="2 mm", edges="all")).areas[0]
    assert outer.area == pytest.approx(BOX.area + 100 * 2 + math.pi * 4 - 80, abs=0.13)  # Steiner's formula
    assert shapely.Polygon(outer.interiors[0]).area == pytest.approx(80)
    assert shapely.Polygon(every.interiors[0]).area == pytest.approx(6 * 4)
    pointed = cooked(drawn(BOX), step("border", by="2 mm", corners="mitre")).areas[0]
    assert pointed.equals(shapely.box(-2, -2, 32, 22))


def test_items_have_borders_of_their_own_or_one_together() -> None:
    apart = drawn(shapely.box(0, 0, 10, 10), shapely.box(12, 0, 22, 10))
    assert len(cooked(apart, step("border", by="2 mm")).areas) == 1
    assert len(cooked(apart, step("border", by="2 mm", each=True)).areas) == 2


def test_a_border_gives_lines_a_body() -> None:
    line = shapely.LineString([(0, 0), (20, 0)])
    (area,) = cooked(drawn(lines=(line,)), step("border", by="1 mm")).areas
    assert area.area == pytest.approx(40 + math.pi, abs=0.07)


def test_merging_finds_the_least_border_and_says_it() -> None:
    done = cooked(drawn(shapely.box(0, 0, 10, 10), shapely.box(13, 0, 23, 10)), step("merge", by="0.1 mm"))
    assert len(done.areas) == 1
    assert "merged" in remarks(done)
    assert "1.50 mm" in done.remarks[0].words  # half of a gap of 3


def test_cutting_joining_and_what_does_not_touch() -> None:
    other = {"disc": drawn(shapely.Point(15, 10).buffer(4, 32)), "far": drawn(DISC)}
    hole = cooked(drawn(BOX), step("cut", of="disc", by="1 mm"), others=other)
    assert BOX.area - hole.areas[0].area == pytest.approx(math.pi * 25, rel=0.01)
    assert "apart" in remarks(cooked(drawn(BOX), step("cut", of="far", by="0 mm"), others=other))
    assert "apart" in remarks(cooked(drawn(BOX), step("join", of="far"), others=other))
    joined = cooked(drawn(BOX), step("join", of="disc"), others=other)
    assert len(joined.areas) == 1


def test_holes_outermost_and_items() -> None:
    start = drawn(RING, DISC, shapely.Point(15, 10).buffer(1))
    assert cooked(start, step("fill")).areas[0].equals(BOX)
    assert len(cooked(start, step("outermost")).areas) == 2
    assert items_of(cooked(start, step("item", count=2)))[0].equals(DISC)
    assert "few" in remarks(cooked(start, step("item", count=9)))


@given(st.integers(2, 24), st.floats(5, 60))
def test_repeats_close_evenly_round_a_circle(count: int, radius: float) -> None:
    dot = drawn(shapely.Point(0, 0).buffer(0.3))
    done = cooked(dot, step("repeat", count=count, by=f"{radius} mm"))
    assert len(done.areas) == count
    places = [area.centroid for area in done.areas]
    steps = [places[n].distance(places[(n + 1) % count]) for n in range(count)]
    assert max(steps) - min(steps) < 1e-6
    assert steps[0] == pytest.approx(2 * radius * math.sin(math.pi / count), abs=1e-6)  # plain geometry


def test_repeats_along_an_outline_are_evenly_spaced_and_turned() -> None:
    along = {"frame": drawn(shapely.box(0, 0, 60, 40))}
    mark = drawn(shapely.box(-2, -0.5, 2, 0.5))
    done = cooked(mark, step("repeat", count=20, of="frame"), others=along)
    ring = along["frame"].areas[0].exterior
    places = sorted(ring.project(area.centroid) for area in done.areas)
    gaps = [b - a for a, b in itertools.pairwise(places)]
    assert gaps == pytest.approx([10.0] * 19, abs=0.2)
    upright = cooked(mark, step("repeat", count=20, of="frame", each=True), others=along)
    assert all(area.bounds[2] - area.bounds[0] == pytest.approx(4) for area in upright.areas)


@given(st.lists(st.floats(2, 12), min_size=2, max_size=8), st.floats(60, 200))
def test_a_row_is_spread_by_equal_gaps_not_by_equal_centres(widths: list[float], length: float) -> None:
    left, boxes = 0.0, []
    for width in widths:
        boxes.append(shapely.box(left, 0, left + width, 5))
        left += width + 1
    done = cooked(drawn(*boxes), step("spread", by=f"{length} mm"))
    items = sorted(items_of(done), key=lambda item: item.bounds[0])
    if sum(widths) >= length:
        return
    gaps = [b.bounds[0] - a.bounds[2] for a, b in itertools.pairwise(items)]
    assert gaps == pytest.approx([gaps[0]] * len(gaps), abs=1e-6)
    assert items[-1].bounds[2] - items[0].bounds[0] == pytest.approx(length, abs=1e-6)


def test_rounding_mirroring_and_fitting() -> None:
    done = cooked(drawn(BOX), step("round", by="3 mm")).areas[0]
    assert BOX.area - done.area == pytest.approx((4 - math.pi) * 9, rel=0.02)  # plain geometry
    wedge = shapely.Polygon([(0, 0), (10, 0), (0, 20)])
    assert (
        cooked(drawn(wedge), step("mirror", side="left")).areas[0].equals(shapely.Polygon([(10, 0), (0, 0), (10, 20)]))
    )
    assert (
        cooked(drawn(wedge), step("mirror", side="top")).areas[0].equals(shapely.Polygon([(0, 20), (10, 20), (0, 0)]))
    )
    left, top, right, bottom = cooked(drawn(wedge), step("fit", by="40 mm", to="30 mm")).box()
    assert (right - left, bottom - top) == pytest.approx((15, 30))


@pytest.mark.parametrize("side", ["top", "bottom", "left", "right"])
def test_lifting_cuts_all_but_a_hinge_of_the_length_asked(side: str) -> None:
    done = cooked(drawn(shapely.Point(0, 0).buffer(20, 64)), step("lift", by="12 mm", side=side))
    (part,) = done.parts
    (cut,), (hinge,) = part.lines, part.folds
    assert not part.areas
    assert hinge.length == pytest.approx(12, abs=0.01)
    ends = {shapely.Point(cut.coords[0]), shapely.Point(cut.coords[-1])}
    assert all(hinge.distance(end) < 0.01 for end in ends)  # the cut stops where the hinge begins
    assert cut.length > math.pi * 20
    middle = hinge.centroid
    away = {"top": -middle.y, "bottom": middle.y, "left": -middle.x, "right": middle.x}[side]
    assert away == pytest.approx(math.sqrt(400 - 36), abs=0.05)  # plain geometry
    assert "no-hinge" in remarks(cooked(drawn(BOX), step("lift", by="50 mm", side=side)))


@pytest.mark.parametrize(("side", "long"), [("top", 30), ("bottom", 30), ("left", 20), ("right", 20)])
def test_a_hinge_may_be_as_long_as_the_whole_side(side: str, long: int) -> None:
    done = cooked(drawn(BOX), step("lift", by=f"{long} mm", side=side))
    assert "no-hinge" not in remarks(done)
    assert done.parts[0].folds[0].length == pytest.approx(long)


def test_bridges_hold_the_islands_of_an_opening() -> None:
    done = cooked(drawn(RING), step("bridge", by="1.5 mm", count=2))
    paper = shapely.difference(shapely.box(-10, -10, 40, 30), shapely.union_all(list(done.areas)))
    assert len(shapely.get_parts(paper)) == 1
    assert "no-islands" in remarks(cooked(drawn(BOX), step("bridge", by="1.5 mm")))


def test_steps_say_what_they_lose_and_break() -> None:
    dumbbell = shapely.union_all([shapely.box(0, 0, 10, 10), shapely.box(9, 4, 21, 6), shapely.box(20, 0, 30, 10)])
    assert "broken" in remarks(cooked(drawn(dumbbell), step("border", by="-1.5 mm", edges="all")))
    assert "lost" in remarks(cooked(drawn(BOX, shapely.box(40, 0, 41, 1)), step("border", by="-1 mm", edges="all")))
    assert "gone" in remarks(cooked(drawn(BOX), step("border", by="-20 mm", edges="all")))


def test_what_is_drawn_on_it_has_no_part_in_its_outline() -> None:
    inked = Drawn(
        (Part("cut", "#000000", (BOX,)), Part("pen", "#ff0000", (), (shapely.LineString([(0, 0), (60, 0)]),)))
    )
    done = cooked(inked, step("border", by="2 mm"))
    assert done.parts[0].areas[0].bounds == pytest.approx((-2, -2, 32, 22), abs=1e-6)
    assert done.parts[1].lines[0].length == pytest.approx(60)
    assert cooked(inked, step("fit", by="30 mm")).parts[1].lines[0].length == pytest.approx(
        30
    )  # all is scaled together


# --- tidying -----------------------------------------------------------------------------------------------------


def test_tidying_joins_doubles_closes_and_drops() -> None:
    lines = (
        shapely.LineString([(0, 0), (10, 0)]),
        shapely.LineString([(10.1, 0), (10, 10)]),
        shapely.LineString([(10, 10.1), (0, 10)]),
        shapely.LineString([(0, 10), (0, 0.1)]),
        shapely.LineString([(0, 0), (10, 0)]),
        shapely.LineString([(50, 50), (50.05, 50)]),
    )
    speck = shapely.box(70, 0, 70.1, 0.1)
    done, counts = tidy(drawn(shapely.box(30, 0, 40, 10), speck, lines=lines), 0.3)
    assert counts["lines before"] == 6
    assert counts["lines after"] == 0
    areas = sorted(area.area for area in done.areas)
    assert areas == pytest.approx([100, 100], abs=2.5)


@given(st.integers(40, 400))
def test_needless_nodes_go_and_the_outline_stays_within_a_fiftieth(count: int) -> None:
    circle = shapely.Point(0, 0).buffer(20, count // 4)
    dense = shapely.segmentize(circle, 0.3)
    done, counts = tidy(drawn(dense), 0.05)
    assert counts["nodes after"] < counts["nodes before"]
    assert shapely.hausdorff_distance(done.areas[0].exterior, dense.exterior) < 0.02
    assert count_nodes(done)["nodes"] == counts["nodes after"]


def test_moving_keeps_remarks_in_place() -> None:
    done = drawn(BOX).with_remark("few", "words", (1.0, 2.0)).moved(Affine(e=10))
    assert done.remarks[0].place == (11.0, 2.0)
