"""Where a folded card is looked at from, and the light it is seen in.

The view is oblique and parallel: an `Eye` maps space to (right, down, towards the eye) in mm. The light comes from
the upper right behind the eye, so that panels at an angle to each other differ in brightness.
"""

from __future__ import annotations

import math

from msgspec import Struct

from dechirer.core.card.folding import Pose, Vector, dot, fold
from dechirer.core.card.panels import Face, PanelTree
from dechirer.core.shape.affine import Affine

TILT_DEG, TURN_DEG = 24.0, 30.0
"""How the front is looked at unless something else is asked for."""
MOST_TILT_DEG = 89.0
LIGHT: Vector = (0.24, -0.42, 0.875)
"""Where the light comes from, in the eye's own axes: from above, from behind the eye, a little from the right."""
DARKEST = 0.7
"""How bright a side is that no light falls on."""


class Eye(Struct, frozen=True):
    """The view: rows map space to (right, down, towards the eye)."""

    right: Vector
    down: Vector
    near: Vector

    def __call__(self, point: Vector) -> Vector:
        x, y, z = point
        a, b, c = self.right, self.down, self.near
        return (
            a[0] * x + a[1] * y + a[2] * z,
            b[0] * x + b[1] * y + b[2] * z,
            c[0] * x + c[1] * y + c[2] * z,
        )

    def over(self, pose: Pose, level: float) -> Affine:
        """The map from the flat sheet, at a height over it and placed by a pose, to the picture."""
        x, y, _ = self(pose((0.0, 0.0, level)))
        ax, ay, _ = self(pose.turn((1.0, 0.0, 0.0)))
        bx, by, _ = self(pose.turn((0.0, 1.0, 0.0)))
        return Affine(ax, ay, bx, by, x, y)

    def light(self, normal: Vector) -> float:
        """How bright a side is whose unit normal is given, from DARKEST to 1; the side that is turned to the eye."""
        seen = self(normal)
        sign = 1.0 if seen[2] >= 0 else -1.0
        shine = sign * sum(a * b for a, b in zip(seen, LIGHT, strict=True))
        return DARKEST + (1.0 - DARKEST) * max(0.0, min(1.0, shine * 1.08))

    def facing(self, normal: Vector) -> float:
        """1 for a side seen straight on, below zero for one turned away."""
        return dot(normal, self.near)


class Look(Struct, frozen=True):
    """A way to look at a card: towards the front or, `inside`, into it; turned and tilted from straight on."""

    turn_deg: float = TURN_DEG
    tilt_deg: float = TILT_DEG
    inside: bool = False

    def turned(self, across_deg: float, down_deg: float) -> Look:
        """Turned further about the card's upright axis, and tilted; never past looking straight down or up."""
        turn = (self.turn_deg + across_deg + 180.0) % 360.0 - 180.0
        tilt = max(-MOST_TILT_DEG, min(MOST_TILT_DEG, self.tilt_deg + down_deg))
        return Look(turn, tilt, self.inside)


FRONT = Look()
BACK = Look(180.0 - TURN_DEG, TILT_DEG)
INSIDE = Look(-14.0, 22.0, inside=True)
OPEN = Look(0.0, 0.0, inside=True)
OUTSIDE = Look(166.0, 22.0, inside=True)
"""The outside of a card that lies open."""


def look_at(tree: PanelTree, look: Look = FRONT, *, closed: float = 1.0) -> Eye:
    """The eye of a look: the closed card's front stands upright in it, or the inside of the panel that stays put."""
    front = _inner_face(tree) if look.inside else tree.faces[0]
    pose = fold(tree, 1.0 if not look.inside else closed)[front.panel]
    affine = front.to_flat
    right = pose.turn((affine.a, affine.b, 0.0))
    down = pose.turn((affine.c, affine.d, 0.0))
    near = pose.turn((0.0, 0.0, 1.0 if front.side == "outside" else -1.0))
    tilt, turn = math.radians(look.tilt_deg), math.radians(look.turn_deg)
    # Turn about the card's upright axis, then tilt about the level one.
    right2 = mix(right, math.cos(turn), near, math.sin(turn))
    near2 = mix(near, math.cos(turn), right, -math.sin(turn))
    down3 = mix(down, math.cos(tilt), near2, math.sin(tilt))
    near3 = mix(near2, math.cos(tilt), down, -math.sin(tilt))
    return Eye(right2, down3, near3)


def _inner_face(tree: PanelTree) -> Face:
    """The inside face of the panel that stays put; else of any other; else the front."""
    inner = [face for face in tree.faces if face.side == "inside"]
    return next((face for face in inner if face.panel == tree.root.id), inner[0] if inner else tree.faces[0])


def shade(colour: str, light: float) -> str:
    """A paper colour under more or less light, from 0 (black) to 1 (as it is)."""
    parts = [int(colour[place : place + 2], 16) for place in (1, 3, 5)]
    return "#" + "".join(f"{min(255, round(part * light)):02x}" for part in parts)


def mix(a: Vector, s: float, b: Vector, t: float) -> Vector:
    """`a s + b t`."""
    return a[0] * s + b[0] * t, a[1] * s + b[1] * t, a[2] * s + b[2] * t
