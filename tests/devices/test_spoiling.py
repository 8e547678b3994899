"""What would spoil: blades too shallow or too deep, webs that tear on some loads, and the spread of the profile."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from dechirer.core.job.model import Job
from dechirer.core.paper.strength import web_it_holds
from dechirer.core.plan import make_plan
from dechirer.core.run.settings import Setting
from dechirer.demo import load_demo_job
from dechirer.devices.cut_rehearsal import placing_budget, rehearse
from tests.dressing import art, box_path, dressed, item
from tests.helpers import changed, codes, finding, mended, quick_job, typed


def set_to(depth: float, passes: int = 1) -> Job:
    return changed(quick_job("5x7in"), run__settings=(Setting("card", "thin-card-blade", passes, depth),))


def test_a_blade_that_stands_out_too_little_frees_nothing_and_is_found_before() -> None:
    job = set_to(0.1)
    found = rehearse(make_plan(job), runs=0)
    assert any("does not go through a paper of 0.3" in why for why in found.troubles)
    assert all(piece.state == "hangs" for _, mat in found.nominal for piece in mat.pieces)
    stop = finding(make_plan(job), "run.blade-shallow")
    assert stop.severity == "stop"
    assert "0.10 mm" in stop.reason
    after = mended(job, "run.blade-shallow")
    assert "run.blade-shallow" not in codes(after)
    assert rehearse(after, runs=0).troubles == ()


def test_card_thicker_than_a_blade_bites_is_gone_over_again() -> None:
    job = quick_job("5x7in")
    job = typed(job, "brief.papers.card.thickness", "0.8 mm")
    found = finding(make_plan(job), "run.blade-shallow")
    assert found.severity == "look"
    assert "0.45 mm in 1 pass" in found.reason
    after = mended(job, "run.blade-shallow")
    assert {each.times for mat in after.run.mats for each in mat.passes if each.operation == "cut"} == {2}
    assert rehearse(after, runs=0).troubles == ()


def test_board_that_no_number_of_passes_goes_through_is_said_to_be_so_and_offers_no_mend_that_is_none() -> None:
    """Found by random work: eight passes were suggested, more than there may be, and no plan came of it."""
    job = typed(quick_job("5x7in"), "brief.papers.card.thickness", "3.5 mm")
    found = finding(make_plan(job), "run.blade-shallow")
    assert "takes another blade, or a thinner paper" in found.reason
    assert found.mends == ()


def with_web(web: float) -> Job:
    """Two windows with a web between them."""
    windows = art(box_path(20, 30), box_path(20, 30, 20 + web), id="two", width=40 + web, height=30)
    return dressed(item(made="window", art="two"), arts=(windows,), job=quick_job("5x7in"))


def test_webs_tear_on_as_many_loads_as_their_paper_is_weak() -> None:
    """A web of exactly what its paper holds tears on about every second load, half as much more on next to none."""
    holds = web_it_holds(make_plan(with_web(2.0)).brief.paper("card").grammage.value)
    shares = []
    for web in (holds * 0.99, holds * 1.35, holds * 3):
        found = rehearse(make_plan(with_web(web)), runs=60)
        shares.append(next((each.share for each in found.spoils if each.what == "webs that tear"), 0.0))
    assert 0.4 < shares[0] < 0.9
    assert shares[1] < 0.1
    assert shares[2] == 0.0


@pytest.mark.parametrize("demo", ["gate", "winners", "lock"])
def test_the_spread_is_that_of_the_error_budget(demo: str) -> None:
    """Within 20 %: drawn loads against the root of the sum of squares."""
    plan = make_plan(load_demo_job(demo))
    found = rehearse(plan, runs=150)
    assert found.spread == pytest.approx(found.budget, rel=0.2)
    machine = replace(plan.job.brief.machine, laid_to=0.3, cuts_to=0.0)
    placements = [placed for mat in plan.run.mats for placed in mat.layout.placements]
    assert placing_budget(machine, placements) < 0.55 * 1.5
    assert placing_budget(machine, []) == 0.0


def test_it_is_told_how_far_it_is() -> None:
    shares: list[float] = []
    rehearse(make_plan(quick_job("5x7in", liner="1/16")), runs=40, told=shares.append)
    assert shares == sorted(shares)
    assert 0 < shares[0] < shares[-1] <= 1.0
