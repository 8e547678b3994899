"""What hides what: slabs of paper divided by each other's planes into a tree that gives their order from any side.

A binary space partition (Fuchs, Kedem and Naylor 1980, from memory): each node is a slab's plane, with all that lies
behind it on one side and all before it on the other; what the plane cuts through is divided there. Walked from far to
near it draws every picture without a painter's mistake, and it is made once for all directions one looks from.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, Any

from msgspec import Struct

from dechirer.core.card.assembly import Slab
from dechirer.core.card.folding import Pose, Vector, dot
from dechirer.core.memory import until_forgotten
from dechirer.core.shape.affine import Points
from dechirer.drawing.solid.eye import Eye

if TYPE_CHECKING:
    from shapely import Polygon

MOST_TRIED = 16
"""So many planes are tried for each node; the one that divides least is taken."""
TOUCH_MM = 0.05
OVERLAP_MM = 0.04
"""The parts of a divided slab reach over each other by this much, so that no seam shows."""
WIDE_MM = 1e4
MANY_CORNERS, ROUGH_MM = 60, 0.06
"""From so many corners on a ring is drawn a little roughly: by less than a line is wide."""


class Slice(Struct, frozen=True, eq=False):
    """A slab placed in space, or the part of one on a side of another's plane.

    `rings` are its outline and holes on the flat sheet. `edges` are the true edges of a part, open paths; None: all.
    `index` is the slab's place in the model.
    """

    index: int
    slab: Slab
    pose: Pose
    rings: tuple[Points, ...]
    edges: tuple[Points, ...] | None = None

    @property
    def normal(self) -> Vector:
        """The unit normal of its upper side (the flat sheet's outside)."""
        return self.pose.turn((0.0, 0.0, 1.0))

    @property
    def middle(self) -> float:
        """The height of its middle over the flat sheet."""
        return (self.slab.bottom + self.slab.top) / 2

    @property
    def thickness(self) -> float:
        """In mm."""
        return self.slab.top - self.slab.bottom

    def depth(self, eye: Eye) -> float:
        """How near its middle is to the eye, in mm."""
        ring = self.rings[0]
        x, y = sum(p[0] for p in ring) / len(ring), sum(p[1] for p in ring) / len(ring)
        return dot(self.pose((x, y, self.middle)), eye.near)

    def area(self) -> Polygon:
        """Where it lies on the flat sheet."""
        from dechirer.core.shape.algebra import polygon

        return polygon(self.rings[0], self.rings[1:])


class Loose(Struct, frozen=True, eq=False):
    """Something small that hides little, such as a strip of a bend: ordered by its middle alone."""

    middle: Vector
    ring: tuple[Vector, ...]
    what: Any


class Node(Struct, eq=False):
    """A plane of the tree with the slices in it, and what lies before and behind it; at a leaf, loose things only."""

    normal: Vector = (0.0, 0.0, 1.0)
    level: float = 0.0
    slices: tuple[Slice, ...] = ()
    back: Node | None = None
    front: Node | None = None
    loose: tuple[Loose, ...] = ()

    def put(self, thing: Loose) -> None:
        """Add something loose where its middle lies."""
        here = self
        while here.slices:
            before = dot(here.normal, thing.middle) > here.level
            following = here.front if before else here.back
            if following is None:
                following = Node()
                if before:
                    here.front = following
                else:
                    here.back = following
            here = following
        here.loose = (*here.loose, thing)

    def walk(self, eye: Eye) -> Iterator[Slice | Loose]:
        """All there is, from far to near."""
        if not self.slices:
            yield from sorted(self.loose, key=lambda thing: dot(thing.middle, eye.near))
            return
        towards = dot(self.normal, eye.near) > 0
        far, near = (self.back, self.front) if towards else (self.front, self.back)
        if far is not None:
            yield from far.walk(eye)
        yield from sorted(self.slices, key=lambda each: each.depth(eye))
        if near is not None:
            yield from near.walk(eye)


def divide_space(slabs: Sequence[Slab], poses: dict[str, Pose]) -> Node:
    """The tree of slabs placed by the poses of their panels."""
    whole = [
        Slice(index, slab, poses[slab.panel], tuple(_rough(ring) for ring in (slab.outline, *slab.holes)))
        for index, slab in enumerate(slabs)
        if len(slab.outline) >= 3
    ]
    return _divide(whole) or Node()


@until_forgotten(48)
def _rough(ring: Points) -> Points:
    """A ring of very many corners with those that nobody sees left out."""
    if len(ring) <= MANY_CORNERS:
        return ring
    import shapely

    simple = shapely.simplify(shapely.LinearRing(ring), ROUGH_MM)
    return tuple(map(tuple, shapely.get_coordinates(simple)[:-1].tolist()))


def _divide(slices: list[Slice]) -> Node | None:
    import numpy as np

    if not slices:
        return None
    if len(slices) == 1:
        one = slices[0]
        return Node(one.normal, _level(one), (one,))
    points, starts = _points(slices)
    tried = sorted(slices, key=_size, reverse=True)[:MOST_TRIED]
    normals = np.array([each.normal for each in tried])
    heights = points @ normals.T - np.array([_level(each) for each in tried])
    low, high = np.minimum.reduceat(heights, starts), np.maximum.reduceat(heights, starts)
    sides = [[_side(low[i, c], high[i, c], each, tried[c]) for i, each in enumerate(slices)] for c in range(len(tried))]
    best = min(range(len(tried)), key=lambda c: (sides[c].count("cut"), abs(_balance(sides[c]))))
    plane, told = tried[best], sides[best]
    back, front, here = [], [], []
    for each, side in zip(slices, told, strict=True):
        if each is plane or side == "in":
            here.append(each)
        elif side == "cut":
            behind, before = _cut(each, plane)
            back += behind
            front += before
        else:
            (front if side == "front" else back).append(each)
    return Node(plane.normal, _level(plane), tuple(here), _divide(back), _divide(front))


def _balance(sides: list[str]) -> int:
    return sides.count("front") - sides.count("back")


def _level(one: Slice) -> float:
    """How far a slice's plane lies along its own normal."""
    x, y = one.rings[0][0]
    return dot(one.normal, one.pose((x, y, one.middle)))


def _size(one: Slice) -> float:
    ring = one.rings[0]
    xs, ys = [x for x, _ in ring], [y for _, y in ring]
    return (max(xs) - min(xs)) * (max(ys) - min(ys))


def _points(slices: list[Slice]) -> tuple[Any, list[int]]:
    """The corners of all slices at their middle height in space, shape (n, 3), and where each slice's begin."""
    import numpy as np

    parts, starts, count = [], [], 0
    for each in slices:
        ring = np.array(each.rings[0])
        rows, offset = np.array(each.pose.rows), np.array(each.pose.offset)
        parts.append(ring @ rows[:, :2].T + (rows[:, 2] * each.middle + offset))
        starts.append(count)
        count += len(ring)
    return np.concatenate(parts), starts


def _side(low: float, high: float, one: Slice, plane: Slice) -> str:
    """On which side of a plane a slice lies: `front`, `back`, `in` the plane itself, or `cut` through by it."""
    slack = 0.6 * (one.thickness + plane.thickness) + TOUCH_MM
    middle = (low + high) / 2
    if high - low <= slack:
        if abs(middle) < 0.25 * min(one.thickness, plane.thickness):
            return "in"
        return "front" if middle > 0 else "back"
    if low >= -slack or high <= slack:
        return "front" if middle > 0 else "back"
    return "cut"


def _cut(one: Slice, plane: Slice) -> tuple[list[Slice], list[Slice]]:
    """A slice divided by a plane: its parts behind it and before it."""
    import numpy as np
    import shapely

    rows, offset = np.array(one.pose.rows), np.array(one.pose.offset)
    normal = np.array(plane.normal)
    along = normal @ rows  # the height over the plane grows along the sheet by this much
    steep = float(np.hypot(along[0], along[1]))
    level = float(along[2] * one.middle + normal @ offset) - _level(plane)
    out = along[:2] / steep
    foot = -out * (level / steep)  # a point of the sheet in the plane
    side = np.array([-out[1], out[0]])
    whole = one.area()
    edge = whole.boundary

    def half(sign: float) -> list[Slice]:
        near, far = foot - sign * OVERLAP_MM * out, foot + sign * WIDE_MM * out
        room = shapely.Polygon(
            [near - WIDE_MM * side, near + WIDE_MM * side, far + WIDE_MM * side, far - WIDE_MM * side]
        )
        parts = [part for part in shapely.get_parts(whole & room) if part.geom_type == "Polygon" and part.area > 0.01]
        return [_part(one, part, _true_edges(one, edge, room), shapely) for part in parts]

    return half(-1.0), half(1.0)


def _true_edges(one: Slice, edge: Any, room: Any) -> Any:
    import shapely

    if one.edges is not None:
        edge = shapely.MultiLineString([path for path in one.edges if len(path) > 1])
    return edge & room


def _part(one: Slice, part: Any, edges: Any, shapely: Any) -> Slice:
    own = shapely.get_parts(edges & part.buffer(1e-6))
    lines = shapely.get_parts(shapely.line_merge(shapely.union_all(own))) if len(own) else []
    rings = tuple(tuple(map(tuple, ring.coords[:-1])) for ring in (part.exterior, *part.interiors))
    paths = tuple(tuple(map(tuple, line.coords)) for line in lines if line.geom_type == "LineString")
    return Slice(one.index, one.slab, one.pose, rings, paths)
