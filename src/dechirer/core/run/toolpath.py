"""The path of the tool over one mat: the order of lines, where each closed line is begun, and the time.

The order is nearest neighbour, mended by 2-opt within a budget; for the order found, where each line is
entered is then chosen exactly by dynamic programming over its possible starts. A closed line may start at any
of its corners, an open one at either end, and a perforation keeps its dashes in a row.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from msgspec import Struct

from dechirer.core.brief.machine import Pace
from dechirer.core.shape.affine import Point, Points

MOST_LINES_TO_MEND = 160
"""Beyond this many lines the 2-opt pass, which grows with the square, is left out."""


MOST_LINES_TO_PERMUTE = 4
"""Up to this many lines every order is tried."""
MOST_STARTS = 24
"""Of a flattened curve's hundreds of corners, this many evenly chosen ones are tried as its start."""


class Stroke(Struct, frozen=True):
    """Paths drawn one after the other as one unit, such as an outline or all dashes of a perforation."""

    line: str
    placement: str
    paths: tuple[Points, ...]
    closed: bool = False

    @property
    def _every(self) -> int:
        return max(1, len(self.paths[0]) // MOST_STARTS)

    def entries(self) -> list[tuple[Point, Point]]:
        """Each way to draw it, as (where it begins, where it ends)."""
        if self.closed:
            return [(corner, corner) for corner in self.paths[0][:: self._every]]
        first, last = self.paths[0][0], self.paths[-1][-1]
        return [(first, last), (last, first)]

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
    orders = [_mend(_nearest_first(strokes, start), strokes, start), list(range(len(strokes)))]
    if len(strokes) <= MOST_LINES_TO_PERMUTE:
        orders = [list(order) for order in itertools.permutations(range(len(strokes)))]
    tried = []
    for order in orders:  # the drawing's own order among them, so that none is worse than that
        line = [strokes[index] for index in order]
        ways = _choose_ways(line, start)
        tried.append((travel_length(ways, start), list(zip(line, ways, strict=True))))
    return min(tried, key=lambda each: each[0])[1]


def _gap(here: Point, stroke: Stroke) -> float:
    return min(math.dist(here, entry) for entry, _ in stroke.entries())


def _nearest_first(strokes: Sequence[Stroke], start: Point) -> list[int]:
    left = set(range(len(strokes)))
    order: list[int] = []
    here = start
    while left:
        index = min(left, key=lambda each: (_gap(here, strokes[each]), each))
        left.remove(index)
        order.append(index)
        here = min(strokes[index].entries(), key=lambda way: math.dist(here, way[0]))[1]
    return order


def _mend(order: list[int], strokes: Sequence[Stroke], start: Point) -> list[int]:
    """2-opt on the strokes' middles: turn a stretch round while that shortens the way."""
    count = len(order)
    if count < 4 or count > MOST_LINES_TO_MEND:
        return order
    middles = [_middle(stroke) for stroke in strokes]

    def at(place: int) -> Point:
        return start if place < 0 else middles[order[place]]

    better = True
    while better:
        better = False
        for first in range(count - 1):
            for last in range(first + 1, count):
                before = math.dist(at(first - 1), at(first))
                after = math.dist(at(first - 1), at(last))
                if last + 1 < count:
                    before += math.dist(at(last), at(last + 1))
                    after += math.dist(at(first), at(last + 1))
                if after < before - 1e-9:
                    order[first : last + 1] = reversed(order[first : last + 1])
                    better = True
    return order


def _middle(stroke: Stroke) -> Point:
    points = [point for path in stroke.paths for point in path]
    return sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points)


def _choose_ways(line: Sequence[Stroke], start: Point) -> list[tuple[Points, ...]]:
    """For a fixed order, the ways that make the travel between strokes shortest (dynamic programming)."""
    costs: list[float] = [0.0]
    ends: list[Point] = [start]
    came_from: list[list[int]] = []
    for stroke in line:
        new_costs, links = [], []
        for entry, _ in stroke.entries():
            best = min(range(len(ends)), key=lambda each: costs[each] + math.dist(ends[each], entry))
            links.append(best)
            new_costs.append(costs[best] + math.dist(ends[best], entry))
        costs, ends = new_costs, [end for _, end in stroke.entries()]
        came_from.append(links)
    way = min(range(len(costs)), key=costs.__getitem__)
    ways: list[int] = []
    for links in reversed(came_from):
        ways.append(way)
        way = links[way]
    return [stroke.begun(chosen) for stroke, chosen in zip(line, reversed(ways), strict=True)]


def travel_length(paths: Sequence[tuple[Points, ...]], start: Point) -> float:
    """How far the tool travels lifted, in mm, from `start` through all paths."""
    total, here = 0.0, start
    for group in paths:
        for path in group:
            total += math.dist(here, path[0])
            here = path[-1]
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
    total, run = 0.0, 0.0
    for index in range(1, len(path)):
        run += math.dist(path[index - 1], path[index])
        if index + 1 == len(path) or _turn_deg(path, index) > pace.corner_deg:
            total += straight_time(run, speed, pace.acceleration_mm_s2)
            run = 0.0
    return total


def _turn_deg(path: Points, index: int) -> float:
    (x0, y0), (x1, y1), (x2, y2) = path[index - 1 : index + 2]
    turned = math.atan2(y2 - y1, x2 - x1) - math.atan2(y1 - y0, x1 - x0)
    return abs(math.degrees(math.remainder(turned, math.tau)))
