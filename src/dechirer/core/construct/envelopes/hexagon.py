"""Half-hexagon envelope: each flap is half a regular hexagon, as wide from corner to corner as the side it sits on.

Its depth is sqrt(3) / 4 x side (plain geometry), so opposite flaps meet only where 0.866 x the long side is the short.
"""

from __future__ import annotations

import math

from dechirer.core.construct.envelope_shapes import Inside, Laid, flap, make_envelope_tree
from dechirer.core.construct.specs import ENVELOPES
from dechirer.core.shape.affine import Points

HEXAGON = math.sqrt(3) / 4
"""Depth of half a regular hexagon over its width from corner to corner."""


@ENVELOPES.add("hexagon", title="hexagon", use="half-hexagon flaps", order=30, note="Half-hexagon flaps.")
def lay_out_hexagon(inside: Inside, _room: tuple[float, float]) -> Laid:
    """The body with half a hexagon on each side."""
    long, short = inside.long.value, inside.short.value

    def half(side: float) -> Points:
        return (0.0, 0.0), (side, 0.0), (side * 0.75, side * HEXAGON), (side * 0.25, side * HEXAGON)

    side = flap("side", HEXAGON * short, "√3 ÷ 4 × {short side}", inside.short)
    bottom, top = (flap(name, HEXAGON * long, "√3 ÷ 4 × {long side}", inside.long) for name in ("bottom", "top"))
    flaps = {"left": half(short), "right": half(short), "bottom": half(long), "top": half(long)}
    return Laid(make_envelope_tree(long, short, flaps), inside.short, side, bottom, top)
