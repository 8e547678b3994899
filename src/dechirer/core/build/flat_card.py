"""Flat card: one panel, no fold."""

from __future__ import annotations

from dechirer.core.build.panels import Face, Panel, PanelTree
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
