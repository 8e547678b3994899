"""What the maker decides in Press: how pages are made, and how the printed sheet is cut."""

from typing import Annotated, Literal

from msgspec import Meta, structs

from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier
from dechirer.core.press.records import Calibration, Ticket

BleedWay = Literal["evidence", "always", "never"]
BLEEDS = {
    "evidence": "where ink reaches the cut",
    "always": "all round what is printed",
    "never": "none",
}


WAYS = {"marks": "cut by its marks", "edge": "cut by its edge"}
MOST_RECORDS = 60
EVER = "2000-01-01"
"""The date of what was never set."""


class PieceBleed(Decisions, frozen=True):
    """How one piece's bleed is decided, where that is not as for all."""

    piece: Identifier
    bleed: Annotated[BleedWay, Field("Bleed", choices=BLEEDS)] = "evidence"


class Press(Decisions, frozen=True):
    """How printed pieces are printed, and how their sheets are cut."""

    cut_by: Annotated[
        Literal["marks", "edge"],
        Field("Cut by", choices={"marks": "the printed marks", "edge": "the sheet's edge"}),
    ] = "marks"
    bleed: Annotated[BleedWay, Field("Bleed", choices=BLEEDS)] = "evidence"
    pieces: Annotated[tuple[PieceBleed, ...], Meta(max_length=400), Field("Bleed of single pieces", hidden=True)] = ()
    to_a_page: Annotated[
        Literal["most", "some"],
        Field("To a page", choices={"most": "as many as go on it", "some": "so many"}),
    ] = "most"
    most_to_a_page: Annotated[int, Field("Pieces to a page", 1, 200, shows=lambda own: own.to_a_page == "some")] = 1
    spoiled: Annotated[int, Field("Pages more, for spoiled ones", 0, 100)] = 0
    dry_minutes: Annotated[float, Field("Left to dry, minutes", 0, 600)] = 2.0
    film: Annotated[
        Literal["none", "clear", "whole"],
        Field(
            "Film laid over",
            choices={
                "none": "none",
                "clear": "clear film, inside the marks",
                "whole": "clear film, over the whole page",
            },
        ),
    ] = "none"
    calibrations: Annotated[
        tuple[Calibration, ...], Meta(max_length=MOST_RECORDS), Field("Calibrations", hidden=True)
    ] = ()
    tickets: Annotated[tuple[Ticket, ...], Meta(max_length=MOST_RECORDS), Field("Tickets", hidden=True)] = ()

    def ticket_of(self, paper: str, printer: str) -> Ticket:
        """What is set at a printer for a paper, both by name; a plain ticket where nothing was."""
        return next(
            (each for each in self.tickets if each.is_of(paper, printer)), Ticket("ticket", EVER, paper, printer)
        )

    def calibrations_of(self, paper: str, printer: str, machine: str, by: str) -> tuple[Calibration, ...]:
        """What was measured for them, the newest first."""
        own = [each for each in self.calibrations if each.is_of(paper, printer, machine, by)]
        return tuple(sorted(own, key=lambda each: each.made, reverse=True))

    def bleed_of(self, piece: str) -> BleedWay:
        """How the bleed of a piece is decided."""
        return next((each.bleed for each in self.pieces if each.piece == piece), self.bleed)


def set_bleed(press: Press, piece: str, way: BleedWay) -> Change:
    """The change that decides a piece's bleed; as for all where that is the same."""
    others = tuple(each for each in press.pieces if each.piece != piece)
    return Change("press.pieces", others if way == press.bleed else (*others, PieceBleed(piece, way)))


def keep_ticket(press: Press, ticket: Ticket) -> Change:
    """The change that sets a paper's ticket."""
    others = tuple(each for each in press.tickets if not each.is_of(ticket.paper, ticket.printer))
    taken = {each.id for each in others}
    id = next(f"ticket-{number}" for number in range(1, 1000) if f"ticket-{number}" not in taken)
    return Change("press.tickets", (*others, structs.replace(ticket, id=id)))


def keep_calibrations(press: Press, new: tuple[Calibration, ...]) -> Change:
    """The change that copies what was measured into the job, in place of what has the same id."""
    ids = {each.id for each in new}
    others = tuple(each for each in press.calibrations if each.id not in ids)
    return Change("press.calibrations", (*others, *new)[-MOST_RECORDS:])
