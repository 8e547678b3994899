"""Checks of where ink lies: beside its face, a little across a fold, words cut off or over cuts. A picture that goes
past an edge bleeds, and is right."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from dechirer.core.card.piece import Line
from dechirer.core.decide.change import Change
from dechirer.core.dress.checks.place import CLEAR_MM, as_guide, bring_in, ink_of, move_beside
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import place_in_middle
from dechirer.core.dress.seen import DressSeen, path_of
from dechirer.core.dress.spots import Spot
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import fine_length, format_length
from dechirer.core.shape.affine import Points
from dechirer.core.shape.algebra import polygon

ACROSS_MM = 0.5
"""Ink less far over a fold is within what a printer is off."""
MEANT_SHARE = 0.25
"""Where so much of something lies past a fold it is meant to go over it."""


@CHECKS.add("dress.ink-beside-face", "dress.ink-across-fold", "dress.words-cut-off", of=make_dress)
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
        past = _past_edge(areas, face, spot.folds) if item.words is not None else 0.0
        if past > ACROSS_MM:
            yield Finding(
                "dress.words-cut-off",
                "stop",
                f"{item.name} is cut off at the edge",
                f"It reaches {format_length(past, seen.units)} past the edge of the {spot.title}.",
                "Letters are missing from it.",
                item.id,
                (*_smaller(seen, dressed), *bring_in(seen, dressed)),
            )
        if over > ACROSS_MM and (item.words is not None or 1 - inside / areas.area < MEANT_SHARE):
            yield Finding(
                "dress.ink-across-fold",
                "look",
                f"{item.name} is printed across a fold",
                f"It reaches {format_length(over, seen.units)} past the fold, onto the next panel.",
                "Ink cracks along the fold, and a strip of it shows on the other panel.",
                item.id,
                (*_smaller(seen, dressed), *bring_in(seen, dressed)),
            )


def _smaller(seen: DressSeen, dressed: Dressed) -> Iterator[Mend]:
    """Words that are longer than their face, set so that they go on it."""
    item, spot = dressed.item, dressed.spot
    if spot is None or item.words is None or item.words.fit != "size" or item.of is not None:
        return
    left, top, right, bottom = dressed.placed.drawn.box()
    room = min((spot.width - 2 * CLEAR_MM) / (right - left), (spot.height - 2 * CLEAR_MM) / (bottom - top))
    if room < 1:
        size = fine_length(math.floor(item.words.size.mm * room * 20) / 20, seen.units)
        change = Change(path_of(item, "words", "size"), size)
        yield Mend(f"Set it at {size}, in the middle", (change, *place_in_middle(item)))


@CHECKS.add("dress.words-over-cuts", of=make_dress)
def find_words_over_cuts(seen: DressSeen) -> Iterator[Finding]:
    """Words over slits, straps and the like of their piece: the cut runs through the letters."""
    import shapely

    for dressed in seen.own_of_each():
        item, spot = dressed.item, dressed.spot
        if item.words is None or item.made not in ("print", "pen", "foil") or spot is None:
            continue
        piece, ink = seen.card.piece(spot.piece), ink_of(dressed, ("print", "pen", "foil"))
        if piece is None or ink is None:
            continue
        back = spot.to_piece.inverse()
        for line in piece.lines:
            if line.role == "outline":
                continue
            paths = [shapely.LineString(back.all(path)) for path in line.paths if len(path) > 1]
            met = [path for path in paths if shapely.intersects(path, ink)]
            if not met or line.role in ("hole", "window"):  # over an opening is told as such
                continue
            yield Finding(
                "dress.words-over-cuts",
                "look",
                f"{item.name} lies over the {line.name} of the {piece.name}",
                f"A {'cut' if line.operation in ('cut', 'kiss') else 'fold'} runs through the letters there.",
                "They tear, or stand askew when it is lifted.",
                item.id,
                tuple(_beside(dressed, spot, shapely.union_all(met), piece.lines)),
            )
            break


def _beside(dressed: Dressed, spot: Spot, met: Any, lines: tuple[Line, ...]) -> Iterator[Mend]:
    """The words moved off it, where they go on the face and meet no other."""
    import shapely

    if dressed.item.of is not None:
        return
    paths = [path for line in lines if line.role != "outline" for path in line.paths if len(path) > 1]
    back = spot.to_piece.inverse()
    every = shapely.union_all([shapely.LineString(back.all(path)) for path in paths])
    moves = move_beside(dressed, shapely.box(*ink_of(dressed).bounds), met, (every,), "that")
    yield next(moves, as_guide(dressed.item))


def _past_edge(areas: Any, face: Any, folds: tuple[Points, ...]) -> float:
    """How far areas reach past the edges of a face that are no folds, in mm."""
    import shapely

    points = shapely.points(shapely.get_coordinates(shapely.difference(areas, face)))
    if not len(points):
        return 0.0
    away = shapely.distance(face, points)
    if folds:
        near = shapely.distance(shapely.MultiLineString([shapely.LineString(fold) for fold in folds]), points)
        away = away[near > away + 0.01]
    return float(away.max(initial=0.0))


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
