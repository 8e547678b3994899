"""An item as it was placed on its face."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.dress.drawn import Drawn
from dechirer.core.dress.words.lettering import Lettering


class Placed(Struct, frozen=True):
    """An item on its face as seen, in mm.

    Attributes:
        drawn: what it is after its recipe.
        start: what it was before, placed.
        source: left, top, right, bottom of its own ink before the recipe.
        region: left, top, right, bottom of the region it was placed in.
        sizing: how its size came about, in words, and `note` a remark to it.
        lettering: how its words were set.
        trouble: why there is nothing of it.
        stretch: its width factor over its height factor, 1 when the ratio is kept.
        stages: what there is after each step of its recipe; kept on the first kind of copies alone.
        nodes: to a mm of line, how many nodes the machine is given; 0 where that is few at sight.
    """

    drawn: Drawn
    start: Drawn
    source: tuple[float, float, float, float]
    region: tuple[float, float, float, float]
    sizing: str = ""
    note: str = ""
    lettering: Lettering | None = None
    trouble: str = ""
    stretch: float = 1.0
    scale: float = 1.0
    nodes: float = 0.0
    stages: tuple[Drawn, ...] = ()
    serial: int = 0
