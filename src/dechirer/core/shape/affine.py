"""Affine maps of the plane: `x' = a x + c y + e`, `y' = b x + d y + f`, as in SVG's matrix(a b c d e f)."""

from __future__ import annotations

import math
from collections.abc import Iterable

from msgspec import Struct

Point = tuple[float, float]
Points = tuple[Point, ...]

FINE_DIGITS = 6
"""Places are the same where they are to a nanometre."""


class Affine(Struct, frozen=True):
    """An affine map. `first.then(second)` applies `first` before `second`."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    def __call__(self, point: Point) -> Point:
        """Map one point."""
        x, y = point
        return self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f

    def all(self, points: Iterable[Point]) -> Points:
        """Map many points."""
        a, b, c, d, e, f = self.a, self.b, self.c, self.d, self.e, self.f
        return tuple([(a * x + c * y + e, b * x + d * y + f) for x, y in points])

    def then(self, second: Affine) -> Affine:
        """The map that does this one first and `second` after it."""
        return Affine(
            second.a * self.a + second.c * self.b,
            second.b * self.a + second.d * self.b,
            second.a * self.c + second.c * self.d,
            second.b * self.c + second.d * self.d,
            second.a * self.e + second.c * self.f + second.e,
            second.b * self.e + second.d * self.f + second.f,
        )

    @property
    def determinant(self) -> float:
        """Area factor; below zero when the map mirrors."""
        return self.a * self.d - self.b * self.c

    @property
    def is_mirrored(self) -> bool:
        """Whether words mapped by it read backwards."""
        return self.determinant < 0

    @property
    def turn_deg(self) -> float:
        """By how much the map turns its x axis, clockwise on a y-down sheet, from 0 up to 360."""
        return math.degrees(math.atan2(self.b, self.a)) % 360

    def inverse(self) -> Affine:
        """The map that undoes this one.

        Raises:
            ZeroDivisionError: the map flattens the plane.
        """
        det = self.determinant
        a, b, c, d = self.d / det, -self.b / det, -self.c / det, self.a / det
        return Affine(a, b, c, d, -(a * self.e + c * self.f), -(b * self.e + d * self.f))


def translate(dx: float, dy: float) -> Affine:
    """Move by (dx, dy) mm."""
    return Affine(e=dx, f=dy)


def rotate_quarter(height: float) -> Affine:
    """Turn a piece of that height by 90 degrees clockwise and bring its corner back to the origin."""
    return Affine(0.0, 1.0, -1.0, 0.0, height, 0.0)


def rotate(degrees: float, about: Point = (0.0, 0.0)) -> Affine:
    """Turn clockwise, as it is seen with y downwards, about a point."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    x, y = about
    return Affine(c, s, -s, c, x - c * x + s * y, y - s * x - c * y)


def mirror_x(width: float) -> Affine:
    """Turn a sheet of that width over left to right."""
    return Affine(a=-1.0, e=width)
