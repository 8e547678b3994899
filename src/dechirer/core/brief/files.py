"""How a machine takes its files: where a plotter's origin lies, which way it counts, its units, and how far off it
draws, as a test square showed."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from msgspec import Meta

from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.outline import Box

Corner = Literal["bottom-left", "top-left", "top-right", "bottom-right"]
CORNERS: dict[Corner, str] = {
    "bottom-left": "lower left",
    "top-left": "upper left",
    "top-right": "upper right",
    "bottom-right": "lower right",
}
PLOTTER_PER_MM = 40.0
"""Units of the published plotter language to the mm."""
SQUARE_MM = 100.0
TICK_MM = 10.0
TRUE_SHARE = 0.0005
"""Sides that are measured this near are true: a rule is read to about 0.05 mm on 100."""
MOST_STRETCH = 2.0
UNITS_SHARE = 0.03
"""Farther off it is no matter of rollers: the units are taken for others."""
UNITS = {96 / 72: "96 units to the inch as if they were 72", 72 / 96: "72 units to the inch as if they were 96"}
"""What units are commonly taken for what, by how much larger everything becomes."""


class FilesTaken(Decisions, frozen=True):
    """How a machine takes its files.

    `origin` is the corner of the mat, as it lies before the machine, that a plotter's files count from; `turned` lets
    their first number run down the mat; `per_mm` is their units. `across` and `down` are how much larger lines are
    written, so that they come out true; `proved` is the day a test square was measured (empty: never).
    """

    origin: Annotated[Corner, Field("Plotter files count from", choices=tuple(CORNERS.items()))] = "bottom-left"
    turned: Annotated[bool, Field("Their first number runs down the mat")] = False
    per_mm: Annotated[float, Field("Plotter units to the mm", 1, 2000)] = PLOTTER_PER_MM
    one_colour: Annotated[bool, Field("SVG in one colour: operations by their groups")] = False
    across: Annotated[float, Field("Written larger across", 0.4, 2.5, hidden=True)] = 1.0
    down: Annotated[float, Field("Written larger down", 0.4, 2.5, hidden=True)] = 1.0
    proved: Annotated[str, Meta(max_length=10), Field("Proved on", hidden=True)] = ""

    @property
    def stretch(self) -> Affine | None:
        """What is written in place of the mat's own places; None where the machine draws true."""
        return None if self.across == self.down == 1.0 else Affine(a=self.across, d=self.down)


def counted(files: FilesTaken, width: float, height: float) -> Affine:
    """From places on a mat (mm, from its upper left corner, downwards) to what a plotter's file counts, in mm."""
    right, low = "right" in files.origin, "bottom" in files.origin
    straight = Affine(a=-1.0 if right else 1.0, d=-1.0 if low else 1.0, e=width if right else 0.0, f=height * low)
    # It is off by a share of what it counts, so that is corrected.
    stretched = straight if files.stretch is None else straight.then(files.stretch)
    return stretched.then(Affine(a=0.0, b=1.0, c=1.0, d=0.0)) if files.turned else stretched


def square_side(reach: Box) -> float:
    """How large a test square is cut: 100 mm, or what the carriage reaches less room round it, in tens (mm)."""
    room = min(reach.width, reach.height) - 2 * TICK_MM
    return min(SQUARE_MM, max(TICK_MM, 10 * math.floor(room / 10)))


def correction(side: float, measured: float) -> float:
    """How much larger lines have to be written so that they come out true, from a side of the test square.

    Raises:
        ValueError: that is no measure of this square.
    """
    share = measured / side
    if not 1 / MOST_STRETCH <= share <= MOST_STRETCH:
        raise ValueError(f"the square was written {side:g} mm, and this is {measured:g} mm; measure once more")
    return 1.0 if abs(share - 1) <= TRUE_SHARE else side / measured


def told_by(side: float, across: float, down: float) -> str:
    """What the two measured sides of a test square say of the machine, in words."""
    shares = (across / side, down / side)
    if all(abs(share - 1) <= TRUE_SHARE for share in shares):
        return "It draws true."
    for share, words in UNITS.items():
        if all(abs(each / share - 1) < UNITS_SHARE for each in shares):
            return (
                f"It takes {words}. If the program that sends the files can be told, tell it; else lines are written "
                f"{1 / share:.3g} times as large."
            )
    if all(abs(share - 1) < UNITS_SHARE for share in shares):
        off = ", ".join(
            f"{100 * (share - 1):+.2f} % {side}".replace("-", "−")
            for share, side in zip(shares, ("across", "down"), strict=True)
        )
        return f"It draws {off}; all lines are written as much the other way."
    return "Units seem to be taken for others; lines are written so that they come out true."


def mended_origin(origin: Corner, tick: Corner) -> Corner:
    """The corner plotter's files count from, when the tick of the test square, written in the upper left, was cut in
    another corner."""
    low, right = "bottom" in origin, "right" in origin
    if "bottom" in tick:
        low = not low
    if "right" in tick:
        right = not right
    found: dict[tuple[bool, bool], Corner] = {
        (True, False): "bottom-left",
        (False, False): "top-left",
        (False, True): "top-right",
        (True, True): "bottom-right",
    }
    return found[low, right]
