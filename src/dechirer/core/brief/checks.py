"""Checks of the brief: does what was stated agree with itself?"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.brief.brief import BriefPlan, make_brief
from dechirer.core.brief.decisions import Brief
from dechirer.core.decide.change import Change
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import format_size
from dechirer.core.paper.standards import StandardSize, load_sizes, parse_size
from dechirer.core.paper.standards import find_american_namesake as namesake_of
from dechirer.core.paper.weight import parse_weight, pounds_to_gsm


class BriefSeen(Struct, frozen=True):
    """What the brief's checks look at: the decisions, and what came of them."""

    brief: Brief
    facts: BriefPlan
    units: str


SAME_MM = 0.05
"""Two sizes closer than this are the same to a maker with a rule."""


@CHECKS.add("brief.pounds-without-basis", of=make_brief)
def find_pounds_without_basis(seen: BriefSeen) -> Iterator[Finding]:
    """Pounds mean nothing without the basis sheet."""
    for paper in seen.brief.papers:
        weight = parse_weight(paper.weight)
        if weight.is_known:
            continue
        options = {basis: pounds_to_gsm(weight.amount, basis) for basis in ("cover", "index", "text")}
        yield Finding(
            "brief.pounds-without-basis",
            "look",
            f"{paper.name}: {weight.amount:g} lb of what?",
            "Pounds are counted on a different sheet for each kind of paper: "
            + ", ".join(f"{weight.amount:g} lb {basis} is {gsm:.0f} g/m²" for basis, gsm in options.items())
            + ". The wrapper says which.",
            "Thickness, score passes and cut depth are guessed until it is known.",
            f"brief.papers.{paper.id}.weight",
            tuple(
                Mend(
                    f"It is {basis}",
                    (Change(f"brief.papers.{paper.id}.weight", f"{weight.amount:g} lb {basis}"),),
                )
                for basis in options
            ),
        )


@CHECKS.add("brief.american-namesake", of=make_brief)
def find_american_namesake(seen: BriefSeen) -> Iterator[Finding]:
    """An ISO size in a job kept in inches may have been meant as the American size of that name."""
    if seen.units != "in":
        return
    for size in load_sizes():
        if size.kind != "card" or size.source != "ISO 216" or not _is_size(seen.brief, size):
            continue
        other = namesake_of(size.name)
        if other is None:
            continue
        width, height = parse_size(other.name)
        yield Finding(
            "brief.american-namesake",
            "note",
            f"This is the ISO {size.name}",
            f"ISO {size.name} is {size.width_mm:g} × {size.height_mm:g} mm; the American card called {size.name} is "
            f"{format_size(other.width_mm, other.height_mm, 'in')}.",
            "A card of one does not fit the other's envelope.",
            "brief.width",
            (Mend(f"Use {other.name}", (Change("brief.width", width), Change("brief.height", height))),),
        )


def _is_size(brief: Brief, size: StandardSize) -> bool:
    return abs(brief.width.mm - size.width_mm) <= SAME_MM and abs(brief.height.mm - size.height_mm) <= SAME_MM
