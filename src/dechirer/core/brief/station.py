"""Brief as a station."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.brief import ORDER, TITLE
from dechirer.core.brief.brief import make_brief
from dechirer.core.brief.decisions import Brief
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.length import format_size
from dechirer.core.stations import Known, Part, StationSpec


def _check(known: Known) -> Iterator[Finding]:
    from dechirer.core.brief.checks import BriefSeen

    return CHECKS.run(make_brief, BriefSeen(known.of(Brief), known.part(BRIEF), known.units))


BRIEF = Part(
    "brief", "brief", 10, lambda known: (known.of(Brief),), lambda brief, work: make_brief(brief), check=_check
)


def _live(known: Known) -> str:
    brief = known.of(Brief)
    size = format_size(brief.width.mm, brief.height.mm, known.units)
    return f"{size} · × {brief.count}"


STATION = StationSpec(
    "brief",
    TITLE,
    ORDER,
    Brief,
    (BRIEF,),
    _live,
    "Say what the finished card is: its size on the drawing, how it folds, how many, the paper and the machine. "
    "Everything else follows.",
)
