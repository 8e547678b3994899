"""How lines look: each operation by its form first, its colour second, after the published folding notation
(valley dashes, mountain dash-dot). One table serves the screen and the printed run sheet."""

from __future__ import annotations

import math

from msgspec import Struct


class LineForm(Struct, frozen=True):
    """A line's width in px, its dash pattern in px (empty: solid), its role, and ticks across it.

    `tick` is the length in px of short strokes across each path's middle (0: none), `dots` how far apart open dots
    stand along it (0: none).
    """

    name: str
    title: str
    width: float
    dashes: tuple[float, ...] = ()
    role: str = "ink"
    tick: float = 0.0
    dots: float = 0.0
    double: bool = False


FORMS: dict[str, LineForm] = {
    form.name: form
    for form in (
        LineForm("cut", "cut", 1.5),
        LineForm("kiss", "kiss cut, the top layer only", 1.3, dots=16.0),
        LineForm("mountain", "score, mountain fold", 1.5, (11.0, 3.5, 1.5, 3.5), "fold"),
        LineForm("valley", "score, valley fold", 1.5, (7.0, 4.0), "fold"),
        LineForm("perforate", "perforation", 1.2, (), "fold", tick=5.0),
        LineForm("tick", "fold tick", 1.8, (), "fold"),
        LineForm("guide", "guide, never sent", 1.0, (1.0, 4.0), "soft"),
        LineForm("edge", "edge", 1.0, (), "ink"),
        LineForm("hair", "edge of sheet or mat", 1.0, (), "rule"),
        LineForm("reach", "what the machine reaches", 1.0, (2.0, 3.0), "soft"),
        LineForm("pen", "drawn with a pen", 1.0),
        LineForm("foil", "foiled", 3.0, double=True),
        LineForm("travel", "travel, lifted", 1.0, (2.0, 3.0), "look"),
        LineForm("done", "done", 2.4, (), "accent"),
    )
}


DOT_PX = 2.2
"""Radius of the open dots on a line."""


def dots_along(points: list[tuple[float, float]], spacing: float, *, closed: bool) -> list[tuple[float, float]]:
    """Places at equal distances along a path in px, as near to `spacing` apart as divides it evenly."""
    ends = [*points[1:], points[0]] if closed else points[1:]
    legs = [(a, b, math.dist(a, b)) for a, b in zip(points, ends, strict=False)]
    total = sum(length for _, _, length in legs)
    count = max(1, round(total / spacing))
    found: list[tuple[float, float]] = []
    wanted, gone = total / count / 2, 0.0
    for (ax, ay), (bx, by), length in legs:
        while length > 0 and wanted <= gone + length and len(found) < count:
            share = (wanted - gone) / length
            found.append((ax + (bx - ax) * share, ay + (by - ay) * share))
            wanted += total / count
        gone += length
    return found


def form_of_line(operation: str, role: str, sense: str) -> str:
    """The form of a piece's line."""
    if role == "tick":
        return "tick"
    if operation == "score":
        return sense if sense in ("mountain", "valley") else "valley"
    return operation if operation in FORMS else "cut"
