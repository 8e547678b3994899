"""What the maker decides in Fold: how parts are stuck, creased and placed, the order of work, hands, days, trinkets."""

from typing import Annotated, Literal

from msgspec import Meta

from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require, require_own_ids
from dechirer.core.decide.values import Identifier, Name, given, is_day
from dechirer.core.fold.adhesives import ADHESIVE_TITLES, GLUE_TITLES, Adhesive
from dechirer.core.length import Length


class StuckBy(Decisions, frozen=True):
    """One joint that is stuck otherwise than the others; its id is the joint's."""

    id: Identifier
    by: Annotated[Adhesive, Field("Stuck by", choices=ADHESIVE_TITLES)] = "wet"


class Trinket(Decisions, frozen=True):
    """Something small that is put on each card besides what Dress has on its faces: gems, bows, buttons. Its size and
    its height in mm, how many a card takes, and how many are there."""

    id: Identifier
    name: Annotated[Name, Field("Name", 1, 120)]
    count: Annotated[int, Field("For each card", 1, 1000)] = 1
    size: Annotated[Length, Field("Size", 0.5, 300)] = given("5 mm")
    height: Annotated[Length, Field("Height", 0.1, 60)] = given("2 mm")
    on_hand: Annotated[int | None, Field("On hand", 0, 1_000_000, hint="not counted")] = None


class OnHand(Decisions, frozen=True):
    """How much of something in the kit list is there; its id is that of the list's row."""

    id: Identifier
    count: Annotated[int, Field("On hand", 0, 10_000_000)]


class MakingUp(Decisions, frozen=True):
    """How the cards are made up.

    `order` and `skipped` are steps, by their ids, that the maker does in another order or leaves out. Work begins on
    the day `begins` (empty: not given), so many hours a day.
    """

    paper_glue: Annotated[
        Literal["wet", "tape", "spray"],
        Field("Paper is stuck by", choices=GLUE_TITLES),
    ] = "wet"
    stuck: Annotated[tuple[StuckBy, ...], Meta(max_length=200), Field("Stuck otherwise", hidden=True)] = ()
    pad: Annotated[Length, Field("Foam squares of", 3, 50)] = given("12 mm")
    crease: Annotated[
        Literal["folder", "edge"],
        Field(
            "Folds are pressed", choices={"folder": "with a folder along the groove", "edge": "over a straight edge"}
        ),
    ] = "folder"
    aid: Annotated[
        Literal["jig", "measure"],
        Field(
            "Loose parts are placed", choices={"jig": "through a template", "measure": "by measuring from the edges"}
        ),
    ] = "jig"
    way: Annotated[
        Literal["sooner", "line", "each"],
        Field(
            "Cards are made",
            choices={
                "sooner": "whichever is sooner",
                "line": "one step for all, then the next",
                "each": "one after the other",
            },
        ),
    ] = "sooner"
    hands: Annotated[int, Field("People at it", 1, 20)] = 1
    hours: Annotated[float, Field("Hours a day", 0.5, 24)] = 3.0
    begins: Annotated[str, Field("Work begins on", 0, 10, hint="a day, as 2026-03-14")] = ""
    order: Annotated[tuple[Identifier, ...], Meta(max_length=400), Field("Order of steps", hidden=True)] = ()
    skipped: Annotated[tuple[Identifier, ...], Meta(max_length=400), Field("Steps left out", hidden=True)] = ()
    trinkets: Annotated[tuple[Trinket, ...], Meta(max_length=60), Field("Put on besides", hidden=True)] = ()
    on_hand: Annotated[tuple[OnHand, ...], Meta(max_length=300), Field("There already", hidden=True)] = ()

    def agree(self) -> None:
        require_own_ids("trinkets", self.trinkets)
        require_own_ids("stuck", self.stuck)
        require_own_ids("on_hand", self.on_hand)
        require(not self.begins or is_day(self.begins), f"begins “{self.begins}” is no day: give it as 2026-05-02")

    def adhesive_of(self, joint: str) -> Adhesive | None:
        """What a joint is stuck by where the maker has chosen that for it alone."""
        return next((each.by for each in self.stuck if each.id == joint), None)
