"""Side fold and top fold: two panels joined at one hinge in the middle.

Outside up, a side-fold sheet is back | front with the fold upright between them, and a top-fold sheet is back
above front, so the back is turned by 180 degrees on the sheet. The back is the root: it stays on the table.
"""

from __future__ import annotations

from dechirer.core.construct.making import derive, make_piece, times
from dechirer.core.construct.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.construct.setting import Made, Setting
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


def make_side_fold(setting: Setting) -> Made:
    """A side-fold base: back | front."""
    width, height = setting.facts.width, setting.facts.height
    flat_width = times(2, width, "base.width", "base width", note="2 panels side by side, joined at the fold.")
    flat_height = times(1, height, "base.height", "base height")
    return _one_fold(setting, make_side_fold_tree(width.value, height.value), flat_width, flat_height, flat_width)


def make_top_fold(setting: Setting) -> Made:
    """A top-fold base: back above front."""
    width, height = setting.facts.width, setting.facts.height
    flat_width = times(1, width, "base.width", "base width")
    flat_height = times(
        2, height, "base.height", "base height", note="2 panels one above the other, joined at the fold."
    )
    return _one_fold(setting, make_top_fold_tree(width.value, height.value), flat_width, flat_height, flat_height)


def _one_fold(setting: Setting, tree: PanelTree, width: Figure, height: Figure, across: Figure) -> Made:
    along = height if across is width else width
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
        at={"fold": (half_of(across, "base.fold.at", "base fold"), along)},
    )
    return Made(tree, (base,), {"back": "base", "front": "base"})


def half_of(across: Figure, key: str, name: str) -> Figure:
    """Where a fold in the middle lies."""
    note = "The fold lies at the piece's own centre."
    return derive(key, name, across.value / 2, "{" + across.name + "} ÷ 2", across, note=note)
