"""From brief and construct decisions to the flat pieces and the folded card."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.card.assembly import Made
from dechirer.core.card.piece import Piece
from dechirer.core.card.stack import measure_closed
from dechirer.core.construct.attached import Attached
from dechirer.core.construct.card import Card
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.figure import Figure
from dechirer.core.paper.envelopes import find_bought_envelope

SAME_AS_BLANK_MM = 0.05
"""Two sizes closer than this are the same to a maker with a rule."""


def make_construct(construction: str, construct: Construct, card: Card) -> ConstructPlan:
    """Compute the pieces and the folded card.

    A liner that would have no size left, or is asked for on a card that takes none, gives no piece; so does a layer on
    a face the card does not have. The checks say so.

    Raises:
        UnknownIdError: no such construction.
    """
    kind = CONSTRUCTIONS[construction]
    made = take_blank(kind.make(construct, card), card)
    attached = Attached(card, made, kind.liner)
    late = []
    for spec, own in construct.attached():
        if spec.late:
            late.append((spec, own))
        elif kind.liner or not spec.needs_liner:
            spec.run(attached, own)
    tree = attached.assembler.finish()
    slabs = tuple(attached.assembler.slabs)
    closed = measure_closed(
        tree,
        slabs,
        (card.width, card.height),
        attached.figures,
        made.bulk,
        lambda paper: card.facts.paper(paper).thickness,
    )
    envelope = next((spec.run(attached, own, closed) for spec, own in late), None)
    return ConstructPlan(
        kind,
        made,
        tuple(attached.pieces),
        slabs,
        tree,
        closed,
        _count_pieces(attached.pieces, card.facts.count),
        tuple(attached.figures),
        envelope.made if envelope is not None else None,
        find_bought_envelope(closed.width.value, closed.height.value, closed.thickness.value),
        envelope.slabs if envelope is not None else (),
        envelope.fits if envelope is not None else (),
    )


def take_blank(made: Made, card: Card) -> Made:
    """The card with its base bought instead of cut, where a stated blank is as large as the base is."""
    if card.blank is None or not made.pieces:
        return made
    base, *others = made.pieces
    if max(abs(base.width.value - card.blank[0]), abs(base.height.value - card.blank[1])) > SAME_AS_BLANK_MM:
        return made
    return structs.replace(made, pieces=(structs.replace(base, blank=True), *others))


def _count_pieces(pieces: list[Piece], copies: Figure) -> Figure:
    kinds = len(pieces)
    words = "kind of piece" if kinds == 1 else "kinds of piece"
    return Figure(
        "construct.pieces",
        "pieces",
        float(kinds * copies.value),
        "count",
        formula=f"{kinds} × " + "{" + copies.name + "}",
        inputs=(copies,),
        note=f"{kinds} {words}.",
    )
