"""The pages: one kind for each mat that is printed, in the mat's own frame, so that there is one layout and never
two."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from typing import Any

from msgspec import Struct

from dechirer.core.brief.printer import Printer
from dechirer.core.card.mat import Mat
from dechirer.core.card.piece import turn_over
from dechirer.core.card.placed import Placement, make_placement
from dechirer.core.card.print import Print
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.figure import Figure
from dechirer.core.press.decisions import Press
from dechirer.core.press.press import PressPlan
from dechirer.core.press.room import printed_area
from dechirer.core.shape.outline import Box, bounds
from dechirer.core.stations import Work


class Page(Struct, frozen=True):
    """One kind of page: that of the mat of the same number, printed `times` times, `spoiled` of them to spare.

    A blank on which nothing is run has a page and no mat: `mat` is empty then. `back` says that the other side of its
    sheet is printed as well, mirrored about the upright middle.
    """

    id: str
    number: int
    mat: str
    paper: str
    face: str
    sheet: LoadedSheet
    placements: tuple[Placement, ...]
    times: int
    spoiled: int
    back: bool = False

    @property
    def whither(self) -> str:
        """Where it goes when it is printed, in words."""
        return f"for mat {self.number}" if self.mat else "comes onto no mat"

    @property
    def is_blank(self) -> bool:
        """Whether what is printed is a bought blank: nothing may stand beside its ink."""
        return any(placed.piece.blank for placed in self.placements)

    @property
    def pieces(self) -> str:
        """What is on it, in words: `2 × label, 1 × front`."""
        found = Counter(placed.piece.name for placed in self.placements)
        return " + ".join(f"{count} × {name}" if count > 1 else name for name, count in found.items())


class PagesPlan(Struct, frozen=True):
    """All kinds of pages in the order of their mats, how many are printed in all, and the minutes that takes."""

    pages: tuple[Page, ...]
    count: Figure

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the pages."""
        return (self.count,)

    def page(self, id: str) -> Page | None:
        """The page of that id, or that of a mat; None for none."""
        return next((page for page in self.pages if id in (page.id, page.mat)), None)


def make_pages(lay: Any, press: PressPlan, decided: Press, printer: Printer, work: Work) -> PagesPlan:
    """A kind of page for each mat whose sheet is printed.

    Args:
        lay: the mats in running order (the plan of Lay).
    """
    pages = tuple(
        Page(
            f"page-{layout.number}",
            layout.number,
            layout.id,
            layout.paper,
            layout.face,
            layout.sheet,
            layout.placements,
            layout.repeats,
            decided.spoiled,
            any(len(placed.piece.printed_sides) > 1 for placed in layout.placements),
        )
        for layout in lay.layouts
        if layout.sheet.printable is not None
    )
    pages = (*pages, *_bare_blanks(press, len(lay.layouts), decided, printer))
    return PagesPlan(pages, _count(pages, decided))


NO_MAT = Mat("none", "no mat", 0.0, 0.0, Box(0.0, 0.0, 0.0, 0.0))
"""What is printed and not cut comes onto none."""


def _bare_blanks(press: PressPlan, mats: int, decided: Press, printer: Printer) -> Iterator[Page]:
    """Pages of bought blanks that are printed and not cut: they come onto no mat."""
    number = mats
    for piece in press.printed:
        if not piece.blank or piece.run_lines:
            continue
        number += 1
        face = piece.wants_up
        shown = turn_over(piece) if face == "inside-up" else piece
        box = bounds(shown.outline)
        # It goes into the printer standing.
        turned = box.width > box.height
        wide, high = (box.height, box.width) if turned else (box.width, box.height)
        printable = printed_area(wide, high, printer)
        sheet = LoadedSheet(wide, high, turned, False, printable, NO_MAT, 1, None, printable)
        placed = make_placement(f"{piece.id}-1", shown, 0.0, 0.0, turned=turned, pinned=False)
        yield Page(
            f"page-{number}",
            number,
            "",
            piece.paper,
            face,
            sheet,
            (placed,),
            piece.count,
            decided.spoiled,
            len(piece.printed_sides) > 1,
        )


def _count(pages: tuple[Page, ...], decided: Press) -> Figure:
    inputs = tuple(
        Figure(
            f"press.{page.id}.times", f"page {page.number}", float(page.times), "count", source=f"holds {page.pieces}"
        )
        for page in pages
    )
    if not pages:
        return Figure("press.pages", "pages", 0.0, "count", source="nothing is printed")
    formula = " + ".join("{" + each.name + "}" for each in inputs)
    note = "As many as their mats are cut."
    if decided.spoiled:
        spare = Figure("press.spoiled", "to spare", float(decided.spoiled), "count", field="press.spoiled")
        formula = f"{formula} + {len(pages)} × {{to spare}}"
        inputs = (*inputs, spare)
    total = sum(page.times + page.spoiled for page in pages)
    return Figure("press.pages", "pages", float(total), "count", formula=formula, inputs=inputs, note=note)


def prints_of_side(placed: Placement, side: str) -> list[Print]:
    """What is printed on one side of a placed piece, as it lies on the sheet seen from the side that lies up."""
    return [part.moved(placed.to_sheet) for part in placed.piece.prints if part.side == side]


def walk_sides(page: Page) -> Iterator[tuple[str, str]]:
    """The sides of a page that are printed: (id of the file, side)."""
    yield page.id, page.face
    if page.back:
        yield f"{page.id}-back", "inside-up" if page.face == "outside-up" else "outside-up"
