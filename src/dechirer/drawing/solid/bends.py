"""The bend of the paper at a fold: the outer skin round each hinge that has begun to turn, in strips."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from dechirer.core.card.assembly import Slab
from dechirer.core.card.folding import (
    Pose,
    Vector,
    axis_height,
    dot,
    hinge_angle_deg,
    hinge_axis,
    rotation,
    unit_normal,
)
from dechirer.core.card.panels import Hinge, PanelTree
from dechirer.drawing.solid.depth import Loose

BEND_STEPS = 8
FIRST_DEG = 0.5
"""A fold turned by less shows no bend."""


def bend_strips(tree: PanelTree, slabs: tuple[Slab, ...], poses: dict[str, Pose], closed: float) -> Iterator[Loose]:
    """The strips of every bend; `what` of each is its slab, its hinge's id and its outward normal."""
    for hinge in tree.hinges:
        angle = hinge_angle_deg(tree, hinge, closed)
        if angle >= FIRST_DEG:
            yield from _strips(tree, hinge, slabs, poses, closed, angle)


def _strips(
    tree: PanelTree, hinge: Hinge, slabs: tuple[Slab, ...], poses: dict[str, Pose], closed: float, angle: float
) -> Iterator[Loose]:
    base = next(slab for slab in slabs if slab.panel == hinge.parent and slab.bottom == 0.0)
    skin = base.top if hinge.sense == "mountain" else base.bottom
    axis = hinge_axis(tree, hinge)
    parent, height = poses[hinge.parent], axis_height(tree, hinge, closed)
    rings: list[tuple[Vector, Vector]] = []
    for step in range(BEND_STEPS + 1):
        placed = parent.after(rotation(axis, angle * step / BEND_STEPS, (*hinge.start, height)))
        rings.append((placed((*hinge.start, skin)), placed((*hinge.end, skin))))
    centre = parent((*hinge.start, height))
    for (a, b), (c, d) in itertools.pairwise(rings):
        quad = (a, b, d, c)
        normal = unit_normal(quad)
        middle = mean(quad)
        outward = dot(normal, less(middle, centre)) > 0
        yield Loose(middle, quad, (base, hinge.id, normal if outward else less((0.0, 0.0, 0.0), normal)))


def less(a: Vector, b: Vector) -> Vector:
    """`a - b`."""
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


def mean(points: tuple[Vector, ...]) -> Vector:
    """The middle of some points."""
    count = len(points)
    return (
        sum(p[0] for p in points) / count,
        sum(p[1] for p in points) / count,
        sum(p[2] for p in points) / count,
    )
