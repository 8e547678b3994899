"""Outlines: offsets and joins against bare shapely calls, tracing, the narrowest web, a recipe while it is dragged."""

from __future__ import annotations

import math
import time
from collections.abc import Callable
from typing import Any

import numpy as np
import shapely

from bench.table import show, spread, verdict
from dechirer.core.dress.decisions import Words
from dechirer.core.dress.drawn import Drawn, Part
from dechirer.core.dress.recipe import cook
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.dress.words.lettering import set_words
from dechirer.core.length import parse_length
from dechirer.core.shape.algebra import quarter_steps
from dechirer.core.shape.webs import find_narrow, grow
from dechirer.formats.art.picture import trace

RUNS = 7
COARSE_MM = 0.1


def wavy(corners: int, size: float = 100.0) -> Any:
    """An outline with many waves and some narrow necks."""
    turns = np.linspace(0, math.tau, corners, endpoint=False)
    radii = size * (0.36 + 0.08 * np.sin(9 * turns) + 0.03 * np.sin(61 * turns))
    return shapely.Polygon(np.column_stack([radii * np.cos(turns), radii * np.sin(turns)]))


def timed(work: Callable[[], Any], runs: int = RUNS) -> list[float]:
    """Milliseconds of some runs, the first left out."""
    work()
    found = []
    for _ in range(runs):
        began = time.perf_counter()
        work()
        found.append(1000 * (time.perf_counter() - began))
    return found


def middle(values: list[float]) -> float:
    """The median."""
    return sorted(values)[len(values) // 2]


def picture() -> Any:
    """A mask of 2400 x 3000 with thirty items, some overlapping, some with holes."""
    random = np.random.default_rng(1)
    rows, columns = np.mgrid[0:3000, 0:2400]
    mask = np.zeros((3000, 2400), np.uint8)
    for _ in range(30):
        x, y, radius = random.uniform(100, 2300), random.uniform(100, 2900), random.uniform(40, 160)
        away = (columns - x) ** 2 + (rows - y) ** 2
        mask[(away < radius * radius) & (away > (radius / 3) ** 2)] = 255
    return mask


def step(kind: str, **more: Any) -> Step:
    """A step of a recipe."""
    fields = {name: parse_length(value) if name in ("by", "to") else value for name, value in more.items()}
    return STEPS[kind].decisions(f"{kind}-{len(more)}", **fields)


RECIPE = (
    step("tidy", by="0.05 mm"),
    step("border", by="2 mm"),
    step("round", by="0.5 mm"),
    step("fill"),
    step("border", by="1 mm", edges="all", corners="round"),
    step("mirror", side="left"),
    step("outermost"),
    step("fit", by="90 mm"),
)


def measure_offsets() -> None:
    """Offset and join against the same calls of shapely alone."""
    outline = wavy(5000)
    rows = []
    for by in (1.0, 10.0):
        ours = timed(lambda by=by: grow(outline, by))
        bare = timed(lambda by=by: shapely.buffer(outline, by, quad_segs=quarter_steps(by)))
        ratio = middle(ours) / middle(bare)
        rows += [
            (f"offset of 5,000 corners by {by:g} mm", spread(ours), "wanted within 1.3 x", verdict(ratio < 1.3)),
            ("bare shapely", spread(bare), f"the yardstick: {ratio:.2f} x", ""),
        ]
    text = "the quick brown fox jumps over the lazy dog " * 5
    glyphs = set_words(Words(text.strip(), "pacifico", parse_length("18 mm"), joined=True), text.strip(), ()).drawn(
        "cut", "#000000"
    )
    ours = timed(lambda: cook(glyphs, (step("join"),), {}))
    bare = timed(lambda: shapely.union_all(list(glyphs.areas)))
    ratio = middle(ours) / middle(bare)
    rows += [
        (f"join of {len(glyphs.areas)} script letters", spread(ours), "wanted within 1.3 x", verdict(ratio < 1.3)),
        ("bare shapely", spread(bare), f"the yardstick: {ratio:.2f} x", ""),
    ]
    show("Offsets and joins", rows)


def main() -> None:
    """Measure and print."""
    measure_offsets()
    mask = picture()
    traced = timed(lambda: trace(mask), 5)
    outline = wavy(20_000)
    narrow = timed(lambda: find_narrow(outline, 1.0), 5)
    exact = Drawn((Part("cut", "#000000", (outline,)),))
    coarse = Drawn((Part("cut", "#000000", (shapely.simplify(outline, COARSE_MM),)),))
    at_rest = timed(lambda: cook(exact, RECIPE, {}), 5)
    dragged = timed(lambda: cook(coarse, RECIPE, {}), 5)
    show(
        "Outlines of 20,000 corners",
        [
            ("a picture of 2400 x 3000 traced", spread(traced), "wanted under 400 ms", verdict(middle(traced) < 400)),
            ("narrowest web", spread(narrow), "wanted under 500 ms", verdict(middle(narrow) < 500)),
            ("a recipe of 8 steps, dragged", spread(dragged), "wanted under 150 ms", verdict(middle(dragged) < 150)),
            ("the same, exact at rest", spread(at_rest), "", ""),
        ],
    )


if __name__ == "__main__":
    main()
