"""Several items at one time: lined up, spread, moved, put in order, kept together; as large as another one.

Checked by plain geometry: what is lined up has equal sides, what is spread has equal gaps.
"""

from __future__ import annotations

import pytest

from dechirer.core.dress.edits import describe_made_of, place_made_of
from dechirer.core.dress.seen import remove_items
from dechirer.core.dress.several import (
    EDGES,
    Edge,
    group_of,
    keep_together,
    let_apart,
    line_up,
    move_several,
    put_in_order,
    spread,
)
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, JobError, read_job_json, write_job_json
from dechirer.core.plan import Plan, make_plan
from tests.dressing import dressed, item, words
from tests.helpers import changed, typed

SIDES: dict[Edge, tuple[int, ...]] = {
    "left": (0,),
    "middle": (0, 2),
    "right": (2,),
    "top": (1,),
    "centre": (1, 3),
    "bottom": (3,),
}


def three() -> Job:
    """Squares of 10, 20 and 14 mm, the last one turned and mirrored."""
    job = dressed(*(item(name, made="window") for name in "abc"))
    for name, width, left, top in (("a", 10, 8, 30), ("b", 20, 40, 55), ("c", 14, 90, 90)):
        job = typed(job, f"dress.items.{name}.width", f"{width} mm")
        job = typed(job, f"dress.items.{name}.place.left", f"{left} mm")
        job = typed(job, f"dress.items.{name}.place.top", f"{top} mm")
    return changed(job, dress__items__c__place__turn_deg=30.0, dress__items__c__place__mirrored=True)


def boxes(plan: Plan) -> list[tuple[float, float, float, float]]:
    return [each.placed.source for each in plan.dress.items]


@pytest.mark.parametrize("edge", EDGES)
def test_what_is_lined_up_is_in_line_and_stays_where_it_is_the_other_way(edge: Edge) -> None:
    job = three()
    before = boxes(make_plan(job))
    plan = make_plan(apply_changes(job, line_up(make_plan(job).dress.items, edge)))
    after = boxes(plan)
    places = [sum(box[side] for side in SIDES[edge]) for box in after]
    assert max(places) - min(places) < 4e-3
    axis = EDGES[edge][1]
    low, high = min(box[axis] for box in before), max(box[axis + 2] for box in before)
    wanted = {"left": low, "top": low, "right": high, "bottom": high}.get(edge, low + high)
    assert places[0] == pytest.approx(wanted, abs=2e-3)
    for old, new in zip(before, after, strict=True):
        assert new[1 - axis] == pytest.approx(old[1 - axis], abs=2e-3)


@pytest.mark.parametrize("axis", [0, 1])
def test_what_is_spread_has_equal_gaps_between_the_outermost(axis: int) -> None:
    job = three()
    before = boxes(make_plan(job))
    after = boxes(make_plan(apply_changes(job, spread(make_plan(job).dress.items, axis))))
    assert (after[0], after[2]) == (pytest.approx(before[0]), pytest.approx(before[2]))
    gaps = [after[1][axis] - after[0][axis + 2], after[2][axis] - after[1][axis + 2]]
    assert gaps[0] == pytest.approx(gaps[1], abs=3e-3)
    assert spread(make_plan(job).dress.items[:2], axis) == ()


def test_what_is_moved_together_keeps_its_distances_and_what_cannot_move_stays() -> None:
    job = three()
    job = changed(job, dress__items=(*job.dress.items, item("of-a", made="guide", art=None, of="a")))
    before = boxes(make_plan(job))
    after = boxes(make_plan(apply_changes(job, move_several(make_plan(job).dress.items, 3.25, -7.5))))
    for old, new in zip(before, after, strict=True):
        assert new[0] - old[0] == pytest.approx(3.25, abs=2e-3)
        assert new[1] - old[1] == pytest.approx(-7.5, abs=2e-3)  # what is made of one goes with it


def test_order_is_changed_among_those_that_are_named_alone() -> None:
    job = three()
    job = changed(job, dress__items=(item("below", made="window"), *job.dress.items))
    after = apply_changes(job, put_in_order(job, ["a", "c", "b"]))
    assert [each.id for each in after.dress.items] == ["below", "b", "c", "a"]
    assert put_in_order(after, ["a", "c", "b"]) == ()


def test_items_kept_together_are_told_and_saved_and_let_apart() -> None:
    job = three()
    job = apply_changes(job, keep_together(job, [job.dress.items[0], job.dress.items[2]]))
    job = read_job_json(write_job_json(job))
    assert [group_of(job, each) for each in job.dress.items] == [("a", "c"), ("b",), ("a", "c")]
    more = apply_changes(job, keep_together(job, job.dress.items[1:]))
    assert [group_of(more, each) for each in more.dress.items] == [("a",), ("b", "c"), ("b", "c")]
    apart = apply_changes(job, let_apart(job.dress.items))
    assert all(len(group_of(apart, each)) == 1 for each in apart.dress.items)


def as_wide() -> Job:
    return dressed(item("a", made="window", width="31 mm"), item("b", made="window", same_as="a"))


def test_an_item_is_as_wide_as_another_and_follows_it() -> None:
    job = as_wide()
    plan = make_plan(job)
    assert plan.figures["b.ink-width"].value == pytest.approx(31, abs=1e-3)
    assert "as wide as a" in plan.figures["b.ink-width"].sentence("mm")
    plan = make_plan(typed(job, "dress.items.a.width", "17.5 mm"))
    assert plan.figures["b.ink-width"].value == pytest.approx(17.5, abs=1e-3)


def test_words_are_as_wide_as_a_figure_and_keep_their_ratio() -> None:
    name = item("name", made="pen", art=None, words=words("Marsh"), same_as="a")
    plan = make_plan(dressed(item("a", made="window", width="44 mm"), name))
    own = make_plan(dressed(item("a", made="window"), item("name", made="pen", art=None, words=words("Marsh"))))
    assert plan.figures["name.ink-width"].value == pytest.approx(44, abs=1e-3)
    ratio = own.figures["name.ink-height"].value / own.figures["name.ink-width"].value
    assert plan.figures["name.ink-height"].value / 44 == pytest.approx(ratio, rel=5e-3)


def test_what_is_as_wide_as_something_gone_has_its_own_size_and_circles_are_refused() -> None:
    job = as_wide()
    bare = apply_changes(job, remove_items(job, [job.dress.items[0]]))
    assert [(each.id, each.same_as) for each in bare.dress.items] == [("b", None)]
    with pytest.raises(JobError, match="circle"):
        changed(job, dress__items__a__same_as="b")
    with pytest.raises(JobError, match="no item “nobody”"):
        changed(job, dress__items__b__same_as="nobody")


@pytest.mark.parametrize(
    ("kind", "told"), [("border", "larger, of"), ("window", "cut out"), ("frame", "webs of 1.5 mm")]
)
def test_what_would_be_made_of_an_item_is_said_as_it_then_is(kind: str, told: str) -> None:
    job = dressed(item("a", made="piece", paper="liner-paper"))
    words = describe_made_of(job, job.dress.items[0], kind)
    assert told in words
    made = apply_changes(job, place_made_of(job, job.dress.items[0], kind))
    new = next(each for each in made.dress.items if each.of == "a")
    if new.paper is not None:
        assert next(paper.name for paper in job.brief.papers if paper.id == new.paper) in words
    if kind == "border":
        assert str(new.steps[-1].by) in words  # type: ignore[attr-defined]
