"""Flat card: one panel, no fold."""

from __future__ import annotations

from dechirer.core.construct.making import make_piece, times
from dechirer.core.construct.panels import Face, Panel, PanelTree
from dechirer.core.construct.setting import Made, Setting
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


def make_flat(setting: Setting) -> Made:
    """A flat base."""
    width = times(1, setting.facts.width, "base.width", "base width")
    height = times(1, setting.facts.height, "base.height", "base height")
    tree = make_flat_tree(width.value, height.value)
    base = make_piece(
        "base",
        "A",
        "base",
        tree,
        rectangle(width.value, height.value),
        paper=setting.brief.base_paper,
        count=setting.brief.count,
        fold=setting.construct.fold,
        field="construct.fold",
        width=width,
        height=height,
        at={},
    )
    return Made(tree, (base,), {"front": "base"})
