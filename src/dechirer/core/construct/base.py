"""The base: the piece a card is folded from, made of its tree of panels in the card's own paper."""

from __future__ import annotations

from dechirer.core.card.making import make_piece
from dechirer.core.card.panels import PanelTree
from dechirer.core.card.piece import Line, Measure, Piece
from dechirer.core.construct.card import Card
from dechirer.core.figure import Figure
from dechirer.core.shape.affine import Points


def make_base(
    card: Card,
    tree: PanelTree,
    outline: Points,
    *,
    width: Figure,
    height: Figure,
    at: dict[str, tuple[Figure, Figure]],
    inner: tuple[Line, ...] = (),
    measures: tuple[Measure, ...] = (),
    id: str = "base",
    letter: str = "A",
    name: str = "base",
) -> Piece:
    """A base, or one section of it.

    Args:
        outline: its edge on the sheet, outside up, in mm; `width` and `height` are its flat size.
        at: for each hinge, the figure of where it lies and the figure of how long it is from edge to edge.
        inner: cuts inside the outline.
    """
    return make_piece(
        id,
        letter,
        name,
        tree,
        outline,
        paper=card.paper,
        count=card.count,
        fold=card.fold,
        field="construct.fold",
        width=width,
        height=height,
        at=at,
        inner=inner,
        measures=measures,
    )
