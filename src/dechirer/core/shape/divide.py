"""Lines of a drawing turned into parts that fold: outlines with what is cut in them, divided into panels at folds.

Drawings are as makers find them: outlines in separate strokes, folds as one line or as separate dashes, running past
their outline or stopping short of it. All lengths in mm.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from typing import Any

from msgspec import Struct

from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.algebra import polygons_of

JOIN_MM = 0.2
"""Ends of cut lines that lie this near to each other belong together."""
STRAIGHT_MM = 0.3
"""A fold that strays further than this from straight is curved, and paper does not fold along it to lie flat."""
SAME_LINE_MM, SAME_LINE_DEG = 0.25, 0.6
DASH_GAP_MM = 12.0
"""Dashes of one fold lie no further apart than this."""
SHORT_MM = 6.5
"""A fold that stops short of the edge by no more than this reaches it when it is folded."""
LEAST_PANEL_MM2 = 4.0
BESIDE_MM = 0.03
OVERLAP_MM2 = 1.0


class Trouble(Struct, frozen=True):
    """Something a drawing does not make clear: its code, what is wrong in words, where (mm), and how large a gap is."""

    code: str
    words: str
    place: Point
    size: float = 0.0


class Crease(Struct, frozen=True):
    """A fold between two panels by their places, from `start` to `end`; `index` is the fold line it comes from."""

    one: int
    other: int
    start: Point
    end: Point
    index: int


class Part(Struct, frozen=True):
    """One outline with what is cut in it, divided into panels.

    Attributes:
        outline, holes: its rings; `slits` open cuts in it.
        panels: outline and holes of each panel, in reading order.
        creases: the folds between them; they may go round in rings.
        scores: fold lines that lie in it and divide nothing, as they are drawn.
        index: the outline it comes from.
    """

    outline: Points
    holes: tuple[Points, ...]
    slits: tuple[Points, ...]
    panels: tuple[tuple[Points, tuple[Points, ...]], ...]
    creases: tuple[Crease, ...]
    scores: tuple[Points, ...]
    index: int


class Divided(Struct, frozen=True):
    """All parts of a drawing, what it does not make clear, and where lines lie beside every part."""

    parts: tuple[Part, ...]
    troubles: tuple[Trouble, ...]
    strays: tuple[Point, ...] = ()


def divide(cuts: Sequence[tuple[Points, bool]], folds: Sequence[Points], join: float = JOIN_MM) -> Divided:
    """Divide a drawing into parts and their panels.

    Args:
        cuts: cut lines: points and whether the line is closed.
        folds: fold lines.
        join: ends of cut lines that lie this near to each other belong together, in mm.
    """
    import shapely

    troubles: list[Trouble] = []
    rings, opened = _close(cuts, join, troubles)
    outer, inner = _nest(rings, troubles)
    chains, curved = _chain(folds, troubles)
    parts = []
    tree = shapely.STRtree([shape for _, shape in outer]) if outer else None
    beside: list[Any] = []
    inside: dict[int, list[Any]] = {place: [] for place in range(len(outer))}
    for ring in (*inner, *opened):
        owner = _owner(ring, outer, tree)
        if owner is not None:
            inside[owner].append(ring)
        elif ring.geom_type == "LineString":
            beside.append(ring)
    for place, (index, shape) in enumerate(outer):
        parts.append(_divide_one(index, shape, inside[place], chains, curved, troubles))
    strays = [_point(line.interpolate(0.5, normalized=True).coords[0]) for line in beside]
    whole = shapely.union_all([shape for _, shape in outer])
    for chain in chains:
        line = shapely.LineString([chain.start, chain.end])
        if not outer or shapely.intersection(line, whole).length < JOIN_MM:
            strays.append(_point(line.interpolate(0.5, normalized=True).coords[0]))
    if not outer:
        troubles += _gaps(opened)
    return Divided(tuple(parts), tuple(troubles), tuple(strays))


def _gaps(opened: list[Any]) -> list[Trouble]:
    """Where an outline stays open, and by how much: between the ends that are nearest to each other."""
    found = []
    for line in opened:
        first, last = _point(line.coords[0]), _point(line.coords[-1])
        ends = [_point(other.coords[side]) for other in opened if other is not line for side in (0, -1)] or [first]
        near = min((*ends, first), key=lambda point: math.dist(point, last))
        gap = math.dist(near, last)
        found.append(Trouble("open", f"an outline is open by {gap:.2g} mm", last, gap))
    if not found:
        found.append(Trouble("empty", "nothing of it is cut out", (0.0, 0.0)))
    return found[:5]


# --- outlines ------------------------------------------------------------------------------------------------------


def _close(
    cuts: Sequence[tuple[Points, bool]], join: float, troubles: list[Trouble]
) -> tuple[list[tuple[int, Any]], list[Any]]:
    """Closed rings with the cut each comes from, and lines that stay open."""
    import shapely

    rings: list[tuple[int, Any]] = []
    loose: list[tuple[int, Points]] = []
    for index, (points, closed) in enumerate(cuts):
        ends_meet = math.dist(points[0], points[-1]) <= join
        if len(points) > 2 and (closed or ends_meet):
            ring = points[:-1] if ends_meet and len(points) > 3 else points
            rings.append((index, shapely.Polygon(ring)))
        elif len(points) > 1:
            loose.append((index, points))
    opened: list[Any] = []
    for index, line in _join(loose, join):
        if line.is_ring:
            rings.append((index, shapely.Polygon(line)))
        else:
            opened.append(line)
    good = []
    for index, shape in rings:
        if not shape.is_valid:
            parts = polygons_of(shapely.make_valid(shape))
            if not parts:
                continue
            shape = max(parts, key=lambda each: each.area)
            troubles.append(Trouble("crosses", "an outline crosses itself", _point(shape.exterior.coords[0])))
        good.append((index, shape))
    return good, opened


def _join(loose: list[tuple[int, Points]], join: float) -> list[tuple[int, Any]]:
    """Open lines whose ends meet, as one; (the first line it is made of, the line)."""
    import shapely

    if not loose:
        return []
    ends = [shapely.Point(point) for _, line in loose for point in (line[0], line[-1])]
    tree = shapely.STRtree(ends)
    names = list(range(len(ends)))
    for a, b in tree.query(ends, predicate="dwithin", distance=join).T.tolist():
        low, high = sorted((_find(names, a), _find(names, b)))
        names[high] = low
    lines = []
    for place, (_, line) in enumerate(loose):
        first, last = (ends[_find(names, 2 * place + side)] for side in (0, 1))
        lines.append(shapely.LineString([(first.x, first.y), *line[1:-1], (last.x, last.y)]))
    merged = shapely.get_parts(shapely.line_merge(shapely.MultiLineString(lines))).tolist()
    starts = shapely.STRtree(lines)
    found = []
    for line in merged:
        near = starts.query(line.interpolate(0.5, normalized=True).buffer(1e-6), predicate="intersects")
        found.append((loose[int(min(near))][0] if len(near) else loose[0][0], line))
    return found


def _find(names: list[int], place: int) -> int:
    while names[place] != place:
        names[place] = names[names[place]]
        place = names[place]
    return place


def _nest(rings: list[tuple[int, Any]], troubles: list[Trouble]) -> tuple[list[tuple[int, Any]], list[Any]]:
    """Outlines, and rings that lie in them. Outlines that lie over each other in part are told."""
    import shapely

    if not rings:
        return [], []
    shapes = [shape for _, shape in rings]
    tree = shapely.STRtree(shapes)
    spots = [shape.representative_point() for shape in shapes]
    deep = [0] * len(shapes)
    for small, large in tree.query(spots, predicate="within").T.tolist():
        if small != large and shapes[large].area > shapes[small].area:
            deep[small] += 1
    outer = [ring for ring, depth in zip(rings, deep, strict=True) if depth == 0]
    inner = [shape for (_, shape), depth in zip(rings, deep, strict=True) if depth > 0]
    for place, (_, one) in enumerate(outer):
        for _, other in outer[place + 1 :]:
            if one.bounds[0] < other.bounds[2] and other.bounds[0] < one.bounds[2] and one.intersects(other):
                common = shapely.intersection(one, other)
                if common.area > OVERLAP_MM2:
                    spot = common.representative_point()
                    troubles.append(Trouble("overlap", "two outlines lie over each other", (spot.x, spot.y)))
    return outer, inner


def _owner(ring: Any, outer: list[tuple[int, Any]], tree: Any) -> int | None:
    """The outline a ring or line lies in."""
    if tree is None:
        return None
    spot = ring.representative_point() if ring.geom_type == "Polygon" else ring.interpolate(0.5, normalized=True)
    found = [place for place in tree.query(spot, predicate="within").tolist() if outer[place][1] is not ring]
    return min(found, key=lambda place: outer[place][1].area) if found else None


# --- folds ---------------------------------------------------------------------------------------------------------


class _Chain(Struct, frozen=True):
    """A straight fold: its two ends, and how far it may be drawn out to reach an edge."""

    start: Point
    end: Point
    reach: float
    index: int


def _chain(folds: Sequence[Points], troubles: list[Trouble]) -> tuple[list[_Chain], list[Points]]:
    """Fold lines as straight ones, the dashes of one joined; and those that are curved."""
    straight: list[tuple[Point, Point, int]] = []
    curved: list[Points] = []
    for index, line in enumerate(folds):
        if len(line) < 2 or max(math.dist(line[0], point) for point in line) < 1e-6:
            continue
        a, b = line[0], line[-1]
        if math.dist(a, b) < 1e-6 or max(_off(a, b, point) for point in line) > STRAIGHT_MM:
            corners = _corners(line)
            if corners is None:
                curved.append(line)
                troubles.append(Trouble("curved", "a fold is curved", line[len(line) // 2]))
            else:
                straight += [(one, other, index) for one, other in itertools.pairwise(corners)]
        else:
            straight.append((a, b, index))
    chains: list[_Chain] = []
    for group in _carriers(straight):
        chains += _link(group)
    return chains, curved


def _corners(line: Points) -> list[Point] | None:
    """The corners of a line of long straight legs; None for one that bends all along."""
    import shapely

    rough = [_point(point) for point in shapely.LineString(line).simplify(STRAIGHT_MM / 3).coords]
    legs = [math.dist(a, b) for a, b in itertools.pairwise(rough)]
    return rough if legs and min(legs) > DASH_GAP_MM else None


def _off(a: Point, b: Point, point: Point) -> float:
    length = math.dist(a, b)
    return abs((b[0] - a[0]) * (point[1] - a[1]) - (b[1] - a[1]) * (point[0] - a[0])) / length


def _carriers(segments: list[tuple[Point, Point, int]]) -> list[list[tuple[Point, Point, int]]]:
    """Segments that lie on one straight line, together."""
    groups: list[list[tuple[Point, Point, int]]] = []
    keys: dict[tuple[int, int], list[int]] = {}
    for a, b, index in sorted(segments, key=lambda each: -math.dist(each[0], each[1])):
        angle = math.degrees(math.atan2(b[1] - a[1], b[0] - a[0])) % 180.0
        slot = round(angle / 2)
        found = None
        for near in (slot - 1, slot, slot + 1):
            for place in keys.get((near % 90, 0), ()):
                one, other, _ = groups[place][0]
                turn = abs(angle - math.degrees(math.atan2(other[1] - one[1], other[0] - one[0])) % 180.0)
                short = math.dist(a, b) < DASH_GAP_MM
                turned = min(turn, 180.0 - turn) <= (5.0 if short else SAME_LINE_DEG)
                if turned and max(_off(one, other, a), _off(one, other, b)) <= SAME_LINE_MM:
                    found = place
        if found is None:
            keys.setdefault((slot % 90, 0), []).append(len(groups))
            groups.append([(a, b, index)])
        else:
            groups[found].append((a, b, index))
    return groups


def _link(group: list[tuple[Point, Point, int]]) -> list[_Chain]:
    """Segments of one straight line, those near each other as one."""
    (x0, y0), (x1, y1), _ = group[0]
    length = math.dist((x0, y0), (x1, y1))
    ux, uy = (x1 - x0) / length, (y1 - y0) / length

    def along(point: Point) -> float:
        return (point[0] - x0) * ux + (point[1] - y0) * uy

    spans = sorted((*sorted((along(a), along(b))), index) for a, b, index in group)
    dash = max(high - low for low, high, _ in spans)
    linked: list[list[Any]] = []
    for low, high, index in spans:
        if linked and low - linked[-1][1] <= DASH_GAP_MM:
            linked[-1][3] = max(linked[-1][3], low - linked[-1][1])
            linked[-1][1] = max(linked[-1][1], high)
        else:
            linked.append([low, high, index, 0.0])
    return [
        _Chain(
            (x0 + low * ux, y0 + low * uy),
            (x0 + high * ux, y0 + high * uy),
            max(SHORT_MM, gap + dash if gap else 0.0),
            int(index),
        )
        for low, high, index, gap in linked
    ]


# --- panels --------------------------------------------------------------------------------------------------------


def _divide_one(
    index: int, shape: Any, inside: list[Any], chains: list[_Chain], curved: list[Points], troubles: list[Trouble]
) -> Part:
    import shapely

    holes = [ring for ring in inside if ring.geom_type == "Polygon"]
    slits = [line for line in inside if line.geom_type == "LineString"]
    body = without(shape, holes)
    if body.geom_type != "Polygon":  # cuts that divide it: the largest is the part, the rest falls out
        body = max(shapely.get_parts(body).tolist(), key=lambda part: part.area, default=shape)
    mine = [(chain, _drawn_out(chain, body, slits)) for chain in chains]
    mine = [(chain, line) for chain, line in mine if line is not None]
    faces = _faces(body, slits, [line for _, line in mine])
    creases, scores = _creases(faces, mine, body)
    scores += [line for line in curved if shape.covers(shapely.LineString(line).interpolate(0.5, normalized=True))]
    panels = tuple((_ring(face.exterior), tuple(_ring(ring) for ring in face.interiors)) for face in faces)
    return Part(
        _ring(shape.exterior),
        tuple(_ring(hole.exterior) for hole in holes),
        tuple(tuple(_point(point) for point in line.coords) for line in slits),
        panels,
        tuple(sorted(creases, key=lambda each: (round(each.start[0]), round(each.start[1]), each.index))),
        tuple(scores),
        index,
    )


def equal_but_for_place(one: Any, other: Any, near: float) -> bool:
    """Whether two lines or rings lie nearer than that (mm) to each other all round, once their boxes are laid on each
    other."""
    import shapely

    (x0, y0, x1, y1), (left, top, right, bottom) = one.bounds, other.bounds
    if not (abs((x1 - x0) - (right - left)) < near and abs((y1 - y0) - (bottom - top)) < near):
        return False
    moved = shapely.transform(one, lambda points, by=(left - x0, top - y0): points + by)
    return bool(shapely.hausdorff_distance(moved, other) < near)


def without(shape: Any, holes: Sequence[Any]) -> Any:
    """A polygon without others; openings that lie apart inside it, the usual case, need no geometry."""
    import shapely

    if not holes:
        return shape
    simple = shapely.Polygon(shape.exterior, [hole.exterior for hole in holes])
    return simple if simple.is_valid else shapely.difference(shape, shapely.union_all(holes))


def _drawn_out(chain: _Chain, body: Any, slits: list[Any]) -> Any:
    """A fold as far as it lies in a part, drawn out to the nearest edge or cut within its reach; None beside it."""
    import shapely

    line = shapely.LineString([chain.start, chain.end])
    if not line.intersects(body) or shapely.intersection(line, body).length < JOIN_MM:
        return None
    length = line.length
    ux, uy = (chain.end[0] - chain.start[0]) / length, (chain.end[1] - chain.start[1]) / length
    edges = shapely.union_all([body.boundary, *slits])
    ends = []
    for point, way in ((chain.start, -1.0), (chain.end, 1.0)):
        far = (point[0] + way * ux * chain.reach, point[1] + way * uy * chain.reach)
        ray = shapely.LineString([point, far])
        met = shapely.get_coordinates(shapely.intersection(ray, edges)).tolist()
        spot = point
        if met and body.covers(shapely.Point(point)):
            nearest = min(met, key=lambda each: math.dist(each, point))
            spot = (nearest[0] + way * ux * JOIN_MM / 4, nearest[1] + way * uy * JOIN_MM / 4)
        ends.append(spot)
    return shapely.LineString(ends)


def _faces(body: Any, slits: list[Any], folds: list[Any]) -> list[Any]:
    """The panels of a part, in reading order."""
    import shapely

    if not folds:
        return [body]
    # What divides is nodded on a fine grid, so that lines that meet do meet.
    lines = shapely.union_all([body.boundary, *slits, *folds], grid_size=1e-5)
    found = [
        face
        for face in shapely.get_parts(shapely.polygonize([lines])).tolist()
        if face.area > LEAST_PANEL_MM2 and body.contains(face.representative_point())
    ]
    return sorted(found, key=lambda face: (round(face.bounds[1]), round(face.bounds[0]))) or [body]


def _creases(faces: list[Any], folds: list[tuple[_Chain, Any]], body: Any) -> tuple[list[Crease], list[Points]]:
    """Where folds part two panels; and what of the folds parts none."""
    import shapely

    tree = shapely.STRtree(faces)
    found: list[Crease] = []
    scores: list[Points] = []
    corners = shapely.get_coordinates(faces)
    for chain, line in folds:
        (x0, y0), (x1, y1) = line.coords
        length = line.length
        ux, uy = (x1 - x0) / length, (y1 - y0) / length
        across = (corners - (x0, y0)) @ (-uy, ux)
        along = (corners - (x0, y0)) @ (ux, uy)
        on = along[(abs(across) < BESIDE_MM) & (along > -BESIDE_MM) & (along < length + BESIDE_MM)]
        places = sorted({round(float(each), 4) for each in on})
        pairs: dict[tuple[int, int], list[float]] = {}
        for low, high in itertools.pairwise(places):
            if high - low < BESIDE_MM:
                continue
            middle = (low + high) / 2
            x, y = x0 + middle * ux, y0 + middle * uy
            sides: list[Any] = []
            for way in (1, -1):
                spot = shapely.Point(x - way * uy * BESIDE_MM, y + way * ux * BESIDE_MM)
                sides.append(next(iter(tree.query(spot, predicate="within").tolist()), None))
            if None not in sides and sides[0] != sides[1]:
                key = (min(sides), max(sides))
                pairs.setdefault(key, [low, high])[1] = high
        for (one, other), (low, high) in pairs.items():
            found.append(
                Crease(one, other, (x0 + low * ux, y0 + low * uy), (x0 + high * ux, y0 + high * uy), chain.index)
            )
        if not pairs:
            lies = shapely.intersection(shapely.LineString([chain.start, chain.end]), body)
            scores += [
                tuple(_point(point) for point in each.coords)
                for each in shapely.get_parts(lies).tolist()
                if each.geom_type == "LineString"
            ]
    return found, scores


def span(part: Part, flat: frozenset[int] = frozenset()) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """The creases that make a tree of a part's panels, the longest first, and those that would close a ring.

    Args:
        flat: creases that are not folded: taken only where nothing else holds a panel, and never told.
    """
    names = list(range(len(part.panels)))
    kept, ringed = [], []
    order = sorted(
        range(len(part.creases)),
        key=lambda place: (place in flat, -math.dist(part.creases[place].start, part.creases[place].end)),
    )
    for place in order:
        crease = part.creases[place]
        one, other = _find(names, crease.one), _find(names, crease.other)
        if one == other:
            ringed += [place] if place not in flat else []
            continue
        names[max(one, other)] = min(one, other)
        kept.append(place)
    return tuple(sorted(kept)), tuple(sorted(ringed))


def _ring(ring: Any) -> Points:
    return tuple(_point(point) for point in ring.coords[:-1])


def _point(point: Iterable[float]) -> Point:
    x, y, *_ = point
    return float(x), float(y)
