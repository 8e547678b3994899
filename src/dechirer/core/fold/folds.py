"""The fold plan: each fold of a model in its order, mountain or valley as it lies, and why it comes when it does."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct, structs

from dechirer.core.card.assembly import Slab, mirrored_at
from dechirer.core.card.folding import fold_steps
from dechirer.core.card.hidden import find_collision
from dechirer.core.card.panels import Hinge, PanelTree, sense_seen_from
from dechirer.core.shape.outline import outlines_overlap

LOOKED_AT = (0.25, 0.5, 0.75)
"""At these shares of a step it is looked whether panels run into each other."""
MOST_HINGES = 14
MOST_SLABS = 60


class FoldStep(Struct, frozen=True):
    """One step of folding: its words, its hinges, how far the model is closed before and after, and why it comes after
    the one before (empty: it need not)."""

    words: str
    hinges: tuple[Hinge, ...]
    before: float
    after: float
    why: str = ""


def plan_folds(tree: PanelTree, slabs: Sequence[Slab], *, upside: str = "outside") -> tuple[FoldStep, ...]:
    """The folds of a model in their order.

    Args:
        upside: the side that lies up while it is folded; mountain and valley are told as seen there.
    """
    names = fold_steps(tree)
    orders = sorted({order for hinge in tree.hinges for order in _orders(hinge)})
    found = []
    for place, (order, words) in enumerate(zip(orders, names, strict=True)):
        hinges = tuple(hinge for hinge in tree.hinges if order in _orders(hinge))
        why = _why(tree, slabs, orders, place, names) if place else ""
        found.append(FoldStep(words, hinges, place / len(orders), (place + 1) / len(orders), why))
    return tuple(found)


def say_senses(hinges: Sequence[Hinge], side: str) -> str:
    """What kind of fold each is as seen from the side that lies up, in words."""
    senses = list(
        dict.fromkeys(sense_seen_from(hinge.sense, "inside" if side == "inside" else "outside") for hinge in hinges)
    )
    return " and ".join(f"a {sense}" for sense in senses) + f" seen from the {side}"


def _orders(hinge: Hinge) -> tuple[int, ...]:
    return (hinge.order,) if hinge.stands is None else (hinge.stands.order, hinge.order)


def _why(tree: PanelTree, slabs: Sequence[Slab], orders: list[int], place: int, names: Sequence[str]) -> str:
    """Why a step comes after the one before it: the other way round panels run into each other, or it lies over it."""
    one, other = orders[place - 1], orders[place]
    if any(hinge.stands is not None for hinge in tree.hinges) or len(tree.hinges) > MOST_HINGES:
        return ""
    swapped = _swapped(tree, one, other)
    bare = [slab for slab in slabs if slab.bottom == 0.0][:MOST_SLABS]
    steps = len(orders)
    for share in LOOKED_AT:
        for number in (place - 1, place):
            if find_collision(tree, bare, (number + share) / steps) is not None:
                return ""  # it runs through something either way: a strap in its slot
            if find_collision(swapped, bare, (number + share) / steps) is not None:
                return f"After “{names[place - 1]}”: the other way round they run into each other."
    if any(_covers(tree, first, second) for first in _at(tree, one) for second in _at(tree, other)):
        return f"After “{names[place - 1]}”: it lies over that."
    return ""


def _at(tree: PanelTree, order: int) -> Iterator[Hinge]:
    return (hinge for hinge in tree.hinges if hinge.order == order)


def _covers(tree: PanelTree, first: Hinge, second: Hinge) -> bool:
    """Whether what the second hinge closes comes to lie over what the first one does."""
    if first.parent != second.parent or first.sense != second.sense:
        return second.parent == first.child
    return outlines_overlap(
        mirrored_at(tree.panel(first.child).outline, first), mirrored_at(tree.panel(second.child).outline, second)
    )


def _swapped(tree: PanelTree, one: int, other: int) -> PanelTree:
    """The tree with two steps of folding exchanged."""
    places = {one: other, other: one}
    hinges = tuple(structs.replace(hinge, order=places.get(hinge.order, hinge.order)) for hinge in tree.hinges)
    return structs.replace(tree, hinges=hinges)
