"""Making up as pictures: a part seen from its glue side beside where it goes, a mat's weeding map, the card's bulk."""

from __future__ import annotations

from collections.abc import Sequence

from dechirer.core.card.panels import PanelTree
from dechirer.core.fold.bulk import Bulk
from dechirer.core.fold.joints import Joint
from dechirer.core.fold.making_up import MakingPlan
from dechirer.core.fold.weeding import WeedMap
from dechirer.core.length import format_length
from dechirer.core.plan import Plan
from dechirer.core.run.run import MatRun
from dechirer.core.shape.affine import Affine, Point, Points
from dechirer.core.shape.outline import Box, bounds
from dechirer.core.shape.silhouettes import circle
from dechirer.drawing.display import Arrow, Dimension, Display, Item, Label, Shape
from dechirer.drawing.scenes.hatching import hatch

BETWEEN_MM = 16.0
PART, HOST = "#f6efe0", "#dfe7e4"
"""Grounds of a part and of what it goes on, where colours of papers would hide the hatching."""
FRAGILE_MM = 6.0
PAD_MM = 10.0
STROKES = 36
"""So many strokes of a hatching go over the height of a drawing."""
MM_A_LETTER = 3.4
"""A name stands on a piece that is as wide as this for each of its letters."""
ROOM_SHARE, MOST_TIMES = 0.8, 4.0
ARROWS = {"upper left": 45.0, "upper right": 135.0, "lower left": -45.0, "lower right": -135.0}


def make_joint_scene(plan: Plan, making: MakingPlan, joint: Joint) -> Display:
    """A part seen from its glue side, what takes glue hatched, and beside it where it goes, with margins to measure."""
    made = plan.construct.envelope
    tree = made.tree if joint.model == "envelope" and made is not None else plan.stacked.tree
    units, panel = plan.job.units, tree.panel(joint.panel)
    # Seen from the side it goes on, a part shows its face; turned over, its glue side.
    flip, plain = Affine(a=-1.0), Affine()
    seen, back = (plain, flip) if joint.side == "outside" else (flip, plain)
    if joint.id.endswith("-flap"):
        return _flap_scene(joint, panel.outline, seen)
    times = _magnified(_box(joint.outlines), bounds(panel.outline))
    back = back.then(Affine(a=times, d=times))
    part_box = _box([back.all(ring) for ring in joint.outlines])
    host_box = _box([seen.all(panel.outline), *(seen.all(ring) for ring in joint.outlines)])
    left = back.then(Affine(e=-part_box.left, f=-part_box.top))
    at = part_box.width + BETWEEN_MM
    right = seen.then(Affine(e=at - host_box.left, f=-host_box.top))
    apart = max(part_box.height, host_box.height) / STROKES
    turned = "glue side up" + (f", × {times:g}" if times > 1 else "")
    items: list[Item] = [
        Shape(tuple(left.all(ring) for ring in joint.outlines), fill=PART, form="edge", role="ink", on=PART),
        *_glue(joint, left, apart, times),
        Shape((right.all(panel.outline),), fill=HOST, form="edge", role="ink", on=HOST),
        Shape(tuple(right.all(ring) for ring in joint.outlines), fill=PART, form="edge", role="soft", on=PART),
        *_glue(joint, right, apart),
        *_margins([right.all(ring) for ring in joint.outlines], right.all(panel.outline), units),
        Label(
            (part_box.width / 2, part_box.height),
            turned,
            "small",
            "soft",
            shift_px=(0.0, 16.0),
        ),
        Label(
            (at + host_box.width / 2, host_box.height),
            f"on the {joint.side} of the {panel.name}",
            "small",
            "soft",
            shift_px=(0.0, 16.0),
        ),
    ]
    whole = Box(0.0, 0.0, at + host_box.width, max(part_box.height, host_box.height))
    free = f", none on {', '.join(joint.free_of)}" if joint.free_of else ""
    return Display(tuple(items), whole, (46.0, 34.0, 20.0, 30.0), f"Where glue goes for {joint.part}{free}.")


def _magnified(part: Box, host: Box) -> float:
    """How many times as large as its panel a small part is drawn, so that its glue can be seen."""
    room = min(ROOM_SHARE * host.width / part.width, ROOM_SHARE * host.height / part.height)
    return float(min(MOST_TIMES, max(1.0, int(room * 2) / 2)))


def _flap_scene(joint: Joint, outline: Points, seen: Affine) -> Display:
    """A flap seen from inside, with the place that is stuck down."""
    items = [
        Shape((seen.all(outline),), fill=PART, form="edge", role="ink", on=PART),
        *_glue(joint, seen, _box([outline]).height / STROKES),
    ]
    told = f"Where glue goes on the {joint.panel} flap."
    return Display(tuple(items), _box([seen.all(outline)]), (20.0, 20.0, 20.0, 20.0), told)


def _glue(joint: Joint, map: Affine, apart: float, times: float = 1.0) -> list[Item]:
    """What takes glue, hatched by strokes so far apart (mm); foam as squares."""
    found: list[Item] = []
    for rings in joint.zone:
        mapped = tuple(map.all(ring) for ring in rings)
        strokes = hatch(mapped, max(1.2, apart))
        found.append(Shape(mapped, form="guide", role="accent", on=PART))
        if strokes and joint.adhesive != "foam":
            found.append(Shape(tuple(strokes), closed=False, form="edge", role="accent", on=PART, weight=0.8))
    half = times * PAD_MM / 2
    for x, y in (map(place) for place in joint.squares):
        ring = ((x - half, y - half), (x + half, y - half), (x + half, y + half), (x - half, y + half))
        found.append(Shape((ring,), fill="accent-wash", form="edge", role="accent", on=PART))
    return found


def _margins(rings: Sequence[Points], panel: Points, units: str) -> list[Item]:
    """How far a part lies from the left and from the top of its panel, to be measured by."""
    part, host = _box(rings), bounds(panel)
    y, x = part.middle[1], part.middle[0]
    found: list[Item] = []
    if part.left - host.left > 0.2:
        text = format_length(part.left - host.left, units)
        found.append(Dimension((host.left, y), (part.left, y), 0.0, text, may_move=True))
    if part.top - host.top > 0.2:
        text = format_length(part.top - host.top, units)
        found.append(Dimension((x, host.top), (x, part.top), 0.0, text, may_move=True))
    return found


def _box(rings: Sequence[Points]) -> Box:
    return bounds([point for ring in rings for point in ring])


def make_weeding_scene(plan: Plan, mat: MatRun, weeding: WeedMap) -> Display:
    """A mat as it is weeded: pieces plain, waste hatched, middles that are kept marked, places to mind ringed."""
    sheet = mat.layout.sheet.box
    frame = ((sheet.left, sheet.top), (sheet.right, sheet.top), (sheet.right, sheet.bottom), (sheet.left, sheet.bottom))
    colour = plan.brief.paper(mat.layout.paper).paper.colour
    items: list[Item] = [Shape((frame,), fill=colour, form="edge", role="soft", on=colour)]
    waste = hatch((frame, *_apart([ring for _, ring in weeding.keep])), apart=7.0)
    if waste:
        items.append(Shape(tuple(waste), closed=False, form="edge", role="soft", on=colour, weight=0.5))
    for name, ring in weeding.keep:
        items.append(Shape((ring,), fill=colour, form="edge", role="ink", on=colour))
        if bounds(ring).width > MM_A_LETTER * len(name):
            items.append(Label(bounds(ring).middle, name, "small", "ink", colour, yields=True))
    for ring in weeding.drops:
        strokes = tuple(hatch((ring,), apart=2.0))
        items.append(Shape(strokes, closed=False, form="edge", role="soft", on=colour, weight=0.5))
        items.append(Shape((ring,), form="edge", role="ink", on=colour, weight=0.8))
    for _, ring in weeding.middles:
        items.append(Shape((ring,), fill="accent-wash", form="edge", role="accent", on=colour))
    for each in weeding.fragile:
        items.append(Shape((circle(each.at, FRAGILE_MM),), form="edge", role="look", on=colour, weight=1.6))
    corner = _corner(sheet, weeding.corner)
    items.append(Arrow(corner, ARROWS[weeding.corner], "accent"))
    told = f"Mat {mat.layout.number} weeded from the {weeding.corner}; {weeding.lift}."
    return Display(tuple(items), sheet, (24.0, 24.0, 24.0, 24.0), told)


def _corner(sheet: Box, corner: str) -> Point:
    return (sheet.left if "left" in corner else sheet.right, sheet.top if "upper" in corner else sheet.bottom)


def _apart(rings: Sequence[Points]) -> list[Points]:
    """Rings as openings of a sheet: those that lie in another one left out."""
    import shapely

    from dechirer.core.shape.algebra import polygon

    joined = shapely.get_parts(shapely.union_all([polygon(ring).buffer(0.01) for ring in rings])).tolist()
    return [tuple((float(x), float(y)) for x, y in part.exterior.coords[:-1]) for part in joined]


def make_bulk_scene(tree: PanelTree, bulk: Bulk) -> Display:
    """The closed card from above: the thicker the darker, its highest place marked."""
    items: list[Item] = []
    span = max(1e-6, bulk.most - bulk.least)
    for cell in sorted(bulk.cells, key=lambda each: each.height):
        tone = _tone((cell.height - bulk.least) / span if len(bulk.cells) > 1 else 0.0)
        items.append(Shape(cell.rings, fill=tone, form="guide", role="soft", on=tone))
    text = f"{bulk.most:.2f} mm"
    items.append(Shape((circle(bulk.highest, 2.0),), form="edge", role="stop", on=_tone(1.0), weight=1.6))
    items.append(Label(bulk.highest, text, "strong", "ink", _tone(1.0), shift_px=(0.0, -16.0)))
    box = _box([cell.rings[0] for cell in bulk.cells]) if bulk.cells else Box(0.0, 0.0, 1.0, 1.0)
    told = f"The closed card of {len(tree.panels)} panels is {text} thick at most, {bulk.least:.2f} mm at least."
    return Display(tuple(items), box, (20.0, 24.0, 20.0, 20.0), told)


def _tone(share: float) -> str:
    low, high = (0xF6, 0xEF, 0xE0), (0xB9, 0x8A, 0x9F)
    return "#" + "".join(f"{round(a + (b - a) * share):02x}" for a, b in zip(low, high, strict=True))
