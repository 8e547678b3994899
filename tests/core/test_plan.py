from __future__ import annotations

import subprocess
import sys

import pytest

from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.core.plan import Plan, PlanCancelled, Planner, make_plan
from dechirer.core.stopping import may_be_stopped
from dechirer.demo import load_demo_job
from tests.helpers import changed, typed


def test_one_change_of_size_changes_everything_that_follows(demo: Job) -> None:
    before, after = make_plan(demo), make_plan(typed(demo, "brief.width", "4 1/4"))
    assert after.figures["base.width"].text("in") == "8 1/2 in"
    assert after.figures["liner.width"].text("in") == "8 3/8 in"
    for key in ("base.fold.at", "card.thickness", "lay.share", "run.minutes"):
        assert key in after.figures
    assert after.lay.share.value != before.lay.share.value


def test_only_what_an_edit_touches_is_made_again(demo: Job) -> None:
    planner = Planner()
    first = planner.plan(demo)
    named = planner.plan(changed(demo, about="thank-you cards"))
    assert (named.construct, named.lay, named.run) == (first.construct, first.lay, first.run)
    assert named.lay is first.lay
    tools = planner.plan(changed(demo, run__score_passes=2))
    assert tools.lay is first.lay
    assert tools.run is not first.run
    assert planner.plan(demo).run is first.run


def test_a_plan_within_other_work_ends_with_that(demo: Job) -> None:
    asked: list[int] = []

    def enough() -> bool:
        asked.append(1)
        return len(asked) > 3

    with may_be_stopped(enough), pytest.raises(PlanCancelled):
        make_plan(demo)
    assert len(asked) == 4
    assert make_plan(demo).run.mats  # and only with that


def test_a_plan_can_be_called_off(demo: Job) -> None:
    seen: list[str] = []
    planner = Planner()
    with pytest.raises(PlanCancelled):
        planner.plan(demo, cancelled=lambda: len(seen) >= 2, progress=seen.append)
    assert seen == ["brief", "construct"]
    assert planner.plan(demo).lay.mats.value == 24


def test_every_figure_can_say_why(demo_plan: Plan) -> None:
    for key, figure in demo_plan.figures.items():
        assert figure.key == key
        for _, each in figure.walk():
            assert each.sentence("in"), f"{each.key} has no working"
            assert "{" not in each.sentence("in"), each.sentence("in")
            assert each.inputs or each.field or each.source, each.key


def test_verdicts_follow_the_worst_finding(demo: Job) -> None:
    assert make_plan(demo).verdict("run") == "look"
    bare = make_plan(changed(demo, run__tools=()))
    assert bare.verdict("run") == "stop"
    assert bare.verdict("brief") == "clear"
    assert bare.stops == len([each for each in bare.findings if each.severity == "stop"])
    assert [each.severity for each in bare.findings] == sorted(
        (each.severity for each in bare.findings), key=("stop", "look", "note").index
    )


def test_core_drawing_and_formats_work_without_qt() -> None:
    code = """
import importlib, pkgutil, sys
class NoQt:
    def find_spec(self, name, path=None, target=None):
        if name.split(".")[0] == "PyQt6":
            raise ImportError("Qt is not here")
sys.meta_path.insert(0, NoQt())
import dechirer
count = 0
for place in ("core", "drawing", "formats", "demo"):
    package = importlib.import_module(f"dechirer.{place}")
    for module in pkgutil.walk_packages(package.__path__, package.__name__ + "."):
        importlib.import_module(module.name)
        count += 1
import dechirer.cli
print(count)
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    assert int(done.stdout) > 40


def test_a_sketch_shows_no_mats_of_another_job() -> None:
    """Found by seed 20080 of bin/soak: a drag begun before the plan of a job just opened was there."""
    planner, other, job = Planner(), load_demo_job("kites"), load_demo_job("boathouse")
    planner.plan(other)
    wider = apply_changes(job, [Change("lay.margin", parse_length("5 mm"))])
    sketch = planner.plan(wider, coarse=True, dragged_from=job)
    papers = {paper.id for paper in job.brief.papers}
    assert {layout.paper for layout in sketch.lay.layouts} <= papers
    full = planner.plan(job)
    assert planner.plan(wider, coarse=True, dragged_from=job).lay is full.lay  # of this job they are as they were
