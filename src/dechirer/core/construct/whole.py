"""What comes of the room's decisions: every flat piece and the card they fold into, and what its checks look at."""

from __future__ import annotations

from typing import Generic, TypeVar

from msgspec import Struct

from dechirer.core.card.assembly import Bare, Made, Reach, Slab
from dechirer.core.card.panels import PanelTree
from dechirer.core.card.piece import Piece
from dechirer.core.card.stack import AtHand, Closed
from dechirer.core.construct.card import Card
from dechirer.core.construct.specs import ConstructionSpec
from dechirer.core.figure import Figure
from dechirer.core.paper.envelopes import BoughtEnvelope

Own = TypeVar("Own")


class CardPlan(Struct, frozen=True):
    """The card itself before its faces are dressed: its pieces, what lies on what in it, how far each panel reaches
    with that, and what stays `bare` of glue. What goes round it comes after the dress."""

    kind: ConstructionSpec
    made: Made
    pieces: tuple[Piece, ...]
    slabs: tuple[Slab, ...]
    tree: PanelTree
    extra: tuple[Figure, ...]
    reach: Reach
    at_hand: tuple[AtHand, ...] = ()
    bare: tuple[Bare, ...] = ()

    @property
    def is_folded(self) -> bool:
        """Whether the card has a fold at all."""
        return bool(self.tree.hinges)

    def piece(self, piece_id: str) -> Piece | None:
        """The piece of that id, or None."""
        return next((piece for piece in self.pieces if piece.id == piece_id), None)

    def figure(self, key: str) -> Figure | None:
        """The figure of that key among what constructions and attachments add, or None."""
        return next((figure for figure in self.extra if figure.key == key), None)

    def value(self, key: str) -> float:
        """The value of a figure that is there.

        Raises:
            KeyError: constructions and attachments have no such figure.
        """
        found = self.figure(key)
        if found is None:
            raise KeyError(key)
        return found.value

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the card."""
        found = [*self.extra]
        for piece in self.pieces:
            found += [piece.width, piece.height, *(measure.figure for measure in piece.measures)]
            for mark in piece.folds:
                found += [mark.at, mark.length, *mark.settings]
        return tuple(found)


class ConstructPlan(CardPlan, frozen=True, kw_only=True):
    """Every flat piece, and the card they fold into, with what goes round it.

    `closed` is the card as it will be, with all that is glued on it and put in. `envelope` is what is made of an
    envelope, `envelope_slabs` what lies on what in it, and `envelope_fits` the styles that would fit the sheet;
    `bought` is the smallest standard envelope the card goes into.
    """

    closed: Closed
    piece_count: Figure
    envelope: Made | None = None
    bought: BoughtEnvelope | None = None
    envelope_slabs: tuple[Slab, ...] = ()
    envelope_fits: tuple[str, ...] = ()

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the room."""
        return (self.piece_count, *CardPlan.figures(self))


class Seen(Struct, Generic[Own], frozen=True):
    """What the checks of a construction or of something glued on look at: its decisions, the card, and what came of
    them."""

    own: Own
    card: Card
    plan: ConstructPlan

    @property
    def made(self) -> Made:
        """What the construction made."""
        return self.plan.made

    @property
    def units(self) -> str:
        """`in` or `mm`, for words."""
        return self.card.units

    def value(self, key: str) -> float:
        """The value of one of the construction's own figures.

        Raises:
            StopIteration: it has no such figure.
        """
        return next(figure.value for figure in self.made.figures if figure.key == key)
