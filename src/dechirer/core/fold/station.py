"""Fold as a station."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from dechirer.core.brief.decisions import Brief
from dechirer.core.brief.station import BRIEF
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.station import CONSTRUCT
from dechirer.core.dress.station import DRESS, STACK
from dechirer.core.figure import format_minutes
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.fold import ORDER, TITLE
from dechirer.core.fold.decisions import MakingUp
from dechirer.core.fold.making_up import Asked, make_making_up
from dechirer.core.run.station import RUN
from dechirer.core.stations import Cost, Known, Part, StationSpec, learned_of
from dechirer.core.words import plural


def _reads(known: Known) -> tuple[Any, ...]:
    envelope = known.of(Construct).envelope
    closure = envelope.closure if envelope is not None else "gummed"
    brief = known.of(Brief)
    asked = Asked(brief.count, known.units, closure, learned_of(known, "making."), brief.due)
    parts = known.part(BRIEF), known.part(CONSTRUCT), known.part(STACK), known.part(DRESS), known.part(RUN)
    return asked, *parts, known.of(MakingUp)


def _check(known: Known) -> Iterator[Finding]:
    from dechirer.core.fold.checks import FoldSeen

    seen = FoldSeen(
        known.units,
        known.of(Brief),
        known.of(Construct),
        known.of(MakingUp),
        known.part(CONSTRUCT),
        known.part(STACK),
        known.part(DRESS),
        known.part(FOLD),
    )
    return CHECKS.run(make_making_up, seen)


FOLD = Part("fold", "fold", 70, _reads, make_making_up, check=_check, skipped_while_dragged=True)


def _costs(known: Known) -> tuple[Cost, ...]:
    text = format_minutes(known.part(FOLD).schedule.minutes.value)
    number, _, unit = text.partition(" ")
    if "h" in unit:
        number, unit = text, ""
    return (Cost("fold.minutes", number, f"{unit} to make up".strip(), 60),)


def _live(known: Known) -> str:
    count = len(known.part(FOLD).steps)
    return f"{count} {plural(count, 'step')} · {format_minutes(known.part(FOLD).schedule.minutes.value)}"


STATION = StationSpec(
    "fold",
    TITLE,
    ORDER,
    MakingUp,
    (FOLD,),
    _live,
    "See how the cut parts are put together: pull the card apart with the slider, and go through the steps; where glue "
    "goes is hatched on the part. The kit list says what is needed, the bars how long it takes.",
    _costs,
    lambda known: ((step.words, step.id) for step in known.part(FOLD).steps),
)
