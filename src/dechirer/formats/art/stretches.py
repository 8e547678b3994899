"""Stretches of lines and curves that meet end to end, joined into outlines."""

from __future__ import annotations

import math

from dechirer.core.shape.affine import Point
from dechirer.formats.art.collect import Budget, Segments


class Stretch:
    """A start and the steps from it: one point for a straight line, three for a cubic curve. Lengths in mm."""

    __slots__ = ("closed", "start", "steps")

    def __init__(self, start: Point, steps: list[tuple[Point, ...]] | None = None) -> None:
        self.start = start
        self.steps: list[tuple[Point, ...]] = steps or []
        self.closed = False

    @property
    def end(self) -> Point:
        """Where it ends."""
        return self.steps[-1][-1] if self.steps else self.start

    def add(self, *points: Point) -> None:
        """One step more."""
        self.steps.append(points)

    def turned(self) -> Stretch:
        """The same, run the other way."""
        points = [self.start, *(step[-1] for step in self.steps)]
        steps = [
            (*reversed(step[:-1]), before)
            for step, before in zip(reversed(self.steps), reversed(points[:-1]), strict=True)
        ]
        return Stretch(self.end, steps)

    def write(self) -> Segments:
        """As canonical text. Raises ArtError for a coordinate that is no place on earth."""
        out = Segments()
        out.add("M", self.start)
        for step in self.steps:
            out.add("L" if len(step) == 1 else "C", *step)
        if self.closed:
            out.close()
        return out


def join_ends(stretches: list[Stretch], gap: float, budget: Budget) -> list[Stretch]:
    """Open stretches whose ends meet within `gap` mm as one, closed where the last meets the first; the others as they
    are. Where three or more meet it is not told which belong together, and none is joined."""
    ends: dict[tuple[int, int], list[tuple[int, bool]]] = {}
    for number, each in enumerate(stretches):
        if not each.closed and math.dist(each.start, each.end) > gap:
            for point, is_end in ((each.start, False), (each.end, True)):
                ends.setdefault(_cell(point, gap), []).append((number, is_end))

    def met(number: int, is_end: bool) -> tuple[int, bool] | None:
        point = stretches[number].end if is_end else stretches[number].start
        x, y = _cell(point, gap)
        near = [
            (other, side)
            for cell in ((x + dx, y + dy) for dx in (-1, 0, 1) for dy in (-1, 0, 1))
            for other, side in ends.get(cell, ())
            if math.dist(point, stretches[other].end if side else stretches[other].start) <= gap
        ]
        others = [each for each in near if each != (number, is_end)]
        return others[0] if len(others) == 1 else None

    found: list[Stretch] = []
    used: set[int] = set()
    for number, each in enumerate(stretches):
        budget.spend()
        if number in used:
            continue
        used.add(number)
        if each.closed or math.dist(each.start, each.end) <= gap:
            found.append(each)
            continue
        chain = Stretch(each.start, list(each.steps))
        first, last = (number, False), (number, True)
        for forward in (True, False):
            at = last if forward else first
            while (step := met(*at)) is not None and step[0] not in used:
                used.add(step[0])
                other = stretches[step[0]]
                other = other.turned() if step[1] else other
                if forward:
                    chain.steps += other.steps
                    at = last = (step[0], not step[1])
                else:
                    other = other.turned()
                    chain = Stretch(other.start, other.steps + chain.steps)
                    at = first = (step[0], not step[1])
        closes = met(*last)
        chain.closed = len(chain.steps) > 1 and closes == first and math.dist(chain.start, chain.end) <= gap
        found.append(chain)
    return found


def _cell(point: Point, size: float) -> tuple[int, int]:
    return math.floor(point[0] / size), math.floor(point[1] / size)
