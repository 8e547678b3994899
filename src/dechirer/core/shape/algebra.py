"""Outline algebra on single rings: join, cut away, keep within, offset. Heavy work is shapely's (GEOS).

shapely is imported on first use, so that a plain card does not wait for it.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import TYPE_CHECKING, Any, Literal

from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import clockwise

if TYPE_CHECKING:
    from shapely import Polygon
    from shapely.geometry.base import BaseGeometry

ROUND_MM = 0.01
"""How far a rounded corner may stray from the true arc, in mm."""
Corners = Literal["round", "mitre"]


def polygon(ring: Points, holes: Iterable[Points] = ()) -> Polygon:
    """A ring as a shapely polygon, made valid when it crosses itself."""
    import numpy as np
    import shapely

    made = shapely.Polygon(np.asarray(ring, dtype=float), list(holes))
    return made if made.is_valid else shapely.make_valid(made)


def polygons_of(geometry: Any, least: float = 0.0) -> tuple[Polygon, ...]:
    """The polygons of a geometry larger than `least` mm2; an empty one, which GEOS gives for nothing, is none."""
    import shapely

    return tuple(
        part for part in shapely.get_parts(geometry).tolist() if part.geom_type == "Polygon" and part.area > least
    )


def rings_of(geometry: BaseGeometry) -> tuple[Points, ...]:
    """The outer rings of every polygon of a geometry, the largest first."""
    import shapely

    parts = sorted(polygons_of(geometry), key=lambda part: -part.area)
    return tuple(clockwise(tuple(map(tuple, shapely.get_coordinates(part.exterior)[:-1].tolist()))) for part in parts)


def regions_of(geometry: BaseGeometry, least: float = 0.0) -> tuple[tuple[Points, ...], ...]:
    """Every polygon of a geometry larger than `least` mm2: its outer ring, then those of its openings."""
    return tuple(
        tuple(tuple((float(x), float(y)) for x, y in ring.coords[:-1]) for ring in (part.exterior, *part.interiors))
        for part in polygons_of(geometry, least)
    )


def _largest(geometry: BaseGeometry) -> Points:
    found = rings_of(geometry)
    return found[0] if found else ()


def merge(*rings: Points) -> Points:
    """One outline round all rings that touch each other; the largest when they do not. Empty for none."""
    import shapely

    joined = shapely.union_all([polygon(ring) for ring in rings], grid_size=1e-7)
    return _largest(joined.simplify(0)) if rings else ()


def cut_away(ring: Points, *others: Points) -> Points:
    """What is left of an outline without others: its largest part; empty when nothing is."""
    import shapely

    return _largest(shapely.difference(polygon(ring), shapely.union_all([polygon(other) for other in others])))


def keep_within(ring: Points, other: Points) -> Points:
    """The largest part of an outline that lies in another; empty when none does."""
    import shapely

    return _largest(shapely.intersection(polygon(ring), polygon(other)))


def quarter_steps(radius: float) -> int:
    """Chords in a quarter turn so that a round corner of that radius (mm) strays by at most ROUND_MM.

    A chord over an angle a leaves its circle by r (1 - cos(a / 2)).
    """
    if radius <= ROUND_MM:
        return 4
    return max(4, math.ceil(math.pi / (4 * math.acos(1 - ROUND_MM / radius))))


def offset(ring: Points, by: float, *, corners: Corners = "round") -> Points:
    """An outline moved out by `by` mm everywhere (in when below zero): its largest part, empty when nothing is left."""
    if abs(by) < 1e-12:
        return ring
    style: Literal["round", "mitre"] = corners
    grown = polygon(ring).buffer(by, quad_segs=quarter_steps(abs(by)), join_style=style, mitre_limit=8.0)
    return _largest(grown)
