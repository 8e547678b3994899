"""Petal envelope: half discs on a square body S; 2 S upright, S (1 + sqrt(2) / 2) turned by 45 degrees (geometry)."""

from __future__ import annotations

import math

from dechirer.core.construct.envelope_shapes import Inside, Laid, flap, make_envelope_tree, turn_tree
from dechirer.core.construct.specs import ENVELOPES

FLAT_MM = 0.01
NOTE = "Opposite petals meet in one point: close it with a sticker or a band."


@ENVELOPES.add("petal", title="petal", use="petals", order=40, note=NOTE, wants_square=True)
def lay_out_petal(inside: Inside, room: tuple[float, float]) -> Laid:
    """A square body with a half disc on each side, turned by 45 degrees where it does not go on the sheet upright."""
    side = inside.long.value
    radius = side / 2
    steps = 4 * max(8, math.ceil(math.pi / math.acos(1 - FLAT_MM / radius) / 4))
    petal = tuple(
        (radius + radius * math.cos(math.pi * step / steps), radius * math.sin(math.pi * step / steps))
        for step in range(steps, -1, -1)
    )
    flaps = dict.fromkeys(("left", "right", "bottom", "top"), petal)
    tree = make_envelope_tree(side, side, flaps, glued=False)
    turned = 2 * side > min(room)
    deep = {name: flap(name, radius, "{long side} ÷ 2", inside.long) for name in ("side", "bottom", "top")}
    return Laid(turn_tree(tree, math.pi / 4) if turned else tree, inside.long, turned=turned, **deep)
