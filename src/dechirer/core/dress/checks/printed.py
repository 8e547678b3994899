"""Checks of where things are printed: beside their face, or a little across a fold. Past an edge is bleed."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from dechirer.core.dress.checks.place import bring_in
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.seen import DressSeen
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.length import format_length
from dechirer.core.shape.affine import Points
from dechirer.core.shape.algebra import polygon

ACROSS_MM = 0.5
"""Ink less far over a fold is within what a printer is off."""
MEANT_SHARE = 0.25
"""Where so much of something lies past a fold it is meant to go over it."""


@CHECKS.add("dress.ink-beside-face", "dress.ink-across-fold", of=make_dress)
def find_ink_off_its_face(seen: DressSeen) -> Iterator[Finding]:
    """Printed things that lie beside their face, or go over a fold a little, on any copy."""
    import shapely

    for dressed in seen.own_of_each():
        item, spot = dressed.item, dressed.spot
        if item.made != "print" or spot is None or dressed.placed.drawn.is_empty:
            continue
        face, (left, top, right, bottom) = polygon(spot.outline), dressed.placed.drawn.box()
        if face.covers(shapely.box(left, top, right, bottom)):
            continue
        areas = shapely.union_all(list(dressed.placed.drawn.areas))
        if areas.is_empty or face.covers(areas):
            continue
        inside = float(shapely.intersection(areas, face).area)
        if inside < 0.01 * areas.area:
            yield Finding(
                "dress.ink-beside-face",
                "stop",
                f"{item.name} lies beside its face",
                f"Nothing of it lies on the {spot.title}.",
                "It is not printed.",
                item.id,
                bring_in(seen, dressed),
            )
            continue
        over = _over_folds(areas, face, spot.folds)
        if over > ACROSS_MM and 1 - inside / areas.area < MEANT_SHARE:
            yield Finding(
                "dress.ink-across-fold",
                "look",
                f"{item.name} is printed across a fold",
                f"It reaches {format_length(over, seen.units)} past the fold, onto the next panel.",
                "Ink cracks along the fold, and a strip of it shows on the other panel.",
                item.id,
                bring_in(seen, dressed),
            )


def _over_folds(areas: Any, face: Any, folds: tuple[Points, ...]) -> float:
    """How far areas reach over the folds of a face, in mm: beyond the line of a fold, and beside it."""
    import numpy as np
    import shapely

    points = shapely.get_coordinates(shapely.difference(areas, face))
    middle, far = np.array(face.centroid.coords[0]), 0.0
    for fold in folds:
        start, end = np.array(fold[0]), np.array(fold[-1])
        length = float(np.hypot(*(end - start)))
        if not length or not len(points):
            continue
        along = (end - start) / length
        across = np.array([-along[1], along[0]])
        across = across if across @ (middle - start) < 0 else -across
        at = (points - start) @ along
        beyond = ((points - start) @ across)[(at > 0) & (at < length)]
        far = max(far, float(beyond.max(initial=0.0)))
    return far
