"""Settings of tools by paper: suggested by weight, the maker's own before that, and what they change in the run; the
test cut read back by a library that is not ours."""

from __future__ import annotations

import io
import itertools

import pytest
import svgelements

from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import JobError, from_plain, to_plain
from dechirer.core.plan import make_plan
from dechirer.core.run.decisions import drop_setting, keep_setting
from dechirer.core.run.settings import Setting, neighbour_of, setting_of, suggest
from dechirer.formats.test_cut import SIZE_MM, WEBS_MM, box_of, place_of, write_test_cut
from tests.helpers import changed, codes, quick_job, typed


def with_setting(*settings: Setting, **more: object) -> object:
    return changed(quick_job("5x7in", liner="1/16"), run__settings=settings, **more)


def test_what_is_suggested_follows_weight_and_thickness() -> None:
    plan = make_plan(typed(quick_job(), "brief.papers.card.weight", "110 lb cover"))
    pace = plan.job.brief.machine.pace
    heavy = suggest(plan.brief.paper("card"), "thin-card-blade", pace)
    light = suggest(plan.brief.paper("liner-paper"), "thin-card-blade", pace)
    assert heavy.depth > plan.brief.paper("card").thickness.value > 0
    assert heavy.depth > light.depth
    assert heavy.speed < light.speed == pace.cut_mm_s
    assert "from memory" in heavy.why
    assert suggest(plan.brief.paper("card"), "creasing-point", pace).passes == 2  # heavy stock (common practice)
    assert suggest(plan.brief.paper("liner-paper"), "creasing-point", pace).passes == 1


def test_passes_and_speed_of_one_paper_are_its_own() -> None:
    plain = make_plan(quick_job("5x7in", liner="1/16"))
    plan = make_plan(
        with_setting(Setting("card", "creasing-point", 3), Setting("card", "thin-card-blade", 2, speed=20.0))
    )  # type: ignore[arg-type]

    def times(made: object, paper: str) -> dict[str, int]:
        mats = [mat for mat in made.run.mats if mat.layout.paper == paper]  # type: ignore[attr-defined]
        return {each.operation: each.times for mat in mats for each in mat.passes}

    assert times(plan, "card") == {"score": 3, "cut": 2}
    assert times(plan, "liner-paper") == times(plain, "liner-paper") == {"score": 1, "cut": 1}
    before, after = (next(mat for mat in made.run.mats if mat.layout.paper == "card") for made in (plain, plan))
    cuts = [step for step in after.steps if step.operation == "cut"]
    assert len(cuts) == 2 * len([step for step in before.steps if step.operation == "cut"])
    assert cuts[0].ends_s - cuts[0].at_s > 2 * (before.steps[-1].ends_s - before.steps[-1].at_s)


def test_heavy_stock_is_scored_twice_by_its_own_setting() -> None:
    job = typed(quick_job(), "brief.papers.card.weight", "110 lb cover")
    assert "run.single-score" in codes(make_plan(job))
    own = apply_changes(job, [keep_setting(job.run, Setting("card", "creasing-point", 2))])
    assert "run.single-score" not in codes(make_plan(own))
    once = apply_changes(job, [keep_setting(job.run, Setting("card", "creasing-point", 1))])
    found = next(each for each in make_plan(once).findings if each.code == "run.single-score")
    assert found.mends[0].label == "Score this paper twice"
    assert "run.single-score" not in codes(make_plan(apply_changes(once, found.mends[0].changes)))
    assert apply_changes(own, [drop_setting(own.run, "card", "creasing-point")]).run.settings == ()


def test_a_neighbour_is_offered_with_what_it_does() -> None:
    job = typed(quick_job(liner="1/16"), "brief.papers.card.weight", "110 lb cover")
    job = typed(job, "brief.papers.liner-paper.weight", "100 lb cover")
    plan = make_plan(job)
    settings = (Setting("liner-paper", "thin-card-blade", 1, 0.5),)
    found = neighbour_of(settings, plan.brief.paper("card"), "thin-card-blade", plan.brief.papers)
    assert found is not None
    assert found[0].depth == 0.5
    assert "may not go through" in found[1]
    heavier = (Setting("card", "thin-card-blade", 1, 0.6),)
    other = neighbour_of(heavier, plan.brief.paper("liner-paper"), "thin-card-blade", plan.brief.papers)
    assert other is not None
    assert "deeper than is needed" in other[1]
    assert neighbour_of((), plan.brief.paper("card"), "thin-card-blade", plan.brief.papers) is None
    assert setting_of(settings, "card", "thin-card-blade") is None


def test_settings_that_cannot_be_are_refused() -> None:
    plain = to_plain(with_setting(Setting("card", "thin-card-blade")))  # type: ignore[arg-type]
    plain["run"]["settings"] *= 2
    with pytest.raises(JobError, match="two settings"):
        from_plain(plain)
    plain["run"]["settings"] = [{"paper": "card", "tool": "laser"}]
    with pytest.raises(JobError, match="laser"):
        from_plain(plain)


def test_the_test_cut_has_the_webs_it_says_in_the_waste_of_the_mat() -> None:
    plan = make_plan(quick_job("3x3in", fold="flat", count=2))
    layout = plan.lay.layouts[0]
    place = place_of(layout, plan.job.lay.spacing.mm)
    assert place is not None
    own = box_of(place)
    assert layout.sheet.room.holds(own)
    assert not any(own.overlaps(placed.box) for placed in layout.placements)
    drawn = svgelements.SVG.parse(io.BytesIO(write_test_cut(layout, place)), ppi=25.4)
    boxes = {path.id: path.bbox() for path in drawn.elements(lambda each: isinstance(each, svgelements.Path))}
    windows = sorted(box for name, box in boxes.items() if name.startswith("web"))
    webs = [round(right[0] - left[2], 3) for left, right in itertools.pairwise(windows)]
    assert webs == list(WEBS_MM)
    assert all(own.left <= box[0] and box[2] <= own.left + SIZE_MM[0] for box in boxes.values())
    assert all(own.top <= box[1] and box[3] <= own.top + SIZE_MM[1] for box in boxes.values())
    assert sum(name.startswith("score") for name in boxes) == 1 + 2 + 3
    assert place_of(make_plan(quick_job("11x11in", fold="flat")).lay.layouts[0], 3.0) is None


def test_a_light_liner_is_not_scored_twice_for_its_heavy_base() -> None:
    job = with_setting()
    found = next(each for each in make_plan(job).findings if each.code == "run.single-score")  # type: ignore[arg-type]
    assert [mend.label for mend in found.mends] == ["Score this paper twice"]
    plan = make_plan(apply_changes(job, found.mends[0].changes))  # type: ignore[arg-type]
    assert "run.single-score" not in codes(plan)
    times = {mat.layout.paper: each.times for mat in plan.run.mats for each in mat.passes if each.operation == "score"}
    assert times == {"card": 2, "liner-paper": 1}
    alone = next(each for each in make_plan(quick_job()).findings if each.code == "run.single-score")
    assert [mend.label for mend in alone.mends] == ["Score twice"]
