"""The simulated cutter: good files come out as planned on a machine without faults; each mutation is named."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
import shapely
from click.testing import CliRunner

from dechirer.cli import command
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import load_demo_job
from dechirer.devices.cut_rehearsal import rehearse, write_files
from dechirer.devices.cutter import Faults, draw_faults, run_mat, run_place, trail
from dechirer.devices.cutter_files import Counting, read_cutter_file, read_plotter
from dechirer.formats.job.archive import write_archive
from dechirer.formats.knife import for_holder, with_overcut
from dechirer.formats.outputs.mat_plt import plot
from tests.helpers import attached, changed, quick_job
from tests.jobs.made import GOOD
from tests.jobs.made_printed import PRINTED_GOOD

JOBS: dict[str, Callable[[], Job]] = {**GOOD, **PRINTED_GOOD}
TEARS = ("14", "17")
"""Their letters hang together by less than their paper holds, which is what the rehearsal is for."""


@pytest.mark.parametrize("name", list(JOBS))
def test_every_whole_job_comes_out_as_planned_from_both_files(name: str) -> None:
    found = rehearse(make_plan(JOBS[name]()), runs=0)
    assert [why for why in found.troubles if "a web of it tore" not in why] == []
    assert all("tore" not in why for why in found.troubles) or name in TEARS
    for file, mat in found.nominal:
        grid = 0.025 if file.endswith(".plt") else 0.0
        for piece in mat.pieces:
            # Sizes within 0.02 mm, curves within 0.05, a plotter's grid besides.
            assert np.allclose(piece.size, piece.planned, atol=0.022 + grid), (file, piece.placement)
            assert piece.off <= 0.05 + grid


@pytest.mark.parametrize("demo", ["gate", "lock", "winners"])
def test_demo_jobs_come_out_as_planned(demo: str) -> None:
    assert rehearse(make_plan(load_demo_job(demo)), runs=0).troubles == ()


# --- mutations --------------------------------------------------------------------------------------------------


def with_window() -> Job:
    return attached(quick_job("5x7in", liner="1/16"), "window")


def mutated(tmp_path: Path, change: Callable[[str], str], kind: str = "svg") -> tuple[Plan, tuple[str, ...]]:
    plan = make_plan(with_window())
    write_files(plan, tmp_path)
    for path in (tmp_path / "mats").iterdir():
        if path.suffix != f".{kind}":
            path.unlink()
    layout = next(each for each in plan.lay.layouts if any(placed.piece.id == "base" for placed in each.placements))
    path = tmp_path / "mats" / f"{layout.id}.{kind}"
    text = path.read_text()
    assert change(text) != text
    path.write_text(change(text))
    return plan, rehearse(plan, runs=0, folder=tmp_path).troubles


def in_group(text: str, change: str) -> str:
    return text.replace('<g id="base-1"', f'<g transform="{change}" id="base-1"')


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda text: in_group(text, "scale(1.005)"), "mm wide, planned"),
        (lambda text: in_group(text, "translate(0.4 0)"), "beside its place"),
        (lambda text: in_group(text, "matrix(-1 0 0 1 266.7 0)"), "beside its place"),
        (lambda text: re.sub(r'\s*<path id="base-1-window".*?/>', "", text), "window” is missing"),
        (lambda text: re.sub(r'\s*<path id="base-1-fold".*?/>', "", text), "is missing"),
        (lambda text: re.sub(r'\s*<path id="base-1-outline".*?/>', "", text), "it is not cut free"),
        (lambda text: text.replace('data-operation="score"', 'data-operation="cut"', 1), "is missing"),
        (lambda text: text.replace('data-operation="cut"', 'data-operation="kiss"', 1), "not cut free"),
    ],
    ids=["scaled", "shifted", "mirrored", "window gone", "fold gone", "outline gone", "score cut", "cut kissed"],
)
def test_a_changed_file_is_named(tmp_path: Path, change: Callable[[str], str], words: str) -> None:
    _, troubles = mutated(tmp_path, change)
    assert any("base-1" in why and words in why for why in troubles), troubles


def test_a_changed_plotter_file_is_named(tmp_path: Path) -> None:
    _, troubles = mutated(tmp_path, lambda text: text.replace("SP1;", "SP2;", 1), "plt")
    assert any("missing" in why for why in troubles)


def test_what_is_run_after_a_piece_is_free_is_named(tmp_path: Path) -> None:
    def outline_first(text: str) -> str:
        blocks = re.findall(r"PU\d+,\d+;PD[^;]*;", text)
        head, tail = text.split(blocks[0])[0], text.rsplit(blocks[-1], 1)[1]
        return "\n".join([head, *reversed(blocks), tail])

    plan = make_plan(attached(quick_job("5x7in"), "window"))
    mat = next(each for each in plan.run.mats if any(placed.piece.id == "base" for placed in each.layout.placements))
    text = outline_first(plot(mat, plan.job.brief.machine).decode().replace("SP1;", "SP2;"))
    operations = tuple(each.operation for each in mat.passes)
    file = read_plotter(text, "a.plt", Counting(height=mat.layout.sheet.mat.height), operations)
    assert any("after it is cut free" in why for why in run_mat(mat.layout, file).loose)


# --- faults -----------------------------------------------------------------------------------------------------


def test_a_scale_error_and_a_kerf_show_in_the_sizes(tmp_path: Path) -> None:
    plan = make_plan(quick_job("4x4in", fold="flat"))
    write_files(plan, tmp_path)
    layout = plan.lay.layouts[0]
    file = read_cutter_file(tmp_path / "mats" / f"{layout.id}.svg")
    (piece,) = run_mat(layout, file, Faults(scale=1.002)).pieces
    assert piece.size == pytest.approx((101.6 * 1.002, 101.6 * 1.002), abs=1e-6)
    (piece,) = run_mat(layout, file, Faults(kerf=0.3)).pieces
    assert piece.size == pytest.approx((101.3, 101.3), abs=1e-6)
    (piece,) = run_mat(layout, file, Faults(right=1.5, down=-0.5)).pieces
    assert piece.moved == pytest.approx((1.5, -0.5))
    assert piece.troubles == ()


def test_the_spread_over_loads_is_that_of_the_profile() -> None:
    """Each way, the budget is the root of the squares of laying, of skew and of scale at that place (geometry)."""
    plan = make_plan(quick_job("5x7in", count=4))
    machine = plan.job.brief.machine
    found = rehearse(plan, runs=400)
    assert found.spread == pytest.approx(machine.laid_to, rel=0.2)
    places = np.array([run_place((150.0, 150.0), draw_faults(machine, seed)) for seed in range(2000)]) - 150.0
    lever = 150.0 * machine.laid_to / 300.0
    assert places.std(axis=0) == pytest.approx(np.hypot(machine.laid_to, lever), rel=0.1)
    assert rehearse(plan, runs=5).spread == rehearse(plan, runs=5).spread
    assert rehearse(plan, runs=5).spread != rehearse(plan, runs=5, seed=1).spread


@pytest.mark.parametrize("side", [10.0, 40.0])
def test_a_trailing_blade_is_allowed_for_by_the_plotter_file(side: float) -> None:
    """The blade's edge, dragged behind the holder along what the file says, runs along the line that was planned."""
    ring = ((0.0, 0.0), (side, 0.0), (side, side), (0.0, side), (0.0, 0.0))
    offset = 0.4
    edge = trail(np.array(for_holder(with_overcut(ring, True, 1.0), offset)), False, offset)
    square = shapely.LinearRing(ring)
    settled = edge[np.hypot(*(edge - ring[0]).T) > 2 * offset]
    assert shapely.distance(shapely.points(settled), square).max() < 0.06
    plain = trail(np.array(ring), False, offset)
    assert shapely.distance(shapely.points(plain), square).max() > 0.1  # without it corners are cut round
    assert shapely.distance(shapely.Point(side, side), shapely.LineString(edge)) < 0.06


def test_a_job_for_a_trailing_blade_comes_out_right_from_its_plotter_file() -> None:
    job = changed(with_window(), brief__machine__files_for_holder=True, brief__machine__blade_offset=0.3)
    plan = make_plan(job)
    mat = next(each for each in plan.run.mats if any(placed.piece.id == "base" for placed in each.layout.placements))
    text = plot(mat, job.brief.machine).decode()
    operations = tuple(each.operation for each in mat.passes)
    file = read_plotter(text, "a.plt", Counting(height=mat.layout.sheet.mat.height), operations)
    outline = max((each.points for each in file.strokes if each.operation == "cut"), key=lambda points: np.ptp(points))
    edge = trail(outline, False, 0.3)
    base = next(placed for placed in mat.layout.placements if placed.piece.id == "base")
    off = shapely.distance(shapely.points(edge), shapely.LinearRing(base.outline))
    assert np.quantile(off, 0.99) < 0.06


# --- the command ------------------------------------------------------------------------------------------------


def test_the_command_tells_each_file_and_what_would_spoil(tmp_path: Path) -> None:
    saved = tmp_path / "job.dechirer"
    write_archive(saved, GOOD["1 small"]())
    said = CliRunner().invoke(command, ["rehearse", str(saved), "--runs", "6"])
    assert said.exit_code == 0, said.output
    assert "mat-1.svg:" in said.output
    assert "slits that miss their corner" in said.output
    record = json.loads(CliRunner().invoke(command, ["rehearse", str(saved), "--json", "--runs", "2"]).stdout)
    assert {piece["state"] for file in record["files"] for piece in file["pieces"]} == {"free", "blank"}
    assert record["loads"] == 2


def test_the_command_refuses_what_cannot_be_run_and_names_what_is_wrong(tmp_path: Path) -> None:
    saved, out = tmp_path / "job.dechirer", tmp_path / "out"
    write_archive(saved, with_window())
    run = CliRunner()
    assert run.invoke(command, ["plan", str(saved), "--out", str(out)]).exit_code == 0
    assert run.invoke(command, ["rehearse", str(saved), "--files", str(out)]).exit_code == 0
    path = next((out / "mats").glob("*.svg"))
    path.write_text(path.read_text().replace("<path", '<path transform="scale(1.01)"'))
    wrong = run.invoke(command, ["rehearse", str(saved), "--files", str(out)])
    assert wrong.exit_code == 1
    assert "planned" in wrong.output
    path.write_text("not a drawing")
    assert run.invoke(command, ["rehearse", str(saved), "--files", str(out)]).exit_code == 2
    empty = run.invoke(command, ["rehearse", str(saved), "--files", str(tmp_path / "empty")])
    assert empty.exit_code == 2
    assert "no files of mats" in empty.output
