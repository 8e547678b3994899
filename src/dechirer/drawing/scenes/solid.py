"""The folded card as a picture: from any side, at any opening; and its front seen straight on."""

from __future__ import annotations

from dechirer.core.card.folding import Pose, fold
from dechirer.core.length import format_length
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.outline import Box, bounds, is_inside
from dechirer.drawing.display import Dimension, Display, Item, Label, Shape
from dechirer.drawing.scenes.skin import colour_of
from dechirer.drawing.solid.body import draw_slice, draw_strip
from dechirer.drawing.solid.depth import Slice
from dechirer.drawing.solid.eye import FRONT, Eye, Look, look_at
from dechirer.drawing.solid.model import Folded, find_model, name_of_face

WORD_MM = 14.0
"""Half the width of a face's name on a card of usual size."""
LEAST_FACING = 0.45
"""Names stand on faces that are seen no more obliquely than this."""


def make_folded_scene(plan: Plan, closed: float, picked: str = "", piece: str = "", look: Look = FRONT) -> Display:
    """The card, or the envelope while that piece is shown large, closed by a share from 0 (flat) to 1 (closed)."""
    return draw_folded(Folded(plan, closed, piece), look, picked)


def draw_folded(folded: Folded, look: Look = FRONT, picked: str = "") -> Display:
    """A folded card as it is looked at."""
    plan, model = folded.plan, folded.model
    eye = look_at(model.tree, look, closed=folded.closed)
    extent = _extent(folded, eye)
    items: list[Item] = []
    seen: list[tuple[Slice, Points, int]] = []
    for thing in folded.space.walk(eye):
        if isinstance(thing, Slice):
            items += draw_slice(folded, thing, eye, picked)
            level = thing.slab.top if eye.facing(thing.normal) > 0 else thing.slab.bottom
            seen.append((thing, eye.over(thing.pose, level).all(thing.rings[0]), len(items)))
        else:
            items += draw_strip(folded, thing, eye)
    for place in range(len(seen) - 1, -1, -1):
        label = _name(folded, eye, seen, place)
        if label is not None:
            items.insert(seen[place][2], label)
    if model.name == "card" and look == FRONT:
        items += _measure_card(plan, folded, eye, extent)
    percent = f"{100 * folded.closed:.0f} % closed" if model.tree.hinges else "a flat card"
    # A low card's height stands beside its line, which takes more room there.
    low = plan.job.brief.height.mm < 0.5 * plan.job.brief.width.mm
    return Display(
        tuple(items), extent, (104.0 if low else 52.0, 24.0, 24.0, 46.0), f"The folded {model.name}, {percent}."
    )


def _extent(folded: Folded, eye: Eye) -> Box:
    """What the folded card fills of the picture."""
    boxes = [
        bounds(eye.over(folded.poses[slab.panel], level).all(slab.outline))
        for slab in folded.model.slabs
        for level in (slab.bottom, slab.top)
        if slab.outline
    ]
    return Box(
        min(box.left for box in boxes),
        min(box.top for box in boxes),
        max(box.right for box in boxes),
        max(box.bottom for box in boxes),
    )


def _name(folded: Folded, eye: Eye, seen: list[tuple[Slice, Points, int]], place: int) -> Label | None:
    """The name of a bare face, in its middle, where nothing nearer lies over it."""
    one, ring, _ = seen[place]
    facing = eye.facing(one.normal)
    name = folded.names.get((one.index, "outside" if facing > 0 else "inside"), "")
    if not name or folded.marks.get(one.index) or one.edges is not None or abs(facing) <= LEAST_FACING:
        return None
    at = _middle(ring)
    level = one.slab.top if facing > 0 else one.slab.bottom
    holes = [eye.over(one.pose, level).all(hole) for hole in one.rings[1:]]
    beside = [(at[0] + dx, at[1] + dy) for dx in (-WORD_MM / 2, 0.0, WORD_MM / 2) for dy in (-3.0, 3.0)]
    if not all(is_inside(ring, each) for each in beside):
        return None
    if any(is_inside(hole, each) for hole in holes for each in beside):
        return None
    across = [(at[0] + dx, at[1]) for dx in (-WORD_MM, 0.0, WORD_MM)]
    if any(is_inside(nearer, each) for _, nearer, _ in seen[place + 1 :] for each in across):
        return None
    paper = colour_of(folded.plan, one.slab, upper=facing > 0)
    return Label(at, name, "small", "soft", paper)


def _middle(ring: Points) -> Point:
    return sum(x for x, _ in ring) / len(ring), sum(y for _, y in ring) / len(ring)


def _measure_card(plan: Plan, folded: Folded, eye: Eye, extent: Box) -> list[Item]:
    """The finished width and height, to type into, along the lower edge of a face as large as the card and along that
    of its upright edges beside which there is least of the card."""
    job, tree, poses = plan.job, folded.model.tree, folded.poses
    wide, high = job.brief.width.mm, job.brief.height.mm
    faces = [face for face in (tree.faces[0], *tree.faces) if abs(face.width - wide) < 1e-6]
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
        left, right = sorted((place(x, face.height), place(x, 0.0)) for x in (0.0, wide))
        at_left = left[0][0] - extent.left <= extent.right - right[0][0] + 1e-6
        (foot, head), shift = (left, -24.0) if at_left else (right, 24.0)
        text = format_length(high, job.units)
        items.append(Dimension(foot, head, shift, text, "brief.height", "brief.height"))
    return items


def make_front_view(plan: Plan) -> tuple[list[Item], Box]:
    """The closed card seen straight on: what of it shows at the front, and the box it fills, in mm.

    Straight on, the middle of a slab tells what lies before what: nothing stands at an angle.
    """
    model = find_model(plan)
    poses: dict[str, Pose] = fold(model.tree, 1.0)
    eye = look_at(model.tree, Look(0.0, 0.0))
    whole = [
        Slice(index, slab, poses[slab.panel], (slab.outline, *slab.holes))
        for index, slab in enumerate(model.slabs)
        if slab.outline
    ]
    bodies = sorted(whole, key=lambda each: each.depth(eye))
    items: list[Item] = []
    rings: list[Points] = []
    maps = []
    for one in bodies:
        upper = eye.facing(one.normal) > 0
        maps.append(eye.over(one.pose, one.slab.top if upper else one.slab.bottom))
        rings.append(maps[-1].all(one.slab.outline))
    for index, one in enumerate(bodies):
        slab, upper = one.slab, eye.facing(one.normal) > 0
        paper = colour_of(plan, slab, upper=upper)
        paths = (rings[index], *(maps[index].all(hole) for hole in slab.holes))
        element = f"{slab.piece}/{slab.panel}"
        items.append(Shape(paths, fill=paper, form="edge", role="soft", on=paper, element=element, weight=0.8))
        name = name_of_face(model, slab, "outside" if upper else "inside")
        x, y = _middle(rings[index])
        beside = [(x + dx, y + dy) for dx in (-WORD_MM / 2, 0.0, WORD_MM / 2) for dy in (-3.0, 3.0)]
        if name and not any(is_inside(ring, at) for ring in rings[index + 1 :] for at in beside):
            items.append(Label((x, y), name, "body", "soft", paper))
    return items, bounds([point for ring in rings for point in ring])
