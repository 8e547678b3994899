"""Stock: how much there is of each thing by what came in, was used and was counted."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct, structs

from dechirer.core.keep.entries import Entry, StockMoved


class OnShelf(Struct, frozen=True):
    """How much there is of an item, when it was last counted, and what one costs (0: not known); of an offcut its
    paper and its size (mm). It is not known where nothing ever came in or was counted: runs only took of it."""

    item: str
    amount: float
    counted: str = ""
    price: float = 0.0
    paper: str = ""
    width: float = 0.0
    height: float = 0.0
    is_known: bool = True

    def lacks(self, need: float) -> float:
        """How much is missing of what is needed; 0 where nobody has said what is there."""
        return max(0.0, need - self.amount) if self.is_known else 0.0


def offcut_name(paper: str, wide: float, high: float) -> str:
    """What an offcut (mm) is called in the stock."""
    return f"offcut of {paper[:80]}, {wide:g} x {high:g} mm"


def after_count(move: StockMoved, last_counted: str) -> StockMoved:
    """A move as it is kept: a clock that was set back does not put it before the count it comes after."""
    return structs.replace(move, made=last_counted) if move.made < last_counted else move


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


class Wanted(Struct, frozen=True):
    """A thing to be bought: for which jobs how much of it is needed, what is there (None: nobody has said), and how
    much of it is missing."""

    item: str
    jobs: tuple[str, ...]
    needed: float
    there: float | None
    buy: float
    price: float = 0.0

    @property
    def costs(self) -> float:
        """What is missing costs so much; 0 where the price is not known."""
        return self.buy * self.price


def lacking(needs: dict[str, float], shelf: dict[str, OnShelf]) -> dict[str, float]:
    """How much of each thing that is needed is missing, of what was counted or came in."""
    missing = {item: shelf[item].lacks(need) for item, need in needs.items() if item in shelf}
    return {item: amount for item, amount in missing.items() if amount > 0}


def shopping_list(jobs: Iterable[tuple[str, dict[str, float]]], shelf: dict[str, OnShelf]) -> tuple[Wanted, ...]:
    """What several jobs need together, beside what is there: what is missing first, the most first.

    Args:
        jobs: the name of each, and how much of each thing it takes.
    """
    needs: dict[str, float] = {}
    by: dict[str, list[str]] = {}
    for name, own in jobs:
        for item, amount in own.items():
            needs[item] = needs.get(item, 0.0) + amount
            by.setdefault(item, []).append(name)
    found = []
    for item, needed in needs.items():
        there = shelf.get(item)
        known = there is not None and there.is_known
        buy = max(0.0, needed - (there.amount if there is not None and known else 0.0))
        price = there.price if there is not None else 0.0
        found.append(Wanted(item, tuple(by[item]), needed, there.amount if there and known else None, buy, price))
    return tuple(sorted(found, key=lambda each: (each.buy <= 0, each.there is None, each.item)))


def on_shelf(entries: Iterable[Entry]) -> dict[str, OnShelf]:
    """What there is, by item: a count sets it, what comes after is added. Entries are the oldest first; those that move
    no stock are passed over."""
    found: dict[str, OnShelf] = {}
    for move in entries:
        if not isinstance(move, StockMoved):
            continue
        now = found.get(move.item, OnShelf(move.item, 0.0, is_known=False))
        amount = now.amount + move.change if move.counted is None else move.counted
        counted = now.counted if move.counted is None else move.made
        of = (move.paper, move.width, move.height) if move.paper else (now.paper, now.width, now.height)
        known = now.is_known or move.counted is not None or move.change > 0
        found[move.item] = OnShelf(move.item, amount, counted, move.price or now.price, *of, known)
    return found
