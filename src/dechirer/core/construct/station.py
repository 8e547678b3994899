"""Construct as a station."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.brief.station import BRIEF
from dechirer.core.construct import ORDER, TITLE
from dechirer.core.construct.card import make_card
from dechirer.core.construct.construct import make_construct
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.length import Length
from dechirer.core.registry import import_all
from dechirer.core.stations import Known, Part, StationSpec, Work


def _reads(known: Known) -> tuple[Any, ...]:
    # How much of a sheet is left to cut from tells how long a section of the card may be.
    return known.of(Brief), known.of(Construct), known.part(BRIEF), known.units, known.at("lay.margin")


def _make(
    brief: Brief, construct: Construct, facts: BriefPlan, units: str, margin: Length, work: Work
) -> ConstructPlan:
    card = make_card(brief, construct.fold, facts, units, margin.mm)
    return make_construct(brief.construction, construct, card)


def _check(known: Known) -> Iterator[Finding]:
    from dechirer.core.construct.seen import CardSeen
    from dechirer.core.construct.whole import Seen

    import_all("dechirer.core.construct.checks")
    brief, construct, facts, units, margin = _reads(known)
    plan = known.part(CONSTRUCT)
    card = make_card(brief, construct.fold, facts, units, margin.mm)
    yield from CHECKS.run(plan.kind.run, Seen(plan.kind.own(construct), card, plan))
    for spec, own in construct.attached():
        yield from CHECKS.run(spec.run, Seen(own, card, plan))
    yield from CHECKS.run(make_construct, CardSeen(brief, construct, facts, card, plan, units))


CONSTRUCT = Part("construct", "construct", 20, _reads, _make, check=_check)


def _live(known: Known) -> str:
    plan = known.part(CONSTRUCT)
    kinds = len(plan.pieces)
    return f"{kinds} {'kind' if kinds == 1 else 'kinds'} of piece, {plan.piece_count.value:.0f} in all"


STATION = StationSpec(
    "construct",
    TITLE,
    ORDER,
    Construct,
    (CONSTRUCT,),
    _live,
    "See every flat piece to scale with its score line, and the card folding beside it. Type into the dimensions of "
    "either drawing; what has no place there stands above it. “Add” glues in or on what the card has. The slider folds "
    "the card step by step. Mountain folds are dash-dot, valley folds are dashed, seen from the side that is cut.",
)
