"""How many sheets are needed at least, by conservative scales: rectangles that cannot lie beside each other are counted
as larger than they are.

A dual feasible function f takes a share of a side to a share so that whatever fits into a side still does; with two of
them, the sum of f(width) x g(height) over all rectangles is a bound on the sheets (Fekete and Schepers, *A general
framework for bounds for higher-dimensional orthogonal packing problems*, 2004). A rectangle that may be turned counts
as the lesser of its two ways.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable

Scale = Callable[[float], float]
EPS = 1e-9


def _steps(k: int) -> Scale:
    """The scale u(k): rounds (k + 1) x down to a k-th, and leaves what is a whole number of (k + 1)-ths."""

    def scale(x: float) -> float:
        part = (k + 1) * x
        return x if abs(part - round(part)) < 1e-6 else math.floor(part + EPS) / k

    return scale


def _only_large(epsilon: float) -> Scale:
    """The scale that takes what leaves less than epsilon for a whole side, and what is less than it for nothing."""

    def scale(x: float) -> float:
        return 1.0 if x > 1 - epsilon + EPS else 0.0 if x < epsilon - EPS else x

    return scale


SCALES: tuple[Scale, ...] = (
    lambda x: x,
    *(_steps(k) for k in (1, 2, 3, 4)),
    *(_only_large(epsilon) for epsilon in (0.1, 0.2, 0.25, 1 / 3, 0.4, 0.5)),
)


def least_by_scales(sizes: Iterable[tuple[float, float, int]], width: float, height: float, *, may_turn: bool) -> int:
    """How many rooms of a size are needed at least for rectangles.

    Args:
        sizes: width, height and count of each, the gap counted in; a room is a gap larger each way too.
    """
    shares = [(w / width, h / height, h / width, w / height, count) for w, h, count in sizes]
    best = 0.0
    for across in SCALES:
        for down in SCALES:
            total = 0.0
            for x, y, turned_x, turned_y, count in shares:
                ways = [across(x) * down(y)] if max(x, y) <= 1 + EPS else []
                if may_turn and max(turned_x, turned_y) <= 1 + EPS:
                    ways.append(across(turned_x) * down(turned_y))
                total += count * min(ways, default=1.0)
            best = max(best, total)
    return max(1, math.ceil(best - 1e-6))
