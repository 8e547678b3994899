"""Every construction with everything glued on, out to the files and back."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path

import pypdf
import pytest
import shapely
import svgelements

from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, read_job_json, write_job_json
from dechirer.core.plan import Plan, make_plan
from dechirer.formats.export import export_plan
from dechirer.formats.outputs.cut_list import write_cut_list
from dechirer.formats.outputs.mat_svg import write_mat_svg
from dechirer.formats.outputs.run_sheet import write_run_sheet
from tests.helpers import add, quick_job

MM_PER_PX = 25.4 / 96  # CSS Values and Units, section 5.2: 96 px = 1 in


def full_job(kind: str, *, slits: bool) -> Job:
    """A card of a kind with a liner, a layer, an envelope, and a window or an insert."""
    job = quick_job("4x4in", fold=kind, liner="1/16", count=3)
    front = make_plan(job).construct.tree.faces[0].name
    more = add("slits", job) if slits else add("window", job)
    return apply_changes(job, [*more, *add("layers", job, "back" if slits else front), *add("envelope", job)])


@pytest.fixture(params=[(kind, slits) for kind in CONSTRUCTIONS.ids() for slits in (False, True)], ids=str)
def full_plan(request: pytest.FixtureRequest) -> Plan:
    kind, slits = request.param
    return make_plan(full_job(kind, slits=slits))


def test_every_piece_is_cut_whole_at_true_size(full_plan: Plan) -> None:
    assert not full_plan.lay.unplaced
    seen = set()
    for layout in full_plan.lay.layouts:
        text = write_mat_svg(layout, full_plan).decode()
        svg = svgelements.SVG.parse(io.StringIO(text), ppi=96)
        for placed in layout.placements:
            path = next(
                each
                for each in svg.elements()
                if isinstance(each, svgelements.Path) and each.id == f"{placed.id}-outline"
            )
            path = path * svgelements.Matrix.scale(MM_PER_PX)
            path.reify()
            left, top, right, bottom = path.bbox()
            size = sorted((placed.piece.width.value, placed.piece.height.value))
            assert sorted((right - left, bottom - top)) == pytest.approx(size, abs=0.01), placed.piece.name
            seen.add(placed.piece.id)
    assert seen == {piece.id for piece in full_plan.construct.pieces}


def test_every_line_lies_on_its_piece(full_plan: Plan) -> None:
    for piece in full_plan.construct.pieces:
        outline = shapely.Polygon(piece.outline)
        assert outline.is_valid, piece.name
        for line in piece.lines:
            for path in line.paths:
                assert outline.buffer(0.01).covers(shapely.LineString(path)), (piece.name, line.name)


def test_pieces_on_a_mat_keep_their_distance(full_plan: Plan) -> None:
    for layout in full_plan.lay.layouts:
        shapes = [shapely.Polygon(each.outline) for each in layout.placements]
        for index, one in enumerate(shapes):
            for other in shapes[index + 1 :]:
                assert one.distance(other) >= full_plan.job.lay.spacing.mm - 1e-6


def test_the_papers_say_the_same_as_the_plan(full_plan: Plan) -> None:
    rows = list(csv.DictReader(io.StringIO(write_cut_list(full_plan).decode())))
    assert [row["name"] for row in rows] == [piece.name for piece in full_plan.construct.pieces]
    assert len({row["piece"] for row in rows}) == len(rows)  # letters tell pieces apart
    text = "\n".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(write_run_sheet(full_plan))).pages)
    for piece in full_plan.construct.pieces:
        assert piece.name in text


def test_the_job_survives_its_file(full_plan: Plan) -> None:
    again = read_job_json(write_job_json(full_plan.job))
    assert again == full_plan.job
    assert make_plan(again).lay == full_plan.lay


def test_every_number_can_say_why(full_plan: Plan) -> None:
    for figure in full_plan.figures.values():
        for _, each in figure.walk():
            assert each.sentence("mm"), each.key
            assert "{" not in each.sentence("mm"), each.sentence("mm")


def test_a_mend_never_makes_a_job_that_cannot_be_read(full_plan: Plan) -> None:
    for finding in full_plan.findings:
        for mend in finding.mends:
            job = apply_changes(full_plan.job, mend.changes)
            assert read_job_json(write_job_json(job)) == job
            assert finding.code not in [
                other.code for other in make_plan(job).findings if other.element == finding.element
            ], mend.label


@pytest.mark.parametrize("kind", CONSTRUCTIONS.ids())
def test_plan_json_is_plain_and_whole(tmp_path: Path, kind: str) -> None:
    plan = make_plan(full_job(kind, slits=False))
    export_plan(plan, tmp_path)
    record = json.loads((tmp_path / "plan.json").read_text())
    assert {piece["id"] for piece in record["pieces"]} == {piece.id for piece in plan.construct.pieces}
    assert sum(mat["cut_times"] for mat in record["mats"]) == record["totals"]["mats"]
    placed = sum(mat["cut_times"] * len(mat["pieces"]) for mat in record["mats"])
    assert placed == record["totals"]["pieces"]
    for mat in record["mats"]:
        assert (tmp_path / mat["file"]).is_file()
        assert [each["operation"] for each in mat["passes"]] == sorted(
            (each["operation"] for each in mat["passes"]), key=("score", "perforate", "cut").index
        )
