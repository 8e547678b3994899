"""Words as outlines or pen lines: shaped, set on rows, joined, and fitted by their ink.

Everything is worked out at the final size in mm; y runs down and the middle of the ink lies at the origin.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from itertools import islice
from typing import TYPE_CHECKING, Any

from msgspec import Struct

from dechirer.core.brought import FontFile, Role
from dechirer.core.dress.decisions import Words
from dechirer.core.dress.drawn import Drawn, Part, mapper
from dechirer.core.dress.words.typefaces import Typeface, find_typeface
from dechirer.core.memory import until_forgotten
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.algebra import polygons_of
from dechirer.core.shape.curves import FLAT_MM, areas_of, flatten

if TYPE_CHECKING:
    from shapely import LineString, Polygon

FIT_ROUNDS = 8
SMALLEST_MM = 1.0
COUNTER_KEPT = 0.6
"""A counter that keeps less of its area than this reads as filled (common practice: by eye)."""


class Glyph(Struct, frozen=True):
    """One letter (or ligature) as set: what it stands for, its areas or lines in mm, and its row."""

    letters: str
    areas: tuple[Polygon, ...]
    lines: tuple[LineString, ...]
    row: int
    follows: bool = False


class Lettering(Struct, frozen=True):
    """Words as set: glyphs in reading order, the size (em, mm) they came to, and what is wrong with them.

    `apart` names pairs that do not touch though they should, `loose` letters with parts that stand alone (dots,
    accents), `filled` counters that close, `missing` characters the face does not have; `tightest` is the spacing in
    mm up to which every counter stays open (None: not asked, or no spacing does).
    """

    glyphs: tuple[Glyph, ...]
    size: float
    apart: tuple[str, ...] = ()
    loose: tuple[str, ...] = ()
    filled: tuple[str, ...] = ()
    missing: tuple[str, ...] = ()
    tightest: float | None = None
    fits: bool = True

    def drawn(self, role: Role, colour: str) -> Drawn:
        """As parts: one, its letters in reading order."""
        areas = tuple(area for glyph in self.glyphs for area in glyph.areas)
        lines = tuple(line for glyph in self.glyphs for line in glyph.lines)
        return Drawn((Part(role, colour, areas, lines),) if areas or lines else ())


def set_words(words: Words, text: str, fonts: tuple[FontFile, ...], shape: Any = None) -> Lettering:
    """Set words and fit them.

    Args:
        words: how; `text` is theirs with the wordings filled in.
        shape: the polygon to fill for `fit` "shape", in mm; the words then lie on it, not round the origin.

    Raises:
        FontError: the maker's font cannot be read.
    """
    face = find_typeface(words.face, fonts)
    size = words.size.mm
    if words.fit == "size":
        found = _centred(_set(words, text, face, size))
    elif words.fit == "arc":
        found = _bend(_set(words, text, face, size), words.width.mm / 2)
    else:
        found, size = _fit(words, text, face, shape)
    missing = tuple(dict.fromkeys(each for each in text if not each.isspace() and not face.has(each)))
    apart, loose, filled = _look_over(found, words) if not face.is_line else ((), (), ())
    fits = size >= SMALLEST_MM
    return Lettering(tuple(found), size, apart, loose, filled, missing, None, fits)


# --- setting ---------------------------------------------------------------------------------------------------


def _set(words: Words, text: str, face: Typeface, size: float) -> list[Glyph]:
    """Rows below each other with clear space between their inks, each centred by its ink (or flush)."""
    import shapely

    rows: list[list[Glyph]] = []
    for number, row in enumerate(text.replace("\r", "").split("\n")):
        glyphs = _set_row(words, row, face, size, number)
        if glyphs:
            rows.append(glyphs)
    placed: list[Glyph] = []
    below = 0.0
    for number, glyphs in enumerate(rows):
        left, top, right, bottom = shapely.total_bounds(_inks(glyphs)).tolist()
        dx = {"left": -left, "right": -right}.get(words.align, -(left + right) / 2)
        dy = below - top if number else -top
        placed += _all_moved(glyphs, Affine(e=dx, f=dy))
        below = bottom + dy + words.rows.mm
    return placed


OVERLAP_SHARES = (1.0, 0.8, 0.6, 0.4, 0.25, 0.1)
LEAST_JOIN_MM2 = 1e-3
"""Letters that share less than this do not hold together."""


def _find_pull(left: Glyph, right: Glyph, overlap: float) -> float:
    """How far to move a letter to the left so that it overlaps the one before, in mm.

    A letter that is moved farther than the stroke before it is broad may pass it and stand free again: then it is moved
    the largest share of the overlap with which both are one.
    """
    import shapely

    gap = find_gap(left.areas, right.areas)
    if not math.isfinite(gap):
        return gap
    body = shapely.union_all(left.areas)
    for share in OVERLAP_SHARES:
        pull = gap + share * overlap
        if pull <= 0:
            break
        moved = _moved(right, Affine(e=-pull))
        if shapely.area(shapely.intersection(body, shapely.union_all(moved.areas))) > LEAST_JOIN_MM2:
            return pull
    return gap + overlap


def _inks(glyphs: list[Glyph]) -> list[Any]:
    return [shape for glyph in glyphs for shape in (*glyph.areas, *glyph.lines)]


def _moved(glyph: Glyph, map: Affine) -> Glyph:
    return _all_moved([glyph], map)[0]


def _all_moved(glyphs: Sequence[Glyph], map: Affine) -> list[Glyph]:
    """Glyphs mapped, all their shapes at one time."""
    return _with_shapes(glyphs, mapper(map)(_inks(list(glyphs))))


def _with_shapes(glyphs: Sequence[Glyph], shapes: Iterable[Any]) -> list[Glyph]:
    """Glyphs with other shapes in place of their own, in the order of `_inks`."""
    moved = iter(shapes)
    return [
        Glyph(
            glyph.letters,
            tuple(islice(moved, len(glyph.areas))),
            tuple(islice(moved, len(glyph.lines))),
            glyph.row,
            glyph.follows,
        )
        for glyph in glyphs
    ]


def _shifted(glyphs: Sequence[Glyph], shifts: Sequence[tuple[float, float]]) -> list[Glyph]:
    """Glyphs each moved by its own (dx, dy) mm, all their shapes at one time."""
    import numpy as np
    import shapely

    shapes = np.array(_inks(list(glyphs)), dtype=object)
    points, owners = shapely.get_coordinates(shapes, return_index=True)
    own = np.repeat(np.array(shifts).reshape(-1, 2), [len(each.areas) + len(each.lines) for each in glyphs], axis=0)
    return _with_shapes(glyphs, shapely.set_coordinates(shapes, points + own[owners]))


def _set_row(words: Words, text: str, face: Typeface, size: float, row: int) -> list[Glyph]:
    """One row from its left end, on the base line y = 0."""
    pen = 0.0
    found: list[Glyph] = []
    shifts: list[tuple[float, float]] = []
    before: Glyph | None = None
    new_word = True
    for shaped in face.shape(text, words.features):
        areas, lines = draw_glyph(face, shaped.glyph, round(size, 4))
        if areas or lines:
            glyph = Glyph(shaped.letters, areas, lines, row, not new_word)
            x, y = pen + shaped.x * size, shaped.y * size
            if words.joined:
                moved = _moved(glyph, Affine(e=x, f=y))
                if before is not None and not new_word and areas and before.areas:
                    pull = _find_pull(before, moved, words.overlap.mm)
                    if math.isfinite(pull) and pull > 0:
                        moved = _moved(moved, Affine(e=-pull))
                        x -= pull
                        pen -= pull
                before = moved
            found.append(glyph)
            shifts.append((x, y))
            new_word = False
        if shaped.letters.isspace():
            new_word = True
        pen += shaped.advance * size + words.spacing.mm
    return _shifted(found, shifts)


@until_forgotten(4096)
def draw_glyph(face: Typeface, glyph: int, size: float) -> tuple[tuple[Polygon, ...], tuple[LineString, ...]]:
    """A glyph's areas or lines at a size in mm, from its own origin."""
    import shapely

    path = face.path(glyph)
    if not path:
        return (), ()
    runs = flatten(path, FLAT_MM, size)
    if face.is_line:
        return (), tuple(shapely.LineString(run.points) for run in runs)
    return polygons_of(areas_of(runs, "nonzero")), ()


def find_gap(left: tuple[Polygon, ...], right: tuple[Polygon, ...]) -> float:
    """How far the right glyph may move to the left until it touches the left one, in mm; below zero: they overlap.

    Both silhouettes are straight between the heights of their corners, so the least distance lies at one of them.
    Infinite when they share no height.
    """
    import numpy as np
    import shapely

    one, other = (shapely.get_coordinates([p.exterior for p in shapes]) for shapes in (left, right))
    low = max(one[:, 1].min(), other[:, 1].min())
    high = min(one[:, 1].max(), other[:, 1].max())
    if high <= low:
        return math.inf
    heights = np.unique(np.clip(np.concatenate([one[:, 1], other[:, 1]]), low + 1e-9, high - 1e-9))
    edge = _silhouette(left, heights, 1.0)
    begin = -_silhouette(right, heights, -1.0)
    gaps = begin - edge
    gaps = gaps[np.isfinite(gaps)]
    return float(gaps.min()) if gaps.size else math.inf


def _silhouette(shapes: tuple[Polygon, ...], heights: Any, sign: float) -> Any:
    """The outermost x of some polygons at each height, times `sign` (1: the right edge, -1: the left)."""
    import numpy as np

    best = np.full(len(heights), -np.inf)
    for shape in shapes:
        ring = np.asarray(shape.exterior.coords)
        x0, y0, x1, y1 = ring[:-1, 0] * sign, ring[:-1, 1], ring[1:, 0] * sign, ring[1:, 1]
        lowest, highest = np.minimum(y0, y1), np.maximum(y0, y1)
        met = (heights[:, None] >= lowest) & (heights[:, None] <= highest)
        run = np.where(y1 == y0, 1.0, y1 - y0)
        x = x0 + (heights[:, None] - y0) / run * (x1 - x0)
        x = np.where(y1 == y0, np.maximum(x0, x1), x)
        best = np.maximum(best, np.where(met, x, -np.inf).max(axis=1))
    return best


# --- fitting ---------------------------------------------------------------------------------------------------


def _centred(glyphs: list[Glyph]) -> list[Glyph]:
    import shapely

    if not glyphs:
        return []
    left, top, right, bottom = shapely.total_bounds(_inks(glyphs)).tolist()
    return _all_moved(glyphs, Affine(e=-(left + right) / 2, f=-(top + bottom) / 2))


def _fit(words: Words, text: str, face: Typeface, shape: Any) -> tuple[list[Glyph], float]:
    """The largest setting whose ink lies in the band, circle or shape. Rows keep their gap and joins their overlap,
    so the size is found by approaching it."""
    size = 20.0
    glyphs: list[Glyph] = []
    for _ in range(FIT_ROUNDS):
        glyphs = _set(words, text, face, size)
        if not glyphs:
            return [], words.size.mm
        factor, centre, own = _room_for(words, glyphs, shape)
        if factor <= 0:
            return _centred(glyphs), 0.0
        glyphs = _all_moved(glyphs, Affine(e=centre[0] - own[0], f=centre[1] - own[1]))
        if abs(factor - 1) < 2e-5:
            break
        size = max(0.05, size * factor)
    return glyphs, size


def _room_for(words: Words, glyphs: list[Glyph], shape: Any) -> tuple[float, tuple[float, float], tuple[float, float]]:
    """By how much the ink may grow, where the middle of its room is, and its own middle."""
    import shapely

    inks = _inks(glyphs)
    if words.fit == "circle":
        ball = shapely.minimum_bounding_circle(shapely.convex_hull(shapely.geometrycollections(inks)))
        radius = float(shapely.minimum_bounding_radius(shapely.convex_hull(shapely.geometrycollections(inks))))
        middle = ball.centroid
        return words.width.mm / 2 / max(radius, 1e-9), (0.0, 0.0), (middle.x, middle.y)
    left, top, right, bottom = shapely.total_bounds(inks).tolist()
    own = (left + right) / 2, (top + bottom) / 2
    if words.fit == "band" or shape is None or shape.is_empty:
        across = words.width.mm / max(right - left, 1e-9)
        return min(across, words.height.mm / max(bottom - top, 1e-9)), (0.0, 0.0), own
    factor, centre = fit_hull(shapely.get_coordinates(shapely.convex_hull(shapely.geometrycollections(inks))), shape)
    return factor, centre, own


def fit_hull(hull: Any, shape: Any) -> tuple[float, tuple[float, float]]:
    """By how much a hull (n, 2) may grow inside a polygon, and where its box's middle then lies. The hull of a straight
    line is its two ends.

    The middle starts where the largest circle fits and moves by ever smaller steps while that lets the hull grow.
    """
    import numpy as np
    import shapely

    box = (hull.min(axis=0) + hull.max(axis=0)) / 2
    round_origin = hull - box
    spot = shapely.maximum_inscribed_circle(shape, tolerance=0.1).coords[0]
    shapely.prepare(shape)
    reach = float(np.hypot(*np.ptp(shapely.get_coordinates(shape), axis=0)))
    body = {1: shapely.Point, 2: shapely.LineString}.get(len(hull), shapely.Polygon)

    def largest(x: float, y: float, least: float) -> float:
        def holds(factor: float) -> bool:
            return bool(shapely.contains_properly(shape, body(round_origin * factor + (x, y))))

        low, high = 0.0, reach / max(float(np.ptp(round_origin, axis=0).max()), 1e-9)
        if least > 0:
            if not holds(least):
                return 0.0
            low = least
        for _ in range(16):
            middle = (low + high) / 2
            low, high = (middle, high) if holds(middle) else (low, middle)
        return low

    x, y = float(spot[0]), float(spot[1])
    best = largest(x, y, 0.0)
    step = reach / 12
    while step > reach / 2000:
        moves = [(x + dx * step, y + dy * step) for dx, dy in ((1, 0), (-1, 0), (0, 1), (0, -1))]
        found = max(((largest(a, b, best * 1.0005), a, b) for a, b in moves), default=(0.0, x, y))
        if found[0] > best:
            best, x, y = found
        else:
            step /= 2
    return best, (x, y)


def _bend(glyphs: list[Glyph], radius: float) -> list[Glyph]:
    """Letters set along a circle, each turned upright to it at its middle; the circle's middle lies at the origin."""
    import shapely

    if not glyphs or radius <= 0:
        return _centred(glyphs)
    bottom = float(shapely.total_bounds(_inks(glyphs))[3])
    found = []
    for glyph in glyphs:
        left, _, right, _ = shapely.total_bounds([*glyph.areas, *glyph.lines]).tolist()
        middle = (left + right) / 2
        angle = middle / radius
        c, s = math.cos(angle), math.sin(angle)
        upright = Affine(e=-middle, f=-bottom - radius)
        found.append(_moved(glyph, upright.then(Affine(c, s, -s, c))))
    return found


# --- what is wrong ---------------------------------------------------------------------------------------------


def _look_over(glyphs: list[Glyph], words: Words) -> tuple[tuple[str, ...], tuple[str, ...], tuple[str, ...]]:
    """Pairs that stand apart, letters with loose parts, and counters that close."""
    import shapely

    apart: list[str] = []
    loose: list[str] = []
    filled: list[str] = []
    for index, glyph in enumerate(glyphs):
        if glyph.follows and index:
            before = glyphs[index - 1]
            if shapely.distance(_one(before), _one(glyph)) > 0:
                apart.append(before.letters + glyph.letters)
        near = [
            glyphs[place]
            for place in (index - 1, index + 1)
            if 0 <= place < len(glyphs) and glyphs[place].row == glyph.row
        ]
        around = shapely.union_all([area for each in near for area in each.areas])
        if len(glyph.areas) > 1:
            whole = shapely.get_parts(shapely.union(shapely.union_all(list(glyph.areas)), around))
            if sum(bool(shapely.intersects(part, list(glyph.areas)).any()) for part in whole) > 1:
                loose.append(glyph.letters)
        for area in glyph.areas:
            for ring in area.interiors:
                hole = shapely.Polygon(ring)
                left = shapely.difference(hole, around).area
                if left < COUNTER_KEPT * hole.area:
                    filled.append(glyph.letters)
    return tuple(dict.fromkeys(apart)), tuple(dict.fromkeys(loose)), tuple(dict.fromkeys(filled))


def _one(glyph: Glyph) -> Any:
    import shapely

    return shapely.union_all(list(glyph.areas))


def find_tightest(words: Words, text: str, fonts: tuple[FontFile, ...]) -> float | None:
    """The smallest spacing (mm, below zero: tighter) at which every pair touches and no counter closes.

    Looked for by halving between the face's own spacing and half an em tighter; None when no spacing does both.
    """
    from msgspec.structs import replace

    from dechirer.core.length import parse_length

    size = words.size.mm

    def look(spacing: float) -> tuple[bool, bool]:
        trial = replace(words, joined=False, spacing=parse_length(f"{spacing:.3f} mm"), fit="size")
        found = set_words(trial, text, fonts)
        return not found.apart, not found.filled

    low, high = -min(30.0, size / 2), 0.0
    if not look(high)[1]:
        return None
    for _ in range(10):
        middle = (low + high) / 2
        low, high = (low, middle) if look(middle)[1] else (middle, high)
    spacing = math.ceil(high * 100) / 100
    return spacing if look(spacing)[0] else None
