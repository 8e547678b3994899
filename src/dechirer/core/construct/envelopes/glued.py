"""Glued envelope: two side flaps in, the bottom flap glued up over them, the top flap closes."""

from __future__ import annotations

from dechirer.core.construct.envelope_shapes import Laid, along_the_long_side, make_envelope_tree, tapered
from dechirer.core.construct.specs import ENVELOPES

FORMULA = "{inner width} and {inner height} with side, bottom and top flaps"


@ENVELOPES.add(
    "glued",
    title="glued",
    use="glued side flaps",
    order=10,
    words=lambda turned: (FORMULA, "Side flaps in, bottom flap up over them."),
)
def lay_out_glued(wide: float, high: float, _longest: float) -> Laid:
    """The body of wide x high (mm) with tapered flaps."""
    wide, high = along_the_long_side(wide, high)
    side = min(0.22 * wide, 32.0)
    flaps = {
        "left": tapered(high, side, side * 0.5),
        "right": tapered(high, side, side * 0.5),
        "bottom": tapered(wide, high * 0.66, 3.0 + wide * 0.04),
        "top": tapered(wide, high * 0.48, wide * 0.16),
    }
    return Laid(make_envelope_tree(wide, high, flaps), high)
