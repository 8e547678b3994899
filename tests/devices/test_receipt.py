"""A rehearsal of an export is a receipt: what is missing, stale, extra, doubled or out of order is named."""

from __future__ import annotations

import io
import json
import re
import subprocess
import sys
from pathlib import Path

import ezdxf
import pytest
import shapely

from dechirer.core.length import parse_length
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import DEMOS, load_demo_job
from dechirer.devices.cut_rehearsal import rehearse
from dechirer.devices.cutter_files import read_cutter_file
from dechirer.devices.dxf_files import read_dxf
from dechirer.devices.receipt import take_receipt
from dechirer.devices.strokes import CutterFileError
from dechirer.formats.export import Choice, export_plan
from dechirer.formats.job.archive import write_archive
from tests.helpers import changed, quick_job

MAT_MM = 304.8


@pytest.fixture(scope="module")
def plan() -> Plan:
    """A base and a liner of another paper: two mats, scored and cut."""
    return make_plan(quick_job(liner="1/16in"))


@pytest.fixture
def out(plan: Plan, tmp_path: Path) -> Path:
    export_plan(plan, tmp_path / "out")
    return tmp_path / "out"


def troubles(plan: Plan, out: Path) -> str:
    return "\n".join(rehearse(plan, runs=0, folder=out).troubles)


def test_a_whole_export_is_as_planned(plan: Plan, out: Path) -> None:
    found = rehearse(plan, runs=0, folder=out)
    assert found.troubles == ()
    assert [name for name, _ in found.nominal] == [
        f"mat-{number}.{kind}" for number in (1, 2) for kind in ("svg", "dxf", "plt")
    ]


@pytest.mark.parametrize("kinds", [("svg", "dxf", "plt"), ("dxf",)])
def test_a_missing_mat_is_named(plan: Plan, out: Path, kinds: tuple[str, ...]) -> None:
    for kind in kinds:
        (out / f"mats/mat-1.{kind}").unlink()
    found = troubles(plan, out)
    for kind in kinds:
        assert f"mats/mat-1.{kind} is missing" in found


def test_a_folder_with_one_kind_alone_is_run(plan: Plan, tmp_path: Path) -> None:
    out = tmp_path / "out"
    export_plan(plan, out, choice=Choice(outputs=frozenset({"mats/{mat}.dxf"})))
    found = rehearse(plan, runs=0, folder=out)
    assert [name for name, _ in found.nominal] == ["mat-1.dxf", "mat-2.dxf"]
    assert found.troubles == ()


def test_an_earlier_version_of_the_job_is_stale_and_a_mat_too_many_is_extra(plan: Plan, out: Path) -> None:
    smaller = make_plan(changed(plan.job, construct__liner=None))
    receipt = take_receipt(smaller, out)
    assert {"mats/mat-2.svg", "mats/mat-2.dxf", "mats/mat-2.plt"} <= set(receipt.extra)
    larger = make_plan(changed(plan.job, brief__width=parse_length("4 in")))
    assert set(take_receipt(larger, out).stale) == {
        f"mats/mat-{number}.{kind}" for number in (1, 2) for kind in ("svg", "dxf", "plt")
    }
    # Another name makes no mat stale but for the words in it.
    assert not take_receipt(make_plan(changed(plan.job, about="for May")), out).missing


def moved(text: str, mm: float) -> str:
    """A DXF whose first polyline lies elsewhere."""
    at = text.index("LWPOLYLINE")
    return text[:at] + re.sub(r"(\n 10\n)(-?[\d.]+)", lambda m: f"{m[1]}{float(m[2]) + mm}", text[at:], count=1)


def test_a_line_of_a_dxf_that_is_moved_or_deleted_is_found(plan: Plan, out: Path) -> None:
    path = out / "mats/mat-1.dxf"
    whole = path.read_text()
    path.write_text(moved(whole, 3.0))
    assert "mat-1.dxf" in troubles(plan, out)
    document = ezdxf.read(io.StringIO(whole))
    space = document.modelspace()
    score = next(each for each in space if each.dxf.layer == "SCORE")
    space.delete_entity(score)
    text = io.StringIO()
    document.write(text)
    path.write_text(text.getvalue())
    assert "is missing" in troubles(plan, out)
    assert path.name in "".join(take_receipt(plan, out).changed)


def test_a_line_that_is_cut_twice_is_found(plan: Plan, out: Path) -> None:
    path = out / "mats/mat-1.svg"
    whole = path.read_text()
    line = re.search(r"\n[^\n]*<path[^\n]*/>", whole[whole.index('data-operation="cut"') :])
    assert line is not None
    path.write_text(whole.replace(line[0], line[0] * 2))
    assert "a line to cut is run twice" in troubles(plan, out)


def test_scores_that_come_after_the_cuts_are_found(plan: Plan, out: Path) -> None:
    path = out / "mats/mat-1.svg"
    whole = path.read_text()
    groups = re.findall(r'\n *<g data-operation="[a-z]+".*?</g>', whole, re.DOTALL)
    assert len(groups) == 2
    path.write_text(whole.replace("".join(groups), "".join(reversed(groups))))
    assert "score is run after cut" in troubles(plan, out)
    plotter = out / "mats/mat-1.plt"
    score, cut = plotter.read_text().split("SP2;")
    begin, score = score.split("SP1;")
    plotter.write_text(f"{begin}SP2;{cut.removesuffix('SP0;')}SP1;{score}SP0;")
    assert "mat-1.plt, score is run after cut" in troubles(plan, out)


def test_a_piece_of_half_its_size_is_not_as_planned(plan: Plan, out: Path, tmp_path: Path) -> None:
    path = out / "mats/mat-1.svg"
    whole = path.read_text()
    cut = whole.index('data-operation="cut"')
    line = re.search(r'd="M ?([\d.]+)[ ,]([\d.]+)', whole[cut:])
    assert line is not None
    x, y = float(line[1]), float(line[2])
    extra = f'<path d="M {x + 60} {y - 260} V {y + 260}"/>'
    end = whole.index("</g>", cut)
    path.write_text(whole[:end] + extra + whole[end:])
    found = rehearse(plan, runs=0, folder=out)
    outcome = dict(found.nominal)["mat-1.svg"]
    assert any(piece.troubles for piece in outcome.pieces)
    assert {piece.state for piece in outcome.pieces} != {"free"}
    job = tmp_path / "job.dechirer"
    write_archive(job, plan.job)
    ended = subprocess.run(
        [sys.executable, "-m", "dechirer", "rehearse", str(job), "--files", str(out), "--runs", "0"],
        capture_output=True,
        text=True,
        check=False,
    )
    assert ended.returncode == 1
    assert "mat-1.svg: 0 of 1 pieces come out as planned" in ended.stdout


def test_the_command_line_names_what_is_missing(plan: Plan, out: Path, tmp_path: Path) -> None:
    job = tmp_path / "job.dechirer"
    write_archive(job, plan.job)
    (out / "mats/mat-1.svg").unlink()
    command = [sys.executable, "-m", "dechirer", "rehearse", str(job), "--files", str(out), "--runs", "0", "--json"]
    ended = subprocess.run(command, capture_output=True, text=True, check=False)
    assert ended.returncode == 1
    record = json.loads(ended.stdout)
    assert record["receipt"]["missing"] == ["mats/mat-1.svg"]
    assert record["as_planned"] is False


@pytest.mark.parametrize("name", list(DEMOS))
def test_dxf_says_what_svg_says(name: str, tmp_path: Path) -> None:
    """Two readers that share nothing but the curve: every cut line lies where the other file has it."""
    plan = make_plan(load_demo_job(name))
    choice = Choice(outputs=frozenset({"mats/{mat}.dxf", "mats/{mat}.svg"}))
    export_plan(plan, tmp_path, choice=choice)
    found = rehearse(plan, runs=0, folder=tmp_path)
    assert found.troubles == ()


def test_dxf_entities_of_other_programs_are_read_where_ezdxf_has_them() -> None:
    """ezdxf (a general-purpose DXF library) writes and flattens; ours reads the text."""
    document = ezdxf.new(units=4)
    space = document.modelspace()
    layer = {"layer": "CUT"}
    space.add_lwpolyline([(10, 10, 0, 0, 0.5), (40, 10, 0, 0, -0.3), (40, 40)], close=True, dxfattribs=layer)
    space.add_line((0, 0), (5, 5), dxfattribs={"layer": "SCORE"})
    space.add_circle((100, 100), 20, dxfattribs=layer)
    space.add_arc((150, 100), 10, 30, 200, dxfattribs={"layer": "PEN-0000FF"})
    text = io.StringIO()
    document.write(text)
    found = read_dxf(text.getvalue(), "a.dxf", MAT_MM)
    assert [stroke.operation for stroke in found.strokes] == ["cut", "score", "cut", "pen"]
    from ezdxf.path import make_path

    for entity, stroke in zip(space, found.strokes, strict=True):
        theirs = shapely.LineString([(x, MAT_MM - y) for x, y, _ in make_path(entity).flattening(0.001)])
        points = stroke.points.tolist()
        ours = shapely.LineString([*points, points[0]] if stroke.closed else points)
        assert shapely.hausdorff_distance(ours, theirs, densify=0.05) < 0.02


@pytest.mark.parametrize(
    ("change", "why"),
    [
        (lambda text: text.replace("\nCUT\n", "\nFRAME\n"), "is not an operation"),
        (lambda text: text.replace("LWPOLYLINE", "HATCH"), "cannot run"),
        (lambda text: text.replace("$INSUNITS\n 70\n4", "$INSUNITS\n 70\n21"), "not millimetres"),
        (lambda text: "zz\n" + text, "not a DXF group code"),
    ],
)
def test_what_a_machine_cannot_run_is_refused_in_words(out: Path, change, why: str) -> None:  # type: ignore[no-untyped-def]
    path = out / "mats/mat-1.dxf"
    path.write_text(change(path.read_text()))
    with pytest.raises(CutterFileError, match=why):
        read_cutter_file(path)
