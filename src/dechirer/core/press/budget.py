"""How well print and cut will fit: two error budgets, and what a bleed buys.

Errors are standard deviations each way, independent of each other, so they add by the root of their squares; the worst
case is their plain sum of twice each. Read by marks, all that is affine in the printer's fault (shift, skew, scale)
moves with the marks and cancels; cut by the sheet's edge, all of it stays, and how the sheet was laid besides.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

from msgspec import Struct

from dechirer.core.brief.machine import Machine
from dechirer.core.brief.printer import Printer
from dechirer.core.figure import Figure
from dechirer.core.press.records import Calibration
from dechirer.core.shape.outline import Box

WORST = 2.0
"""The worst case takes every error at so many standard deviations, all one way."""
RIMS_MM = (0.2, 0.5, 1.0)
"""White rims that are told: just seen, plain, ugly (common practice)."""


class Budget(Struct, frozen=True):
    """How far a cut lies from its print: `typical` is one standard deviation each way, `worst` the worst case."""

    typical: Figure
    worst: Figure

    @property
    def mm(self) -> float:
        """The typical error in mm."""
        return self.typical.value


class Budgets(Struct, frozen=True):
    """Both budgets of a sheet: read by its marks, and cut by its edge; `used` is the one the sheet is cut by."""

    read: Budget
    unread: Budget
    by_marks: bool

    @property
    def used(self) -> Budget:
        """The budget of the way it is cut."""
        return self.read if self.by_marks else self.unread

    def figures(self) -> tuple[Figure, ...]:
        """Its figures."""
        return self.read.typical, self.read.worst, self.unread.typical, self.unread.worst


def make_budgets(
    printer: Printer,
    machine: Machine,
    room: Box,
    *,
    by_marks: bool,
    key: str = "press.fit",
    measured: tuple[tuple[Calibration, ...], tuple[Calibration, ...]] = ((), ()),
) -> Budgets:
    """Both budgets at the corners of a room to print: from what was measured where something was, else from profiles.

    Args:
        measured: what is known of sheets cut by marks, and of those cut by their edge.
    """
    parts = _of_profiles(printer, machine, room, key)
    names = ("read", "fit, cut by the marks"), ("unread", "fit, cut by the sheet's edge")
    both = [
        _budget(f"{key}.{id}", name, _measured(f"{key}.{id}", room, known) if known else own)
        for (id, name), own, known in zip(names, parts, measured, strict=True)
    ]
    return Budgets(both[0], both[1], by_marks and machine.reader is not None)


def _of_profiles(
    printer: Printer, machine: Machine, room: Box, key: str
) -> tuple[tuple[Figure, ...], tuple[Figure, ...]]:
    """The errors of both ways of cutting, as the profiles state them.

    A skew of a moves a corner by a times its distance across and down; over both ways that is a times half the room's
    diagonal over the root of two (plain geometry). A wrong scale does the same along the other way.
    """
    lever = math.hypot(room.width, room.height) / 2 / math.sqrt(2)
    reader = machine.reader

    def part(name: str, title: str, value: float, source: str, kind: str = "fine") -> Figure:
        return Figure(f"{key}.{name}", title, value, kind, source=source)

    arm = part("lever", "lever of a corner", lever, "half the diagonal of the room over the root of two", "length")
    carriage = part("carriage", "the carriage", machine.cuts_to, "the machine's profile")
    uneven = part("uneven", "uneven feed", printer.uneven, "the printer's profile")
    marks = part("marks", "reading of the marks", reader.read_to if reader else 0.0, "the machine's profile")
    shift = part("shift", "placing of the ink", printer.placed_to, "the printer's profile")
    laid = part("laid", "laying of the sheet", machine.laid_to, "the machine's profile")
    skew = Figure(
        f"{key}.skew",
        "skew of the feed",
        math.radians(printer.skew_deg) * lever,
        "fine",
        formula="{skew in radians} × {lever of a corner}",
        inputs=(
            part(
                "radians",
                "skew in radians",
                math.radians(printer.skew_deg),
                f"{printer.skew_deg:g} degrees, the printer's profile",
                "plain",
            ),
            arm,
        ),
    )
    scale = Figure(
        f"{key}.scale",
        "scale of the print",
        printer.scale_share / 100 * lever,
        "fine",
        formula="{share of the scale} × {lever of a corner}",
        inputs=(
            part(
                "share",
                "share of the scale",
                printer.scale_share / 100,
                f"{printer.scale_share:g} %, the printer's profile",
                "plain",
            ),
            arm,
        ),
    )
    return (marks, carriage, uneven), (shift, skew, scale, laid, carriage, uneven)


def _measured(key: str, room: Box, known: tuple[Calibration, ...]) -> tuple[Figure, ...]:
    """What was measured, as errors each way at the corners of a room: the root mean square of all pages."""
    pages = "1 page" if len(known) == 1 else f"{len(known)} pages"
    source = f"measured on {pages}, the last on {known[0].made}"
    across, down = room.width / 2, room.height / 2

    def part(name: str, title: str, squares: Iterable[float]) -> Figure:
        found = list(squares)
        return Figure(f"{key}.{name}", title, math.sqrt(sum(found) / len(found)), "fine", source=source)

    skews = (math.radians(each.skew_deg) ** 2 * (across**2 + down**2) / 2 for each in known)
    scales = (((each.wide / 100 * across) ** 2 + (each.high / 100 * down) ** 2) / 2 for each in known)
    return (
        part("offset", "print beside its cut", ((each.right**2 + each.down**2) / 2 for each in known)),
        part("size", "print too large or small at a corner", scales),
        part("turn", "print askew at a corner", skews),
        part("strays", "single places", (each.spread**2 for each in known)),
    )


def _budget(key: str, name: str, parts: tuple[Figure, ...]) -> Budget:
    squares = " + ".join("{" + each.name + "}²" for each in parts)
    typical = Figure(
        key,
        name,
        math.sqrt(sum(each.value**2 for each in parts)),
        "fine",
        formula=f"√({squares})",
        inputs=parts,
        note="Typical, each way: two in three lie nearer.",
    )
    plain = " + ".join("{" + each.name + "}" for each in parts)
    worst = Figure(
        f"{key}.worst",
        f"{name}, at worst",
        WORST * sum(each.value for each in parts),
        "fine",
        formula=f"{WORST:g} × ({plain})",
        inputs=parts,
    )
    return Budget(typical, worst)


def chance_of_rim(typical: float, rim: float, bleed: float) -> float:
    """How likely a bare rim wider than `rim` mm shows on one edge, of errors that are normal with that deviation (mm).

    The cut has to lie past the bleed by more than the rim; on an edge that is one-sided.
    """
    if typical <= 0:
        return 0.0
    return 0.5 * math.erfc((rim + bleed) / (typical * math.sqrt(2)))
