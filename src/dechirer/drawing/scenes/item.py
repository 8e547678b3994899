"""Small pictures of one item: as it is on its face, and before and after a step of its recipe."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.dress.drawn import Drawn
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import Box, rectangle
from dechirer.drawing.display import Display, Item, Shape
from dechirer.drawing.scenes.face import draw_mark
from dechirer.drawing.scenes.papers import draw_pattern

NOTHING = Display((), Box(0, 0, 10, 10), (0.0, 0.0, 0.0, 0.0), "")
MOST_OUTLINES = 400
"""A picture of 30 px shows no more of them."""
FINE = 200
"""Nor does it show what is smaller than such a part of the whole."""


def make_item_scene(plan: Plan, item_id: str) -> Display:
    """An item by itself, with the paper of its face behind its ink and its openings dark."""
    dressed = plan.dress.item(item_id)
    if dressed is None or dressed.spot is None or dressed.placed.drawn.is_empty:
        return NOTHING
    paper = plan.brief.paper(dressed.spot.paper).paper.face(good=dressed.spot.good)
    backer = plan.brief.paper(dressed.item.paper).paper.colour if dressed.item.paper else "sunken"
    box = _box_of(dressed.placed.drawn)
    room = 0.08 * max(box.width, box.height)
    left, top, right, bottom = box.left - room, box.top - room, box.right + room, box.bottom + room
    items: list[Item] = [Shape((((left, top), (right, top), (right, bottom), (left, bottom)),), fill=paper, on=paper)]
    for mark in plan.dress.marks:
        if mark.item == item_id:
            rough = structs.replace(mark, rings=mark.rough, lines=mark.rough_lines)
            items += (_thin(shape) for shape in draw_mark(rough, paper, backer))
    box = Box(left, top, right, bottom)
    return Display(tuple(items[:MOST_OUTLINES]), box, (0.0, 0.0, 0.0, 0.0), dressed.item.name)


def make_kept_scene(plan: Plan) -> Display:
    """What is kept on the shelf, as it is on a plain card: its topmost item, or a sheet of its last paper."""
    for item in reversed(plan.job.dress.items):
        scene = make_item_scene(plan, item.id)
        if scene is not NOTHING:
            return scene
    paper = plan.brief.papers[-1].paper
    ring = rectangle(80.0, 60.0)
    items = (Shape((ring,), fill=paper.colour, form="edge", role="soft", on=paper.colour, shadow=True),)
    pattern = draw_pattern(paper, (ring,), good=True)
    return Display((*items, *pattern), Box(0.0, 0.0, 80.0, 60.0), (4.0, 4.0, 6.0, 6.0), paper.name)


def _thin(item: Item) -> Item:
    """With lines that leave something of a small picture to see."""
    return structs.replace(item, weight=0.5, shadow=False) if isinstance(item, Shape) else item


def make_stage_scene(before: Drawn | None, after: Drawn) -> Display:
    """What a step makes of an item: what there is after it, filled, and in it the outline of what there was before."""
    if after.is_empty and (before is None or before.is_empty):
        return NOTHING
    items: list[Item] = [
        *_draw(after, fill="accent-wash", role="ink", weight=0.5),
        *(_draw(before, fill="", role="accent", weight=0.6) if before is not None else ()),
    ]
    boxes = [_box_of(each) for each in (before, after) if each is not None and not each.is_empty]
    low, high = (
        (min(each.left for each in boxes), min(each.top for each in boxes)),
        (
            max(each.right for each in boxes),
            max(each.bottom for each in boxes),
        ),
    )
    return Display(tuple(items), Box(*low, *high), (1.0, 1.0, 1.0, 1.0), "")


def _draw(drawn: Drawn, *, fill: str, role: str, weight: float) -> list[Item]:
    import shapely

    items: list[Item] = []
    box = _box_of(drawn)
    fine = max(box.width, box.height) / FINE
    for area in shapely.simplify(list(drawn.areas[:MOST_OUTLINES]), fine).tolist():
        rings = tuple(_points(ring) for ring in (area.exterior, *area.interiors))
        form = "edge" if fill else "guide"
        items.append(Shape(rings, fill=fill, form=form, role=role, on="surface", weight=weight))
    lines = tuple(_points(line) for line in shapely.simplify(list(drawn.lines[:MOST_OUTLINES]), fine).tolist())
    if lines:
        items.append(Shape(lines, closed=False, form="edge", role=role, on="surface", weight=weight))
    return items


def _points(line: object) -> Points:
    return tuple((float(x), float(y)) for x, y, *_ in line.coords)  # type: ignore[attr-defined]


def _box_of(drawn: Drawn) -> Box:
    left, top, right, bottom = drawn.box()
    return Box(left, top, max(right, left + 0.5), max(bottom, top + 0.5))
