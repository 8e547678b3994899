"""Small pieces in the windows of larger ones: the waste that falls out is paper, and is used.

What lies in a window is cut out before the window is, as it would lie loose afterwards.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec import structs

from dechirer.core.card.piece import Piece
from dechirer.core.card.placed import Placement
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import Box, bounds, outlines_overlap

LEAST_MM = 20.0
"""A window that is narrower takes nothing of use."""


def waste_of(piece: Piece) -> tuple[Points, ...]:
    """The windows of a piece whose middle falls out whole: nothing is run in it, so that nothing of it is kept."""
    rings = [
        (line, path)
        for line in piece.run_lines
        if line.operation == "cut" and line.closed and line.role in ("hole", "window") and not line.kept
        for path in line.paths
        if len(path) >= 3 and min(bounds(path).width, bounds(path).height) >= LEAST_MM
    ]
    return tuple(path for _, path in rings if _is_bare(path, piece))


def _is_bare(ring: Points, piece: Piece) -> bool:
    """Whether no other line of a piece runs in a ring."""
    box = bounds(ring)
    for line in piece.run_lines:
        for path in line.paths:
            if path is not ring and line.role != "outline" and path and box.overlaps(bounds(path), slack=0.0):
                return False
    return True


def with_holes(placed: Placement) -> Any:
    """A placed piece as shapely knows it, its windows open."""
    import shapely

    return shapely.Polygon(placed.outline, [placed.to_sheet.all(ring) for ring in waste_of(placed.piece)])


def are_too_close(one: Placement, other: Placement, gap: float) -> bool:
    """Whether two placed pieces come closer than a gap (mm), or overlap when it is 0; one may lie in a window of the
    other."""
    if not outlines_overlap(one.outline, other.outline, gap=gap):
        return False
    boxes = [(one, other), (other, one)]
    inside = [
        host
        for small, host in boxes
        for ring in waste_of(host.piece)
        if bounds(host.to_sheet.all(ring)).holds(small.box.grown(gap))
    ]
    if not inside:
        return True
    import shapely

    polygons = [with_holes(one), with_holes(other)]
    if gap > 0:
        return bool(shapely.distance(*polygons) < gap - 1e-6)
    return bool(shapely.area(shapely.intersection(*polygons)) > 1e-6)


def nested(placements: Sequence[Placement]) -> tuple[Placement, ...]:
    """The pieces of a sheet, each told in how many windows of others it lies, those in most of them first."""
    windows: list[tuple[str, Box]] = [
        (host.id, bounds(host.to_sheet.all(ring))) for host in placements for ring in waste_of(host.piece)
    ]
    if not windows:
        return tuple(placements)
    found = [
        structs.replace(placed, within=sum(box.holds(placed.box) for host, box in windows if host != placed.id))
        for placed in placements
    ]
    return tuple(sorted(found, key=lambda placed: -placed.within))
