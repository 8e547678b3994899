"""The calibration page: crosses to be printed and squares to be cut round them, and what measuring them tells.

A square that is cut falls out and takes the middle of its cross along; what is read are the ends of the arms that stay.
"""

from __future__ import annotations

import math
import zlib
from typing import Literal

from msgspec import Struct

from dechirer.core.brief.machine import Reader
from dechirer.core.card.registration import Registration, stand_round
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.press.records import Calibration
from dechirer.core.shape.affine import Point, Points

ACROSS, DOWN = 5, 7
SQUARE_MM = 8.0
ARM_MM = 7.0
"""Each arm of a cross is so long: three of it stay outside the square."""
LINE_MM = 0.35
APART_MM = 18.0
"""Crosses nearer to each other than this would touch."""


class CalibrationPage(Struct, frozen=True):
    """A calibration page in the frame of its sheet, mm from its top left corner: the middles of the crosses row by row,
    and the rings by which a scan of it is found; `read` says that the machine reads these before it cuts."""

    sheet: LoadedSheet
    crosses: Points
    rings: Registration
    read: bool

    def squares(self) -> tuple[Points, ...]:
        """The squares that are cut, closed."""
        half = SQUARE_MM / 2
        corners = ((-half, -half), (half, -half), (half, half), (-half, half), (-half, -half))
        return tuple(tuple((x + dx, y + dy) for dx, dy in corners) for x, y in self.crosses)


def make_calibration_page(sheet: LoadedSheet, reader: Reader | None = None) -> CalibrationPage:
    """A calibration page for a sheet as it is loaded.

    Args:
        reader: whose rings a sheet without marks is given, for its scan to be found by; None for those of its own.

    Raises:
        ValueError: the room is too small for crosses.
    """
    room, marks = sheet.room, sheet.registration
    if marks is None:
        own = reader or Reader(width=sheet.width, height=sheet.height)
        room = room.grown(-own.strip)
        marks = stand_round(room, own.apart, own.ring, own.ring_inside, own.ring + own.quiet, own.dot)
    inset = ARM_MM + 1.0
    wide, high = room.width - 2 * inset, room.height - 2 * inset
    if min(wide, high) < APART_MM:
        raise ValueError("the room to print is too small for a calibration page")
    across, down = min(ACROSS, int(wide / APART_MM) + 1), min(DOWN, int(high / APART_MM) + 1)
    crosses = tuple(
        (room.left + inset + wide * column / (across - 1), room.top + inset + high * row / (down - 1))
        for row in range(down)
        for column in range(across)
    )
    return CalibrationPage(sheet, crosses, marks, sheet.registration is not None)


class Measured(Struct, frozen=True):
    """What was measured at the places of a page: how far the print lies from the cut there (mm, to the right and down),
    fitted by an even map; `errors` are the standard errors of right, down, wide, high and skew, in their units."""

    right: float
    down: float
    wide: float
    high: float
    skew_deg: float
    spread: float
    places: int
    errors: tuple[float, float, float, float, float]

    def at(self, place: Point, middle: Point) -> Point:
        """How far the print lies from the cut at a place, by the even map."""
        x, y = place[0] - middle[0], place[1] - middle[1]
        skew = math.radians(self.skew_deg)
        return self.right + self.wide / 100 * x - skew * y, self.down + self.high / 100 * y + skew * x


FLOOR_MM = 0.002
"""No scan is better than this, however well its places agree."""


def fit_places(places: Points, off: Points) -> Measured:
    """The even map of least squares through what was measured: shift, scale each way and skew.

    Args:
        places: of the crosses on the page, mm.
        off: print less cut at each, mm.

    Raises:
        ValueError: fewer than four places.
    """
    import numpy as np

    if len(places) < 4:
        raise ValueError("at least four places are needed")
    middle = middle_of(places)
    at, by = np.array(places) - middle, np.array(off)
    count = len(at)
    rows = np.zeros((2 * count, 5))
    rows[:count, 0], rows[count:, 1] = 1.0, 1.0
    rows[:count, 2], rows[count:, 3] = at[:, 0], at[:, 1]
    rows[:count, 4], rows[count:, 4] = -at[:, 1], at[:, 0]
    values = np.concatenate([by[:, 0], by[:, 1]])
    solved, *_ = np.linalg.lstsq(rows, values, rcond=None)
    left = values - rows @ solved
    variance = float(left @ left) / max(1, 2 * count - 5)
    errors = np.sqrt(np.diag(np.linalg.inv(rows.T @ rows)) * variance)
    lever = max(float(np.hypot(*at.T).max()), 1.0)
    floors = np.array([FLOOR_MM, FLOOR_MM, FLOOR_MM / lever, FLOOR_MM / lever, FLOOR_MM / lever])
    errors = np.hypot(errors, floors)
    units = np.array([1.0, 1.0, 100.0, 100.0, math.degrees(1.0)])
    right, down, wide, high, skew = (solved * units).tolist()
    told = tuple((errors * units).tolist())
    return Measured(right, down, wide, high, skew, math.sqrt(variance), count, told)


def middle_of(places: Points) -> Point:
    """The middle of some places."""
    return sum(x for x, _ in places) / len(places), sum(y for _, y in places) / len(places)


def record_of(
    found: Measured, names: tuple[str, str, str], by: Literal["marks", "edge"], made: str, how: str
) -> Calibration:
    """What was measured, as it is kept.

    Args:
        names: of the paper, the printer and the machine.
        by: how the page was cut.
        made: the date, as 2026-01-31.
        how: `scan` or `typed`.
    """
    told = (found.right, found.down, found.wide, found.high, found.skew_deg, found.spread)
    seal = zlib.crc32(repr((names, by, made, told)).encode())
    right, down, wide, high, skew, spread = (round(each, 5) for each in told)
    shares = {"wide": wide, "high": high, "skew_deg": skew, "spread": spread, "places": found.places, "how": how}
    return Calibration(f"calibration-{seal:08x}", made, *names, by, right, down, **shares)  # type: ignore[arg-type]
