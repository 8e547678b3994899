"""The run as steps at the machines: tools fitted when they change, held steps where they belong, what is got ready."""

from __future__ import annotations

import pytest

from dechirer.core.plan import Plan, make_plan
from dechirer.core.run.steps import CLEAN_EVERY, TAPE_MM, MachineStep, foil_sheet
from tests.blanks import blank_job, in_words
from tests.core.test_press_catalogue import card, to_the_edge
from tests.helpers import changed, quick_job
from tests.jobs.made import GOOD


def kinds(steps: tuple[MachineStep, ...]) -> list[str]:
    return [step.kind for step in steps]


def after_loading(plan: Plan) -> list[MachineStep]:
    steps = plan.machine_steps()
    first = kinds(steps).index("load")
    return list(steps[first:])


def test_a_plain_run_is_loaded_fitted_run_looked_at_and_taken_off() -> None:
    plan = make_plan(quick_job("5x7in", count=2))
    steps = after_loading(plan)
    assert [step.kind for step in steps] == [
        *("load", "fit", "pass", "fit", "pass", "look", "unload"),
        *("load", "pass", "pass", "look", "unload"),  # the second time the tools are in their holders
    ]
    assert [step.time for step in steps if step.kind == "load"] == [1, 2]
    ready = " ".join(step.words for step in plan.machine_steps() if step.kind == "prepare")
    assert "2 × card" in ready
    assert plan.job.brief.machine.name in ready
    assert "lift a corner" in next(step.more for step in steps if step.kind == "look")


def test_fits_are_the_changes_and_the_first_tools() -> None:
    plan = make_plan(changed(quick_job(liner="1/16", count=3), run__tools=("thin-card-blade", "creasing-wheel")))
    fits = kinds(plan.machine_steps()).count("fit")
    holders = {each.tool.holder for mat in plan.run.mats for each in mat.passes}
    assert fits == plan.run.changes.value + len(holders)


def test_foil_is_taped_before_and_peeled_after_and_nothing_unloaded_between() -> None:
    plan = make_plan(GOOD["7"]())
    steps = after_loading(plan)
    words = [step.words for step in steps]
    taped = next(place for place, each in enumerate(words) if each.startswith("Tape foil over it"))
    assert words[taped + 1].startswith("Foil") or "hot foil tip" in words[taped + 1].lower()
    assert words[taped + 2].startswith("Peel the foil off")
    between = kinds(tuple(steps))[taped:]
    assert between.index("pass") < between.index("unload")
    layout = next(mat.layout for mat in plan.run.mats if any(each.operation == "foil" for each in mat.passes))
    colour = next(each.tool.colour for mat in plan.run.mats for each in mat.passes if each.operation == "foil")
    sheet = foil_sheet(layout, colour)
    assert sheet is not None
    xs = [
        x
        for placed in layout.placements
        for line in placed.lines()
        if line.operation == "foil"
        for path in line.paths
        for x, _ in path
    ]
    assert sheet.width == pytest.approx(max(xs) - min(xs) + 2 * TAPE_MM)  # common practice: 10 mm each way
    assert foil_sheet(layout, "#123456") is None


def test_ink_dries_before_what_runs_over_it_and_print_before_the_mat() -> None:
    drawn = after_loading(make_plan(in_words(blank_job())))
    pen = next(place for place, step in enumerate(drawn) if step.kind == "pass" and "pen" in step.words)
    assert (drawn[pen + 1].words, drawn[pen + 1].seconds) == ("Let the ink dry", 60.0)
    plan = make_plan(card(to_the_edge()))
    steps = plan.machine_steps()
    dry = next(step for step in steps if step.words == "Let the print dry")
    assert dry.seconds == 60 * plan.job.press.dry_minutes
    assert kinds(steps).index("read") > kinds(steps).index("load") > steps.index(dry)


def test_slots_are_told_and_the_blade_is_wiped_now_and_then() -> None:
    load = next(
        step
        for step in make_plan(in_words(blank_job())).machine_steps()
        if step.kind == "load" and "slots" in step.words
    )
    assert "backs under the mat" in load.more
    many = make_plan(quick_job("5x7in", count=2 * CLEAN_EVERY)).machine_steps()
    assert [step.words for step in many].count("Wipe the blade") == 2
