"""The sheet on the mat, as every room to the right of Dress knows it."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.card.mat import Mat
from dechirer.core.card.registration import Registration
from dechirer.core.shape.outline import Box


class LoadedSheet(Struct, frozen=True):
    """A sheet as it lies on the mat, its top left corner `left` and `top` from the mat's: in its corner where both are
    0. Places and boxes are counted from the mat's corner. Lengths in mm.

    `room` is where pieces may lie: what the carriage reaches, less the margin round the sheet's edge.
    `trimmed` says that the sheet is larger than the mat and has to be cut down to it first; `per_sheet` is how many
    mats are loaded from one sheet then. One that is printed first has its room where it can be printed, `printable` is
    what the printer reaches of it, and its `registration` stands round the room where it is cut by marks. Where
    blanks are loaded in slots, width and height are those of one front, and `slots` are where the fronts lie. An
    `offcut` is no whole sheet. `size_number` tells which of its paper's sheet sizes it is, from 0.
    """

    width: float
    height: float
    turned: bool
    trimmed: bool
    room: Box
    mat: Mat
    per_sheet: int = 1
    registration: Registration | None = None
    printable: Box | None = None
    left: float = 0.0
    top: float = 0.0
    slots: tuple[Box, ...] = ()
    offcut: bool = False
    size_number: int = 0

    @property
    def box(self) -> Box:
        """The sheet itself, on the mat."""
        return Box(self.left, self.top, self.left + self.width, self.top + self.height)

    @property
    def cut_areas(self) -> tuple[Box, ...]:
        """Where lines can be run: what is on the mat of the sheet, or of each front, and in reach."""
        return tuple(each.within(self.mat.reach) for each in self.slots or (self.box,))

    @property
    def first_edge(self) -> str:
        """Which edge goes in first, in words."""
        if abs(self.width - self.height) < 0.5:
            return "any edge, the sheet is square"
        return "a short edge" if self.width < self.height else "a long edge"
