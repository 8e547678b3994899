"""What registers in this room: constructions, what is glued on or in, and styles of envelopes."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from msgspec import Struct

from dechirer.core.brief.decisions import Paper
from dechirer.core.card.assembly import Made
from dechirer.core.construct.card import Card
from dechirer.core.decide.decisions import Decisions
from dechirer.core.registry import Registry

HOME = "dechirer.core.construct"
GROUPS: dict[str, str] = {
    "folds": "Folds",
    "locks": "Locks and holders",
    "shapes": "Shapes",
    "panels": "Many panels",
}
"""The headings of the chooser, in their order."""


class ConstructionSpec(Struct, frozen=True):
    """A construction.

    Attributes:
        id: its name in the job.
        run: its builder, from its decisions and the card to what is made.
        title: the maker's word for it.
        order: its place in the chooser.
        decisions: what the maker decides about it; none for `Decisions` itself.
        liner: what a liner of it is: `spread` (folded with the card), `centre` (on the middle panel) or empty (none).
        quick: its name for the command line's quick job; empty for none.
        group: the heading it stands under in the chooser, one of GROUPS.
        halves: how many panels of a blank lie side by side and one above the other, for a bought blank.
        to_close_square: changes that make its packet close square, as (label, path, value), from its decisions.
    """

    id: str
    run: Callable[[Any, Card], Made]
    title: str
    order: int
    decisions: type[Decisions] = Decisions
    liner: str = ""
    quick: str = ""
    group: str = "folds"
    halves: tuple[int, int] | None = None
    to_close_square: Callable[[Any, Card], Iterable[Any]] = lambda own, card: ()

    @property
    def field(self) -> str:
        """The name of its decisions among those of the room."""
        return self.id.replace("-", "_")

    def own(self, construct: Any) -> Any:
        """Its decisions, from those of the room."""
        return getattr(construct, self.field) if self.decisions is not Decisions else Decisions()

    def make(self, construct: Any, card: Card) -> Made:
        """Make the card of the room's decisions."""
        return self.run(self.own(construct), card)


class Start(Struct, frozen=True):
    """What something new on a card begins from.

    Attributes:
        face: the name of the face it is put on, `width` and `height` that face's size in mm.
        card_width, card_height: the finished size of the card, in mm.
        papers: the papers on hand; `base_paper` the card's, `used` what the card is made of so far.
        before: how many of its kind are on that face already, and `taken` the ids that are.
    """

    face: str
    width: float
    height: float
    card_width: float
    card_height: float
    papers: tuple[Paper, ...]
    base_paper: str
    used: frozenset[str]
    units: str
    before: int = 0
    taken: frozenset[str] = frozenset()

    def other_paper(self) -> str:
        """A paper that is not yet used, so that it can be told apart; the last one when all are."""
        ids = [paper.id for paper in self.papers]
        return next((each for each in ids if each not in self.used), ids[-1])

    def new_id(self, stem: str) -> str:
        """An id that is not taken."""
        return next(f"{stem}-{number}" for number in range(1, 1000) if f"{stem}-{number}" not in self.taken)


class AttachmentSpec(Struct, frozen=True):
    """Something glued on or in.

    Attributes:
        id: its name among the room's decisions.
        run: puts it on the card (`Attached`), from its decisions.
        title: the maker's word for it, and `add` the words that offer it, with `{face}` for the face.
        order: when it is put on: what lies below comes first.
        decisions: what the maker decides about it.
        start: the decisions it begins with.
        many: there may be several; they are then named by their ids, and each lies on the face it names.
        late: it goes round the closed card, so all else comes before it.
        needs_liner: only a construction that takes a liner takes it.
        piece: the id of its piece, when it has one.
        line: the id of the line it cuts in the base, when it cuts one.
    """

    id: str
    run: Callable[..., Any]
    title: str
    order: int
    decisions: type[Decisions]
    start: Callable[[Start], Any]
    add: str = ""
    many: bool = False
    late: bool = False
    needs_liner: bool = False
    piece: str = ""
    line: str = ""

    @property
    def path(self) -> str:
        """Where it stands in the job."""
        return f"construct.{self.id}"


class EnvelopeSpec(Struct, frozen=True):
    """A style of envelope.

    Attributes:
        run: lays it out for an `Inside` and the room of its sheet (width, height), in mm.
        title: its name in a choice; `use` the words of a mend that chooses it.
        note: how it is folded, for its Working.
        wants_square: it fits a square card only.
    """

    id: str
    run: Callable[[Any, tuple[float, float]], Any]
    title: str
    use: str
    order: int
    note: str
    wants_square: bool = False


CONSTRUCTIONS: Registry[ConstructionSpec] = Registry("construction", ConstructionSpec, folders=(f"{HOME}.kinds",))
ATTACHMENTS: Registry[AttachmentSpec] = Registry(
    "attachment", AttachmentSpec, folders=(f"{HOME}.attachments", f"{HOME}.envelopes")
)
ENVELOPES: Registry[EnvelopeSpec] = Registry("envelope style", EnvelopeSpec, folders=(f"{HOME}.envelopes",))
