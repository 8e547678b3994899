"""Whether pieces are as far apart as they should be, asked of shapely."""

from __future__ import annotations

from collections.abc import Sequence

import shapely


def are_apart(polygons: Sequence[shapely.Polygon], gap: float, slack: float) -> bool:
    """Whether each polygon is a gap (mm), less some slack, from every other; without a gap they may touch."""
    found = list(polygons)
    if gap <= slack:
        found = list(shapely.buffer(found, -slack / 2))
    near = shapely.STRtree(found).query(found, predicate="dwithin", distance=max(gap - slack, 0.0))
    return bool((near[0] == near[1]).all())
