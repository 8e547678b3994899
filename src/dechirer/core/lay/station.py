"""Lay as a station."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from msgspec import structs

from dechirer.core.brief.decisions import Brief
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.station import CONSTRUCT
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.dress.decisions import Dress
from dechirer.core.dress.station import DRESS
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.lay import ORDER, TITLE
from dechirer.core.lay.decisions import Lay
from dechirer.core.lay.lay import make_lay
from dechirer.core.lay.learned_corners import with_learned
from dechirer.core.lay.printed import how_printed
from dechirer.core.press.decisions import Press
from dechirer.core.press.station import PRESS
from dechirer.core.stations import Cost, Known, Part, StationSpec, learned_of
from dechirer.core.words import plural


def find_whole(known: Known) -> ConstructPlan:
    """The card with every line and piece of the dress."""
    dressed = known.part(DRESS)
    return structs.replace(known.part(CONSTRUCT), pieces=dressed.pieces, piece_count=dressed.piece_count)


def _reads(known: Known) -> tuple[Any, ...]:
    brief = known.of(Brief)
    press = known.part(PRESS)
    lay = with_learned(known.of(Lay), brief.machine, learned_of(known, "place."))
    return press.pieces, brief.papers, lay, brief.machine, how_printed(press, known.of(Press), brief.printer)


def _check(known: Known) -> Iterator[Finding]:
    from dechirer.core.lay import checks_blanks, checks_grain, checks_papers, checks_printed, recut  # noqa: F401 - they register their checks
    from dechirer.core.lay.checks import LaySeen

    seen = LaySeen(
        known.of(Brief),
        known.of(Construct),
        with_learned(known.of(Lay), known.of(Brief).machine, learned_of(known, "place.")),
        known.of(Dress),
        known.units,
        known.part(DRESS),
        find_whole(known),
        known.part(LAY),
    )
    return CHECKS.run(make_lay, seen)


LAY = Part("lay", "lay", 50, _reads, make_lay, check=_check, skipped_while_dragged=True)


def _live(known: Known) -> str:
    plan = known.part(LAY)
    mats = plan.mats.value
    return f"{mats:.0f} {plural(mats, 'mat')} · {plan.share.text()} used"


def _costs(known: Known) -> tuple[Cost, ...]:
    plan = known.part(LAY)
    sheets, mats = plan.sheet_count.value, plan.mats.value
    return (
        Cost("lay.sheets", f"{sheets:.0f}", plural(sheets, "sheet"), 20),
        Cost("lay.mats", f"{mats:.0f}", plural(mats, "mat"), 30),
        Cost("lay.share", f"{100 * plan.share.value:.0f} %", "of paper used", 60),
    )


def _finds(known: Known) -> Iterator[tuple[str, str]]:
    names = {paper.id: paper.name for paper in known.of(Brief).papers}
    for layout in known.part(LAY).layouts:
        yield f"Mat {layout.number}, {names[layout.paper]}", layout.id


STATION = StationSpec(
    "lay",
    TITLE,
    ORDER,
    Lay,
    (LAY,),
    _live,
    "See what goes on each mat and which way the sheet goes in. Drag a piece to pin it elsewhere, or to another mat in "
    "the list; R turns the picked piece; the dotted frame is what the machine reaches. Blanks lie in the slots of a "
    "card mat where they fit. Other jobs can be laid with this one.",
    _costs,
    _finds,
)
