"""Brief's picture: the finished card as seen in the hand, with its copies behind it."""

from __future__ import annotations

from dechirer.core.length import format_length
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.outline import Box, rectangle
from dechirer.drawing.display import Dimension, Display, Item, Label, Shape

MOST_COPIES_DRAWN = 6
STEP_MM = 2.2


def make_card_scene(plan: Plan) -> Display:
    """The closed card's front, upright, with its width and height to type into."""
    job = plan.job
    width, height = job.brief.width.mm, job.brief.height.mm
    facts = plan.brief.paper(job.brief.base_paper)
    paper = facts.paper.colour
    items: list[Item] = []
    behind = min(job.brief.count, MOST_COPIES_DRAWN) - 1
    for copy in range(behind, 0, -1):
        items.append(
            Shape((rectangle(width, height, at=(copy * STEP_MM, -copy * STEP_MM)),), fill=paper, form="edge", on=paper,
                  role="soft")
        )  # fmt: skip
    items.append(Shape((rectangle(width, height),), fill=paper, form="edge", on=paper, element="base", shadow=True))
    items += _liner_peek(plan, width, height)
    items += _spine(job.brief.construction, width, height, paper)
    items.append(Label((width / 2, height / 2), "front", "body", "soft", paper))
    items.append(Label((width / 2, height / 2), facts.paper.name, "small", "soft", paper, shift_px=(0.0, 18.0)))
    items.append(
        Dimension((0.0, height), (width, height), 34.0, format_length(width, job.units), "brief.width", "brief.width",
                  "base")
    )  # fmt: skip
    items.append(
        Dimension((0.0, height), (0.0, 0.0), -34.0, format_length(height, job.units), "brief.height", "brief.height",
                  "base")
    )  # fmt: skip
    copies = f"× {job.brief.count} " + ("copy" if job.brief.count == 1 else "copies")
    items.append(
        Label((width + behind * STEP_MM, -behind * STEP_MM), copies, "strong", "ink", anchor="end",
              shift_px=(0.0, -18.0), figure="brief.count", field="brief.count")
    )  # fmt: skip
    reach = behind * STEP_MM
    return Display(
        tuple(items), Box(0.0, -reach, width + reach, height), (86.0, 48.0, 46.0, 66.0),
        f"The closed card, {format_length(width, job.units)} wide and {format_length(height, job.units)} high, "
        f"{job.brief.count} copies.",
    )  # fmt: skip


def _spine(construction: str, width: float, height: float, paper: str) -> list[Item]:
    """The fold along the closed card's edge."""
    ends: tuple[Point, Point] | None = None
    if construction == "side-fold":
        ends, at = ((0.0, 0.0), (0.0, height)), (0.0, height / 2)
        label = Label(at, "fold", "small", "fold", paper, turn_deg=-90.0, shift_px=(12.0, 0.0))
    elif construction == "top-fold":
        ends, at = ((0.0, 0.0), (width, 0.0)), (width / 2, 0.0)
        label = Label(at, "fold", "small", "fold", paper, shift_px=(0.0, 12.0))
    else:
        return []
    line: Points = ends
    return [Shape((line,), closed=False, form="mountain", role="fold", on=paper, weight=1.3), label]


def _liner_peek(plan: Plan, width: float, height: float) -> list[Item]:
    """Where the liner lies inside, as a guide."""
    if plan.build.piece("liner") is None or plan.job.build.liner is None:
        return []
    reveal = plan.job.build.liner.reveal.mm
    paper = plan.brief.paper(plan.job.brief.base_paper).paper.colour
    left, top = (0.0, reveal) if plan.job.brief.construction == "side-fold" else (reveal, 0.0)
    right, bottom = width - reveal, height - reveal
    inside = ((left, top), (right, top), (right, bottom), (left, bottom))
    words = "the dotted line is the liner inside"
    note = Label((width / 2, bottom), words, "small", "soft", paper, shift_px=(0.0, -16.0))
    return [Shape((inside,), form="guide", role="soft", on=paper), note]
