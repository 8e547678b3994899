"""Shapes on a grid of 1 mm: which cells an outline touches, and where two shapes may not lie to each other.

A shape lies in the middle of its box, which is rounded up to whole cells, so that turning by a quarter turns cells onto
cells. Where two may not lie is worked out once for each pair and turn: one shape grown by the gap and the other bare,
all offsets at which they share a cell (their correlation, by Fourier transform); for two rectangles exactly.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import shapely

from dechirer.core.shape.affine import Points
from dechirer.core.shape.fourier import fast_length

FINE_MM = 0.02
"""Outlines are sampled so finely; what could slip between is added to the gap."""
SAME_MM = 1e-6
ROUND_SEGS = 12


class Shape:
    """A distinct outline, with its holes."""

    def __init__(self, rings: tuple[Points, ...], gap: float, turns: tuple[int, ...]) -> None:
        outer, *holes = rings
        polygon = shapely.Polygon(outer, holes)
        polygon = polygon if polygon.is_valid else shapely.make_valid(polygon)
        left, top, right, bottom = polygon.bounds
        self.width, self.height = right - left, bottom - top
        self.across, self.down = math.ceil(self.width - SAME_MM), math.ceil(self.height - SAME_MM)
        self.corner = ((self.across - self.width) / 2 - left, (self.down - self.height) / 2 - top)
        self.polygon = shapely.transform(polygon, lambda points: points + self.corner)
        self.area = float(polygon.area)
        self.is_box = abs(self.area - self.width * self.height) < SAME_MM * max(1.0, self.area)
        self.gap, self.pad = gap, math.ceil(gap + 2 * FINE_MM) + 1
        self.turns = self._distinct(turns)
        self._bare: Any = None
        self._grown: Any = None

    def _distinct(self, turns: tuple[int, ...]) -> tuple[int, ...]:
        """The turns that lie differently."""
        if not self.is_box:
            return turns
        square = abs(self.width - self.height) < SAME_MM
        return tuple(turn for turn in turns if turn == 0 or (turn == 1 and not square)) or turns[:1]

    def cells(self, turn: int) -> tuple[int, int]:
        """Its box in cells, across and down, turned by so many quarters."""
        return (self.across, self.down) if turn % 2 == 0 else (self.down, self.across)

    def size(self, turn: int) -> tuple[float, float]:
        """Its own size in mm, turned."""
        return (self.width, self.height) if turn % 2 == 0 else (self.height, self.width)

    @property
    def bare(self) -> Any:
        """The cells it touches, (down, across)."""
        if self._bare is None:
            self._bare = _touched(self.polygon, 0, self.across, self.down)
        return self._bare

    @property
    def grown(self) -> Any:
        """The cells it touches grown by the gap, with `pad` cells more on every side."""
        if self._grown is None:
            grown = shapely.buffer(self.polygon, self.gap + 2 * FINE_MM, quad_segs=ROUND_SEGS)
            self._grown = _touched(grown, self.pad, self.across, self.down)
        return self._grown


def _touched(polygon: Any, pad: int, across: int, down: int) -> Any:
    """The cells a polygon touches, of a grid from -pad to its box and pad."""
    found = np.zeros((down + 2 * pad, across + 2 * pad), dtype=bool)
    y, x = np.indices(found.shape)
    shapely.prepare(polygon)
    found |= shapely.contains_xy(polygon, x - pad + 0.5, y - pad + 0.5)
    points = shapely.get_coordinates(shapely.segmentize(shapely.boundary(polygon), FINE_MM))
    # An edge that runs along the border of two cells lies in the one within.
    inward = SAME_MM * np.sign(points - (across / 2, down / 2))
    column, row = np.floor(points + pad - inward).astype(int).T
    row, column = np.clip(row, 0, found.shape[0] - 1), np.clip(column, 0, found.shape[1] - 1)
    found[row, column] = True
    return found


Offsets = tuple[Any, float, float]
"""Forbidden offsets as an array, and the offset of the middles that its middle stands for, across and down."""


def forbid(one: Shape, other: Shape, turn: int) -> Offsets:
    """Where the middle of another shape, turned by so many quarters, may not lie from the middle of one."""
    grown, bare = one.grown, np.rot90(other.bare, -turn)
    high, wide = grown.shape[0] + bare.shape[0] - 1, grown.shape[1] + bare.shape[1] - 1
    shape = (fast_length(high), fast_length(wide))
    spectrum = np.fft.rfft2(grown.astype(np.float32), shape) * np.fft.rfft2(bare[::-1, ::-1].astype(np.float32), shape)
    found = np.fft.irfft2(spectrum, shape)[:high, :wide] > 0.5
    # Index 0 stands for the offset of corners -(size of the other - 1) - pad.
    across, down = other.cells(turn)
    x = -(bare.shape[1] - 1) - one.pad + (wide - 1) / 2 + (across - one.across) / 2
    y = -(bare.shape[0] - 1) - one.pad + (high - 1) / 2 + (down - one.down) / 2
    return found, x, y


def turned(offsets: Offsets, turn: int) -> Offsets:
    """Forbidden offsets of both shapes turned together."""
    found, x, y = offsets
    for _ in range(turn % 4):
        x, y = -y, x
    return np.rot90(found, -turn), x, y


def reversed_of(offsets: Offsets, turn: int) -> Offsets:
    """Of forbidden offsets of another, turned, from one: those of the one from the other."""
    found, x, y = offsets
    return turned((found[::-1, ::-1], -x, -y), -turn % 4)


def forbid_boxes(one: Shape, turn: int, other: Shape, turn_of_other: int) -> tuple[int, int, int, int]:
    """Of two rectangles: the first and the last forbidden offset of their boxes' corners, across and then down."""
    found = []
    for side in (0, 1):
        reach = (one.size(turn)[side] + other.size(turn_of_other)[side]) / 2 + max(one.gap, other.gap)
        middle = (one.cells(turn)[side] - other.cells(turn_of_other)[side]) / 2
        found += [math.floor(middle - reach + SAME_MM) + 1, math.ceil(middle + reach - SAME_MM) - 1]
    return found[0], found[1], found[2], found[3]
