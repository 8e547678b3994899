"""Tools have a size: pens and foil tips by width, single and double creasing wheels, blades by what they go through."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from dechirer.core.brief.machine import find_holder, load_machines
from dechirer.core.card.tools import TOOLS, tip_for
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.core.run.settings import suggest
from dechirer.formats.outputs.mat_plt import write_mat_plt
from dechirer.formats.outputs.mat_svg import write_mat_svg
from tests.dressing import dressed, item, stroked, words
from tests.helpers import changed, finding, mended, quick_job

ALL_TIPS = ("fine-foil-tip", "hot-foil-tip", "bold-foil-tip")


def owning(job: Job, *tools: str) -> Job:
    return changed(job, run__tools=tuple(dict.fromkeys((*job.run.tools, *tools))))


def foil_passes(plan: Plan) -> list[tuple[str, float]]:
    return [
        (each.tool.tool, each.tool.tip_fitted)
        for mat in plan.run.mats
        for each in mat.passes
        if each.operation == "foil"
    ]


def foiled() -> Job:
    """A figure and words in foil, as in the trade: fine tip for words, medium for figures (common practice)."""
    return dressed(
        item("figure", made="foil", down="top", y="20 mm"),
        item("name", made="foil", words=words("with love", face="line-plain", size="12 mm"), down="bottom", y="20 mm"),
    )


def test_words_are_foiled_by_the_fine_tip_and_figures_by_the_medium_one() -> None:
    plan = make_plan(owning(foiled(), *ALL_TIPS))
    assert foil_passes(plan) == [("fine-foil-tip", 0.5), ("hot-foil-tip", 1.0)]
    titles = [each.words for each in plan.machine_steps() if each.kind == "fit"]
    assert any("Fine hot foil tip" in each for each in titles)
    assert any("Medium hot foil tip" in each for each in titles)


def test_a_tip_that_is_not_owned_is_stood_in_for_by_the_next_and_said() -> None:
    job = foiled()
    plan = make_plan(job)
    assert [tool for tool, _ in foil_passes(plan)] == ["hot-foil-tip"] * 2
    found = finding(plan, "run.tip-differs")
    assert found.title == "A fine hot foil tip is not among your tools"
    assert "0.5 mm are wanted" in found.reason
    owned = apply_changes(job, found.mends[0].changes)
    assert foil_passes(make_plan(owned))[0] == ("fine-foil-tip", 0.5)
    drawn = make_plan(apply_changes(job, found.mends[1].changes))
    assert "foil" not in {each.operation for mat in drawn.run.mats for each in mat.passes}


def test_two_passes_by_one_tip_cost_no_change() -> None:
    """Of two foils the sheet that is taped on is another, not the tip."""
    one = dressed(item("a", made="foil", colour="#c8a030", down="top", y="20 mm"))
    two = dressed(
        item("a", made="foil", colour="#c8a030", down="top", y="20 mm"),
        item("b", made="foil", colour="#b0b0b8", down="bottom", y="20 mm"),
    )
    assert make_plan(two).run.changes.value == make_plan(one).run.changes.value


@pytest.mark.parametrize(("breadth", "tip"), [(0.0, 1.0), (0.3, 0.5), (0.7, 0.5), (0.9, 1.0), (1.4, 1.6), (9.0, 1.6)])
def test_the_tip_is_as_broad_as_the_line_was_drawn(breadth: float, tip: float) -> None:
    assert tip_for(breadth) == tip


def test_a_drawn_line_chooses_its_tip_at_the_size_it_is_used_at() -> None:
    job = owning(dressed(item(made="foil", art="stroke"), arts=(stroked(0.8),)), *ALL_TIPS)
    assert foil_passes(make_plan(job)) == [("hot-foil-tip", 1.0)]
    larger = owning(dressed(item(made="foil", art="stroke", width="36 mm"), arts=(stroked(0.8),)), *ALL_TIPS)
    assert foil_passes(make_plan(larger)) == [("bold-foil-tip", 1.6)]


def test_a_line_too_broad_for_any_tip_is_foiled_as_broad_as_can_be_or_cut_of_shiny_card() -> None:
    job = owning(dressed(item(made="foil", art="stroke"), arts=(stroked(4.0),)), *ALL_TIPS)
    found = finding(make_plan(job), "dress.foil-broad")
    assert "4 mm" in found.reason or "5/32" in found.reason
    thin = make_plan(apply_changes(job, found.mends[0].changes))
    assert foil_passes(thin) == [("bold-foil-tip", 1.6)]
    piece = make_plan(apply_changes(job, found.mends[1].changes)).dress.pieces[-1]
    assert piece.id == "thing"
    assert piece.height.value > 4.0  # as broad as the line was drawn, and its wave


def test_a_pen_with_a_tip_of_its_own_is_another_pen_in_the_holder_and_in_the_files() -> None:
    """One tip for all pieces unless it matters (common practice)."""
    like = {"made": "pen", "colour": "#2244aa"}
    usual = dressed(item("a", **like, down="top", y="20 mm"), item("b", **like, down="bottom", y="20 mm"))
    own = dressed(item("a", **like, down="top", y="20 mm"), item("b", **like, down="bottom", y="20 mm", tip="1 mm"))
    before, after = make_plan(usual), make_plan(own)
    assert after.run.changes.value == before.run.changes.value + 1
    titles = [each.tool.title for each in after.run.mats[0].passes if each.operation == "pen"]
    assert [title.split(",")[0] for title in titles] == ["0.4 mm pen", "1 mm pen"]
    layout = after.run.mats[0].layout
    assert write_mat_plt(layout, after).count(b"SP") == len(after.run.mats[0].passes) + 1  # and pens put away
    text = write_mat_svg(layout, after).decode()
    assert all(f'data-tip="{width}mm"' in text for width in ("0.4", "1"))


def test_the_pen_that_fills_an_opening_is_the_one_it_is_drawn_with() -> None:
    small = words("oo88", face="line-plain", size="1.2 mm")
    fine = dressed(item(made="pen", words=small, tip="0.05 mm"))
    assert "dress.pen-crowded" not in {each.code for each in make_plan(fine).findings}
    broad = dressed(item(made="pen", words=small, tip="0.8 mm"))
    after = mended(broad, "dress.pen-crowded", 1)
    tip = after.job.dress.items[0].tip
    assert tip is not None
    assert tip.mm == pytest.approx(0.3)


def test_a_double_wheel_spares_the_second_score_on_heavy_stock() -> None:
    """Heavy stock is scored twice or with a double-line tool (common practice)."""
    job = owning(quick_job(), "double-creasing-wheel")
    assert next(each.tool for each in make_plan(job).run.choices if each.operation == "score") == "creasing-point"
    found = finding(make_plan(job), "run.single-score")
    mend = next(each for each in found.mends if "double creasing wheel" in each.label)
    after = make_plan(apply_changes(job, mend.changes))
    assert next(each.tool for each in after.run.choices if each.operation == "score") == "double-creasing-wheel"
    assert "run.single-score" not in {each.code for each in after.findings}
    assert suggest(after.brief.paper("card"), "double-creasing-wheel", job.brief.machine.pace).passes == 1


def test_a_holder_takes_every_size_of_a_tool_but_not_every_blade() -> None:
    heron, wren = load_machines()["heron-12"], load_machines()["wren-card"]
    for tool in (*ALL_TIPS, "double-creasing-wheel"):
        holder = find_holder(heron, tool)
        assert holder is not None
        assert holder.name == "driven holder"
        assert find_holder(wren, tool) is None
    assert find_holder(wren, "thick-card-blade") is None
    bare = replace(heron, holders=(replace(heron.holders[1], takes=("thin-card-blade",)),))
    assert find_holder(bare, "fine-foil-tip") is None


def test_a_blade_goes_over_what_is_thicker_than_its_bite_again() -> None:
    facts = make_plan(quick_job()).brief.paper("card")
    thick = replace(facts, thickness=replace(facts.thickness, value=0.8))
    pace = load_machines()["heron-12"].pace
    assert suggest(facts, "thin-card-blade", pace).passes == 1
    assert suggest(thick, "thin-card-blade", pace).passes == 2
    assert suggest(thick, "thick-card-blade", pace).passes == 1
    assert all(spec.bite > 0 for spec in TOOLS.values() if spec.kind == "blade")
