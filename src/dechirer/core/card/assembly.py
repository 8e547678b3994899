"""What a construction gives, and the assembler that stacks layers on its panels."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from typing import Any

from msgspec import Struct, structs

from dechirer.core.card.panels import Hinge, PanelTree, Side
from dechirer.core.card.piece import Piece
from dechirer.core.figure import Figure
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import outlines_overlap

FOAM = "foam:"
"""A slab of foam has this in front of its layer's id in place of a paper: it is stuck on, not cut."""
THING = "thing:"
"""A slab of something at hand that is not paper has this in front of its item's id in place of a paper."""


class Patch(Struct, frozen=True):
    """A part of one piece that is glued on a panel of another, such as a joint tab; on the card's flat sheet.

    `paper` is what it is made of; empty: the base's.
    """

    piece: str
    panel: str
    outline: Points
    paper: str = ""
    side: Side = "inside"
    holes: tuple[Points, ...] = ()


class Threaded(Struct, frozen=True):
    """A part of a panel that passes through a slot, and so lies on the other side of another panel when closed.

    `rest` is the panel without it; it lies `layers` thicknesses of the base away from the panel, outward when above
    zero. `spread` is the panel whose inside it comes to lie behind, so that room is left for it there (empty: none).
    """

    panel: str
    rest: Points
    outline: Points
    layers: int
    spread: str = ""


class Slab(Struct, frozen=True):
    """A part of the folded card: an outline that moves with a panel of the base, between two heights (mm).

    `outline` and `holes` lie on the base's flat sheet; z from `bottom` to `top`, 0 being the base's inside.
    """

    piece: str
    paper: str
    panel: str
    outline: Points
    bottom: float
    top: float
    holes: tuple[Points, ...] = ()


class Bare(Struct, frozen=True):
    """A place of a panel, on the card's flat sheet, that stays free of glue: where something slides, stands or is seen
    through. With `piece` only under that piece. `why` says it in a few words."""

    panel: str
    outline: Points
    why: str
    piece: str = ""


class Made(Struct, frozen=True):
    """What a construction makes of the brief: the card's panels, its base pieces, and figures of its own.

    `parts` says which piece each panel of the card belongs to, `patches` what is glued on a panel to join pieces, and
    `bulk` how much thicker the card is for what is not paper (a rolled note, a dome). `found` is what the construction
    has found out on its way, for its own checks. No glue comes on what is `bare`.
    """

    tree: PanelTree
    pieces: tuple[Piece, ...]
    parts: dict[str, str]
    figures: tuple[Figure, ...] = ()
    patches: tuple[Patch, ...] = ()
    threaded: tuple[Threaded, ...] = ()
    bulk: Figure | None = None
    found: Any = None
    bare: tuple[Bare, ...] = ()


class Assembler:
    """Stacks pieces on the panels of a card and works out how high each hinge's axis comes to lie."""

    def __init__(self, made: Made, paper: str, thickness_of: Callable[[str], float]) -> None:
        """`thickness_of` gives the thickness of a paper (its id) in mm."""
        self.tree = made.tree
        thickness = thickness_of(paper)
        self.slabs = [
            Slab(made.parts[panel.id], paper, panel.id, panel.outline, 0.0, thickness, panel.holes)
            for panel in made.tree.panels
        ]
        self._top = {panel.id: thickness for panel in made.tree.panels}
        self._bottom = {panel.id: 0.0 for panel in made.tree.panels}
        for part in made.threaded:
            self._thread(part, thickness)
        for patch in made.patches:
            own = patch.paper or paper
            self.put(patch.piece, own, patch.panel, patch.side, patch.outline, thickness_of(own), patch.holes)

    def _thread(self, part: Threaded, thickness: float) -> None:
        index = next(place for place, slab in enumerate(self.slabs) if slab.panel == part.panel)
        whole = self.slabs[index]
        away = part.layers * thickness
        self.slabs[index] = structs.replace(whole, outline=part.rest)
        self.slabs.append(structs.replace(whole, outline=part.outline, bottom=away, top=away + thickness))
        if part.spread:
            self._bottom[part.spread] -= thickness

    def put(
        self,
        piece: str,
        paper: str,
        panel: str,
        side: Side,
        outline: Points,
        thickness: float,
        holes: tuple[Points, ...] = (),
    ) -> None:
        """Glue a piece on a side of a panel, on top of what is there already."""
        bottom, top = self._next(panel, side, thickness)
        self.slabs.append(Slab(piece, paper, panel, outline, bottom, top, holes))

    def put_level(
        self, piece: str, paper: str, panel: str, side: Side, outlines: list[Points], thickness: float
    ) -> None:
        """Lay parts of one piece beside each other on a side of a panel, all at one height."""
        bottom, top = self._next(panel, side, thickness)
        self.slabs += [Slab(piece, paper, panel, outline, bottom, top) for outline in outlines]

    def _next(self, panel: str, side: Side, thickness: float) -> tuple[float, float]:
        """Where the next layer on a side of a panel comes to lie: its two heights."""
        if side == "outside":
            bottom = self._top[panel]
            self._top[panel] = top = bottom + thickness
        else:
            top = self._bottom[panel]
            self._bottom[panel] = bottom = top - thickness
        return bottom, top

    def cut_hole(self, panel: str, hole: Points) -> None:
        """Cut an opening through the base's panel."""
        self.slabs = [
            structs.replace(slab, holes=(*slab.holes, hole)) if slab.panel == panel and slab.bottom == 0.0 else slab
            for slab in self.slabs
        ]

    def finish(self) -> PanelTree:
        """The card's tree with each hinge's axis half way between the surfaces that meet when it closes."""
        return raise_axes(self.tree, self.reach)

    @property
    def reach(self) -> Reach:
        """How far down and up each panel reaches with all that is on it, in mm."""
        return {panel: (self._bottom[panel], self._top[panel]) for panel in self._top}


Reach = dict[str, tuple[float, float]]


def reach_further(reach: Reach, slabs: Iterable[Slab]) -> Reach:
    """How far each panel reaches with more slabs on it."""
    found = dict(reach)
    for slab in slabs:
        low, high = found[slab.panel]
        found[slab.panel] = min(low, slab.bottom), max(high, slab.top)
    return found


def raise_axes(tree: PanelTree, reach: Reach) -> PanelTree:
    """A card's tree with each hinge's axis half way between the surfaces that meet when it closes.

    What folds onto the root after other panels lies on those it covers, so its axis is higher by half of them; so is
    what is folded back over a panel, when something has come to lie on that in between.
    """
    return _Axes(tree, reach).raised()


class _Axes:
    """Works out how high the hinges' axes lie, one after the other in the order they are folded."""

    def __init__(self, tree: PanelTree, reach: Reach) -> None:
        self.tree = tree
        self._bottom = {panel: low for panel, (low, _) in reach.items()}
        self._top = {panel: high for panel, (_, high) in reach.items()}

    def raised(self) -> PanelTree:
        placed: dict[str, Hinge] = {}
        for hinge in sorted(self.tree.hinges, key=lambda each: each.order):
            placed[hinge.id] = self._raise_axis(hinge, placed)
        return structs.replace(self.tree, hinges=tuple(placed[hinge.id] for hinge in self.tree.hinges))

    def _raise_axis(self, hinge: Hinge, before: dict[str, Hinge]) -> Hinge:
        mountain = hinge.sense == "mountain"
        heights = self._bottom if mountain else self._top
        ground = own = heights[hinge.parent]
        if hinge.parent == self.tree.root.id and not hinge.lifts:
            for other in before.values():
                if other.parent == hinge.parent and other.sense == hinge.sense and other.order < hinge.order:
                    ground = self._over(hinge, other, ground)
        under = next((other for other in before.values() if other.child == hinge.parent), None)
        if under is not None and under.parent == self.tree.root.id and under.sense != hinge.sense:
            for other in before.values():
                if other.parent == under.parent and other.sense == under.sense and other.order > under.order:
                    ground = self._back_over(hinge, under, other, ground)
        stands = hinge.stands
        if stands is not None:
            stands = structs.replace(stands, axis_z=(own + heights[hinge.child]) / 2)
        return structs.replace(hinge, axis_z=(ground + heights[hinge.child]) / 2, stands=stands)

    def _over(self, hinge: Hinge, other: Hinge, ground: float) -> float:
        """The height of what `hinge` folds onto, given that `other` has been folded before it."""
        mine, theirs = self._folded_over(hinge, hinge.child), self._folded_over(other, other.child)
        if not outlines_overlap(mine, theirs):
            return ground
        far = self._top[other.child] if hinge.sense == "mountain" else self._bottom[other.child]
        reached = 2 * other.axis_z - far
        return min(ground, reached) if hinge.sense == "mountain" else max(ground, reached)

    def _back_over(self, hinge: Hinge, under: Hinge, other: Hinge, ground: float) -> float:
        """The height over its own parent of what `hinge` folds back onto.

        Its parent hangs on `under`, and `other` has been folded onto the root, over the parent, since.
        """
        back = mirrored_at(self._folded_over(hinge, hinge.child), under)
        if not outlines_overlap(back, self._folded_over(other, other.child)):
            return ground
        far = self._top[other.child] if under.sense == "mountain" else self._bottom[other.child]
        reached = 2 * under.axis_z - (2 * other.axis_z - far)
        return max(ground, reached) if under.sense == "mountain" else min(ground, reached)

    def _folded_over(self, hinge: Hinge, panel: str) -> Points:
        """A panel's outline mirrored at a hinge, as it lies when that is closed."""
        return mirrored_at(self.tree.panel(panel).outline, hinge)


def mirrored_at(outline: Points, hinge: Hinge) -> Points:
    """An outline mirrored at a hinge."""
    (x0, y0), (x1, y1) = hinge.start, hinge.end
    length = math.dist(hinge.start, hinge.end)
    ux, uy = (x1 - x0) / length, (y1 - y0) / length
    found = []
    for x, y in outline:
        along = (x - x0) * ux + (y - y0) * uy
        found.append((2 * (x0 + along * ux) - x, 2 * (y0 + along * uy) - y))
    return tuple(found)
