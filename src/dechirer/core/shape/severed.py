"""Whether cut lines part a piece: the bodies its outline falls into when it is cut. All lengths in mm."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import Any

from dechirer.core.shape.affine import Points

SPECK_MM2 = 4.0
"""A smaller body is a speck of waste."""
NEAR_MM = 0.05
"""A line that ends this near to an edge reaches it: no paper holds across less."""


def find_bodies(outline: Points, holes: Sequence[Points], slits: Sequence[Points]) -> list[Any]:
    """Return the bodies (shapely polygons) that are left of an outline, the largest first.

    Args:
        holes: closed cut lines; what they enclose falls out and is no body.
        slits: open cut lines.
    """
    import shapely

    body = shapely.make_valid(shapely.Polygon(outline))
    if holes:
        openings = [shapely.make_valid(shapely.Polygon(ring)) for ring in holes if len(ring) > 2]
        body = shapely.difference(body, shapely.union_all(openings))
    if slits:
        lines = [shapely.LineString(_drawn_out(line)) for line in slits if len(line) > 1]
        # Snap all lines to a 1e-4 mm grid, so that lines that meet share a vertex.
        lines_and_edge = shapely.union_all([body.boundary, *lines], grid_size=1e-4)
        faces = shapely.get_parts(shapely.polygonize([lines_and_edge])).tolist()
        bodies = [face for face in faces if body.contains(face.representative_point())]
    else:
        bodies = [part for part in shapely.get_parts(body).tolist() if part.geom_type == "Polygon"]
    return sorted((each for each in bodies if each.area > SPECK_MM2), key=lambda each: -each.area)


def find_parting(outline: Points, holes: Sequence[Points], slits: Sequence[Points], most: int = 60) -> list[int]:
    """Return the places in `slits` of lines without which an outline falls into fewer bodies.

    Args:
        most: so many lines are tried at most, the longest first.
    """
    whole = len(find_bodies(outline, holes, slits))
    if whole < 2:
        return []
    order = sorted(range(len(slits)), key=lambda place: -_length(slits[place]))[:most]
    return sorted(
        place
        for place in order
        if len(find_bodies(outline, holes, [line for at, line in enumerate(slits) if at != place])) < whole
    )


def _length(line: Points) -> float:
    return sum(math.dist(one, other) for one, other in itertools.pairwise(line))


def _drawn_out(line: Points) -> Points:
    """Draw both ends out by NEAR_MM along their own direction."""
    return (_beyond(line[1], line[0]), *line[1:-1], _beyond(line[-2], line[-1]))


def _beyond(inner: tuple[float, float], end: tuple[float, float]) -> tuple[float, float]:
    dx, dy = end[0] - inner[0], end[1] - inner[1]
    length = (dx * dx + dy * dy) ** 0.5
    if length < 1e-9:
        return end
    return end[0] + dx / length * NEAR_MM, end[1] + dy / length * NEAR_MM
