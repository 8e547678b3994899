"""Fields: one place says what a value may be, and model, typing, showing and refusing all hold to it.

Every field of every demo is tried, so that a new one is as soon as it is there.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.decide.change import Change, PathError, take_off, value_at
from dechirer.core.decide.decisions import Decisions, slots_of
from dechirer.core.decide.field import Field, Slot
from dechirer.core.decide.papers import papers_in
from dechirer.core.decide.reading import read_value, show_value
from dechirer.core.decide.refusal import FieldError
from dechirer.core.decide.values import given as default
from dechirer.core.job.edit import (
    apply_changes,
    choices_of,
    explain,
    has_effect,
    label_of,
    read_field,
    show_field,
    title_of,
)
from dechirer.core.job.model import Job, JobError
from dechirer.core.job.schema import make_schema
from dechirer.core.length import Length, parse_length
from dechirer.demo import DEMOS, load_demo_job
from tests.core.test_incremental import fields_in
from tests.helpers import attached, quick_job

BOUNDED = ("length", "mm", "count", "number")


def every_field(*kinds: str) -> Iterator[tuple[str, Job, str, Slot]]:
    """A field of each class of decisions in the demos: (demo, job, path, slot)."""
    seen = set()
    for demo in DEMOS:
        job = load_demo_job(demo)
        for path, slot in fields_in(job):
            parent, _, name = path.rpartition(".")
            owner = type(value_at(job, parent)) if parent else Job
            if (not kinds or slot.kind in kinds) and (owner, name) not in seen:
                seen.add((owner, name))
                yield demo, job, path, slot


FIELDS = list(every_field())
NUMBERS = [(demo, job, path, slot) for demo, job, path, slot in FIELDS if slot.kind in BOUNDED]


def written(slot: Slot, value: float) -> str:
    return f"{value:.0f}" if slot.kind == "count" else f"{value!r}" + ("" if slot.kind == "number" else " mm")


def test_there_are_many() -> None:
    assert len(FIELDS) > 150
    assert len(NUMBERS) > 80


@pytest.mark.parametrize(("demo", "job", "path", "slot"), NUMBERS, ids=[f"{each[2]}" for each in NUMBERS])
def test_a_number_is_bounded_where_its_field_says(demo: str, job: Job, path: str, slot: Slot) -> None:
    """Typed and set: both take the bounds themselves, and neither takes what is beyond; the message has the title."""
    least, most = slot.field.least, slot.field.most
    assert least is not None
    assert most is not None
    for bound in (least, most):
        read_field(job, path, written(slot, bound))
    step = 1 if slot.kind == "count" else 0.01
    for beyond in (least - step, most + step):
        with pytest.raises(FieldError) as refused:
            read_field(job, path, written(slot, beyond))
        assert str(refused.value).startswith(slot.field.title)
        value = (
            parse_length(f"{beyond!r} mm") if slot.kind == "length" else int(beyond) if slot.kind == "count" else beyond
        )
        with pytest.raises(JobError) as made:
            apply_changes(job, [Change(path, value)])
        assert slot.field.title in str(made.value)
        assert title_of(job, path) in explain(job, str(made.value))


@pytest.mark.parametrize(("demo", "job", "path", "slot"), FIELDS, ids=[f"{each[2]}" for each in FIELDS])
def test_what_is_shown_is_read_back(demo: str, job: Job, path: str, slot: Slot) -> None:
    if not slot.is_typed:
        with pytest.raises(FieldError):
            read_field(job, path, "7")
        return
    text = show_field(job, path)
    again = apply_changes(job, read_field(job, path, text)) if text or slot.optional else job
    assert show_field(again, path) == text
    if slot.kind in ("length", "count", "text", "weight", "lengths", "number"):
        assert value_at(again, path) == value_at(job, path)


@pytest.mark.parametrize("demo", list(DEMOS))
def test_every_choice_on_offer_is_taken(demo: str) -> None:
    """What a list offers either becomes the value, or is refused in words that are not about its name."""
    job, offered = load_demo_job(demo), 0
    for path, slot in fields_in(job):
        for value, words in choices_of(job, path):
            offered += 1
            assert words
            try:
                after = apply_changes(job, [Change(path, value)])
            except JobError as error:
                assert "is not one of" not in str(error), (path, value)
                continue
            assert value_at(after, path) == value
            assert isinstance(has_effect(after, path), bool)
        if slot.kind == "choice" and path != "construct.bought.name":  # of an envelope that is unknown a finding tells
            with pytest.raises(JobError):
                apply_changes(job, [Change(path, "nothing of the kind")])
    assert offered > 20


def test_a_field_that_has_no_effect_says_so() -> None:
    job = quick_job("6x6in", fold="money-holder")
    assert not has_effect(job, "construct.money_holder.rim")
    dome = apply_changes(job, [Change("construct.money_holder.holder", "dome")])
    assert has_effect(dome, "construct.money_holder.rim")


class Shelf(Decisions, frozen=True):
    """Decisions of a test."""

    high: Annotated[Length, Field("Height of the shelf", 10, 500)] = default("1 in")
    books: Annotated[int, Field("Books", 1, 40)] = 3
    spaces: Annotated[tuple[Length, ...], Field("Spaces", 0, 90)] = ()
    note: Annotated[str | None, Field("Note", 0, 20, none="none")] = None


@given(st.floats(-1000, 1000, allow_nan=False), st.sampled_from(["in", "mm"]))
def test_decisions_refuse_what_is_beyond_whoever_makes_them(mm: float, units: str) -> None:
    length = parse_length(f"{mm:.4f} mm")
    if 10 <= length.mm <= 500:
        assert Shelf(high=length).high == length
    else:
        with pytest.raises(FieldError, match="Height of the shelf: from"):
            Shelf(high=length)
        with pytest.raises(FieldError, match="Height of the shelf: from"):
            read_value(slots_of(Shelf)["high"], length.typed, units)


@given(st.text(max_size=30))
def test_any_text_is_read_or_refused_with_the_title_or_the_text(text: str) -> None:
    for name, slot in slots_of(Shelf).items():
        try:
            value = read_value(slot, text, "mm")
        except ValueError as error:
            assert str(error)
        else:
            assert read_value(slot, show_value(slot, value, "mm"), "mm") == value, name


def test_bounds_are_told_in_the_makers_unit() -> None:
    slot = slots_of(Shelf)["high"]
    for units, words in (("mm", "from 10 mm to 500 mm"), ("in", "from ~13/32 in to ~19 11/16 in")):
        with pytest.raises(FieldError, match=words):
            read_value(slot, "900 mm", units)


def test_lists_of_lengths_are_typed_with_semicolons() -> None:
    slot = slots_of(Shelf)["spaces"]
    assert [each.mm for each in read_value(slot, "1 mm; 1/2 in", "mm")] == [1, 12.7]
    assert read_value(slot, "  ", "mm") == ()
    with pytest.raises(FieldError, match="Spaces: at most"):
        read_value(slot, ";".join(["1"] * 41), "mm")
    with pytest.raises(FieldError, match="Spaces: from"):
        Shelf(spaces=(parse_length("91 mm"),))


def test_the_schema_has_the_titles_and_bounds_of_the_fields() -> None:
    schema = make_schema()["$defs"]
    count = schema["Brief"]["properties"]["count"]
    assert (count["title"], count["minimum"]) == ("Copies", 1)
    assert "mm" in schema["Gate"]["properties"]["gap"]["description"]
    titled = [each for kind in schema.values() for each in kind.get("properties", {}).values() if "title" in each]
    assert len(titled) > 150


def test_refusals_are_told_by_titles(demo: Job) -> None:
    with pytest.raises(JobError) as refused:
        apply_changes(demo, [Change("construct.liner.paper", "velvet")])
    assert str(refused.value).startswith("field construct.liner.paper")
    assert explain(demo, str(refused.value)).startswith("Liner, Paper: paper “velvet” is not one of")
    assert explain(demo, "something else") == "something else"
    assert explain(demo, "field nowhere.at.all: is bad") == "is bad"


def test_an_edit_says_whose_field_it_changed() -> None:
    kites = load_demo_job("kites")
    step = next(item for item in kites.dress.items if item.steps)
    path = f"dress.items.{step.id}.steps.{step.steps[-1].id}.by"
    if hasattr(step.steps[-1], "by"):
        assert label_of(kites, path).startswith(f"{step.name}, {step.steps[-1].kind}: ")
    assert label_of(kites, "brief.papers.chalk.weight") == "chalk white: Paper weight"
    assert label_of(kites, "construct.gate.gap") == "Gap between the doors"
    layered = attached(quick_job("5x7in"), "layers")
    assert label_of(layered, "construct.layers.layer-1.foam").startswith("layer 1: ")


def test_paths_that_lead_nowhere_name_the_step(demo: Job) -> None:
    for path, step in (("brief.colour", "colour"), ("brief.papers.gold.weight", "gold"), ("lay.margin.mm", "mm")):
        with pytest.raises((PathError, JobError), match=step):
            apply_changes(demo, [Change(path, 1)])
    with pytest.raises(PathError):
        take_off(demo, "construct.layers.layer-9")


def test_every_place_that_names_a_paper_is_known() -> None:
    places = dict(papers_in(load_demo_job("kites").dress, "dress"))
    assert places["dress.items.dunes.paper"] == "reed-green"
    brief = dict(papers_in(load_demo_job("kites").brief, "brief"))
    assert brief == {"brief.base_paper": "sea-grey"}
