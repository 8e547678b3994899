"""Settings of a tool for a paper: from the maker's record, else suggested by weight.

What is suggested is from memory, and says so: machines differ, and a test cut is better.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated

from msgspec import Meta, Struct

from dechirer.core.brief.brief import PaperFacts
from dechirer.core.brief.machine import Pace
from dechirer.core.card.tools import DOUBLE_WHEEL, TOOLS
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require
from dechirer.core.decide.values import Identifier

DEPTH_SHARE = 1.5
"""A blade stands out by so many thicknesses of the paper (from memory)."""
HEAVY_GSM = 260.0
CREASING = ("point", "wheel")
SLOW_SHARE = 0.6
NEAR_SHARE = 0.25
"""A setting of a paper whose weight differs by less is a neighbour's."""
MOST_PASSES = 6
"""No machine is asked to go over a line more often."""


class Setting(Decisions, frozen=True):
    """How a tool is set for a paper: how often it goes over its lines, how far the blade stands out (mm), how fast it
    goes (mm/s), and the pressure in the machine's own words."""

    paper: Identifier
    tool: Annotated[str, Meta(min_length=1, max_length=40)]
    passes: Annotated[int, Field("Times over", 1, MOST_PASSES)] = 1
    depth: Annotated[float | None, Field("Blade stands out by", 0.05, 5, takes="mm", hint="as suggested")] = None
    speed: Annotated[float | None, Field("Speed, mm/s", 0.1, 5000, hint="the machine's")] = None
    pressure: Annotated[str, Field("Pressure, as the machine calls it", 0, 60)] = ""

    def agree(self) -> None:
        require(self.tool in TOOLS, f"tool “{self.tool}” is not one of {', '.join(TOOLS)}")


class Suggested(Struct, frozen=True):
    """What would be set, and where that comes from in words."""

    passes: int
    depth: float
    speed: float
    why: str


def setting_of(settings: Iterable[Setting], paper: str, tool: str) -> Setting | None:
    """The setting of a tool for a paper, where the maker has one."""
    return next((each for each in settings if (each.paper, each.tool) == (paper, tool)), None)


def suggest(facts: PaperFacts, tool: str, pace: Pace) -> Suggested:
    """What is suggested for a paper by its weight and thickness (from memory)."""
    grams, thick = facts.grammage.value, facts.thickness.value
    speed = pace.score_mm_s if TOOLS[tool].kind in CREASING else pace.cut_mm_s
    kind = TOOLS[tool].kind
    if kind == "blade":
        passes = min(MOST_PASSES, max(1, math.ceil(thick / TOOLS[tool].bite)))
        slow = SLOW_SHARE if grams >= HEAVY_GSM else 1.0
        depth = round(thick * DEPTH_SHARE / 0.05) * 0.05
        return Suggested(passes, depth, speed * slow, f"by {grams:.0f} g/m² and {thick:.2f} mm (from memory)")
    if tool == DOUBLE_WHEEL:
        return Suggested(1, 0.0, speed, "two grooves at once (common practice)")
    if kind in CREASING:
        return Suggested(2 if grams >= HEAVY_GSM else 1, 0.0, speed, f"by {grams:.0f} g/m² (common practice)")
    return Suggested(1, 0.0, speed, "as the machine has it")


def reach_of(setting: Setting | None, facts: PaperFacts, tool: str, passes: int) -> float:
    """How deep a blade goes in so many passes, mm: no deeper than it stands out, and its bite at each pass."""
    stands_out = (
        setting.depth if setting is not None and setting.depth is not None else facts.thickness.value * DEPTH_SHARE
    )
    return min(stands_out, passes * TOOLS[tool].bite)


def neighbour_of(
    settings: Iterable[Setting], facts: PaperFacts, tool: str, papers: Iterable[PaperFacts]
) -> tuple[Setting, str] | None:
    """The setting of a paper of nearly the same weight, and what using it does; None where there is none.

    A setting of a heavier paper cuts deeper than is needed, one of a lighter paper may not go through.
    """
    grams = facts.grammage.value
    found: list[tuple[float, Setting, str]] = []
    for other in papers:
        own = setting_of(settings, other.paper.id, tool)
        away = other.grammage.value - grams
        if own is None or other is facts or grams <= 0 or abs(away) > NEAR_SHARE * grams:
            continue
        does = "cuts deeper than is needed" if away > 0 else "may not go through" if away < 0 else "fits it"
        words = f"{other.paper.name}’s, {other.grammage.value:.0f} g/m²: it {does}"
        found.append((abs(away), own, words))
    best = min(found, key=lambda each: each[0], default=None)
    return None if best is None else (best[1], best[2])
