"""Top fold: two panels one above the other, joined at a level fold; outside up the back lies above the front."""

from __future__ import annotations

from dechirer.core.card.assembly import Made
from dechirer.core.card.making import times
from dechirer.core.construct.card import Card
from dechirer.core.construct.one_fold import make_one_fold, make_top_fold_tree
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.decisions import Decisions


@CONSTRUCTIONS.add("top-fold", title="Top fold", order=20, quick="top", liner="spread", halves=(1, 2))
def make_top_fold(_own: Decisions, card: Card) -> Made:
    """A top-fold base: back above front."""
    flat_width = times(1, card.width, "base.width", "base width")
    flat_height = times(
        2, card.height, "base.height", "base height", note="2 panels one above the other, joined at the fold."
    )
    tree = make_top_fold_tree(card.width.value, card.height.value)
    return make_one_fold(card, tree, flat_width, flat_height, flat_height)
