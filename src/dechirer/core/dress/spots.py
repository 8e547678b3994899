"""Faces to dress: every side of every panel as a reader sees it, with the maps to its flat piece and to the card.

A spot is a face of the card, or of a piece that is glued on or in it (named `piece/face`).
"""

from __future__ import annotations

from typing import Any

from msgspec import Struct

from dechirer.core.card.assembly import FOAM
from dechirer.core.card.panels import Side
from dechirer.core.card.piece import Piece
from dechirer.core.construct.whole import CardPlan
from dechirer.core.shape.affine import Affine, Point, Points, translate
from dechirer.core.shape.outline import bounds, clockwise

NEAR_MM = 1e-6


class Spot(Struct, frozen=True):
    """A face that can be dressed. Rings and segments lie on the face as seen, mm from its top left corner, y down.

    Attributes:
        id: the face's name on the card, or `piece/face`.
        piece: id of the flat piece it is a side of, and `paper` that piece's paper.
        panel: the card's panel it moves with when the card folds; empty when the piece is not part of the card.
        to_piece: from the face as seen to the flat piece, outside up.
        to_card: from the face as seen to the card's flat sheet; None when there is none.
        folds: fold lines along its edge or across it.
        holes: openings in it.
        covers: what lies on it: (piece, ring).
        good: whether it is the good side of its paper.
        level: where marks lie above the card's sheet: `top` or `bottom` of which slab, by its index.
    """

    id: str
    title: str
    piece: str
    paper: str
    panel: str
    side: Side
    width: float
    height: float
    outline: Points
    to_piece: Affine
    to_card: Affine | None = None
    folds: tuple[tuple[Point, Point], ...] = ()
    holes: tuple[Points, ...] = ()
    covers: tuple[tuple[str, Points], ...] = ()
    slab: int = -1
    good: bool = True


def find_spots(construct: CardPlan) -> tuple[Spot, ...]:
    """Every face that can be dressed: the card's in reading order, then those of the other pieces."""
    found = [*_card_spots(construct)]
    own = set(construct.made.parts.values())
    for piece in construct.pieces:
        if piece.id not in own:
            found += _piece_spots(construct, piece)
    return tuple(found)


def _card_spots(construct: CardPlan) -> list[Spot]:
    found = []
    for face in construct.tree.faces:
        piece = construct.piece(construct.made.parts.get(face.panel, ""))
        if piece is None:
            continue
        card, own = construct.tree.panel(face.panel), piece.tree.panel(face.panel).outline
        if not card.outline or not own:
            continue  # of a flap that a cut has taken nothing is left to put anything on
        shift = translate(own[0][0] - card.outline[0][0], own[0][1] - card.outline[0][1])
        back = face.to_flat.inverse()
        base = next(
            (index for index, slab in enumerate(construct.slabs) if slab.panel == face.panel and slab.bottom == 0.0), -1
        )
        holes = construct.slabs[base].holes if base >= 0 else card.holes
        folds = tuple(
            (back(hinge.start), back(hinge.end))
            for hinge in construct.tree.hinges
            if face.panel in (hinge.parent, hinge.child)
        )
        found.append(
            Spot(
                face.name,
                face.name,
                piece.id,
                piece.paper,
                face.panel,
                face.side,
                face.width,
                face.height,
                clockwise(back.all(card.outline)),
                face.to_flat.then(shift),
                face.to_flat,
                folds,
                tuple(back.all(hole) for hole in holes),
                tuple(_covers(construct, face.panel, face.side, back, base)),
                base,
                face.side == "outside",
            )
        )
    return found


def _covers(construct: CardPlan, panel: str, side: Side, back: Affine, base: int) -> list[tuple[str, Points]]:
    """What is glued on a side of a panel, as seen."""
    found = []
    for index, slab in enumerate(construct.slabs):
        if slab.panel != panel or index == base or slab.paper.startswith(FOAM):
            continue
        outward = slab.bottom > 0 if side == "outside" else slab.top <= NEAR_MM
        if outward:
            found.append((slab.piece, back.all(slab.outline)))
    return found


def _piece_spots(construct: CardPlan, piece: Piece) -> list[Spot]:
    """The sides of a piece that is not part of the base: a liner's, a layer's, an envelope's."""
    found = []
    for face in piece.tree.faces:
        panel = piece.tree.panel(face.panel)
        back = face.to_flat.inverse()
        slab, to_card = _slab_of(construct, piece, panel.outline)
        folds = tuple(
            (back(hinge.start), back(hinge.end))
            for hinge in piece.tree.hinges
            if face.panel in (hinge.parent, hinge.child)
        )
        side: Side = face.side
        moved = None
        if to_card is not None:
            body = construct.slabs[slab]
            # A piece glued inside the card shows there the side that is mirrored on the card's sheet.
            inside = body.top <= NEAR_MM
            shows: Side = "inside" if inside else "outside"
            moved = face.to_flat.then(to_card)
            if moved.is_mirrored != (shows == "inside"):
                moved = None
            side = shows
        title = piece.name if len(piece.tree.faces) == 1 else f"{piece.name}, {face.name}"
        found.append(
            Spot(
                f"{piece.id}/{face.name}",
                title,
                piece.id,
                piece.paper,
                construct.slabs[slab].panel if moved else "",
                side,
                face.width,
                face.height,
                clockwise(back.all(panel.outline)),
                face.to_flat,
                moved,
                folds,
                tuple(back.all(hole) for hole in panel.holes),
                (),
                slab if moved else -1,
                face.side == ("outside" if any(each.side == "outside" for each in piece.tree.faces) else "inside"),
            )
        )
    return found


def _slab_of(construct: CardPlan, piece: Piece, outline: Points) -> tuple[int, Affine | None]:
    """The slab a panel of a piece is, and the map from the piece to the card's sheet; none when no rigid map fits."""
    for index, slab in enumerate(construct.slabs):
        if slab.piece == piece.id and len(slab.outline) == len(outline):
            map = fit_rings(outline, slab.outline)
            if map is not None:
                return index, map
    return -1, None


def fit_rings(own: Points, other: Points) -> Affine | None:
    """The rigid map that takes one ring's corners to the other's in order, turned or mirrored; None when none does."""
    (x0, y0), (x1, y1), (x2, y2) = own[0], own[1], own[-1]
    (u0, v0), (u1, v1), (u2, v2) = other[0], other[1], other[-1]
    det = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0)
    if abs(det) < 1e-9:
        return None
    a = ((u1 - u0) * (y2 - y0) - (u2 - u0) * (y1 - y0)) / det
    c = ((u2 - u0) * (x1 - x0) - (u1 - u0) * (x2 - x0)) / det
    b = ((v1 - v0) * (y2 - y0) - (v2 - v0) * (y1 - y0)) / det
    d = ((v2 - v0) * (x1 - x0) - (v1 - v0) * (x2 - x0)) / det
    map = Affine(a, b, c, d, u0 - a * x0 - c * y0, v0 - b * x0 - d * y0)
    if abs(abs(map.determinant) - 1) > 1e-6:
        return None
    good = all(abs(map(p)[0] - q[0]) + abs(map(p)[1] - q[1]) < 1e-3 for p, q in zip(own, other, strict=True))
    return map if good else None


def region_of(spot: Spot, within: str, safe: float, construct: CardPlan) -> Any:
    """The part of a face an item is placed in, as a shapely geometry: the panel, what is seen of it, or its safe zone.

    What is seen is told of the closed card; for a face that is then turned away or covered, of the open one.
    """
    import shapely

    from dechirer.core.shape.algebra import polygon
    from dechirer.core.shape.webs import grow

    whole = polygon(spot.outline)
    if spot.holes:
        whole = shapely.difference(whole, shapely.union_all([polygon(hole) for hole in spot.holes]))
    if within == "safe":
        inner = grow(whole, -safe)
        return inner if not inner.is_empty else whole
    if within == "visible" and spot.to_card is not None:
        seen = _seen(spot, construct)
        if not seen.is_empty:
            return shapely.intersection(seen, whole)
    return whole


def _seen(spot: Spot, construct: CardPlan) -> Any:
    import shapely

    from dechirer.core.card.hidden import visible_part
    from dechirer.core.shape.algebra import polygon

    face = next((each for each in construct.tree.faces if each.name == spot.id), None)
    if face is None:
        return shapely.MultiPolygon()
    for closed in (1.0, 0.0):
        rings = visible_part(construct.tree, construct.slabs, face, closed)
        if rings:
            return shapely.union_all([polygon(ring) for ring in rings])
    return shapely.MultiPolygon()


def fold_side(spot: Spot, axis: str) -> str:
    """Which side of a face is a fold along an axis (`across`: left or right; `down`: top or bottom); empty for none."""
    box = bounds(spot.outline)
    for (x0, y0), (x1, y1) in spot.folds:
        if axis == "across" and abs(x0 - x1) < 1e-3:
            return "left" if abs(x0 - box.left) < abs(x0 - box.right) else "right"
        if axis == "down" and abs(y0 - y1) < 1e-3:
            return "top" if abs(y0 - box.top) < abs(y0 - box.bottom) else "bottom"
    return ""
