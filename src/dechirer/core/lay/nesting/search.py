"""Nesting: sheets are filled in several orders, then emptied in part and filled again, again and again.

What is kept is better, or worse by a little, at three temperatures by turns. A budget is counted in rounds, so that a
seed gives one layout on any machine. Every layout that is better than those before is checked by shapely before it is
shown.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Iterator, Sequence

import shapely
from msgspec import Struct

from dechirer.core.lay.nesting.apart import are_apart
from dechirer.core.lay.nesting.grid import Maps, Sheet, cells_of
from dechirer.core.lay.nesting.shapes import Shape
from dechirer.core.shape.affine import Points
from dechirer.core.stopping import checkpoint

TEMPERATURES, PHASE = (0.03, 0.01, 0.004), 60
"""How much worse a layout may be and be kept with a chance of one in e, in sheets: by turns, so many rounds each. Warm
finds its way out of tight corners, cold settles irregular ones."""
SPREADS = (0.05, 0.15, 0.4)
GAP_MM = 0.004
"""A gap may be less by so much: what is lost to sampling and rounding."""


class Put(Struct, frozen=True):
    """A piece on a sheet: its kind, its quarter turns (clockwise as it is seen), and where the top left corner of its
    own box lies in the room, mm."""

    kind: int
    turn: int
    x: float
    y: float


class Nested(Struct, frozen=True):
    """A layout: what lies on each sheet, the fullest first, and what it needs: whole sheets and the share of the last
    one's length that is used."""

    sheets: tuple[tuple[Put, ...], ...]
    needs: float
    round: int = 0


class Nester:
    """Nests pieces of some kinds on sheets of one room.

    Args:
        kinds: each kind's rings, the outer one first, in mm, and the quarter turns it may lie in.
        counts: how many there are of each.
        width, height: of the room, mm.
        gap: between pieces, mm.
    """

    def __init__(
        self,
        kinds: Sequence[tuple[tuple[Points, ...], tuple[int, ...]]],
        counts: Sequence[int],
        width: float,
        height: float,
        gap: float,
        seed: int = 0,
    ) -> None:
        self.shapes = [Shape(rings, gap, turns) for rings, turns in kinds]
        self.height, self.gap = height, gap
        self.maps = Maps(self.shapes, cells_of(width), cells_of(height))
        self._pieces = [kind for kind, count in enumerate(counts) for _ in range(count)]
        self._random = random.Random(seed)
        missing = [kind for kind in set(self._pieces) if not any((kind, turn) in self.maps.inside for turn in range(4))]
        if missing:
            raise ValueError("a piece is larger than the room")

    def run(self, rounds: int) -> Iterator[Nested]:
        """Layouts, each better than those before, until so many rounds are done."""
        best: tuple[float, list[Sheet]] | None = None
        for order in self._orders():
            found = self._fill(sorted(self._pieces, key=lambda kind: (order(kind), kind)), [])
            cost = self._cost(found)
            if best is None or cost < best[0] - 1e-9:
                best = cost, found
                yield from self._show(found, 0)
        assert best is not None
        now = best
        for round in range(1, rounds + 1):
            checkpoint("looking for a closer lay", "")
            found = self._again(now[1])
            cost = self._cost(found)
            warm = TEMPERATURES[round // PHASE % len(TEMPERATURES)]
            if cost < now[0] or self._random.random() < math.exp((now[0] - cost) / warm):
                now = cost, found
                if cost < best[0] - 1e-9:
                    best = now
                    yield from self._show(found, round)

    def _orders(self) -> tuple[Callable[[int], float], ...]:
        shapes = self.shapes
        return (
            lambda kind: -shapes[kind].width * shapes[kind].height,
            lambda kind: -shapes[kind].area,
            lambda kind: -max(shapes[kind].width, shapes[kind].height),
            lambda kind: -(shapes[kind].width + shapes[kind].height),
        )

    def _fill(self, order: list[int], sheets: list[Sheet]) -> list[Sheet]:
        """Put pieces, in order, each on the first sheet it goes on."""
        full: dict[int, int] = {}
        for kind in order:
            for place in range(full.get(kind, 0), len(sheets)):
                if sheets[place].put(kind):
                    break
                full[kind] = place + 1  # nothing is taken away meanwhile, so it will not go there later either
            else:
                sheet = Sheet(self.maps)
                sheet.put(kind)
                sheets.append(sheet)
        return sheets

    def _again(self, now: list[Sheet]) -> list[Sheet]:
        """Some sheets emptied, some thinned, and what was on them put back in another order."""
        chance = self._random
        order = sorted(range(len(now)), key=lambda place: -now[place].area)
        last = min(range(len(now)), key=lambda place: now[place].used())
        empty = {last}
        if len(now) > 1 and chance.random() < 0.7:
            empty.add(chance.randrange(len(now)))
        gone = [each[0] for place in sorted(empty) for each in now[place].lies]
        kept = []
        for place in order:
            if place in empty:
                continue
            sheet = now[place]
            if chance.random() < 0.35 and len(sheet.lies) > 1:
                out = set(chance.sample(range(len(sheet.lies)), chance.randint(1, max(1, len(sheet.lies) // 2))))
                gone += [sheet.lies[each][0] for each in sorted(out)]
                kept.append(Sheet(self.maps, [each for number, each in enumerate(sheet.lies) if number not in out]))
            else:
                kept.append(sheet.copy())
        key, spread = chance.choice(self._orders()), chance.choice(SPREADS)
        kept.sort(key=lambda sheet: -sheet.area)
        return self._fill(sorted(gone, key=lambda kind: key(kind) * (1 + spread * chance.gauss(0, 1))), kept)

    def _cost(self, sheets: list[Sheet]) -> float:
        return len(sheets) - 1 + min(sheet.used() for sheet in sheets) / self.height

    def _show(self, sheets: list[Sheet], round: int) -> Iterator[Nested]:
        """A layout, when it holds its gaps."""
        order = sorted(sheets, key=lambda sheet: -sheet.used())
        found = tuple(tuple(self._put(*each) for each in sheet.lies) for sheet in order)
        if all(self._holds(sheet) for sheet in order):
            yield Nested(found, self._cost(sheets), round)

    def _put(self, kind: int, turn: int, column: int, row: int) -> Put:
        shape = self.shapes[kind]
        (across, down), (wide, high) = shape.cells(turn), shape.size(turn)
        return Put(kind, turn, column + (across - wide) / 2, row + (down - high) / 2)

    def _holds(self, sheet: Sheet) -> bool:
        """Whether pieces are as far apart as they should be, asked of shapely."""
        return are_apart([self._polygon(*each) for each in sheet.lies], self.gap, GAP_MM)

    def _polygon(self, kind: int, turn: int, column: int, row: int) -> shapely.Polygon:
        shape = self.shapes[kind]
        x, y = shape.across / 2, shape.down / 2
        across, down = shape.cells(turn)
        c, s = ((1, 0), (0, 1), (-1, 0), (0, -1))[turn % 4]
        to = (column + across / 2, row + down / 2)
        return shapely.transform(
            shape.polygon,
            lambda points: (points - (x, y)) @ [[c, s], [-s, c]] + to,
        )
