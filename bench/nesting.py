"""Nesting on two sets of pieces: how near to the bound, how soon. Measure: whole sheets and the used part of the last.

The yardsticks: boxes of the same pieces packed at once by our own packing, and what a prototype reached.
"""

from __future__ import annotations

import json
import resource
import sys
import time
from contextlib import suppress
from pathlib import Path

from bench.table import show, verdict
from dechirer.core.lay.nesting.search import Nester
from dechirer.core.lay.nesting.worker import SEED
from dechirer.core.lay.packing import Demand, fill_sheet
from dechirer.core.shape.outline import Box
from dechirer.core.stopping import Stopped, may_be_stopped

CASES = Path(__file__).parent / "cases"
SECONDS = 20.0
WANTED = {"card": ((2.0, 5.25), (20.0, 5.20)), "irregular": ((4.0, 5.80), (20.0, 5.60))}


def load(name: str) -> tuple[list, list[int], tuple[float, float], float]:
    """Kinds, counts, the room and the gap of a case."""
    data = json.loads((CASES / f"{name}.json").read_text())
    kinds, counts, seen = [], [], {}
    for piece in data["pieces"]:
        key = json.dumps(piece["rings"])
        if key not in seen:
            seen[key] = len(kinds)
            rings = tuple(tuple((x, y) for x, y in ring) for ring in piece["rings"])
            kinds.append((rings, (0, 1, 2, 3)))
            counts.append(0)
        counts[seen[key]] += 1
    wide, high = data["usable_mm"]
    return kinds, counts, (wide, high), data["gap_mm"]


def boxes(kinds: list, counts: list[int], room: tuple[float, float], gap: float) -> float:
    """The same pieces as boxes, by our own packing of rectangles."""
    left = [
        Demand(
            str(number),
            max(x for x, _ in rings[0]) - min(x for x, _ in rings[0]) + gap,
            max(y for _, y in rings[0]) - min(y for _, y in rings[0]) + gap,
            count,
        )
        for number, ((rings, _), count) in enumerate(zip(kinds, counts, strict=True))
    ]
    sheets, last = 0, 0.0
    while any(each.count for each in left):
        spots = fill_sheet(left, Box(0, 0, room[0] + gap, room[1] + gap), (), may_turn=True)
        sheets += 1
        last = max(spot.box.bottom for spot in spots) - gap
        gone = [spot.piece for spot in spots]
        left = [Demand(each.piece, each.width, each.height, each.count - gone.count(each.piece)) for each in left]
    return sheets - 1 + last / room[1]


def look(nester: Nester, seconds: float) -> list[tuple[float, float, int]]:
    """When each better layout came, in seconds, what it needs, and its round."""
    began, story = time.perf_counter(), []
    with suppress(Stopped), may_be_stopped(lambda: time.perf_counter() - began > seconds):
        for found in nester.run(10**9):
            story.append((time.perf_counter() - began, found.needs, found.round))
    return story


def main() -> None:
    """Measure and print; an argument says for how many seconds each case is looked at."""
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else SECONDS
    for name, wanted in WANTED.items():
        kinds, counts, room, gap = load(name)
        began = time.perf_counter()
        by_boxes = boxes(kinds, counts, room, gap)
        rows = [("boxes at once", f"{by_boxes:.2f} sheets", f"{1000 * (time.perf_counter() - began):.0f} ms", "")]
        story = look(Nester(kinds, counts, *room, gap, seed=SEED), seconds)
        for at, needs in wanted:
            best = min((each for taken, each, _ in story if taken <= at), default=99.0)
            rows.append((f"after {at:g} s", f"{best:.3f} sheets", f"wanted {needs}", verdict(best <= needs)))
        at, needs, round = story[-1]
        rows.append(("best", f"{needs:.3f} sheets", f"after {at:.1f} s, round {round}", ""))
        rows.append(
            (
                "memory of the process",
                f"{resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB",
                "wanted 400",
                "",
            )
        )
        show(f"nesting: {name}, {sum(counts)} pieces", rows)


if __name__ == "__main__":
    main()
