"""Stock: how much there is of each thing by what came in, was used and was counted."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct

from dechirer.core.keep.entries import StockMoved


class OnShelf(Struct, frozen=True):
    """How much there is of an item, when it was last counted, and what one costs (0: not known)."""

    item: str
    amount: float
    counted: str = ""
    price: float = 0.0


def on_shelf(moves: Iterable[StockMoved]) -> dict[str, OnShelf]:
    """What there is, by item: a count sets it, what comes after is added. Moves are the oldest first."""
    found: dict[str, OnShelf] = {}
    for move in moves:
        now = found.get(move.item, OnShelf(move.item, 0.0))
        amount = now.amount + move.change if move.counted is None else move.counted
        counted = now.counted if move.counted is None else move.made
        found[move.item] = OnShelf(move.item, amount, counted, move.price or now.price)
    return found
