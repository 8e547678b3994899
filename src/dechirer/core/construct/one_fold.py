"""Side fold and top fold: two panels joined at one hinge in the middle.

Outside up, a side-fold sheet is back | front with the fold upright between them, and a top-fold sheet is back
above front, so the back is turned by 180 degrees on the sheet. The back is the root: it stays on the table.
"""

from __future__ import annotations

from dechirer.core.card.assembly import Made
from dechirer.core.card.making import derive
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.figure import Figure
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


def make_one_fold(card: Card, tree: PanelTree, width: Figure, height: Figure, across: Figure) -> Made:
    """A base of two panels joined in the middle of the side `across`; `width` and `height` are its flat size."""
    along = height if across is width else width
    base = make_base(
        card,
        tree,
        rectangle(width.value, height.value),
        width=width,
        height=height,
        at={"fold": (half_of(across, "base.fold.at", "base fold"), along)},
    )
    return Made(tree, (base,), {"back": "base", "front": "base"})


def half_of(across: Figure, key: str, name: str) -> Figure:
    """Where a fold in the middle lies."""
    note = "The fold lies at the piece's own centre."
    return derive(key, name, across.value / 2, "{" + across.name + "} ÷ 2", across, note=note)
