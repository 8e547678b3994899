"""Where on a scan a calibration page lies: by its rings, whichever way up, and by which of them has the dot."""

from __future__ import annotations

import itertools
import math
from typing import Any

import numpy as np

from dechirer.core.card.registration import Registration
from dechirer.core.press.calibration import CalibrationPage
from dechirer.core.shape.affine import Affine, Point
from dechirer.core.shape.fourier import fast_length
from dechirer.core.shape.pixels import fit_affine, sample_grey

COARSE = 3.0
"""Rings are looked for at so many pixels to the mm."""
USUAL = (300.0, 600.0, 200.0, 150.0, 400.0)
"""Pixels to the inch that are tried where the file says nothing."""
MOST_PEAKS = 16
LEAST_LIKE = 0.45
MOST_SKEW_DEG = 6.0
NEAR_MM = 1.5
LEAST_RINGS = 4


class ScanError(ValueError):
    """A scan that cannot be measured; the message says why."""


def find_page(grey: Any, px_per_inch: float | None, page: CalibrationPage) -> tuple[Affine, bool]:
    """The map from the page (mm) to the scan (px), and whether it lies turned by half.

    Raises:
        ScanError: there are no rings as the page has them.
    """
    tried = [px_per_inch] if px_per_inch and 60 <= px_per_inch <= 1300 else []
    guess = 25.4 * min(grey.shape) / min(page.sheet.width, page.sheet.height)
    others = sorted(USUAL, key=lambda each: abs(math.log(each / guess)))
    best: tuple[int, Affine] | None = None
    for each in [*tried, *others]:
        found = _pose(grey, each / 25.4, page.rings)
        if found is not None and (best is None or found[0] > best[0]):
            best = found
        if best is not None and best[0] >= LEAST_RINGS:
            break
    if best is None or best[0] < LEAST_RINGS:
        raise ScanError("the rings of the calibration page are not on it")
    return _turn(grey, best[1], page)


def _pose(grey: Any, per_mm: float, rings: Registration) -> tuple[int, Affine] | None:
    """How many rings agree on a map, and that map, of a scan with so many pixels to the mm."""
    step = max(1, round(per_mm / COARSE))
    rows, columns = grey.shape[0] // step * step, grey.shape[1] // step * step
    if min(rows, columns) < 60 * per_mm:
        return None
    small = grey[:rows, :columns].reshape(rows // step, step, columns // step, step).mean(axis=(1, 3), dtype=np.float32)
    peaks = _peaks(small, per_mm / step, rings)
    if len(peaks) < LEAST_RINGS:
        return None
    places = [((x + 0.5) * step, (y + 0.5) * step) for x, y in peaks]
    best: tuple[int, float, Affine] | None = None
    wanted = rings.places
    for (i, a), (j, b) in itertools.permutations(enumerate(wanted), 2):
        far = math.dist(a, b)
        if i > j or far < 60:
            continue
        for p, q in itertools.permutations(places, 2):
            scale = math.dist(p, q) / far
            if abs(scale / per_mm - 1) > 0.03:
                continue
            turn = math.atan2(q[1] - p[1], q[0] - p[0]) - math.atan2(b[1] - a[1], b[0] - a[0])
            turn = (turn + math.pi) % math.tau - math.pi
            if min(abs(turn), math.pi - abs(turn)) > math.radians(MOST_SKEW_DEG):
                continue
            c, s = scale * math.cos(turn), scale * math.sin(turn)
            pose = Affine(c, s, -s, c, p[0] - c * a[0] + s * a[1], p[1] - s * a[0] - c * a[1])
            pairs = _agree(pose, wanted, places, NEAR_MM * per_mm)
            off = sum(distance for _, _, distance in pairs)
            if best is None or (len(pairs), -off) > (best[0], -best[1]):
                best = len(pairs), off, _refit(pose, pairs)
    return (best[0], best[2]) if best is not None else None


def _agree(pose: Affine, wanted: Any, places: list[Point], near: float) -> list[tuple[Point, Point, float]]:
    """The rings that lie where a map says: (on the page, on the scan, how far off)."""
    found = []
    for place in wanted:
        x, y = pose(place)
        at = min(places, key=lambda each: math.hypot(each[0] - x, each[1] - y))
        away = math.hypot(at[0] - x, at[1] - y)
        if away <= near:
            found.append((place, at, away))
    return found


def _refit(pose: Affine, pairs: list[tuple[Point, Point, float]]) -> Affine:
    if len(pairs) < 3:
        return pose
    return fit_affine([place for place, _, _ in pairs], [at for _, at, _ in pairs])[0]


def _peaks(small: Any, per_mm: float, rings: Registration) -> list[Point]:
    """Where rings may be on a small scan, in its pixels: normalised correlation, by Fourier transform."""
    half = math.ceil(rings.clear * per_mm)
    y, x = np.mgrid[-half : half + 1, -half : half + 1] / per_mm
    away = np.hypot(x, y)
    seen = ((away <= rings.clear) & (away >= rings.dot + 0.4)).astype(np.float32)
    dark = ((away <= rings.outer) & (away >= rings.inner)).astype(np.float32)
    template = -(dark - (dark * seen).sum() / seen.sum()) * seen
    shape = tuple(fast_length(side + 2 * half) for side in small.shape)
    spectra = [np.fft.rfft2(each, shape) for each in (small, small**2)]
    down, across = (side - 2 * half for side in small.shape)

    def correlate(spectrum: Any, kernel: Any) -> Any:
        return np.fft.irfft2(spectrum * np.conj(np.fft.rfft2(kernel, shape)), shape)[:down, :across]

    count = float(seen.sum())
    total, squares = correlate(spectra[0], seen), correlate(spectra[1], seen)
    # On bare paper hardly anything varies, and noise would look like anything.
    spread = np.sqrt(np.maximum(squares - total**2 / count, count * 36.0))
    score = correlate(spectra[0], template) / (spread * math.sqrt(float((template**2).sum())))
    found = []
    for _ in range(MOST_PEAKS):
        row, column = np.unravel_index(int(score.argmax()), score.shape)
        if score[row, column] < LEAST_LIKE:
            break
        found.append((float(column) + half, float(row) + half))
        score[max(0, row - half) : row + half + 1, max(0, column - half) : column + half + 1] = -1.0
    return found


def _turn(grey: Any, pose: Affine, page: CalibrationPage) -> tuple[Affine, bool]:
    """The map as the dot says it lies: rings stand alike either way up, but one of them has a dot."""
    rings = page.rings
    first = rings.places[0]
    x, y = page.rings.middle()
    around = Affine(-1.0, 0.0, 0.0, -1.0, 2 * x, 2 * y)
    poses = {False: pose, True: around.then(pose)}

    def darkness(of: Affine) -> float:
        angles = np.linspace(0, math.tau, 24, endpoint=False)
        inside = [_shade(grey, of, first, radius, angles) for radius in (0.0, 0.5 * rings.dot)]
        beside = _shade(grey, of, first, (rings.dot + rings.inner) / 2, angles)
        return beside - sum(inside) / len(inside)

    dark = {way: darkness(each) for way, each in poses.items()}
    way = dark[True] > dark[False]
    if abs(dark[True] - dark[False]) < 20:
        raise ScanError("the ring with the dot is not to be seen, so it cannot be told which way up the page lies")
    straight = poses[way]
    # Which way up it lies on the scan is told by where its x runs.
    return straight, straight.a < 0


def _shade(grey: Any, pose: Affine, place: Point, radius: float, angles: Any) -> float:
    x, y = place[0] + radius * np.cos(angles), place[1] + radius * np.sin(angles)
    return float(np.mean(sample_grey(grey, pose.a * x + pose.c * y + pose.e, pose.b * x + pose.d * y + pose.f)))
