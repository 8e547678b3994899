"""What readers of art have in common: their error, and the collector that sorts paths into groups."""

from __future__ import annotations

import math
import re

import msgspec
from msgspec import Struct

from dechirer.core.dress.brought import Art, ArtGroup
from dechirer.core.dress.roles import Looks, guess_role, role_by_name

MOST_PATHS = 200_000
MOST_GROUPS = 300
FARTHEST_MM = 20_000.0


class ArtError(ValueError):
    """A file that cannot be read as art; the message names the file and the place in it."""


class Sheet(Struct, frozen=True):
    """What a reader found: groups of paths in mm, how the size was settled, and what was left out."""

    groups: tuple[ArtGroup, ...]
    settled: str
    doubt: str = ""
    lost: tuple[str, ...] = ()


class Segments:
    """Writes one path as canonical text: M, L, C and Z with absolute coordinates in mm, fine enough to be
    enlarged a hundredfold.

    Keeps the box round what it has written: the exact extremes of each curve, not its control points.
    """

    __slots__ = ("_here", "bottom", "left", "parts", "right", "top")

    def __init__(self) -> None:
        self.parts: list[str] = []
        self.left = self.top = math.inf
        self.right = self.bottom = -math.inf
        self._here = (0.0, 0.0)

    def add(self, letter: str, *points: tuple[float, float]) -> None:
        """Write one segment. Raises ArtError for a coordinate that is no place on earth."""
        words = letter
        for x, y in points:
            if not (-1e7 < x < 1e7 and -1e7 < y < 1e7):
                raise ArtError(f"a point lies at {x:g}, {y:g} mm")
            words += f" {x:.5f} {y:.5f}"
        if letter == "M":
            self._here = points[-1]  # alone it draws nothing, and counts with what is drawn from it
        else:
            (x0, y0), (x3, y3) = self._here, points[-1]
            left, right, top, bottom = min(x0, x3), max(x0, x3), min(y0, y3), max(y0, y3)
            if letter == "C":
                (x1, y1), (x2, y2) = points[0], points[1]
                if not (left <= x1 <= right and left <= x2 <= right):
                    left, right = bezier_range(x0, x1, x2, x3)
                if not (top <= y1 <= bottom and top <= y2 <= bottom):
                    top, bottom = bezier_range(y0, y1, y2, y3)
            self.left, self.right = min(self.left, left), max(self.right, right)
            self.top, self.bottom = min(self.top, top), max(self.bottom, bottom)
            self._here = (x3, y3)
        self.parts.append(words)

    def close(self) -> None:
        """Close the subpath."""
        self.parts.append("Z")

    def text(self) -> str:
        """The path's text."""
        return " ".join(self.parts)


def bezier_range(a: float, b: float, c: float, d: float) -> tuple[float, float]:
    """The least and the greatest value of a cubic with these control values: at its ends, or where its derivative,
    a quadratic, is nought."""
    found = [a, d]
    p, q, r = d - a + 3 * (b - c), 2 * (a - 2 * b + c), b - a
    if abs(p) < 1e-12 * (abs(q) + abs(r) + 1e-300):
        roots = [-r / q] if q else []
    else:
        under = q * q - 4 * p * r
        root = math.sqrt(under) if under > 0 else 0.0
        # The form that loses no digits where q and the root are near each other.
        half = -(q + math.copysign(root, q)) / 2
        roots = [half / p, *([r / half] if half else [])] if under >= 0 else []
    for t in roots:
        if 0 < t < 1:
            s = 1 - t
            found.append(s * s * s * a + 3 * s * s * t * b + 3 * s * t * t * c + t * t * t * d)
    return min(found), max(found)


class Key(Struct, frozen=True):
    """What makes two paths one group."""

    name: str
    colour: str
    stroke: float
    caps: str = "flat"
    corners: str = "mitre"
    rule: str = "nonzero"
    dash: tuple[float, ...] = ()


class Collector:
    """Sorts paths into groups in the order they are first met, and guesses each group's role."""

    def __init__(self, file: str) -> None:
        self.file = file
        self.found: dict[Key, list[str]] = {}
        self.lost: dict[str, int] = {}
        self.count = 0

    def add(self, key: Key, path: str) -> None:
        """Keep a path. Raises ArtError when there are more than a job takes."""
        self.count += 1
        if self.count > MOST_PATHS:
            raise ArtError(f"{self.file}: has over {MOST_PATHS:,} paths")
        self.found.setdefault(key, []).append(path)

    def lose(self, what: str) -> None:
        """Count something that was left out."""
        self.lost[what] = self.lost.get(what, 0) + 1

    def groups(self) -> tuple[ArtGroup, ...]:
        """The groups with their guessed roles. Raises ArtError when there are none, or too many."""
        if not self.found:
            left_out = f"; left out: {', '.join(self.losses())}" if self.lost else ""
            raise ArtError(f"{self.file}: holds no outlines or lines{left_out}")
        if len(self.found) > MOST_GROUPS:
            self._thin_out()
        fills = len({key.colour for key in self.found if not key.stroke})
        lines = [key.colour for key in self.found if key.stroke and not key.dash and role_by_name(key.name) is None]
        made, taken = [], set[str]()
        for key, paths in self.found.items():
            looks = Looks(key.name, key.colour, key.stroke, bool(key.dash), fills, tuple(dict.fromkeys(lines)))
            role, reason = guess_role(looks)
            made.append(
                ArtGroup(
                    make_id(key.name or ("line" if key.stroke else "area"), taken),
                    title_of(key),
                    role,
                    tuple(paths),
                    key.colour,
                    key.stroke,
                    key.caps,  # type: ignore[arg-type]
                    key.corners,  # type: ignore[arg-type]
                    key.rule,  # type: ignore[arg-type]
                    key.dash,
                    reason,
                )
            )
        return tuple(made)

    def _thin_out(self) -> None:
        """Too many groups to look through (a picture with shades): kept apart by colour no longer."""
        merged: dict[Key, list[str]] = {}
        for key, paths in self.found.items():
            plain = msgspec.structs.replace(key, colour="#808080", name="")
            merged.setdefault(plain, []).extend(paths)
        self.lose(f"{len(self.found)} shades (taken as one grey)")
        self.found = dict(list(merged.items())[:MOST_GROUPS])

    def losses(self) -> tuple[str, ...]:
        """What was left out, with counts."""
        return tuple(f"{what} ({count})" if count > 1 else what for what, count in self.lost.items())


def title_of(key: Key) -> str:
    """A group's name for people."""
    if key.name:
        return key.name[:120]
    if key.stroke:
        return f"lines {key.colour}, {key.stroke:.2g} mm" + (", dashed" if key.dash else "")
    return f"areas {key.colour}"


def make_id(name: str, taken: set[str]) -> str:
    """An id from a name, not yet taken; it is added to `taken`."""
    base = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:32].strip("-")
    if not base or not base[0].isalpha():
        base = f"g-{base}".rstrip("-")
    found = base
    number = 1
    while found in taken:
        number += 1
        found = f"{base}-{number}"
    taken.add(found)
    return found


def make_art(id: str, name: str, sheet: Sheet, box: tuple[float, float, float, float]) -> Art:
    """Art of what a reader found. Raises ArtError when its box has no size or is absurd."""
    left, top, right, bottom = box
    width, height = right - left, bottom - top
    if not (math.isfinite(width) and math.isfinite(height)) or max(width, height) <= 0:
        raise ArtError(f"{name}: the art has no size")
    if max(width, height) > FARTHEST_MM:
        raise ArtError(f"{name}: the art would be {max(width, height) / 1000:.0f} m across")
    try:
        return Art(
            id,
            name[:120],
            max(width, 1e-3),
            max(height, 0.0),
            sheet.groups,
            sheet.settled,
            sheet.doubt,
            source=name[:200],
            lost=tuple(text[:200] for text in sheet.lost[:50]),
        )
    except ValueError as error:
        raise ArtError(f"{name}: {error}") from None
