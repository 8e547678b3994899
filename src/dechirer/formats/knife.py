"""What a blade that trails its holder needs: the holder's path so that the blade's edge runs along the line.

The edge lies `offset` behind the holder's middle. On a straight line the holder goes ahead by as much; at a corner it
goes on until the edge is there, and swings round it on an arc of that radius before it goes on. A closed line is run on
past its start by the overcut, so that it is cut through there.
"""

from __future__ import annotations

import itertools
import math

from dechirer.core.shape.affine import Point, Points

SWIVEL_DEG = 8.0
"""The blade follows a gentler turn by itself."""
ARC_DEG = 12.0


def with_overcut(path: Points, closed: bool, overcut: float) -> Points:
    """A closed path, that ends at its start, run on past it by so much (mm); an open one as it is."""
    if not closed or overcut <= 0 or len(path) < 3:
        return path
    found, left = list(path), overcut
    for there in path[1:]:
        here = found[-1]
        long = math.dist(here, there)
        if long >= left:
            share = left / long
            found.append((here[0] + (there[0] - here[0]) * share, here[1] + (there[1] - here[1]) * share))
            break
        found.append(there)
        left -= long
    return tuple(found)


def for_holder(path: Points, offset: float) -> Points:
    """The way of the holder's middle for a blade whose edge is to run along a path, both in mm."""
    ring = [path[0], *(b for a, b in itertools.pairwise(path) if math.dist(a, b) > 1e-9)]
    if offset <= 0 or len(ring) < 2:
        return tuple(ring)
    found: list[Point] = []
    headings = [math.atan2(b[1] - a[1], b[0] - a[0]) for a, b in itertools.pairwise(ring)]
    for place, heading in enumerate(headings):
        start, end = ring[place], ring[place + 1]
        if place:
            found += _swivel(start, headings[place - 1], heading, offset)
        else:
            found.append(_ahead(start, heading, offset))
        found.append(_ahead(end, heading, offset))
    return tuple(found)


def _ahead(edge: Point, heading: float, offset: float) -> Point:
    return edge[0] + offset * math.cos(heading), edge[1] + offset * math.sin(heading)


def _swivel(corner: Point, before: float, after: float, offset: float) -> list[Point]:
    """The arc that turns the blade at a corner from one heading to the next."""
    turn = (after - before + math.pi) % math.tau - math.pi
    if abs(turn) < math.radians(SWIVEL_DEG):
        return [_ahead(corner, after, offset)]
    steps = max(2, math.ceil(abs(turn) / math.radians(ARC_DEG)))
    return [_ahead(corner, before + turn * step / steps, offset) for step in range(1, steps + 1)]
