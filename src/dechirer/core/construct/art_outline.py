"""Outlines from files in place of those a construction has: the outermost one of what a file cuts, made as large."""

from __future__ import annotations

from typing import Any

from dechirer.core.brought import Art
from dechirer.core.construct.card import Card
from dechirer.core.shape.affine import Points
from dechirer.core.shape.algebra import polygons_of
from dechirer.core.shape.curves import FLAT_MM, areas_of, flatten_all
from dechirer.core.shape.outline import clockwise, rectangle
from dechirer.core.shape.silhouettes import unit_outline

FROM_FILE = "file"
"""The shape of an outline that is taken from a file."""
OUTLINES = ("cut", "kiss", "print", "unassigned")
"""What of a file makes its outline."""


def outline_of(card: Card, shape: str, art: str | None, width: float, height: float) -> Points:
    """An outline that fills a box of width x height (mm) from the origin: a shape, or that of a file.

    Where no file is there it is the box itself; the checks say so.

    Raises:
        ValueError: no such shape.
    """
    if shape != FROM_FILE:
        return unit_outline(shape, width, height)
    found = next((each for each in card.arts if each.id == art), None)
    ring = card.recall(("outline of a file", found), lambda: outermost(found)) if found is not None else ()
    if not ring:
        return rectangle(width, height)
    left, top = min(x for x, _ in ring), min(y for _, y in ring)
    wide, high = max(x for x, _ in ring) - left, max(y for _, y in ring) - top
    return clockwise(tuple(((x - left) * width / wide, (y - top) * height / high) for x, y in ring))


def outermost(art: Art) -> Points:
    """The outline round all that a file cuts, the largest where it comes apart; none where nothing encloses an area."""
    import shapely

    areas: list[Any] = []
    for group in art.groups:
        if group.role in OUTLINES:
            for path in group.paths:
                runs = [run for run in flatten_all((path,), FLAT_MM, art.scale) if run.closed or not group.stroke]
                areas.append(areas_of(runs, "nonzero"))
    parts = polygons_of(shapely.union_all(areas))
    if not parts:
        return ()
    largest = max(parts, key=lambda part: shapely.Polygon(part.exterior).area)
    return tuple((float(x), float(y)) for x, y in largest.exterior.coords[:-1])


def upper_edge(ring: Points, width: float, steps: int = 240) -> Points:
    """The upper edge of an outline from left to right over a width (mm), y down from its highest place.

    Told at equal steps and at its own corners where they lie on top.
    """
    import shapely

    area = shapely.Polygon(ring)
    left, top, right, bottom = area.bounds
    places = sorted({left + (right - left) * step / steps for step in range(steps + 1)})
    found = []
    for x in places:
        inside = min(max(x, left + 1e-6), right - 1e-6)
        met = shapely.intersection(area, shapely.LineString([(inside, top - 1), (inside, bottom + 1)]))
        found.append(
            ((x - left) * width / (right - left), float(met.bounds[1]) - top if not met.is_empty else bottom - top)
        )
    return tuple(found)
