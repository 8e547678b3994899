"""Checks of the ink: pictures with too few pixels, ink of the paper's own colour, film over the marks."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.decide.change import Change
from dechirer.core.dress.edits import INK
from dechirer.core.dress.seen import path_of
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import make_length
from dechirer.core.paper.colours import difference
from dechirer.core.press.bleed import FAINT
from dechirer.core.press.checks.sheet import items_of
from dechirer.core.press.pages import make_pages
from dechirer.core.press.seen import PressSeen

SOFT_PX, COARSE_PX = 200.0, 120.0
"""Pixels to the inch below which a picture looks soft, and below which each pixel is seen (common practice)."""


@CHECKS.add("press.few-pixels", of=make_pages)
def find_few_pixels(seen: PressSeen) -> Iterator[Finding]:
    """Pictures printed larger than their pixels allow."""
    told: set[str] = set()
    for piece in seen.plan.printed:
        for part in piece.prints:
            if part.raster is None or part.item in told or part.raster.px_per_inch >= SOFT_PX - 0.5:
                continue
            told.add(part.item)
            px = part.raster.px_per_inch
            item = next((each for each in items_of(seen, piece) if each.id == part.item), None)
            mends = []
            dressed = seen.dress.item(part.item)
            if item is not None and dressed is not None and item.of is None and not item.steps:
                box = dressed.placed.drawn.box()
                width = make_length((box[2] - box[0]) * px / SOFT_PX * 0.995, seen.units)
                none = (Change(path_of(item, "fit_in"), None), Change(path_of(item, "height"), None))
                mends.append(Mend(f"Make it {width} wide", (*none, Change(path_of(item, "width"), width))))
            yield Finding(
                "press.few-pixels",
                "stop" if px < COARSE_PX else "look",
                f"{part.name} has {px:.0f} pixels to the inch",
                f"At its size that is fewer than {SOFT_PX:.0f}"
                + (f", and even fewer than {COARSE_PX:.0f}." if px < COARSE_PX else "."),
                "Each pixel is seen." if px < COARSE_PX else "It looks soft beside sharp cuts.",
                part.item,
                tuple(mends),
            )


@CHECKS.add("press.ink-like-paper", of=make_pages)
def find_ink_like_paper(seen: PressSeen) -> Iterator[Finding]:
    """Ink of the paper's own colour leaves nothing to be seen; words are told by their contrast in Dress."""
    told: set[str] = set()
    for piece in seen.plan.printed:
        paper = seen.brief.paper(piece.paper)
        colour = paper.face(good=True)
        # A part of a picture may be as the paper is; all of it may not.
        seen_of = {part.item for part in piece.prints if part.raster or difference(part.colour, colour) >= FAINT}
        for part in piece.prints:
            if part.words or part.item in told | seen_of:
                continue
            told.add(part.item)
            item = next((each for each in items_of(seen, piece) if each.id == part.item), None)
            mends = []
            if item is not None and item.made == "print" and difference(INK, colour) > FAINT:
                mends.append(Mend("Print it in dark ink", (Change(path_of(item, "colour"), INK),)))
            yield Finding(
                "press.ink-like-paper",
                "look",
                f"{part.name} is printed in the colour of its paper",
                f"Its ink {part.colour} and {paper.name} {colour} look the same, and printers have no white ink.",
                "It is not seen.",
                part.item,
                tuple(mends),
            )


@CHECKS.add("press.film-over-marks", of=make_pages)
def find_film_over_marks(seen: PressSeen) -> Iterator[Finding]:
    """Film over the marks shines, and the reader sees its own lamp in it."""
    if seen.press.film != "whole" or not seen.plan.by_marks or not seen.pages.pages:
        return
    yield Finding(
        "press.film-over-marks",
        "stop",
        "The film covers the marks",
        "It is laid over the whole page; film shines, and what lies round a mark has to be bare for it to be read.",
        "The machine refuses every sheet.",
        "press.film",
        (
            Mend("Lay it inside the marks only", (Change("press.film", "clear"),)),
            Mend("Lay no film", (Change("press.film", "none"),)),
        ),
    )
