"""One arrangement of a mat."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.card.placed import Placement
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.figure import Figure


class MatLayout(Struct, frozen=True):
    """One arrangement of a mat, cut `repeats` times. `index` counts the layouts of its paper from 0."""

    id: str
    number: int
    paper: str
    index: int
    sheet: LoadedSheet
    face: str
    repeats: int
    placements: tuple[Placement, ...]
    share: Figure

    @property
    def is_blank(self) -> bool:
        """Whether what is loaded is a bought blank and not a sheet."""
        return any(placement.piece.blank for placement in self.placements)

    @property
    def is_pinned(self) -> bool:
        """Whether the maker has put its pieces down by hand."""
        return any(placement.pinned for placement in self.placements)
