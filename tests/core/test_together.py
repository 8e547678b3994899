"""Several jobs on common mats, pieces moved from mat to mat, mats kept, folds along the grain."""

from __future__ import annotations

import math
from collections import Counter

import pytest
import shapely
from msgspec.structs import replace

from dechirer.core.audit import audit
from dechirer.core.card.placed import Placement, make_placement
from dechirer.core.dress.decisions import Item
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, from_plain, to_plain
from dechirer.core.lay.decisions import Locked
from dechirer.core.lay.guests import Other
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.moving import is_locked, lock, move_across, swap, unlock
from dechirer.core.lay.pinning import move_placement, pin_layout, turn_towards
from dechirer.core.lay.wanted import spoil, whole_again
from dechirer.core.laying_together import TogetherError, invite, plan_other, send_away
from dechirer.core.plan import Plan, make_plan
from dechirer.core.shape.outline import Box
from tests.blanks import blank_job, in_words
from tests.core.test_press_catalogue import card, red
from tests.helpers import changed, codes, finding, quick_job, typed


def joined(first: Job, *others: Job) -> Job:
    for other in others:
        first = apply_changes(first, invite(first, other, plan_other(other)))
    return first


def laid(plan: Plan) -> Counter[str]:
    found: Counter[str] = Counter()
    for layout in plan.lay.layouts:
        for placed in layout.placements:
            found[placed.piece.id] += layout.repeats
    return found


def no_overlap(plan: Plan) -> None:
    """Asked of shapely: nothing lies on anything else, everything inside its room."""
    for layout in plan.lay.layouts:
        shapes = [shapely.Polygon(placed.outline) for placed in layout.placements]
        whole = shapely.union_all(shapes).area
        assert whole == pytest.approx(sum(each.area for each in shapes), rel=1e-6)
        assert all(layout.sheet.room.holds(placed.box, slack=0.01) for placed in layout.placements)


def test_eight_slit_cards_of_two_sizes_are_one_run_on_two_card_mats() -> None:
    """The first whole job: four small and four large blanks, two loads of one size each, one pen for all."""
    job = joined(in_words(blank_job("a2-side")), changed(in_words(blank_job("a7-side")), name="Large ones"))
    plan = make_plan(job)
    loads = [layout for layout in plan.lay.layouts if layout.is_blank]
    assert [(each.repeats, len(each.placements), each.sheet.mat.id) for each in loads] == [(1, 4, "four-cards")] * 2
    assert len({round(each.sheet.width) for each in loads}) == 2
    assert plan.run.changes.value <= 1
    assert plan.run.minutes.value < 8 * 8
    assert plan.stops == 0
    assert not audit(plan, again=True)
    inserts = next(layout for layout in plan.lay.layouts if not layout.is_blank)
    assert {placed.piece.id for placed in inserts.placements} == {"insert", "large-ones-insert"}
    assert from_plain(to_plain(job)) == job


def test_jobs_share_mats_by_paper_and_bring_papers_that_are_missing() -> None:
    first = quick_job("4x4in")
    other = changed(quick_job("3x4in"), name="Thanks")
    other = changed(other, brief__papers=(replace(other.brief.papers[0], colour="#cc2211", name="poppy"),))
    job = joined(first, changed(quick_job("3x3in"), name="Notes"), other)
    plan = make_plan(job)
    assert [paper.name for paper in job.brief.papers][-1] == "poppy"
    shared = next(layout for layout in plan.lay.layouts if layout.paper == "card")
    assert {placed.piece.id for placed in shared.placements} == {"base", "notes-base"}
    assert {placed.piece.name for placed in shared.placements} == {"base", "Notes: base"}
    assert [each.guest.letter for each in plan.lay.guests] == ["b", "c"]
    no_overlap(plan)
    assert not audit(plan, again=True)
    alone = make_plan(apply_changes(job, [send_away(job, "notes")]))
    assert "notes-base" not in laid(alone)


def test_what_is_laid_is_the_job_as_it_was_and_one_that_is_spoiled_is_cut_alone() -> None:
    job = joined(quick_job("4x4in", count=2), changed(quick_job("3x3in", count=3), name="Notes"))
    assert laid(make_plan(job)) == {"base": 2, "notes-base": 3}
    again = apply_changes(job, [spoil(job.lay, "notes-base")])
    plan = make_plan(again)
    assert laid(plan) == {"notes-base": 1}
    assert "Notes: base" in finding(plan, "lay.recut").title
    assert laid(make_plan(apply_changes(again, [whole_again()]))) == {"base": 2, "notes-base": 3}


def test_a_guest_that_is_printed_or_stops_is_refused_in_words() -> None:
    printed = changed(card(red()), name="Printed")
    with pytest.raises(TogetherError, match="“Printed” is printed"):
        joined(quick_job(), printed)
    bad = changed(typed(quick_job(), "brief.width", "30 in"), name="Bad")
    with pytest.raises(TogetherError, match="“Bad” has"):
        joined(quick_job(), bad)
    for stops, told in ((1, "has a finding that stops it;"), (3, "has 3 findings that stop it;")):
        with pytest.raises(TogetherError, match=told):
            invite(quick_job(), bad, Other(stops=stops))
    job = quick_job("3x3in")
    for _ in range(12):
        job = joined(job, quick_job("2x2in"))
    with pytest.raises(TogetherError, match="up to 12"):
        joined(job, quick_job("2x2in"))
    assert len({guest.id for guest in job.lay.guests}) == 12


def test_a_guest_brings_no_guests_and_what_cannot_be_read_stops_the_job() -> None:
    inner = joined(quick_job("3x3in"), changed(quick_job("2x2in"), name="Inner"))
    plan = make_plan(joined(quick_job("4x4in"), changed(inner, name="Outer")))
    assert set(laid(plan)) == {"base", "outer-base"}
    job = joined(quick_job("4x4in"), changed(quick_job("2x2in"), name="Other"))
    broken = changed(job, lay__guests=(replace(job.lay.guests[0], job='{"format": 3}'),))
    assert "could not be read" in finding(make_plan(broken), "lay.guest-stops").reason


# --- by hand ----------------------------------------------------------------------------------------------------


def test_a_piece_is_put_on_another_mat_and_both_are_kept() -> None:
    job = quick_job("3x3in", fold="flat", count=13)
    plan = make_plan(job)
    full, other = plan.lay.layouts
    assert "no room" in move_across(job.lay, other, full, other.placements[0])
    found = move_across(job.lay, full, other, full.placements[4])
    assert not isinstance(found, str)
    after = apply_changes(job, found)
    again = make_plan(after)
    assert [len(each.placements) for each in again.lay.layouts] == [8, 5]
    assert laid(again) == laid(plan)
    no_overlap(again)
    assert all(is_locked(after.lay, each) for each in again.lay.layouts)
    assert not audit(again)


def test_a_piece_put_on_another_mat_lies_there_as_it_lay() -> None:
    job = changed(quick_job("3x5in", fold="flat", count=9), lay__may_turn=False)
    full, other = make_plan(job).lay.layouts
    turned = make_placement("base-1", full.placements[0].piece, 100.0, 60.0, turned=True, half=True, pinned=True)
    here = replace(full, placements=(turned,))
    found = move_across(job.lay, here, other, turned)
    assert not isinstance(found, str)
    moved = [pin for pin in found[0].value if pin.mat == other.index]
    assert [(pin.turned, pin.half) for pin in moved].count((True, True)) == 1
    assert len(moved) == len(other.placements) + 1
    narrow = replace(
        other, placements=(), sheet=replace(other.sheet, width=290.0, height=115.0, room=Box(5, 5, 285, 110))
    )
    assert "no room" in move_across(job.lay, full, narrow, full.placements[0])
    free = changed(job, lay__may_turn=True).lay
    assert "no room" in move_across(free, full, narrow, full.placements[0], may_turn=False)
    assert not isinstance(move_across(free, full, narrow, full.placements[0]), str)


def test_pieces_are_swapped_where_they_fit_and_else_refused() -> None:
    job = quick_job("2.5x2.5in", liner="1/16", count=4)
    job = changed(job, construct__liner=replace(job.construct.liner, paper="card"))  # type: ignore[type-var]
    plan = make_plan(job)
    layout = next(each for each in plan.lay.layouts if len(each.placements) > 2)
    one = layout.placements[0]
    other = next(each for each in layout.placements if each.piece.id != one.piece.id)
    found = swap(job.lay, layout, one, other, "in")
    if isinstance(found, str):
        assert one.piece.name in found or other.piece.name in found
    else:
        after = make_plan(apply_changes(job, found))
        no_overlap(after)
        places = {placed.piece.id: (placed.box.left, placed.box.top) for placed in after.lay.layouts[0].placements}
        assert (one.box.left, one.box.top) in places.values()
    same = next(each for each in layout.placements if each.piece.id == one.piece.id and each is not one)
    assert not isinstance(swap(job.lay, layout, one, same, "in"), str)


def test_a_mat_that_is_kept_takes_nothing_more_until_it_is_let_go() -> None:
    job = quick_job("3x3in", fold="flat", count=4)
    layout = make_plan(job).lay.layouts[0]
    kept = apply_changes(job, lock(job.lay, layout))
    more = typed(kept, "brief.count", "9")
    plan = make_plan(more)
    assert next(len(each.placements) for each in plan.lay.layouts) == len(layout.placements)
    assert laid(plan)["base"] == 9
    let_go = apply_changes(more, unlock(more.lay, plan.lay.layouts[0]))
    assert not is_locked(let_go.lay, plan.lay.layouts[0])
    both = changed(more, lay__locked=(Locked("card", 0), Locked("card", 1)))
    assert apply_changes(both, unlock(both.lay, plan.lay.layouts[0])).lay.locked == (Locked("card", 1),)
    free = make_plan(let_go)
    assert laid(free)["base"] == 9
    assert len(free.lay.layouts) <= len(plan.lay.layouts)
    empty = changed(job, lay__locked=(Locked("card", 0), Locked("card", 1)))
    assert laid(make_plan(empty))["base"] == 4, "a mat that is kept empty is passed over"


# --- grain ------------------------------------------------------------------------------------------------------


def grained(**more: object) -> Job:
    job = quick_job("5x7in", count=6)
    paper = replace(job.brief.papers[0], grain="long", weight="110 lb cover")
    return changed(job, brief__papers=(paper, *job.brief.papers[1:]), **more)


@pytest.mark.parametrize("size", ["5x7in", "7x5in", "4x6in"])
@pytest.mark.parametrize("fold", ["side-fold", "top-fold", "gate"])
def test_folds_lie_along_the_grain_when_it_is_asked_for(size: str, fold: str) -> None:
    job = changed(quick_job(size, fold=fold, count=3))
    job = changed(job, brief__papers=tuple(replace(each, grain="long") for each in job.brief.papers))
    job = typed(changed(job, lay__along_grain=True), "brief.papers.card.sheet", "12 x 24 in")
    plan = make_plan(job)
    assert "lay.fold-across-grain" not in codes(plan)
    if plan.lay.unplaced:
        return  # along the grain it does not go on the sheet, which is told as such
    for layout in plan.lay.layouts:
        upright = layout.sheet.height > layout.sheet.width - 1.0  # a square one has its grain up
        for placed in layout.placements:
            for mark in placed.piece.folds:
                (x1, y1), (x2, y2) = placed.to_sheet.all((mark.start, mark.end))
                assert (abs(y2 - y1) > abs(x2 - x1)) == upright
    no_overlap(plan)


def test_the_mend_of_grain_turns_what_lay_across() -> None:
    job = grained(lay__may_turn=True)
    job = typed(job, "brief.papers.card.sheet", "10 x 12 in")
    found = next((each for each in make_plan(job).findings if each.code == "lay.fold-across-grain"), None)
    if found is not None:
        labels = [mend.label for mend in found.mends]
        assert any("along" in label for label in labels)


def test_items_on_a_piece_turn_with_its_folds() -> None:
    from tests.dressing import dressed, item, words

    hello: Item = item("hello", made="pen", art=None, words=words("North", face="line-plain", size="8 mm"))
    job = dressed(hello, job=grained(lay__along_grain=True))
    job = typed(job, "brief.papers.card.sheet", "11 x 12 in")
    plan = make_plan(job)
    assert not audit(plan, again=True)


# --- turned freely ----------------------------------------------------------------------------------------------


@pytest.mark.parametrize("angle", [-100.0, -30.0, 12.5, 45.0, 90.0])
def test_a_piece_turned_to_an_angle_keeps_its_shape_and_its_place_in_the_job(angle: float) -> None:
    job = quick_job("3x5in", fold="flat", count=2)
    layout = make_plan(job).lay.layouts[0]
    first = layout.placements[0]
    turned = move_placement(layout, first.id, 90.0, 100.0, angle=angle)
    ring = shapely.Polygon(turned.outline)
    assert ring.area == pytest.approx(76.2 * 127.0)
    assert (ring.bounds[0], ring.bounds[1]) == pytest.approx((90.0, 100.0))
    box = (turned.box.width, turned.box.height)
    assert box == pytest.approx((ring.bounds[2] - 90.0, ring.bounds[3] - 100.0))
    # The box of a turned rectangle is w |cos| + h |sin| wide (plain geometry).
    c, s = abs(math.cos(math.radians(angle))), abs(math.sin(math.radians(angle)))
    sides = (127.0, 76.2) if first.turned else (76.2, 127.0)
    assert box == pytest.approx((sides[0] * c + sides[1] * s, sides[0] * s + sides[1] * c))
    pinned = apply_changes(job, [pin_layout(job.lay, structs_with(layout, (turned,)), turned)])
    again = make_plan(pinned)
    kept = next(placed for placed in again.lay.layouts[0].placements if placed.pinned)
    assert kept.angle == pytest.approx(angle, abs=0.001)
    assert shapely.Polygon(kept.outline).symmetric_difference(ring).area < 0.2
    no_overlap(again)
    assert not audit(again)


def structs_with(layout: MatLayout, placements: tuple[Placement, ...]) -> MatLayout:
    return replace(layout, placements=placements)


def test_a_handle_turns_about_the_middle_and_clicks() -> None:
    layout = make_plan(quick_job("3x5in", fold="flat")).lay.layouts[0]
    placed = move_placement(layout, layout.placements[0].id, 100.0, 80.0)
    layout = structs_with(layout, (placed,))
    x, y = placed.box.middle
    handle = (x, placed.box.top - 9.0)
    arm = y - handle[1]
    for wanted in (30.0, 31.0, 22.0, -90.0):
        there = (x + arm * math.sin(math.radians(wanted)), y - arm * math.cos(math.radians(wanted)))
        turned = turn_towards(layout, placed, handle, (there[0] - handle[0], there[1] - handle[1]))
        clicked = 30.0 if wanted == 31.0 else wanted
        assert turned.angle == pytest.approx(clicked, abs=1e-6)
        assert turned.box.middle == pytest.approx((x, y))
