"""Run as a station."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from dechirer.core.brief.decisions import Brief
from dechirer.core.brief.station import BRIEF
from dechirer.core.dress.decisions import Dress
from dechirer.core.figure import format_minutes
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.lay.station import LAY, find_whole
from dechirer.core.press.decisions import Press
from dechirer.core.press.station import PRESS
from dechirer.core.run import ORDER, TITLE
from dechirer.core.run.decisions import Run
from dechirer.core.run.minutes import print_times
from dechirer.core.run.run import make_run
from dechirer.core.stations import Cost, Known, Part, StationSpec, learned_of
from dechirer.core.words import plural


def _reads(known: Known) -> tuple[Any, ...]:
    brief = known.of(Brief)
    press = known.part(PRESS)
    times = print_times(press, known.of(Press), brief.printer) if press.papers else None
    return known.part(LAY), known.of(Run), brief.machine, times, learned_of(known, "time.")


def _check(known: Known) -> Iterator[Finding]:
    from dechirer.core.run import checks_severed, checks_tools  # noqa: F401 - they register their checks
    from dechirer.core.run.checks import RunSeen

    seen = RunSeen(
        known.of(Brief),
        known.of(Run),
        known.part(BRIEF),
        find_whole(known),
        known.part(RUN),
        known.of(Dress),
        known.memory,
    )
    return CHECKS.run(make_run, seen)


RUN = Part(
    "run", "run", 60, _reads, make_run, check=_check, skipped_while_dragged=True, revises=(LAY.id, lambda run: run.lay)
)


def _costs(known: Known) -> tuple[Cost, ...]:
    plan = known.part(RUN)
    changes = plan.changes.value
    text = format_minutes(plan.minutes.value)
    number, _, unit = text.partition(" ")
    if "h" in unit:
        number, unit = text, ""
    return (
        Cost("run.changes", f"{changes:.0f}", plural(changes, "tool change"), 40),
        Cost("run.minutes", number, f"{unit} at the {'machines' if plan.is_printed else 'machine'}".strip(), 50),
    )


STATION = StationSpec(
    "run",
    TITLE,
    ORDER,
    Run,
    (RUN,),
    lambda known: format_minutes(known.part(RUN).minutes.value),
    "See the order of passes on each mat with the tool and holder of each, and step along the tool's path. Tick the "
    "tools you own; the run is planned with them.",
    _costs,
)
