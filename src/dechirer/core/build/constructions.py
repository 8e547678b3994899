"""The constructions Dechirer can build, by the name the job uses: how many panels each way, and its tree."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct

from dechirer.core.build.flat_card import make_flat_tree
from dechirer.core.build.folded_card import make_side_fold_tree, make_top_fold_tree
from dechirer.core.build.panels import PanelTree


class ConstructionKind(Struct, frozen=True):
    """A construction: its title, how many finished widths and heights the flat base has, and its builder."""

    id: str
    title: str
    across: int
    down: int
    make_tree: Callable[[float, float], PanelTree]

    @property
    def is_folded(self) -> bool:
        """Whether it has a fold at all."""
        return self.across * self.down > 1


KINDS: dict[str, ConstructionKind] = {
    kind.id: kind
    for kind in (
        ConstructionKind("side-fold", "Side fold", 2, 1, make_side_fold_tree),
        ConstructionKind("top-fold", "Top fold", 1, 2, make_top_fold_tree),
        ConstructionKind("flat", "Flat card", 1, 1, make_flat_tree),
    )
}
