"""What a construction is given and what it gives back, and the assembler that stacks layers on panels."""

from __future__ import annotations

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.build.panels import Hinge, PanelTree, Side
from dechirer.core.build.piece import Piece
from dechirer.core.figure import Figure
from dechirer.core.job.model import Brief, Build
from dechirer.core.shape.affine import Points


class Setting(Struct, frozen=True):
    """What every builder is given. `longest_mm` is the longest piece the machine cuts from the base's sheet."""

    brief: Brief
    build: Build
    facts: BriefPlan
    units: str = "in"
    longest_mm: float = 292.1


FOAM = "foam:"
"""A slab of foam has this in front of its layer's id in place of a paper: it is stuck on, not cut."""


class Patch(Struct, frozen=True):
    """A part of one piece that is glued behind a panel of another, such as a joint tab; on the card's flat sheet."""

    piece: str
    panel: str
    outline: Points


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


class Made(Struct, frozen=True):
    """What a construction makes of the brief: the card's panels, its base pieces, and figures of its own.

    `parts` says which piece each panel of the card belongs to, `patches` what is glued behind a panel to join pieces.
    """

    tree: PanelTree
    pieces: tuple[Piece, ...]
    parts: dict[str, str]
    figures: tuple[Figure, ...] = ()
    patches: tuple[Patch, ...] = ()


class Assembler:
    """Stacks pieces on the panels of a card and works out how high each hinge's axis comes to lie."""

    def __init__(self, made: Made, paper: str, thickness: float) -> None:
        self.tree = made.tree
        self.slabs = [
            Slab(made.parts[panel.id], paper, panel.id, panel.outline, 0.0, thickness) for panel in made.tree.panels
        ]
        self._top = {panel.id: thickness for panel in made.tree.panels}
        self._bottom = {panel.id: 0.0 for panel in made.tree.panels}
        for patch in made.patches:
            self.put(patch.piece, paper, patch.panel, "inside", patch.outline, thickness)

    def put(self, piece: str, paper: str, panel: str, side: Side, outline: Points, thickness: float) -> None:
        """Glue a piece on a side of a panel, on top of what is there already."""
        if side == "outside":
            bottom = self._top[panel]
            self._top[panel] = top = bottom + thickness
        else:
            top = self._bottom[panel]
            self._bottom[panel] = bottom = top - thickness
        self.slabs.append(Slab(piece, paper, panel, outline, bottom, top))

    def cut_hole(self, panel: str, hole: Points) -> None:
        """Cut an opening through the base's panel."""
        self.slabs = [
            structs.replace(slab, holes=(*slab.holes, hole)) if slab.panel == panel and slab.bottom == 0.0 else slab
            for slab in self.slabs
        ]

    def finish(self) -> PanelTree:
        """The card's tree with each hinge's axis half way between the surfaces that meet when it closes."""
        return structs.replace(self.tree, hinges=tuple(self._raise_axis(hinge) for hinge in self.tree.hinges))

    def _raise_axis(self, hinge: Hinge) -> Hinge:
        heights = self._bottom if hinge.sense == "mountain" else self._top
        return structs.replace(hinge, axis_z=(heights[hinge.parent] + heights[hinge.child]) / 2)
