"""Paths refitted to lines and curves once, for every output that writes curves."""

from __future__ import annotations

from dechirer.core.memory import until_forgotten
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.fitting import Segment, fit_path


@until_forgotten(4096)
def fitted(path: Points, closed: bool) -> tuple[Point, list[Segment]]:
    """A path as its start and segments: a straight line by one point, a cubic curve by three."""
    return fit_path(path, closed=closed)
