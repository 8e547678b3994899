"""What the maker decides in Press: how pages are made, and how the printed sheet is cut."""

from typing import Annotated, Literal

from msgspec import Meta

from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier

BleedWay = Literal["evidence", "always", "never"]
BLEEDS = {
    "evidence": "where ink reaches the cut",
    "always": "all round what is printed",
    "never": "none",
}


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
    paper_type: Annotated[
        Literal["photo", "plain"],
        Field(
            "Paper type at the printer",
            choices={"photo": "photo", "plain": "plain"},
        ),
    ] = "photo"
    quality: Annotated[Literal["best", "normal"], Field("Quality", choices={"best": "best", "normal": "normal"})] = (
        "best"
    )
    feed: Annotated[
        Literal["tray", "rear"],
        Field("Fed from", choices={"tray": "the tray", "rear": "the rear, straight"}),
    ] = "tray"

    def bleed_of(self, piece: str) -> BleedWay:
        """How the bleed of a piece is decided."""
        return next((each.bleed for each in self.pieces if each.piece == piece), self.bleed)


def set_bleed(press: Press, piece: str, way: BleedWay) -> Change:
    """The change that decides a piece's bleed; as for all where that is the same."""
    others = tuple(each for each in press.pieces if each.piece != piece)
    return Change("press.pieces", others if way == press.bleed else (*others, PieceBleed(piece, way)))
