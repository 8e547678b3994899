"""From brief and construct decisions to the flat pieces and the folded card."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.card.making import keep_on_paper, remark
from dechirer.core.card.piece import Piece, fold_of
from dechirer.core.card.stack import Matter, Stacked, measure_closed
from dechirer.core.construct.attached import Attached
from dechirer.core.construct.bought import as_bought
from dechirer.core.construct.card import Card
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.construct.whole import CardPlan, ConstructPlan
from dechirer.core.figure import Figure
from dechirer.core.paper.envelopes import find_bought_envelope


def make_bare(construction: str, construct: Construct, card: Card) -> CardPlan:
    """Compute the pieces of the card and how they fold, before its faces are dressed.

    A liner that would have no size left, or is asked for on a card that takes none, gives no piece; so does a layer on
    a face the card does not have. The checks say so.

    Raises:
        UnknownIdError: no such construction.
    """
    kind = CONSTRUCTIONS[construction]
    made = kind.make(construct, card)
    attached = Attached(card, made, kind.liner)
    for spec, own in construct.attached():
        if not spec.late and (kind.liner or not spec.needs_liner):
            spec.run(attached, own)
    assembler = attached.assembler
    pieces = take_blanks(mark_folds(attached.pieces, construct), card)
    made = structs.replace(made, pieces=tuple(pieces[: len(made.pieces)]))
    return CardPlan(
        kind,
        made,
        tuple(pieces),
        tuple(assembler.slabs),
        assembler.finish(),
        tuple(attached.figures),
        assembler.reach,
        tuple(attached.at_hand),
        tuple(attached.bare),
    )


def mark_folds(pieces: Iterable[Piece], construct: Construct) -> list[Piece]:
    """The pieces with the folds that the maker wants marked otherwise."""
    folds = {fold.id: fold for fold in construct.folds}
    if not folds:
        return list(pieces)
    decided = _Decided(construct)
    return [keep_on_paper(remark(piece, fold_of(decided, piece), folds)) for piece in pieces]


class _Decided(Struct, frozen=True):
    """The room's decisions by the name that paths begin with."""

    construct: Construct


def stack_bare(bare: CardPlan, facts: BriefPlan) -> Stacked:
    """The card with nothing on its faces, closed."""
    matter = make_matter(bare, facts)
    return Stacked(measure_closed(bare.tree, bare.slabs, (facts.width, facts.height), matter), bare.slabs, bare.tree)


def make_matter(bare: CardPlan, facts: BriefPlan) -> Matter:
    """What a card is made of, before its faces are dressed."""

    def weight_of(paper: str) -> tuple[str, float]:
        known = facts.paper(paper)
        return known.paper.name, known.grammage.value

    return Matter(lambda paper: facts.paper(paper).thickness, weight_of, bare.extra, bare.made.bulk)


def make_construct(construct: Construct, card: Card, bare: CardPlan, stacked: Stacked) -> ConstructPlan:
    """Compute what goes round the card as it will be, and all pieces together."""
    attached = Attached(card, bare.made, bare.kind.liner)
    attached.pieces, attached.figures = list(bare.pieces), list(bare.extra)
    late = [(spec, own) for spec, own in construct.attached() if spec.late]
    closed = stacked.closed
    envelope = next((spec.run(attached, own, closed) for spec, own in late), None)
    return ConstructPlan(
        bare.kind,
        bare.made,
        (*bare.pieces, *mark_folds(attached.pieces[len(bare.pieces) :], construct)),
        bare.slabs,
        bare.tree,
        tuple(attached.figures),
        bare.reach,
        bare.at_hand,
        bare.bare,
        closed=closed,
        piece_count=_count_pieces(attached.pieces, card.facts.count),
        envelope=envelope.made if envelope is not None else None,
        bought=find_bought_envelope(closed.width.value, closed.height.value, closed.thickness.value),
        envelope_slabs=envelope.slabs if envelope is not None else (),
        envelope_fits=envelope.fits if envelope is not None else (),
    )


def take_blanks(pieces: list[Piece], card: Card) -> list[Piece]:
    """The pieces, those bought in their size as blanks: the base where one was stated as large as it is, others by
    their paper."""
    return [
        as_bought(piece, card.facts.paper(piece.paper).paper, None if place else card.blank)
        for place, piece in enumerate(pieces)
    ]


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
