"""The tool's path over 300 closed outlines: its length beside the bound of a closed tour through fixed starts, and how
long it takes beside a plain 2-opt in NumPy in the same run. Medians of five.
"""

from __future__ import annotations

import json
import statistics
import time
from pathlib import Path

import numpy as np

from bench.table import show, verdict
from dechirer.core.run.toolpath import Stroke, order_strokes, travel_length

CASE = Path(__file__).parent / "cases" / "toolpath-300.json"
RUNS, SHARE, TIMES = 5, 0.83, 3.0


def two_opt(points: np.ndarray) -> float:
    """The yardstick: nearest neighbour and 2-opt over fixed starts, a row of moves at a time; the tour's length."""
    left, order = set(range(1, len(points))), [0]
    while left:
        here = points[order[-1]]
        order.append(min(left, key=lambda each: float(np.hypot(*(points[each] - here)))))
        left.remove(order[-1])
    line, better = points[order], True
    while better:
        better = False
        for first in range(1, len(line) - 2):
            before, rest = line[first - 1], line[first:]
            after = np.vstack([rest[1:], line[:1]])
            saved = (
                np.hypot(*(line[first] - before))
                + np.hypot(*(after - rest).T)
                - np.hypot(*(rest - before).T)
                - np.hypot(*(after - line[first]).T)
            )
            last = int(saved.argmax())
            if saved[last] > 1e-7:
                line[first : first + last + 1] = line[first : first + last + 1][::-1].copy()
                better = True
    return float(np.hypot(*(line - np.roll(line, -1, axis=0)).T).sum())


def main() -> None:
    """Measure and print."""
    data = json.loads(CASE.read_text())
    outlines = [tuple(map(tuple, ring)) for ring in data["outlines"]]
    home, bound = tuple(data["home"]), data["closed_tour_bound_mm"]
    strokes = [Stroke(str(number), str(number), (ring,), True) for number, ring in enumerate(outlines)]
    starts = np.array([home, *(ring[0] for ring in outlines)])
    lengths, seconds, theirs, tours = [], [], [], []
    for _ in range(RUNS):
        began = time.perf_counter()
        drawn = order_strokes(strokes, home)
        seconds.append(time.perf_counter() - began)
        lengths.append(travel_length([ways for _, ways in drawn], home))
        began = time.perf_counter()
        tours.append(two_opt(starts.copy()))
        theirs.append(time.perf_counter() - began)
    share, took, other = statistics.median(lengths) / bound, statistics.median(seconds), statistics.median(theirs)
    show(
        f"tool path over {len(outlines)} outlines",
        [
            ("travel over the bound", f"{share:.3f}", f"wanted {SHARE}", verdict(share <= SHARE)),
            ("time", f"{took:.2f} s", f"2-opt {other:.2f} s; {TIMES:g} times", verdict(took <= TIMES * other)),
            ("2-opt over the bound", f"{statistics.median(tours) / bound:.3f}", "", ""),
        ],
    )


if __name__ == "__main__":
    main()
