"""Fold lines: how a fold from edge to edge is marked as a score, a perforation, ticks, or not at all."""

from __future__ import annotations

import math

from dechirer.core.card.fold import Fold
from dechirer.core.card.piece import Line
from dechirer.core.shape.affine import Point, Points

TICK_MM = 2.0
"""Length of the small cut that marks an end of a fold: long enough to see, short enough to hide."""


def make_fold_lines(fold: Fold, start: Point, end: Point, *, id: str, sense: str) -> tuple[Line, ...]:
    """The lines that mark one fold; empty when it is left unmarked or there is no room for a single dash.

    Args:
        fold: how it is marked.
        start, end: the fold on the sheet, from edge to edge.
        id: id of the line.
        sense: `mountain` or `valley`, outside up.
    """
    length = math.dist(start, end)
    ends = fold.ends.mm
    if fold.kind == "unmarked" or length - 2 * ends <= 0:
        return ()
    if fold.kind == "score":
        path = (_along(start, end, ends), _along(start, end, length - ends))
        return (Line(id, "score", "score", (path,), role="fold", sense=sense),)
    if fold.kind == "ticks":
        tick = min(TICK_MM, (length - 2 * ends) / 2)
        paths = (
            (_along(start, end, ends), _along(start, end, ends + tick)),
            (_along(start, end, length - ends), _along(start, end, length - ends - tick)),
        )
        return (Line(id, "fold ticks", "cut", paths, role="tick", sense=sense),)
    dashes = tuple(
        (_along(start, end, at), _along(start, end, at + fold.dash.mm))
        for at in perforation_starts(length, ends, fold.dash.mm, fold.land.mm)
    )
    return (Line(id, "perforation", "perforate", dashes, role="fold", sense=sense),) if dashes else ()


def perforation_starts(length: float, ends: float, dash: float, land: float) -> tuple[float, ...]:
    """Where each dash starts along a fold: a centred pattern with a land at both ends (common practice).

    As many dashes as leave at least one whole land at each end; what is over goes to the end lands in equal
    parts.
    """
    room = length - 2 * ends
    count = math.floor((room - land + 1e-9) / (dash + land))
    if count < 1:
        return ()
    first = ends + (room - count * dash - (count - 1) * land) / 2
    return tuple(first + index * (dash + land) for index in range(count))


def _along(start: Point, end: Point, at: float) -> Point:
    share = at / math.dist(start, end)
    return start[0] + (end[0] - start[0]) * share, start[1] + (end[1] - start[1]) * share


def line_ends(paths: tuple[Points, ...]) -> tuple[Point, Point]:
    """First and last point of a line made of paths in a row."""
    return paths[0][0], paths[-1][-1]
