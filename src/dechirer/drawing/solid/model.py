"""What is folded and looked at: the card with what Dress put on it, or its envelope, closed by a share.

A `Folded` is made once for a plan and an opening; it gives the picture from any side.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from msgspec import Struct

from dechirer.core.card.assembly import Slab
from dechirer.core.card.folding import Pose, fold
from dechirer.core.card.panels import PanelTree
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import area, is_inside
from dechirer.drawing.solid.bends import bend_strips
from dechirer.drawing.solid.depth import Node, divide_space

if TYPE_CHECKING:
    from dechirer.core.dress.mark import Mark
    from dechirer.core.dress.spots import Spot


class Model(Struct, frozen=True):
    """Something that folds: its panels and the slabs that move with them."""

    name: str
    tree: PanelTree
    slabs: tuple[Slab, ...]


def find_model(plan: Plan, piece: str = "") -> Model:
    """What the folded view shows while a piece is shown large: the envelope for itself and its inlay, else the card."""
    made = plan.construct.envelope
    if piece not in ("envelope", "inlay") or made is None:
        return Model("card", plan.stacked.tree, plan.stacked.slabs)
    return Model("envelope", made.tree, plan.construct.envelope_slabs)


class Folded:
    """A model at an opening, from 0 (flat) to 1 (closed): where its panels are and what hides what."""

    def __init__(self, plan: Plan, closed: float, piece: str = "") -> None:
        self.plan, self.closed, self.piece = plan, closed, piece
        self.model = find_model(plan, piece)
        self.poses: dict[str, Pose] = fold(self.model.tree, closed)

    @cached_property
    def space(self) -> Node:
        """What hides what."""
        model = self.model
        found = divide_space(model.slabs, self.poses)
        for strip in bend_strips(model.tree, model.slabs, self.poses, self.closed):
            found.put(strip)
        return found

    @cached_property
    def marks(self) -> dict[int, list[tuple[Spot, Mark]]]:
        """What is on the card's faces, by the slab that shows it; nothing on an envelope."""
        if self.model.name != "card":
            return {}
        plan = self.plan
        found: dict[int, list[tuple[Spot, Mark]]] = {}
        spots = {spot.id: spot for spot in plan.dress.spots}
        own = {slab.piece: index for index, slab in enumerate(plan.stacked.slabs)}
        for mark in plan.dress.marks:
            spot = spots[mark.spot]
            if spot.to_card is None or spot.slab < 0 or mark.form in ("opening", "guide"):
                continue
            if mark.item in own and mark.form == "paper":
                continue  # it is a slab of its own
            found.setdefault(own.get(mark.item, spot.slab), []).append((spot, mark))
        return found

    @cached_property
    def names(self) -> dict[tuple[int, str], str]:
        """The name of the face each slab shows on a side (its place and the side)."""
        slabs = self.model.slabs
        areas = {id(slab): area(slab.outline) for slab in slabs}
        return {
            (index, side): name
            for index, slab in enumerate(slabs)
            for side in ("outside", "inside")
            if (name := name_of_face(self.model, slab, side, areas))
        }

    def slits(self, slab: Slab) -> list[tuple[str, Points]]:
        """Slits and slots of a base's panel, each with its line's id, on the card's flat sheet."""
        plan = self.plan
        piece = plan.construct.piece(slab.piece)
        if self.model.name != "card" or slab.bottom != 0.0 or piece is None:
            return []
        if not any(line.role == "slit" for line in piece.lines):
            return []
        own, card = piece.tree.panel(slab.panel).outline[0], plan.construct.made.tree.panel(slab.panel).outline[0]
        dx, dy = card[0] - own[0], card[1] - own[1]
        found = []
        for line in piece.lines:
            for path in line.paths if line.role == "slit" else ():
                moved = tuple((x + dx, y + dy) for x, y in path)
                if all(is_inside(slab.outline, point) for point in moved):
                    found.append((line.id, moved))
        return found


def name_of_face(model: Model, slab: Slab, side: str, areas: dict[int, float] | None = None) -> str:
    """The name of the face a slab shows on a side; empty when another layer lies on it there.

    Args:
        areas: of the model's slabs by their identity, where they are known.
    """
    mine = [other for other in model.slabs if other.panel == slab.panel]
    sizes = areas if areas is not None else {id(other): area(other.outline) for other in mine}
    # A part that passes a slot lies elsewhere and bears no name.
    largest = max(sizes[id(other)] for other in mine)
    mine = [other for other in mine if sizes[id(other)] > 0.3 * largest]
    if not mine:
        return ""
    covered = max(mine, key=lambda each: each.top) if side == "outside" else min(mine, key=lambda each: each.bottom)
    if covered is not slab:
        return ""
    faces = model.tree.faces
    return next((face.name for face in faces if (face.panel, face.side) == (slab.panel, side)), "")
