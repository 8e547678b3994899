"""Outlines of what is drawn, as steps work on them: its items, its union, one outline in place of all."""

from __future__ import annotations

from typing import Any

from msgspec import structs

from dechirer.core.dress.drawn import Drawn, Part, polygons_of

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
    part = structs.replace(first_part(drawn), areas=polygons_of(shape, SPECK_MM2), lines=lines, folds=())
    return structs.replace(drawn, parts=(part,))
