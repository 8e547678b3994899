"""Sheets that are printed before they are laid: their pieces keep to the room to print, and as far apart as their
bleed."""

from __future__ import annotations

from msgspec import Struct, structs

from dechirer.core.brief.decisions import Paper
from dechirer.core.brief.machine import Machine
from dechirer.core.brief.printer import Printer
from dechirer.core.card.piece import Piece
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.lay.decisions import Lay
from dechirer.core.lay.sheet import mat_of, sheet_set
from dechirer.core.length import parse_length
from dechirer.core.press.decisions import Press
from dechirer.core.press.press import PressPlan
from dechirer.core.press.room import load_page
from dechirer.core.shape.outline import Box

MOST_ON_ONE = 1_000_000


class Printing(Struct, frozen=True):
    """How pages are loaded: on which printer, whether cut by marks, how many pieces go on one at most, and the bleed of
    each piece that has one (mm)."""

    printer: Printer
    by_marks: bool
    most: int
    bleeds: tuple[tuple[str, float], ...]


def how_printed(plan: PressPlan, press: Press, printer: Printer) -> Printing | None:
    """How pages are loaded; None where nothing is printed."""
    if not plan.papers:
        return None
    most = press.most_to_a_page if press.to_a_page == "some" else MOST_ON_ONE
    return Printing(printer, plan.by_marks, most, tuple((each.piece, each.bleed) for each in plan.evidence))


class Loaded(Struct, frozen=True):
    """A sheet as it is loaded, the face up, for printed ones what their bleed and their pages ask for, and the pieces
    that are `held` from turning by a quarter, by their ids."""

    sheet: LoadedSheet
    face: str
    bleed: float = 0.0
    most: int = MOST_ON_ONE
    held: frozenset[str] = frozenset()

    @property
    def room(self) -> Box:
        """Where outlines may lie: the sheet's room less the bleed."""
        return self.sheet.room.grown(-self.bleed) if self.bleed else self.sheet.room

    def rules(self, lay: Lay) -> Lay:
        """The rules of Lay, with pieces far enough apart for the bleed of both."""
        if 2 * self.bleed <= lay.spacing.mm:
            return lay
        return structs.replace(lay, spacing=parse_length(f"{2 * self.bleed:.4f} mm"))

    def most_now(self, there: int) -> int:
        """How many more may lie on a sheet that has so many."""
        return max(0, self.most - there)


def load_printed(
    paper: Paper, pieces: dict[str, Piece], face: str, lay: Lay, machine: Machine, printing: Printing
) -> Loaded:
    """A sheet of a paper as it is printed and loaded for some pieces."""
    sheet = load_page(
        sheet_set(lay, paper), machine, printing.printer, by_marks=printing.by_marks, mat=mat_of(lay, paper, machine)
    )
    bleed = max((by for piece, by in printing.bleeds if piece in pieces), default=0.0)
    return Loaded(sheet, face, bleed, printing.most)
