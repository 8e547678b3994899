"""The weeding map of each mat: what is kept, what falls out and is of use, where to mind, which way to peel."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from msgspec import Struct

from dechirer.core.card.placed import Placement
from dechirer.core.dress.dressed import DressPlan
from dechirer.core.lay.mat import MatLayout
from dechirer.core.shape.affine import Affine, Point, Points
from dechirer.core.shape.outline import Box, bounds

NEARLY = 1.5
"""Webs up to so much broader than what their paper holds are minded."""
PICK_MM, HOOK_MM = 4.0, 12.0
CORNERS = ("upper left", "upper right", "lower left", "lower right")


class Fragile(Struct, frozen=True):
    """A place of a sheet to mind: where (mm on the mat), how narrow (mm), and on what."""

    at: Point
    width: float
    piece: str


class WeedMap(Struct, frozen=True):
    """A mat after it was cut.

    Attributes:
        mat: its layout's id.
        keep: the outlines of pieces on the mat, mm.
        drops: rings of waste that fall out of them; `middles` are those that are of use and kept, with their names.
        fragile: places to mind.
        corner: the corner the waste is peeled from, in words.
        lift: what to lift with, in words.
        spares: how many pieces of it are spares.
    """

    mat: str
    keep: tuple[tuple[str, Points], ...]
    drops: tuple[Points, ...]
    middles: tuple[tuple[str, Points], ...]
    fragile: tuple[Fragile, ...]
    corner: str
    lift: str


Lying = dict[tuple[int, Affine], tuple[Points, ...]]
"""Paths as they lie on a mat, by which they are and how they are put down: copies share them, and what holds them
lives as long as the mats."""


def map_mat(layout: MatLayout, dress: DressPlan, lying: Lying) -> WeedMap:
    """The weeding map of a mat; `lying` is kept from mat to mat."""
    keep, drops, middles, smallest = [], [], [], math.inf

    def lie(placed: Placement, paths: tuple[Points, ...], of: object) -> tuple[Points, ...]:
        key = (id(of), placed.to_sheet)
        if key not in lying:
            lying[key] = tuple(placed.to_sheet.all(path) for path in paths)
        return lying[key]

    for placed in layout.placements:
        outline = placed.piece.outline
        keep.append((placed.piece.name, lie(placed, (outline,), outline)[0]))
        for line in placed.piece.run_lines:
            if line.operation != "cut" or not line.closed or line.role in ("outline", "peel"):
                continue
            for ring in lie(placed, line.paths, line.paths):
                box = bounds(ring)
                smallest = min(smallest, max(box.width, box.height))
                if line.kept:
                    middles.append((line.name, ring))
                else:
                    drops.append(ring)
    fragile = tuple(_fragile(layout.placements, dress))
    return WeedMap(
        layout.id,
        tuple(keep),
        tuple(drops),
        tuple(middles),
        fragile,
        _corner(layout.sheet.box, fragile),
        _lifter(smallest),
    )


def _fragile(placements: Sequence[Placement], dress: DressPlan) -> Iterator[Fragile]:
    """The narrow places of the dress, where they lie on a mat."""
    spots = {spot.id: spot for spot in dress.spots}
    for weak in dress.weak:
        spot = spots.get(weak.spot)
        if spot is None:
            continue
        own = [
            placed for placed in placements if placed.piece.id == spot.piece or _is_copy(placed.piece.id, spot.piece)
        ]
        for narrow in weak.narrow:
            if narrow.width > NEARLY * weak.holds:
                continue
            for placed in own[:1]:
                at = placed.to_sheet(spot.to_piece(narrow.at))
                yield Fragile(at, narrow.width, placed.piece.name)


def _is_copy(id: str, of: str) -> bool:
    return id.startswith(f"{of}-") and id[len(of) + 1 :].isdigit()


def _corner(sheet: Box, fragile: Sequence[Fragile]) -> str:
    """The corner farthest from the places to mind; the upper left where there are none."""
    places = [
        (sheet.left, sheet.top),
        (sheet.right, sheet.top),
        (sheet.left, sheet.bottom),
        (sheet.right, sheet.bottom),
    ]
    if not fragile:
        return CORNERS[0]
    nearest = [min(math.dist(place, each.at) for each in fragile) for place in places]
    return CORNERS[nearest.index(max(nearest))]


def _lifter(smallest: float) -> str:
    if smallest < PICK_MM:
        return "a pick for the small waste, held flat; tweezers for small parts"
    if smallest < HOOK_MM:
        return "tweezers for what falls out, a spatula under the pieces"
    return "a spatula under each piece, from its longest straight edge"
