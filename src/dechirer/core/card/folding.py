"""Folding in three dimensions: where each panel is at any opening of the card.

Space: x and y as on the flat sheet with its outside up, z towards the viewer of the outside, so the sheet
of thickness t fills z from 0 (inside) to t (outside). Rotation by Rodrigues' formula, about each hinge's axis at
its own height (`Hinge.axis_z`).
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from msgspec import Struct, structs

from dechirer.core.card.panels import Hinge, PanelTree

Vector = tuple[float, float, float]


class Pose(Struct, frozen=True):
    """A rigid placement: `rows` is the 3 x 3 rotation, `offset` the move after it, in mm."""

    rows: tuple[Vector, Vector, Vector]
    offset: Vector

    def __call__(self, point: Vector) -> Vector:
        """Place a point."""
        x, y, z = point
        a, b, c = self.rows
        dx, dy, dz = self.offset
        return (
            a[0] * x + a[1] * y + a[2] * z + dx,
            b[0] * x + b[1] * y + b[2] * z + dy,
            c[0] * x + c[1] * y + c[2] * z + dz,
        )

    def turn(self, direction: Vector) -> Vector:
        """Rotate a direction, without the move."""
        return self.__class__(self.rows, (0.0, 0.0, 0.0))(direction)

    def after(self, first: Pose) -> Pose:
        """The pose that places by `first`, then by this one."""
        columns = [self.turn(column) for column in zip(*first.rows, strict=True)]
        rows = tuple(zip(*columns, strict=True))
        return Pose((rows[0], rows[1], rows[2]), self(first.offset))


def dot(a: Vector, b: Vector) -> float:
    """The scalar product."""
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def unit_normal(ring: Sequence[Vector]) -> Vector:
    """Unit normal of a flat ring by Newell's method; rings clockwise on a y-down sheet give +z lying flat."""
    x = y = z = 0.0
    for (x0, y0, z0), (x1, y1, z1) in zip(ring, (*ring[1:], *ring[:1]), strict=True):
        x += (y0 - y1) * (z0 + z1)
        y += (z0 - z1) * (x0 + x1)
        z += (x0 - x1) * (y0 + y1)
    length = math.sqrt(x * x + y * y + z * z) or 1.0
    return x / length, y / length, z / length


STILL = Pose(((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)), (0.0, 0.0, 0.0))


def hinge_axis(tree: PanelTree, hinge: Hinge) -> Vector:
    """The unit axis of a hinge, directed so that a positive angle folds in the hinge's sense.

    Raises:
        ValueError: the hinge has no length.
    """
    (x0, y0), (x1, y1) = hinge.start, hinge.end
    length = math.dist(hinge.start, hinge.end)
    if length <= 0:
        raise ValueError(f"hinge {hinge.id} has no length")
    ux, uy = (x1 - x0) / length, (y1 - y0) / length
    child = tree.panel(hinge.child).outline
    cx = sum(x for x, _ in child) / len(child) - x0
    cy = sum(y for _, y in child) / len(child) - y0
    # u x n has only a z part: (ux * cy - uy * cx). A mountain turns the child to negative z.
    towards = ux * cy - uy * cx
    wanted = -1.0 if hinge.sense == "mountain" else 1.0
    sign = 1.0 if towards * wanted > 0 else -1.0
    return sign * ux, sign * uy, 0.0


def rotation(axis: Vector, angle_deg: float, through: Vector) -> Pose:
    """Rotate by an angle about a unit axis through a point (Rodrigues)."""
    x, y, z = axis
    angle = math.radians(angle_deg)
    cos, sin = math.cos(angle), math.sin(angle)
    rest = 1 - cos
    rows = (
        (cos + x * x * rest, x * y * rest - z * sin, x * z * rest + y * sin),
        (y * x * rest + z * sin, cos + y * y * rest, y * z * rest - x * sin),
        (z * x * rest - y * sin, z * y * rest + x * sin, cos + z * z * rest),
    )
    turned = Pose(rows, (0.0, 0.0, 0.0))(through)
    return Pose(rows, (through[0] - turned[0], through[1] - turned[1], through[2] - turned[2]))


def hinge_angle_deg(tree: PanelTree, hinge: Hinge, closed: float) -> float:
    """How far a hinge has turned when the card is closed by a share from 0 (flat) to 1 (closed).

    Hinges fold one order after the other, each taking an equal part of the way.
    """
    if hinge.stands is None:
        return hinge.closed_deg * _share(tree, hinge.order, closed)
    return hinge.closed_deg * (_share(tree, hinge.stands.order, closed) + _share(tree, hinge.order, closed)) / 2


def axis_height(tree: PanelTree, hinge: Hinge, closed: float) -> float:
    """How high a hinge's axis lies above the sheet's inside when the card is closed by a share, in mm."""
    if hinge.stands is None:
        return hinge.axis_z
    return hinge.stands.axis_z + (hinge.axis_z - hinge.stands.axis_z) * _share(tree, hinge.order, closed)


def _share(tree: PanelTree, order: int, closed: float) -> float:
    """How much of a step of folding is done, from 0 to 1."""
    orders = list(_steps(tree))
    return min(1.0, max(0.0, closed * len(orders) - orders.index(order)))


def _steps(tree: PanelTree) -> dict[int, str]:
    """What each step of folding is called, by its place, in order."""
    steps: dict[int, str] = {}
    for hinge in tree.hinges:
        steps.setdefault(hinge.order, hinge.step)
        if hinge.stands is not None:
            steps.setdefault(hinge.stands.order, hinge.stands.step)
    return dict(sorted(steps.items()))


def fold(tree: PanelTree, closed: float) -> dict[str, Pose]:
    """Where each panel is at an opening.

    Args:
        tree: the panels.
        closed: 0 flat to 1 closed; values beyond are brought back into that range.

    Returns:
        A pose per panel id; the root's is the identity.
    """
    poses = {tree.root.id: STILL}
    for hinge in tree.downwards():
        angle = hinge_angle_deg(tree, hinge, closed)
        through = (*hinge.start, axis_height(tree, hinge, closed))
        poses[hinge.child] = poses[hinge.parent].after(rotation(hinge_axis(tree, hinge), angle, through))
    return poses


def pressed(tree: PanelTree) -> PanelTree:
    """The tree as it is put away: what lifts in use lies flat."""
    if not any(hinge.lifts for hinge in tree.hinges):
        return tree
    hinges = tuple(structs.replace(hinge, closed_deg=0.0) if hinge.lifts else hinge for hinge in tree.hinges)
    return structs.replace(tree, hinges=hinges)


def fold_steps(tree: PanelTree) -> tuple[str, ...]:
    """What the steps of folding are called, in order; empty for a flat piece."""
    return tuple(_steps(tree).values())
