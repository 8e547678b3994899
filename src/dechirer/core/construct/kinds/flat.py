"""Flat card: one panel, no fold."""

from __future__ import annotations

from dechirer.core.card.assembly import Made
from dechirer.core.card.making import times
from dechirer.core.card.panels import Face, Panel, PanelTree
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.decisions import Decisions
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.outline import rectangle


def make_flat_tree(width: float, height: float) -> PanelTree:
    """The single panel of a flat card of width x height (mm)."""
    return PanelTree(
        panels=(Panel("front", "front", rectangle(width, height)),),
        hinges=(),
        faces=(
            Face("front", "front", "outside", width, height, Affine()),
            Face("back", "front", "inside", width, height, Affine(a=-1.0, e=width)),
        ),
    )


@CONSTRUCTIONS.add("flat", title="Flat card", order=30, quick="flat", halves=(1, 1))
def make_flat(_own: Decisions, card: Card) -> Made:
    """A flat base."""
    width = times(1, card.width, "base.width", "base width")
    height = times(1, card.height, "base.height", "base height")
    tree = make_flat_tree(width.value, height.value)
    base = make_base(
        card,
        tree,
        rectangle(width.value, height.value),
        width=width,
        height=height,
        at={},
    )
    return Made(tree, (base,), {"front": "base"})
