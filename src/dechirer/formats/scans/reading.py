"""From files of scans to what they tell of a calibration page."""

from __future__ import annotations

from pathlib import Path

from msgspec import Struct

from dechirer.core.press.calibration import CalibrationPage, Measured, fit_places
from dechirer.core.stopping import checkpoint
from dechirer.formats.scans.finding import ScanError
from dechirer.formats.scans.measure import Scan, join_scans, measure_scan
from dechirer.formats.scans.opening import open_scan

LEAST_PLACES = 6


class Told(Struct, frozen=True):
    """What scans tell: each place, and the even map through them."""

    scan: Scan
    measured: Measured
    page: CalibrationPage


def read_scans(paths: list[Path], page: CalibrationPage) -> Told:
    """Measure one scan of a page, or several of the same one.

    Raises:
        ScanError: one cannot be read or measured; the message begins with its name.
        OSError: a file cannot be opened.
    """
    scans = []
    for path in paths:
        checkpoint(f"opening {path.name}", "")
        for glass in open_scan(path):
            checkpoint(f"measuring {path.name}", "")
            try:
                scans.append(measure_scan(glass.grey, glass.px_per_inch, page))
            except ScanError as error:
                raise ScanError(f"{path.name}: {error}") from None
    whole = join_scans(scans)
    if len(whole.numbers) < LEAST_PLACES:
        raise ScanError(f"{paths[0].name}: only {len(whole.numbers)} of {len(page.crosses)} crosses could be measured")
    return Told(whole, fit_places(tuple(page.crosses[number] for number in whole.numbers), whole.off), page)


def describe(told: Told) -> list[str]:
    """What was measured, in lines of words."""
    found, errors = told.measured, told.measured.errors
    lines = [
        f"{found.places} of {len(told.page.crosses)} crosses, at {told.scan.px_per_inch:.0f} pixels to the inch",
        f"the print lies {_side(found.right, 'right', 'left')} by {abs(found.right):.3f} mm (± {2 * errors[0]:.3f}), "
        f"{_side(found.down, 'lower', 'higher')} by {abs(found.down):.3f} mm (± {2 * errors[1]:.3f})",
        f"it is {abs(found.wide):.3f} % too {_side(found.wide, 'wide', 'narrow')} (± {2 * errors[2]:.3f}), "
        f"{abs(found.high):.3f} % too {_side(found.high, 'long', 'short')} (± {2 * errors[3]:.3f})",
        f"it is askew by {abs(found.skew_deg):.3f}° {_side(found.skew_deg, 'clockwise', 'the other way')} "
        f"(± {2 * errors[4]:.3f})",
        f"single places stray by {found.spread:.3f} mm",
    ]
    reasons: dict[str, list[int]] = {}
    for number, why in told.scan.missing:
        reasons.setdefault(why, []).append(number + 1)
    lines += [f"not measured, cross {', '.join(map(str, numbers))}: {why}" for why, numbers in reasons.items()]
    return [*lines, *told.scan.remarks]


def _side(value: float, above: str, below: str) -> str:
    return above if value >= 0 else below


def make_record(told: Told) -> dict[str, object]:
    """What was measured as plain data; lengths in mm, shares in percent, angles in degrees."""
    found = told.measured
    names = ("right_mm", "down_mm", "wide_percent", "high_percent", "skew_deg")
    values = (found.right, found.down, found.wide, found.high, found.skew_deg)
    return {
        "measured": dict(zip(names, values, strict=True)),
        "standard_errors": dict(zip(names, found.errors, strict=True)),
        "spread_mm": found.spread,
        "px_per_inch": told.scan.px_per_inch,
        "turned": told.scan.turned,
        "places": [
            {"cross": number + 1, "right_mm": x, "down_mm": y}
            for number, (x, y) in zip(told.scan.numbers, told.scan.off, strict=True)
        ],
        "missing": [{"cross": number + 1, "why": why} for number, why in told.scan.missing],
        "remarks": list(told.scan.remarks),
    }
