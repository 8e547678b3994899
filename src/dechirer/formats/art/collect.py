"""What readers of art have in common: their error, and the collector that sorts paths into groups."""

from __future__ import annotations

import math
import re
import time
from collections.abc import Sequence
from typing import Any

import msgspec
from msgspec import Struct

from dechirer.core.brought import Art, ArtGroup
from dechirer.core.decide.coding import fit
from dechirer.core.dress.roles import HAIRLINE_MM, Looks, guess_role, role_by_name
from dechirer.core.shape.curves import turning_places
from dechirer.core.stopping import checkpoint

MOST_PATHS = 200_000
MOST_GROUPS = 300
FARTHEST_MM = 20_000.0
MOST_SECONDS = 10.0
MANY_BOXES = 256
FAR_AWAY_MM = 50_000.0
"""Art that lies farther from its page's corner than this is moved there."""
MOST_CROSSINGS = 30_000
MANY_SEGMENTS, SAMPLE = 200, 150

FourSides = tuple[float, float, float, float]
"""Left, top, right and bottom of a box, in mm."""


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

    __slots__ = ("_drawn", "_here", "bottom", "left", "parts", "right", "top")

    def __init__(self) -> None:
        self.parts: list[str] = []
        self.left = self.top = math.inf
        self.right = self.bottom = -math.inf
        self._here = (0.0, 0.0)
        self._drawn = False

    def add(self, letter: str, *points: tuple[float, float]) -> None:
        """Write one segment by its letter: M, L or C. Raises ArtError for a coordinate that is no place on earth."""
        if letter == "C":
            (x1, y1), (x2, y2), (x3, y3) = points
            self.curve(x1, y1, x2, y2, x3, y3)
        elif letter == "L":
            self.line(*points[0])
        else:
            self.move(*points[0])

    def move(self, x: float, y: float) -> None:
        """Begin a subpath; alone it draws nothing. Raises ArtError for a coordinate that is no place on earth."""
        if not (-1e7 < x < 1e7 and -1e7 < y < 1e7):
            raise ArtError(f"a point lies at {x:g}, {y:g} mm")
        self._here, self._drawn = (x, y), False
        self.parts.append(f"M {x:.5f} {y:.5f}")

    def line(self, x: float, y: float) -> None:
        """A straight line. Raises ArtError for a coordinate that is no place on earth."""
        if not (-1e7 < x < 1e7 and -1e7 < y < 1e7):
            raise ArtError(f"a point lies at {x:g}, {y:g} mm")
        self._reach(x, y)
        self._here = (x, y)
        self.parts.append(f"L {x:.5f} {y:.5f}")

    def curve(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> None:
        """A cubic curve by its two control points and its end. Raises ArtError as `line` does."""
        if not (-1e7 < x < 1e7 and -1e7 < y < 1e7 and -1e7 < x1 < 1e7 and -1e7 < y1 < 1e7):
            raise ArtError(f"a point lies at {x:g}, {y:g} mm")
        if not (-1e7 < x2 < 1e7 and -1e7 < y2 < 1e7):
            raise ArtError(f"a point lies at {x2:g}, {y2:g} mm")
        x0, y0 = self._here
        self._reach(x, y)
        # Only where a control point lies out of what is reached already may the curve itself reach farther.
        if not (self.left <= x1 <= self.right and self.left <= x2 <= self.right):
            least, most = bezier_range(x0, x1, x2, x)
            self.left, self.right = min(self.left, least), max(self.right, most)
        if not (self.top <= y1 <= self.bottom and self.top <= y2 <= self.bottom):
            least, most = bezier_range(y0, y1, y2, y)
            self.top, self.bottom = min(self.top, least), max(self.bottom, most)
        self._here = (x, y)
        self.parts.append(f"C {x1:.5f} {y1:.5f} {x2:.5f} {y2:.5f} {x:.5f} {y:.5f}")

    def _reach(self, x: float, y: float) -> None:
        """Take a point into the box, and the start of the subpath if nothing has been drawn from it yet."""
        if not self._drawn:
            self._drawn = True
            self._reach(*self._here)
        if x < self.left:
            self.left = x
        if x > self.right:
            self.right = x
        if y < self.top:
            self.top = y
        if y > self.bottom:
            self.bottom = y

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
    for t in turning_places(d - a + 3 * (b - c), 3 * (a - 2 * b + c), 3 * (b - a)):
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


class Budget:
    """Limit the CPU time of a reader, in the thread that reads: a busy machine refuses no good file."""

    def __init__(self, file: str) -> None:
        self.file = file
        self._spent = 0
        self._until = time.thread_time() + MOST_SECONDS

    def spend(self, work: int = 1) -> None:
        """Count some work. Raises ArtError when the time is up, and Stopped when the reading was told to stop."""
        self._spent += work
        if self._spent >= 64:
            self._spent = 0
            checkpoint()
            if time.thread_time() > self._until:
                raise ArtError(f"{self.file}: takes over {MOST_SECONDS:.0f} s to read; it is too complex")


class _Bundle:
    """Paths that look alike and may be painted one after the other, with the boxes round them."""

    __slots__ = ("_array", "box", "boxes", "key", "paths")

    def __init__(self, key: Key) -> None:
        self.key = key
        self.paths: list[str] = []
        self.box = (math.inf, math.inf, -math.inf, -math.inf)
        self.boxes: list[FourSides] = []
        self._array: Any = None

    def add(self, path: str, box: FourSides | None) -> None:
        self.paths.append(path)
        if box is not None:
            a = self.box
            self.box = (min(a[0], box[0]), min(a[1], box[1]), max(a[2], box[2]), max(a[3], box[3]))
            self.boxes.append(box)

    def meets(self, box: FourSides) -> bool:
        """Whether the box round any of its paths overlaps another box."""
        if not _overlap(self.box, box):
            return False
        if len(self.boxes) > MANY_BOXES:
            import numpy as np

            fresh = np.array(self.boxes)
            self._array = fresh if self._array is None else np.concatenate([self._array, fresh])
            self.boxes = []
        if self._array is not None:
            a = self._array
            if ((a[:, 0] < box[2]) & (a[:, 2] > box[0]) & (a[:, 1] < box[3]) & (a[:, 3] > box[1])).any():
                return True
        return any(_overlap(each, box) for each in self.boxes)


def _overlap(one: FourSides, other: FourSides) -> bool:
    return one[0] < other[2] and one[2] > other[0] and one[1] < other[3] and one[3] > other[1]


class Collector:
    """Sorts paths into groups and guesses each group's role.

    Paths of one look are one group, in the order the groups are painted: a path that lies on something painted after
    its group begins a new one. Hairlines cover nothing, and stay together.
    """

    def __init__(self, file: str) -> None:
        self.file = file
        self.bundles: list[_Bundle] = []
        self.lost: dict[str, int] = {}
        self.count = 0
        self.budget = Budget(file)
        self._latest: dict[Key, int] = {}

    def add(self, key: Key, path: str, box: FourSides | None = None) -> None:
        """Keep a path; `box` is the box round what is painted of it. Raises ArtError when there are too many."""
        self.count += 1
        self.budget.spend()
        if self.count > MOST_PATHS:
            raise ArtError(f"{self.file}: has over {MOST_PATHS:,} paths")
        home = self._latest.get(key)
        if box is not None and 0 < key.stroke <= HAIRLINE_MM:
            box = None
        if home is None or (box is not None and self._is_covered(key, home, box)):
            self._latest[key] = home = len(self.bundles)
            self.bundles.append(_Bundle(key))
        self.bundles[home].add(path, box)

    def _is_covered(self, key: Key, home: int, box: FourSides) -> bool:
        """Whether something of another colour was painted in a box since the latest path of a look."""
        if len(self.bundles) > 4 * MOST_GROUPS:
            return False
        return any(each.key.colour != key.colour and each.meets(box) for each in self.bundles[home + 1 :])

    def lose(self, what: str, count: int = 1) -> None:
        """Count something that was left out."""
        self.lost[what] = self.lost.get(what, 0) + count

    def groups(self) -> tuple[ArtGroup, ...]:
        """The groups with their guessed roles. Raises ArtError when there are none."""
        if not self.bundles:
            left_out = f"; left out: {', '.join(self.losses())}" if self.lost else ""
            raise ArtError(f"{self.file}: holds no outlines or lines{left_out}")
        found = [(each.key, each.paths) for each in self.bundles]
        if len(found) > MOST_GROUPS:
            found = self._thin_out(found)
        fills = len({key.colour for key, _ in found if not key.stroke})
        lines = [key.colour for key, _ in found if key.stroke and not key.dash and role_by_name(key.name) is None]
        made, taken = [], set[str]()
        for key, paths in found:
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

    def _thin_out(self, found: list[tuple[Key, list[str]]]) -> list[tuple[Key, list[str]]]:
        """Too many groups to look through: their order is given up, and if need be their colours (a picture with
        shades)."""
        merged: dict[Key, list[str]] = {}
        for key, paths in found:
            merged.setdefault(key, []).extend(paths)
        if len(merged) <= MOST_GROUPS:
            self.lose(f"the order in which {len(found)} groups cover each other")
            return list(merged.items())
        plain: dict[Key, list[str]] = {}
        for key, paths in merged.items():
            plain.setdefault(msgspec.structs.replace(key, colour="#808080", name=""), []).extend(paths)
        self.lose(f"{len(merged)} shades (taken as one grey)")
        return list(plain.items())[:MOST_GROUPS]

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
    groups = sheet.groups
    if max(abs(left), abs(top), abs(right), abs(bottom)) > FAR_AWAY_MM:
        groups = tuple(
            msgspec.structs.replace(group, paths=tuple(_shift(path, left, top) for path in group.paths))
            for group in groups
        )
    try:
        art = Art(
            id,
            name[:120],
            max(width, 1e-3),
            max(height, 0.0),
            groups,
            sheet.settled,
            sheet.doubt,
            source=name[:200],
            lost=tuple(text[:200] for text in sheet.lost[:50]),
        )
        # What is taken in must be what a saved job is read from, or it would not open again.
        taken: Art = fit(art, Art)
        return taken
    except ValueError as error:
        raise ArtError(f"{name}: {error}") from None


def _shift(path: str, left: float, top: float) -> str:
    """A path's text, moved so that a point comes to lie at the origin."""
    words, is_x = [], True
    for word in path.split(" "):
        if word in ("M", "L", "C", "Z"):
            words.append(word)
        else:
            words.append(f"{float(word) - (left if is_x else top):.5f}")
            is_x = not is_x
    return " ".join(words)


def count_crossings(parts: Sequence[str]) -> int:
    """About how often a path crosses itself, from a sample of its segments; 0 for a short one.

    Args:
        parts: its segments as `Segments` keeps them. A curve counts by its control polygon.
    """
    if len(parts) < MANY_SEGMENTS:
        return 0
    import numpy as np

    starts, ends, here = [], [], (0.0, 0.0)
    for part in parts:
        words = part.split(" ")
        points = list(zip(map(float, words[1::2]), map(float, words[2::2]), strict=True))
        for point in points:
            if words[0] != "M":
                starts.append(here)
                ends.append(point)
            here = point
    p, q = np.array(starts), np.array(ends)
    chosen = np.random.default_rng(0).choice(len(p), min(SAMPLE, len(p)), replace=False)
    a, b = p[chosen][:, None], q[chosen][:, None]

    def side(one: Any, two: Any, point: Any) -> Any:
        along, to = two - one, point - one
        return along[..., 0] * to[..., 1] - along[..., 1] * to[..., 0]

    met = (side(a, b, p[None]) * side(a, b, q[None]) < 0) & (side(p[None], q[None], a) * side(p[None], q[None], b) < 0)
    return int(met.sum() / len(chosen) * len(p) / 2)
