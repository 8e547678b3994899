"""Check of grain: heavy card that is folded across it cracks."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from dechirer.core.card.placed import Placement
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.decide.change import Change
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.lay.checks import LaySeen
from dechirer.core.lay.grain import is_across
from dechirer.core.lay.lay import make_lay
from dechirer.core.lay.pinning import name_of
from dechirer.core.paper.weight import parse_weight

HEAVY_GSM = 200.0
"""Lighter papers fold well either way (common practice)."""
OTHER = {"long": "short", "short": "long"}


@CHECKS.add("lay.fold-across-grain", of=make_lay)
def find_folds_across_the_grain(seen: LaySeen) -> Iterator[Finding]:
    """A fold of heavy card that runs across its grain, as the piece lies on its sheet."""
    for paper in seen.brief.papers:
        if paper.grain == "unknown" or (parse_weight(paper.weight).gsm or 0.0) < HEAVY_GSM:
            continue
        across = [
            (layout, placed)
            for layout in seen.plan.layouts
            if layout.paper == paper.id and not layout.is_blank and not layout.sheet.offcut
            for placed in layout.placements
            if _folds_across(placed, layout.sheet, paper.grain)
        ]
        if not across:
            continue
        layout, placed = across[0]
        others = len(across) - 1
        more = f", and {others} more" if others else ""
        yield Finding(
            "lay.fold-across-grain",
            "look",
            f"{name_of(placed).capitalize()}{more}: folded across the grain",
            f"The grain of {paper.name} runs along the {paper.grain} side of its sheet, and card of its weight cracks "
            "where it is folded across that.",
            "The fold is rough, and springs open.",
            f"{layout.id}/{placed.id}",
            (
                Mend(
                    f"Its grain runs along the {OTHER[paper.grain]} side",
                    (Change(f"brief.papers.{paper.id}.grain", OTHER[paper.grain]),),
                ),
                *(
                    (Mend("Lay all folds along the grain", (Change("lay.along_grain", True),)),)
                    if not seen.lay.along_grain and seen.lay.may_turn
                    else ()
                ),
                *((Mend("Turn no pieces", (Change("lay.may_turn", False),)),) if _turns_help(across, seen) else ()),
            ),
        )


def _folds_across(placed: Placement, sheet: LoadedSheet, grain: str) -> bool:
    """Whether a fold of a piece runs across the grain."""
    return any(is_across(mark, sheet, grain, placed.to_sheet) for mark in placed.piece.folds)


def _turns_help(across: Sequence[tuple[object, Placement]], seen: LaySeen) -> bool:
    """Whether all that is folded across the grain is so because it was turned."""
    return seen.lay.may_turn and all(placed.turned for _, placed in across)
