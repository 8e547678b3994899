"""The smallest bounding square of an outline over all turns, against a sweep by 0.1 degree in shapely."""

from __future__ import annotations

import math
import time

import numpy as np
import shapely
from shapely import affinity

from bench.table import show, spread, verdict
from dechirer.core.shape.turning import find_smallest_square

CORNERS = 2000
RUNS = 20


def wavy_outline() -> tuple[tuple[float, float], ...]:
    """An outline of 2,000 corners with many on its hull."""
    turns = [math.tau * step / CORNERS for step in range(CORNERS)]
    return tuple(
        ((90 + 20 * math.cos(turn) ** 2) * math.cos(turn), (70 + 3 * math.sin(5 * turn)) * math.sin(turn))
        for turn in turns
    )


def main() -> None:
    """Measure and print."""
    outline = wavy_outline()
    find_smallest_square(outline)  # imports
    taken, swept = [], []
    for _ in range(RUNS):
        began = time.perf_counter()
        found = find_smallest_square(outline)
        taken.append(1000 * (time.perf_counter() - began))
    began = time.perf_counter()
    shape = shapely.Polygon(outline)
    sides = []
    for angle in np.arange(0.0, 90.0, 0.1):
        left, top, right, bottom = affinity.rotate(shape, angle).bounds
        sides.append(max(right - left, bottom - top))
    swept.append(1000 * (time.perf_counter() - began))
    ratio = min(sides) / found.width
    show(
        "Smallest bounding square of 2,000 corners",
        [
            ("exact", spread(taken), "wanted under 10 ms", verdict(sorted(taken)[RUNS // 2] < 10)),
            ("sweep by 0.1 degree in shapely", spread(swept), "the yardstick", ""),
            ("sweep's square over ours", f"{ratio:.7f}", "at least 1: same or better", verdict(ratio >= 1 - 1e-9)),
        ],
    )


if __name__ == "__main__":
    main()
