"""Panels joined at hinges: the one structure that flat layout, folding and faces come from.

Words: a *panel* is a part of a piece that stays flat; a *hinge* is the fold between two panels. All points
lie on the flat sheet seen with its *outside* up (the side that shows when the card is closed). A *mountain*
fold has its ridge towards the viewer of the outside, so the panels turn away from that viewer; a *valley*
fold turns them towards the viewer. Seen from the inside the two change names.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from msgspec import Struct

from dechirer.core.shape.affine import Affine, Point, Points

FoldSense = Literal["mountain", "valley"]
Side = Literal["outside", "inside"]


class Panel(Struct, frozen=True):
    """A flat part: its id, the maker's name for it, and its outline on the sheet, outside up, in mm.

    `holes` are places where paper is missing from it: cut out, or lifted away as panels of their own.
    """

    id: str
    name: str
    outline: Points
    holes: tuple[Points, ...] = ()


class Stand(Struct, frozen=True):
    """A first, half turn of a hinge that is closed later: its panel stands up so that something can go over it.

    `axis_z` is the height of the axis until then: what goes over it raises it afterwards.
    """

    order: int
    step: str
    axis_z: float = 0.0


class Hinge(Struct, frozen=True):
    """A fold from `start` to `end` between a parent and a child panel.

    `closed_deg` is how far the child has turned when the card is closed, `order` its place in the folding, `step`
    what that step is called. `axis_z` is the height of the axis above the sheet's inside: the innermost surface of
    everything folded there, so that layers close without passing through each other. A hinge that `lifts` is turned
    when the card is used and lies flat when it is put away. One with `stands` is turned half way first. What is
    `glued` is stuck down on what it closes over.
    """

    id: str
    parent: str
    child: str
    start: Point
    end: Point
    sense: FoldSense
    closed_deg: float = 180.0
    order: int = 1
    step: str = "close the front"
    axis_z: float = 0.0
    lifts: bool = False
    stands: Stand | None = None
    glued: bool = False


class Face(Struct, frozen=True):
    """One side of one panel as a reader meets it.

    `to_flat` maps a point as seen (mm from the face's top left corner as read, y down) to the flat sheet with
    its outside up.
    """

    name: str
    panel: str
    side: Side
    width: float
    height: float
    to_flat: Affine


class PanelTree(Struct, frozen=True):
    """The panels of one piece. The first panel is the root, which stays put when the piece folds.

    `faces` are in the order a reader meets them, the front first.
    """

    panels: tuple[Panel, ...]
    hinges: tuple[Hinge, ...]
    faces: tuple[Face, ...]

    @property
    def root(self) -> Panel:
        """The panel that stays put."""
        return self.panels[0]

    def panel(self, panel_id: str) -> Panel:
        """The panel of that id.

        Raises:
            KeyError: no such panel.
        """
        for panel in self.panels:
            if panel.id == panel_id:
                return panel
        raise KeyError(panel_id)

    def face(self, name: str) -> Face:
        """The face of that name.

        Raises:
            KeyError: no such face.
        """
        for face in self.faces:
            if face.name == name:
                return face
        raise KeyError(name)

    def downwards(self) -> Iterator[Hinge]:
        """The hinges so that each parent's own hinge comes before its children's.

        Raises:
            ValueError: a hinge hangs on a panel that is not in the tree.
        """
        ready = {self.root.id}
        waiting = list(self.hinges)
        while waiting:
            later = []
            for hinge in waiting:
                if hinge.parent in ready:
                    ready.add(hinge.child)
                    yield hinge
                else:
                    later.append(hinge)
            if len(later) == len(waiting):
                raise ValueError(f"hinge {later[0].id} hangs on panel {later[0].parent}, which is not in the tree")
            waiting = later


def sense_seen_from(sense: FoldSense, side: Side) -> FoldSense:
    """The fold's name seen from a side: mountain and valley change places on the inside."""
    if side == "outside":
        return sense
    return "valley" if sense == "mountain" else "mountain"
