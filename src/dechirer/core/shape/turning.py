"""The turn at which an outline takes least room: exact, not by steps.

The extent of a convex outline along a direction is the distance of two of its corners seen along it, so between two
directions of its hull's edges it is |d| cos(angle - a) with one pair of corners. Over such a stretch each extent is
concave, so the larger of two extents is least at an end of the stretch or where the two are equal. Looking at those
angles alone gives the exact least (rotating calipers; Toussaint, *Solving geometric problems with the rotating
calipers*, 1983).
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from msgspec import Struct

from dechirer.core.shape.affine import Affine, Points

Array = Any


class Turn(Struct, frozen=True):
    """A turn by `angle_deg` (clockwise on a y-down sheet) and the width and height of the box it gives, in mm."""

    angle_deg: float
    width: float
    height: float

    @property
    def affine(self) -> Affine:
        """The turn about the origin."""
        angle = math.radians(self.angle_deg)
        cos, sin = math.cos(angle), math.sin(angle)
        return Affine(cos, sin, -sin, cos, 0.0, 0.0)


def find_smallest_square(outline: Points) -> Turn:
    """The turn whose bounding square is the smallest of all.

    Raises:
        ValueError: fewer than three points, or all on a line.
    """
    return find_best_turn(outline, 1.0, 1.0)


def find_best_turn(outline: Points, width: float, height: float) -> Turn:
    """The turn at which the outline's box is smallest against a room of width x height: it fits exactly when
    the larger of its width / `width` and height / `height` is at most 1.

    Args:
        outline: any closed outline, in mm.
        width, height: the room; only their ratio decides which turn is best.

    Raises:
        ValueError: fewer than three points, or all on a line.
    """
    hull = _hull(np.asarray(outline, dtype=float))
    edges = np.roll(hull, -1, axis=0) - hull
    directions = np.arctan2(edges[:, 1], edges[:, 0])
    # Extents along x and y at a turn t change corners where a hull edge becomes upright or level.
    ends = np.unique(np.concatenate([(-directions) % (np.pi / 2), [0.0]]))
    ends = np.concatenate([ends, ends + np.pi / 2, [np.pi]]) if width != height else np.append(ends, np.pi / 2)
    middles = (ends[:-1] + ends[1:]) / 2
    along, across = _spans(hull, directions, middles), _spans(hull, directions, middles - np.pi / 2)
    crossing = _equal_angles(along, across, width, height)
    inside = (crossing > ends[:-1]) & (crossing < ends[1:])
    angles = np.concatenate([ends, crossing[inside]])
    wide = _extent(hull, directions, angles)
    high = _extent(hull, directions, angles - np.pi / 2)
    best = int(np.argmin(np.round(np.maximum(wide / width, high / height), 9) + 1e-12 * angles))
    return Turn(float(np.degrees(angles[best])), float(wide[best]), float(high[best]))


def _hull(points: Array) -> Array:
    """The corners of the convex hull, anticlockwise in x, y."""
    import shapely

    if len(points) < 3:
        raise ValueError("an outline has at least three points")
    # On a grid of 1e-7 mm no two edges run in directions too close to be put in order.
    hull = shapely.convex_hull(shapely.MultiPoint(np.round(points, 7)))
    if hull.geom_type != "Polygon":
        raise ValueError("the outline has no area")
    return np.asarray(shapely.normalize(hull).exterior.coords, dtype=float)[:0:-1]


def _farthest(directions: Array, angles: Array) -> Array:
    """Index of the hull's farthest corner along each angle.

    Walking the hull anticlockwise its edges' directions grow; the corner before edge i is farthest along every angle
    between the directions of edge i - 1 and edge i, less a right angle.
    """
    normals = (directions - np.pi / 2) % (2 * np.pi)
    order = np.argsort(normals, kind="stable")
    place = np.searchsorted(normals[order], angles % (2 * np.pi))
    return order[place % len(order)]


def _spans(hull: Array, directions: Array, turns: Array) -> Array:
    """The vector between the two farthest corners along the sheet's x axis when the outline is turned by each angle."""
    return hull[_farthest(directions, -turns)] - hull[_farthest(directions, np.pi - turns)]


def _extent(hull: Array, directions: Array, turns: Array) -> Array:
    spans = _spans(hull, directions, turns)
    return spans[:, 0] * np.cos(turns) - spans[:, 1] * np.sin(turns)


def _equal_angles(along: Array, across: Array, width: float, height: float) -> Array:
    """The turn in [0, pi) at which along / width equals across / height, for each pair of spans.

    With spans p (along) and q (across): (p_x cos t - p_y sin t) / width = (q_x sin t + q_y cos t) / height, as the
    extent across at a turn t is q . (cos(t - 90), -sin(t - 90)).
    """
    a = along[:, 0] / width - across[:, 1] / height
    b = -along[:, 1] / width - across[:, 0] / height
    return np.arctan2(-a, b) % np.pi
