"""The reader of marks: finds the rings of a printed sheet in a picture of it, and says by what map the machine cuts.

All it is given is the picture, the machine's profile, and where the file of the mat says the marks belong. It knows
nothing of how pages are made. A ring is looked for near its place by matching, then both its edges are followed along
rays to a fraction of a pixel, and one centre with two radii is fitted to them. Even shares of what a printer does are
taken up by an affine map of least squares; what it cannot be sure of, it refuses, with the reason.
"""

from __future__ import annotations

import math
from typing import Any, Protocol

import numpy as np
from msgspec import Struct

from dechirer.core.shape.affine import Affine, Point
from dechirer.core.shape.pixels import fit_affine, sample_grey

LOOK_MM = 10.0
"""A mark is looked for so far round its place."""
COARSE_PX_PER_MM = 3.0
"""The first look is at about 75 px to the inch."""
PEAKS = 4
RAYS = 120
FITS_SHARE = 0.4
"""So much of a ring's edge has to fit for it to be one: half of it may be covered."""
NEAR_MM = 0.08
RADIUS_MM = 0.1
LEAST_CONTRAST = 40.0
"""Of 255, between ring and paper."""
MOST_STRAIN = 0.008
MOST_OFF_MM = 0.35
LEAST_MARKS = 5
"""Of six; with fewer nothing tells a false one from a true one."""


class Profile(Protocol):
    """What a reader knows of its marks; lengths in mm."""

    @property
    def ring(self) -> float:
        """The outer radius."""

    @property
    def ring_inside(self) -> float:
        """The inner radius."""

    @property
    def dot(self) -> float:
        """The radius of the dot in the first mark."""

    @property
    def quiet(self) -> float:
        """How much round a mark is bare."""


class Found(Struct, frozen=True):
    """A mark that was found: which, where (mm on the sheet), how much of its edge fits, and whether it has the dot."""

    number: int
    at: Point
    fits: float
    dotted: bool
    contrast: float


class Reading(Struct, frozen=True):
    """What was read: the map from the page to the sheet, the marks, how far they are off that map (mm), a remark; or
    why it was refused."""

    map: Affine | None
    marks: tuple[Found, ...]
    off: float = 0.0
    remark: str = ""
    refused: str = ""


def read_marks(
    picture: Any, size: tuple[float, float], profile: Profile, places: tuple[Point, ...], sign: tuple[int, ...] = ()
) -> Reading:
    """Read a sheet's marks.

    Args:
        picture: the sheet in grey, (h, w), 0 to 255.
        size: width and height in mm of the sheet set at the machine.
        profile: the marks the machine looks for.
        places: where they belong on the sheet (mm), the one with the dot first.
        sign: the bars that tell the page, each 0 or 1; empty where that is not asked.
    """
    high, wide = picture.shape
    if (wide > high) != (size[0] > size[1]) and abs(size[0] - size[1]) > 1:
        return Reading(None, (), refused="the sheet lies turned by a quarter")
    scale = (wide / size[0], high / size[1])
    found = [mark for number, place in enumerate(places) if (mark := _find(picture, scale, profile, number, place))]
    marks = tuple(found)
    if len(marks) < LEAST_MARKS:
        return Reading(None, marks, refused=_why_missing(picture, scale, profile, places, marks))
    turned = _why_turned(marks, places)
    if turned:
        return Reading(None, marks, refused=turned)
    map, off = _fit_affine([places[mark.number] for mark in marks], [mark.at for mark in marks])
    if off > MOST_OFF_MM and len(marks) > LEAST_MARKS:
        trials = [(_fit_affine(*_without(marks, places, out)), out) for out in marks]
        (map, off), out = min(trials, key=lambda trial: trial[0][1])
        marks = tuple(mark for mark in marks if mark is not out)
    strain = _strain(map)
    if strain > MOST_STRAIN:
        return Reading(None, marks, off, refused=f"the print would be {100 * strain:.1f} % out of shape")
    if off > MOST_OFF_MM:
        return Reading(None, marks, off, refused=f"the marks do not agree with each other by {off:.2f} mm")
    if sign:
        told = _read_sign(picture, scale, profile, places, map, len(sign))
        if told is not None and told != sign:
            return Reading(None, marks, off, refused="this is another page")
    remark = "" if len(marks) == len(places) else f"{len(places) - len(marks)} of {len(places)} marks is missing"
    return Reading(map, marks, off, remark)


def _without(marks: tuple[Found, ...], places: tuple[Point, ...], out: Found) -> tuple[list[Point], list[Point]]:
    kept = [mark for mark in marks if mark is not out]
    return [places[mark.number] for mark in kept], [mark.at for mark in kept]


def _find(picture: Any, scale: tuple[float, float], profile: Profile, number: int, place: Point) -> Found | None:
    """The mark near a place, or None."""
    reach = LOOK_MM + profile.ring + profile.quiet
    left, top = (max(0, int((at - reach) * per)) for at, per in zip(place, scale, strict=True))
    right, bottom = (int((at + reach) * per) + 1 for at, per in zip(place, scale, strict=True))
    window = picture[top : min(bottom, picture.shape[0]), left : min(right, picture.shape[1])].astype(np.float32)
    if min(window.shape) < 2 * profile.ring * min(scale):
        return None
    best: Found | None = None
    for x, y in _peaks(window, scale, profile):
        mark = _refine(window, scale, profile, (x, y))
        if mark is None:
            continue
        (cx, cy), fits, dotted, contrast = mark
        at = ((cx + left) / scale[0], (cy + top) / scale[1])
        if math.dist(at, place) <= LOOK_MM and (best is None or fits > best.fits):
            best = Found(number, at, fits, dotted, contrast)
    return best


def _peaks(window: Any, scale: tuple[float, float], profile: Profile) -> list[Point]:
    """Where a ring may be in a window, in its pixels, the likeliest first: normalised correlation with a ring whose
    middle is not looked at, by Fourier transform."""
    step = max(1, round(min(scale) / COARSE_PX_PER_MM))
    rows, columns = window.shape[0] // step * step, window.shape[1] // step * step
    small = window[:rows, :columns].reshape(rows // step, step, columns // step, step).mean(axis=(1, 3))
    across, down = scale[0] / step, scale[1] / step
    reach = profile.ring + profile.quiet
    half = (math.ceil(reach * down), math.ceil(reach * across))
    dy, dx = np.mgrid[-half[0] : half[0] + 1, -half[1] : half[1] + 1]
    away = np.hypot(dx / across, dy / down)
    seen = ((away <= reach) & (away >= profile.dot + 0.4)).astype(np.float32)
    dark = ((away <= profile.ring) & (away >= profile.ring_inside)).astype(np.float32)
    template = (-(dark - (dark * seen).sum() / seen.sum())) * seen
    shape = (small.shape[0] + seen.shape[0] - 1, small.shape[1] + seen.shape[1] - 1)
    down_to, across_to = small.shape[0] - seen.shape[0] + 1, small.shape[1] - seen.shape[1] + 1
    if min(down_to, across_to) < 1:
        return []

    def correlate(field: Any, kernel: Any) -> Any:
        spectrum = np.fft.rfft2(field, shape) * np.conj(np.fft.rfft2(kernel, shape))
        return np.fft.irfft2(spectrum, shape)[:down_to, :across_to]

    count = float(seen.sum())
    total, squares = correlate(small, seen), correlate(small**2, seen)
    spread = np.sqrt(np.maximum(squares - total**2 / count, 1.0))
    score = correlate(small, template) / (spread * math.sqrt(float((template**2).sum())))
    found = []
    for _ in range(PEAKS):
        y, x = np.unravel_index(int(score.argmax()), score.shape)
        if score[y, x] < 0.3:
            break
        found.append(((float(x) + half[1] + 0.5) * step, (float(y) + half[0] + 0.5) * step))
        score[max(0, y - half[0]) : y + half[0] + 1, max(0, x - half[1]) : x + half[1] + 1] = -1.0
    return found


def _refine(
    window: Any, scale: tuple[float, float], profile: Profile, start: Point
) -> tuple[Point, float, bool, float] | None:
    """A ring's centre in pixels of the window (the corner of the first is 0, 0), the share of its edges that fit,
    whether it has a dot, and its contrast; None where there is no such ring."""
    angles = np.arange(RAYS) * (math.tau / RAYS)
    cos, sin = np.cos(angles), np.sin(angles)
    centre = start
    outer = inner = None
    per_mm = math.sqrt(scale[0] * scale[1])
    for round_ in range(4):
        reach = 0.9 if round_ == 0 else 0.6
        outer = _edge(window, scale, centre, cos, sin, profile.ring, min(reach, profile.quiet), rising=True)
        inner = _edge(window, scale, centre, cos, sin, profile.ring_inside, reach, rising=False)
        radii = np.concatenate([outer[0], inner[0]])
        there = np.concatenate([outer[1], inner[1]])
        if there.sum() < FITS_SHARE * len(radii):
            return None
        rows = np.zeros((2 * RAYS, 4))
        rows[:, 0], rows[:, 1] = np.tile(cos, 2), np.tile(sin, 2)
        rows[:RAYS, 2], rows[RAYS:, 3] = 1.0, 1.0
        solved = _robust(rows[there], radii[there])
        centre = (centre[0] + solved[0] * scale[0], centre[1] + solved[1] * scale[1])
    off = np.abs(rows @ solved - radii)
    fits = float((there & (off < NEAR_MM)).sum()) / len(radii)
    strange = abs(solved[2] - profile.ring) > RADIUS_MM or abs(solved[3] - profile.ring_inside) > RADIUS_MM
    if fits < FITS_SHARE or strange:
        return None
    dark = _level(window, scale, centre, (profile.ring + profile.ring_inside) / 2)
    light = _level(window, scale, centre, (profile.ring_inside + profile.dot) / 2)
    middle = _level(window, scale, centre, 0.4 * profile.dot)
    contrast = light - dark
    if contrast < LEAST_CONTRAST or per_mm <= 0:
        return None
    return centre, fits, bool(light - middle > 0.5 * contrast), contrast


def _edge(
    window: Any,
    scale: tuple[float, float],
    centre: Point,
    cos: Any,
    sin: Any,
    radius: float,
    reach: float,
    *,
    rising: bool,
) -> tuple[Any, Any]:
    """How far from the centre an edge lies on each ray, in mm, by the centroid of the brightness's change; and on which
    rays there is one."""
    step = 0.5 / max(scale)
    r = np.arange(radius - reach, radius + reach + step / 2, step)
    x = centre[0] + np.outer(cos, r) * scale[0]
    y = centre[1] + np.outer(sin, r) * scale[1]
    levels = sample_grey(window, x, y)
    change = np.diff(levels, axis=1)
    change = np.maximum(change if rising else -change, 0.0)
    change[change < 0.25 * change.max(axis=1, keepdims=True)] = 0.0
    total = change.sum(axis=1)
    between = (r[:-1] + r[1:]) / 2
    found = (change * between).sum(axis=1) / np.maximum(total, 1e-6)
    return found, total > LEAST_CONTRAST / 2


def _level(window: Any, scale: tuple[float, float], centre: Point, radius: float) -> float:
    """The middle brightness on a circle."""
    angles = np.arange(48) * (math.tau / 48)
    x, y = centre[0] + radius * np.cos(angles) * scale[0], centre[1] + radius * np.sin(angles) * scale[1]
    return float(np.median(sample_grey(window, x, y)))


def _robust(rows: Any, values: Any) -> Any:
    """Least squares that lets go of what is far off (Tukey's biweight)."""
    weights = np.ones(len(values))
    solved = np.zeros(rows.shape[1])
    for _ in range(6):
        root = np.sqrt(weights)[:, None]
        solved = np.linalg.lstsq(rows * root, values * root[:, 0], rcond=None)[0]
        off = np.abs(rows @ solved - values)
        spread = max(1.4826 * float(np.median(off)), 0.002)
        share = np.clip(off / (4.685 * spread), 0, 1)
        weights = (1 - share**2) ** 2 + 1e-9
    return solved


def _fit_affine(wanted: list[Point], found: list[Point]) -> tuple[Affine, float]:
    """The affine map of least squares, and how far the marks lie off it at most, in mm."""
    map, away = fit_affine(wanted, found)
    return map, float(away.max())


def _strain(map: Affine) -> float:
    """By how much a map stretches or squeezes at most."""
    stretched = np.linalg.svd(np.array([[map.a, map.c], [map.b, map.d]]), compute_uv=False)
    return float(np.abs(stretched - 1).max())


def _why_turned(marks: tuple[Found, ...], places: tuple[Point, ...]) -> str:
    """What the dot tells of how the sheet lies; empty when it lies as it should."""
    dotted = [mark.number for mark in marks if mark.dotted]
    if dotted == [0]:
        return ""
    if not dotted:
        return "" if all(mark.number for mark in marks) else "the mark with the dot is not to be seen"
    if len(dotted) > 1:
        return "more than one mark has a dot"
    x, y = places[dotted[0]]
    (left, top), middle_x = places[0], sum(place[0] for place in places) / len(places)
    middle_y = sum(place[1] for place in places) / len(places)
    across, down = (x - middle_x) * (left - middle_x) < 0, (y - middle_y) * (top - middle_y) < 0
    if across and down:
        return "the sheet lies turned by half"
    return "the sheet lies with its other side up" if across or down else "the marks stand in another order"


def _why_missing(
    picture: Any, scale: tuple[float, float], profile: Profile, places: tuple[Point, ...], marks: tuple[Found, ...]
) -> str:
    """Why marks were not found."""
    levels = []
    for x, y in places:
        reach = LOOK_MM / 2
        part = picture[
            max(0, int((y - reach) * scale[1])) : int((y + reach) * scale[1]),
            max(0, int((x - reach) * scale[0])) : int((x + reach) * scale[0]),
        ]
        if part.size:
            levels.append(float(np.percentile(part, 95)) - float(np.percentile(part, 5)))
    if levels and float(np.median(levels)) < LEAST_CONTRAST:
        return "there is too little contrast: the paper is dark, or it shines"
    missing = len(places) - len(marks)
    if not marks:
        return "there are no marks where they belong"
    return f"{missing} of {len(places)} marks are covered, or not where they belong"


SIGN_START, SIGN_STEP = 8.0, 2.0
"""The bars that tell the page stand right of the first mark: the first so far from its centre, then so far apart,
mm."""


def _read_sign(
    picture: Any, scale: tuple[float, float], profile: Profile, places: tuple[Point, ...], map: Affine, count: int
) -> tuple[int, ...] | None:
    """The bars beside the first mark, each 0 or 1; None where there is no bar to begin with."""
    x, y = places[0]
    grey = picture.astype(np.float32)

    def level(along: float) -> float:
        px, py = map((x + along, y))
        return float(sample_grey(grey, np.array([px * scale[0]]), np.array([py * scale[1]]))[0])

    light = level(profile.ring + profile.quiet / 2)
    first = level(SIGN_START)
    if light - first < LEAST_CONTRAST / 2:
        return None
    half = (light + first) / 2
    return tuple(int(level(SIGN_START + SIGN_STEP * (place + 1)) < half) for place in range(count))
