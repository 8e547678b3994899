"""Construct as a station."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.brief.station import BRIEF
from dechirer.core.brought import Art
from dechirer.core.card.stack import Stacked
from dechirer.core.construct import ORDER, TITLE
from dechirer.core.construct.card import make_card
from dechirer.core.construct.construct import make_bare, make_construct
from dechirer.core.construct.decisions import Construct, arts_of
from dechirer.core.construct.whole import CardPlan, ConstructPlan
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.length import Length
from dechirer.core.registry import import_all
from dechirer.core.stations import Handle, Known, Part, StationSpec, Work
from dechirer.core.words import plural


def _reads(known: Known) -> tuple[Any, ...]:
    # How much of a sheet is left to cut from tells how long a section of the card may be. Of the files brought in only
    # those count that an outline is taken from.
    construct, brief = known.of(Construct), known.of(Brief)
    used = arts_of(construct, brief.construction)
    arts = tuple(art for art in known.at("dress.art") if art.id in used) if used else ()
    return brief, construct, known.part(BRIEF), known.units, known.at("lay.margin"), arts


STACKED: Handle[Stacked] = Handle("stack")
"""The card as it will be, with all that is glued on it and put in: worked out after its faces are dressed."""


def _make_bare(
    brief: Brief, construct: Construct, facts: BriefPlan, units: str, margin: Length, arts: tuple[Art, ...], work: Work
) -> CardPlan:
    card = make_card(brief, construct.fold, facts, units, margin.mm, arts, work.memory.recall)
    return make_bare(brief.construction, construct, card)


def _make(
    brief: Brief,
    construct: Construct,
    facts: BriefPlan,
    units: str,
    margin: Length,
    arts: tuple[Art, ...],
    bare: CardPlan,
    stacked: Stacked,
    work: Work,
) -> ConstructPlan:
    return make_construct(construct, make_card(brief, construct.fold, facts, units, margin.mm, arts), bare, stacked)


def _check(known: Known) -> Iterator[Finding]:
    from dechirer.core.construct.seen import CardSeen
    from dechirer.core.construct.whole import Seen

    import_all("dechirer.core.construct.checks")
    brief, construct, facts, units, margin, arts = _reads(known)
    plan = known.part(CONSTRUCT)
    card = make_card(brief, construct.fold, facts, units, margin.mm, arts)
    yield from CHECKS.run(plan.kind.run, Seen(plan.kind.own(construct), card, plan))
    for spec, own in construct.attached():
        yield from CHECKS.run(spec.run, Seen(own, card, plan))
    yield from CHECKS.run(make_construct, CardSeen(brief, construct, facts, card, plan, units))


CARD = Part("card", "construct", 20, _reads, _make_bare)
"""The card itself; what goes round it follows from how it is dressed."""


def _reads_all(known: Known) -> tuple[Any, ...]:
    return *_reads(known), known.part(CARD), known.part(STACKED)


CONSTRUCT = Part("construct", "construct", 40, _reads_all, _make, check=_check)


def _live(known: Known) -> str:
    plan = known.part(CONSTRUCT)
    kinds, count = len(plan.pieces), plan.piece_count.value
    return f"{count:.0f} {plural(count, 'piece')} · {kinds} {plural(kinds, 'kind')}"


STATION = StationSpec(
    "construct",
    TITLE,
    ORDER,
    Construct,
    (CARD, CONSTRUCT),
    _live,
    "See every flat piece to scale with its score line, and the card folding beside it. Type into the dimensions of "
    "either drawing; what has no place there stands above it. “Add” glues in or on what the card has. The slider folds "
    "the card step by step. Mountain folds are dash-dot, valley folds are dashed, seen from the side that is cut.",
)
