"""Checks of calibration: print and cut were never measured for a paper, for others alone, or long ago."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

from dechirer.core.finding import CHECKS, Finding
from dechirer.core.press.decisions import WAYS
from dechirer.core.press.pages import make_pages
from dechirer.core.press.seen import PressSeen

GOOD_DAYS = 60
"""So long a calibration is relied on: rollers wear and cartridges are changed (common practice)."""


@CHECKS.add("press.never-calibrated", "press.calibrated-otherwise", "press.calibration-old", of=make_pages)
def find_calibration_missing(seen: PressSeen) -> Iterator[Finding]:
    """What the fit of print and cut goes by."""
    brief, press = seen.brief, seen.press
    by = "marks" if seen.plan.by_marks else "edge"
    way = "cut by its marks" if seen.plan.by_marks else "cut by its edge"
    for known in seen.plan.papers:
        paper = brief.paper(known.paper)
        own = press.calibrations_of(paper.name, brief.printer.name, brief.machine.name, by)
        if own:
            days = (seen.today - date.fromisoformat(own[0].made)).days
            if days > GOOD_DAYS:
                yield Finding(
                    "press.calibration-old",
                    "look",
                    f"{paper.name} was calibrated {days} days ago",
                    f"Print and cut were measured on {own[0].made}; after {GOOD_DAYS} days that is not relied on.",
                    "Rollers wear and cartridges are changed: the fit may be another.",
                    f"brief.papers.{paper.id}.name",
                )
            continue
        fit = f"It is reckoned from the profiles: {known.budgets.used.mm:.2f} mm off, typically, {way}."
        if press.calibrations:
            last = max(press.calibrations, key=lambda each: each.made)
            was = f"{last.paper} on the {last.printer} and the {last.machine}, {WAYS[last.by]}"
            same = last.paper == paper.name
            title = f"{paper.name} was calibrated otherwise" if same else f"{paper.name} was not calibrated"
            yield Finding(
                "press.calibrated-otherwise",
                "look",
                title,
                f"What was measured on {last.made} is for {was}. {fit}",
                "What holds for another paper, printer or way of cutting does not hold here.",
                f"brief.papers.{paper.id}.name",
            )
            continue
        yield Finding(
            "press.never-calibrated",
            "note",
            f"Print and cut were never measured for {paper.name}",
            f"{fit} A calibration page in Press tells what yours are.",
            "The bleed may be wider than it need be, or too narrow.",
            f"brief.papers.{paper.id}.name",
        )
