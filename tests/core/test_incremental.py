"""A plan made anew after an edit is the plan made from nothing, whatever was edited before."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.construct.specs import ATTACHMENTS, CONSTRUCTIONS
from dechirer.core.decide.change import Change, key_of, take_off
from dechirer.core.decide.decisions import Decisions, slots_of
from dechirer.core.decide.field import Slot
from dechirer.core.dress.decisions import Column, Copies, Row
from dechirer.core.job.attach import attach
from dechirer.core.job.edit import apply_changes, choices_of
from dechirer.core.job.model import Job
from dechirer.core.length import make_length
from dechirer.core.plan import Plan, Planner, make_plan
from dechirer.core.press.station import PRESS
from dechirer.demo import load_demo_job
from tests.dressing import dressed, item, step, words
from tests.helpers import examples, quick_job, typed

HOLDS = ("corner", "gate", "helpers", "kites", "topper", "winners")
"""Demos that are quick to plan and hold something of everything."""


def fields_in(value: Any, path: str = "") -> Iterator[tuple[str, Slot]]:
    """Every field of decisions and of those below them, with its path."""
    if isinstance(value, Decisions):
        slots = slots_of(type(value))
        for name in value.__struct_fields__:
            here = f"{path}.{name}" if path else name
            if name in slots:
                yield here, slots[name]
            yield from fields_in(getattr(value, name), here)
    elif isinstance(value, tuple):
        for each in value:
            if isinstance(each, Decisions):
                yield from fields_in(each, f"{path}.{key_of(each)}")


def entries_in(job: Job) -> list[str]:
    """What can be taken off, by path."""
    found = [f"construct.{spec.id}" for spec, _ in job.construct.attached() if not spec.many]
    for spec, own in job.construct.attached():
        if spec.many:
            found += [f"{spec.path}.{entry.id}" for entry in own]
    found += [f"dress.items.{item.id}" for item in job.dress.items]
    return [*found, *(f"dress.items.{item.id}.steps.{step.id}" for item in job.dress.items for step in item.steps)]


def draw_edit(data: st.DataObject, job: Job, plan: Plan) -> tuple[Change, ...]:
    """An edit of any kind: a value, something glued on, something taken off, another construction."""
    kind = data.draw(st.sampled_from(["field", "field", "field", "attach", "off", "fold", "rows"]))
    if kind == "rows":
        rows = job.dress.copies.rows
        return (Change("dress.copies.rows", tuple(data.draw(st.permutations(rows))[: max(1, len(rows) - 1)])),)
    if kind == "fold":
        return (Change("brief.construction", data.draw(st.sampled_from(CONSTRUCTIONS.ids()))),)
    if kind == "attach":
        spec = data.draw(st.sampled_from(list(ATTACHMENTS)))
        face = data.draw(st.sampled_from(plan.construct.tree.faces))
        return attach(job, spec.id, face)
    if kind == "off" and entries_in(job):
        return (take_off(job, data.draw(st.sampled_from(entries_in(job)))),)
    path, slot = data.draw(st.sampled_from(list(fields_in(job))))
    return tuple(Change(path, value) for value in draw_value(data, job, path, slot))


def draw_value(data: st.DataObject, job: Job, path: str, slot: Slot) -> Iterator[Any]:
    """A value for a field; none for a field that holds what cannot be made up."""
    least, most = slot.field.least or 0.0, slot.field.most if slot.field.most is not None else 100.0
    near = st.floats(max(least, -30.0), min(most, 220.0)).map(lambda mm: round(mm, 2))
    match slot.kind:
        case "length":
            yield make_length(data.draw(near), "mm")
        case "mm" | "number":
            yield data.draw(near)
        case "count":
            yield data.draw(st.integers(int(least), int(min(most, 12))))
        case "switch":
            yield data.draw(st.booleans())
        case "choice" | "paper":
            known = [value for value, _ in choices_of(job, path)]
            if known:
                yield data.draw(st.sampled_from(known))


def facts(plan: Plan) -> dict[str, Any]:
    """All that can be seen of a plan."""
    return {
        "figures": {key: (figure.value, figure.sentence("mm")) for key, figure in plan.figures.items()},
        "findings": plan.findings,
        "pieces": plan.whole.pieces,
        "layouts": [[(each.id, each.box, each.turned) for each in layout.placements] for layout in plan.lay.layouts],
        "costs": plan.costs(),
        "making up": plan.making_up,
        "weak": plan.dress.weak,
        "at hand": plan.dress.at_hand,
        "evidence": plan.part(PRESS).evidence,
        "stages": [(each.item.id, each.copy.number, len(each.placed.stages)) for each in plan.dress.items],
        "live": [plan.live(each) for each in ("brief", "construct", "dress", "lay", "run", "fold", "keep")],
    }


@examples(5)
@given(st.sampled_from(HOLDS), st.data())
def test_a_plan_after_edits_is_the_plan_from_nothing(name: str, data: st.DataObject) -> None:
    planner, job = Planner(), load_demo_job(name)
    plan = planner.plan(job)
    for _ in range(4):
        try:
            job = apply_changes(job, draw_edit(data, job, plan))
        except ValueError:  # refused, and nothing has changed
            continue
        plan = planner.plan(job)
        assert facts(plan) == facts(make_plan(job))


def test_a_paper_of_another_weight_is_told_of_what_is_at_hand() -> None:
    job = dressed(item(made="piece", paper="liner-paper", at_hand=True))
    planner = Planner()
    light = planner.plan(job).dress.at_hand[0].thickness
    heavier = typed(job, "brief.papers.liner-paper.weight", "300 g/m2")
    assert facts(planner.plan(heavier)) == facts(make_plan(heavier))
    assert planner.plan(heavier).dress.at_hand[0].thickness > 1.5 * light


def test_a_row_that_comes_to_be_the_first_shows_the_stages_of_its_recipe() -> None:
    name = words(text="{name}", face="hand-print", size="12 mm")
    job = dressed(
        item(made="piece", paper="liner-paper", art=None, words=name, steps=[step("border", by="2 mm")]),
        job=quick_job("5x7in", count=2),
        copies=Copies((Column("name"),), (Row(("Ann",)), Row(("Bo",)))),
    )
    planner = Planner()
    planner.plan(job)
    turned = apply_changes(job, [Change("dress.copies.rows", job.dress.copies.rows[::-1])])
    assert facts(planner.plan(turned)) == facts(make_plan(turned))
    (first, *_) = planner.plan(turned).dress.items
    assert len(first.placed.stages) == 1


@examples(40)
@given(st.data())
def test_changes_of_different_fields_are_made_in_any_order(data: st.DataObject) -> None:
    job = load_demo_job("kites")
    fields: dict[str, Any] = {}
    for _ in range(3):
        path, slot = data.draw(st.sampled_from(list(fields_in(job))))
        fields.update((path, value) for value in draw_value(data, job, path, slot))
    changes = [Change(path, value) for path, value in fields.items()]

    def make(order: list[Change]) -> Job | None:
        try:
            return apply_changes(job, order)
        except ValueError:
            return None

    assert make(changes) == make(changes[::-1]) == make(data.draw(st.permutations(changes)))


@examples(25)
@given(st.sampled_from(HOLDS), st.data())
def test_what_is_taken_off_is_gone_and_nothing_else(name: str, data: st.DataObject) -> None:
    job = load_demo_job(name)
    there = entries_in(job)
    if not there:
        return
    path = data.draw(st.sampled_from(there))
    try:
        after = apply_changes(job, [take_off(job, path)])
    except ValueError as error:  # something needs it
        assert path.split(".")[2] in str(error) or "is not" in str(error)
        return
    left = entries_in(after)
    assert [each for each in there if each != path and not each.startswith(f"{path}.")] == left
