"""One item on its face: drawn at its final size, placed by its relations, its recipe run."""

from __future__ import annotations

import itertools
import math
from typing import Any

from msgspec import structs

from dechirer.core.construct.whole import CardPlan
from dechirer.core.dress.decisions import Item, Place
from dechirer.core.dress.drawn import Drawn
from dechirer.core.dress.placed import Placed
from dechirer.core.dress.recipe import cook_stages
from dechirer.core.dress.source import Given, draw_source
from dechirer.core.dress.spots import Spot, fold_side, region_of
from dechirer.core.dress.words.typefaces import FontError
from dechirer.core.length import parse_length
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.curves import PathError
from dechirer.core.shape.fitting import fit_path

FIT_ROUNDS = 5
DENSE_PER_MM = 4.0
"""Art with more nodes to a mm than this may make a blade stutter (common practice): its nodes in the files count."""
_SERIALS = itertools.count(1)


def place_item(item: Item, given: Given, spot: Spot | None, card: CardPlan, safe: float) -> Placed:
    """Place an item and run its recipe.

    Args:
        given: what it may be drawn from.
        spot: the face it is on; None when the card has no such face.
        safe: the safe zone's margin in mm.
    """
    nothing = (0.0, 0.0, 0.0, 0.0)
    if spot is None:
        return _finish(Placed(Drawn(), Drawn(), nothing, nothing, trouble=f"the card has no face “{item.face}”"))
    item, given = resolve_sides(item, spot), structs.replace(given, face=spot.outline)
    region = region_of(spot, item.place.within, safe, card)
    box = _box_of(region, spot, safe if item.place.within == "safe" else 0.0)
    anchor = given.needed.get(item.anchor or "")
    if anchor is not None and not anchor.drawn.is_empty:
        import shapely

        box = anchor.drawn.box()
        region = shapely.box(*box)
    try:
        if (like := given.needed.get(item.same_as or "")) is not None and not like.start.is_empty:
            wide = parse_length(f"{like.source[2] - like.source[0]:.4f} mm")
            placed = _once(structs.replace(item, width=wide, height=None, fit_in=None), given, box)
            placed = structs.replace(placed, sizing=f"as wide as {item.same_as}")
        elif item.fit_in is not None:
            placed = _fit_to_region(item, given, region, box)
        else:
            placed = _once(item, given, box)
            if item.place.within == "visible" and item.of is None:
                placed = _nudge(item, placed, region)
    except (FontError, PathError) as error:
        return _finish(Placed(Drawn(), Drawn(), nothing, box, trouble=str(error)))
    return _finish(placed)


def _box_of(region: Any, spot: Spot, inset: float) -> tuple[float, float, float, float]:
    """The box items are placed in: that of the region, without what stands out of the face's size as a tongue does."""
    if region.is_empty:
        return 0.0, 0.0, spot.width, spot.height
    left, top, right, bottom = region.bounds
    own = (max(left, inset), max(top, inset), min(right, spot.width - inset), min(bottom, spot.height - inset))
    return own if own[0] < own[2] and own[1] < own[3] else (float(left), float(top), float(right), float(bottom))


def _finish(placed: Placed) -> Placed:
    return structs.replace(placed, serial=next(_SERIALS))


def _once(item: Item, given: Given, box: tuple[float, ...], factor: float | None = None) -> Placed:
    """Draw at a size, place, run the recipe. `factor` is the scale from its own size when it is being fitted."""
    source = draw_source(item, given, factor)
    start = _settle(_turned(source.drawn, item), item, box, source.stays)
    stages = cook_stages(start, item.steps, given.others())
    drawn = stages[-1] if stages else start
    left, top, right, bottom = box
    return Placed(
        drawn,
        start,
        start.box(),
        (left, top, right, bottom),
        source.sizing,
        source.note,
        source.lettering,
        "",
        source.stretch,
        source.scale,
        _nodes_of(drawn) if source.density > DENSE_PER_MM and not given.coarse else 0.0,
        stages,
    )


def _nodes_of(drawn: Drawn) -> float:
    """How many nodes to a mm the curves have that stand for an outline in the files."""
    import shapely

    lines = [*drawn.lines, *(ring for area in drawn.areas for ring in (area.exterior, *area.interiors))]
    count = 0
    for line in lines:
        points = [tuple(point) for point in shapely.get_coordinates(line).tolist()]
        count += len(fit_path(points[:-1] if line.is_closed else points, closed=bool(line.is_closed))[1])
    return count / max(sum(float(line.length) for line in lines), 1e-9)


def _turned(drawn: Drawn, item: Item) -> Drawn:
    """Mirrored and turned clockwise about its own middle."""
    place = item.place
    if not place.turn_deg and not place.mirrored:
        return drawn
    left, top, right, bottom = drawn.box()
    x, y = (left + right) / 2, (top + bottom) / 2
    return drawn.moved(Affine(e=-x, f=-y).then(turn_of(place)).then(Affine(e=x, f=y)))


def turn_of(place: Place) -> Affine:
    """How a place mirrors an item and then turns it clockwise, about the origin."""
    c, s = math.cos(math.radians(place.turn_deg)), math.sin(math.radians(place.turn_deg))
    turned = Affine(c, s, -s, c)
    return Affine(a=-1.0).then(turned) if place.mirrored else turned


def _settle(drawn: Drawn, item: Item, box: tuple[float, ...], on_shape: bool) -> Drawn:
    """Moved to where its relations put it; what lies on another item stays there, but for its distances."""
    if drawn.is_empty:
        return drawn
    place = item.place
    if on_shape:
        return drawn.moved(Affine(e=place.x.mm, f=place.y.mm)) if place.x.mm or place.y.mm else drawn
    left, top, right, bottom = drawn.box()
    dx = _along(item, "across", (left, right), (box[0], box[2]), place.x.mm)
    dy = _along(item, "down", (top, bottom), (box[1], box[3]), place.y.mm)
    return drawn.moved(Affine(e=dx, f=dy))


def _along(item: Item, axis: str, ink: tuple[float, float], room: tuple[float, float], by: float) -> float:
    kept = getattr(item.place, axis)
    if kept in ("left", "top"):
        return room[0] + by - ink[0]
    if kept in ("right", "bottom"):
        return room[1] - by - ink[1]
    return (room[0] + room[1]) / 2 + by - (ink[0] + ink[1]) / 2


def resolve_sides(item: Item, spot: Spot) -> Item:
    """The item with `fold` and `edge` said as the sides they are on a face; the middle where there is no fold."""
    opposite = {"left": "right", "right": "left", "top": "bottom", "bottom": "top"}
    sides = {}
    for axis in ("across", "down"):
        kept = getattr(item.place, axis)
        if kept in ("fold", "edge"):
            fold = fold_side(spot, axis)
            sides[axis] = "middle" if not fold else fold if kept == "fold" else opposite[fold]
    return structs.replace(item, place=structs.replace(item.place, **sides)) if sides else item


NUDGES = 24


def _nudge(item: Item, placed: Placed, region: Any) -> Placed:
    """What is kept in the middle of an uneven region moves to the nearest place where all of it is inside, if any."""
    import shapely

    shapes = [*placed.drawn.areas, *placed.drawn.lines]
    if not shapes or region.is_empty:
        return placed
    hull = shapely.convex_hull(shapely.geometrycollections(shapes))
    shapely.prepare(region)
    if shapely.covers(region, hull):
        return placed
    left, top, right, bottom = region.bounds
    across = [0.0] if item.place.across != "middle" else _spread(left - hull.bounds[0], right - hull.bounds[2])
    down = [0.0] if item.place.down != "middle" else _spread(top - hull.bounds[1], bottom - hull.bounds[3])
    found = [(dx, dy) for dx in across for dy in down]
    if len(across) > 1 and len(down) > 1:
        # A narrow band is missed by even steps: where the circle round it fits is looked at too.
        ball = float(shapely.minimum_bounding_radius(hull))
        middle = shapely.centroid(shapely.minimum_bounding_circle(hull))
        for share in (1.0, 0.8, 0.6):
            inner = region.buffer(-ball * share)
            if not inner.is_empty:
                (x0, y0), (x1, y1) = shapely.get_coordinates(shapely.shortest_line(middle, inner)).tolist()
                found.append((x1 - x0, y1 - y0))
    moves = sorted(found, key=lambda move: math.hypot(*move))
    for dx, dy in moves:
        if shapely.covers(region, shapely.transform(hull, lambda p, move=(dx, dy): p + move)):
            shift = Affine(e=dx, f=dy)
            return _moved(placed, shift)
    return placed


def _spread(low: float, high: float) -> list[float]:
    """Even steps from low to high, 0 among them."""
    if high <= low:
        return [0.0]
    return [0.0, *(low + (high - low) * step / NUDGES for step in range(NUDGES + 1))]


def _fit_to_region(item: Item, given: Given, region: Any, box: tuple[float, ...]) -> Placed:
    """The largest size at which what the recipe makes of it lies inside the region, less the inset, in the middle.

    By the outline, not the box: its convex hull grows inside the region until it touches.
    """
    import shapely

    from dechirer.core.dress.words.lettering import fit_hull
    from dechirer.core.shape.webs import grow

    inset = item.fit_in.mm if item.fit_in is not None else 0.0
    room = grow(region, -inset)
    room = max(shapely.get_parts(room), key=lambda part: part.area, default=room)
    if room.is_empty:
        return _once(item, given, box)
    factor = given.art.scale if given.art is not None else 1.0
    placed = _once(item, structs.replace(given, coarse=True), box, factor)
    for _ in range(FIT_ROUNDS):
        shapes = [*placed.drawn.areas, *placed.drawn.lines]
        if not shapes:
            return placed
        hull = shapely.get_coordinates(shapely.convex_hull(shapely.geometrycollections(shapes)))
        own = placed.source
        made = (hull[:, 0].min(), hull[:, 1].min(), hull[:, 0].max(), hull[:, 1].max())
        # Growing the figure grows its borders not at all: only the ink's share of the size scales.
        growth, centre = fit_hull(hull, room)
        wide, high = made[2] - made[0], made[3] - made[1]
        ink = max(own[2] - own[0], own[3] - own[1], 1e-9)
        extra = max(wide - (own[2] - own[0]), high - (own[3] - own[1]))
        wanted = (max(wide, high) * growth - extra) / ink if extra > 0 else growth
        factor *= max(0.02, wanted)
        placed = _once(item, given, box, factor)
        if abs(wanted - 1) < 1e-4:
            break
    left, top, right, bottom = placed.drawn.box()
    shift = Affine(e=centre[0] - (left + right) / 2, f=centre[1] - (top + bottom) / 2)
    return _moved(placed, shift)


def _moved(placed: Placed, shift: Affine) -> Placed:
    """An item that lies elsewhere."""
    start, drawn = placed.start.moved(shift), placed.drawn.moved(shift)
    stages = (*(stage.moved(shift) for stage in placed.stages[:-1]), *((drawn,) if placed.stages else ()))
    return structs.replace(placed, drawn=drawn, start=start, source=start.box(), stages=stages)
