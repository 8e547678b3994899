"""The schedule: n cards as a line of work or one after the other, what dries meanwhile, and when work has to begin.

In a line one step is done for all cards before the next, so that getting ready counts once and a card dries while the
others are worked on. One after the other every card is waited for.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date, timedelta

from msgspec import Struct

from dechirer.core.figure import Figure
from dechirer.core.fold.decisions import MakingUp
from dechirer.core.fold.step import STAGES, MakeStep


class Bar(Struct, frozen=True):
    """One step on the schedule: when hands begin and end at it, and how long is waited after it, minutes."""

    step: str
    words: str
    stage: str
    start: float
    end: float
    wait: float


class Schedule(Struct, frozen=True):
    """How long making up takes.

    Attributes:
        way: `line` or `each`, the one that is followed.
        line, each: how long either takes, minutes.
        bars: the steps of the way that is followed; one after the other, of the first card.
        minutes: how long it takes the way it is followed.
        days: on how many days, with the hours a day that were given.
        start_by: the day work has to begin; empty where no day is set.
        late: by how many days it begins too late; 0 where it does not, or nothing is set.
    """

    way: str
    line: float
    each: float
    bars: tuple[Bar, ...]
    minutes: Figure
    days: int
    start_by: str = ""
    late: int = 0


def make_schedule(steps: Sequence[MakeStep], own: MakingUp, count: int, machines: Figure, due: str = "") -> Schedule:
    """The schedule of some steps for so many cards.

    Args:
        machines: how long the job takes at the machines, minutes; that comes before, on the same days.
        due: the day the cards are wanted on; empty for none.
    """
    bars = _line(steps, own.hands, count)
    line = max((bar.end + bar.wait for bar in bars), default=0.0)
    alone = _each(steps, own.hands)
    each = count * max((bar.end + bar.wait for bar in alone), default=0.0)
    way = own.way if own.way != "sooner" else "line" if line <= each else "each"
    parts = tuple(_of_stage(stage, title, steps, own.hands, count, way) for stage, title in STAGES.items())
    parts = tuple(part for part in parts if part.value > 0)
    taken = line if way == "line" else each
    waited = taken - sum(part.value for part in parts)
    if waited > 0.05:
        source = "glue that sets while nothing else can be done"
        parts = (*parts, Figure("fold.waiting", "waiting", waited, "minutes", source=source))
    order = "One step for all cards, then the next" if way == "line" else "One card after the other"
    minutes = Figure(
        "fold.minutes",
        "time to make up",
        taken,
        "minutes",
        formula=" + ".join("{" + part.name + "}" for part in parts),
        inputs=parts,
        note=f"{order}; minutes for each step are from memory.",
    )
    days = max(1, math.ceil((taken + machines.value) / 60 / own.hours - 1e-9))
    start_by, late = _start_by(own, due, days)
    return Schedule(way, line, each, bars if way == "line" else alone, minutes, days, start_by, late)


def _of_stage(stage: str, title: str, steps: Sequence[MakeStep], hands: int, count: int, way: str) -> Figure:
    own = [step for step in steps if step.stage == stage]
    setups = 1 if way == "line" else count
    value = sum(setups * step.setup_s + count * step.hands_s / hands for step in own) / 60
    seconds = sum(step.hands_s for step in own)
    people = f", {hands} people" if hands > 1 else ""
    source = f"{seconds:.0f} s a card × {count}{people}, and getting ready (from memory)"
    return Figure(f"fold.{stage.replace(' ', '-')}", title.lower(), value, "minutes", source=source)


def _line(steps: Sequence[MakeStep], hands: int, count: int) -> tuple[Bar, ...]:
    """Each step for all cards: the next begins when the hands are free and the first card is dry, and may not outrun
    the drying of the last."""
    clock, dry_first, dry_last = 0.0, 0.0, 0.0
    found = []
    for step in steps:
        work = (step.setup_s + count * step.hands_s / hands) / 60
        start = max(clock, dry_first - step.setup_s / 60)
        end = max(start + work, dry_last + step.hands_s / hands / 60 if dry_last else 0.0)
        found.append(Bar(step.id, step.words, step.stage, start, end, step.sets_min))
        clock = end
        one = step.setup_s / 60 + step.hands_s / hands / 60
        dry_first = start + one + step.sets_min if step.sets_min else 0.0
        dry_last = end + step.sets_min if step.sets_min else 0.0
    return tuple(found)


def _each(steps: Sequence[MakeStep], hands: int) -> tuple[Bar, ...]:
    """One card by itself: every joint is waited for before the next step."""
    clock, found = 0.0, []
    for step in steps:
        work = (step.setup_s + step.hands_s / hands) / 60
        found.append(Bar(step.id, step.words, step.stage, clock, clock + work, step.sets_min))
        clock += work + step.sets_min
    return tuple(found)


def _start_by(own: MakingUp, due: str, days: int) -> tuple[str, int]:
    if not due:
        return "", 0
    start = date.fromisoformat(due) - timedelta(days=days)
    late = (date.fromisoformat(own.begins) - start).days if own.begins else 0
    return start.isoformat(), max(0, late)
