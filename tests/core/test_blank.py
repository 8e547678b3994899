"""Bought blanks are not cut out and not scored; what is glued on before a cut is cut on an earlier mat."""

from __future__ import annotations

import xml.etree.ElementTree as ET

from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.formats.outputs.cut_list import write_cut_list
from dechirer.formats.outputs.mat_svg import write_mat_svg
from tests.helpers import attached, changed, codes, finding, mended, quick_job, typed


def on_blank(*kinds: str, blank: str = "10 x 7", **more: object) -> Job:
    job = typed(quick_job("5x7in", count=4, **more), "brief.blank", blank)  # type: ignore[arg-type]
    return attached(job, *kinds) if kinds else job


def test_a_blank_that_agrees_is_neither_cut_out_nor_scored() -> None:
    plan = make_plan(on_blank("window"))
    blank = next(layout for layout in plan.lay.layouts if layout.is_blank)
    assert (blank.sheet.width, blank.sheet.height) == (127.0, 177.8)  # its front: the back goes under the mat
    assert (blank.repeats, len(blank.placements)) == (1, 4)
    assert [[each.operation for each in mat.passes] for mat in plan.run.mats if mat.layout is blank] == [["cut"]]
    drawn = ET.fromstring(write_mat_svg(blank, plan))
    paths = [each.get("id") for each in drawn.iter() if each.tag.endswith("path")]
    # Read from the file: the windows are all that is cut.
    assert paths == [f"base-{number}-window" for number in (1, 2, 3, 4)]
    assert [(each.name, each.value) for each in plan.lay.sheets] == [
        ("blanks of card", 4),
        ("sheets of liner paper", 1),
    ]
    assert "bought: not cut out" in write_cut_list(plan).decode()
    assert plan.stops == 0


def test_a_blank_on_which_nothing_is_run_needs_no_mat() -> None:
    plan = make_plan(on_blank())
    assert plan.lay.layouts == ()
    assert plan.run.minutes.value == 0
    assert plan.stops == 0


def test_a_blank_of_another_size_stops_and_is_not_taken() -> None:
    plan = make_plan(on_blank("window", blank="9 x 7"))
    assert finding(plan, "brief.blank-disagrees").severity == "stop"
    assert not plan.lay.layouts[0].is_blank


def test_a_blank_larger_than_the_mat_is_said() -> None:
    wide = typed(quick_job("10x12in"), "brief.blank", "20 x 12")
    job = attached(wide, "window")
    assert finding(make_plan(job), "lay.piece-too-large").title == "The blank does not go on the mat"
    assert not mended(job, "lay.piece-too-large").construct.pieces[0].blank


def test_what_the_machine_does_not_reach_on_a_blank_stops_the_job() -> None:
    machine = quick_job().brief.machine
    job = on_blank("window")
    reach = narrow_machine(job, machine.mat_width)
    assert "lay.line-astray" in codes(make_plan(reach))


def narrow_machine(job: Job, mat: float) -> Job:
    """The job with a machine that cuts a narrow strip down its mat."""
    return changed(
        job,
        brief__machine__cut_left=mat / 2,
        brief__machine__cut_width=40.0,
        brief__machine__cut_top=0.0,
        brief__machine__mats=(),
    )


def test_the_backer_of_what_peels_away_is_cut_before_the_kiss_cut() -> None:
    plan = make_plan(attached(quick_job("5x7in", count=4), "peel"))
    order = [{placed.piece.id for placed in mat.layout.placements} for mat in plan.run.mats]
    assert order == [{"peel-backer"}, {"base"}]
