"""Press as a station. What is printed is known before Lay, the pages after the mats."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import Any

from dechirer.core.brief.decisions import Brief
from dechirer.core.dress.station import DRESS
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.press import ORDER, TITLE
from dechirer.core.press.decisions import Press
from dechirer.core.press.pages import PagesPlan, make_pages
from dechirer.core.press.press import PressPlan, make_press
from dechirer.core.registry import import_all
from dechirer.core.stations import Cost, Handle, Known, Part, StationSpec, Work
from dechirer.core.words import plural

LAY: Handle[Any] = Handle("lay")
"""The mats, whose room is further on."""


def _reads(known: Known) -> tuple[Any, ...]:
    pieces = known.part(DRESS).pieces
    if not any(piece.prints for piece in pieces):
        return pieces, None, None, ()
    loadings = known.at("lay.loadings")
    sheets = tuple((each.paper, each.sheet) for each in loadings if each.sheet is not None)
    return pieces, known.of(Brief), known.of(Press), sheets


def _make(pieces: Any, brief: Any, press: Any, sheets: Any, work: Work) -> PressPlan:
    return PressPlan(pieces) if brief is None else make_press(pieces, brief, press, dict(sheets), work)


PRESS = Part("press", "press", 47, _reads, _make, skipped_while_dragged=True)
"""What is printed and with what bleed: before anything is laid."""


def _reads_pages(known: Known) -> tuple[Any, ...]:
    return known.part(LAY), known.part(PRESS), known.of(Press), known.of(Brief).printer


def _check(known: Known) -> Iterator[Finding]:
    from dechirer.core.press.seen import PressSeen

    if not known.part(PRESS).printed:
        return
    import_all("dechirer.core.press.checks")
    seen = PressSeen(
        known.of(Brief),
        known.of(Press),
        known.units,
        known.part(DRESS),
        known.part(PRESS),
        known.part(PAGES),
        known.part(LAY),
        known.at("lay.loadings"),
        date.today(),
    )
    yield from CHECKS.run(make_pages, seen)


PAGES: Part[PagesPlan] = Part("pages", "press", 70, _reads_pages, make_pages, check=_check, skipped_while_dragged=True)
"""The pages, a kind for each mat that is printed."""


def _live(known: Known) -> str:
    pages = known.part(PAGES)
    if not pages.pages:
        return "nothing is printed"
    count = pages.count.value
    kinds = len(pages.pages)
    return f"{count:.0f} {plural(count, 'page')}" + (f" of {kinds} kinds" if kinds > 1 else "")


def _costs(known: Known) -> tuple[Cost, ...]:
    pages = known.part(PAGES)
    if not pages.pages:
        return ()
    count = pages.count.value
    return (Cost("press.pages", f"{count:.0f}", plural(count, "page"), 25),)


def _finds(known: Known) -> Iterator[tuple[str, str]]:
    for page in known.part(PAGES).pages:
        yield f"Page {page.number}", page.id


STATION = StationSpec(
    "press",
    TITLE,
    ORDER,
    Press,
    (PRESS, PAGES),
    _live,
    "See each page as it comes from the printer: its ink, the bleed where ink reaches the cut, and the marks the "
    "machine finds before it cuts. Click an edge to see why it has bleed or none.",
    _costs,
    _finds,
)
