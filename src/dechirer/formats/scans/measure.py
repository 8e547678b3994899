"""Measuring the scan of a cut calibration page: its printed crosses and the cut edges of its squares, to a fraction of
a pixel.

The rings of the page say where on the scan it lies, however askew and whichever way up. Each cross is read from the
ends of its arms, which stay outside its square; each square from its four edges, the opposite ones averaged, so that
what the blade takes away cancels. All is told in the frame of the printed crosses, so that the scanner's own scale and
skew cancel as well.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from msgspec import Struct

from dechirer.core.press.calibration import ARM_MM, LINE_MM, SQUARE_MM, CalibrationPage
from dechirer.core.shape.affine import Affine, Point, Points
from dechirer.core.shape.pixels import fit_affine, sample_grey
from dechirer.formats.scans.finding import ScanError, find_page

STUB_FROM, STUB_TO = SQUARE_MM / 2 + 0.8, ARM_MM - 0.5
"""The part of an arm that is read, from the middle of its cross, mm."""
BESIDE = 0.9
"""How far beside a line it is looked for, mm."""
STEPS = 14
SIDE_FROM, SIDE_TO = 0.8, SQUARE_MM / 2 - 0.8
"""The part of a square's side that is read, from its middle: beside the arm that crosses it, mm."""
LOOK_MM = 1.2
"""How far a cut may lie from its cross, to be found, each way; and print and page as a whole are found before that."""
LEAST_DARK = 25.0
"""Of 255: fainter lines and edges are not read."""
LEAST_FAINT = 3.0
"""So much is enough where a whole side is read at once."""
NEAR_EDGE_MM = 0.35
STRAYS_MM = 0.12
"""Places on one line or edge that lie further from it are a hair or dust."""


class Scan(Struct, frozen=True):
    """What was read of a scan: how far the print lies from the cut at each cross that could be read (mm, in the frame
    of the page), the numbers of those that could not and why, and remarks."""

    numbers: tuple[int, ...]
    off: Points
    missing: tuple[tuple[int, str], ...]
    px_per_inch: float
    turned: bool
    remarks: tuple[str, ...] = ()


def measure_scan(grey: Any, px_per_inch: float | None, page: CalibrationPage) -> Scan:
    """Measure a scan.

    Args:
        grey: the scan, (h, w), 0 to 255.
        px_per_inch: what its file says; None where it says nothing.

    Raises:
        ScanError: the page is not on it.
    """
    pose, turned = find_page(grey, px_per_inch, page)
    per_mm = math.sqrt(abs(pose.a * pose.d - pose.b * pose.c))
    crosses: dict[int, Point] = {}
    missing: dict[int, str] = {}
    for number, place in enumerate(page.crosses):
        found = _read_cross(grey, pose, place)
        if found is None:
            missing[number] = "its printed cross is not to be read"
        else:
            crosses[number] = found
    if len(crosses) < 6:
        raise ScanError("fewer than six of the printed crosses can be read")
    # The printed crosses are the frame: their own map, not that of the rings.
    frame = _fit([page.crosses[number] for number in crosses], list(crosses.values()))
    back = frame.inverse()
    # A first look with a wide reach finds how far the cut as a whole is off; then each edge is read where it should be.
    first = {number: _read_square(grey, frame, page.crosses[number], (0.0, 0.0), LOOK_MM) for number in crosses}
    seen = [found for found in first.values() if found is not None]
    if not seen:
        raise ScanError("no cut edge is to be seen: lay black card behind the page, and scan it again")
    numbers, off = [], []
    for number, at in crosses.items():
        start = first[number]
        cut = _read_square(grey, frame, page.crosses[number], start, 0.5) if start is not None else None
        if cut is None:
            missing[number] = "its cut edges are not to be seen all round"
            continue
        x, y = page.crosses[number]
        px, py = frame((x + cut[0], y + cut[1]))
        middle, edge = back(at), back((px, py))
        numbers.append(number)
        off.append((middle[0] - edge[0], middle[1] - edge[1]))
    ppi = per_mm * 25.4
    remarks = []
    if ppi < 140:
        remarks.append(f"the scan has {ppi:.0f} pixels to the inch: 300 read better")
    return Scan(tuple(numbers), tuple(off), tuple(sorted(missing.items())), ppi, turned, tuple(remarks))


def join_scans(scans: list[Scan]) -> Scan:
    """Scans of one page, turned to each other: what both read is averaged, so that a shadow of one side cancels."""
    first = scans[0]
    if len(scans) == 1:
        return first
    found = {}
    for number in range(1 + max(max(scan.numbers) for scan in scans)):
        own = [scan.off[scan.numbers.index(number)] for scan in scans if number in scan.numbers]
        if len(own) == len(scans):
            found[number] = (sum(x for x, _ in own) / len(own), sum(y for _, y in own) / len(own))
    lost = {number: why for scan in scans for number, why in scan.missing}
    remarks = [remark for scan in scans for remark in scan.remarks]
    if len({scan.turned for scan in scans}) == 1:
        remarks.append("both scans lie the same way: a second one turned by half would cancel a shadow")
    return Scan(
        tuple(found),
        tuple(found.values()),
        tuple(sorted(lost.items())),
        first.px_per_inch,
        first.turned,
        tuple(dict.fromkeys(remarks)),
    )


def _fit(wanted: list[Point], found: list[Point]) -> Affine:
    """The even map through places, without those that stray."""
    frame, away = fit_affine(wanted, found)
    for _ in range(3):
        spread = max(1.4826 * float(np.median(away)), 0.05)
        frame, away = fit_affine(wanted, found, 1.0 / (1.0 + (away / (3 * spread)) ** 2))
    return frame


def _lines(grey: Any, pose: Affine, along: Any, across: Any, level: bool, place: Point) -> Any:
    """Brightness beside a line of the page: (lines, places across)."""
    u, v = np.meshgrid(along, across, indexing="ij")
    x, y = (u, v) if level else (v, u)
    x, y = x + place[0], y + place[1]
    return sample_grey(grey, pose.a * x + pose.c * y + pose.e, pose.b * x + pose.d * y + pose.f)


def _read_cross(grey: Any, pose: Affine, place: Point) -> Point | None:
    """The middle of a printed cross in pixels, from the ends of its arms."""
    step = 0.4 / math.sqrt(abs(pose.a * pose.d - pose.b * pose.c))
    at = place
    for reach in (BESIDE * 1.6, BESIDE):
        across = np.arange(-reach, reach + step / 2, step)
        ends = np.linspace(STUB_FROM, STUB_TO, STEPS)
        along = np.concatenate([-ends[::-1], ends])
        fits = []
        for level in (True, False):
            shades = _lines(grey, pose, along, across, level, at)
            middle, there = _dark_middles(shades, across)
            fit = _line(along, middle, there)
            if fit is None:
                return None
            fits.append(fit)
        # The level arm says y = a + b x of its own frame, the upright one x = c + d y.
        (a, b), (c, d) = fits
        x = (c + d * a) / (1 - b * d)
        at = (at[0] + x, at[1] + a + b * x)
    return pose(at)


def _dark_middles(shades: Any, across: Any) -> tuple[Any, Any]:
    """For each row, the middle of what is dark, and whether there is a line as broad as a printed one."""
    ground = np.percentile(shades, 80, axis=1, keepdims=True)
    dark = np.clip(ground - shades, 0, None)
    peak = dark.max(axis=1, keepdims=True)
    dark[dark < 0.35 * peak] = 0.0
    # Only what hangs together with the darkest place: a hair beside the line is another one.
    best = dark.argmax(axis=1)
    count = np.arange(dark.shape[1])
    step = across[1] - across[0]
    dark[np.abs(count[None, :] - best[:, None]) * step > 1.5 * LINE_MM] = 0.0
    total = dark.sum(axis=1)
    middle = (dark * across).sum(axis=1) / np.maximum(total, 1e-6)
    return middle, peak[:, 0] > LEAST_DARK


def _line(along: Any, middle: Any, there: Any) -> tuple[float, float] | None:
    """A line through places, without those that stray; None where both its ends are not there."""
    left, right = there & (along < 0), there & (along > 0)
    if left.sum() < STEPS // 3 or right.sum() < STEPS // 3:
        return None
    kept = there.copy()
    a = b = 0.0
    for _ in range(4):
        rows = np.stack([np.ones(int(kept.sum())), along[kept]], axis=1)
        (a, b), *_ = np.linalg.lstsq(rows, middle[kept], rcond=None)
        off = np.abs(middle - a - b * along)
        spread = max(1.4826 * float(np.median(off[kept])), 0.004)
        again = there & (off < min(3 * spread, STRAYS_MM))
        if (again & (along < 0)).sum() < 3 or (again & (along > 0)).sum() < 3:
            return None
        kept = again
    return float(a), float(b)


def _read_square(grey: Any, pose: Affine, place: Point, start: Point, reach: float) -> Point | None:
    """How far the middle of a cut square lies from where it belongs, in mm on the page; None where not all its sides
    are to be seen."""
    step = 0.4 / math.sqrt(abs(pose.a * pose.d - pose.b * pose.c))
    ends = np.linspace(SIDE_FROM, SIDE_TO, STEPS)
    along = np.concatenate([-ends[::-1], ends])
    half = SQUARE_MM / 2
    outward = np.arange(half - reach, half + reach + step / 2, step)
    found = []
    for level in (False, True):
        sides = []
        for sign in (-1.0, 1.0):
            shades = _lines(grey, pose, along, sign * outward, level, (place[0] + start[0], place[1] + start[1]))
            edge = _edge(shades, outward, along)
            if edge is None:
                return None
            sides.append(sign * edge)
        found.append((sides[0] + sides[1]) / 2)
    # Level sides run along x and say where y is.
    return start[0] + found[0], start[1] + found[1]


def _edge(shades: Any, outward: Any, along: Any) -> float | None:
    """How far out an edge lies: where the paper begins, coming from the hole, in the middle of the side."""
    # From the hole outwards the paper begins with a rise; the last one is its own edge, before it come shadows.
    rise = np.clip(np.diff(shades, axis=1), 0, None)
    between = (outward[:-1] + outward[1:]) / 2
    strong = rise > np.maximum(0.5 * rise.max(axis=1, keepdims=True), 1.0)
    last = strong.shape[1] - 1 - strong[:, ::-1].argmax(axis=1)
    near = np.abs(between[None, :] - between[last][:, None]) < NEAR_EDGE_MM
    height = np.take_along_axis(rise, last[:, None], axis=1)
    weights = np.where(near & (rise > 0.2 * height), rise, 0.0)
    total = weights.sum(axis=1)
    middles = (weights * between).sum(axis=1) / np.maximum(total, 1e-6)
    there = total > LEAST_DARK
    if there.sum() < len(along) // 2:
        return _faint_edge(shades, between)
    kept = there
    value = float(np.median(middles[kept]))
    for _ in range(4):
        rows = np.stack([np.ones(int(kept.sum())), along[kept]], axis=1)
        (a, b), *_ = np.linalg.lstsq(rows, middles[kept], rcond=None)
        off = np.abs(middles - a - b * along)
        again = there & (off < max(3 * 1.4826 * float(np.median(off[kept])), 0.01))
        value = float(a)
        if again.sum() < len(along) // 2:
            break
        kept = again
    return value


def _faint_edge(shades: Any, between: Any) -> float | None:
    """The same on a backing nearly as bright as the paper: all of a side at once, and a change of either kind."""
    shade = np.median(shades, axis=0)
    change = np.abs(np.diff(np.convolve(shade, np.ones(3) / 3, mode="same")))[1:-1]
    places = between[1:-1]
    peak = float(change.max())
    if peak <= 0:
        return None
    strong = np.flatnonzero(change > 0.5 * peak)
    last = places[strong[-1]]
    weights = np.where((np.abs(places - last) < NEAR_EDGE_MM) & (change > 0.25 * peak), change, 0.0)
    if weights.sum() < LEAST_FAINT or weights.sum() < 0.3 * change.sum():
        return None
    return float((weights * places).sum() / weights.sum())
