"""Cutting again what was spoiled: only that is laid, printed and run, until the whole job is wanted again."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.card.piece import Piece
from dechirer.core.decide.change import Change
from dechirer.core.lay.decisions import Lay, Recut


def wanted(pieces: tuple[Piece, ...], lay: Lay) -> tuple[Piece, ...]:
    """The pieces that are laid: all of them, or those that are cut again, as often as that."""
    counts = counts_of(pieces, lay)
    if counts is None:
        return pieces
    return tuple(structs.replace(piece, count=counts[piece.id]) for piece in pieces if piece.id in counts)


def counts_of(pieces: tuple[Piece, ...], lay: Lay) -> dict[str, int] | None:
    """How many of each piece are cut again; None where the whole job is. Pieces that are gone are left out."""
    there = {piece.id for piece in pieces}
    counts = {each.piece: each.count for each in lay.recut if each.piece in there}
    return counts or None


def spoil(lay: Lay, piece: str) -> Change:
    """The change that asks for one more of a piece to be cut again."""
    now = next((each.count for each in lay.recut if each.piece == piece), 0)
    others = tuple(each for each in lay.recut if each.piece != piece)
    return Change("lay.recut", (*others, Recut(piece, now + 1)))


def whole_again() -> Change:
    """The change after which the whole job is laid again."""
    return Change("lay.recut", ())
