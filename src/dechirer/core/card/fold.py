"""How a fold is marked: the decision, shared by every piece that folds."""

from typing import Annotated, Literal, get_args

from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import given
from dechirer.core.length import Length

FoldKind = Literal["score", "perforate", "ticks", "unmarked"]
FOLD_KINDS: tuple[FoldKind, ...] = get_args(FoldKind)
FOLD_WORDS: dict[FoldKind, str] = {
    "score": "scored",
    "perforate": "perforated",
    "ticks": "ticked",
    "unmarked": "unmarked",
}


class Fold(Decisions, frozen=True):
    """How a fold is marked, and where its line ends.

    `ends` is how far the line stops short of the edge at each end; below zero it runs out of the edge.
    `dash` and `land` are the cut and the uncut part of a perforation.
    """

    kind: Annotated[FoldKind, Field("Folds are", choices=FOLD_WORDS)] = "score"
    ends: Annotated[Length, Field("Fold line stops short of the edge by", -50, 200, drawn=True)] = given("0 mm")
    dash: Annotated[Length, Field("Perforation dash", 0.2, 50, drawn=True)] = given("5 mm")
    land: Annotated[Length, Field("Perforation land", 0, 50, drawn=True)] = given("5 mm")
