"""Slanting strokes within an area."""

from __future__ import annotations

from dechirer.core.shape.affine import Points

HATCH_MM = 2.4
"""The strokes of a bleed stand this far apart."""


def hatch(area: tuple[Points, ...], apart: float = HATCH_MM) -> list[Points]:
    """Slanting strokes within an area of rings, so far apart (mm)."""
    import numpy as np
    import shapely

    outer, *holes = area
    shape = shapely.Polygon(outer, holes)
    shape = shape if shape.is_valid else shapely.make_valid(shape)
    left, top, right, bottom = shape.bounds
    starts = np.arange(left - (bottom - top), right, apart)
    lines = shapely.linestrings([[(x, bottom), (x + bottom - top, top)] for x in starts.tolist()])
    found = shapely.get_parts(shapely.intersection(lines, shape))
    return [
        tuple((x, y) for x, y in line.coords)
        for line in found.tolist()
        if line.geom_type == "LineString" and line.length
    ]
