"""What joints are found in: a model's panels and slabs, its pieces, and what of them is near to a place."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct, structs

from dechirer.core.card.assembly import Bare, Slab
from dechirer.core.card.panels import PanelTree
from dechirer.core.card.piece import Piece
from dechirer.core.fold.decisions import MakingUp
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import Box, bounds

KEPT_ROLES = ("slit", "hole", "flap", "window")
"""Lines that glue stays off."""


class Slot(Struct, frozen=True):
    """A slot or an opening of a piece that glue stays off: what it is called, and where it is on the model's flat
    sheet."""

    name: str
    path: Points
    closed: bool


class Ground(Struct, frozen=True):
    """What joints are found in: a model's panels and slabs, which piece each panel belongs to, the flat pieces by id,
    what stays bare, what is decided, and what is only put in, `loose`."""

    model: str
    tree: PanelTree
    slabs: tuple[Slab, ...]
    parts: dict[str, str]
    pieces: dict[str, Piece]
    bare: tuple[Bare, ...]
    own: MakingUp
    loose: frozenset[str] = frozenset()


class Around:
    """What of a model's slabs and slots is near to a place: each is measured once for all joints."""

    def __init__(self, ground: Ground) -> None:
        self._ground = ground
        self._slabs: dict[str, list[tuple[Box, Slab]]] = {}
        for slab in ground.slabs:
            if slab.outline:
                self._slabs.setdefault(slab.panel, []).append((bounds(slab.outline), slab))
        self._holes: dict[int, list[Box]] = {}
        self._slots: dict[tuple[str, str], list[tuple[Box, Slot]]] = {}

    def slabs(self, panel: str, box: Box) -> tuple[Slab, ...]:
        """The slabs of a panel near a box, those openings left out that are not."""
        return tuple(self._open_near(slab, box) for own, slab in self._slabs.get(panel, ()) if box.overlaps(own))

    def _open_near(self, slab: Slab, box: Box) -> Slab:
        if not slab.holes:
            return slab
        if id(slab) not in self._holes:
            self._holes[id(slab)] = [bounds(hole) for hole in slab.holes]
        near = tuple(hole for own, hole in zip(self._holes[id(slab)], slab.holes, strict=True) if box.overlaps(own))
        return slab if len(near) == len(slab.holes) else structs.replace(slab, holes=near)

    def slots(self, piece: str, panel: str, box: Box) -> tuple[Slot, ...]:
        """The slots and openings of a piece near a box."""
        key = (piece, panel)
        if key not in self._slots:
            self._slots[key] = [(bounds(slot.path), slot) for slot in _slots(piece, panel, self._ground)]
        return tuple(slot for own, slot in self._slots[key] if box.overlaps(own))


def _slots(id: str, panel: str, ground: Ground) -> Iterator[Slot]:
    """Slots and openings of a piece on one of its panels, on the model's flat sheet."""
    piece = ground.pieces.get(id)
    if piece is None or panel not in {each.id for each in piece.tree.panels}:
        return
    own, card = piece.tree.panel(panel).outline, ground.tree.panel(panel).outline
    if not own or not card:
        return
    dx, dy = card[0][0] - own[0][0], card[0][1] - own[0][1]
    for line in piece.lines:
        if line.role not in KEPT_ROLES:
            continue
        for path in line.paths:
            moved = tuple([(x + dx, y + dy) for x, y in path])
            if len(moved) > 1:
                yield Slot(f"“{line.name}”", moved, line.closed)
