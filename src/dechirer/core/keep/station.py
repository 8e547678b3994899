"""Keep as a station."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from dechirer.core.brief.decisions import Brief
from dechirer.core.brief.station import BRIEF
from dechirer.core.figure import format_minutes
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.fold.station import FOLD
from dechirer.core.keep import ORDER, TITLE
from dechirer.core.keep.decisions import Keep
from dechirer.core.keep.keeping import make_keeping
from dechirer.core.run.station import RUN
from dechirer.core.stations import Known, Part, StationSpec


def _reads(known: Known) -> tuple[Any, ...]:
    return known.of(Brief).count, known.part(BRIEF), known.part(RUN), known.part(FOLD), known.of(Keep)


def _check(known: Known) -> Iterator[Finding]:
    from dechirer.core.keep.checks import KeepSeen

    seen = KeepSeen(known.of(Brief), known.part(BRIEF), known.of(Keep), known.part(KEEP))
    return CHECKS.run(make_keeping, seen)


KEEP = Part("keep", "keep", 80, _reads, make_keeping, check=_check, skipped_while_dragged=True)


def _live(known: Known) -> str:
    used = len(known.of(Keep).used)
    told = f"{used} learned" if used else "nothing yet"
    return f"{told} · {format_minutes(known.part(KEEP).minutes.value)}"


STATION = StationSpec(
    "keep",
    TITLE,
    ORDER,
    Keep,
    (KEEP,),
    _live,
    "See what the book knows that matters to this job, and take it over: times by your own pace, webs papers hold, "
    "spares to cut. Runs write themselves into the book from the views at the machine and at the table; look through "
    "them, count stock, and follow who has got a card.",
)
