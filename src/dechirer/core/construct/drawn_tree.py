"""The panels of a part of a drawing as a tree: which stays put, how each fold goes by itself, and the faces.

A drawing does not say which way its folds go. What is taken: two panels fold as a card does; panels of one width go to
and fro; otherwise the largest panel stays put and the others fold over it, the outermost first.
"""

from __future__ import annotations

import math

from msgspec import Struct

from dechirer.core.card.panels import Face, FoldSense, Hinge, Panel, PanelTree
from dechirer.core.shape.affine import Affine, translate
from dechirer.core.shape.divide import Crease, Part, span
from dechirer.core.shape.outline import area, bounds

EQUAL_SHARE = 0.06
"""Panels whose areas differ by no more than this share are of one size."""


class FoldWay(Struct, frozen=True):
    """How the maker wants a fold: its sense (`flat`: not folded), and its place in the order (0: as it is found)."""

    sense: str = ""
    order: int = 0


def name_creases(part: Part) -> tuple[str, ...]:
    """The ids of a part's creases in their order."""
    return tuple(f"fold-{number}" for number in range(1, len(part.creases) + 1))


def make_tree(part: Part, ways: dict[str, FoldWay], front: int = 0) -> PanelTree:
    """The tree of a part whose outline begins at the origin.

    Args:
        ways: how folds go, by their ids, where the maker says so.
        front: the number of the panel that is in front, from 1; 0 for the one that is found.
    """
    ids = name_creases(part)
    flat = frozenset(place for place, id in enumerate(ids) if ways.get(id, FoldWay()).sense == "flat")
    kept, _ = span(part, flat)
    root, chain = _root(part, kept, front)
    depth = _depths(part, kept, root)
    panels = [root, *(place for place in range(len(part.panels)) if place != root and place in depth)]
    hinges = _hinges(part, kept, ids, depth, ways, flat, chain)
    name = _names(part, panels, front - 1 if 0 < front <= len(part.panels) else _front(panels, hinges))
    return PanelTree(
        tuple(
            Panel(f"panel-{place + 1}", name[place], part.panels[place][0], part.panels[place][1]) for place in panels
        ),
        tuple(hinges),
        _faces(part, panels, name, hinges),
    )


def _root(part: Part, kept: tuple[int, ...], front: int) -> tuple[int, bool]:
    """The panel that stays put, and whether the others go to and fro from it."""
    sizes = [abs(area(outline)) for outline, _ in part.panels]
    if len(sizes) < 3:
        chosen = front - 1 if 0 < front <= len(sizes) else len(sizes) - 1
        return (1 - chosen if len(sizes) == 2 else 0), False
    ends = [part.creases[place] for place in kept]
    met = [sum(place in (crease.one, crease.other) for crease in ends) for place in range(len(sizes))]
    alike = max(sizes) - min(sizes) <= EQUAL_SHARE * max(sizes)
    if alike and max(met) == 2 and met.count(1) == 2:
        return max(place for place, count in enumerate(met) if count == 1), True
    order = sorted(range(len(sizes)), key=lambda place: (place == front - 1, -round(sizes[place]), place))
    return order[0], False


def _depths(part: Part, kept: tuple[int, ...], root: int) -> dict[int, int]:
    """How many folds each panel is away from the one that stays put."""
    depth = {root: 0}
    waiting = list(kept)
    while waiting:
        left = []
        for place in waiting:
            crease = part.creases[place]
            if crease.one in depth or crease.other in depth:
                near, far = (crease.one, crease.other) if crease.one in depth else (crease.other, crease.one)
                depth[far] = depth[near] + 1
            else:
                left.append(place)
        if len(left) == len(waiting):
            break
        waiting = left
    return depth


def _hinges(
    part: Part,
    kept: tuple[int, ...],
    ids: tuple[str, ...],
    depth: dict[int, int],
    ways: dict[str, FoldWay],
    flat: frozenset[int],
    chain: bool,
) -> list[Hinge]:
    mine = [place for place in kept if part.creases[place].one in depth and part.creases[place].other in depth]
    deepest_first = sorted(mine, key=lambda place: (-max(_ends(part.creases[place], depth)), place))
    found = []
    for place in mine:
        crease = part.creases[place]
        near, far = sorted((crease.one, crease.other), key=lambda panel: depth[panel])
        way = ways.get(ids[place], FoldWay())
        usual: FoldSense = "valley" if depth[far] % 2 == 0 else "mountain"
        sense: FoldSense = way.sense if way.sense in ("mountain", "valley") else usual  # type: ignore[assignment]
        order = way.order or (1 if chain else deepest_first.index(place) + 1)
        closed = 0.0 if place in flat else 180.0
        step = "fold it to and fro" if chain and not way.order else f"fold panel {far + 1}"
        if len(part.panels) == 2:
            step = "close the front"
        found.append(
            Hinge(
                ids[place],
                f"panel-{near + 1}",
                f"panel-{far + 1}",
                crease.start,
                crease.end,
                sense,
                closed,
                order,
                step,
            )
        )
    return found


def _ends(crease: Crease, depth: dict[int, int]) -> tuple[int, int]:
    return depth[crease.one], depth[crease.other]


def _front(panels: list[int], hinges: list[Hinge]) -> int:
    """The panel in front: the one that is folded last, or lies at the far end of those that go to and fro."""
    if not hinges:
        return panels[0]
    if len(panels) == 2:
        return panels[1]
    folded = [hinge for hinge in hinges if hinge.closed_deg]
    if not folded:
        return panels[0]
    parents = {hinge.child: hinge.parent for hinge in hinges}

    def depth(panel: str) -> int:
        return 1 + depth(parents[panel]) if panel in parents else 0

    last = max(hinge.order for hinge in folded)
    return (
        int(max((hinge for hinge in folded if hinge.order == last), key=lambda each: depth(each.child)).child[6:]) - 1
    )


def _names(part: Part, panels: list[int], front: int) -> dict[int, str]:
    """What each panel is called."""
    found = {place: f"panel {place + 1}" for place in panels}
    found[front] = "front"
    if len(panels) > 1 and panels[0] != front:
        found[panels[0]] = "back"
    return found


def _faces(part: Part, panels: list[int], name: dict[int, str], hinges: list[Hinge]) -> tuple[Face, ...]:
    """Both sides of every panel, the front first, what opens after it, the back last."""
    upright = bool(hinges) and abs(hinges[0].start[0] - hinges[0].end[0]) < abs(hinges[0].start[1] - hinges[0].end[1])
    two = len(panels) == 2
    outside, inside = [], []
    for place in panels:
        box = bounds(part.panels[place][0])
        id, called = f"panel-{place + 1}", name[place]
        turned = two and not upright and called == "back"
        to_flat = Affine(-1.0, 0.0, 0.0, -1.0, box.right, box.bottom) if turned else translate(box.left, box.top)
        outside.append(Face(called, id, "outside", box.width, box.height, to_flat))
        if two:
            called = {
                (True, "front"): "inside left",
                (True, "back"): "inside right",
                (False, "front"): "inside top",
                (False, "back"): "inside bottom",
            }[(upright, called)]
        else:
            called = "back" if len(panels) == 1 else f"{called}, inside"
        mirror = Affine(-1.0, 0.0, 0.0, 1.0, box.right, box.top)
        if two and not upright:
            mirror = Affine(1.0, 0.0, 0.0, -1.0, box.left, box.bottom)
        inside.append(Face(called, id, "inside", box.width, box.height, mirror))
    order = {"front": 0, "inside left": 1, "inside top": 1, "inside right": 2, "inside bottom": 2, "back": 9}
    return tuple(sorted((*outside, *inside), key=lambda face: (order.get(face.name, 5), face.name)))


def middle_of(crease: Crease) -> tuple[float, float]:
    """The middle of a fold."""
    return (crease.start[0] + crease.end[0]) / 2, (crease.start[1] + crease.end[1]) / 2


def length_of(crease: Crease) -> float:
    """How long a fold is, in mm."""
    return math.dist(crease.start, crease.end)
