"""Side fold and top fold: two panels joined at one hinge in the middle.

Outside up, a side-fold sheet is back | front with the fold upright between them, and a top-fold sheet is back
above front, so the back is turned by 180 degrees on the sheet. The back is the root: it stays on the table.
"""

from __future__ import annotations

from dechirer.core.build.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.shape.affine import Affine, translate
from dechirer.core.shape.outline import rectangle


def make_side_fold_tree(width: float, height: float) -> PanelTree:
    """Panels of a side-fold card whose closed panels are width x height (mm)."""
    return PanelTree(
        panels=(
            Panel("back", "back", rectangle(width, height)),
            Panel("front", "front", rectangle(width, height, at=(width, 0.0))),
        ),
        hinges=(Hinge("fold", "back", "front", (width, 0.0), (width, height), "mountain"),),
        faces=(
            Face("front", "front", "outside", width, height, translate(width, 0.0)),
            Face("inside left", "front", "inside", width, height, Affine(a=-1.0, e=2 * width)),
            Face("inside right", "back", "inside", width, height, Affine(a=-1.0, e=width)),
            Face("back", "back", "outside", width, height, Affine()),
        ),
    )


def make_top_fold_tree(width: float, height: float) -> PanelTree:
    """Panels of a top-fold card whose closed panels are width x height (mm)."""
    return PanelTree(
        panels=(
            Panel("back", "back", rectangle(width, height)),
            Panel("front", "front", rectangle(width, height, at=(0.0, height))),
        ),
        hinges=(Hinge("fold", "back", "front", (0.0, height), (width, height), "mountain"),),
        faces=(
            Face("front", "front", "outside", width, height, translate(0.0, height)),
            Face("inside top", "front", "inside", width, height, Affine(d=-1.0, f=2 * height)),
            Face("inside bottom", "back", "inside", width, height, Affine(d=-1.0, f=height)),
            Face("back", "back", "outside", width, height, Affine(a=-1.0, d=-1.0, e=width, f=height)),
        ),
    )
