"""Templates: a piece of scrap with the openings through which loose parts are set in their places."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct

from dechirer.core.card.panels import PanelTree
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.dress.dressed import DressPlan
from dechirer.core.dress.mark import rings_of
from dechirer.core.fold.joints import Joint
from dechirer.core.shape.affine import Affine, Points
from dechirer.core.shape.outline import Box, bounds

FEW = 2
"""From so many loose parts on a template is made."""


class Template(Struct, frozen=True):
    """A template: its name, where it is laid, the panel's outline and the openings, all as seen from above, mm."""

    id: str
    name: str
    where: str
    outline: Points
    openings: tuple[Points, ...]

    @property
    def box(self) -> Box:
        """What it takes."""
        return bounds([point for ring in (self.outline, *self.openings) for point in ring])


def find_templates(
    construct: ConstructPlan, dress: DressPlan, joints: Sequence[Joint], tree: PanelTree
) -> Iterator[Template]:
    """A template for every part that is stuck in several, and for loose middles that are set back."""
    names = {dressed.item.id: dressed.item.name for dressed in dress.first_of_each()}
    names |= {piece.id: piece.name for piece in construct.pieces}
    for joint in joints:
        if joint.model == "card" and joint.number >= FEW:
            # Seen from the side it is stuck on.
            seen = Affine() if joint.side == "outside" else Affine(a=-1.0)
            panel = tree.panel(joint.panel)
            yield Template(
                joint.id,
                names.get(joint.part, joint.part),
                f"{joint.side} of the {panel.name}",
                seen.all(panel.outline),
                tuple(seen.all(ring) for ring in joint.outlines),
            )
    for dressed in dress.first_of_each():
        item, spot = dressed.item, dressed.spot
        if item.islands != "keep" or item.made not in ("window", "art") or spot is None:
            continue
        areas = [area for part in dressed.placed.drawn.parts if part.role == "cut" for area in part.areas]
        middles = [ring for area in areas for ring in rings_of(area, Affine())[1:]]
        if middles:
            name = f"the middles of {item.name}"
            yield Template(f"{item.id}-middles", name, spot.title, spot.outline, tuple(middles))
