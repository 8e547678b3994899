"""Machines take files in their own ways: origin, direction, units, and a size that a test square puts right."""

from __future__ import annotations

import io
import re

import pytest
import svgelements
from msgspec.structs import replace

from dechirer.core.brief.files import CORNERS, FilesTaken, correction, counted, mended_origin, square_side, told_by
from dechirer.core.brief.machine import load_machines
from dechirer.core.decide.refusal import FieldError
from dechirer.core.job.edit import show_field
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.devices.cut_rehearsal import rehearse
from dechirer.devices.cutter_files import Counting, read_plotter, read_svg
from dechirer.formats.outputs.mat_dxf import write_mat_dxf
from dechirer.formats.outputs.mat_svg import write_mat_svg
from dechirer.formats.test_square import write_square_plt, write_square_svg
from tests.helpers import attached, changed, quick_job, typed

HERON = load_machines()["heron-12"]
PX_PER_MM = 96 / 25.4
WAYS = [(corner, turned) for corner in CORNERS for turned in (False, True)]


def taking(**files: object) -> Job:
    machine = replace(HERON, files=FilesTaken(**files))  # type: ignore[arg-type]
    return changed(attached(quick_job("5x7in", liner="1/16"), "window"), brief__machine=machine)


@pytest.mark.parametrize(("corner", "turned"), WAYS)
def test_a_plotter_that_counts_from_any_corner_cuts_what_was_planned(corner: str, turned: bool) -> None:
    found = rehearse(make_plan(taking(origin=corner, turned=turned, per_mm=39.37)), runs=0)
    assert found.troubles == ()
    assert any(name.endswith(".plt") for name, _ in found.nominal)


@pytest.mark.parametrize(("corner", "turned"), WAYS)
def test_where_a_corner_of_the_mat_is_counted(corner: str, turned: bool) -> None:
    """By hand: the corner itself is 0, 0; what lies 30 mm across and 10 mm down from it is (30, 10), or (10, 30)."""
    wide, high = 200.0, 300.0
    x, y = wide * ("right" in corner), high * ("bottom" in corner)
    map = counted(FilesTaken(origin=corner, turned=turned), wide, high)  # type: ignore[arg-type]
    assert map((x, y)) == pytest.approx((0.0, 0.0))
    inward = (x + 30 * (1 if x == 0 else -1), y + 10 * (1 if y == 0 else -1))
    assert map(inward) == pytest.approx((10.0, 30.0) if turned else (30.0, 10.0))


def test_a_machine_that_draws_small_cuts_true_once_its_square_was_measured() -> None:
    """A square of 100 mm that measured 99.6 by 100.2."""
    across, down = correction(100, 99.6), correction(100, 100.2)
    plan = make_plan(taking(across=across, down=down))
    assert rehearse(plan, runs=0).troubles == ()
    layout = plan.run.mats[0].layout
    svg = write_mat_svg(layout, plan).decode()
    assert "times as large" in svg
    true = make_plan(taking())
    real = sizes(write_mat_svg(layout, true).decode())
    for name, (wide, high) in sizes(svg).items():
        assert wide / real[name][0] == pytest.approx(100 / 99.6, abs=1e-5)
        assert high / real[name][1] == pytest.approx(100 / 100.2, abs=1e-5)
    assert write_mat_dxf(layout, plan) == write_mat_dxf(layout, true)  # DXF is for other programs, and stays true


def sizes(text: str) -> dict[str, tuple[float, float]]:
    """Boxes of outlines in mm, by an SVG library."""
    found = {}
    for path in svgelements.SVG.parse(io.StringIO(text)).select(
        lambda each: isinstance(each, svgelements.Path) and str(each.id).endswith("outline")
    ):
        left, top, right, bottom = path.bbox()
        found[path.id] = ((right - left) / PX_PER_MM, (bottom - top) / PX_PER_MM)
    return found


def test_without_the_correction_the_simulated_machine_cuts_it_too_small() -> None:
    machine = replace(HERON, files=FilesTaken(across=1.005, down=1.005))
    plan = make_plan(taking())
    layout = plan.run.mats[0].layout
    text = write_mat_svg(layout, plan).decode()  # written for a machine that draws true
    draws = Counting(layout.sheet.mat.width, layout.sheet.mat.height, draws=(1 / 1.005, 1 / 1.005))
    assert draws.draws[0] < 1
    whole = read_svg(text, "a.svg").strokes[-1].points
    assert (whole.max(0) - whole.min(0))[0] / machine.files.across < (whole.max(0) - whole.min(0))[0]


def test_svg_in_one_colour_keeps_its_operations_apart_by_groups() -> None:
    plan = make_plan(taking(one_colour=True))
    text = write_mat_svg(plan.run.mats[0].layout, plan).decode()
    assert set(re.findall(r'stroke="(#\w+)"', text)) == {"#000000"}
    assert set(re.findall(r'data-operation="(\w+)"', text)) == {"cut", "score"}


@pytest.mark.parametrize("corner", list(CORNERS))
def test_the_square_is_100_mm_in_both_files_and_its_triangle_upper_left(corner: str) -> None:
    machine = replace(HERON, files=FilesTaken(origin=corner, across=1.1, down=0.9))  # type: ignore[arg-type]
    assert square_side(machine.reach) == 100.0
    svg = read_svg(write_square_svg(machine).decode(), "a.svg").strokes
    plt = read_plotter(
        write_square_plt(machine).decode(), "a.plt", Counting(machine.mat_width, machine.mat_height, corner), ("cut",)
    ).strokes
    for square, tick in (svg, plt):
        low, high = square.points.min(0), square.points.max(0)
        assert high - low == pytest.approx([100.0, 100.0], abs=0.026)
        middle = tick.points.mean(0) - (low + high) / 2
        assert (middle < -20).all()  # left of the middle and above it
    path = next(
        iter(
            svgelements.SVG.parse(io.BytesIO(write_square_svg(machine))).select(
                lambda each: isinstance(each, svgelements.Path) and each.id == "square"
            )
        )
    )
    left, top, right, bottom = path.bbox()
    assert ((right - left) / PX_PER_MM, (bottom - top) / PX_PER_MM) == pytest.approx((100.0, 100.0), abs=1e-3)


def test_what_two_sides_say() -> None:
    assert told_by(100, 100.04, 99.97) == "It draws true."
    assert correction(100, 100.04) == 1.0
    assert "+0.40 % across, −0.20 % down" in told_by(100, 100.4, 99.8)
    assert "96 units to the inch as if they were 72" in told_by(100, 133.3, 133.4)  # 96 / 72
    assert correction(100, 133.33) == pytest.approx(0.75, abs=1e-4)
    assert "taken for others" in told_by(100, 110, 110)
    for wrong in (10.0, 300.0):
        with pytest.raises(ValueError, match="measure once more"):
            correction(100, wrong)


@pytest.mark.parametrize(
    ("tick", "wanted"),
    [
        ("top-left", "bottom-left"),
        ("top-right", "bottom-right"),
        ("bottom-left", "top-left"),
        ("bottom-right", "top-right"),
    ],
)
def test_where_the_triangle_was_cut_tells_where_the_machine_counts_from(tick: str, wanted: str) -> None:
    """Cut by a machine that really counts from `wanted` from a file that counts from the lower left."""
    assert mended_origin("bottom-left", tick) == wanted  # type: ignore[arg-type]
    text = write_square_plt(HERON).decode()
    _, real = read_plotter(text, "a.plt", Counting(HERON.mat_width, HERON.mat_height, wanted), ("cut",)).strokes
    square, _ = read_plotter(text, "a.plt", Counting(HERON.mat_width, HERON.mat_height, wanted), ("cut",)).strokes
    away = real.points.mean(0) - square.points.mean(0)
    assert ("right" in tick) == (away[0] > 0)
    assert ("bottom" in tick) == (away[1] > 0)


def test_bad_values_are_refused_by_name() -> None:
    job = taking()
    for text in ("0", "9999", "many"):
        with pytest.raises(FieldError):
            typed(job, "brief.machine.files.per_mm", text)
    assert show_field(job, "brief.machine.files.per_mm") == "40"
