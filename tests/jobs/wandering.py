"""Jobs as a maker might leave them after some edits at random: the same for a seed at every time.

They come to values, turns, places and mixtures that nobody thinks of when writing an example.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from random import Random
from typing import Any

from dechirer.core.construct.specs import ATTACHMENTS
from dechirer.core.decide.change import Change, PathError, value_at
from dechirer.core.decide.decisions import Decisions, slots_of
from dechirer.core.decide.refusal import FieldError
from dechirer.core.dress.apart import take_apart
from dechirer.core.dress.decisions import Item
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import add_step, make_as, place_art, place_made_of, place_words, ways_for
from dechirer.core.dress.gather import gather
from dechirer.core.dress.shapes import SHAPES, place_shape
from dechirer.core.dress.step import STEPS
from dechirer.core.job.attach import attach
from dechirer.core.job.edit import apply_changes, choices_of, read_field
from dechirer.core.job.model import Job, JobError
from dechirer.core.length import Length
from dechirer.core.plan import Planner
from dechirer.demo import DEMOS, load_demo_job
from tests.dressing import art, box_path

MADE_OF = ("border", "window", "frame")
ROOMS = ("brief", "construct", "dress", "lay", "run")
EDITS = 7
WHEEL = art(f"{box_path(34, 22, 6, 9)} {box_path(10, 6, 14, 15)}", "M 44 4 L 58 12 L 47 27 Z", width=62.0, height=36.0)
NOT_TOUCHED = ("brief.count", "brief.machine", "brief.papers", "dress.art", "dress.fonts", "lay.pins")
"""Left alone: copies by the thousand, machines without a mat, and what is not decided but brought."""


def wander(seed: int) -> Job:
    """A job after some edits."""
    random = Random(seed)
    job = load_demo_job(random.choice(list(DEMOS)))
    planner = Planner()
    for _ in range(EDITS):
        edit = random.choices(*zip(*_edits().items(), strict=True))[0]
        try:
            job = apply_changes(job, edit(job, random, planner))
        except (FieldError, JobError, PathError, ValueError):
            continue  # as when a maker is told that it cannot be
    return job


def _edits() -> dict[Callable[[Job, Random, Planner], tuple[Change, ...]], float]:
    return {
        _type: 6, _choose: 3, _attach: 1, _put_shape: 1.5, _put_words: 1, _put_art: 1,
        _add_step: 3, _make_of: 1, _make_as: 1, _take_apart: 0.7, _gather: 0.7,
    }  # fmt: skip


def _places(job: Job) -> Iterator[tuple[str, Decisions]]:
    waiting: list[tuple[str, Any]] = [
        (name, getattr(job, name)) for name in ("brief", "construct", "dress", "lay", "run")
    ]
    while waiting:
        path, value = waiting.pop()
        if path.startswith(NOT_TOUCHED):
            continue
        if isinstance(value, Decisions):
            yield path, value
            waiting += [(f"{path}.{name}", getattr(value, name)) for name in value.__struct_fields__]
        elif isinstance(value, tuple):
            waiting += [(f"{path}.{each.id}", each) for each in value if hasattr(each, "id")]


def _slots(job: Job) -> list[tuple[str, Any]]:
    found = [(f"{path}.{name}", slot) for path, value in _places(job) for name, slot in slots_of(type(value)).items()]
    return sorted((each for each in found if not each[0].startswith(NOT_TOUCHED)), key=lambda each: each[0])


def _type(job: Job, random: Random, _: Planner) -> tuple[Change, ...]:
    """A number somewhere a little larger or smaller, or another one within its bounds."""
    path, slot = random.choice([each for each in _slots(job) if each[1].kind in ("length", "number", "mm")])
    now = value_at(job, path)
    here = now.mm if isinstance(now, Length) else now if isinstance(now, int | float) else 5.0
    value = here * random.uniform(0.5, 1.7) if here and random.random() < 0.7 else random.uniform(-4.0, 40.0)
    return read_field(job, path, f"{value:.2f}" if slot.kind == "number" else f"{value:.2f} mm")


def _choose(job: Job, random: Random, _: Planner) -> tuple[Change, ...]:
    """Another choice, or a switch turned."""
    path, slot = random.choice([each for each in _slots(job) if each[1].kind in ("choice", "switch", "paper")])
    if slot.kind == "switch":
        return (Change(path, not value_at(job, path)),)
    return (Change(path, random.choice(choices_of(job, path))[0]),)


def _attach(job: Job, random: Random, planner: Planner) -> tuple[Change, ...]:
    return attach(job, random.choice(ATTACHMENTS.ids()), random.choice(planner.plan(job).construct.tree.faces))


def _put_shape(job: Job, random: Random, planner: Planner) -> tuple[Change, ...]:
    return place_shape(job, random.choice(list(SHAPES)), random.choice(planner.plan(job).dress.spots))


def _put_words(job: Job, random: Random, planner: Planner) -> tuple[Change, ...]:
    return place_words(
        job, random.choice(planner.plan(job).dress.spots), random.choice(("Ahoy", "Sea & sand\nfor two"))
    )


def _put_art(job: Job, random: Random, planner: Planner) -> tuple[Change, ...]:
    return place_art(job, WHEEL, random.choice(planner.plan(job).dress.spots))


def _item(job: Job, random: Random) -> Item:
    if not job.dress.items:
        raise ValueError("nothing on the faces")
    return random.choice(job.dress.items)


def _dressed(job: Job, random: Random, planner: Planner) -> Dressed:
    found = planner.plan(job).dress.item(_item(job, random).id)
    if found is None:
        raise ValueError("it is not on a face")
    return found


def _add_step(job: Job, random: Random, _: Planner) -> tuple[Change, ...]:
    item, others, kind = _item(job, random), [each.id for each in job.dress.items], random.choice(STEPS.ids())
    wants_other = "of" in STEPS[kind].decisions.__struct_fields__
    return add_step(job, item, kind, random.choice(others) if wants_other else None)


def _make_of(job: Job, random: Random, _: Planner) -> tuple[Change, ...]:
    return place_made_of(job, _item(job, random), random.choice(MADE_OF))


def _make_as(job: Job, random: Random, _: Planner) -> tuple[Change, ...]:
    item = _item(job, random)
    return make_as(job, item, random.choice(ways_for(item)))


def _take_apart(job: Job, random: Random, planner: Planner) -> tuple[Change, ...]:
    return take_apart(job, _dressed(job, random, planner))


def _gather(job: Job, random: Random, planner: Planner) -> tuple[Change, ...]:
    return gather(job, _dressed(job, random, planner))
