"""How a fold is marked: the decision, shared by every piece that folds."""

from typing import Annotated, Literal, get_args

from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, given
from dechirer.core.length import Length

FoldKind = Literal["score", "perforate", "ticks", "unmarked"]
FOLD_KINDS: tuple[FoldKind, ...] = get_args(FoldKind)
FOLD_WORDS: dict[FoldKind, str] = {
    "score": "scored",
    "perforate": "perforated",
    "ticks": "ticked",
    "unmarked": "unmarked",
}


class OneFold(Decisions, frozen=True):
    """How one fold is marked where it is not as the others of its piece; its id is `piece-hinge`.

    `times` is how often it is scored, where it is scored otherwise than the run says.
    """

    id: Identifier
    kind: Annotated[
        Literal["as-others", "score", "perforate", "ticks", "unmarked"],
        Field("Marked", choices={"as-others": "as the others", **FOLD_WORDS}),
    ] = "as-others"
    times: Annotated[
        int | None, Field("times", 1, 4, hint="any", shows=lambda own: own.kind in ("as-others", "score"))
    ] = None


class Fold(Decisions, frozen=True):
    """How a fold is marked, and where its line ends.

    `ends` is how far the line stops short of the edge at each end; below zero it runs out of the edge.
    `dash` and `land` are the cut and the uncut part of a perforation.
    """

    kind: Annotated[FoldKind, Field("Folds are", choices=FOLD_WORDS)] = "score"
    ends: Annotated[Length, Field("Fold line stops short of the edge by", -50, 200, drawn=True)] = given("0 mm")
    dash: Annotated[Length, Field("Perforation dash", 0.2, 50, drawn=True)] = given("5 mm")
    land: Annotated[Length, Field("Perforation land", 0, 50, drawn=True)] = given("5 mm")
