"""Brief's picture: the finished card as seen in the hand, with its copies behind it."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.length import format_length
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Point
from dechirer.core.shape.outline import Box, bounds, is_rectangle
from dechirer.drawing.display import Dimension, Display, Item, Label, Shape
from dechirer.drawing.scenes.solid import make_front_view

MOST_COPIES_DRAWN = 6
STEP_MM = 2.2


def make_card_scene(plan: Plan) -> Display:
    """The closed card's front, upright, with its width and height to type into."""
    job = plan.job
    facts = plan.brief.paper(job.brief.base_paper)
    paper = facts.paper.colour
    everything, box = make_front_view(plan)
    front = _visible(everything)
    behind = min(job.brief.count, MOST_COPIES_DRAWN) - 1
    stacked: list[Item] = []
    silhouette = [item for item in front if isinstance(item, Shape)]
    for copy in range(behind, 0, -1):
        for shape in silhouette:
            ring = tuple((x + copy * STEP_MM, y - copy * STEP_MM) for x, y in shape.paths[0])
            stacked.append(Shape((ring,), closed=shape.closed, fill=shape.fill, form="edge", on=shape.on, role="soft"))
    stacked += [structs.replace(item, shadow=True) if item is silhouette[0] else item for item in front]
    items = _visible(stacked)  # of what lies on the copies little more than their edges is seen
    items += _liner_peek(plan, box)
    items += _spine(_folds_at(plan), box, paper)
    middle, bottom = (box.left + box.right) / 2, box.bottom
    width, height = job.brief.width.mm, job.brief.height.mm
    proud = max(0.0, (box.width - width) / 2)  # what a rim stands out by is not part of the finished size
    left, right = middle - width / 2, middle + width / 2
    items.append(
        Dimension(
            (left, bottom), (right, bottom), 34.0, format_length(width, job.units), "brief.width", "brief.width", "base"
        )
    )
    items.append(
        Dimension(
            (left, bottom - proud),
            (left, bottom - proud - height),
            -34.0,
            format_length(height, job.units),
            "brief.height",
            "brief.height",
            "base",
        )
    )
    copies = f"× {job.brief.count} " + ("copy" if job.brief.count == 1 else "copies")
    reach = behind * STEP_MM
    top = min(box.top, bottom - proud - height) - reach
    items.append(
        Label(
            (box.right + reach, top),
            copies,
            "strong",
            "ink",
            anchor="end",
            shift_px=(0.0, -18.0),
            figure="brief.count",
            field="brief.count",
        )
    )
    return Display(
        tuple(items),
        Box(min(box.left, left), top, max(box.right, right) + reach, bottom),
        (86.0, 48.0, 46.0, 66.0),
        f"The closed card, {format_length(width, job.units)} wide and {format_length(height, job.units)} high, "
        f"{job.brief.count} copies on {facts.paper.name}.",
    )


def _visible(items: list[Item]) -> list[Item]:
    """The items without shapes that lie wholly under a nearer rectangle: inner layers are not worth painting."""
    kept: list[Item] = []
    lids: list[Box] = []
    for item in reversed(items):
        if isinstance(item, Shape):
            box = bounds(item.paths[0])
            if any(lid.holds(box) for lid in lids):
                continue
            if item.fill and len(item.paths) == 1 and is_rectangle(item.paths[0]):
                lids.append(box)
        kept.append(item)
    return kept[::-1]


def _folds_at(plan: Plan) -> str:
    """Where a card of one fold hinges, seen from the front: `left`, `top`, or empty when it folds otherwise."""
    hinges = plan.construct.tree.hinges
    if len(hinges) != 1 or plan.construct.kind.liner != "spread":
        return ""
    (x0, _), (x1, _) = hinges[0].start, hinges[0].end
    return "left" if abs(x0 - x1) < 1e-6 else "top"


def _spine(folds_at: str, box: Box, paper: str) -> list[Item]:
    """The fold along the closed card's edge."""
    ends: tuple[Point, Point]
    if folds_at == "left":
        ends, at = ((box.left, box.top), (box.left, box.bottom)), (box.left, (box.top + box.bottom) / 2)
        label = Label(at, "fold", "small", "fold", paper, turn_deg=-90.0, shift_px=(12.0, 0.0))
    elif folds_at == "top":
        ends, at = ((box.left, box.top), (box.right, box.top)), ((box.left + box.right) / 2, box.top)
        label = Label(at, "fold", "small", "fold", paper, shift_px=(0.0, 12.0))
    else:
        return []
    return [Shape((ends,), closed=False, form="mountain", role="fold", on=paper, weight=1.3), label]


def _liner_peek(plan: Plan, box: Box) -> list[Item]:
    """Where a folded liner lies inside, as a guide."""
    liner = plan.job.construct.liner
    if liner is None or plan.construct.piece("liner") is None or plan.construct.kind.liner != "spread":
        return []
    reveal = liner.each_mm
    paper = plan.brief.paper(plan.job.brief.base_paper).paper.colour
    side = _folds_at(plan) == "left"
    left, top = (box.left, box.top + reveal) if side else (box.left + reveal, box.top)
    right, bottom = box.right - reveal, box.bottom - reveal
    inside = ((left, top), (right, top), (right, bottom), (left, bottom))
    words = "the dotted line is the liner inside"
    note = Label(((left + right) / 2, bottom), words, "small", "soft", paper, shift_px=(0.0, -16.0))
    return [Shape((inside,), form="guide", role="soft", on=paper), note]
