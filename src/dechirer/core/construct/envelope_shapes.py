"""How envelopes are laid out flat: glued side flaps, a fold-over back, half-hexagon flaps, round petals.

Outside up the body is the address side; the flaps fold behind it, so every fold is a mountain. For half-hexagon flaps
(a regular hexagon as wide from corner to corner as the side it sits on) the depth is sqrt(3) / 4 x side. Round petals
are half discs on a square body S: 2 S upright and S (1 + sqrt(2) / 2) turned by 45 degrees (plain geometry).
"""

from __future__ import annotations

import math

from dechirer.core.construct.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.figure import Figure
from dechirer.core.shape.affine import Affine, Points
from dechirer.core.shape.outline import bounds, rectangle

HEXAGON = math.sqrt(3) / 4
"""Depth of half a regular hexagon over its width from corner to corner."""
FLAT_MM = 0.01
FOLD_OVER_SHORT_MM = 6.0
"""How much lower the back of a fold-over envelope is than its front, so that a card goes in easily."""
STYLES = ("glued", "fold-over", "hexagon", "petal")


def lay_out_envelope(style: str, wide: float, high: float, longest: float) -> tuple[PanelTree, bool, float]:
    """An envelope of that style for an inside of wide x high (mm), whether it is turned by 45 degrees to fit, and how
    high its body is."""
    if style == "petal":
        wide = high = max(wide, high)
    elif style in ("glued", "fold-over"):
        wide, high = max(wide, high), min(wide, high)  # it opens along its long side, which keeps the flat short
    if style == "fold-over":
        return _make_fold_over(wide, high), False, high
    flaps = {"glued": _glued_flaps, "hexagon": _hexagon_flaps, "petal": _petal_flaps}[style](wide, high)
    tree = _make_tree(wide, high, flaps)
    if style == "petal" and _span(tree) > longest:
        return _turn(tree, math.pi / 4), True, high
    return tree, False, high


def fitting_styles(sizes: list[Figure], longest: float) -> tuple[str, ...]:
    """The styles that close over an inside of those two sizes and fit a square of `longest` mm as they are laid out."""
    wide, high = sizes[0].value, sizes[1].value
    found = []
    for style in STYLES:
        tree, _, body = lay_out_envelope(style, wide, high, longest)
        closes = style != "hexagon" or reach_of(tree, "top") + reach_of(tree, "bottom") >= body
        square = style != "petal" or abs(wide - high) <= 3.0
        if closes and square and _fits(tree, longest):
            found.append(style)
    return tuple(found)


def _fits(tree: PanelTree, longest: float) -> bool:
    """Whether the flat fits a square of that side upright or at its best turn."""
    if _span(tree) <= longest + 1e-6:
        return True
    from dechirer.core.shape.turning import find_smallest_square

    return find_smallest_square(tuple(p for panel in tree.panels for p in panel.outline)).width <= longest + 1e-6


def reach_of(tree: PanelTree, name: str) -> float:
    """How far a flap reaches from its hinge (mm)."""
    hinge = next(each for each in tree.hinges if each.child == name)
    (x0, y0), (x1, y1) = hinge.start, hinge.end
    length = math.dist(hinge.start, hinge.end)
    outline = tree.panel(name).outline
    return max(abs((x - x0) * (y1 - y0) - (y - y0) * (x1 - x0)) / length for x, y in outline)


def _make_fold_over(wide: float, high: float) -> PanelTree:
    """The body with a back as high as itself that folds up over two narrow glue flaps, and a top flap over that."""
    glue = min(14.0, wide * 0.12)
    back = high - FOLD_OVER_SHORT_MM
    flap = high * 0.45
    side = ((0.0, 0.0), (high, 0.0), (high - glue * 0.6, glue), (glue * 0.6, glue))
    flaps: dict[str, Points] = {
        "left": side,
        "right": side,
        "bottom": ((0.0, 0.0), (wide, 0.0), (wide - 1.0, back), (1.0, back)),
        "top": ((0.0, 0.0), (wide, 0.0), (wide - flap * 0.5, flap), (flap * 0.5, flap)),
    }
    return _make_tree(wide, high, flaps)


def _glued_flaps(wide: float, high: float) -> dict[str, Points]:
    """Flaps in their own frame: along the hinge from (0, 0) to (side, 0), outward in y."""
    side = min(0.22 * wide, 32.0)

    def tapered(length: float, depth: float, inset: float) -> Points:
        return (0.0, 0.0), (length, 0.0), (length - inset, depth), (inset, depth)

    return {
        "left": tapered(high, side, side * 0.5),
        "right": tapered(high, side, side * 0.5),
        "bottom": tapered(wide, high * 0.66, 3.0 + wide * 0.04),
        "top": tapered(wide, high * 0.48, wide * 0.16),
    }


def _hexagon_flaps(wide: float, high: float) -> dict[str, Points]:
    def half(side: float) -> Points:
        return (0.0, 0.0), (side, 0.0), (side * 0.75, side * HEXAGON), (side * 0.25, side * HEXAGON)

    return {"left": half(high), "right": half(high), "bottom": half(wide), "top": half(wide)}


def _petal_flaps(wide: float, high: float) -> dict[str, Points]:
    radius = wide / 2
    steps = 4 * max(8, math.ceil(math.pi / math.acos(1 - FLAT_MM / radius) / 4))
    petal = tuple(
        (radius + radius * math.cos(math.pi * step / steps), radius * math.sin(math.pi * step / steps))
        for step in range(steps, -1, -1)
    )
    return dict.fromkeys(("left", "right", "bottom", "top"), petal)


def _make_tree(wide: float, high: float, flaps: dict[str, Points]) -> PanelTree:
    """The body with its flaps: sides first, bottom, top last. Flap frames are turned so that outward is away."""
    frames = {
        "left": Affine(0.0, 1.0, -1.0, 0.0, 0.0, 0.0),
        "right": Affine(0.0, -1.0, 1.0, 0.0, wide, high),
        "bottom": Affine(-1.0, 0.0, 0.0, 1.0, wide, high),
        "top": Affine(1.0, 0.0, 0.0, -1.0, 0.0, 0.0),
    }
    # Mirrored frames (determinant below zero) only change the order of a symmetric flap's points.
    ends = {
        "left": ((0.0, 0.0), (0.0, high)),
        "right": ((wide, high), (wide, 0.0)),
        "bottom": ((wide, high), (0.0, high)),
        "top": ((0.0, 0.0), (wide, 0.0)),
    }
    panels = [Panel("body", "address side", rectangle(wide, high))]
    hinges = []
    steps = {
        "left": "fold the side flaps in",
        "right": "fold the side flaps in",
        "bottom": "fold the bottom flap up",
        "top": "close the top flap",
    }
    for order, name in ((1, "left"), (1, "right"), (2, "bottom"), (3, "top")):
        panels.append(Panel(name, f"{name} flap", frames[name].all(flaps[name])))
        start, end = ends[name]
        hinges.append(Hinge(f"fold-{name}", "body", name, start, end, "mountain", order=order, step=steps[name]))
    faces = (
        # The inside first: an envelope is folded and seen from the side of its flaps.
        Face("inside", "body", "inside", wide, high, Affine(a=-1.0, e=wide)),
        Face("address side", "body", "outside", wide, high, Affine()),
    )
    return PanelTree(tuple(panels), tuple(hinges), faces)


def _span(tree: PanelTree) -> float:
    box = bounds([point for panel in tree.panels for point in panel.outline])
    return max(box.width, box.height)


def _turn(tree: PanelTree, angle: float) -> PanelTree:
    cos, sin = math.cos(angle), math.sin(angle)
    return map_tree(tree, Affine(cos, sin, -sin, cos, 0.0, 0.0))


def map_tree(tree: PanelTree, move: Affine) -> PanelTree:
    """The whole tree moved or turned on its sheet."""
    return PanelTree(
        tuple(Panel(each.id, each.name, move.all(each.outline)) for each in tree.panels),
        tuple(
            Hinge(
                each.id,
                each.parent,
                each.child,
                move(each.start),
                move(each.end),
                each.sense,
                each.closed_deg,
                each.order,
                each.step,
                each.axis_z,
            )
            for each in tree.hinges
        ),
        tuple(Face(f.name, f.panel, f.side, f.width, f.height, f.to_flat.then(move)) for f in tree.faces),
    )
