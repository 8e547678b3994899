"""One item on its face: drawn at its final size, placed by its relations, its recipe run."""

from __future__ import annotations

import itertools
import math
from typing import Any

from msgspec import Struct, structs

from dechirer.core.construct.construct import ConstructPlan
from dechirer.core.dress.drawn import Drawn, draw_art
from dechirer.core.dress.lettering import Lettering, set_words
from dechirer.core.dress.recipe import OUTLINE_ROLES, Kitchen, cook
from dechirer.core.dress.spots import Spot, fold_side, region_of
from dechirer.core.dress.typefaces import FontError
from dechirer.core.job.dressing import Art, FontFile, Item, Role
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.curves import FLAT_MM, PathError

COARSE_MM = 0.1
FIT_ROUNDS = 5
_SERIALS = itertools.count(1)

ROLE_OF: dict[str, Role] = {
    "window": "cut",
    "kiss": "kiss",
    "score": "score",
    "perforate": "perforate",
    "pen": "pen",
    "foil": "foil",
    "print": "print",
    "piece": "cut",
    "guide": "cut",
}
"""What every group of an item becomes, for each way it is made but `art`."""


class Placed(Struct, frozen=True):
    """An item on its face as seen, in mm.

    Attributes:
        drawn: what it is after its recipe.
        start: what it was before, placed.
        source: left, top, right, bottom of its own ink before the recipe.
        region: left, top, right, bottom of the region it was placed in.
        sizing: how its size came about, in words, and `note` a remark to it.
        lettering: how its words were set.
        trouble: why there is nothing of it.
        stretch: its width factor over its height factor, 1 when the ratio is kept.
    """

    drawn: Drawn
    start: Drawn
    source: tuple[float, float, float, float]
    region: tuple[float, float, float, float]
    sizing: str = ""
    note: str = ""
    lettering: Lettering | None = None
    trouble: str = ""
    stretch: float = 1.0
    scale: float = 1.0
    serial: int = 0


def place_item(
    item: Item,
    art: Art | None,
    text: str,
    fonts: tuple[FontFile, ...],
    spot: Spot | None,
    construct: ConstructPlan,
    needed: dict[str, Placed],
    safe: float,
    coarse: bool = False,
) -> Placed:
    """Place an item and run its recipe.

    Args:
        art: the import it is drawn from, if any; `text` its words with blanks filled, `fonts` the maker's typefaces.
        spot: the face it is on; None when the card has no such face.
        needed: the items it is made of or asks for, placed, by id.
        safe: the safe zone's margin in mm.
    """
    nothing = (0.0, 0.0, 0.0, 0.0)
    if spot is None:
        return _finish(Placed(Drawn(), Drawn(), nothing, nothing, trouble=f"the card has no face “{item.face}”"))
    item = resolve_sides(item, spot)
    region = region_of(spot, item.place.within, safe, construct)
    box = tuple(region.bounds) if not region.is_empty else (0.0, 0.0, spot.width, spot.height)
    others = {name: placed.drawn for name, placed in needed.items()}
    kitchen = Kitchen(others)
    try:
        if item.fit_in is not None:
            placed = _fit_to_region(item, art, text, fonts, region, box, needed, kitchen, coarse)
        else:
            placed = _once(item, art, text, fonts, box, needed, kitchen, coarse, None)
            if item.place.within == "visible" and item.of is None:
                placed = _nudge(item, placed, region)
    except (FontError, PathError) as error:
        return _finish(Placed(Drawn(), Drawn(), nothing, box, trouble=str(error)))
    return _finish(placed)


def _finish(placed: Placed) -> Placed:
    return structs.replace(placed, serial=next(_SERIALS))


def _once(
    item: Item,
    art: Art | None,
    text: str,
    fonts: tuple[FontFile, ...],
    box: tuple[float, ...],
    needed: dict[str, Placed],
    kitchen: Kitchen,
    coarse: bool,
    factor: float | None,
) -> Placed:
    """Draw at a size, place, cook. `factor` is the scale from the art's own size when it is being fitted."""
    role = ROLE_OF.get(item.made)
    tolerance = COARSE_MM if coarse else FLAT_MM
    lettering: Lettering | None = None
    stretch, scale = 1.0, 1.0
    on_shape = False
    note = ""
    if item.of is not None:
        source = needed[item.of].drawn if item.of in needed else Drawn()
        if role is not None:
            # Only the outline of the other: what is drawn on it stays there.
            main = [part for part in source.parts if part.role in OUTLINE_ROLES] or source.parts
            source = structs.replace(source, parts=tuple(structs.replace(part, role=role) for part in main))
        source = structs.replace(source, remarks=())
        sizing = "made of another item, as large as that"
        on_shape = item.place.across == "middle" and item.place.down == "middle"
        if item.width is not None and source.parts:
            scale = item.width.mm / max(1e-9, source.box()[2] - source.box()[0])
            sizing = "typed"
        source = _scaled(source, scale)
    elif item.words is not None:
        words = item.words
        shape = None
        if words.fit == "shape" and words.shape in needed:
            shape = _largest(needed[words.shape].drawn)
            on_shape = shape is not None
        lettering = set_words(words, text, fonts, shape)
        source = lettering.drawn(role or "cut", item.colour or "#000000")
        sizing = f"the ink of the words at {lettering.size:.1f} mm to the em"
        if item.width is not None and not source.is_empty and words.fit in ("size", "arc"):
            wanted = item.width.mm / max(1e-9, source.box()[2] - source.box()[0])
            lettering = set_words(structs.replace(words, size=_length(words.size.mm * wanted)), text, fonts, shape)
            source = lettering.drawn(role or "cut", item.colour or "#000000")
            sizing = "typed"
    else:
        assert art is not None
        scale = art.scale
        sizing = f"settled {art.settled}" if art.scale == 1.0 else f"the art's own size, corrected by {art.scale:.4g}"
        across, down = _wanted(item, art)
        if factor is not None:
            scale, sizing = factor, "as large as its region takes"
        elif across is not None or down is not None:
            scale = across if across is not None else (down or 1.0)
            sizing = "follows from its other side, the ratio kept"
            if across is not None and down is not None:
                stretch = across / down
                note = "" if abs(stretch - 1) < 1e-3 else "Its ratio is changed."
        keeping = item.made in ("piece", "window", "kiss", "guide")
        source = draw_art(art, scale, role=role, tolerance=tolerance, keeping=keeping)
        if abs(stretch - 1) > 1e-9:
            source = source.moved(Affine(d=1.0 / stretch))
        if item.colour is not None:
            source = structs.replace(
                source, parts=tuple(structs.replace(part, colour=item.colour) for part in source.parts)
            )
    if factor is not None and item.art is None and item.of is None:
        source = _scaled(source, factor)
    source = _turned(source, item)
    moved = _settle(source, item, box, on_shape)
    start = moved
    drawn = cook(moved, item.steps, kitchen)
    return Placed(drawn, start, start.box(), box, sizing, note, lettering, "", stretch, scale)  # type: ignore[arg-type]


def _length(mm: float) -> Any:
    from dechirer.core.length import parse_length

    return parse_length(f"{min(600.0, max(1.0, mm)):.5f} mm")


def _wanted(item: Item, art: Art) -> tuple[float | None, float | None]:
    """Scales asked for across and down, from the art's own ink."""
    across = item.width.mm / art.width if item.width is not None else None
    down = item.height.mm / art.height if item.height is not None and art.height > 0 else None
    return across, down


def _scaled(drawn: Drawn, factor: float) -> Drawn:
    if abs(factor - 1) < 1e-12:
        return drawn
    left, top, right, bottom = drawn.box()
    x, y = (left + right) / 2, (top + bottom) / 2
    return drawn.moved(Affine(factor, 0, 0, factor, x - x * factor, y - y * factor))


def _largest(drawn: Drawn) -> Any:
    from dechirer.core.dress.recipe import items_of

    items = items_of(drawn)
    return items[0] if items else None


def _turned(drawn: Drawn, item: Item) -> Drawn:
    """Mirrored and turned clockwise about its own middle."""
    place = item.place
    if not place.turn_deg and not place.mirrored:
        return drawn
    left, top, right, bottom = drawn.box()
    x, y = (left + right) / 2, (top + bottom) / 2
    map = Affine(e=-x, f=-y)
    if place.mirrored:
        map = map.then(Affine(a=-1.0))
    c, s = math.cos(math.radians(place.turn_deg)), math.sin(math.radians(place.turn_deg))
    return drawn.moved(map.then(Affine(c, s, -s, c)).then(Affine(e=x, f=y)))


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
            start = placed.start.moved(shift)
            return structs.replace(placed, drawn=placed.drawn.moved(shift), start=start, source=start.box())
    return placed


def _spread(low: float, high: float) -> list[float]:
    """Even steps from low to high, 0 among them."""
    if high <= low:
        return [0.0]
    return [0.0, *(low + (high - low) * step / NUDGES for step in range(NUDGES + 1))]


def _fit_to_region(
    item: Item,
    art: Art | None,
    text: str,
    fonts: tuple[FontFile, ...],
    region: Any,
    box: tuple[float, ...],
    needed: dict[str, Placed],
    kitchen: Kitchen,
    coarse: bool,
) -> Placed:
    """The largest size at which what the recipe makes of it lies inside the region, less the inset, in the middle.

    By the outline, not the box: its convex hull grows inside the region until it touches.
    """
    import shapely

    from dechirer.core.dress.lettering import fit_hull
    from dechirer.core.shape.webs import grow

    inset = item.fit_in.mm if item.fit_in is not None else 0.0
    room = grow(region, -inset)
    room = max(shapely.get_parts(room), key=lambda part: part.area, default=room)
    if room.is_empty:
        return _once(item, art, text, fonts, box, needed, kitchen, coarse, None)
    factor = art.scale if art is not None else 1.0
    placed = _once(item, art, text, fonts, box, needed, kitchen, True, factor)
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
        placed = _once(item, art, text, fonts, box, needed, kitchen, coarse, factor)
        if abs(wanted - 1) < 1e-4:
            break
    left, top, right, bottom = placed.drawn.box()
    shift = Affine(e=centre[0] - (left + right) / 2, f=centre[1] - (top + bottom) / 2)
    start = placed.start.moved(shift)
    return structs.replace(placed, drawn=placed.drawn.moved(shift), start=start, source=start.box())
