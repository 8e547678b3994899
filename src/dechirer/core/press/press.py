"""From dressed pieces to what is printed of them: the room each paper has, how well print and cut fit, and the
bleed."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct, structs

from dechirer.core.brief.decisions import Brief, Paper
from dechirer.core.card.piece import Piece
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.decide.values import Size
from dechirer.core.figure import Figure
from dechirer.core.length import fine_length
from dechirer.core.press.bleed import Bled, Evidence, give_bleed
from dechirer.core.press.budget import Budgets, make_budgets
from dechirer.core.press.decisions import BleedWay, Press
from dechirer.core.press.room import load_page, measure_room
from dechirer.core.shape.outline import bounds
from dechirer.core.stations import Work
from dechirer.core.stopping import checkpoint


class PrintedPaper(Struct, frozen=True):
    """What is known of a paper that is printed on: its page as it is loaded, its room to print, and both budgets."""

    paper: str
    sheet: LoadedSheet
    width: Figure
    height: Figure
    budgets: Budgets

    def figures(self) -> tuple[Figure, ...]:
        """Its figures."""
        return (self.width, self.height, *self.budgets.figures())


class PressPlan(Struct, frozen=True):
    """What is printed: the pieces with their bleed, the papers that are printed on, and the evidence of each piece."""

    pieces: tuple[Piece, ...]
    papers: tuple[PrintedPaper, ...] = ()
    evidence: tuple[Evidence, ...] = ()
    by_marks: bool = False

    @property
    def printed(self) -> tuple[Piece, ...]:
        """The pieces something is printed on."""
        return tuple(piece for piece in self.pieces if piece.prints)

    def paper(self, paper: str) -> PrintedPaper | None:
        """What is known of a paper; None when nothing is printed on it."""
        return next((each for each in self.papers if each.paper == paper), None)

    def evidence_of(self, piece: str) -> Evidence | None:
        """What was found of a piece; None when nothing is printed on it."""
        return next((each for each in self.evidence if each.piece == piece), None)

    def bleed_of(self, piece: str) -> float:
        """The bleed of a piece in mm."""
        found = self.evidence_of(piece)
        return found.bleed if found is not None else 0.0

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of what is printed."""
        bleeds = [
            Figure(
                f"press.bleed.{each.piece}",
                f"bleed of {each.piece}",
                each.bleed,
                source=_why(each),
                note=f"Ink lies at {100 * each.share:.0f} % of what is cut of it.",
            )
            for each in self.evidence
        ]
        return (*(figure for paper in self.papers for figure in paper.figures()), *bleeds)


def _why(evidence: Evidence) -> str:
    if evidence.way == "never":
        return "none was chosen"
    if evidence.bleed:
        return "twice the fit of print and cut, and 2 mm at least"
    return "none: every edge that is cut is bare paper"


def make_press(
    pieces: tuple[Piece, ...], brief: Brief, press: Press, sheets: Mapping[str, Size], work: Work
) -> PressPlan:
    """Find what is printed, and give it its bleed.

    Args:
        sheets: the sheet set at the machine by paper, where it is not the paper's own.
    """
    if not any(piece.prints for piece in pieces):
        return PressPlan(pieces)
    by_marks = press.cut_by == "marks" and brief.machine.reader is not None
    papers: dict[str, PrintedPaper] = {}
    found, evidence = [], []
    for piece in pieces:
        if not piece.prints:
            found.append(piece)
            continue
        checkpoint("looking along the edges of what is printed")
        paper = brief.paper(piece.paper)
        if paper.id not in papers:
            size = sheets.get(paper.id, paper.sheet) if not piece.blank else _size_of(piece)
            # On a bought blank marks would stay on the card, and there is nothing beyond its edge to print on.
            papers[paper.id] = _make_paper(paper, size, brief, press, by_marks and not piece.blank)
        budgets = papers[paper.id].budgets
        budget = budgets.unread.mm if piece.blank else budgets.used.mm
        colour = paper.face(good=True)
        way = press.bleed_of(piece.id) if not piece.blank else "never"

        def bleed(piece: Piece = piece, colour: str = colour, budget: float = budget, way: BleedWay = way) -> Bled:
            return give_bleed(piece, colour, budget, way)

        seen = (piece.id, piece.outline, piece.lines, piece.prints, colour, round(budget, 6), way)
        prints, one = work.memory.recall(("bleed", *seen), bleed)
        found.append(structs.replace(piece, prints=prints))
        evidence.append(one)
    return PressPlan(tuple(found), tuple(papers.values()), tuple(evidence), by_marks)


def _size_of(piece: Piece) -> Size:
    """The size of a blank."""
    box = bounds(piece.outline)
    return Size(fine_length(box.width, "mm"), fine_length(box.height, "mm"))


def _make_paper(paper: Paper, size: Size, brief: Brief, press: Press, by_marks: bool) -> PrintedPaper:
    sheet = load_page(size, brief.machine, brief.printer, by_marks=by_marks)
    key = f"press.{paper.id}"
    width, height = measure_room(sheet, brief.machine, f"{key}.room", f"room to print on {paper.name}")
    names = (paper.name, brief.printer.name, brief.machine.name)
    measured = press.calibrations_of(*names, "marks"), press.calibrations_of(*names, "edge")
    fit = f"{key}.fit"
    budgets = make_budgets(brief.printer, brief.machine, sheet.room, by_marks=by_marks, key=fit, measured=measured)
    return PrintedPaper(paper.id, sheet, width, height, budgets)
