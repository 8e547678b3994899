"""Distances inside outlines: where paper is too narrow, what joins, even webs, ties. All exact, none by sampling.

Widths are found by opening with a disc: what of an outline no disc of diameter w inside it reaches is narrower than w.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from msgspec import Struct, structs

from dechirer.core.shape.affine import Affine, Point, Points
from dechirer.core.shape.algebra import quarter_steps
from dechirer.core.shape.outline import clockwise
from dechirer.core.stopping import checkpoint

if TYPE_CHECKING:
    from shapely import Polygon

SPECK = 0.02
"""A narrow place smaller than this share of w x w comes of rounding."""
SHARP = 0.75
"""A corner's tip that no disc reaches counts as a thin detail when it stands out by more than this share of w."""

SHARPEST_DEG = 20.0
"""A corner of this angle or more is a corner, however far its tip stands out; a sharper one is a tip that curls or
tears (common practice; a star of five points has 36 degrees)."""
TAPER = 1.35
"""A thin end whose area is up to this many times that of the triangle on its base and its tip tapers; a strip has 2."""

MOST_CORNERS = 3000
"""A part that is thin all over and has more corners is given its widest disc instead of its narrowest place."""


class Narrow(Struct, frozen=True):
    """A narrow place: its middle, its width in mm, its outline, and what it is.

    `kind` is `web` (joins two wider parts), `detail` (a thin end as broad all along), `tip` (an end that runs out into
    a very sharp point), or `speck` (a part thin all over).
    """

    at: Point
    width: float
    outline: Points
    kind: str

    def moved(self, map: Affine) -> Narrow:
        """The same, mapped."""
        return structs.replace(self, at=map(self.at), outline=map.all(self.outline))


def grow(shape: Any, by: float, corners: str = "round") -> Any:
    """A geometry moved out by `by` mm everywhere (in when below zero), arcs within 0.01 mm at any distance."""
    import shapely

    if abs(by) < 1e-12:
        return shape
    return shapely.buffer(
        shape,
        by,
        quad_segs=quarter_steps(abs(by)),
        join_style="mitre" if corners == "mitre" else "round",
        mitre_limit=8.0,
    )


def opened(shape: Any, radius: float) -> Any:
    """What a disc of that radius can reach while it stays inside."""
    return grow(grow(shape, -radius), radius)


def find_narrow(shape: Any, width: float) -> list[Narrow]:
    """The places of some areas narrower than `width` mm, the narrowest first.

    Corners that are only sharp are left out.
    """
    import shapely

    # Corners that move the outline by less than the slack only cost time.
    worn = grow(shapely.simplify(shape, 2e-3), -width / 2)
    wide = grow(worn, width / 2)
    slack = 2e-3 + 0.01  # the flattening of curves and of round corners
    rest = shapely.difference(shape, grow(wide, slack))
    found: list[Narrow] = []
    wide_parts = [part for part in shapely.get_parts(wide) if not part.is_empty]
    tree = shapely.STRtree(wide_parts)
    bodies = shapely.get_parts(shape)
    for part in shapely.get_parts(rest):
        checkpoint()
        if part.geom_type != "Polygon" or part.area < SPECK * width * width:
            continue
        near = tree.query(part, predicate="dwithin", distance=2 * slack)
        touching = [wide_parts[index] for index in near.tolist()]
        contacts = _contacts(part, touching, 2 * slack)
        if not contacts:
            kind = "speck"
        elif len(contacts) > 1:
            kind = "web"
        else:
            kind = "detail"
            reach = shapely.hausdorff_distance(part.exterior, contacts[0])
            if reach < SHARP * width:
                continue
            angle = _tip_angle(part, contacts[0])
            if angle is not None and angle >= SHARPEST_DEG:
                continue
            kind = "detail" if angle is None else "tip"
        measured = _width_of(part, contacts, kind, bodies)
        if measured >= width - slack:
            continue
        spot = shapely.point_on_surface(part)
        ring = clockwise(tuple(map(tuple, shapely.get_coordinates(part.exterior)[:-1].tolist())))
        found.append(Narrow((spot.x, spot.y), measured, ring, kind))
    found += _find_necks(shape, worn, width, slack, found)
    return sorted(found, key=lambda each: (each.kind == "tip", each.width))


def _find_necks(shape: Any, worn: Any, width: float, slack: float, known: Sequence[Narrow]) -> list[Narrow]:
    """Necks so short that discs on both sides of one meet in it, so that nothing is left between them: parts that fall
    asunder when the shape is worn by half the width, and touch when they are grown again.

    Args:
        worn: the shape worn by half the width.
        known: what was found already.
    """
    import shapely

    parts = [part for part in shapely.get_parts(worn) if part.area > SPECK * width * width]
    if len(parts) < 2:
        return []
    grown = [grow(part, width / 2) for part in parts]
    near = shapely.STRtree(grown).query(grown, predicate="dwithin", distance=2 * slack)
    found = []
    for one, other in zip(*near.tolist(), strict=True):
        if one >= other:
            continue
        checkpoint()
        (x0, y0), (x1, y1) = shapely.get_coordinates(shapely.shortest_line(parts[one], parts[other])).tolist()
        at = ((x0 + x1) / 2, (y0 + y1) / 2)
        if any(each.kind == "web" and math.dist(each.at, at) < width for each in known):
            continue
        box = shapely.box(*shapely.Point(at).buffer(4 * width).bounds)
        measured = _measure_neck(shapely.intersection(shape, box), parts[one], parts[other], width)
        if 0 < measured < width - slack:
            ring = shapely.Point(at).buffer(measured / 2 + slack, quad_segs=6).exterior
            outline = clockwise(tuple(map(tuple, shapely.get_coordinates(ring)[:-1].tolist())))
            found.append(Narrow(at, measured, outline, "web"))
    return found


def _measure_neck(near: Any, one: Any, other: Any, width: float) -> float:
    """How broad a neck between two parts is: twice the least wear at which they come apart, to a 64th of the width."""
    import shapely

    low, high = 0.0, width / 2
    if not _joins(near, one, other):
        return 0.0
    for _ in range(6):
        middle = (low + high) / 2
        if _joins(shapely.buffer(near, -middle), one, other):
            low = middle
        else:
            high = middle
    return low + high


def _joins(shape: Any, one: Any, other: Any) -> bool:
    """Whether some part of a shape reaches two others."""
    import shapely

    return any(
        bool(shapely.intersects(part, one)) and bool(shapely.intersects(part, other))
        for part in shapely.get_parts(shape)
    )


def _tip_angle(part: Polygon, contact: Any) -> float | None:
    """The angle in degrees at the tip of a thin end that tapers from where it meets the wider part; None for one that
    does not taper."""
    import numpy as np
    import shapely

    corners = shapely.get_coordinates(part.exterior)[:-1]
    away = shapely.distance(shapely.points(corners), contact)
    tip = corners[int(np.argmax(away))]
    base = shapely.get_coordinates(contact)
    left, right = base[0] - tip, base[-1] - tip
    triangle = abs(float(left[0] * right[1] - left[1] * right[0])) / 2
    if triangle <= 0 or part.area > TAPER * triangle:
        return None
    cosine = float(left @ right) / float(np.linalg.norm(left) * np.linalg.norm(right))
    return math.degrees(math.acos(max(-1.0, min(1.0, cosine))))


def _contacts(part: Polygon, touching: Sequence[Any], slack: float) -> list[Any]:
    """The stretches of a narrow part's edge that lie against wider parts."""
    import numpy as np
    import shapely

    if not touching:
        return []
    left, top, right, bottom = part.bounds
    reach = 3 * slack
    with np.errstate(invalid="ignore"):  # GEOS may try sides that run along the rectangle
        near = [
            shapely.clip_by_rect(each, left - reach, top - reach, right + reach, bottom + reach) for each in touching
        ]
    # What is clipped through a sliver may come out crossing itself.
    body = shapely.union_all(shapely.make_valid(near))
    met = shapely.intersection(part.exterior, grow(body, slack))
    return [line for line in shapely.get_parts(shapely.line_merge(met)) if line.length > 0]


def _width_of(part: Polygon, contacts: Sequence[Any], kind: str, bodies: Any) -> float:
    """The width of a narrow place: the least distance between its two sides; for other kinds its largest disc."""
    import shapely

    if kind == "web" and len(contacts) >= 2:
        sides = shapely.difference(part.exterior, grow(shapely.union_all(list(contacts)), 1e-6))
        sides = [side for side in shapely.get_parts(shapely.line_merge(sides)) if side.length > 1e-4]
        if len(sides) >= 2:
            best = math.inf
            for index, side in enumerate(sides):
                for other in sides[index + 1 :]:
                    best = min(best, float(shapely.distance(side, other)))
            if best > 0:
                return best
    widest = 2 * float(shapely.maximum_inscribed_circle(part, tolerance=0.005).length)
    if kind in ("detail", "tip") or shapely.get_num_coordinates(part) > MOST_CORNERS:
        return widest
    return _least_width(part, widest)


def _least_width(part: Polygon, widest: float) -> float:
    """The width at which a part that is thin all over comes apart: found by halving."""
    import shapely

    low, high = 0.0, widest
    for _ in range(12):
        checkpoint()
        middle = (low + high) / 2
        wide = opened(part, middle / 2)
        apart = wide.is_empty or any(
            rest.geom_type == "Polygon" and len(_contacts(rest, [wide], 0.004)) > 1
            for rest in shapely.get_parts(shapely.difference(part, grow(wide, 0.002)))
        )
        low, high = (low, middle) if apart else (middle, high)
    return high


def narrowest(shape: Any, most: float) -> float:
    """The narrowest width of some areas up to `most` mm (`most` when nothing is narrower).

    The tips of details are left out: they taper to nothing.
    """
    return min((each.width for each in find_narrow(shape, most) if each.kind not in ("detail", "tip")), default=most)


def joining_offset(shapes: Sequence[Any]) -> float:
    """The least offset at which shapes become one: half the longest edge of the minimum spanning tree of their gaps.

    Plain geometry: at an offset of d every gap up to 2 d is bridged.
    """
    import numpy as np
    import shapely

    count = len(shapes)
    if count < 2:
        return 0.0
    left = np.full(count, np.inf)
    reached = np.zeros(count, dtype=bool)
    pieces = np.asarray(shapes, dtype=object)
    shapely.prepare(pieces)
    index, longest = 0, 0.0
    for _ in range(count - 1):
        reached[index] = True
        waiting = np.flatnonzero(~reached)
        left[waiting] = np.minimum(left[waiting], shapely.distance(pieces[index], pieces[waiting]))
        index = int(waiting[left[waiting].argmin()])
        longest = max(longest, float(left[index]))
    return longest / 2


def even_webs(parts: Sequence[Any], web: float) -> tuple[Any, list[Any]]:
    """A figure's frame with an even web between its inner parts and to its edge, and the parts as they are cut.

    Each part first leaves half a web to its neighbours, so that a shared edge lies in the middle of the web; where
    parts had a gap before, the later one is then kept a whole web away. Parts painted over others win.

    Returns:
        The frame (with an opening for each part) and the inset parts in the given order; lost ones are empty.
    """
    import shapely

    shown: list[Any] = []
    above: Any = shapely.MultiPolygon()
    for part in reversed(parts):  # the last is painted on top
        shown.append(shapely.difference(part, above))
        above = shapely.union(above, part)
    shown.reverse()
    whole = _close_gaps(above, shown, web)
    inner = grow(whole, -web)
    halves: list[Any] = []
    tree = shapely.STRtree(shown)
    for index, part in enumerate(shown):
        near = [other for other in tree.query(part, predicate="dwithin", distance=web).tolist() if other != index]
        others = shapely.union_all([shown[other] for other in near]) if near else shapely.MultiPolygon()
        halves.append(shapely.intersection(shapely.difference(part, grow(others, web / 2)), inner))
    done: list[Any] = []
    for index, part in enumerate(halves):
        near = [
            other for other in tree.query(shown[index], predicate="dwithin", distance=2 * web).tolist() if other < index
        ]
        for other in near:
            if 0 < shapely.distance(part, done[other]) < web - 1e-9:
                part = shapely.difference(part, grow(done[other], web))
        done.append(part)
    frame = shapely.difference(whole, shapely.union_all(done))
    return frame, done


def _close_gaps(above: Any, parts: Sequence[Any], web: float) -> Any:
    """A figure with the gaps between its parts, up to a web wide, filled; its own notches are left."""
    import shapely

    closed = grow(grow(above, web / 2), -web / 2)
    tree = shapely.STRtree(parts)
    gaps = [
        gap
        for gap in shapely.get_parts(shapely.difference(closed, above))
        if gap.geom_type == "Polygon" and len(tree.query(gap, predicate="dwithin", distance=1e-3)) > 1
    ]
    return shapely.union_all([above, *(grow(gap, 1e-3) for gap in gaps)])


def tie_islands(opening: Any, width: float, count: int) -> tuple[Any, int]:
    """An opening with ties of paper left across it that hold its islands: `count` for each, `width` mm wide.

    The ties go where they are shortest, at least 120 / count degrees of the island apart, the nearest first, and
    islands already held may hold others.

    Returns:
        The opening without the ties, and how many ties there are.
    """
    import shapely

    done: list[Any] = []
    number = 0
    for part in shapely.get_parts(opening):
        if part.geom_type != "Polygon" or not part.interiors:
            done.append(part)
            continue
        ties: list[Any] = []
        held: list[Any] = [part.exterior]
        left = list(part.interiors)
        while left:
            base = shapely.union_all(held)
            ring = min(left, key=lambda each: shapely.distance(each, base))
            left.remove(ring)
            made = _tie(ring, base, width, count)
            number += len(made)
            ties += made
            held.append(ring)
        done.append(shapely.difference(part, shapely.union_all(ties)))
    return shapely.union_all(done), number


def _tie(ring: Any, base: Any, width: float, count: int) -> list[Any]:
    """Strips from an island's edge to what holds it."""
    import numpy as np
    import shapely

    middle = shapely.Polygon(ring).centroid
    points = shapely.get_coordinates(shapely.segmentize(ring, max(0.2, ring.length / 720)))[:-1]
    gaps = shapely.distance(shapely.points(points), base)
    turns = np.arctan2(points[:, 1] - middle.y, points[:, 0] - middle.x)
    chosen: list[int] = []
    apart = math.radians(240 / max(count, 1)) if count > 1 else 0.0
    for index in np.argsort(gaps, kind="stable").tolist():
        away = [abs((turns[index] - turns[other] + math.pi) % math.tau - math.pi) for other in chosen]
        if all(angle >= apart - 1e-9 for angle in away):
            chosen.append(index)
        if len(chosen) == count:
            break
    found = []
    for index in chosen:
        here = points[index]
        there = shapely.get_coordinates(shapely.shortest_line(shapely.Point(here), base))[-1]
        along = there - here
        length = float(np.hypot(*along))
        unit = along / length if length > 1e-9 else np.array([1.0, 0.0])
        # A little into the paper at both ends, and wide enough to stay as wide where edges curve.
        start, end = here - unit * width, there + unit * width
        found.append(shapely.LineString([start, end]).buffer(width / 2, cap_style="flat"))
    return found
