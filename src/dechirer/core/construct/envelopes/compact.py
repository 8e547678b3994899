"""Compact envelope: four pointed flaps that meet a little past the middle; the least paper for a thick square card.

On a square body S the flaps make a square that stands on its corner: turned by 45 degrees the flat is sqrt(2) (S +
overlap) wide, where one with flaps as deep as the body needs 2 S and more (plain geometry).
"""

from __future__ import annotations

from dechirer.core.construct.envelope_shapes import Inside, Laid, flap, make_envelope_tree
from dechirer.core.construct.specs import ENVELOPES
from dechirer.core.figure import Figure
from dechirer.core.shape.affine import Points

OVER_MM = 10.0
"""How far each of the two long flaps reaches past the middle, so that a sticker or glue holds (common practice)."""
BLUNT_MM = 8.0
"""Tips are cut off this wide: a sharp one catches."""


@ENVELOPES.add(
    "compact",
    title="compact, four pointed flaps",
    use="four pointed flaps",
    order=50,
    note="Sides in, bottom up over them, top down over all; glue or a sticker where they meet.",
)
def lay_out_compact(inside: Inside, _room: tuple[float, float]) -> Laid:
    """The body with four flaps to a little past its middle; Lay turns it where it fits only so."""
    long, short = inside.long.value, inside.short.value
    deep = short / 2 + OVER_MM
    side = flap("side", short / 2, "{short side} ÷ 2", inside.short)
    over = Figure("envelope.over", "past the middle", OVER_MM, source="what a sticker or glue wants (common practice)")
    bottom = flap("bottom", deep, "{short side} ÷ 2 + {past the middle}", inside.short, over)
    top = flap("top", deep, "{short side} ÷ 2 + {past the middle}", inside.short, over)
    flaps = {
        "left": _pointed(short, side.value),
        "right": _pointed(short, side.value),
        "bottom": _pointed(long, deep),
        "top": _pointed(long, deep),
    }
    tree = make_envelope_tree(long, short, flaps)
    return Laid(tree, inside.short, side, bottom, top)


def _pointed(base: float, deep: float) -> Points:
    """A flap that narrows to a blunt tip."""
    middle, half = base / 2, min(BLUNT_MM / 2, base / 4)
    return (0.0, 0.0), (base, 0.0), (middle + half, deep), (middle - half, deep)
