"""Fifty random sets of rectangles: our sheets against the best of sixty ways of a packer not ours, and the bound.

The yardstick is rectpack, in all its packing algorithms, bin choices and orders; the gap is counted into every
rectangle and, once, into the sheet.
"""

from __future__ import annotations

import itertools
import random
import time

import rectpack

from bench.table import show, verdict
from dechirer.core.lay.bound import least_by_scales
from dechirer.core.lay.nesting.search import Nester
from dechirer.core.lay.nesting.worker import SEED

SHEET, GAP, SETS, ROUNDS = 293.0, 3.0, 50, 400


def make_set(seed: int) -> list[tuple[float, float, int]]:
    """Rectangles as cards have them, several of each: width, height, count."""
    draw = random.Random(seed)
    kinds = draw.randint(4, 12)
    return [(float(draw.randint(30, 180)), float(draw.randint(30, 250)), draw.randint(1, 6)) for _ in range(kinds)]


def best_of_rectpack(pieces: list[tuple[float, float, int]]) -> int:
    """The fewest sheets of sixty ways."""
    names = [each for each in dir(rectpack) if each.startswith(("MaxRects", "Guillotine", "Skyline"))]
    algorithms = [getattr(rectpack, each) for each in names]
    orders = [rectpack.SORT_AREA, rectpack.SORT_LSIDE, rectpack.SORT_SSIDE, rectpack.SORT_PERI]
    ways = list(itertools.product(algorithms, orders))[:60]
    side, best = round((SHEET + GAP) * 10), 10_000
    for algorithm, order in ways:
        packer = rectpack.newPacker(pack_algo=algorithm, sort_algo=order, rotation=True)
        packer.add_bin(side, side, count=400)
        for wide, high, count in pieces:
            for _ in range(count):
                packer.add_rect(round((wide + GAP) * 10), round((high + GAP) * 10))
        packer.pack()
        if len(packer.rect_list()) == sum(count for _, _, count in pieces):
            best = min(best, len(packer))
    return best


def ours(pieces: list[tuple[float, float, int]], least: int) -> tuple[int, float]:
    """Our sheets, and the seconds they took; the search ends where the bound is reached."""
    began = time.perf_counter()
    kinds = [(((((0.0, 0.0), (w, 0.0), (w, h), (0.0, h))),), (0, 1, 2, 3)) for w, h, _ in pieces]
    best = 10_000
    for found in Nester(kinds, [count for _, _, count in pieces], SHEET, SHEET, GAP, SEED).run(ROUNDS):
        best = min(best, len(found.sheets))
        if best <= least:
            break
    return best, time.perf_counter() - began


def main() -> None:
    """Compare set by set."""
    more, near, seconds = [], 0, []
    for seed in range(SETS):
        pieces = make_set(seed)
        grown = [(w + GAP, h + GAP, count) for w, h, count in pieces]
        least = least_by_scales(grown, SHEET + GAP, SHEET + GAP, may_turn=True)
        mine, took = ours(pieces, least)
        other = best_of_rectpack(pieces)
        seconds.append(took)
        near += mine <= least + 1
        if mine > other:
            more.append(f"set {seed}: {mine}, rectpack {other}, bound {least}")
    rows = [
        ("more sheets than rectpack", f"{len(more)} sets", "rectpack's best of 60: 0 wanted", verdict(not more)),
        ("at most one above the bound", f"{near} sets", f"wanted {0.9 * SETS:.0f}", verdict(near >= 0.9 * SETS)),
        ("a set takes, median and worst", f"{sorted(seconds)[SETS // 2]:.1f} s, {max(seconds):.1f} s", "", ""),
    ]
    show(f"rectangles: {SETS} random sets on squares of {SHEET:g} mm", rows)
    for line in more:
        print(line)


if __name__ == "__main__":
    main()
