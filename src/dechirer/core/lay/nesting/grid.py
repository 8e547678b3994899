"""All places that are free on a sheet, as the bits of one whole number: a bit for each cell, row after row.

Where a shape may not lie because of one that lies there is such a number as well, shifted to where that lies; all of
them or'ed together, and taken from what lies inside the sheet, leaves the free places. The lowest bit is the highest
place and of those the one furthest left. A row has room enough that what is left over at its end never reaches a place
of the next.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from dechirer.core.lay.nesting.shapes import Offsets, Shape, forbid, forbid_boxes, reversed_of, turned

Lies = tuple[int, int, int, int]
"""A shape that lies on a sheet: its number, its quarter turns, its column and row."""


class Maps:
    """Where shapes may not lie to each other, for sheets of one size; made when first wanted, and kept."""

    def __init__(self, shapes: list[Shape], columns: int, rows: int) -> None:
        self.shapes, self.columns, self.rows = shapes, columns, rows
        self.stride = columns + max(shape.pad for shape in shapes) + 2
        self._bits: dict[Lies, tuple[int, int]] = {}
        self._pairs: dict[tuple[int, int, int], Offsets] = {}
        self.inside = {
            (number, turn): inside
            for number, shape in enumerate(shapes)
            for turn in shape.turns
            if (inside := self._inside(shape, turn))
        }

    def _inside(self, shape: Shape, turn: int) -> int:
        """The places where a shape lies inside the sheet; 0 where it does not go."""
        across, down = shape.cells(turn)
        wide, high = self.columns - across + 1, self.rows - down + 1
        if min(wide, high) <= 0:
            return 0
        return self._block((1 << wide) - 1, high)

    def _block(self, row: int, high: int) -> int:
        """A row of bits, so many rows high."""
        block, done = row, 1
        while done < high:
            more = min(done, high - done)
            block |= (block & ((1 << (more * self.stride)) - 1 if more < done else -1)) << (done * self.stride)
            done += more
        return block

    def between(self, one: int, turn: int, other: int, turn_of_other: int) -> tuple[int, int]:
        """Where another shape may not lie from one: the bits, and the offset of the lowest."""
        key = (one, turn, other, turn_of_other)
        found = self._bits.get(key)
        if found is None:
            found = self._bits[key] = self._make(*key)
        return found

    def _make(self, one: int, turn: int, other: int, turn_of_other: int) -> tuple[int, int]:
        a, b = self.shapes[one], self.shapes[other]
        if a.is_box and b.is_box:
            left, right, top, bottom = forbid_boxes(a, turn, b, turn_of_other)
            return self._block((1 << (right - left + 1)) - 1, bottom - top + 1), top * self.stride + left
        found, x, y = turned(self._pair(one, other, (turn_of_other - turn) % 4), turn)
        across, down = b.cells(turn_of_other)
        a_across, a_down = a.cells(turn)
        left = round(x - (found.shape[1] - 1) / 2 - (across - a_across) / 2)
        top = round(y - (found.shape[0] - 1) / 2 - (down - a_down) / 2)
        return self._pack(found), top * self.stride + left

    def _pair(self, one: int, other: int, turn: int) -> Offsets:
        key = (one, other, turn)
        found = self._pairs.get(key)
        if found is None:
            back = self._pairs.get((other, one, -turn % 4))
            a, b = self.shapes[one], self.shapes[other]
            found = reversed_of(back, -turn % 4) if back is not None else forbid(a, b, turn)
            self._pairs[key] = found
        return found

    def _pack(self, found: Any) -> int:
        """An array as a number. Rows wider than the stride run on into the next, where they mean no place."""
        high, wide = found.shape
        if wide <= self.stride:
            rows = np.zeros((high, self.stride), dtype=bool)
            rows[:, :wide] = found
            return int.from_bytes(np.packbits(rows.ravel(), bitorder="little").tobytes(), "little")
        return self._pack(found[:, : self.stride]) | (self._pack(found[:, self.stride :]) << self.stride)


class Sheet:
    """What lies on one sheet, and what of it is taken, for each shape and turn that was asked for."""

    __slots__ = ("_taken", "area", "lies", "maps")

    def __init__(self, maps: Maps, lies: list[Lies] | None = None) -> None:
        self.maps = maps
        self.lies: list[Lies] = lies or []
        self.area = sum(maps.shapes[each[0]].area for each in self.lies)
        self._taken: dict[tuple[int, int], tuple[int, int]] = {}

    def copy(self) -> Sheet:
        """The same, to be filled on."""
        found = Sheet(self.maps)
        found.lies, found.area, found._taken = list(self.lies), self.area, dict(self._taken)
        return found

    def put(self, number: int) -> bool:
        """Put a shape where its lower edge comes highest, and of those furthest left; whether it goes."""
        best: tuple[float, float, int, int, int] | None = None
        shape = self.maps.shapes[number]
        for turn in shape.turns:
            inside = self.maps.inside.get((number, turn))
            if inside is None:
                continue
            free = inside & ~self._taken_for(number, turn)
            if not free:
                continue
            row, column = divmod((free & -free).bit_length() - 1, self.maps.stride)
            across, down = shape.cells(turn)
            place = (row + down, column + across, turn, column, row)
            if best is None or place < best:
                best = place
        if best is None:
            return False
        self.lies.append((number, best[2], best[3], best[4]))
        self.area += shape.area
        return True

    def _taken_for(self, number: int, turn: int) -> int:
        taken, seen = self._taken.get((number, turn), (0, 0))
        if seen < len(self.lies):
            stride = self.maps.stride
            for other, its_turn, column, row in self.lies[seen:]:
                bits, offset = self.maps.between(other, its_turn, number, turn)
                shift = row * stride + column + offset
                taken |= bits << shift if shift >= 0 else bits >> -shift
            self._taken[number, turn] = (taken, len(self.lies))
        return taken

    def used(self) -> float:
        """How far down it is used, in mm."""
        shapes = self.maps.shapes
        return max(
            (row + (shapes[n].cells(t)[1] + shapes[n].size(t)[1]) / 2 for n, t, _, row in self.lies), default=0.0
        )


def cells_of(length: float) -> int:
    """How many whole cells a length has."""
    return math.floor(length + 1e-6)
