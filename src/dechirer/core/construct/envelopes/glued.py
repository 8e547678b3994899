"""Glued envelope: two side flaps in, the bottom flap glued up over them, the top flap closes."""

from __future__ import annotations

from dechirer.core.construct.envelope_shapes import Inside, Laid, flap, make_envelope_tree, side_flap, tapered
from dechirer.core.construct.specs import ENVELOPES

SIDE, MOST_SIDE_MM, BOTTOM, TOP = 0.22, 32.0, 0.66, 0.48
"""How deep the flaps are, of the side they stand on or over (common practice, no published figure)."""


@ENVELOPES.add(
    "glued", title="glued", use="glued side flaps", order=10, note="Side flaps in, bottom flap up over them."
)
def lay_out_glued(inside: Inside, _room: tuple[float, float]) -> Laid:
    """The body with tapered flaps."""
    long, short = inside.long.value, inside.short.value
    side = side_flap(inside, SIDE, MOST_SIDE_MM, "deeper flaps do not hold better (common practice)")
    bottom = flap("bottom", BOTTOM * short, f"{BOTTOM} × " + "{short side}", inside.short)
    top = flap("top", TOP * short, f"{TOP} × " + "{short side}", inside.short)
    flaps = {
        "left": tapered(short, side.value, side.value * 0.5),
        "right": tapered(short, side.value, side.value * 0.5),
        "bottom": tapered(long, bottom.value, 3.0 + long * 0.04),
        "top": tapered(long, top.value, long * 0.16),
    }
    return Laid(make_envelope_tree(long, short, flaps), inside.short, side, bottom, top)
