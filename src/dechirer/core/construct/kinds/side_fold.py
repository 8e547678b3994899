"""Side fold: two panels side by side, joined at an upright fold; the sheet outside up is back | front."""

from __future__ import annotations

from dechirer.core.card.assembly import Made
from dechirer.core.card.making import times
from dechirer.core.construct.card import Card
from dechirer.core.construct.one_fold import make_one_fold, make_side_fold_tree
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.decisions import Decisions


@CONSTRUCTIONS.add("side-fold", title="Side fold", order=10, quick="side", liner="spread", halves=(2, 1))
def make_side_fold(_own: Decisions, card: Card) -> Made:
    """A side-fold base: back | front."""
    flat_width = times(2, card.width, "base.width", "base width", note="2 panels side by side, joined at the fold.")
    flat_height = times(1, card.height, "base.height", "base height")
    tree = make_side_fold_tree(card.width.value, card.height.value)
    return make_one_fold(card, tree, flat_width, flat_height, flat_width)
