"""What the plots of the book show: minutes planned and taken, places over time, webs that held and tore, stock over
time, as points by their series."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from msgspec import Struct

from dechirer.core.keep.entries import Entry, MadeUp, RunDone, StockMoved, WebTried
from dechirer.core.press.records import Calibration, CornerTrial

ACROSS, UP = 160, 100
"""Of points of a series that lie in one of so many cells the newest is shown: more could not be told apart."""
MOST = 1200


class Dot(Struct, frozen=True):
    """A point of a plot: where it lies, the entry it stands for as kind and id, and its words."""

    x: float
    y: float
    kind: str
    id: str
    words: str


Series = dict[str, list[Dot]]


def dots_of(plot: str, entries: Iterable[Entry], item: str = "") -> Series:
    """The points of a plot by their series, the oldest first, those that could not be told apart once.

    Args:
        item: of which thing stock is shown.
    """
    found: Series = {}
    amount = 0.0
    for each in entries:
        if plot == "minutes" and isinstance(each, RunDone | MadeUp) and each.planned:
            series = "at the machine" if isinstance(each, RunDone) else "at the table"
            kind = "rundone" if isinstance(each, RunDone) else "madeup"
            words = f"{each.job}, {each.made}: {each.minutes:.0f} min, {each.planned:.0f} planned"
            found.setdefault(series, []).append(Dot(each.planned, each.minutes, kind, each.id, words))
        elif plot == "places" and isinstance(each, CornerTrial | Calibration):
            name = f"{each.machine}, {each.mat if isinstance(each, CornerTrial) else each.paper}"
            kind = "cornertrial" if isinstance(each, CornerTrial) else "calibration"
            for side, value in (("right", each.right), ("down", each.down)):
                words = f"{name}, {each.made}: {value:.2f} mm {side}"
                found.setdefault(f"{name}, {side}", []).append(Dot(_day(each.made), value, kind, each.id, words))
        elif plot == "webs" and isinstance(each, WebTried):
            series = "held" if each.held else "tore"
            words = f"{each.paper}, {each.made}: {each.width:.2f} mm {series}"
            level = 1.0 if each.held else 0.0
            found.setdefault(series, []).append(Dot(each.width, level, "webtried", each.id, words))
        elif plot == "stock" and isinstance(each, StockMoved) and each.item == item:
            amount = amount + each.change if each.counted is None else each.counted
            words = f"{item}, {each.made}: {amount:g}"
            found.setdefault(item, []).append(Dot(_day(each.made), amount, "stockmoved", each.id, words))
    return {series: thinned(dots) for series, dots in found.items()}


def thinned(dots: list[Dot]) -> list[Dot]:
    """The newest of those that lie on each other; the first and the last stay, and the rest evenly where they are still
    too many."""
    if len(dots) <= MOST:
        return dots
    xs, ys = [dot.x for dot in dots], [dot.y for dot in dots]
    left, low = min(xs), min(ys)
    wide, high = max(xs) - left or 1.0, max(ys) - low or 1.0
    cells = {(round(ACROSS * (dot.x - left) / wide), round(UP * (dot.y - low) / high)): dot for dot in dots}
    kept = sorted(cells.values(), key=lambda dot: dot.x) if dots[0].x <= dots[-1].x else list(cells.values())
    step = -(-len(kept) // MOST)
    return [*kept[::step], *([kept[-1]] if (len(kept) - 1) % step else [])]


def _day(made: str) -> float:
    return float(date.fromisoformat(made).toordinal())
