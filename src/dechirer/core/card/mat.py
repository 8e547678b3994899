"""A mat a sheet or bought blanks are loaded on, as every room to the right of Brief knows it."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.shape.outline import Box


class Mat(Struct, frozen=True):
    """A mat of a machine: its size and what the carriage reaches on it, in mm from its top left corner.

    Each of its `slots` takes the front of one folded blank, that lies against the slot's left side and up to its upper
    line; the back goes `under` the mat by at least so much. A mat without slots is tacky all over.
    """

    id: str
    name: str
    width: float
    height: float
    reach: Box
    slots: tuple[Box, ...] = ()
    under: float = 0.0

    def takes(self, width: float, height: float) -> bool:
        """Whether a front of that size (mm) goes into its slots."""
        return any(width <= slot.width + 0.05 and height <= slot.height + 0.05 for slot in self.slots)
