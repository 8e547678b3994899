"""How envelopes are laid out flat: a body with flaps on its four sides, each style's flaps in a file of their own.

Outside up the body is the address side; the flaps fold behind it, so every fold is a mountain. A flap is given in a
frame of its own: its hinge from (0, 0) to (side, 0), outward in y.
"""

from __future__ import annotations

import math

from msgspec import Struct, structs

from dechirer.core.card.making import derive
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.construct.specs import ENVELOPES
from dechirer.core.figure import Figure
from dechirer.core.shape.affine import Affine, Points
from dechirer.core.shape.outline import bounds, clockwise, rectangle


class Inside(Struct, frozen=True):
    """What an envelope is made for: the sides of its inside, in mm. It opens along the long one, which keeps the flat
    short, so a card gives the same envelope upright and lying."""

    long: Figure
    short: Figure

    @property
    def is_square(self) -> bool:
        """Whether a style for square cards takes it."""
        return self.long.value - self.short.value <= SQUARE_MM


def make_inside(width: Figure, height: Figure) -> Inside:
    """The inside of that width and height (mm)."""
    long, short = (width, height) if width.value >= height.value else (height, width)
    return Inside(
        derive("envelope.long", "long side", long.value, "{" + long.name + "}", long),
        derive("envelope.short", "short side", short.value, "{" + short.name + "}", short),
    )


class Laid(Struct, frozen=True):
    """An envelope laid out flat: its panels, how high its body is and how deep its flaps are (mm), and whether it is
    turned to fit."""

    tree: PanelTree
    body: Figure
    side: Figure
    bottom: Figure
    top: Figure
    turned: bool = False


def flap(which: str, value: float, formula: str, *inputs: Figure) -> Figure:
    """How deep the `side`, `bottom` or `top` flap is (mm), by a formula."""
    return derive(f"envelope.flap-{which}", f"{which} flap", value, formula, *inputs)


def side_flap(inside: Inside, share: float, most: float, why: str) -> Figure:
    """How deep a side flap is: a share of the long side, but no deeper than `most` mm, and why."""
    value = share * inside.long.value
    if value > most:
        return Figure("envelope.flap-side", "side flap", most, source=why)
    return flap("side", value, f"{share} × " + "{long side}", inside.long)


def lay_out_envelope(style: str, inside: Inside, room: tuple[float, float]) -> Laid:
    """An envelope of that style, where the machine cuts `room` (width and height in mm) from its sheet.

    Raises:
        UnknownIdError: no such style.
    """
    laid: Laid = ENVELOPES[style].run(inside, room)
    return laid


def fitting_styles(inside: Inside, room: tuple[float, float]) -> tuple[str, ...]:
    """The styles that close over an inside and go on the sheet of that room (mm), turned as it may be."""
    found = []
    for spec in ENVELOPES:
        laid = lay_out_envelope(spec.id, inside, room)
        if overlap_of(laid) >= -SLACK_MM and (inside.is_square or not spec.wants_square) and _fits(laid.tree, room):
            found.append(spec.id)
    return tuple(found)


def overlap_of(laid: Laid) -> float:
    """How far the top and the bottom flap lie over each other, in mm; below zero a gap is left."""
    return laid.top.value + laid.bottom.value - laid.body.value


SLACK_MM = 1e-6
SQUARE_MM = 3.0
"""A style for square cards takes one whose sides differ by this much."""


def tapered(length: float, depth: float, inset: float) -> Points:
    """A flap that narrows by `inset` on both sides, in its own frame (mm); never to less than a fifth of its hinge."""
    inset = min(inset, 0.4 * length)
    return (0.0, 0.0), (length, 0.0), (length - inset, depth), (inset, depth)


def _fits(tree: PanelTree, room: tuple[float, float]) -> bool:
    """Whether the flat goes into a room, upright, by a quarter turn, or at its best turn."""
    points = tuple(point for panel in tree.panels for point in panel.outline)
    box = bounds(points)
    for wide, high in ((box.width, box.height), (box.height, box.width)):
        if wide <= room[0] + 1e-6 and high <= room[1] + 1e-6:
            return True
    if min(room) <= 0:
        return False
    from dechirer.core.shape.turning import find_best_turn

    turn = find_best_turn(points, *room)
    return turn.width <= room[0] + 1e-6 and turn.height <= room[1] + 1e-6


def make_envelope_tree(wide: float, high: float, flaps: dict[str, Points], *, glued: bool = True) -> PanelTree:
    """The body with its flaps: sides first, bottom, top last. Flap frames are turned so that outward is away. The
    bottom flap is `glued` on the side flaps, or a sticker holds all of them."""
    frames = {
        "left": Affine(0.0, 1.0, -1.0, 0.0, 0.0, 0.0),
        "right": Affine(0.0, -1.0, 1.0, 0.0, wide, high),
        "bottom": Affine(-1.0, 0.0, 0.0, 1.0, wide, high),
        "top": Affine(1.0, 0.0, 0.0, -1.0, 0.0, 0.0),
    }
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
        panels.append(Panel(name, f"{name} flap", clockwise(frames[name].all(flaps[name]))))
        start, end = ends[name]
        stuck = glued and name == "bottom"
        hinges.append(
            Hinge(f"fold-{name}", "body", name, start, end, "mountain", order=order, step=steps[name], glued=stuck)
        )
    faces = (
        # The inside first: an envelope is folded and seen from the side of its flaps.
        Face("inside", "body", "inside", wide, high, Affine(a=-1.0, e=wide)),
        Face("address side", "body", "outside", wide, high, Affine()),
    )
    return PanelTree(tuple(panels), tuple(hinges), faces)


def turn_tree(tree: PanelTree, angle: float) -> PanelTree:
    """The whole tree turned on its sheet by an angle in radians."""
    cos, sin = math.cos(angle), math.sin(angle)
    return map_tree(tree, Affine(cos, sin, -sin, cos, 0.0, 0.0))


def map_tree(tree: PanelTree, move: Affine) -> PanelTree:
    """The whole tree moved or turned on its sheet."""
    return PanelTree(
        tuple(
            structs.replace(each, outline=move.all(each.outline), holes=tuple(move.all(hole) for hole in each.holes))
            for each in tree.panels
        ),
        tuple(structs.replace(each, start=move(each.start), end=move(each.end)) for each in tree.hinges),
        tuple(Face(f.name, f.panel, f.side, f.width, f.height, f.to_flat.then(move)) for f in tree.faces),
    )
