"""Pieces that are bought in their size: blanks, whose outline and folds are there already."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.brief.decisions import Paper
from dechirer.core.card.piece import Piece

SAME_AS_BLANK_MM = 0.05
"""Two sizes closer than this are the same to a maker with a rule."""


def as_bought(piece: Piece, paper: Paper, stated: tuple[float, float] | None = None) -> Piece:
    """The piece as a blank where its paper is bought in just its size, else as it is cut from a sheet.

    Args:
        stated: a flat size (mm) that was said for it, besides what is known of its paper.
    """
    sizes = [stated] if stated is not None else []
    if paper.is_blank:
        wide, high = paper.sheet.width.mm, paper.sheet.height.mm
        sizes += [(wide, high)] if piece.folds else [(wide, high), (high, wide)]
    blank = any(
        max(abs(piece.width.value - wide), abs(piece.height.value - high)) <= SAME_AS_BLANK_MM for wide, high in sizes
    )
    slits = paper.bought == "slits" and blank
    given = tuple(line.id for line in piece.lines if slits and line.id == f"{piece.id}-slits")
    if (piece.blank, piece.given) == (blank, given):
        return piece
    return structs.replace(piece, blank=blank, given=given)
