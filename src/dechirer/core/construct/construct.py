"""From brief and construct decisions to the flat pieces and the folded card."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.card.assembly import Made, Slab
from dechirer.core.card.panels import PanelTree
from dechirer.core.card.piece import Piece
from dechirer.core.card.stack import find_closed_box, find_thickest_stack, measure_closed_thickness
from dechirer.core.construct.attached import Attached
from dechirer.core.construct.card import Card
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.envelopes.bought import BoughtEnvelope, find_bought_envelope
from dechirer.core.construct.specs import CONSTRUCTIONS, ConstructionSpec
from dechirer.core.figure import Figure


class ConstructPlan(Struct, frozen=True):
    """Every flat piece, and the card they fold into.

    `envelope` is what is made of an envelope, `envelope_slabs` what lies on what in it, and `envelope_fits` the styles
    that would fit the sheet; `bought` is the smallest standard envelope the card goes into.
    """

    kind: ConstructionSpec
    made: Made
    pieces: tuple[Piece, ...]
    slabs: tuple[Slab, ...]
    tree: PanelTree
    closed_thickness: Figure
    piece_count: Figure
    extra: tuple[Figure, ...]
    envelope: Made | None = None
    bought: BoughtEnvelope | None = None
    layers: int = 0
    envelope_slabs: tuple[Slab, ...] = ()
    envelope_fits: tuple[str, ...] = ()

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
        """Every figure of the room."""
        found = [self.closed_thickness, self.piece_count, *self.extra]
        for piece in self.pieces:
            found += [piece.width, piece.height, *(measure.figure for measure in piece.measures)]
            for mark in piece.folds:
                found += [mark.at, mark.length, *mark.settings]
        return tuple(found)


def make_construct(construction: str, construct: Construct, card: Card) -> ConstructPlan:
    """Compute the pieces and the folded card.

    A liner that would have no size left, or is asked for on a card that takes none, gives no piece; so does a layer on
    a face the card does not have. The checks say so.

    Raises:
        UnknownIdError: no such construction.
    """
    kind = CONSTRUCTIONS[construction]
    made = kind.make(construct, card)
    attached = Attached(card, made, kind.liner)
    late = []
    for spec, own in construct.attached():
        if spec.late:
            late.append((spec, own))
        elif kind.liner or not spec.needs_liner:
            spec.run(attached, own)
    tree = attached.assembler.finish()
    slabs = tuple(attached.assembler.slabs)
    envelope = next((spec.run(attached, own, tree) for spec, own in late), None)
    stack = find_thickest_stack(tree, slabs)
    thickness = measure_closed_thickness(
        stack, attached.figures, made.bulk, lambda paper: card.facts.paper(paper).thickness
    )
    box = find_closed_box(tree)
    return ConstructPlan(
        kind,
        made,
        tuple(attached.pieces),
        slabs,
        tree,
        thickness,
        _count_pieces(attached.pieces, card.facts.count),
        tuple(attached.figures),
        envelope.made if envelope is not None else None,
        find_bought_envelope(box.width, box.height, thickness.value),
        len(stack),
        envelope.slabs if envelope is not None else (),
        envelope.fits if envelope is not None else (),
    )


def _count_pieces(pieces: list[Piece], copies: Figure) -> Figure:
    kinds = len(pieces)
    words = "kind of piece" if kinds == 1 else "kinds of piece"
    return Figure(
        "construct.pieces",
        "pieces",
        float(kinds * copies.value),
        "count",
        formula=f"{kinds} {words} × " + "{" + copies.name + "}",
        inputs=(copies,),
    )
