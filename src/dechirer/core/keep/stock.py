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

    def lacks(self, need: float) -> float:
        """How much is missing of what is needed."""
        return max(0.0, need - self.amount)


class Price(Struct, frozen=True):
    """What a job costs in materials and in work, and of which things the price is not known."""

    materials: float
    work: float
    unknown: tuple[str, ...]

    @property
    def total(self) -> float:
        """Both together."""
        return self.materials + self.work


def price_of(needs: dict[str, float], shelf: dict[str, OnShelf], minutes: float, rate: float) -> Price:
    """What a job costs.

    Args:
        needs: how much of each thing it takes, by its name.
        minutes: how long it takes, at `rate` an hour.
    """
    known = {item: amount * shelf[item].price for item, amount in needs.items() if item in shelf and shelf[item].price}
    unknown = tuple(item for item in needs if item not in known)
    return Price(sum(known.values()), minutes / 60 * rate, unknown)


def on_shelf(moves: Iterable[StockMoved]) -> dict[str, OnShelf]:
    """What there is, by item: a count sets it, what comes after is added. Moves are the oldest first."""
    found: dict[str, OnShelf] = {}
    for move in moves:
        now = found.get(move.item, OnShelf(move.item, 0.0))
        amount = now.amount + move.change if move.counted is None else move.counted
        counted = now.counted if move.counted is None else move.made
        found[move.item] = OnShelf(move.item, amount, counted, move.price or now.price)
    return found
