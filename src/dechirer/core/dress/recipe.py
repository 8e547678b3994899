"""Recipes: chains of steps that turn what an item is drawn from into its outline, at its final size.

Each step is a function from `Drawn` to `Drawn`. Steps work on areas; open lines are only moved along.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from msgspec import Struct, structs

from dechirer.core.dress.drawn import Drawn, Part, polygons_of
from dechirer.core.dress.tidying import tidy
from dechirer.core.job.dressing import Step
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.webs import even_webs, grow, joining_offset, tie_islands

SPECK_MM2 = 1e-4
OUTLINE_ROLES = frozenset({"cut", "kiss", "unassigned"})


class Kitchen(Struct, frozen=True):
    """What steps may ask for: the outlines of other items of the face by id, in this item's own place."""

    others: dict[str, Drawn]


def cook(drawn: Drawn, steps: tuple[Step, ...], kitchen: Kitchen) -> Drawn:
    """Run a recipe."""
    for step in steps:
        rest: tuple[Part, ...] = ()
        if step.kind not in ("mirror", "fit", "repeat"):
            # What is drawn, scored or printed on it has no part in its outline.
            main = tuple(part for part in drawn.parts if part.role in OUTLINE_ROLES)
            if main and len(main) < len(drawn.parts):
                rest = tuple(part for part in drawn.parts if part.role not in OUTLINE_ROLES)
                drawn = structs.replace(drawn, parts=main)
        drawn = run_step(drawn, step, kitchen)
        if rest:
            drawn = structs.replace(drawn, parts=(*drawn.parts, *rest))
    return drawn


def run_step(drawn: Drawn, step: Step, kitchen: Kitchen) -> Drawn:
    """One step. Steps that lose items or make none say so."""
    done = _RUNNERS[step.kind](drawn, step, kitchen)
    if not drawn.is_empty and done.is_empty:
        return done.with_remark("gone", f"“{step.kind}” leaves nothing", _middle(drawn))
    if step.kind not in ("border", "relief", "round", "tidy", "cut"):
        return done
    before, after = len(items_of(drawn)), len(items_of(done))
    if step.kind != "cut" and 0 < after < before and not _joined(step):
        done = done.with_remark("lost", f"“{step.kind}” loses {before - after} of {before} parts", _middle(done))
    if step.kind in ("border", "round", "cut") and after > before > 0:
        done = done.with_remark("broken", f"“{step.kind}” breaks it into {after} parts", _middle(done))
    return done


def _joined(step: Step) -> bool:
    return step.kind == "border" and step.by.mm > 0 and not step.each


def _middle(drawn: Drawn) -> tuple[float, float]:
    left, top, right, bottom = drawn.box()
    return (left + right) / 2, (top + bottom) / 2


def items_of(drawn: Drawn) -> list[Any]:
    """Its outlines as items: areas that touch are one. Largest first. What is only drawn or printed on it is none."""
    import shapely

    areas = [area for part in drawn.parts if part.role in OUTLINE_ROLES for area in part.areas] or list(drawn.areas)
    if not areas:
        return []
    parts = list(polygons_of(shapely.union_all(areas), SPECK_MM2))
    return sorted(parts, key=lambda part: -part.area)


def _with(drawn: Drawn, shape: Any) -> Drawn:
    """One part in place of all: the first's role and colour, with a new outline; open lines are kept."""
    first = drawn.parts[0] if drawn.parts else Part("cut", "#000000")
    lines = tuple(line for part in drawn.parts for line in part.lines)
    return structs.replace(
        drawn, parts=(structs.replace(first, areas=polygons_of(shape, SPECK_MM2), lines=lines, folds=()),)
    )


def _union(drawn: Drawn) -> Any:
    import shapely

    return shapely.union_all(list(drawn.areas)) if drawn.areas else shapely.MultiPolygon()


def _border(drawn: Drawn, step: Step, _kitchen: Kitchen) -> Drawn:
    import shapely

    by, corners = step.by.mm, step.corners
    items = items_of(drawn) if drawn.areas else []
    if step.edges == "outer":
        items = [_offset_outer(item, by, corners) for item in items]
    else:
        items = [grow(item, by, corners) for item in items]
    loose = [grow(line, by, corners) for line in drawn.lines if by > 0]
    if step.each:
        parts = [part for item in (*items, *loose) for part in polygons_of(item, SPECK_MM2)]
        first = drawn.parts[0] if drawn.parts else Part("cut", "#000000")
        return structs.replace(drawn, parts=(structs.replace(first, areas=tuple(parts), lines=(), folds=()),))
    whole = shapely.union_all([*items, *loose])
    if step.edges == "outer" and by > 0:
        whole = shapely.union_all([shapely.Polygon(part.exterior, part.interiors) for part in polygons_of(whole)])
    return structs.replace(
        _with(drawn, whole),
        parts=_with(
            structs.replace(drawn, parts=tuple(structs.replace(part, lines=()) for part in drawn.parts)), whole
        ).parts,
    )


def _offset_outer(item: Any, by: float, corners: str) -> Any:
    """The outer edge moved; the holes as they are."""
    import shapely

    moved = grow(shapely.Polygon(item.exterior), by, corners)
    holes = [shapely.Polygon(ring) for ring in item.interiors]
    return shapely.difference(moved, shapely.union_all(holes)) if holes else moved


def _join(drawn: Drawn, step: Step, kitchen: Kitchen) -> Drawn:
    import shapely

    other = kitchen.others.get(step.of or "")
    extra = list(other.areas) if other else []
    whole = shapely.union_all([*drawn.areas, *extra])
    if other is not None and not shapely.intersects(_union(drawn), shapely.union_all(extra)):
        drawn = drawn.with_remark("apart", "what is to be joined does not touch", _middle(drawn))
    return _with(drawn, whole)


def _merge(drawn: Drawn, step: Step, _kitchen: Kitchen) -> Drawn:
    import shapely

    items = items_of(drawn)
    least = joining_offset(items)
    if least <= 0:
        return _with(drawn, shapely.union_all(items))
    grown = shapely.union_all([grow(item, least + max(step.by.mm, 1e-3)) for item in items])
    found = _with(drawn, grown)
    words = f"the least border that joins all {len(items)} items is {least:.2f} mm"
    return found.with_remark("merged", words, _middle(found))


def _cut(drawn: Drawn, step: Step, kitchen: Kitchen) -> Drawn:
    import shapely

    other = kitchen.others.get(step.of or "")
    if other is None or not other.areas:
        return drawn
    tool = grow(_union(other), step.by.mm) if step.by.mm else _union(other)
    if not shapely.intersects(_union(drawn), tool):
        drawn = drawn.with_remark("apart", "what is to be cut out does not touch it", _middle(drawn))
    return _with(drawn, shapely.difference(_union(drawn), tool))


def _relief(drawn: Drawn, step: Step, _kitchen: Kitchen) -> Drawn:
    if not drawn.areas:
        return drawn
    frame, parts = even_webs(list(drawn.areas), step.by.mm)
    lost = sum(part.is_empty for part in parts)
    if step.keep == "frame":
        found = _with(drawn, frame)
    else:
        areas = iter(parts)
        kept = []
        for part in drawn.parts:
            mine = [piece for _ in part.areas for piece in polygons_of(next(areas), SPECK_MM2)]
            kept.append(structs.replace(part, areas=tuple(mine)))
        found = structs.replace(drawn, parts=tuple(kept))
    if lost:
        found = found.with_remark("lost", f"“relief” loses {lost} of {len(parts)} parts", _middle(drawn))
    return found


def _bridge(drawn: Drawn, step: Step, _kitchen: Kitchen) -> Drawn:
    opening, count = tie_islands(_union(drawn), step.by.mm, max(1, step.count))
    found = _with(drawn, opening)
    if not count:
        return found.with_remark("no-islands", "there is no island to be held", _middle(drawn))
    return found


def _fill(drawn: Drawn, _step: Step, _kitchen: Kitchen) -> Drawn:
    import shapely

    parts = tuple(
        structs.replace(part, areas=tuple(shapely.Polygon(area.exterior) for area in part.areas))
        for part in drawn.parts
    )
    return structs.replace(drawn, parts=parts)


def _outermost(drawn: Drawn, _step: Step, _kitchen: Kitchen) -> Drawn:
    import shapely

    return _with(drawn, shapely.union_all([shapely.Polygon(item.exterior) for item in items_of(drawn)]))


def _item(drawn: Drawn, step: Step, _kitchen: Kitchen) -> Drawn:
    import shapely

    items = items_of(drawn)
    if not items:
        return drawn
    number = min(max(step.count, 1), len(items))
    around = grow(items[number - 1], 1e-6)
    parts = []
    for part in drawn.parts:
        areas = tuple(area for area in part.areas if shapely.intersects(area, around))
        parts.append(structs.replace(part, areas=areas, lines=(), folds=()))
    found = structs.replace(drawn, parts=tuple(part for part in parts if not part.is_empty))
    if step.count > len(items):
        found = found.with_remark("few", f"there are only {len(items)} items", _middle(drawn))
    return found


def _mirror(drawn: Drawn, step: Step, _kitchen: Kitchen) -> Drawn:
    x, y = _middle(drawn)
    if step.side in ("left", "right"):
        return drawn.moved(Affine(a=-1.0, e=2 * x))
    return drawn.moved(Affine(d=-1.0, f=2 * y))


def _copies(drawn: Drawn, maps: list[Affine]) -> Drawn:
    """Copies of every part, each mapped."""
    made = [drawn.moved(map) for map in maps]
    parts = []
    for index, part in enumerate(drawn.parts):
        parts.append(
            structs.replace(
                part,
                areas=tuple(area for copy in made for area in copy.parts[index].areas),
                lines=tuple(line for copy in made for line in copy.parts[index].lines),
                folds=tuple(line for copy in made for line in copy.parts[index].folds),
            )
        )
    return structs.replace(drawn, parts=tuple(parts))


def _repeat(drawn: Drawn, step: Step, kitchen: Kitchen) -> Drawn:
    """Copies at equal distances along a closed path, upright to it; it closes evenly for any whole number."""
    count = max(1, step.count)
    x, y = _middle(drawn)
    home = Affine(e=-x, f=-y)
    along = kitchen.others.get(step.of or "")
    maps = []
    if along is not None and along.areas:
        ring = max((area.exterior for area in along.areas), key=lambda each: each.length)
        for number in range(count):
            at = ring.length * number / count
            here, ahead = ring.interpolate(at), ring.interpolate((at + 0.05) % ring.length)
            turn = 0.0 if step.each else math.atan2(ahead.y - here.y, ahead.x - here.x)
            maps.append(home.then(_turned(turn)).then(Affine(e=here.x, f=here.y)))
    else:
        radius = step.by.mm
        for number in range(count):
            angle = math.tau * number / count
            place = Affine(e=x + radius * math.sin(angle), f=y - radius * math.cos(angle))
            maps.append(home.then(_turned(0.0 if step.each else angle)).then(place))
    return _copies(drawn, maps)


def _turned(angle: float) -> Affine:
    c, s = math.cos(angle), math.sin(angle)
    return Affine(c, s, -s, c)


def _spread(drawn: Drawn, step: Step, _kitchen: Kitchen) -> Drawn:
    """Items from left to right with equal gaps, so that the whole is as long as asked for; none is taken apart."""
    import numpy as np
    import shapely

    items = sorted(items_of(drawn), key=lambda item: item.bounds[0])
    if len(items) < 2:
        return drawn.with_remark("few", "there is only one item to spread", _middle(drawn))
    widths = [item.bounds[2] - item.bounds[0] for item in items]
    gap = (step.by.mm - sum(widths)) / (len(items) - 1)
    left = sum(_middle(drawn)[:1]) - step.by.mm / 2
    moved = []
    for item, wide in zip(items, widths, strict=True):
        moved.append(shapely.transform(item, lambda p, dx=left - item.bounds[0]: np.add(p, (dx, 0.0))))
        left += wide + gap
    found = _with(drawn, shapely.union_all(moved))
    if gap < 0:
        found = found.with_remark("tight", f"the items overlap by {-gap:.1f} mm at that length", _middle(drawn))
    return found


def _round(drawn: Drawn, step: Step, _kitchen: Kitchen) -> Drawn:
    radius = abs(step.by.mm)
    whole = grow(grow(grow(_union(drawn), -radius), 2 * radius), -radius)
    return _with(drawn, whole)


def _tidy(drawn: Drawn, step: Step, _kitchen: Kitchen) -> Drawn:
    return tidy(drawn, max(step.by.mm, 1e-3))[0]


def _fit(drawn: Drawn, step: Step, _kitchen: Kitchen) -> Drawn:
    left, top, right, bottom = drawn.box()
    wide, high = right - left, bottom - top
    if wide <= 0 or step.by.mm <= 0:
        return drawn
    factor = step.by.mm / wide
    if step.to.mm and high > 0:
        factor = min(factor, step.to.mm / high)
    x, y = _middle(drawn)
    return drawn.moved(Affine(factor, 0, 0, factor, x - x * factor, y - y * factor))


def _lift(drawn: Drawn, step: Step, _kitchen: Kitchen) -> Drawn:
    """The outline left open along a hinge at one side: what is cut is an open line, and the hinge is scored.

    The hinge is a straight line, `by` long, at the place nearest that side where the outline is that wide.
    """
    import shapely

    items = items_of(drawn)
    lines: list[Any] = []
    folds: list[Any] = []
    remark = drawn
    for item in items:
        found = _open_at(item, step.by.mm, step.side)
        if found is None:
            remark = remark.with_remark("no-hinge", "it is nowhere as wide as its hinge", _middle(drawn))
            lines.append(shapely.LineString(item.exterior.coords))
            continue
        cut, hinge = found
        lines.append(cut)
        folds.append(hinge)
    first = drawn.parts[0] if drawn.parts else Part("cut", "#000000")
    part = structs.replace(first, areas=(), lines=tuple(lines), folds=tuple(folds))
    return structs.replace(remark, parts=(part,))


def _open_at(item: Any, hinge: float, side: str) -> tuple[Any, Any] | None:
    import shapely

    left, top, right, bottom = item.bounds
    flat = side in ("top", "bottom")
    low, high = (top, bottom) if flat else (left, right)
    way = 1.0 if side in ("top", "left") else -1.0
    start = low if way > 0 else high

    def chord(depth: float) -> Any:
        at = start + way * depth
        line = [(left - 1, at), (right + 1, at)] if flat else [(at, top - 1), (at, bottom + 1)]
        met = shapely.intersection(shapely.Polygon(item.exterior), shapely.LineString(line))
        parts = [part for part in shapely.get_parts(met) if part.geom_type == "LineString"]
        return max(parts, key=lambda part: part.length, default=None)

    reach = high - low
    depth = None
    for number in range(1, 201):  # the first depth at which it is wide enough, then closed in on
        here = chord(reach * number / 201)
        if here is not None and here.length >= hinge - 1e-9:
            lowest, highest = reach * (number - 1) / 201, reach * number / 201
            for _ in range(30):
                middle = (lowest + highest) / 2
                found = chord(middle)
                if found is not None and found.length >= hinge - 1e-9:
                    highest = middle
                else:
                    lowest = middle
            depth = highest
            break
    if depth is None:
        return None
    line = chord(depth)
    if line is None:
        return None
    ring = item.exterior
    (x0, y0), (x1, y1) = line.coords[0], line.coords[-1]
    a, b = ring.project(shapely.Point(x0, y0)), ring.project(shapely.Point(x1, y1))
    one, other = _between(ring, a, b), _between(ring, b, a)

    # What lies on the far side of the hinge lifts; the short way round on the near side stays uncut.
    def far(path: Any) -> float:
        middle = path.interpolate(0.5, normalized=True)
        return way * (float(middle.y if flat else middle.x) - float(start))

    cut = one if far(one) > far(other) else other
    return cut, shapely.LineString([(x0, y0), (x1, y1)])


def _between(ring: Any, a: float, b: float) -> Any:
    from shapely.ops import substring

    if a <= b:
        return substring(ring, a, b)
    import shapely

    first, second = substring(ring, a, ring.length), substring(ring, 0.0, b)
    return shapely.LineString([*first.coords, *list(second.coords)[1:]])


_RUNNERS: dict[str, Callable[[Drawn, Step, Kitchen], Drawn]] = {
    "border": _border,
    "join": _join,
    "merge": _merge,
    "cut": _cut,
    "relief": _relief,
    "bridge": _bridge,
    "fill": _fill,
    "outermost": _outermost,
    "item": _item,
    "mirror": _mirror,
    "repeat": _repeat,
    "spread": _spread,
    "round": _round,
    "tidy": _tidy,
    "fit": _fit,
    "lift": _lift,
}
