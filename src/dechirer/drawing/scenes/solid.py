"""The folded card in three dimensions: slabs of paper posed by the panel tree, seen obliquely, sorted by depth.

The eye looks at the closed card's front, which stands upright and unmirrored: the view's axes come from the
front face's own transform, so every construction is seen the right way. Slabs are convex prisms; of each only
the sides facing the eye are drawn. Which slab is drawn first is settled pair by pair by the plane that parts
them, and the pairs are sorted topologically. The bend at a fold is a piece of a cylinder about the hinge axis.
"""

from __future__ import annotations

import itertools
import math
from typing import TYPE_CHECKING

from msgspec import Struct

from dechirer.core.card.assembly import Slab
from dechirer.core.card.folding import Pose, Vector, axis_height, fold, hinge_angle_deg, hinge_axis, rotation
from dechirer.core.card.panels import Hinge, PanelTree
from dechirer.core.length import format_length
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Affine, Point, Points
from dechirer.core.shape.outline import Box, area, bounds, is_inside
from dechirer.drawing.display import Dimension, Display, Item, Label, Shape
from dechirer.drawing.scenes.skin import colour_of, stripes_on

if TYPE_CHECKING:
    from dechirer.core.dress.mark import Mark
    from dechirer.core.dress.spots import Spot

TILT_DEG = 24.0
TURN_DEG = 30.0
BEND_STEPS = 8
MANY_CORNERS = 12
ROUGH_CORNERS = 16
WORD_MM = 14.0
"""Half the width of a face's name on a card of usual size."""


Ring = tuple[Point, ...]


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


class _Body(Struct, frozen=True):
    """A slab in space: its outside and inside rings, and what it is drawn with."""

    slab: Slab
    upper: tuple[Vector, ...]
    lower: tuple[Vector, ...]
    upper_holes: tuple[tuple[Vector, ...], ...] = ()
    lower_holes: tuple[tuple[Vector, ...], ...] = ()

    @property
    def points(self) -> tuple[Vector, ...]:
        return self.upper + self.lower

    @property
    def rough(self) -> tuple[Vector, ...]:
        """Some of the corners, evenly spread: enough to tell which side of a plane the slab lies on."""
        every = max(1, len(self.upper) // ROUGH_CORNERS)
        return self.upper[::every] + self.lower[::every]


class Model(Struct, frozen=True):
    """Something that folds: its panels and the slabs that move with them."""

    name: str
    tree: PanelTree
    slabs: tuple[Slab, ...]


def find_model(plan: Plan, piece: str = "") -> Model:
    """What the folded view shows while a piece is shown large: the envelope for itself and its inlay, else the card."""
    made = plan.construct.envelope
    if piece not in ("envelope", "inlay") or made is None:
        return Model("card", plan.stacked.tree, plan.stacked.slabs)
    return Model("envelope", made.tree, plan.construct.envelope_slabs)


def make_folded_scene(plan: Plan, closed: float, picked: str = "", piece: str = "") -> Display:
    """The card, or the envelope while that piece is shown large, closed by a share from 0 (flat) to 1 (closed)."""
    construct = find_model(plan, piece)
    poses = fold(construct.tree, closed)
    eye = make_eye(construct.tree)
    bodies = [_place(slab, poses[slab.panel]) for slab in construct.slabs]
    marks = _marks_by_slab(plan) if construct.name == "card" else {}
    painted = {id(body): marks.get(index, []) for index, body in enumerate(bodies)}
    order = sort_bodies(bodies, eye)
    rank = {body.slab.panel: place for place, body in enumerate(order) if body.slab.bottom == 0.0}
    bends: dict[int, list[Hinge]] = {}
    for hinge in construct.tree.hinges:
        # A bend belongs to the nearer of its two panels, so that whatever lies in front of that covers it.
        bends.setdefault(max(rank[hinge.parent], rank[hinge.child]), []).append(hinge)
    items: list[Item] = []
    rings = [tuple(eye(point)[:2] for point in body.upper) for body in order]
    for place, body in enumerate(order):
        items += _draw_body(plan, construct, body, eye, picked, rings[place + 1 :], named=not painted[id(body)])
        items += _draw_marks(plan, body, eye, painted[id(body)], poses[body.slab.panel])
        if construct.name == "card" and body.slab.panel in poses:
            facing = _dot(_normal(body.upper), eye.near)
            items += _inner_lines(plan, body, facing, eye, poses[body.slab.panel])
        for hinge in bends.get(place, ()):
            items += _draw_bend(plan, construct, hinge, poses, closed, eye)
    if construct.name == "card":
        items += _measure_card(plan, construct, poses, eye)
    extent = bounds([eye(point)[:2] for body in bodies for point in body.points])
    percent = f"{100 * closed:.0f} % closed" if construct.tree.hinges else "a flat card"
    # A low card's height stands beside its line, which takes more room there.
    low = plan.job.brief.height.mm < 0.5 * plan.job.brief.width.mm
    return Display(
        tuple(items), extent, (104.0 if low else 52.0, 24.0, 24.0, 46.0), f"The folded {construct.name}, {percent}."
    )


def _measure_card(plan: Plan, model: Model, poses: dict[str, Pose], eye: Eye) -> list[Item]:
    """The finished width and height, to type into, along the lower and the left edge of a face as large as the card."""
    job = plan.job
    wide, high = job.brief.width.mm, job.brief.height.mm
    faces = [face for face in (model.tree.faces[0], *model.tree.faces) if abs(face.width - wide) < 1e-6]
    if not faces:
        return []
    face = faces[0]
    pose = poses[face.panel]

    def place(x: float, y: float) -> Point:
        at = eye(pose((*face.to_flat((x, y)), 0.0)))
        return at[0], at[1]

    lower = sorted((place(0.0, face.height), place(wide, face.height)))
    items: list[Item] = [
        Dimension(lower[0], lower[1], 24.0, format_length(wide, job.units), "brief.width", "brief.width")
    ]
    if abs(face.height - high) < 1e-6:
        sides = [(place(x, face.height), place(x, 0.0)) for x in (0.0, wide)]
        foot, head = min(sides, key=lambda side: side[0][0])
        text = format_length(high, job.units)
        items.append(Dimension(foot, head, -24.0, text, "brief.height", "brief.height"))
    return items


def _inner_lines(plan: Plan, body: _Body, facing: float, eye: Eye, pose: Pose) -> list[Item]:
    """Slits and slots of a base's panel, on the side that is seen."""
    slab = body.slab
    piece = plan.construct.piece(slab.piece)
    if slab.bottom != 0.0 or piece is None or not any(line.role == "slit" for line in piece.lines):
        return []
    own, card = piece.tree.panel(slab.panel).outline[0], plan.construct.made.tree.panel(slab.panel).outline[0]
    dx, dy = card[0] - own[0], card[1] - own[1]
    level = slab.top if facing > 0 else slab.bottom
    paper = colour_of(plan, slab)
    items: list[Item] = []
    for line in piece.lines:
        for path in line.paths if line.role == "slit" else ():
            moved = tuple((x + dx, y + dy) for x, y in path)
            if all(is_inside(slab.outline, point) for point in moved):
                flat = tuple(eye(pose((*point, level)))[:2] for point in moved)
                items.append(Shape((flat,), closed=False, form="edge", role="ink", on=paper, element=line.id))
    return items


def make_front_view(plan: Plan) -> tuple[list[Item], Box]:
    """The closed card seen straight on: what of it shows at the front, and the box it fills, in mm."""
    construct = find_model(plan)
    poses = fold(construct.tree, 1.0)
    eye = make_eye(construct.tree, tilt_deg=0.0, turn_deg=0.0)
    bodies = sorted((_place(slab, poses[slab.panel]) for slab in construct.slabs), key=lambda body: _depth(body, eye))
    items: list[Item] = []
    rings = [tuple(eye(point)[:2] for point in body.upper) for body in bodies]
    for index, body in enumerate(bodies):
        near = body.upper if _dot(_normal(body.upper), eye.near) > 0 else body.lower
        holes = body.upper_holes if near is body.upper else body.lower_holes
        paper = colour_of(plan, body.slab, upper=near is body.upper)
        items.append(_face(near, eye, paper, paper, f"{body.slab.piece}/{body.slab.panel}", holes))
        name = _name_of_face(construct, body.slab, "outside" if near is body.upper else "inside")
        place = eye(_mean(near))[:2]
        if name and not any(is_inside(ring, at) for ring in rings[index + 1 :] for at in _beside(place)):
            items.append(Label(place, name, "body", "soft", paper))
    return items, bounds([eye(point)[:2] for body in bodies for point in body.points])


def make_eye(tree: PanelTree, *, tilt_deg: float = TILT_DEG, turn_deg: float = TURN_DEG) -> Eye:
    """The view in which the closed card's front stands upright, tilted so that thickness shows."""
    front = tree.faces[0]
    pose = fold(tree, 1.0)[front.panel]
    affine = front.to_flat
    right = pose.turn((affine.a, affine.b, 0.0))
    down = pose.turn((affine.c, affine.d, 0.0))
    near = pose.turn((0.0, 0.0, 1.0 if front.side == "outside" else -1.0))
    tilt, turn = math.radians(tilt_deg), math.radians(turn_deg)
    # Turn about the card's upright axis, then tilt about the level one.
    right2 = _mix(right, math.cos(turn), near, math.sin(turn))
    near2 = _mix(near, math.cos(turn), right, -math.sin(turn))
    down3 = _mix(down, math.cos(tilt), near2, math.sin(tilt))
    near3 = _mix(near2, math.cos(tilt), down, -math.sin(tilt))
    return Eye(right2, down3, near3)


def _place(slab: Slab, pose: Pose) -> _Body:
    return _Body(
        slab,
        tuple(pose((x, y, slab.top)) for x, y in slab.outline),
        tuple(pose((x, y, slab.bottom)) for x, y in slab.outline),
        tuple(tuple(pose((x, y, slab.top)) for x, y in hole) for hole in slab.holes),
        tuple(tuple(pose((x, y, slab.bottom)) for x, y in hole) for hole in slab.holes),
    )


def sort_bodies(bodies: list[_Body], eye: Eye) -> list[_Body]:
    """Back to front. For each pair, a face plane of one with the other wholly beyond it settles who is in front."""
    count = len(bodies)
    behind: list[set[int]] = [set() for _ in range(count)]  # behind[i]: bodies that must be drawn before i
    for first in range(count):
        for second in range(first + 1, count):
            verdict = _in_front(bodies[first], bodies[second], eye)
            if verdict > 0:
                behind[first].add(second)
            elif verdict < 0:
                behind[second].add(first)
    order: list[int] = []
    depths = [_depth(body, eye) for body in bodies]
    left = set(range(count))
    while left:
        free = [each for each in left if not behind[each] & left]
        # Only an unsettled ring of slabs leaves none free; then the farthest goes first.
        nearest = min(free or left, key=lambda each: (depths[each], each))
        left.remove(nearest)
        order.append(nearest)
    return [bodies[each] for each in order]


def _in_front(one: _Body, other: _Body, eye: Eye) -> int:
    """1 when `one` hides `other`, -1 when the other way round, 0 when it does not matter or cannot be said."""
    for first, second, sign in ((one, other, 1), (other, one, -1)):
        normal = _normal(first.upper)
        facing = _dot(normal, eye.near)
        if abs(facing) < 1e-9:
            continue
        for ring, outward in ((first.upper, 1.0), (first.lower, -1.0)):
            level = _dot(normal, ring[0])
            heights = [outward * (_dot(normal, point) - level) for point in second.rough]
            if min(heights) >= -1e-6:  # all of second beyond this face of first
                return -sign if outward * facing > 0 else sign
    return 0


def _depth(body: _Body, eye: Eye) -> float:
    points = body.rough
    return sum(eye(point)[2] for point in points) / len(points)


def _draw_body(
    plan: Plan, model: Model, body: _Body, eye: Eye, picked: str, nearer: list[Ring], *, named: bool = True
) -> list[Item]:
    element = f"{body.slab.piece}/{body.slab.panel}"
    normal = _normal(body.upper)
    facing = _dot(normal, eye.near)
    paper = colour_of(plan, body.slab, upper=facing > 0)
    count = len(body.upper)
    items: list[Item] = []
    if count > MANY_CORNERS:
        # The sides of a flattened curve would be hundreds of slivers: the far ring behind the near one shows the same.
        far, gaps = (body.lower, body.lower_holes) if facing > 0 else (body.upper, body.upper_holes)
        items.append(_face(far, eye, shade(paper, 0.72), paper, element, gaps))
    for index in range(count if count <= MANY_CORNERS else 0):
        following = (index + 1) % count
        side = (body.upper[index], body.upper[following], body.lower[following], body.lower[index])
        if _dot(_normal(side), eye.near) * _orientation(body) > 0:
            items.append(_face(side, eye, shade(paper, 0.72), paper, element))
    ring = body.upper if facing > 0 else body.lower
    light = 0.86 + 0.14 * abs(facing)
    fill = "accent-wash" if picked == element else shade(paper, light)
    holes = body.upper_holes if facing > 0 else body.lower_holes
    items.append(_face(ring, eye, fill, paper, element, holes))
    items += stripes_on(plan, body.slab, ring, eye, upper=facing > 0)
    name = _name_of_face(model, body.slab, "outside" if facing > 0 else "inside")
    place = eye(_mean(ring))
    beside = _beside(place[:2])
    seen = tuple(eye(point)[:2] for point in ring)
    clear = all(is_inside(seen, at) for at in beside) and not any(
        is_inside(tuple(eye(p)[:2] for p in hole), at) for hole in holes for at in beside
    )
    if named and name and clear and abs(facing) > 0.45 and not _is_covered((place[0], place[1]), nearer):
        items.append(Label((place[0], place[1]), name, "small", "soft", paper))
    return items


def _beside(place: Point) -> list[Point]:
    """Where a face's name ends up, about its middle."""
    return [(place[0] + dx, place[1] + dy) for dx in (-WORD_MM / 2, 0.0, WORD_MM / 2) for dy in (-3.0, 3.0)]


def _marks_by_slab(plan: Plan) -> dict[int, list[tuple[Spot, Mark]]]:
    """What is on the faces, by the slab that shows it."""
    found: dict[int, list[tuple[Spot, Mark]]] = {}
    spots = {spot.id: spot for spot in plan.dress.spots}
    own = {slab.piece: index for index, slab in enumerate(plan.stacked.slabs)}
    for mark in plan.dress.marks:
        spot = spots[mark.spot]
        if spot.to_card is None or spot.slab < 0:
            continue
        if mark.item in own and mark.form == "paper":
            continue  # it is a slab of its own
        found.setdefault(own.get(mark.item, spot.slab), []).append((spot, mark))
    return found


def _draw_marks(plan: Plan, body: _Body, eye: Eye, marks: list[tuple[Spot, Mark]], pose: Pose) -> list[Item]:
    """What is on the side of a slab that is turned to the eye."""
    if not marks:
        return []
    side = "outside" if _dot(_normal(body.upper), eye.near) > 0 else "inside"
    level = body.slab.top if side == "outside" else body.slab.bottom
    paper = colour_of(plan, body.slab, upper=side == "outside")
    items: list[Item] = []
    for spot, mark in marks:
        if spot.side != side or spot.to_card is None or mark.form in ("opening", "guide"):
            continue
        to_card = spot.to_card

        def flat(points: Points, to_card: Affine = to_card) -> tuple[Point, ...]:
            return tuple(eye(pose((*to_card(point), level)))[:2] for point in points)

        for rings in mark.rough:
            fill = mark.colour if mark.form in ("paper", "print") else ""
            form = {"paper": "edge", "print": ""}.get(mark.form, "edge")
            role = "soft" if mark.form == "paper" else mark.colour if mark.form in ("pen", "foil") else "ink"
            items.append(
                Shape(tuple(flat(ring) for ring in rings), fill=fill, form=form, role=role, on=paper, weight=0.6)
            )
        role = mark.colour if mark.form in ("pen", "foil") else "ink"
        if mark.rough_lines:
            items.append(
                Shape(
                    tuple(flat(line) for line in mark.rough_lines),
                    closed=False,
                    form="edge",
                    role=role,
                    on=paper,
                    weight=0.8,
                )
            )
    return items


def _is_covered(place: Point, nearer: list[Ring]) -> bool:
    """Whether a slab in front lies over a place or close beside it, so that a word there would be cut."""
    x, y = place
    return any(is_inside(ring, (x + dx, y)) for ring in nearer for dx in (-WORD_MM, 0.0, WORD_MM))


def _name_of_face(model: Model, slab: Slab, side: str) -> str:
    """The name of the face a slab shows on a side; empty when another layer lies on it there."""
    mine = [other for other in model.slabs if other.panel == slab.panel]
    # A part that passes a slot lies elsewhere and bears no name.
    largest = max(area(other.outline) for other in mine)
    mine = [other for other in mine if area(other.outline) > 0.3 * largest]
    covered = max(mine, key=lambda each: each.top) if side == "outside" else min(mine, key=lambda each: each.bottom)
    if covered is not slab:
        return ""
    faces = model.tree.faces
    return next((face.name for face in faces if (face.panel, face.side) == (slab.panel, side)), "")


def _orientation(body: _Body) -> float:
    """1 when the outline runs so that a side's normal points outward, else -1."""
    middle = _mean(body.points)
    side = (body.upper[0], body.upper[1], body.lower[1], body.lower[0])
    return 1.0 if _dot(_normal(side), _less(_mean(side), middle)) > 0 else -1.0


def _face(
    ring: tuple[Vector, ...], eye: Eye, fill: str, paper: str, element: str, holes: tuple[tuple[Vector, ...], ...] = ()
) -> Shape:
    flat = tuple(tuple(eye(point)[:2] for point in each) for each in (ring, *holes))
    return Shape(flat, fill=fill, form="edge", role="soft", on=paper, element=element, weight=0.8)


def _draw_bend(plan: Plan, model: Model, hinge: Hinge, poses: dict[str, Pose], closed: float, eye: Eye) -> list[Item]:
    """The outer skin of the paper round a fold that has begun to turn."""
    angle = hinge_angle_deg(model.tree, hinge, closed)
    if angle < 0.5:
        return []
    base = next(slab for slab in model.slabs if slab.panel == hinge.parent and slab.bottom == 0.0)
    paper = colour_of(plan, base)
    skin = base.top if hinge.sense == "mountain" else base.bottom
    axis = hinge_axis(model.tree, hinge)
    parent, height = poses[hinge.parent], axis_height(model.tree, hinge, closed)
    rings: list[tuple[Vector, Vector]] = []
    for step in range(BEND_STEPS + 1):
        turn = rotation(axis, angle * step / BEND_STEPS, (*hinge.start, height))
        placed = parent.after(turn)
        rings.append((placed((*hinge.start, skin)), placed((*hinge.end, skin))))
    strips = []
    middle = parent((*hinge.start, height))
    for (a, b), (c, d) in itertools.pairwise(rings):
        quad = (a, b, d, c)
        normal = _normal(quad)
        facing = _dot(normal, eye.near) * (1.0 if _dot(normal, _less(_mean(quad), middle)) > 0 else -1.0)
        if facing > 0:
            strips.append((_dot(_mean(quad), eye.near), quad, facing))
    items: list[Item] = []
    for _, quad, facing in sorted(strips):
        flat = tuple(eye(point)[:2] for point in quad)
        colour = shade(paper, 0.74 + 0.22 * facing)
        items.append(Shape((flat,), fill=colour, on=paper, element=f"{base.piece}/{hinge.id}"))
    if strips:
        for a, b in (rings[0], rings[-1]):
            edge = (eye(a)[:2], eye(b)[:2])
            items.append(Shape((edge,), closed=False, form="edge", role="soft", on=paper, weight=0.6))
    return items


def shade(colour: str, light: float) -> str:
    """A paper colour under more or less light, from 0 (black) to 1 (as it is)."""
    parts = [int(colour[place : place + 2], 16) for place in (1, 3, 5)]
    return "#" + "".join(f"{min(255, round(part * light)):02x}" for part in parts)


def _dot(a: Vector, b: Vector) -> float:
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def _less(a: Vector, b: Vector) -> Vector:
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


def _mix(a: Vector, s: float, b: Vector, t: float) -> Vector:
    return a[0] * s + b[0] * t, a[1] * s + b[1] * t, a[2] * s + b[2] * t


def _mean(points: tuple[Vector, ...]) -> Vector:
    count = len(points)
    return (
        sum(p[0] for p in points) / count,
        sum(p[1] for p in points) / count,
        sum(p[2] for p in points) / count,
    )


def _normal(ring: tuple[Vector, ...]) -> Vector:
    """Unit normal of a flat ring by Newell's method; rings clockwise on a y-down sheet give +z lying flat."""
    x = y = z = 0.0
    for (x0, y0, z0), (x1, y1, z1) in zip(ring, ring[1:] + ring[:1], strict=True):
        x += (y0 - y1) * (z0 + z1)
        y += (z0 - z1) * (x0 + x1)
        z += (x0 - x1) * (y0 + y1)
    length = math.sqrt(x * x + y * y + z * z) or 1.0
    return x / length, y / length, z / length
