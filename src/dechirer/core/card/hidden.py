"""What hides what: which part of a face can be seen when the card is folded, and whether panels run into each other.

Seen along parallel rays. A slab hides the part of a face that lies behind it along the rays: the slab's outline is
first cut to what is nearer to the reader than the face's plane, then cast along the rays onto that plane.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from dechirer.core.card.assembly import Slab
from dechirer.core.card.folding import Pose, Vector, dot, fold, unit_normal
from dechirer.core.card.panels import Face, PanelTree
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.algebra import polygon, rings_of
from dechirer.core.shape.outline import area, rectangle

NEAR_MM = 1e-6
DUST_MM2 = 0.05
"""A smaller part comes of rounding and is not seen."""
TOUCH_MM = 0.05
"""Panels that share less than this of a line are held to touch, not to run through each other."""


def _less(a: Vector, b: Vector) -> Vector:
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


def _outward(pose: Pose, face: Face) -> Vector:
    return pose.turn((0.0, 0.0, 1.0 if face.side == "outside" else -1.0))


def visible_part(tree: PanelTree, slabs: Sequence[Slab], face: Face, closed: float) -> tuple[Points, ...]:
    """The parts of a face a reader who looks straight at it sees, as rings on the face (mm), the largest first.

    Args:
        slabs: everything that may stand in front.
        closed: how far the card is closed, from 0 to 1.

    Returns:
        No rings when the face is wholly hidden.
    """
    import shapely

    poses = fold(tree, closed)
    pose = poses[face.panel]
    out = _outward(pose, face)
    own = [slab for slab in slabs if slab.panel == face.panel]
    level = max((s.top for s in own), default=0.0) if face.side == "outside" else min(s.bottom for s in own)
    origin = pose((*face.to_flat((0.0, 0.0)), level))
    right, down = (_less(pose((*face.to_flat(at), level)), origin) for at in ((1.0, 0.0), (0.0, 1.0)))
    panel = face.to_flat.inverse().all(tree.panel(face.panel).outline)
    left = polygon(panel).intersection(polygon(rectangle(face.width, face.height)))
    for slab in slabs:
        if slab.panel == face.panel:
            continue
        other = poses[slab.panel]
        corners = [other((x, y, (slab.bottom + slab.top) / 2)) for x, y in slab.outline]
        shadow = _cast(corners, origin, right, down, out)
        if len(shadow) >= 3:
            left = shapely.difference(left, polygon(shadow))
    return tuple(ring for ring in rings_of(left) if area(ring) > DUST_MM2)


def _cast(corners: list[Vector], origin: Vector, right: Vector, down: Vector, out: Vector) -> tuple[Point, ...]:
    """A slab's shadow on a face's plane: what of it is nearer than the plane, straight back."""
    heights = [dot(out, _less(corner, origin)) for corner in corners]
    ring: list[Vector] = []
    for index, (corner, height) in enumerate(zip(corners, heights, strict=True)):
        before, low = corners[index - 1], heights[index - 1]
        if (low > NEAR_MM) != (height > NEAR_MM):
            share = (NEAR_MM - low) / (height - low)
            crossing = tuple(a + (b - a) * share for a, b in zip(before, corner, strict=True))
            ring.append(crossing)  # type: ignore[arg-type]
        if height > NEAR_MM:
            ring.append(corner)
    return tuple((dot(_less(each, origin), right), dot(_less(each, origin), down)) for each in ring)


def find_collision(tree: PanelTree, slabs: Sequence[Slab], closed: float) -> tuple[str, str] | None:
    """Two panels that run through each other at an opening, or None.

    The middle surfaces of the slabs are compared; panels that share a hinge, and parts that pass a slot on purpose
    (slabs of a panel beside its own), are left out.
    """
    poses = fold(tree, closed)
    near = {frozenset((hinge.parent, hinge.child)) for hinge in tree.hinges}
    bodies = []
    for panel in tree.panels:
        mine = [slab for slab in slabs if slab.panel == panel.id and slab.bottom == 0.0]
        if not mine:
            continue
        rings = [
            [poses[panel.id]((x, y, mine[0].top / 2)) for x, y in path] for path in (mine[0].outline, *mine[0].holes)
        ]
        bodies.append((panel.id, rings, _box(rings[0])))
    for index, (one, rings, box) in enumerate(bodies):
        for other, other_rings, other_box in bodies[index + 1 :]:
            if frozenset((one, other)) in near or not _boxes_meet(box, other_box):
                continue
            if _run_through(rings, other_rings):
                return one, other
    return None


def _box(ring: list[Vector]) -> tuple[Vector, Vector]:
    lows, highs = zip(*((min(axis), max(axis)) for axis in zip(*ring, strict=True)), strict=True)
    return lows, highs


def _boxes_meet(one: tuple[Vector, Vector], other: tuple[Vector, Vector]) -> bool:
    return all(a <= d and c <= b for a, b, c, d in zip(one[0], one[1], other[0], other[1], strict=True))


def _plane(ring: list[Vector]) -> tuple[Vector, float]:
    normal = unit_normal(ring)
    return normal, dot(normal, ring[0])


def _run_through(one: list[list[Vector]], other: list[list[Vector]]) -> bool:
    """Whether two flat parts in space cross each other along more than TOUCH_MM of the line their planes share.

    Each is an outline and its holes: what passes through a hole does not run through the part.
    """
    (normal, level), (other_normal, other_level) = _plane(one[0]), _plane(other[0])
    line = (
        normal[1] * other_normal[2] - normal[2] * other_normal[1],
        normal[2] * other_normal[0] - normal[0] * other_normal[2],
        normal[0] * other_normal[1] - normal[1] * other_normal[0],
    )
    length = math.sqrt(dot(line, line))
    if length < 1e-9:  # parallel: lying on each other is not running through
        return False
    unit = (line[0] / length, line[1] / length, line[2] / length)
    mine = _stretches(one, other_normal, other_level, unit)
    theirs = _stretches(other, normal, level, unit)
    return any(min(b, d) - max(a, c) > TOUCH_MM for a, b in mine for c, d in theirs)


def _stretches(rings: list[list[Vector]], normal: Vector, level: float, unit: Vector) -> list[tuple[float, float]]:
    """Where a plane cuts the paper between a flat outline and its holes, as stretches along the line they share."""
    crossings = []
    for ring in rings:
        heights = [dot(normal, point) - level for point in ring]
        for index, (point, height) in enumerate(zip(ring, heights, strict=True)):
            before, low = ring[index - 1], heights[index - 1]
            if (low > 0) != (height > 0):
                share = low / (low - height)
                crossings.append(dot(unit, before) + share * (dot(unit, point) - dot(unit, before)))
    crossings.sort()
    return list(zip(crossings[::2], crossings[1::2], strict=False))


def hidden_share(
    tree: PanelTree, slabs: Sequence[Slab], face: Face, part: Points, closed: float
) -> tuple[float, float]:
    """How much of a part of a face is hidden from a reader before it (0 to 1), and how much of the face is seen.

    `part` lies on the face as seen, in mm.
    """
    import shapely

    rings = visible_part(tree, slabs, face, closed)
    seen = shapely.union_all([polygon(ring) for ring in rings])
    panel = polygon(face.to_flat.inverse().all(tree.panel(face.panel).outline))
    whole = polygon(part)
    hidden = 1.0 - shapely.intersection(whole, seen).area / whole.area if whole.area else 0.0
    return hidden, seen.area / panel.area if panel.area else 0.0


def is_in_a_crowd(tree: PanelTree, face: Face) -> bool:
    """Whether a face looks the same way as the front when the card is closed, and so may stand behind something."""
    poses = fold(tree, 1.0)
    ways = [
        poses[each.panel].turn((0.0, 0.0, 1.0 if each.side == "outside" else -1.0))[2] for each in (tree.faces[0], face)
    ]
    return len(tree.panels) > 2 and ways[0] * ways[1] > 0
