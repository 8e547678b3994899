"""Mending the order of many lines: 2-opt and or-opt over all places at once, the starts of closed lines chosen between,
and now and then a jolt that is kept where it helps.

What is looked at in one step of Python is one row of all possible moves, worked out by NumPy. The jolts come from a
seed, so that equal strokes give equal orders.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from dechirer.core.shape.affine import Point
from dechirer.core.stopping import checkpoint

ROUNDS = 8
"""So often starts are chosen anew between two mendings."""
JOLTS = 1
"""So many jolts are tried."""
SAVES_MM = 1e-7
Ends = tuple[Any, Any]
"""Where each line of an order begins and where it ends: arrays (n, 2)."""


def mend_order(
    order: list[int], start: Point, choose: Callable[[Sequence[int]], Ends], length: Callable[[Ends], float]
) -> list[int]:
    """An order with less travel, from an order.

    Args:
        choose: where the lines of an order begin and end at best, in that order.
        length: the travel from the start through such ends, mm.
    """
    import numpy as np

    random = np.random.default_rng(len(order))
    best, ends = _settle(order, start, choose)
    least = length(ends)
    for _ in range(JOLTS):
        checkpoint()
        tried, own = _settle(_jolted(best, random), start, choose)
        found = length(own)
        if found < least - SAVES_MM:
            best, least = tried, found
    return best


def _settle(order: list[int], start: Point, choose: Callable[[Sequence[int]], Ends]) -> tuple[list[int], Ends]:
    """Mend an order and choose starts by turns until neither helps."""
    ends = choose(order)
    for _ in range(ROUNDS):
        moved, order, ends = _mend_once(order, ends, start)
        ends = choose(order)
        if not moved:
            break
    return order, ends


def _jolted(order: list[int], random: Any) -> list[int]:
    """An order with two neighbouring stretches of it exchanged (a double bridge, of stretches that are not long)."""
    count = len(order)
    long = max(2, min(50, count // 4))
    first = int(random.integers(0, max(1, count - 2)))
    second = min(count - 1, first + 1 + int(random.integers(0, long)))
    third = min(count, second + 1 + int(random.integers(0, long)))
    return [*order[:first], *order[second:third], *order[first:second], *order[third:]]


def _mend_once(order: list[int], ends: Ends, start: Point) -> tuple[bool, list[int], Ends]:
    """Moves with fixed ends, until none helps: stretches turned round, single lines put elsewhere, either way round."""
    import numpy as np

    begins, finishes = np.array(ends[0], float), np.array(ends[1], float)
    line = np.array(order)
    ever, better = False, True
    home = np.array(start, float)
    while better:
        checkpoint()
        turned = _turn_stretches(line, begins, finishes, home)
        moved = _move_runs(line, begins, finishes, home)
        better = turned or moved
        ever = ever or better
    return ever, line.tolist(), (begins, finishes)


def _away(one: Any, other: Any) -> Any:
    import numpy as np

    return np.hypot(one[..., 0] - other[..., 0], one[..., 1] - other[..., 1])


def _turn_stretches(line: Any, begins: Any, finishes: Any, home: Any) -> bool:
    """Turn the stretch from each place that saves most; whether any was turned."""
    count, ever = len(line), False
    for first in range(count - 1):
        before = finishes[first - 1] if first else home
        here = float(_away(before, begins[first]))
        saved = here - _away(before, finishes[first:])
        after = begins[first + 1 :]
        saved[:-1] += _away(finishes[first:-1], after) - _away(begins[first], after)
        last = int(saved.argmax())
        if saved[last] > SAVES_MM and last:
            part = slice(first, first + last + 1)
            line[part] = line[part][::-1].copy()
            begins[part], finishes[part] = finishes[part][::-1].copy(), begins[part][::-1].copy()
            ever = True
        elif saved[last] > SAVES_MM:
            begins[first], finishes[first] = finishes[first].copy(), begins[first].copy()
            ever = True
    return ever


def _move_runs(line: Any, begins: Any, finishes: Any, home: Any) -> bool:
    """Put runs of one to three lines where they cost least, either way round; whether any was moved."""
    import numpy as np

    count, ever = len(line), False
    for long in (1, 2, 3):
        for first in range(count - long):
            last = first + long - 1
            before = finishes[first - 1] if first else home
            after = begins[last + 1]
            freed = float(_away(before, begins[first]) + _away(finishes[last], after) - _away(before, after))
            if freed <= SAVES_MM:
                continue
            keep = np.r_[0:first, last + 1 : count]
            starts, stops = begins[keep], np.vstack([home, finishes[keep]])
            gaps = np.append(_away(stops[:-1], starts), 0.0)
            ahead = _away(stops, begins[first]) - gaps
            ahead[:-1] += _away(finishes[last], starts)
            turned = _away(stops, finishes[last]) - gaps
            turned[:-1] += _away(begins[first], starts)
            place = int(np.minimum(ahead, turned).argmin())
            cost = min(float(ahead[place]), float(turned[place]))
            if cost >= freed - SAVES_MM:
                continue
            run = np.arange(first, last + 1)
            if turned[place] < ahead[place]:
                begins[run], finishes[run] = finishes[run].copy(), begins[run].copy()
                run = run[::-1]
            again = np.concatenate([keep[:place], run, keep[place:]])
            line[:], begins[:], finishes[:] = line[again], begins[again], finishes[again]
            ever = True
    return ever
