from __future__ import annotations

import math
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.brief.machine import load_machines
from dechirer.core.plan import Plan, make_plan
from dechirer.core.run.toolpath import Stroke, order_strokes, path_time, path_times, straight_time, travel_length
from tests.helpers import changed, codes, finding, mended, quick_job

PACE = load_machines()["heron-12"].pace


def test_a_point_spares_the_changes_a_wheel_costs() -> None:
    # Common practice: a point sits beside the blade; a wheel always costs a change.
    job = quick_job("5x7in", count=3)
    both = changed(job, run__tools=("thin-card-blade", "creasing-point", "creasing-wheel"))
    assert make_plan(both).run.changes.value == 0
    wheel = changed(both, run__score_with="creasing-wheel")
    plan = make_plan(wheel)
    # Three mats, wheel then blade in one holder: the first wheel is set-up, five changes follow.
    assert plan.run.changes.value == 5
    assert plan.run.minutes.value - make_plan(both).run.minutes.value == pytest.approx(5 * PACE.change_tool_s / 60)


def test_order_of_passes_is_score_perforate_cut(demo_plan: Plan) -> None:
    for mat in demo_plan.run.mats:
        assert [each.operation for each in mat.passes] == ["score", "cut"]
        assert [each.tool.holder for each in mat.passes] == ["light holder", "driven holder"]
    mixed = changed(
        quick_job("4x5in", liner="1/8"), construct__liner__fold__kind="perforate", construct__liner__paper="card"
    )
    operations = [each.operation for mat in make_plan(mixed).run.mats for each in mat.passes]
    assert operations == ["score", "perforate", "cut"]


def test_inner_cuts_come_before_the_outline() -> None:
    plan = make_plan(changed(quick_job("3x4in", count=4), construct__fold__kind="ticks"))
    for mat in plan.run.mats:
        cuts = [step for step in mat.steps if step.operation == "cut"]
        outlines = [index for index, step in enumerate(cuts) if step.line.endswith("outline")]
        ticks = [index for index, step in enumerate(cuts) if not step.line.endswith("outline")]
        assert ticks
        assert max(ticks) < min(outlines)


def test_double_scoring_goes_over_each_fold_twice() -> None:
    job = quick_job("5x7in")
    once = make_plan(job)
    assert finding(once, "run.single-score").severity == "look"
    twice = mended(job, "run.single-score")
    assert "run.single-score" not in codes(twice)
    scores = [step for step in twice.run.mats[0].steps if step.operation == "score"]
    assert len(scores) == 2
    assert scores[0].path == tuple(reversed(scores[1].path))
    assert twice.run.mats[0].passes[0].length_mm == pytest.approx(2 * once.run.mats[0].passes[0].length_mm)


@pytest.mark.parametrize("number", [0, 1])
def test_a_tool_that_is_not_owned(number: int) -> None:
    job = changed(quick_job("5x7in"), run__tools=("thin-card-blade",))
    found = finding(make_plan(job), "run.tool-missing")
    assert "Creasing point is not among your tools" in found.title
    assert [mend.label for mend in found.mends] == ["Perforate the folds", "I have one"]
    assert "run.tool-missing" not in codes(mended(job, "run.tool-missing", number))


def test_a_wheel_asked_for_but_not_owned_gives_way_to_the_point() -> None:
    job = changed(quick_job("5x7in"), run__score_with="creasing-wheel")
    assert finding(make_plan(job), "run.tool-missing").mends[0].label == "Use the creasing point"
    assert mended(job, "run.tool-missing").run.choices[0].tool == "creasing-point"


def test_a_tool_no_holder_takes() -> None:
    job = changed(
        quick_job("2x3in", machine="wren-card"),
        run__tools=("thin-card-blade", "creasing-wheel"),
        run__score_with="creasing-wheel",
    )
    assert "No holder takes the single creasing wheel" in finding(make_plan(job), "run.tool-missing").title


@pytest.mark.parametrize(
    ("length", "seconds"),
    [
        (0, 0),
        (4.0, 2 * math.sqrt(4.0 / 900)),  # a triangle: speed is never reached
        (60.0, 60 / 60 + 60 / 900),  # a trapezoid: cruise and one ramp's worth more
    ],
)
def test_time_of_a_straight_run(length: float, seconds: float) -> None:
    assert straight_time(length, 60.0, 900.0) == pytest.approx(seconds)


def test_the_tool_stops_at_sharp_corners_only() -> None:
    square = ((0.0, 0.0), (100.0, 0.0), (100.0, 100.0))
    assert path_time(square, 60, PACE) == pytest.approx(2 * straight_time(100, 60, 900))
    bend = ((0.0, 0.0), (100.0, 0.0), (200.0, 10.0))
    assert path_time(bend, 60, PACE) == pytest.approx(straight_time(100 + math.hypot(100, 10), 60, 900))


spots = st.tuples(st.floats(0, 290), st.floats(0, 290))


@given(st.lists(st.tuples(spots, st.booleans()), min_size=1, max_size=14))
def test_the_path_visits_every_line_once_and_beats_drawing_order(lines: list[tuple[tuple[float, float], bool]]) -> None:
    strokes = []
    for index, ((x, y), closed) in enumerate(lines):
        ring = ((x, y), (x + 9, y), (x + 9, y + 5), (x, y + 5))
        strokes.append(Stroke(f"l{index}", "p", (ring if closed else ring[:2],), closed))
    ordered = order_strokes(strokes, (0.0, 0.0))
    assert sorted(stroke.line for stroke, _ in ordered) == sorted(stroke.line for stroke in strokes)
    for stroke, paths in ordered:
        assert set(paths[0]) == set(stroke.paths[0])
        assert (paths[0][0] == paths[0][-1]) == stroke.closed
    drawn = travel_length([stroke.begun(0) for stroke in strokes], (0.0, 0.0))
    assert travel_length([paths for _, paths in ordered], (0.0, 0.0)) <= drawn + 1e-6


def test_four_in_a_row_are_cut_in_a_row() -> None:
    strokes = [Stroke(str(x), "p", (((float(x), 0.0), (float(x), 50.0)),)) for x in (30, 10, 40, 20)]
    ordered = order_strokes(strokes, (0.0, 0.0))
    assert [stroke.line for stroke, _ in ordered] == ["10", "20", "30", "40"]
    # Up and down in turn: the way back is never travelled empty.
    assert travel_length([paths for _, paths in ordered], (0.0, 0.0)) == pytest.approx(10 + 30)


def test_eight_cards_on_one_machine_take_under_an_hour() -> None:
    # Common practice: eight cut cards, tool changes included, are done within the hour.
    assert make_plan(quick_job("4.25x5.5in", liner="1/16", count=8)).run.minutes.value < 60


def test_the_way_is_no_longer_than_a_plain_2_opt_on_the_lines_own_ends() -> None:
    """Against a 2-opt of the textbook kind (Croes 1958) written here; both stop at a local best, so that one of them
    may be a little luckier on a mat. On the middles of lines it was 3 to 93 % longer."""
    shares = []
    for seed in range(10):
        chance, lines = random.Random(seed), []
        for number in range(30):
            x, y, turn = chance.uniform(0, 280), chance.uniform(0, 280), chance.uniform(0, math.tau)
            lines.append(Stroke(f"l{number}", "p", (((x, y), (x + 25 * math.cos(turn), y + 25 * math.sin(turn))),)))
        ours = travel_length([paths for _, paths in order_strokes(lines, (0.0, 0.0))], (0.0, 0.0))
        shares.append(ours / plain_two_opt([stroke.paths[0] for stroke in lines]))
    assert sum(shares) / len(shares) <= 1.0
    assert max(shares) <= 1.06


def plain_two_opt(lines: list[tuple[tuple[float, float], ...]]) -> float:
    """The empty travel of segments ordered by nearest neighbour, then by 2-opt on their ends."""
    left, here, tour = [tuple(line) for line in lines], (0.0, 0.0), []
    while left:
        line = min(left, key=lambda each: min(math.dist(here, each[0]), math.dist(here, each[-1])))
        left.remove(line)
        line = line if math.dist(here, line[0]) <= math.dist(here, line[-1]) else line[::-1]
        tour.append(line)
        here = line[-1]

    def length(tour: list[tuple[tuple[float, float], ...]]) -> float:
        places = [(0.0, 0.0), *(end for line in tour for end in (line[0], line[-1]))]
        return sum(math.dist(places[index], places[index + 1]) for index in range(0, len(places) - 1, 2))

    best, better = length(tour), True
    while better:
        better = False
        for first in range(len(tour)):
            for last in range(first, len(tour)):
                turned = [*tour[:first], *(line[::-1] for line in reversed(tour[first : last + 1])), *tour[last + 1 :]]
                if length(turned) < best - 1e-9:
                    tour, best, better = turned, length(turned), True
    return best


def test_lines_gone_over_twice_end_where_they_begin_and_the_order_knows_it() -> None:
    """Three lines in a row, each gone over and back: the tool is left of each when it goes on, never right."""
    strokes = [Stroke(str(x), "p", (((float(x), 0.0), (x + 9.0, 0.0)),), returns=True) for x in (20, 0, 10)]
    ordered = order_strokes(strokes, (0.0, 0.0))
    paths = [paths for _, paths in ordered]
    assert [stroke.line for stroke, _ in ordered] == ["0", "10", "20"]
    assert travel_length(paths, (0.0, 0.0), returns=True) == pytest.approx(20)
    plan = make_plan(changed(quick_job("3x3in", count=6), run__score_passes=2))
    for mat in plan.run.mats:
        steps = [step for step in mat.steps if step.operation == "score"]
        for first, second, following in zip(steps[::2], steps[1::2], steps[2::2], strict=False):
            assert second.path == tuple(reversed(first.path))
            assert following.come_from == second.path[-1] == first.path[0]


@pytest.mark.parametrize("speed", [8.0, 60.0, 400.0])
def test_a_path_of_many_points_takes_as_long_as_its_straight_runs(speed: float) -> None:
    # A square staircase: 40 runs of 3 and 40 of 11 mm, each from rest to rest; some reach the speed and some do not.
    path: list[tuple[float, float]] = [(0.0, 0.0)]
    for _ in range(40):
        x, y = path[-1]
        path += [(x + 3.0, y), (x + 3.0, y + 11.0)]
    runs = 40 * (straight_time(3.0, speed, 900) + straight_time(11.0, speed, 900))
    assert path_time(tuple(path), speed, PACE) == pytest.approx(runs)


def test_the_times_of_many_paths_are_those_of_each() -> None:
    """By one reckoning for few points and by another for many; a point alone takes no time."""
    corner = ((0.0, 0.0), (30.0, 0.0), (30.0, 40.0))
    arc = tuple((50 * math.cos(n / 9), 50 * math.sin(n / 9)) for n in range(40))
    paths = [corner, arc, ((7.0, 7.0),), corner[::-1], ((1.0, 1.0), (1.0, 1.0)), arc[:3], *[corner] * 9]
    each = [path_time(path, 60, PACE) for path in paths]
    assert path_times(paths, 60, PACE) == pytest.approx(each)
    assert each[0] == pytest.approx(straight_time(30, 60, 900) + straight_time(40, 60, 900))
    assert each[2] == each[4] == 0.0
    assert path_times([((1.0, 1.0),)] * 99, 60, PACE) == (0.0,) * 99
