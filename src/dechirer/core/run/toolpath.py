"""The path of the tool over one mat: the order of lines, where each closed line is begun, and the time.

The order is nearest neighbour, mended by 2-opt and or-opt within a budget; for the order found, where each line is
entered is then chosen exactly by dynamic programming over its possible starts. A closed line may start at any
of its corners, an open one at either end, and a perforation keeps its dashes in a row.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from functools import cached_property
from typing import Any

from msgspec import Struct

from dechirer.core.brief.machine import Pace
from dechirer.core.shape.affine import Point, Points
from dechirer.core.stopping import checkpoint

FEW_TO_BEGIN_WITH = 10
"""Up to this many lines each is tried as the first."""
FEW_TO_MEND = 24
"""Up to this many lines are mended one move after the other, without NumPy."""
MOST_LINES_TO_MEND = 1200
"""Beyond this many lines the order is that of the nearest next one: mending grows with the square."""


FEW_LINES = 60
"""Up to this many lines the nearest is looked for one by one, and numpy is not asked for."""
MOST_ROUNDS = 4
"""So often the order is mended and the places where lines are begun are chosen."""
MOST_LINES_TO_PERMUTE = 4
"""Up to this many lines every order is tried."""
MOST_STARTS = 24
"""Of a flattened curve's hundreds of corners, this many evenly chosen ones are tried as its start."""


MANY_POINTS = 60
"""From so many points on NumPy is quicker than a loop, and worth being waited for."""
MANY_WAYS = 150
"""From so many pairs of ways on NumPy is quicker than a loop."""


class Entries(list[tuple[Point, Point]]):
    """Each way to draw a stroke, as (where it begins, where it ends)."""

    @cached_property
    def begins(self) -> Any:
        """Where each begins, (n, 2)."""
        import numpy as np

        return np.array([begin for begin, _ in self])

    @cached_property
    def ends(self) -> Any:
        """Where each ends, (n, 2)."""
        import numpy as np

        return np.array([end for _, end in self])


class Stroke(Struct, frozen=True):
    """Paths drawn one after the other as one unit, such as an outline or all dashes of a perforation.

    Paths that are gone over and back again, an even number of times, end where they begin: the stroke `returns`.
    """

    line: str
    placement: str
    paths: tuple[Points, ...]
    closed: bool = False
    returns: bool = False

    @property
    def _every(self) -> int:
        return max(1, len(self.paths[0]) // MOST_STARTS)

    def entries(self) -> Entries:
        """Each way to draw it, as (where it begins, where it ends)."""
        if self.closed:
            return Entries((corner, corner) for corner in self.paths[0][:: self._every])
        first, last = self.paths[0], self.paths[-1]
        if self.returns:
            return Entries([(first[0], last[0]), (last[-1], first[-1])])
        return Entries([(first[0], last[-1]), (last[-1], first[0])])

    def begun(self, way: int) -> tuple[Points, ...]:
        """The paths as drawn in one of its ways; closed paths come back to their first point."""
        if self.closed:
            ring = self.paths[0]
            first = way * self._every
            turned = ring[first:] + ring[:first]
            return ((*turned, turned[0]),)
        return self.paths if way == 0 else tuple(tuple(reversed(path)) for path in reversed(self.paths))


def order_strokes(strokes: Sequence[Stroke], start: Point) -> list[tuple[Stroke, tuple[Points, ...]]]:
    """Each stroke with its paths as drawn, in the order and direction they are drawn, beginning near `start`."""
    if not strokes:
        return []
    drawn = list(range(len(strokes)))
    entries = [stroke.entries() for stroke in strokes]
    if len(strokes) <= MOST_LINES_TO_PERMUTE:
        orders = [list(order) for order in itertools.permutations(drawn)]
    else:
        orders = [_mend(_nearest_first(entries, start), entries, start), drawn]
        if len(strokes) <= FEW_TO_MEND:
            orders.append(_mend([*drawn], entries, start))
        if len(strokes) <= FEW_TO_BEGIN_WITH:
            begun = dict.fromkeys(tuple(_nearest_of_few(entries, start, first)) for first in drawn)
            orders += [_mend(list(order), entries, start) for order in begun]
    tried = []
    # The drawing's own order is among them, so that none is worse than that.
    for order in dict.fromkeys(tuple(order) for order in orders):
        ways = _choose_way_numbers([entries[index] for index in order], start)
        line = [(strokes[index], strokes[index].begun(way)) for index, way in zip(order, ways, strict=True)]
        tried.append((travel_length([paths for _, paths in line], start, returns=line[0][0].returns), line))
    return min(tried, key=lambda each: each[0])[1]


def _nearest_first(entries: Sequence[Entries], start: Point) -> list[int]:
    """From each stroke to the one that begins nearest; the first of equally near ones."""
    if len(entries) <= FEW_LINES:
        return _nearest_of_few(entries, start)
    import numpy as np

    begins = np.array([begin for ways in entries for begin, _ in ways])
    ends = [end for ways in entries for _, end in ways]
    owners = np.array([index for index, ways in enumerate(entries) for _ in ways])
    far = np.zeros(len(begins))
    order: list[int] = []
    here = start
    for _ in entries:
        checkpoint()
        away = np.hypot(begins[:, 0] - here[0], begins[:, 1] - here[1]) + far
        nearest = int(away.argmin())
        index = int(owners[nearest])
        far[owners == index] = np.inf
        order.append(index)
        here = ends[nearest]
    return order


def _nearest_of_few(entries: Sequence[Entries], start: Point, first: int | None = None) -> list[int]:
    """From each stroke to the one that begins nearest, the first of equally near ones; begun with one of them where
    that is said."""
    left = list(range(len(entries)))
    order: list[int] = []
    here = start
    dist = math.dist
    while left:
        checkpoint()
        nearest, index, end = math.inf, left[0], here
        for each in left if first is None or order else (first,):
            for begin, after in entries[each]:
                away = dist(here, begin)
                if away < nearest:
                    nearest, index, end = away, each, after
        left.remove(index)
        order.append(index)
        here = end
    return order


def _mend(order: list[int], entries: Sequence[Entries], start: Point) -> list[int]:
    """2-opt on the strokes' own ends: turn a stretch round, each stroke in it too, while that shortens the way. Where
    closed lines are begun is chosen anew after each round."""
    count = len(order)
    if count < 4:
        return order
    if count > FEW_TO_MEND:
        return _mend_many(order, entries, start)
    for _ in range(MOST_ROUNDS):
        ways = _choose_way_numbers([entries[index] for index in order], start)
        ends = [entries[index][way] for index, way in zip(order, ways, strict=True)]
        turned = _turn_stretches(order, ends, start)
        if not (_move_strokes(order, ends, start) or turned):
            break
    return order


def _mend_many(order: list[int], entries: Sequence[Entries], start: Point) -> list[int]:
    """The order of many lines, mended by NumPy."""
    if len(order) > MOST_LINES_TO_MEND:
        return order
    import numpy as np

    from dechirer.core.run.mending import mend_order

    def choose(own: Sequence[int]) -> tuple[Any, Any]:
        ways = _choose_way_numbers([entries[index] for index in own], start)
        ends = [entries[index][way] for index, way in zip(own, ways, strict=True)]
        return np.array([begin for begin, _ in ends]), np.array([end for _, end in ends])

    def length(ends: tuple[Any, Any]) -> float:
        before = np.vstack([start, ends[1][:-1]])
        return float(np.hypot(*(before - ends[0]).T).sum())

    return mend_order(order, start, choose, length)


def _turn_stretches(order: list[int], ends: list[tuple[Point, Point]], start: Point) -> bool:
    """Turn stretches of an order round while that shortens the way; `ends` are where each is begun and left. Whether
    any was turned."""
    count, ever, better = len(order), False, True
    while better:
        better = False
        for first in range(count):
            checkpoint()
            here = ends[first - 1][1] if first else start
            for last in range(first, count):
                before = math.dist(here, ends[first][0])
                after = math.dist(here, ends[last][1])
                if last + 1 < count:
                    before += math.dist(ends[last][1], ends[last + 1][0])
                    after += math.dist(ends[first][0], ends[last + 1][0])
                if after < before - 1e-9:
                    order[first : last + 1] = reversed(order[first : last + 1])
                    ends[first : last + 1] = [(end, begin) for begin, end in reversed(ends[first : last + 1])]
                    better = ever = True
    return ever


def _move_strokes(order: list[int], ends: list[tuple[Point, Point]], start: Point) -> bool:
    """Move single strokes to where they cost less, either way round (or-opt); whether any was moved."""
    count, ever, better = len(order), False, True
    while better:
        better = False
        for place in range(count):
            checkpoint()
            stroke, ends_of = order[place], ends[place]
            rest, rest_ends = [*order[:place], *order[place + 1 :]], [*ends[:place], *ends[place + 1 :]]
            now = _detour(rest_ends, place, ends_of, start)
            least, other, way = _least_detour(rest_ends, ends_of, start)
            if least < now - 1e-9:
                order[:] = [*rest[:other], stroke, *rest[other:]]
                ends[:] = [*rest_ends[:other], way, *rest_ends[other:]]
                better = ever = True
    return ever


def _least_detour(
    ends: list[tuple[Point, Point]], own: tuple[Point, Point], start: Point
) -> tuple[float, int, tuple[Point, Point]]:
    """Where a stroke costs least, and which way round: the detour, the place, and its ends. The first of equal ones,
    and the way round whose first end comes first."""
    dist = math.dist
    begin, end = own
    least, place, way = math.inf, 0, own
    back = (end, begin)
    before = start
    for other in range(len(ends) + 1):
        if other < len(ends):
            after = ends[other][0]
            gap = dist(before, after)
            ahead = dist(before, begin) + dist(end, after) - gap
            turned = dist(before, end) + dist(begin, after) - gap
        else:
            ahead, turned = dist(before, begin), dist(before, end)
        cost, ends_of = min((ahead, own), (turned, back))
        if cost < least:
            least, place, way = cost, other, ends_of
        if other < len(ends):
            before = ends[other][1]
    return least, place, way


def _detour(ends: list[tuple[Point, Point]], place: int, own: tuple[Point, Point], start: Point) -> float:
    """How much longer the way becomes by a stroke put in at a place."""
    before = ends[place - 1][1] if place else start
    if place == len(ends):
        return math.dist(before, own[0])
    after = ends[place][0]
    return math.dist(before, own[0]) + math.dist(own[1], after) - math.dist(before, after)


def _choose_way_numbers(line: Sequence[Entries], start: Point) -> list[int]:
    """For a fixed order, the ways that make the travel between strokes shortest (dynamic programming)."""
    costs: list[float] = [0.0]
    before = Entries([(start, start)])
    came_from: list[list[int]] = []
    dist = math.dist
    for entries in line:
        checkpoint()
        if len(entries) * len(before) > MANY_WAYS:
            costs, links = _step_many(costs, before, entries)
        else:
            new_costs, links = [], []
            for entry, _ in entries:
                best, least = 0, math.inf
                for each, (_, end) in enumerate(before):
                    cost = costs[each] + dist(end, entry)
                    if cost < least:
                        best, least = each, cost
                links.append(best)
                new_costs.append(least)
            costs = new_costs
        before = entries
        came_from.append(links)
    way = min(range(len(costs)), key=costs.__getitem__)
    ways: list[int] = []
    for links in reversed(came_from):
        ways.append(way)
        way = links[way]
    return ways[::-1]


def _step_many(costs: list[float], before: Entries, entries: Entries) -> tuple[list[float], list[int]]:
    """One step of the dynamic programming where both lines can be begun in many places, all at one time."""
    import numpy as np

    here, there = before.ends, entries.begins
    reached = np.array(costs)[:, None] + np.hypot(
        here[:, None, 0] - there[None, :, 0], here[:, None, 1] - there[None, :, 1]
    )
    links = reached.argmin(axis=0)
    return reached[links, np.arange(len(entries))].tolist(), links.tolist()


def travel_length(paths: Sequence[tuple[Points, ...]], start: Point, *, returns: bool = False) -> float:
    """How far the tool travels lifted, in mm, from `start` through all paths, each of which it may come back along."""
    total, here = 0.0, start
    for group in paths:
        for path in group:
            total += math.dist(here, path[0])
            here = path[0] if returns else path[-1]
    return total


def straight_time(length: float, speed: float, acceleration: float) -> float:
    """Seconds for a straight run from rest to rest: a trapezoid of speed, or a triangle when it is short."""
    if length <= 0:
        return 0.0
    if length >= speed * speed / acceleration:
        return length / speed + speed / acceleration
    return 2 * math.sqrt(length / acceleration)


def path_time(path: Points, speed: float, pace: Pace) -> float:
    """Seconds to follow a path: the tool stops at corners sharper than the machine's `corner_deg`."""
    return path_times((path,), speed, pace)[0]


def _time_of_few(path: Points, speed: float, pace: Pace) -> float:
    total, run, last = 0.0, 0.0, None
    for before, point in itertools.pairwise(path):
        way = math.atan2(point[1] - before[1], point[0] - before[0])
        if last is not None and abs(math.degrees(math.remainder(way - last, math.tau))) > pace.corner_deg:
            total += straight_time(run, speed, pace.acceleration_mm_s2)
            run = 0.0
        run += math.dist(before, point)
        last = way
    return total + straight_time(run, speed, pace.acceleration_mm_s2)


def path_times(paths: Sequence[Points], speed: float, pace: Pace) -> tuple[float, ...]:
    """As `path_time` of each of some paths; of many points all at one time."""
    if sum(len(path) for path in paths) <= MANY_POINTS:
        return tuple(_time_of_few(path, speed, pace) for path in paths)
    import numpy as np

    counts = np.array([len(path) for path in paths])
    points = np.array([point for path in paths for point in path])
    owner = np.repeat(np.arange(len(paths)), counts)
    within = owner[1:] == owner[:-1]
    steps, owner = np.diff(points, axis=0)[within], owner[1:][within]
    if not len(steps):
        return (0.0,) * len(paths)
    lengths, ways = np.hypot(steps[:, 0], steps[:, 1]), np.arctan2(steps[:, 1], steps[:, 0])
    turned = np.abs(np.remainder(np.diff(ways) + math.pi, math.tau) - math.pi)
    begins = (np.degrees(turned) > pace.corner_deg) | (owner[1:] != owner[:-1])
    starts = np.concatenate([[0], np.flatnonzero(begins) + 1])
    runs = np.add.reduceat(lengths, starts)
    fast = runs >= speed * speed / pace.acceleration_mm_s2
    seconds = np.where(
        fast, runs / speed + speed / pace.acceleration_mm_s2, 2 * np.sqrt(runs / pace.acceleration_mm_s2)
    )
    return tuple(np.bincount(owner[starts], weights=seconds, minlength=len(paths)).tolist())
