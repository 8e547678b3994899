"""Putting things on faces: sensible beginnings, true sizes, what follows what."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.dress.decisions import MADE
from dechirer.core.dress.edits import (
    add_step,
    correct_scale,
    forget_unused,
    make_as,
    move_item,
    move_step,
    new_id,
    other_paper,
    place_again,
    place_art,
    place_at,
    place_in_middle,
    place_made_of,
    place_words,
    remove_step,
    ways_for,
)
from dechirer.core.dress.seen import remove_items
from dechirer.core.dress.step import STEPS
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from tests.dressing import dressed, item, square, step
from tests.helpers import changed, quick_job, typed


def spot(job: Job, face: str = "front"):
    found = make_plan(job).dress.spot(face)
    assert found is not None
    return found


def test_art_that_goes_on_the_face_keeps_its_true_size_and_larger_art_is_brought_in() -> None:
    job = quick_job("5x7in")
    small = apply_changes(job, place_art(job, square(30.0), spot(job)))
    assert small.dress.items[0].width is None
    assert make_plan(small).dress.items[0].width.value == pytest.approx(30)
    large = apply_changes(job, place_art(job, square(900.0), spot(job)))
    assert make_plan(large).dress.items[0].width.value == pytest.approx(0.6 * 127, abs=1.6)


def test_names_and_ids_do_not_clash_with_anything_in_the_job() -> None:
    job = dressed(item("kite"), job=quick_job("5x7in", liner="1/16"))
    assert new_id(job, "Kite!") == "kite-2"
    assert new_id(job, "Liner") == "liner-2"
    assert new_id(job, "7 gulls") == "i-7-gulls"
    assert new_id(job, "***") == "item"


@given(st.text(max_size=60))
def test_any_name_gives_an_id(name: str) -> None:
    job = dressed(item("item"))
    made = new_id(job, name)
    apply_changes(job, place_words(job, spot(job), "words"))
    changed(job, dress__items=(*job.dress.items, item(made)))


def test_placing_again_adds_no_second_copy_of_the_art() -> None:
    job = dressed(item("one"))
    again = apply_changes(job, place_again(job, job.dress.art[0], spot(job)))
    assert len(again.dress.items) == 2
    assert len(again.dress.art) == 1
    assert forget_unused(again) == ()
    bare = apply_changes(job, remove_items(job, [job.dress.items[0]]))
    assert apply_changes(bare, forget_unused(bare)).dress.art == ()


@pytest.mark.parametrize("kind", STEPS.ids())
def test_every_step_begins_with_measures_that_can_be_planned(kind: str) -> None:
    job = dressed(item("other", made="guide", width="8 mm"), item(made="window"))
    job = apply_changes(job, add_step(job, job.dress.items[1], kind, "other" if kind == "cut" else None))  # type: ignore[arg-type]
    assert [each.kind for each in job.dress.items[1].steps] == [kind]
    plan = make_plan(job)
    gone = [each for each in plan.findings if each.code == "dress.step-gone"]
    assert not gone


def test_steps_are_moved_and_taken_out() -> None:
    thing = item(steps=(step("join"), step("border", by="2 mm"), step("round", by="1 mm")))
    job = dressed(thing)
    later = apply_changes(job, move_step(thing, "join-1", 1)).dress.items[0].steps
    assert [each.kind for each in later] == ["border", "join", "round"]
    first = apply_changes(job, move_step(thing, "join-1", -1)).dress.items[0].steps
    assert [each.kind for each in first] == ["join", "border", "round"]
    left = apply_changes(job, remove_step(thing, "border-1")).dress.items[0].steps
    assert [each.kind for each in left] == ["join", "round"]


def test_taking_an_item_off_takes_what_is_made_of_it() -> None:
    job = dressed(
        item("a"), item("b", of="a"), item("c", of="b"), item("d", steps=(step("cut", of="c", by="0 mm"),)), item("e")
    )
    left = apply_changes(job, remove_items(job, [job.dress.items[0]]))
    assert [each.id for each in left.dress.items] == ["e"]


def test_items_move_forward_and_back_within_the_list() -> None:
    job = dressed(item("a"), item("b"), item("c"))
    assert [i.id for i in apply_changes(job, move_item(job, job.dress.items[0], 1)).dress.items] == ["b", "a", "c"]
    assert [i.id for i in apply_changes(job, move_item(job, job.dress.items[2], 1)).dress.items] == ["a", "b", "c"]


@pytest.mark.parametrize("made", MADE)
def test_an_item_made_another_way_gets_the_paper_or_ink_it_needs(made: str) -> None:
    job = dressed(item())
    after = apply_changes(job, make_as(job, job.dress.items[0], made)).dress.items[0]  # type: ignore[arg-type]
    assert after.made == made
    if made == "piece":
        assert after.paper == other_paper(job, job.brief.base_paper) == "liner-paper"
    assert made in ways_for(after)


def test_only_art_can_be_made_as_its_groups_say() -> None:
    assert "art" not in ways_for(item(words="Kite"))


@pytest.mark.parametrize("kind", ["border", "window", "frame"])
def test_what_is_made_of_an_item_lies_where_that_lies(kind: str) -> None:
    job = dressed(item(across="left", x="11 mm", down="top", y="13 mm", paper="liner-paper"))
    job = apply_changes(job, place_made_of(job, job.dress.items[0], kind))
    new = next(each for each in job.dress.items if each.of == "thing")
    found = make_plan(job).dress.item(new.id)
    assert found is not None
    left, top, *_ = found.placed.drawn.box()
    grown = 3.175 if kind == "border" else 0.0
    assert (left, top) == pytest.approx((11 - grown, 13 - grown), abs=0.011)


@given(
    st.floats(-20, 150),
    st.floats(-20, 150),
    st.sampled_from(["in", "mm"]),
    st.sampled_from([("panel", 0), ("safe", 4)]),
)
def test_dragging_puts_an_item_on_the_nearest_mark_of_the_rule(
    left: float, top: float, units: str, within: tuple[str, float]
) -> None:
    zone, margin = within
    thing = item(paper="liner-paper", within=zone)
    job = typed(changed(dressed(thing), units=units), "dress.safe", "4 mm")
    placed = make_plan(apply_changes(job, place_at(thing, left, top, (margin, margin), units))).dress.item("thing")
    assert placed is not None
    assert placed.placed.region[:2] == pytest.approx((margin, margin))
    step_mm = 25.4 / 32 if units == "in" else 0.5
    assert placed.placed.source[0] == pytest.approx(left, abs=step_mm / 2 + 1e-6)
    assert placed.placed.source[1] == pytest.approx(top, abs=step_mm / 2 + 1e-6)


def test_putting_back_in_the_middle_keeps_the_turn() -> None:
    thing = item(across="left", x="3 mm", turn_deg=30.0, mirrored=True)
    job = dressed(thing)
    place = apply_changes(job, place_in_middle(thing)).dress.items[0].place
    assert (place.across, place.down, place.turn_deg, place.mirrored) == ("middle", "middle", 30.0, True)


@given(st.floats(0.5, 60), st.floats(0.5, 200))
def test_a_known_feature_settles_the_size(shown: float, true: float) -> None:
    job = dressed(item(paper="liner-paper"), arts=(square(20.0, doubt="nothing says its unit"),))
    job = apply_changes(job, correct_scale(job, job.dress.art[0], shown, true))
    art = job.dress.art[0]
    assert shown * art.scale == pytest.approx(true)
    assert art.doubt == ""
    assert make_plan(job).dress.items[0].width.value == pytest.approx(20 * true / shown, rel=1e-6)


def test_a_field_typed_with_nonsense_keeps_the_old_value() -> None:
    from dechirer.core.decide.refusal import FieldError

    job = dressed(item(steps=(step("border", by="2 mm"),)))
    for path, text in (
        ("dress.items.thing.steps.border-1.by", "two"),
        ("dress.items.thing.width", "-3 mm"),
        ("dress.safe", "1 km"),
        ("dress.items.thing.place.turn_deg", "north"),
    ):
        with pytest.raises(FieldError):
            typed(job, path, text)
