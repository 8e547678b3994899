"""Checks of what was learned: a paper that holds another web than is reckoned with, spares that are wanted."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.decide.change import Change
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.keep.decisions import Keep
from dechirer.core.keep.keeping import KeepPlan, make_keeping
from dechirer.core.length import parse_length
from dechirer.core.paper.strength import web_it_holds
from dechirer.core.words import plural

DIFFERS_MM = 0.1
MANY_CARDS = 8
"""For fewer cards a spare is cut when it is wanted."""


class KeepSeen(Struct, frozen=True):
    """What the checks look at."""

    brief: Brief
    facts: BriefPlan
    own: Keep
    plan: KeepPlan


@CHECKS.add("keep.web-learned", of=make_keeping)
def find_papers_that_hold_otherwise(seen: KeepSeen) -> Iterator[Finding]:
    """A paper of which the book knows another narrowest web than the job reckons with."""
    for paper, learned in seen.plan.webs.items():
        own = seen.brief.paper(paper)
        now = own.holds.mm if own.holds is not None else web_it_holds(seen.facts.paper(paper).grammage.value)
        if abs(now - learned.value) < DIFFERS_MM or learned.low <= now <= learned.high:
            continue
        value = parse_length(f"{learned.value:.2f} mm")
        yield Finding(
            "keep.web-learned",
            "look" if learned.value > now else "note",
            f"{own.name} holds webs from {learned.value:.2f} mm, says the book",
            f"The job reckons with {now:.2f} mm; {learned.rests_on}, between {learned.low:.2f} and "
            f"{learned.high:.2f} mm.",
            "Webs tear that were thought to hold." if learned.value > now else "Finer work would hold than is planned.",
            paper,
            (Mend(f"Reckon with {learned.value:.2f} mm", (Change(f"brief.papers.{paper}.holds", value),)),),
        )


@CHECKS.add("keep.spares", of=make_keeping)
def find_spares(seen: KeepSeen) -> Iterator[Finding]:
    """How many more to cut, where sheets were counted and many cards are wanted."""
    spares, count = int(seen.plan.spares.value), seen.brief.count
    if not seen.own.used or not spares or count < MANY_CARDS:
        return
    yield Finding(
        "keep.spares",
        "note",
        f"Cut {count + spares} for {count} good {plural(count, 'card')}, says the book",
        f"{spares} {plural(spares, 'spare')}: {seen.plan.spares.source}.",
        "A card that is spoiled at the end means another run for it alone.",
        "spares",
    )
