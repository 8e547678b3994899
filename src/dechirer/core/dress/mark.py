"""Marks: what is seen of the dress on a face of the card."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec import Struct

from dechirer.core.card.print import Raster
from dechirer.core.shape.affine import FINE_DIGITS, Affine, Points
from dechirer.core.stopping import checkpoint

ROUGH_MM = 0.15


class Mark(Struct, frozen=True):
    """What is seen of an item on its face, mm as seen: areas as lists of rings (the outer first), or open lines.

    `form` is `opening`, `paper` (a piece glued on; `colour` is its paper's), `print`, or an operation. The rough ones
    are the same within ROUGH_MM, for the folded card. A picture shows its `raster`.
    """

    item: str
    spot: str
    form: str
    colour: str
    rings: tuple[tuple[Points, ...], ...] = ()
    lines: tuple[Points, ...] = ()
    rough: tuple[tuple[Points, ...], ...] = ()
    rough_lines: tuple[Points, ...] = ()
    raster: Raster | None = None


def rings_of(polygon: Any, map: Affine) -> tuple[Points, ...]:
    """The rings of a polygon, mapped and clockwise, to the nanometre: the outer first."""
    import shapely

    def points_of(ring: Any) -> Points:
        places = shapely.get_coordinates(ring)[:-1]
        # What runs clockwise where y is down runs the other way for the geometry library, whose y is up.
        across, down = _mapped(places if shapely.is_ccw(ring) != map.is_mirrored else places[::-1], map)
        return tuple(zip(across, down, strict=True))

    checkpoint()
    return tuple(points_of(ring) for ring in (polygon.exterior, *polygon.interiors))


def _mapped(places: Any, map: Affine) -> tuple[list[float], list[float]]:
    """Where places come to lie, to the nanometre: what was moved away and back is equal to what it was."""
    x, y = places.T
    across, down = map.a * x + map.c * y + map.e, map.b * x + map.d * y + map.f
    return (across.round(FINE_DIGITS) + 0.0).tolist(), (down.round(FINE_DIGITS) + 0.0).tolist()


def path_of_line(line: Any, map: Affine) -> Points:
    """The points of a line, mapped."""
    return paths_of_lines([line], map)[0]


def paths_of_lines(lines: Sequence[Any], map: Affine) -> tuple[Points, ...]:
    """The points of each line, mapped, to the nanometre: all at one time, for words are many short lines."""
    if not len(lines):
        return ()
    import numpy as np
    import shapely

    points = list(zip(*_mapped(shapely.get_coordinates(lines), map), strict=True))
    ends = np.cumsum(shapely.get_num_coordinates(lines)).tolist()
    return tuple(tuple(points[start:end]) for start, end in zip([0, *ends], ends, strict=False))


def make_mark(
    item: str,
    spot: str,
    form: str,
    colour: str,
    areas: Sequence[Any],
    lines: Sequence[Any] = (),
    raster: Raster | None = None,
) -> Mark:
    """A mark of areas and open lines that lie on the face as seen."""
    import shapely

    same = Affine()
    rough = [shapely.simplify(area, ROUGH_MM) for area in areas]
    rough_lines = shapely.simplify(list(lines), ROUGH_MM) if lines else ()
    return Mark(
        item,
        spot,
        form,
        colour,
        tuple(rings_of(area, same) for area in areas),
        paths_of_lines(lines, same),
        tuple(rings_of(area, same) for area in rough if area.geom_type == "Polygon" and not area.is_empty),
        paths_of_lines(rough_lines, same),
        raster,
    )
