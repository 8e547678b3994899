"""Half-hexagon envelope: each flap is half a regular hexagon, as wide from corner to corner as the side it sits on.

Its depth is sqrt(3) / 4 x side (plain geometry), so opposite flaps meet only where 0.866 x the width is the height.
"""

from __future__ import annotations

import math

from dechirer.core.construct.envelope_shapes import Laid, make_envelope_tree
from dechirer.core.construct.specs import ENVELOPES
from dechirer.core.shape.affine import Points

HEXAGON = math.sqrt(3) / 4
"""Depth of half a regular hexagon over its width from corner to corner."""
FORMULA = "{inner width} and {inner height} with flaps √3 ÷ 4 deep on each side"


@ENVELOPES.add(
    "hexagon",
    title="hexagon",
    use="half-hexagon flaps",
    order=30,
    words=lambda turned: (FORMULA, "Half-hexagon flaps."),
)
def lay_out_hexagon(wide: float, high: float, _longest: float) -> Laid:
    """The body of wide x high (mm) with half a hexagon on each side."""

    def half(side: float) -> Points:
        return (0.0, 0.0), (side, 0.0), (side * 0.75, side * HEXAGON), (side * 0.25, side * HEXAGON)

    flaps = {"left": half(high), "right": half(high), "bottom": half(wide), "top": half(wide)}
    return Laid(make_envelope_tree(wide, high, flaps), high)
