"""What the maker decides in Brief: the finished card, how many, the papers on hand and the machine."""

import re
from typing import Annotated, Any, Literal

from msgspec import Meta

from dechirer.core.brief.machine import Machine
from dechirer.core.brief.printer import Printer
from dechirer.core.decide.decisions import Decisions, slots_of
from dechirer.core.decide.field import Field
from dechirer.core.decide.reading import check_length
from dechirer.core.decide.refusal import FieldError, require, require_own_ids
from dechirer.core.decide.values import Colour, Identifier, Name, Size, is_day
from dechirer.core.length import Length, LengthError
from dechirer.core.paper.standards import find_size, parse_size
from dechirer.core.paper.weight import parse_weight

BOUGHT = {
    "sheets": "sheets",
    "folded": "folded blanks",
    "slits": "folded blanks with corner slits",
    "peel": "peel-away blanks",
    "flat": "flat blanks",
}


class Paper(Decisions, frozen=True):
    """A paper the maker has: name, colour, stated weight, sheet size, what is left of it, the sizes of `offcuts`, and
    those of `other_sheets` that it is at hand in besides.

    `holds` is the narrowest web of it that does not tear, when the maker has found it by trial. `back` is the colour of
    its other side where that differs. One that is `bought` as blanks has the flat size of one as its sheet; an insert
    and an envelope may come with them. A pattern runs up the sheet; one that stands `upright` is not turned on the mat.
    """

    id: Identifier
    name: Annotated[Name, Field("Paper name", 1, 120)]
    colour: Colour
    weight: Annotated[str, Field("Paper weight", takes="weight", hint="110 lb cover or 298 gsm")]
    sheet: Annotated[Size, Field("Sheet size", 20, 1000, hint="12 x 12 in")]
    other_sheets: Annotated[tuple[Size, ...], Meta(max_length=8), Field("Other sheet sizes", hidden=True)] = ()
    bought: Annotated[Literal["sheets", "folded", "slits", "peel", "flat"], Field("Bought as", choices=BOUGHT)] = (
        "sheets"
    )
    insert: Annotated[
        Size | None,
        Field("Insert that comes with it", 10, 600, hint="none", shows=lambda own: own.bought in ("folded", "slits")),
    ] = None
    envelope: Annotated[
        Size | None, Field("Envelope it comes with", 20, 600, hint="none", shows=lambda own: own.bought != "sheets")
    ] = None
    thickness: Annotated[Length | None, Field("Measured thickness", 0.01, 5, hint="leave empty to estimate")] = None
    on_hand: Annotated[int | None, Field("Sheets on hand", 0, 100_000, hint="leave empty if unknown")] = None
    offcuts: Annotated[tuple[Size, ...], Meta(max_length=24), Field("Offcuts at hand", hidden=True)] = ()
    holds: Annotated[
        Length | None, Field("Narrowest web it holds", 0.05, 20, hint="leave empty to go by its weight")
    ] = None
    good_sides: Annotated[
        Literal["both", "one"],
        Field("Good sides", choices={"both": "both sides are good", "one": "one good side"}),
    ] = "both"
    back: Colour | None = None
    finish: Annotated[
        Literal["matt", "glossy"], Field("Surface", choices={"matt": "matt", "glossy": "glossy or metallic"})
    ] = "matt"
    grain: Annotated[
        Literal["unknown", "long", "short"],
        Field(
            "Grain", choices={"unknown": "not known", "long": "along the long side", "short": "along the short side"}
        ),
    ] = "unknown"
    pattern: Annotated[
        Literal["plain", "stripes"], Field("Pattern", choices={"plain": "plain", "stripes": "runs up the sheet"})
    ] = "plain"
    pattern_on: Annotated[
        Literal["front", "both"],
        Field(
            "Pattern is on",
            choices={"front": "its good side", "both": "both sides"},
            shows=lambda own: own.pattern != "plain",
        ),
    ] = "front"
    upright: Annotated[bool, Field("Pattern stands upright", shows=lambda own: own.pattern != "plain")] = False

    def agree(self) -> None:
        parse_weight(self.weight)

    @property
    def is_blank(self) -> bool:
        """Whether it is bought in the size of a card, and not in sheets."""
        return self.bought != "sheets"

    def face(self, *, good: bool) -> str:
        """The colour of its good side, or of its back."""
        return self.colour if good or self.back is None else self.back

    @property
    def stands_upright(self) -> bool:
        """Whether it has a pattern that is not turned on the mat."""
        return self.upright and self.pattern != "plain"

    def is_patterned(self, *, good: bool) -> bool:
        """Whether its good side, or its back, has a pattern."""
        return self.pattern != "plain" and (good or self.pattern_on == "both")


class Brief(Decisions, frozen=True):
    """What the finished card is, how many, on which papers and which machine.

    `construction` is the id of one of the constructions of the next room. `blank` is a flat size the maker has stated
    for the base, when it is bought or already cut. `due` is the day the cards are wanted on (empty: none).
    """

    construction: Identifier
    width: Annotated[Length, Field("Finished width", 20, 1000, drawn=True)]
    height: Annotated[Length, Field("Finished height", 20, 1000, drawn=True)]
    count: Annotated[int, Field("Copies", 1, 10_000, drawn=True)]
    papers: Annotated[tuple[Paper, ...], Meta(min_length=1, max_length=60), Field("Papers")]
    base_paper: Annotated[Identifier, Field("Paper of the card", takes="paper")]
    machine: Annotated[Machine, Field("Machine")]
    printer: Annotated[Printer, Field("Printer")] = Printer()
    blank: Annotated[Size | None, Field("Flat size of the blank", 20, 1000, hint="none: the base is cut")] = None
    due: Annotated[str, Field("Wanted on", 0, 10, hint="a day, as 2026-05-02")] = ""

    def agree(self) -> None:
        require(not self.due or is_day(self.due), f"due “{self.due}” is no day: give it as 2026-05-02")
        require_own_ids("papers", self.papers)
        ids = [paper.id for paper in self.papers]
        require(self.base_paper in ids, f"base_paper “{self.base_paper}” is not one of {', '.join(ids)}")

    @property
    def stated_blank(self) -> Size | None:
        """The flat size of the blank the base is bought as, if it is: stated for the job, or that of its paper."""
        if self.blank is not None:
            return self.blank
        paper = self.paper(self.base_paper)
        return paper.sheet if paper.is_blank else None

    def typed(self, name: str, text: str, units: str) -> dict[str, Any]:
        """As for any decisions; width and height also take a whole size (`a6`, `5 x 7`), which sets both.

        Raises:
            FieldError: the text is no length and no size, or is out of bounds.
        """
        if name in ("width", "height") and (find_size(text) or re.search(r"\d\s*[x×X]\s*\d", text)):
            try:
                sides = parse_size(text.strip(), unit=units)
            except LengthError as error:
                raise FieldError(str(error)) from None
            slots = slots_of(Brief)
            return {
                side: check_length(slots[side], length, units)
                for side, length in zip(("width", "height"), sides, strict=True)
            }
        return Decisions.typed(self, name, text, units)

    def paper(self, paper_id: str) -> Paper:
        """The paper of that id.

        Raises:
            StopIteration: no such paper.
        """
        return next(paper for paper in self.papers if paper.id == paper_id)
