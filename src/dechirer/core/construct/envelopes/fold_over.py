"""Fold-over envelope: a back nearly as high as the front folds up over two narrow glue flaps, a top flap over that."""

from __future__ import annotations

from dechirer.core.construct.envelope_shapes import Laid, along_the_long_side, make_envelope_tree, tapered
from dechirer.core.construct.specs import ENVELOPES

FOLD_OVER_SHORT_MM = 6.0
"""How much lower the back of a fold-over envelope is than its front, so that a card goes in easily."""
FORMULA = "{inner width} and {inner height} with side flaps, a back nearly as high, and a top flap"
NOTE = "Glue the side flaps, fold the back up over them, close the top flap."


@ENVELOPES.add("fold-over", title="fold-over", use="a fold-over back", order=20, words=lambda turned: (FORMULA, NOTE))
def lay_out_fold_over(wide: float, high: float, _longest: float) -> Laid:
    """The body of wide x high (mm) with its back below it and narrow glue flaps at its sides."""
    wide, high = along_the_long_side(wide, high)
    glue = min(14.0, wide * 0.12)
    back, flap = high - FOLD_OVER_SHORT_MM, high * 0.45
    flaps = {
        "left": tapered(high, glue, glue * 0.6),
        "right": tapered(high, glue, glue * 0.6),
        "bottom": tapered(wide, back, 1.0),
        "top": tapered(wide, flap, flap * 0.5),
    }
    return Laid(make_envelope_tree(wide, high, flaps), high)
