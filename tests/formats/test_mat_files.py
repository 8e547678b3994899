"""Mats as DXF, as plotter files and as pictures: the same lines at true size, read back by other libraries."""

from __future__ import annotations

import io
import re
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pytest
import shapely
from ezdxf import bbox, units
from ezdxf.path import make_path
from PIL import Image

from dechirer.core.brief.files import PLOTTER_PER_MM as UNITS_PER_MM
from dechirer.core.job.model import Job
from dechirer.core.lay.mat import MatLayout
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import load_demo_job
from dechirer.formats.export import export_plan
from dechirer.formats.output import OUTPUTS, OutputError
from dechirer.formats.outputs import mat_dxf, mat_plt, mat_svg
from dechirer.formats.outputs.mat_dxf import write_mat_dxf
from dechirer.formats.outputs.mat_plt import write_mat_plt
from dechirer.formats.outputs.mat_png import write_mat_png
from tests.helpers import attached, changed, quick_job

JOBS = ("dunes", "lock", "winners", "kites")


def drawn_in(document: Any, layer: str) -> Any:
    """All lines of a layer as ezdxf flattens them."""
    lines = []
    for entity in document.modelspace().query(f'*[layer=="{layer}"]'):
        points = [(point.x, point.y) for point in make_path(entity).flattening(0.002)]
        lines.append(shapely.LineString(points))
    return shapely.MultiLineString(lines)


def planned(layout: MatLayout, operation: str) -> Any:
    """The lines of an operation as the plan has them, y upwards."""
    high = layout.sheet.mat.height
    lines = [
        shapely.LineString([(x, high - y) for x, y in ((*path, path[0]) if line.closed else path)])
        for placed in layout.placements
        for line in placed.lines()
        if line.operation == operation
        for path in line.paths
    ]
    return shapely.MultiLineString(lines)


def far(one: Any, other: Any) -> float:
    points = shapely.points(shapely.get_coordinates(shapely.segmentize(one, 3.0)))[::3]
    return float(shapely.distance(points, other).max())


@pytest.mark.parametrize("demo", JOBS)
def test_a_dxf_holds_the_same_lines_in_mm(demo: str) -> None:
    plan = make_plan(load_demo_job(demo))
    layout = plan.lay.layouts[0]
    document = ezdxf.read(io.StringIO(write_mat_dxf(layout, plan).decode()))  # type: ignore[attr-defined]
    assert document.units == units.MM
    operations = {line.operation for placed in layout.placements for line in placed.piece.run_lines}
    layers = {layer.dxf.name.split("-")[0] for layer in document.layers} - {"0", "Defpoints", "DEFPOINTS"}
    assert layers == {operation.upper() for operation in operations}
    for operation in operations - {"pen", "foil"}:
        ours, theirs = planned(layout, operation), drawn_in(document, operation.upper())
        assert len(ours.geoms) <= len(theirs.geoms)
        assert far(ours, theirs) < 0.02
        assert far(theirs, ours) < 0.02
    box = bbox.extents(document.modelspace())
    assert box.extmax.x <= layout.sheet.mat.width + 1e-6
    assert box.extmin.y >= -1e-6


@pytest.mark.parametrize("demo", JOBS)
def test_a_plotter_file_holds_the_run_on_its_grid(demo: str) -> None:
    plan = make_plan(load_demo_job(demo))
    for mat in plan.run.mats[:2]:
        text = write_mat_plt(mat.layout, plan).decode("ascii")
        assert text.startswith("IN;")
        words = [word for word in text.replace("\n", "").split(";") if word]
        assert words[-2:] == ["PU", "SP0"]
        pens = [int(word[2:]) for word in words if word.startswith("SP")]
        assert pens == [*range(1, len(mat.passes) + 1), 0], "one pen for each pass, in their order"
        strokes = [word for word in words if word.startswith("PD")]
        assert len(strokes) == len(mat.steps)
        high = mat.layout.sheet.mat.height
        for step, stroke in zip(mat.steps, strokes, strict=True):
            numbers = np.array(stroke[2:].split(","), float).reshape(-1, 2) / UNITS_PER_MM
            there = (numbers[-1, 0], high - numbers[-1, 1])
            assert np.hypot(*np.subtract(there, step.path[-1])) <= 0.0178  # half a unit each way


def test_every_ring_of_a_window_with_a_middle_is_run() -> None:
    """A line of several closed paths is run path by path: inner rings were left out of the run."""
    from tests.jobs.made import job_2_window_with_foil_behind

    plan = make_plan(job_2_window_with_foil_behind())
    for mat in plan.run.mats:
        planned_paths = sum(len(line.paths) for placed in mat.layout.placements for line in placed.piece.run_lines)
        assert len(mat.steps) == planned_paths


def test_a_picture_has_the_shape_of_its_mat() -> None:
    plan = make_plan(load_demo_job("lock"))
    layout = plan.lay.layouts[0]
    picture = Image.open(io.BytesIO(write_mat_png(layout, plan)))
    assert picture.width / picture.height == pytest.approx(layout.sheet.mat.width / layout.sheet.mat.height, rel=0.01)
    assert len(np.unique(np.asarray(picture).reshape(-1, 3), axis=0)) > 10


def files_in(folder: Path) -> set[str]:
    return {str(path.relative_to(folder)) for path in folder.rglob("*") if path.is_file()}


def job_with(**more: Any) -> Job:
    return changed(attached(quick_job("5x7in"), "window"), **more)


def test_kinds_are_left_out_and_passes_written_apart_and_nothing_stale_stays(tmp_path: Path) -> None:
    export_plan(make_plan(job_with()), tmp_path)
    assert {f"mats/mat-1.{kind}" for kind in ("svg", "dxf", "plt", "png")} <= files_in(tmp_path)
    assert not any(name.startswith("passes") for name in files_in(tmp_path))
    export_plan(make_plan(job_with(run__skip=("dxf", "png"), run__split=True)), tmp_path)
    found = files_in(tmp_path)
    assert not any(name.endswith((".dxf", ".png")) for name in found)
    passes = sorted(name for name in found if name.startswith("passes"))
    assert passes == ["passes/pass-1-1.svg", "passes/pass-1-2.svg", "passes/pass-2-1.svg"]
    score = (tmp_path / passes[0]).read_text()
    assert 'data-operation="score"' in score
    assert 'data-operation="cut"' not in score
    export_plan(make_plan(job_with()), tmp_path)
    assert not any(name.startswith("passes") for name in files_in(tmp_path))


@pytest.mark.parametrize(
    ("kind", "spoil"),
    [
        ("svg", lambda content: content.replace(b"<path", b"<rect", 1)),
        ("svg", lambda content: content.replace(b'"304.8mm"', b'"300mm"', 1)),
        ("svg", lambda content: content.replace(b'd="M', b'd="M9999 0 L', 1)),
        ("plt", lambda content: content.replace(b"PD", b"PX", 1)),
        ("plt", lambda content: re.sub(rb"PU(\d)(\d+),", rb"PU9\2,", content)),
        ("dxf", lambda content: content.replace(b"\n  8\nCUT", b"\n  8\n0")),
    ],
)
def test_a_file_that_would_not_say_what_the_plan_says_is_not_written(
    kind: str, spoil: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    plan: Plan = make_plan(job_with())
    export_plan(plan, tmp_path)
    before = {name: (tmp_path / name).read_bytes() for name in files_in(tmp_path)}
    spec = OUTPUTS[f"mats/{{mat}}.{kind}"]
    check = {"svg": mat_svg, "plt": mat_plt, "dxf": mat_dxf}[kind]
    assert check is not None
    content = spoil(spec.run(plan.lay.layouts[0], plan))
    why = spec.check(content, plan.lay.layouts[0], plan)  # type: ignore[misc]
    assert why
    name = {"svg": "write_mat_svg", "plt": "write_mat_plt", "dxf": "write_mat_dxf"}[kind]
    assert hasattr(check, name)
    good = spec.run
    monkeypatch.setitem(OUTPUTS._specs, spec.id, _with_run(spec, lambda layout, plan: spoil(good(layout, plan))))
    with pytest.raises(OutputError, match="does not read back"):
        export_plan(plan, tmp_path)
    assert {name: (tmp_path / name).read_bytes() for name in files_in(tmp_path)} == before


def _with_run(spec: Any, run: Any) -> Any:
    from msgspec.structs import replace

    return replace(spec, run=run)
