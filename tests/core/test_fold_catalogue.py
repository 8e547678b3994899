"""Every finding of making up is provoked once, says what a maker needs, and its mends put it right; good jobs are left
alone."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from dechirer.core.finding import SEVERITIES
from dechirer.core.fold.decisions import Trinket
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from tests.dressing import art, box_path, dressed, item
from tests.helpers import changed, codes, finding, quick_job
from tests.jobs.made import GOOD

PAPER = {"paper": "liner-paper"}


def over_a_window() -> Job:
    return dressed(
        item("window", made="window", art="hole"), item("thing", **PAPER), arts=(art(box_path(60, 60), id="hole"),)
    )


def strip(width: float) -> Job:
    return dressed(item(art="strip", **PAPER), arts=(art(box_path(width, 40), id="strip", width=width, height=40),))


CATALOGUE: dict[str, Callable[[], Job]] = {
    "fold.part-unused": lambda: changed(dressed(item(**PAPER)), fold__skipped=("glue-thing",)),
    "fold.order": lambda: changed(
        quick_job("5x7in", liner="1/16"), fold__order=("weed", "fold-1-close-the-front", "crease-base")
    ),
    "fold.no-glue": over_a_window,
    "fold.glue-narrow": lambda: changed(strip(4.0), fold__paper_glue="tape"),
    "fold.foam-inside": lambda: dressed(item(face="inside right", foam="3 mm", **PAPER)),
    "fold.tiny": lambda: dressed(item(width="5 mm", **PAPER)),
    "fold.lacking": lambda: changed(quick_job("5x7in", count=4), fold__trinkets=(Trinket("gem", "gem", 3, on_hand=5),)),
    "fold.late": lambda: changed(quick_job("5x7in", count=400), fold__begins="2026-05-01", brief__due="2026-05-02"),
}


@pytest.mark.parametrize("code", list(CATALOGUE))
def test_the_finding_says_what_a_maker_needs(code: str) -> None:
    found = finding(make_plan(CATALOGUE[code]()), code)
    assert found.severity in SEVERITIES
    assert found.station == "fold"
    assert found.title
    assert not found.title.endswith(".")
    assert found.reason.endswith((".", "?"))
    assert found.cost.endswith(".")
    assert found.element


@pytest.mark.parametrize("name", list(GOOD))
def test_whole_jobs_have_no_stop_here(name: str) -> None:
    assert [each.code for each in make_plan(GOOD[name]()).findings_at("fold") if each.severity == "stop"] == []


def test_a_step_done_again_uses_its_part() -> None:
    job = CATALOGUE["fold.part-unused"]()
    assert "glue-thing" not in {step.id for step in make_plan(job).making_up.steps}
    after = make_plan(apply_changes(job, finding(make_plan(job), "fold.part-unused").mends[0].changes))
    assert "glue-thing" in {step.id for step in after.making_up.steps}


def test_folding_before_gluing_traps_what_goes_inside() -> None:
    found = finding(make_plan(CATALOGUE["fold.order"]()), "fold.order")
    assert "“Close the front” comes too early" in found.title
    assert found.severity == "stop"


def test_what_is_enough_is_not_lacking() -> None:
    job = changed(quick_job("5x7in", count=4), fold__trinkets=(Trinket("gem", "gem", 3, on_hand=12),))
    assert "fold.lacking" not in codes(make_plan(job))


def test_a_strip_by_wet_glue_holds_and_a_thin_one_by_spray() -> None:
    assert "fold.glue-narrow" not in codes(make_plan(strip(4.0)))
    job = strip(2.0)
    found = finding(make_plan(job), "fold.glue-narrow")
    assert [mend.label for mend in found.mends] == []
    taped = finding(make_plan(changed(strip(4.0), fold__paper_glue="tape")), "fold.glue-narrow")
    assert [mend.label for mend in taped.mends] == ["Use wet glue", "Use spray glue"]
