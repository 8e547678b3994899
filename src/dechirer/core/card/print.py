"""What is printed on a piece: areas in a colour, or the pixels of a picture within them."""

from __future__ import annotations

import math

from msgspec import Struct, structs

from dechirer.core.brought import Pixels
from dechirer.core.shape.affine import FINE_DIGITS, Affine, Points


class Raster(Struct, frozen=True):
    """The pixels of a picture as they lie: `to` maps places in the pixel grid, counted from its top left corner, to mm.

    A picture that `goes_on` was cropped: what it shows past its areas belongs to it as well, and may be its bleed.
    """

    pixels: Pixels
    to: Affine
    goes_on: bool = False

    def moved(self, map: Affine) -> Raster:
        """The same, mapped, its place to the nanometre."""
        to = self.to.then(map)
        return structs.replace(self, to=structs.replace(to, e=round(to.e, FINE_DIGITS), f=round(to.f, FINE_DIGITS)))

    @property
    def px_per_inch(self) -> float:
        """The fewer of its pixels to the inch, across or down."""
        return 25.4 / max(math.hypot(self.to.a, self.to.b), math.hypot(self.to.c, self.to.d), 1e-9)


class Print(Struct, frozen=True):
    """Something printed on a piece, seen outside up, in the order it is printed.

    `rings` are its areas, each with its outer ring first and then its holes, in mm; `side` is the side of the piece it
    is printed on, `outside-up` or `inside-up`. Its ink is `colour` all over, or the pixels of `raster`. `bleed` are
    areas beside the paper, or in its openings, that are printed as well, so that no bare rim shows where the cut is
    off.
    """

    id: str
    item: str
    name: str
    colour: str
    rings: tuple[tuple[Points, ...], ...]
    side: str = "outside-up"
    raster: Raster | None = None
    words: bool = False
    bleed: tuple[tuple[Points, ...], ...] = ()

    def moved(self, map: Affine) -> Print:
        """The same, mapped."""
        rings, bleed = (tuple(tuple(map.all(ring) for ring in area) for area in of) for of in (self.rings, self.bleed))
        return structs.replace(self, rings=rings, bleed=bleed, raster=self.raster.moved(map) if self.raster else None)
