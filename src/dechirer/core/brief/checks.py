"""Checks of the brief: does what was stated agree with itself?"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.finding import CheckList, Finding, Mend
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import Length, format_size
from dechirer.core.paper.standards import StandardSize, load_sizes, parse_size
from dechirer.core.paper.standards import find_american_namesake as namesake_of
from dechirer.core.paper.weight import parse_weight, pounds_to_gsm


class BriefContext(Struct, frozen=True):
    """What the brief's checks look at."""

    job: Job
    brief: BriefPlan


CHECKS: CheckList[BriefContext] = CheckList("brief")

SAME_MM = 0.05
"""Two sizes closer than this are the same to a maker with a rule."""


@CHECKS.register
def find_blank_that_disagrees(context: BriefContext) -> Iterator[Finding]:
    """A stated flat blank must fold to the stated finished size."""
    job = context.job
    blank, brief = job.brief.blank, job.brief
    if blank is None:
        return
    folds_to = _fold_blank(brief.construction, blank.width, blank.height)
    width, height = folds_to
    if abs(width.mm - brief.width.mm) <= SAME_MM and abs(height.mm - brief.height.mm) <= SAME_MM:
        return
    stated = format_size(brief.width.mm, brief.height.mm, job.units)
    folded = format_size(width.mm, height.mm, job.units)
    verb = "is" if brief.construction == "flat" else "folds to"
    yield Finding(
        "brief.blank-disagrees",
        "stop",
        "brief",
        f"The blank {verb} {folded}, not {stated}",
        f"You stated a blank of {format_size(blank.width.mm, blank.height.mm, job.units)} flat. "
        f"As a {brief.construction.replace('-', ' ')} card it {verb} {folded}.",
        "Pieces made for the stated size will not fit the blank.",
        "brief.blank",
        (
            Mend(f"Make the card {folded}", (Change("brief.width", width), Change("brief.height", height))),
            Mend("Cut the base instead", (Change("brief.blank", None),)),
        ),
    )


@CHECKS.register
def find_pounds_without_basis(context: BriefContext) -> Iterator[Finding]:
    """Pounds mean nothing without the basis sheet."""
    for paper in context.job.brief.papers:
        weight = parse_weight(paper.weight)
        if weight.is_known:
            continue
        options = {basis: pounds_to_gsm(weight.amount, basis) for basis in ("cover", "index", "text")}
        yield Finding(
            "brief.pounds-without-basis",
            "look",
            "brief",
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


@CHECKS.register
def find_american_namesake(context: BriefContext) -> Iterator[Finding]:
    """An ISO size in a job kept in inches may have been meant as the American size of that name."""
    job = context.job
    if job.units != "in":
        return
    for size in load_sizes():
        if size.kind != "card" or size.source != "ISO 216" or not _is_size(job, size):
            continue
        other = namesake_of(size.name)
        if other is None:
            continue
        width, height = parse_size(other.name)
        yield Finding(
            "brief.american-namesake",
            "note",
            "brief",
            f"This is the ISO {size.name}",
            f"ISO {size.name} is {size.width_mm:g} × {size.height_mm:g} mm; the American card called {size.name} is "
            f"{format_size(other.width_mm, other.height_mm, 'in')}.",
            "A card of one does not fit the other's envelope.",
            "brief.width",
            (Mend(f"Use {other.name}", (Change("brief.width", width), Change("brief.height", height))),),
        )


def _is_size(job: Job, size: StandardSize) -> bool:
    return abs(job.brief.width.mm - size.width_mm) <= SAME_MM and abs(job.brief.height.mm - size.height_mm) <= SAME_MM


def _fold_blank(construction: str, width: Length, height: Length) -> tuple[Length, Length]:
    """The finished size a flat blank folds to: half as wide, half as high, or as it is."""

    def half(length: Length) -> Length:
        return Length(length.exact_mm / 2, f"({length.typed})/2")

    if construction == "side-fold":
        return half(width), height
    if construction == "top-fold":
        return width, half(height)
    return width, height
