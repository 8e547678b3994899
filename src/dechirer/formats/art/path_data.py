"""SVG's path data, read in one pass and written down as canonical text in mm (SVG 1.1, section 8.3).

Our own, since reading is held against a yardstick that general parsers in Python do not reach: two thirds of the time a
file of icons took went into one of them.
"""

from __future__ import annotations

import re

from dechirer.core.shape.affine import Affine
from dechirer.formats.art.collect import Segments
from dechirer.formats.art.svg_shapes import arc_curves

NUMBER = r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
_COMMAND = re.compile(r"([MmZzLlHhVvCcSsQqTtAa])([^MmZzLlHhVvCcSsQqTtAa]*)")
_NUMBERS = re.compile(NUMBER)
_ARC = re.compile(
    rf"({NUMBER})[\s,]*({NUMBER})[\s,]*({NUMBER})[\s,]*([01])[\s,]*([01])[\s,]*({NUMBER})[\s,]*({NUMBER})"
)
_FOREIGN = re.compile(r"[^\d\s,.eE+-]")
_FOREIGN_ANYWHERE = re.compile(r"[^\d\s,.eE+MmZzLlHhVvCcSsQqTtAa-]")
TAKES = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7}
"""How many numbers each command takes."""


def write_path(d: str, map: Affine, out: Segments) -> bool:
    """Write path data down, mapped; up to the first error, as the standard has it. Whether there was none.

    Raises:
        ArtError: a coordinate that is no place on earth.
    """
    d = d.strip()
    if d[:1] not in ("M", "m"):
        return not d
    return _Reader(map, out).read(d)


class _Reader:
    """Where the pen is, where its subpath began, and the last control point, in the path's own units."""

    __slots__ = ("_map", "_out", "closed", "control", "last", "x", "x0", "y", "y0")

    def __init__(self, map: Affine, out: Segments) -> None:
        self._map, self._out = map, out
        self.x = self.y = self.x0 = self.y0 = 0.0
        self.control: tuple[float, float] = (0.0, 0.0)
        self.last, self.closed = "", False

    def read(self, d: str) -> bool:
        """Read path data; whether all of it was good."""
        good = _FOREIGN_ANYWHERE.search(d) is None
        for letter, rest in _COMMAND.findall(d):
            kind = letter.upper()
            if kind == "Z":
                if not self.closed:
                    self._out.close()
                self.x, self.y, self.closed, self.last = self.x0, self.y0, True, "Z"
                if rest.strip():
                    return False
                continue
            if not good and _FOREIGN.search(rest):
                self._draw(kind, letter != kind, _up_to_error(kind, rest))
                return False
            numbers = (
                [float(each) for found in _ARC.findall(rest) for each in found]
                if kind == "A"
                else [float(each) for each in _NUMBERS.findall(rest)]
            )
            if not self._draw(kind, letter != kind, numbers) or not numbers:
                return False
        return True

    def _draw(self, kind: str, relative: bool, numbers: list[float]) -> bool:
        """Draw one command as often as its numbers reach; whether none was left over."""
        takes = TAKES[kind]
        if kind == "M":
            if len(numbers) < 2:
                return False
            self._move(*((self.x + numbers[0], self.y + numbers[1]) if relative else numbers[:2]))
            kind, numbers = "L", numbers[2:]
        elif self.closed:
            self._move(self.x0, self.y0)
        if kind in "LC":
            # By far the most of what files hold, and so without a detour.
            self.last = kind
            return (self._lines if kind == "L" else self._curves)(relative, numbers)
        whole = len(numbers) - len(numbers) % takes
        draw = getattr(self, f"_{kind.lower()}")
        for at in range(0, whole, takes):
            draw(relative, *numbers[at : at + takes])
            self.last = kind
        return whole == len(numbers)

    def _move(self, x: float, y: float) -> None:
        m = self._map
        self.x = self.x0 = x
        self.y = self.y0 = y
        self.closed, self.last = False, "M"
        self._out.move(m.a * x + m.c * y + m.e, m.b * x + m.d * y + m.f)

    def _line(self, x: float, y: float) -> None:
        m = self._map
        self.x, self.y = x, y
        self._out.line(m.a * x + m.c * y + m.e, m.b * x + m.d * y + m.f)

    def _curve(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> None:
        m = self._map
        a, b, c, d, e, f = m.a, m.b, m.c, m.d, m.e, m.f
        self.x, self.y = x, y
        self._out.curve(
            a * x1 + c * y1 + e,
            b * x1 + d * y1 + f,
            a * x2 + c * y2 + e,
            b * x2 + d * y2 + f,
            a * x + c * y + e,
            b * x + d * y + f,
        )

    def _lines(self, relative: bool, numbers: list[float]) -> bool:
        """Straight lines one after the other; whether no number was left over."""
        m, out = self._map, self._out.line
        a, b, c, d, e, f = m.a, m.b, m.c, m.d, m.e, m.f
        x, y = self.x, self.y
        for dx, dy in zip(numbers[::2], numbers[1::2], strict=False):
            x, y = (x + dx, y + dy) if relative else (dx, dy)
            out(a * x + c * y + e, b * x + d * y + f)
        self.x, self.y = x, y
        return len(numbers) % 2 == 0

    def _curves(self, relative: bool, numbers: list[float]) -> bool:
        """Cubic curves one after the other; whether no number was left over."""
        m, out = self._map, self._out.curve
        a, b, c, d, e, f = m.a, m.b, m.c, m.d, m.e, m.f
        x0, y0 = self.x, self.y
        for at in range(0, len(numbers) - 5, 6):
            x1, y1, x2, y2, x3, y3 = numbers[at : at + 6]
            if relative:
                x1, y1, x2, y2, x3, y3 = x0 + x1, y0 + y1, x0 + x2, y0 + y2, x0 + x3, y0 + y3
            out(
                a * x1 + c * y1 + e,
                b * x1 + d * y1 + f,
                a * x2 + c * y2 + e,
                b * x2 + d * y2 + f,
                a * x3 + c * y3 + e,
                b * x3 + d * y3 + f,
            )
            self.control = (x2, y2)
            x0, y0 = x3, y3
        self.x, self.y = x0, y0
        return len(numbers) % 6 == 0

    def _h(self, relative: bool, x: float) -> None:
        self._line(self.x + x if relative else x, self.y)

    def _v(self, relative: bool, y: float) -> None:
        self._line(self.x, self.y + y if relative else y)

    def _s(self, relative: bool, x2: float, y2: float, x: float, y: float) -> None:
        px, py = self.x, self.y
        if relative:
            x2, y2, x, y = px + x2, py + y2, px + x, py + y
        x1, y1 = (2 * px - self.control[0], 2 * py - self.control[1]) if self.last in ("C", "S") else (px, py)
        self.control = (x2, y2)
        self._curve(x1, y1, x2, y2, x, y)

    def _q(self, relative: bool, x1: float, y1: float, x: float, y: float) -> None:
        px, py = self.x, self.y
        if relative:
            x1, y1, x, y = px + x1, py + y1, px + x, py + y
        self.control = (x1, y1)
        self._curve(px + 2 / 3 * (x1 - px), py + 2 / 3 * (y1 - py), x + 2 / 3 * (x1 - x), y + 2 / 3 * (y1 - y), x, y)

    def _t(self, relative: bool, x: float, y: float) -> None:
        px, py = self.x, self.y
        if relative:
            x, y = px + x, py + y
        at = (2 * px - self.control[0], 2 * py - self.control[1]) if self.last in ("Q", "T") else (px, py)
        self._q(False, *at, x, y)

    def _a(
        self, relative: bool, rx: float, ry: float, turn: float, large: float, sweep: float, x: float, y: float
    ) -> None:
        if relative:
            x, y = self.x + x, self.y + y
        curves = arc_curves((self.x, self.y), abs(rx), abs(ry), turn, bool(large), bool(sweep), (x, y))
        if not curves:
            self._line(x, y)
        for one, two, end in curves:
            self._curve(*one, *two, *end)


def _up_to_error(kind: str, rest: str) -> list[float]:
    """The numbers of a command before what is none."""
    match = _FOREIGN.search(rest)
    good = rest[: match.start()] if match else rest
    if kind == "A":
        return [float(each) for found in _ARC.findall(good) for each in found]
    return [float(each) for each in _NUMBERS.findall(good)]
