"""Tidying: doubled lines once, gaps closed, spurs and specks off, needless nodes removed."""

from __future__ import annotations

import math
from typing import Any

from msgspec import structs

from dechirer.core.dress.drawn import Drawn
from dechirer.core.shape.algebra import polygons_of
from dechirer.core.shape.webs import grow

NODE_MM = 0.02
"""Nodes that move an outline by less than this are needless."""


def tidy(drawn: Drawn, gap: float) -> tuple[Drawn, dict[str, int]]:
    """Tidy outlines and lines: doubled ones once, hairline gaps and spurs up to `gap` mm closed or cut off, specks
    smaller than gap x gap and needless points removed.

    Returns:
        The tidy drawing, and counts before and after: `nodes`, `items`, `lines`.
    """
    import shapely

    before = count_nodes(drawn)
    parts = []
    for part in drawn.parts:
        whole = shapely.union_all(list(part.areas))
        whole = grow(grow(grow(whole, gap / 2), -gap), gap / 2) if not whole.is_empty else whole
        areas = tuple(shapely.simplify(area, NODE_MM / 2) for area in polygons_of(whole, gap * gap))
        lines = _tidy_lines(part.lines, gap)
        closed = [shapely.Polygon(line) for line in lines if line.is_ring and part.role not in ("pen", "score")]
        lines = tuple(line for line in lines if not (line.is_ring and part.role not in ("pen", "score")))
        areas += tuple(area for area in closed if area.is_valid and area.area > gap * gap)
        parts.append(structs.replace(part, areas=areas, lines=lines))
    done = structs.replace(drawn, parts=tuple(part for part in parts if not part.is_empty))
    after = count_nodes(done)
    return done, {f"{name} before": value for name, value in before.items()} | {
        f"{name} after": value for name, value in after.items()
    }


def _tidy_lines(lines: tuple[Any, ...], gap: float) -> tuple[Any, ...]:
    """Open lines once each, joined end to end where they meet within `gap`."""
    import shapely

    if not lines:
        return ()
    kept: list[Any] = []
    for line in sorted(lines, key=lambda each: -each.length):
        if line.length <= gap or any(shapely.covers(grow(other, gap / 4), line) for other in kept):
            continue
        kept.append(line)
    joined = list(kept)
    merging = True
    while merging:
        merging = False
        for index, line in enumerate(joined):
            for other in range(index + 1, len(joined)):
                found = _chain(line, joined[other], gap)
                if found is not None:
                    joined[index] = found
                    del joined[other]
                    merging = True
                    break
            if merging:
                break
    done = []
    for line in joined:
        points = list(line.coords)
        if len(points) > 3 and math.dist(points[0], points[-1]) <= gap:
            points[-1] = points[0]
        done.append(shapely.simplify(shapely.LineString(points), NODE_MM / 2))
    return tuple(done)


def _chain(one: Any, other: Any, gap: float) -> Any | None:
    import shapely

    a, b = list(one.coords), list(other.coords)
    if a[0] == a[-1] or b[0] == b[-1]:
        return None
    for first, second in ((a, b), (a, b[::-1]), (a[::-1], b), (a[::-1], b[::-1])):
        if math.dist(first[-1], second[0]) <= gap:
            return shapely.LineString([*first, *second[1:]] if len(second) > 1 else first)
    return None


def count_nodes(drawn: Drawn) -> dict[str, int]:
    """How many nodes, items and lines a drawing has."""
    import shapely

    shapes = [*drawn.areas, *drawn.lines]
    nodes = int(shapely.get_num_coordinates(shapes).sum()) if shapes else 0
    return {"nodes": nodes, "items": len(drawn.areas), "lines": len(drawn.lines)}
