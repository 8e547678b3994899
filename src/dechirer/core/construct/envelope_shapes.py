"""How envelopes are laid out flat: a body with flaps on its four sides, each style's flaps in a file of their own.

Outside up the body is the address side; the flaps fold behind it, so every fold is a mountain. A flap is given in a
frame of its own: its hinge from (0, 0) to (side, 0), outward in y.
"""

from __future__ import annotations

import math

from msgspec import Struct

from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.construct.specs import ENVELOPES
from dechirer.core.figure import Figure
from dechirer.core.shape.affine import Affine, Points
from dechirer.core.shape.outline import bounds, rectangle


class Laid(Struct, frozen=True):
    """An envelope laid out flat: its panels, how high its body is (mm), and whether it is turned to fit."""

    tree: PanelTree
    body: float
    turned: bool = False


def lay_out_envelope(style: str, wide: float, high: float, longest: float) -> Laid:
    """An envelope of that style for an inside of wide x high, where the machine cuts up to `longest` (mm).

    Raises:
        UnknownIdError: no such style.
    """
    laid: Laid = ENVELOPES[style].run(wide, high, longest)
    return laid


def fitting_styles(sizes: list[Figure], longest: float) -> tuple[str, ...]:
    """The styles that close over an inside of those two sizes and fit a square of `longest` mm as they are laid out."""
    wide, high = sizes[0].value, sizes[1].value
    found = []
    for spec in ENVELOPES:
        laid = lay_out_envelope(spec.id, wide, high, longest)
        square = not spec.wants_square or abs(wide - high) <= SQUARE_MM
        if closes(laid) and square and _fits(laid.tree, longest):
            found.append(spec.id)
    return tuple(found)


def closes(laid: Laid) -> bool:
    """Whether the top and the bottom flap meet."""
    return overlap_of(laid) >= 0


def overlap_of(laid: Laid) -> float:
    """How far the top and the bottom flap lie over each other, in mm; below zero a gap is left."""
    return reach_of(laid.tree, "top") + reach_of(laid.tree, "bottom") - laid.body


SQUARE_MM = 3.0
"""A style for square cards takes one whose sides differ by this much."""


def along_the_long_side(wide: float, high: float) -> tuple[float, float]:
    """The inside turned so that it opens along its long side, which keeps the flat short."""
    return max(wide, high), min(wide, high)


def tapered(length: float, depth: float, inset: float) -> Points:
    """A flap that narrows by `inset` on both sides, in its own frame (mm)."""
    return (0.0, 0.0), (length, 0.0), (length - inset, depth), (inset, depth)


def _fits(tree: PanelTree, longest: float) -> bool:
    """Whether the flat fits a square of that side upright or at its best turn."""
    if span_of(tree) <= longest + 1e-6:
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


def make_envelope_tree(wide: float, high: float, flaps: dict[str, Points]) -> PanelTree:
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


def span_of(tree: PanelTree) -> float:
    """The longer side of the box round a flat envelope, in mm."""
    box = bounds([point for panel in tree.panels for point in panel.outline])
    return max(box.width, box.height)


def turn_tree(tree: PanelTree, angle: float) -> PanelTree:
    """The whole tree turned on its sheet by an angle in radians."""
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
