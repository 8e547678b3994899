"""Checks of what lies at a cut edge: ink without bleed, and fine lines so near that their rim looks uneven."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from dechirer.core.card.piece import Piece
from dechirer.core.card.print import Print
from dechirer.core.decide.change import Change
from dechirer.core.dress.seen import path_of
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import fine_length
from dechirer.core.press.bleed import Evidence, areas_of
from dechirer.core.press.budget import chance_of_rim
from dechirer.core.press.checks.sheet import items_of
from dechirer.core.press.decisions import set_bleed
from dechirer.core.press.pages import make_pages
from dechirer.core.press.seen import PressSeen

FINE_MM = 3.0
"""What is narrower is a line or a frame."""
ALONG_SHARE = 0.04
"""A line that follows less of an edge than this does not show how far from it it is."""
TOUCHES_MM = 0.02


@CHECKS.add("press.no-bleed", of=make_pages)
def find_ink_without_bleed(seen: PressSeen) -> Iterator[Finding]:
    """Ink that reaches a cut edge of a piece that is given no bleed."""
    for evidence in seen.plan.evidence:
        if evidence.way != "never" or evidence.share <= 0:
            continue
        piece = next(each for each in seen.plan.printed if each.id == evidence.piece)
        known = seen.plan.paper(piece.paper)
        assert known is not None
        if piece.blank:
            continue
        chance = chance_of_rim(known.budgets.used.mm, 0.2, 0.0)
        whole = () if seen.press.bleed == "never" else (set_bleed(seen.press, piece.id, seen.press.bleed),)
        changes = whole or (Change("press.bleed", "evidence"), Change("press.pieces", _without(seen, piece.id)))
        yield Finding(
            "press.no-bleed",
            "look",
            f"The {piece.name} has ink at its edge and no bleed",
            f"Ink lies at {100 * evidence.share:.0f} % of what is cut; print and cut are typically "
            f"{known.budgets.used.mm:.2f} mm off.",
            f"{100 * chance:.0f} in 100 edges show a white rim of 0.2 mm or more.",
            piece.id,
            (Mend("Give it bleed where ink reaches the cut", changes),),
        )


def _without(seen: PressSeen, piece: str) -> tuple[Any, ...]:
    return tuple(each for each in seen.press.pieces if each.piece != piece)


@CHECKS.add("press.rim-uneven", of=make_pages)
def find_lines_near_edges(seen: PressSeen) -> Iterator[Finding]:
    """Fine lines and frames nearer to a cut edge than print and cut may be off."""
    for evidence in seen.plan.evidence:
        piece = next(each for each in seen.plan.printed if each.id == evidence.piece)
        known = seen.plan.paper(piece.paper)
        assert known is not None
        worst = known.budgets.used.worst.value
        for part in piece.prints:
            if part.raster is not None or part.words:
                continue
            near = _runs_along(part, evidence, worst)
            if near is None:
                continue
            yield Finding(
                "press.rim-uneven",
                "look",
                f"{part.name} is printed {near:.1f} mm from the cut",
                f"Print and cut may be {worst:.1f} mm off, so its rim may be {max(0.0, near - worst):.1f} mm at one "
                f"side and {near + worst:.1f} mm at the other.",
                "A narrow rim shows every error: it looks crooked.",
                part.item,
                tuple(_mends(seen, piece, part, worst)),
            )


def _runs_along(part: Print, evidence: Evidence, worst: float) -> float | None:
    """How near a fine print runs along a cut edge without touching it, in mm; None where it does not."""
    import numpy as np
    import shapely

    areas = areas_of(part)
    if areas is None or areas.is_empty or 2 * areas.area / max(areas.length, 1e-9) > FINE_MM / 2:
        return None
    found = []
    for edge in evidence.edges:
        away = shapely.distance(areas, shapely.points(np.asarray(edge.places)))
        near = away[(away > TOUCHES_MM) & (away < worst)]
        if len(near) >= ALONG_SHARE * len(away) and len(near) >= 2 * (away <= TOUCHES_MM).sum():
            found.append(float(np.median(near)))
    return min(found) if found else None


def _mends(seen: PressSeen, piece: Piece, part: Print, worst: float) -> Iterator[Mend]:
    item = next((each for each in items_of(seen, piece) if each.id == part.item), None)
    if item is not None and item.of is None and item.words is None:
        off = fine_length(round(worst + 1.0, 1), "mm")
        fits = (Change(path_of(item, "fit_in"), off), Change(path_of(item, "width"), None))
        yield Mend(f"Keep it {off} from the edges", (*fits, Change(path_of(item, "height"), None)))
    if not seen.plan.by_marks and seen.brief.machine.reader is not None:
        yield Mend("Cut by the printed marks", (Change("press.cut_by", "marks"),))
