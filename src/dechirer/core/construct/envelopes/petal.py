"""Petal envelope: half discs on a square body S; 2 S upright, S (1 + sqrt(2) / 2) turned by 45 degrees (geometry)."""

from __future__ import annotations

import math

from dechirer.core.construct.envelope_shapes import Laid, make_envelope_tree, span_of, turn_tree
from dechirer.core.construct.specs import ENVELOPES

FLAT_MM = 0.01
NOTE = "Opposite petals meet in one point: close it with a sticker or a band."


def _words(turned: bool) -> tuple[str, str]:
    turn = " × (1 + √2 ÷ 2), turned by 45°" if turned else " × 2"
    return "the larger of {inner width} and {inner height}" + turn, NOTE


@ENVELOPES.add("petal", title="petal", use="petals", order=40, words=_words, wants_square=True)
def lay_out_petal(wide: float, high: float, longest: float) -> Laid:
    """A square body with a half disc on each side, turned by 45 degrees where it is too long upright (mm)."""
    side = max(wide, high)
    radius = side / 2
    steps = 4 * max(8, math.ceil(math.pi / math.acos(1 - FLAT_MM / radius) / 4))
    petal = tuple(
        (radius + radius * math.cos(math.pi * step / steps), radius * math.sin(math.pi * step / steps))
        for step in range(steps, -1, -1)
    )
    tree = make_envelope_tree(side, side, dict.fromkeys(("left", "right", "bottom", "top"), petal))
    turned = span_of(tree) > longest
    return Laid(turn_tree(tree, math.pi / 4) if turned else tree, side, turned)
