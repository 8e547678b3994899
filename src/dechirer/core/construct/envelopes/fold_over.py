"""Fold-over envelope: a back nearly as high as the front folds up over two narrow glue flaps, a top flap over that."""

from __future__ import annotations

from dechirer.core.construct.envelope_shapes import Inside, Laid, flap, make_envelope_tree, side_flap, tapered
from dechirer.core.construct.specs import ENVELOPES
from dechirer.core.figure import Figure

SIDE, MOST_SIDE_MM, TOP = 0.12, 14.0, 0.45
"""How deep its glue flaps and its top flap are (common practice, no published figure)."""
FOLD_OVER_SHORT_MM = 6.0
"""How much lower the back of a fold-over envelope is than its front, so that a card goes in easily."""
NOTE = "Glue the side flaps, fold the back up over them, close the top flap."


@ENVELOPES.add("fold-over", title="fold-over", use="a fold-over back", order=20, note=NOTE)
def lay_out_fold_over(inside: Inside, _room: tuple[float, float]) -> Laid:
    """The body with its back below it and narrow glue flaps at its sides."""
    long, short = inside.long.value, inside.short.value
    side = side_flap(inside, SIDE, MOST_SIDE_MM, "broader glue flaps do not hold better (common practice)")
    lower = Figure("envelope.lower", "lower by", FOLD_OVER_SHORT_MM, source="so that a card goes in easily")
    bottom = flap("bottom", short - lower.value, "{short side} − {lower by}", inside.short, lower)
    top = flap("top", TOP * short, f"{TOP} × " + "{short side}", inside.short)
    flaps = {
        "left": tapered(short, side.value, side.value * 0.6),
        "right": tapered(short, side.value, side.value * 0.6),
        "bottom": tapered(long, bottom.value, 1.0),
        "top": tapered(long, top.value, top.value * 0.5),
    }
    return Laid(make_envelope_tree(long, short, flaps), inside.short, side, bottom, top)
