"""The stack: the one definition of how large and how thick the closed card is, from what lies on what."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable

from dechirer.core.card.assembly import FOAM, Slab
from dechirer.core.card.folding import fold, pressed
from dechirer.core.card.panels import PanelTree
from dechirer.core.figure import Figure
from dechirer.core.shape.outline import Box, bounds, is_inside


def find_closed_box(tree: PanelTree) -> Box:
    """The box round the closed card as it is put away, in mm."""
    poses = fold(pressed(tree), 1.0)
    return bounds([poses[panel.id]((x, y, 0.0))[:2] for panel in tree.panels for x, y in panel.outline])


def measure_closed_thickness(
    stack: list[Slab], figures: list[Figure], bulk: Figure | None, thickness_of: Callable[[str], Figure]
) -> Figure:
    """The thickest place of the closed card: its layers by paper, the foam between them, and what it holds.

    Args:
        stack: the slabs that lie over each other there.
        figures: where the figures of foam are found.
        bulk: what it holds that is not paper, in mm.
        thickness_of: the figure of a paper's thickness, by the paper's id.
    """
    counts = Counter(slab.paper for slab in stack)
    found = {figure.key: figure for figure in figures}
    inputs = tuple(
        found[f"{paper.removeprefix(FOAM)}.foam"] if paper.startswith(FOAM) else thickness_of(paper) for paper in counts
    )
    formula = " + ".join(
        f"{number} × " + "{" + given.name + "}" for given, number in zip(inputs, counts.values(), strict=True)
    )
    total = sum(slab.top - slab.bottom for slab in stack)
    if bulk is not None:
        total, inputs, formula = total + bulk.value, (*inputs, bulk), formula + " + {" + bulk.name + "}"
    return Figure(
        "card.thickness",
        "closed thickness",
        total,
        formula=formula,
        inputs=inputs,
        note=f"{len(stack)} layers pressed flat at the thickest place, before glue.",
    )


def find_thickest_stack(tree: PanelTree, slabs: tuple[Slab, ...]) -> list[Slab]:
    """The slabs that lie over each other at the thickest place of the closed card.

    Looked for at points inside each slab near its corners and in its middle, where any stack of such layers is met.
    """
    poses = fold(pressed(tree), 1.0)
    placed = [tuple(poses[slab.panel]((x, y, slab.bottom)) for x, y in slab.outline) for slab in slabs]
    rings = [tuple((x, y) for x, y, _ in ring) for ring in placed]
    boxes = [bounds(ring) for ring in rings]
    best: list[Slab] = []
    for box in boxes:
        for share_x in (0.03, 0.5, 0.97):
            for share_y in (0.03, 0.5, 0.97):
                point = (box.left + share_x * box.width, box.top + share_y * box.height)
                stack = [
                    slab
                    for slab, other, around in zip(slabs, rings, boxes, strict=True)
                    if around.has(point) and is_inside(other, point)
                ]
                if _height(stack) > _height(best) + 1e-9:
                    best = stack
    return best


def _height(stack: list[Slab]) -> float:
    return sum(slab.top - slab.bottom for slab in stack)
