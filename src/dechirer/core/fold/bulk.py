"""How thick the closed card is where: a field over it, its highest place, and whether it rocks when it lies down.

It reads the stack and defines nothing anew.
"""

from __future__ import annotations

from typing import Any

from msgspec import Struct

from dechirer.core.card.assembly import Slab
from dechirer.core.card.panels import PanelTree
from dechirer.core.card.stack import stack_cells
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.algebra import regions_of

NEAR_MM = 0.02
"""Places within this of the highest are as high."""
LEVEL_MM = 0.3
"""A card whose high places stand out by less does not rock (from memory)."""


class Cell(Struct, frozen=True):
    """A part of the closed card that is equally thick all over: its rings (mm), how thick it is, of how many layers."""

    rings: tuple[Points, ...]
    height: float
    layers: int


class Bulk(Struct, frozen=True):
    """The closed card's thickness as a field.

    `highest` is where it is thickest and `most` how thick that is (mm), `least` how thick its thinnest part is. It
    `rocks` where its middle is not held up by its high places.
    """

    cells: tuple[Cell, ...]
    highest: Point
    most: float
    least: float
    rocks: bool


def find_bulk(tree: PanelTree, slabs: tuple[Slab, ...]) -> Bulk:
    """The field of a card, cells of one thickness beside each other together."""
    import shapely

    found: dict[tuple[float, int], list[Any]] = {}
    exact: dict[float, float] = {}
    for cell, height, layers in stack_cells(tree, slabs):
        near = exact.setdefault(round(height, 4), height)  # sums of one set of layers differ in their last digits
        found.setdefault((near, layers), []).append(cell)
    areas = {key: shapely.union_all(cells) for key, cells in found.items()}
    if not areas:
        return Bulk((), (0.0, 0.0), 0.0, 0.0, False)
    most = max(height for height, _ in areas)
    high = shapely.union_all([area for (height, _), area in areas.items() if height > most - NEAR_MM])
    place = max(shapely.get_parts(high).tolist(), key=lambda part: part.area).representative_point()
    middle = shapely.union_all(list(areas.values())).envelope.centroid
    least = min(height for height, _ in areas)
    rocks = most - least > LEVEL_MM and not high.convex_hull.buffer(1.0).covers(middle)
    return Bulk(
        tuple(Cell(rings, height, layers) for (height, layers), area in areas.items() for rings in regions_of(area)),
        (float(place.x), float(place.y)),
        most,
        least,
        rocks,
    )
