"""Nesting: nothing overlaps, gaps are held, all is inside, judged by shapely; the same seed gives the same layout."""

from __future__ import annotations

import json
import math
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
import shapely
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from dechirer.cli import command
from dechirer.core.audit import audit
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, read_job_json, write_job_json
from dechirer.core.lay.closer import Ask, as_closer, keep_closer, least_sheets
from dechirer.core.lay.decisions import Pin
from dechirer.core.lay.lay import asks_for
from dechirer.core.lay.nesting.search import Nested, Nester
from dechirer.core.lay.nesting.worker import look_for, sheets_of, write_ask
from dechirer.core.plan import make_plan
from dechirer.core.press.station import PRESS
from dechirer.core.shape.affine import Points
from dechirer.demo import load_demo_job
from dechirer.formats.job.archive import write_archive
from tests.helpers import changed, examples, quick_job, typed

TURNS = (0, 1, 2, 3)


def box(width: float, height: float) -> Points:
    return ((0.0, 0.0), (width, 0.0), (width, height), (0.0, height))


def star(radius: float, points: int = 5, deep: float = 0.45) -> Points:
    return tuple(
        (
            radius * (1 if step % 2 == 0 else deep) * math.cos(step * math.pi / points),
            radius * (1 if step % 2 == 0 else deep) * math.sin(step * math.pi / points),
        )
        for step in range(2 * points)
    )


def placed(found: Nested, kinds: list[tuple[tuple[Points, ...], tuple[int, ...]]]) -> list[list[shapely.Polygon]]:
    """The pieces where they lie, turned and moved by shapely alone."""
    sheets = []
    for sheet in found.sheets:
        own = []
        for put in sheet:
            outer, *holes = kinds[put.kind][0]
            shape = shapely.affinity.rotate(shapely.Polygon(outer, holes), 90 * put.turn, origin=(0, 0))
            left, top, *_ = shape.bounds
            own.append(shapely.affinity.translate(shape, put.x - left, put.y - top))
        sheets.append(own)
    return sheets


def assert_sound(found: Nested, kinds: list, counts: list[int], width: float, height: float, gap: float) -> None:
    room = shapely.box(-1e-6, -1e-6, width + 1e-6, height + 1e-6)
    seen = [0] * len(counts)
    for sheet, shapes in zip(found.sheets, placed(found, kinds), strict=True):
        for put in sheet:
            seen[put.kind] += 1
        for number, shape in enumerate(shapes):
            assert room.covers(shape)
            for other in shapes[number + 1 :]:
                assert shape.distance(other) >= gap - 0.005
                assert not shape.overlaps(other)
    assert seen == counts


@pytest.mark.parametrize("gap", [0.0, 0.5, 3.0, 3.175])
def test_odd_shapes_lie_close_and_apart(gap: float) -> None:
    kinds = [((star(30.0),), TURNS), ((star(18.0, 3, 0.6),), TURNS), ((box(60.0, 25.3),), TURNS)]
    counts = [4, 6, 5]
    *_, best = Nester(kinds, counts, 200.0, 150.0, gap, seed=3).run(25)
    assert_sound(best, kinds, counts, 200.0, 150.0, gap)


def test_a_small_piece_lies_in_a_large_window() -> None:
    frame = (box(100.0, 100.0), tuple((x + 10, y + 10) for x, y in box(80.0, 80.0)))
    kinds = [(frame, (0,)), ((box(70.0, 70.0),), (0,))]
    best, *_ = Nester(kinds, [1, 1], 104.0, 104.0, 3.0).run(0)
    assert len(best.sheets) == 1
    assert_sound(best, kinds, [1, 1], 104.0, 104.0, 3.0)
    *_, two = Nester([((box(100.0, 100.0),), (0,)), kinds[1]], [1, 1], 104.0, 104.0, 3.0).run(3)
    assert len(two.sheets) == 2


@examples(12)
@given(
    st.lists(st.tuples(st.floats(8, 90), st.floats(8, 90), st.integers(1, 4)), min_size=1, max_size=6),
    st.sampled_from([0.0, 1.0, 3.175]),
)
def test_any_rectangles_are_placed_once_each(sizes: list[tuple[float, float, int]], gap: float) -> None:
    kinds = [((box(wide, high),), TURNS) for wide, high, _ in sizes]
    counts = [count for _, _, count in sizes]
    *_, best = Nester(kinds, counts, 180.0, 120.0, gap).run(5)
    assert_sound(best, kinds, counts, 180.0, 120.0, gap)


def test_the_same_seed_gives_the_same_layout() -> None:
    random = np.random.default_rng(2)
    kinds = [((star(float(random.uniform(10, 30)), 4),), TURNS) for _ in range(8)]
    one, other = (list(Nester(kinds, [2] * 8, 150.0, 150.0, 3.0, seed=7).run(15)) for _ in range(2))
    assert one == other
    assert [each.needs for each in one] == sorted((each.needs for each in one), reverse=True)


def test_a_piece_larger_than_the_room_is_refused() -> None:
    with pytest.raises(ValueError, match="larger than the room"):
        Nester([((box(200.0, 20.0),), TURNS)], [1], 150.0, 150.0, 3.0)


# --- closer layouts in a job -------------------------------------------------------------------------------------


def closer_job(name: str = "stack", rounds: int = 10) -> tuple[Job, Job]:
    """A demo as it is, and with a closer layout of each of its papers."""
    job = load_demo_job(name)
    lay = job.lay
    for ask in asks_of(job):
        *_, best = look_for(ask, rounds)
        lay = replace(lay, closer=keep_closer(lay, as_closer(ask, sheets_of(best))))
    return job, apply_changes(job, [Change("lay.closer", lay.closer)])


def asks_of(job: Job) -> list[Ask]:
    pieces = make_plan(job).part(PRESS).pieces
    return list(asks_for(pieces, job.brief.papers, job.lay, job.brief.machine))


def sheets_needed(job: Job) -> int:
    return sum(layout.repeats for layout in make_plan(job).lay.layouts)


def test_a_closer_layout_is_used_while_the_job_is_what_it_was_found_for() -> None:
    before, after = closer_job()
    assert sheets_needed(after) < sheets_needed(before)
    plan = make_plan(after)
    assert audit(plan, again=True) == ()
    assert not plan.stops
    assert read_job_json(write_job_json(after)) == after
    # Another count, another spacing: what was found is for something else, and the boxes of before are laid.
    more = changed(after, brief__count=after.brief.count + 3)
    assert sheets_needed(more) == sheets_needed(changed(before, brief__count=before.brief.count + 3))
    assert sheets_needed(changed(more, brief__count=after.brief.count)) == sheets_needed(after)
    # What is put down by hand goes before.
    layout = next(each for each in plan.lay.layouts if each.paper == "chalk")
    pin = Pin("chalk", 0, layout.placements[0].piece.id, 20.0, 20.0)
    pinned = make_plan(changed(after, lay__pins=(pin,)))
    assert any(placed.pinned for each in pinned.lay.layouts for placed in each.placements)


def test_a_layout_that_does_not_hold_is_not_used() -> None:
    """A job from strangers: its seal is right, but pieces lie on each other, outside, or are missing."""
    before, after = closer_job()
    for spoil in (
        lambda lain: replace(lain, x=12.0, y=12.0),
        lambda lain: replace(lain, x=2000.0),
        lambda lain: replace(lain, piece="base"),
    ):
        spoiled = tuple(
            replace(each, sheets=tuple(tuple(spoil(lain) for lain in sheet) for sheet in each.sheets))
            for each in after.lay.closer
        )
        job = apply_changes(after, [Change("lay.closer", spoiled)])
        assert sheets_needed(job) == sheets_needed(before)


def test_the_bound_is_one() -> None:
    for name in ("stack", "gate", "places"):
        job = load_demo_job(name)
        plan = make_plan(job)
        for ask in asks_of(job):
            mats = [each for each in plan.lay.layouts if (each.paper, each.face) == (ask.paper, ask.face)]
            assert 1 <= least_sheets(ask) <= sum(each.repeats for each in mats)
    # 48 pieces of 3.5 x 4 in with 1/8 in between, on letter sheets less 1/8 in all round: six to a sheet by area too.
    (ask,) = asks_of(load_demo_job("places"))
    assert least_sheets(ask) == math.ceil(48 * 3.625 * 4.125 / (8.375 * 10.875))


def test_a_process_of_its_own_finds_the_same() -> None:
    ask = next(each for each in asks_of(load_demo_job("stack")) if len(each.outlines) > 1)
    line = write_ask(ask, 3) + "\n"
    done = subprocess.run(
        [sys.executable, "-m", "dechirer.core.lay.nesting.worker"],
        input=line,
        capture_output=True,
        text=True,
        timeout=120,
        check=True,
    )
    *told, last = done.stdout.splitlines()
    assert last == '{"over": true}'
    assert len(told) == len(list(look_for(ask, 3)))


def test_the_command_line_looks_for_a_closer_lay(tmp_path: Path) -> None:
    path = tmp_path / "stack.dechirer"
    write_archive(path, load_demo_job("stack"))
    said = CliRunner().invoke(command, ["plan", str(path), "--closer", "5", "--out", str(tmp_path / "out"), "--json"])
    assert said.exit_code == 0, said.output
    totals = json.loads(said.stdout)["totals"]
    assert totals["sheets"] < sheets_needed(load_demo_job("stack"))
    assert "at least" in said.stderr


def test_nothing_is_looked_for_where_a_piece_does_not_go_at_all(tmp_path: Path) -> None:
    """A piece larger than its sheet is told by a check; the search leaves its paper alone, and nothing breaks."""
    job = typed(quick_job("5x7in", count=3), "brief.papers.card.sheet", "8 x 9 in")
    assert asks_of(job) == []
    path = tmp_path / "large.dechirer"
    write_archive(path, job)
    said = CliRunner().invoke(command, ["plan", str(path), "--closer", "3", "--out", str(tmp_path / "out")])
    assert said.exit_code == 1
    assert "does not fit on its sheet" in said.stderr
