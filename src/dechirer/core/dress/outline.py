"""Outlines of what is drawn, as steps work on them: its items, its union, one outline in place of all."""

from __future__ import annotations

from typing import Any

from msgspec import structs

from dechirer.core.dress.drawn import Drawn, Part
from dechirer.core.shape.algebra import polygons_of

SPECK_MM2 = 1e-4
OUTLINE_ROLES = frozenset({"cut", "kiss", "unassigned"})
"""What is drawn, scored or printed on an item has no part in its outline."""


def items_of(drawn: Drawn) -> list[Any]:
    """Its outlines as items: areas that touch are one. Largest first. What is only drawn or printed on it is none."""
    import shapely

    areas = [area for part in drawn.parts if part.role in OUTLINE_ROLES for area in part.areas] or list(drawn.areas)
    if not areas:
        return []
    parts = list(polygons_of(shapely.union_all(areas), SPECK_MM2))
    return sorted(parts, key=lambda part: -part.area)


def middle_of(drawn: Drawn) -> tuple[float, float]:
    """The middle of the box round its ink, in mm."""
    left, top, right, bottom = drawn.box()
    return (left + right) / 2, (top + bottom) / 2


def union_of(drawn: Drawn) -> Any:
    """All its areas as one geometry."""
    import shapely

    return shapely.union_all(list(drawn.areas)) if drawn.areas else shapely.MultiPolygon()


def first_part(drawn: Drawn) -> Part:
    """Its first part, whose role and colour a new outline takes over."""
    return drawn.parts[0] if drawn.parts else Part("cut", "#000000")


def with_outline(drawn: Drawn, shape: Any) -> Drawn:
    """One part in place of all: the first's role and colour, with a new outline; open lines are kept."""
    lines = tuple(line for part in drawn.parts for line in part.lines)
    areas = polygons_of(shape, SPECK_MM2)
    part = structs.replace(first_part(drawn), areas=areas, lines=lines, folds=(), raster=None)
    shown = _shown_within(drawn, shape)
    if shown and not lines and _covers(shown, areas):
        return structs.replace(drawn, parts=shown)
    return structs.replace(drawn, parts=(part, *shown))


def _shown_within(drawn: Drawn, shape: Any) -> tuple[Part, ...]:
    """What the pictures among its parts show within an outline."""
    import shapely

    found = []
    for part in drawn.parts:
        if part.raster is not None:
            own = [each for area in part.areas for each in polygons_of(shapely.intersection(area, shape), SPECK_MM2)]
            found.append(structs.replace(part, areas=tuple(own), lines=(), folds=()))
    return tuple(part for part in found if part.areas)


def _covers(parts: tuple[Part, ...], areas: Any) -> bool:
    """Whether what is shown covers an outline but for specks."""
    import shapely

    shown = shapely.union_all([area for part in parts for area in part.areas])
    return float(shapely.difference(shapely.union_all(list(areas)), shown).area) < SPECK_MM2


LIKE_SHARE = 1e-3
"""Outlines whose areas differ by less than this share are equally large."""


def parts_in_order(drawn: Drawn) -> list[Any]:
    """Its outlines from the largest to the smallest; equally large ones from the top, then from the left. The order is
    the same at every size and wherever it lies."""
    parts = items_of(drawn)
    if not parts:
        return []
    left, top, right, bottom = drawn.box()
    grain = max(right - left, bottom - top) * LIKE_SHARE or 1.0
    found: list[Any] = []
    while parts:
        alike = [part for part in parts if part.area >= parts[0].area * (1 - LIKE_SHARE)]
        parts = parts[len(alike) :]
        alike.sort(key=lambda part: (round((part.bounds[1] - top) / grain), part.bounds[0] - left))
        found += alike
    return found


def keep_one(drawn: Drawn, parts: list[Any], number: int) -> Drawn:
    """What belongs to one of its outlines (from 0): the outline, and what is drawn, scored or printed on it.

    A line or an area on it belongs to the outline it shares most with, or else lies nearest to.
    """
    import numpy as np

    outlines = np.array(parts, dtype=object)

    def own(shapes: tuple[Any, ...]) -> tuple[Any, ...]:
        return tuple(shape for shape in shapes if owner_of(shape, outlines) == number)

    kept = [
        structs.replace(part, areas=own(part.areas), lines=own(part.lines), folds=own(part.folds))
        for part in drawn.parts
    ]
    return structs.replace(drawn, parts=tuple(part for part in kept if not part.is_empty))


def owner_of(shape: Any, outlines: Any) -> int:
    """Which outline a line or an area belongs to."""
    import numpy as np
    import shapely

    away = shapely.distance(outlines, shape)
    near = np.flatnonzero(away <= 0)
    if len(near) < 2:
        return int(away.argmin())
    measure = shapely.area if shape.geom_type == "Polygon" else shapely.length
    shared = measure(shapely.intersection(outlines[near], shape))
    return int(near[shared.argmax()])
