"""Pens and foil in the run and in the files: tools, holders, passes an ink, order, cautions."""

from __future__ import annotations

from xml.etree import ElementTree

import pytest
import svgelements
from msgspec.structs import replace

from dechirer.core.brief.machine import load_machines
from dechirer.core.card.operations import OPERATION
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.formats.outputs.mat_svg import write_mat_svg
from tests.dressing import dressed, item, words
from tests.helpers import changed, finding, mended

SVG = "{http://www.w3.org/2000/svg}"


def inked(**more: object) -> Job:
    return dressed(
        item("red", made="pen", colour="#aa2200", down="top", y="20 mm"),
        item("blue", made="pen", colour="#2244aa"),
        item("gold", made="foil", colour="#c8a030", down="bottom", y="20 mm"),
        **more,  # type: ignore[arg-type]
    )


def test_each_ink_is_a_pass_of_its_own_in_the_order_of_the_trade() -> None:
    """Draw, score, foil, cut: common practice."""
    (mat, *_) = make_plan(inked()).run.mats
    kinds = [(each.operation, each.tool.colour) for each in mat.passes]
    assert kinds == [("pen", "#2244aa"), ("pen", "#aa2200"), ("score", ""), ("foil", "#c8a030"), ("cut", "")]
    assert [each.tool.holder for each in mat.passes[:2]] == ["light holder"] * 2
    assert mat.passes[3].tool.holder == "driven holder"  # a foil tip takes the blade's place (common practice)


def test_a_pen_shares_its_holder_with_the_point_and_costs_a_change() -> None:
    bare = make_plan(dressed())
    drawn = make_plan(dressed(item(made="pen", colour="#222222")))
    assert drawn.run.changes.value == bare.run.changes.value + 1


@pytest.mark.parametrize(("made", "tool"), [("pen", "pen"), ("foil", "hot-foil-tip")])
def test_a_tool_that_is_not_owned_stops_the_job_and_can_be_owned(made: str, tool: str) -> None:
    job = changed(dressed(item(made=made)), run__tools=("thin-card-blade", "creasing-point"))
    found = finding(make_plan(job), "run.tool-missing")
    assert OPERATION[made].verb in found.reason
    assert tool in mended(job, "run.tool-missing").job.run.tools


def test_a_machine_profile_from_before_pens_learns_that_a_holder_takes_one() -> None:
    machine = load_machines()["heron-12"]
    old = replace(
        machine,
        holders=tuple(
            replace(holder, takes=tuple(tool for tool in holder.takes if tool not in ("pen", "hot-foil-tip")))
            for holder in machine.holders
        ),
    )
    job = changed(dressed(item(made="pen")), brief__machine=old)
    found = finding(make_plan(job), "run.tool-missing")
    assert "No holder takes" in found.title
    after = make_plan(apply_changes(job, found.mends[0].changes))
    assert "run.tool-missing" not in [each.code for each in after.findings]
    assert after.job.brief.machine.holders[1] == old.holders[1]


def test_the_mats_file_keeps_inks_apart_and_at_true_size() -> None:
    plan = make_plan(inked())
    text = write_mat_svg(plan.lay.layouts[0], plan).decode()
    groups = [
        (each.get("data-operation"), each.get("stroke"))
        for each in ElementTree.fromstring(text).iter(f"{SVG}g")
        if each.get("data-operation")
    ]
    assert [operation for operation, _ in groups] == ["pen", "pen", "score", "foil", "cut"]
    assert {stroke for operation, stroke in groups if operation == "pen"} == {"#aa2200", "#2244aa"}
    import io

    paths = [
        each
        for each in svgelements.SVG.parse(io.StringIO(text), ppi=25.4).elements()
        if isinstance(each, svgelements.Path) and each.values.get("stroke") == "#aa2200"
    ]
    left, top, right, bottom = paths[0].bbox()
    assert (right - left, bottom - top) == pytest.approx((20, 20), abs=0.01)


def test_pen_lines_are_drawn_as_fast_as_scores_and_counted_in_the_time() -> None:
    short = make_plan(dressed(item(made="pen", words=words("a", face="line-plain", size="8 mm"))))
    long = make_plan(dressed(item(made="pen", words=words("a long line of words", face="line-plain", size="8 mm"))))
    assert long.run.minutes.value > short.run.minutes.value
    drawn = next(each for each in long.run.mats[0].passes if each.operation == "pen")
    words_drawn = long.dress.item("thing")
    assert words_drawn is not None
    assert drawn.length_mm == pytest.approx(sum(line.length for line in words_drawn.placed.drawn.lines), rel=1e-6)
    assert drawn.lines == len(words_drawn.placed.drawn.lines)


def test_turning_a_sheet_over_keeps_inks_with_their_lines() -> None:
    from dechirer.core.card.piece import turn_over

    plan = make_plan(inked())
    base = plan.dress.piece("base")
    assert base is not None
    over = turn_over(base)
    assert [(line.operation, line.colour) for line in over.lines] == [
        (line.operation, line.colour) for line in base.lines
    ]
    again = turn_over(over)
    for one, other in zip(base.lines, again.lines, strict=True):
        for path, back in zip(one.paths, other.paths, strict=True):
            assert [x for x, _ in back] == pytest.approx([x for x, _ in path])
