"""The inlay of an envelope: body and top flap in another paper, smaller by a margin all round, folded with the flap."""

from __future__ import annotations

import math

from dechirer.core.card.assembly import Patch
from dechirer.core.card.fold import Fold
from dechirer.core.card.making import make_piece
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.card.piece import Piece
from dechirer.core.construct.card import Card
from dechirer.core.figure import Figure
from dechirer.core.shape.affine import Affine, Point, Points, translate
from dechirer.core.shape.algebra import keep_within, merge, offset
from dechirer.core.shape.outline import bounds


def make_inlay(
    card: Card, paper: str, marked: Fold, tree: PanelTree, margins: tuple[Figure, Figure], letter: str
) -> tuple[Piece, list[Patch]] | None:
    """The inlay of an envelope and where it is glued; None when nothing of it is left.

    Args:
        paper: the id of its paper.
        marked: how the envelope's folds are marked.
        tree: the envelope's panels.
        margins: how much smaller it is than the body and than the top flap on each side, in mm.
    """
    body, top = tree.panel("body").outline, tree.panel("top").outline
    around = merge(body, top)
    lower, upper = (
        keep_within(offset(around, -margin.value, corners="mitre"), panel)
        for margin, panel in zip(margins, (body, top), strict=True)
    )
    if not lower or not upper:
        return None
    whole = merge(lower, upper)
    ends = _fold_ends(next(each for each in tree.hinges if each.child == "top"), upper)
    if ends is None:
        return None
    box = bounds(whole)
    move = translate(-box.left, -box.top)
    panels = (Panel("inlay-body", "inlay", move.all(lower)), Panel("inlay-top", "inlay flap", move.all(upper)))
    fold = Hinge(
        "fold-top",
        "inlay-body",
        "inlay-top",
        move(ends[0]),
        move(ends[1]),
        "mountain",
        step="fold it with the top flap",
    )
    inner = bounds(lower)
    face = Face("inlay", "inlay-body", "inside", inner.width, inner.height, Affine(a=-1.0, e=box.width))
    source = "the body and its top flap, less the inlay margin all round"
    width = Figure("inlay.width", "inlay width", box.width, source=source, inputs=margins[:1])
    height = Figure("inlay.height", "inlay height", box.height, source=source, inputs=tuple(dict.fromkeys(margins)))
    level = Figure("inlay.fold-top.at", "fold of the inlay", abs(move(ends[0])[1]), source="the envelope's own fold")
    edge = Figure("inlay.fold-top.edge", "inlay fold from edge to edge", math.dist(*ends), source="the inlay's width")
    piece = make_piece(
        "inlay",
        letter,
        "envelope inlay",
        PanelTree(panels, (fold,), (face,)),
        move.all(whole),
        paper=paper,
        count=card.count,
        fold=marked,
        field="construct.envelope.fold",
        width=width,
        height=height,
        at={"fold-top": (level, edge)},
    )
    return piece, [Patch("inlay", "body", lower, paper), Patch("inlay", "top", upper, paper)]


def _fold_ends(hinge: Hinge, upper: Points) -> tuple[Point, Point] | None:
    """Where the inlay's own fold begins and ends on the flap's hinge; None when it does not reach it."""
    (x0, y0), (x1, y1) = hinge.start, hinge.end
    length = math.dist(hinge.start, hinge.end)
    along = [
        ((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / length for x, y in upper if _off_line(hinge, (x, y)) < 0.01
    ]
    if len(along) < 2:
        return None
    first, last = ((x0 + (x1 - x0) * at / length, y0 + (y1 - y0) * at / length) for at in (min(along), max(along)))
    return first, last


def _off_line(hinge: Hinge, point: Point) -> float:
    (x0, y0), (x1, y1) = hinge.start, hinge.end
    return abs((point[0] - x0) * (y1 - y0) - (point[1] - y0) * (x1 - x0)) / math.dist(hinge.start, hinge.end)
