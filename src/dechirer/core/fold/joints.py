"""Joints: where what is glued touches what it is glued on, what of that takes glue, and how much of it.

All of it comes from the stack: a slab is stuck to whatever lies right under it on its panel. Glue stays off openings,
slots and folds, off what has to slide, and in from the edges by what its kind wants.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from typing import Any

from msgspec import Struct, structs

from dechirer.core.card.assembly import FOAM, THING, Slab, mirrored_at
from dechirer.core.card.panels import PanelTree, Side
from dechirer.core.fold.adhesives import ADHESIVES, DOT_MM, SPRAY_G_PER_M2, TAPE_MM, WET_G_PER_M2, Adhesive
from dechirer.core.fold.around import Around, Ground, Slot
from dechirer.core.memory import Memory
from dechirer.core.shape import algebra
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.algebra import polygons_of
from dechirer.core.shape.outline import Box, bounds
from dechirer.core.shape.webs import grow

TOUCH_MM = 1e-4
DRAPE_MM = 0.7
"""A part that lies on a layer this thick bends down beside it, and is stuck there too (from memory)."""
ENOUGH = 0.35
"""Glue is set in by less where less than this share of the place would be left."""
SLOT_MM, FOLD_MM = 1.5, 2.0
"""Glue stays so far off slots and openings, and off folds (common practice, no published figure)."""
SPECK_MM2 = 1.0
ROUGH_MM = 0.05
"""The edges of what is left free of glue are as rough as this."""
NEAR_MM = SLOT_MM + 0.5
SMALL_MM = 30.0
"""What is smaller than this each way is stuck by dots (from memory)."""
PAD_APART_MM = 60.0
"""No place of a layer is farther than half of this from a foam square, so that it does not sag (from memory)."""
MOST_ACROSS = 120


class Joint(Struct, frozen=True):
    """A part that is stuck on a panel.

    Attributes:
        id: its name: the part, and the panel where a part lies on several.
        part: the piece or the item that is stuck; `onto` what it is stuck on.
        model: `card` or `envelope`.
        outlines: the part on the model's flat sheet, outside up, mm.
        zone: what takes glue: rings, each an outline and its openings.
        side: which side of the panel it comes on.
        adhesive, chosen: what sticks it, and whether the maker chose that for it alone.
        area: of the zone, mm2; `narrowest` how broad it is at its broadest place (mm), before anything is left free.
        whole: the area of the part, mm2.
        free_of: what is left free, in words.
        squares: the middles of foam squares.
        tape: mm of tape; `dots` glue dots; `grams` of glue.
        number: how many outlines are stuck.
    """

    id: str
    part: str
    onto: str
    model: str
    panel: str
    side: Side
    outlines: tuple[Points, ...]
    zone: tuple[tuple[Points, ...], ...]
    adhesive: Adhesive
    chosen: bool
    area: float
    narrowest: float
    whole: float
    free_of: tuple[str, ...] = ()
    squares: tuple[Point, ...] = ()
    tape: float = 0.0
    dots: int = 0
    grams: float = 0.0
    level: float = 0.0
    foam: float = 0.0

    @property
    def number(self) -> int:
        """How many outlines are stuck at once."""
        return len(self.outlines)


def find_joints(ground: Ground, memory: Memory) -> tuple[Joint, ...]:
    """Every joint of a model, those nearest to its sheet first; remembered by what lies there."""
    groups: dict[tuple[str, str, Side], list[Slab]] = {}
    for slab in ground.slabs[len(ground.tree.panels) :]:
        if len(slab.outline) < 3 or slab.paper.startswith(FOAM) or _is_of_sheet(slab, ground):
            continue
        if slab.piece not in ground.loose:
            groups.setdefault((slab.piece, slab.panel, side_of(slab)), []).append(slab)
    around = Around(ground)
    places = Counter(piece for piece, _, _ in groups)
    on_panel = Counter((piece, panel) for piece, panel, _ in groups)
    found = []
    for (piece, panel, side), slabs in groups.items():
        id = piece if places[piece] == 1 else f"{piece}-on-{panel}"
        id = id if on_panel[piece, panel] == 1 else f"{piece}-on-{panel}-{side}"
        found.append(_recall(id, side, slabs, ground, around, memory))
    for hinge in ground.tree.hinges:
        if hinge.glued:
            joint = _join_flap(hinge.child, ground)
            found += [joint] if joint is not None else []
    return tuple(sorted(found, key=lambda joint: joint.level))


def _recall(id: str, side: Side, slabs: list[Slab], ground: Ground, around: Around, memory: Memory) -> Joint:
    """A joint, made anew only when something it hangs on has changed: what lies elsewhere on the panel has nothing to
    do with it."""
    first = slabs[0]
    box = _box_of(slabs).grown(NEAR_MM)
    near = around.slabs(first.panel, box)
    ground = structs.replace(ground, slabs=near)
    hosts = sorted({slab.piece for slab in near})
    slots = {host: around.slots(host, first.panel, box) for host in hosts}
    hinges = tuple(each for each in ground.tree.hinges if first.panel in (each.parent, each.child))
    before = ground.pieces[first.piece].before if first.piece in ground.pieces else ""
    own, bare = ground.own, tuple(each for each in ground.bare if each.panel == first.panel)
    decided = (own.adhesive_of(first.piece), own.adhesive_of(id), own.paper_glue, own.pad.mm, before)
    kept = tuple(slots.items())
    key = ("joint", ground.model, id, side, tuple(slabs), near, kept, hinges, bare, decided, ground.loose)
    return memory.recall(key, lambda: _join(id, side, slabs, ground, slots))


def _box_of(slabs: Sequence[Slab]) -> Box:
    return bounds([place for slab in slabs for place in slab.outline])


def side_of(slab: Slab) -> Side:
    """The side of its panel that a slab which is stuck on lies on."""
    return "outside" if slab.bottom > 0 else "inside"


def _is_of_sheet(slab: Slab, ground: Ground) -> bool:
    """Whether a slab is a part of the panel's own sheet: passed through a slot, or a loose middle that is set back."""
    return ground.parts.get(slab.panel) == slab.piece


def _join(id: str, side: Side, slabs: list[Slab], ground: Ground, slots: dict[str, tuple[Slot, ...]]) -> Joint:
    import shapely

    first = slabs[0]
    panel = first.panel
    areas = [_polygon(slab.outline, slab.holes) for slab in slabs]
    whole = shapely.union_all(areas)
    pads = [each for slab in slabs for each in _pads_under(slab, ground, side)]
    under = list(_under(slabs, ground, side, DRAPE_MM))
    if pads:
        touching, foam = shapely.union_all([_polygon(pad.outline) for pad in pads]), pads[0].top - pads[0].bottom
        under = [slab for pad in pads for slab in _under([pad], ground, side)] or under
        onto = _largest(touching, under, side)
    else:
        foam, onto = 0.0, _largest(whole, under, side)
        touching = _solid(whole.intersection(shapely.union_all([_polygon(slab.outline, slab.holes) for slab in under])))
    adhesive, chosen = _adhesive(id, first, whole, bool(pads), ground)
    broad = _breadth(touching)
    zone, why = _clear(touching, first, slots.get(onto, ()), ground)
    zone = zone if pads else _inset(zone, ADHESIVES[adhesive].inset)
    return _counted(
        Joint(
            id,
            first.piece,
            onto,
            ground.model,
            panel,
            side,
            tuple(slab.outline for slab in slabs),
            algebra.regions_of(zone, SPECK_MM2),
            adhesive,
            chosen,
            float(zone.area),
            broad,
            float(whole.area),
            why,
            level=min(abs(slab.bottom) + abs(slab.top) for slab in slabs),
            foam=foam,
        ),
        zone,
        ground.own.pad.mm,
    )


def _join_flap(panel: str, ground: Ground) -> Joint | None:
    """A flap that is stuck down on what it closes over: where it and the flaps folded before it lie on each other."""
    import shapely

    hinge = next(each for each in ground.tree.hinges if each.child == panel)
    flap = _turned_in(ground.tree, panel)
    others = [
        _turned_in(ground.tree, each.child)
        for each in ground.tree.hinges
        if each.order < hinge.order and each.parent == hinge.parent
    ]
    own = _polygon(ground.tree.panel(panel).outline)
    touching = _solid(flap.intersection(shapely.union_all(others))) if others else shapely.Polygon()
    back = _turned_in(ground.tree, panel, touching)
    adhesive = ground.own.adhesive_of(f"{panel}-flap")
    how: Adhesive = adhesive or ("wet" if ground.own.paper_glue == "spray" else ground.own.paper_glue)
    zone = _inset(back, ADHESIVES[how].inset)
    first = next((each.child for each in ground.tree.hinges if each.order < hinge.order), "")
    return _counted(
        Joint(
            f"{panel}-flap",
            ground.parts[panel],
            first,
            ground.model,
            panel,
            "inside",
            (ground.tree.panel(panel).outline,),
            algebra.regions_of(zone, SPECK_MM2),
            how,
            adhesive is not None,
            float(zone.area),
            _breadth(back),
            float(own.area),
            level=1000.0 + hinge.order,
        ),
        zone,
        ground.own.pad.mm,
    )


def _turned_in(tree: PanelTree, panel: str, area: Any = None) -> Any:
    """A panel's outline (or an area of it) mirrored at the hinge it hangs on, as it lies when that is closed."""
    import numpy as np
    import shapely

    hinge = next(each for each in tree.hinges if each.child == panel)
    area = _polygon(tree.panel(panel).outline) if area is None else area
    return shapely.transform(area, lambda places: np.array(mirrored_at(places.tolist(), hinge)))


def _under(slabs: Sequence[Slab], ground: Ground, side: Side, gap_mm: float = TOUCH_MM) -> Iterator[Slab]:
    """What lies under some slabs on their panel, with no more than a gap between: paper bends over a thin layer."""
    for other in ground.slabs:
        on_this_side = other.bottom > -TOUCH_MM if side == "outside" else other.bottom < TOUCH_MM
        if other.panel != slabs[0].panel or len(other.outline) < 3 or not on_this_side or other.piece in ground.loose:
            continue
        for slab in slabs:
            gap = slab.bottom - other.top if side == "outside" else other.bottom - slab.top
            if other is not slab and -TOUCH_MM < gap < gap_mm and other.piece != slab.piece:
                yield other
                break


def _pads_under(slab: Slab, ground: Ground, side: Side) -> list[Slab]:
    """The foam a slab lies on."""
    return [
        other
        for other in _under([slab], ground, side)
        if other.paper.startswith(FOAM) and _polygon(slab.outline).buffer(TOUCH_MM).covers(_polygon(other.outline))
    ]


def _largest(area: Any, under: Iterable[Slab], side: Side) -> str:
    """The piece of those under an area that most of it lies on; what lies nearer hides what lies deeper."""
    shares: dict[str, float] = {}
    for slab in sorted(under, key=lambda each: -each.top if side == "outside" else each.bottom):
        own = _polygon(slab.outline, slab.holes)
        shares[slab.piece] = shares.get(slab.piece, 0.0) + float(area.intersection(own).area)
        area = _solid(area.difference(own))
    return max(shares, key=lambda piece: shares[piece], default="")


def _adhesive(id: str, slab: Slab, whole: Any, on_foam: bool, ground: Ground) -> tuple[Adhesive, bool]:
    """What a joint is stuck by: as chosen for it, else by what is stuck."""
    chosen = ground.own.adhesive_of(slab.piece) or ground.own.adhesive_of(id)
    piece = ground.pieces.get(slab.piece)
    if chosen is not None:
        return chosen, True
    if on_foam:
        return "foam", False
    if piece is not None and piece.before:
        return "self", False
    left, top, right, bottom = whole.bounds
    if slab.paper.startswith(THING) or max(right - left, bottom - top) < SMALL_MM:
        return "dots", False
    return ground.own.paper_glue, False


def _clear(area: Any, slab: Slab, slots: Iterable[Slot], ground: Ground) -> tuple[Any, tuple[str, ...]]:
    """An area less what stays free of glue: what has to slide, slots and openings of what it lies on, folds."""
    import shapely

    why: dict[str, None] = {}
    for bare in ground.bare:
        if bare.panel == slab.panel and bare.piece in ("", slab.piece):
            kept = _polygon(bare.outline)
            if kept.intersects(area):
                area = _solid(area.difference(kept))
                why[bare.why] = None
    for slot in slots:
        line = shapely.LinearRing(slot.path) if slot.closed else shapely.LineString(slot.path)
        if shapely.dwithin(line, area, SLOT_MM):
            area = _solid(area.difference(grow(line.simplify(ROUGH_MM), SLOT_MM)))
            why[slot.name] = None
    for hinge in ground.tree.hinges:
        if slab.panel not in (hinge.parent, hinge.child):
            continue
        line = shapely.LineString([hinge.start, hinge.end])
        if not shapely.dwithin(line, area, FOLD_MM):
            continue
        kept = grow(line, FOLD_MM)
        if kept.intersection(area).area > SPECK_MM2:
            area = _solid(area.difference(kept))
            why["the fold"] = None
    return area, tuple(why)


def _polygon(ring: Points, holes: Iterable[Points] = ()) -> Any:
    """The area of a ring and its openings."""
    return _solid(algebra.polygon(ring, holes))


def _solid(area: Any) -> Any:
    """What of a geometry is area: two outlines that touch leave lines and points besides."""
    import shapely

    if area.geom_type in ("Polygon", "MultiPolygon"):
        return area
    parts = polygons_of(area)
    return shapely.union_all(parts) if parts else shapely.Polygon()


def _inset(area: Any, by: float) -> Any:
    """An area set in from its edge; by less where too little would be left of a narrow one."""
    if by == 0:
        return area
    rough = area.simplify(ROUGH_MM)
    for share in (1.0, 0.5, 0.25):
        inner = rough.buffer(-by * share, join_style="mitre")
        if inner.area > max(SPECK_MM2, ENOUGH * area.area):
            return inner
    return area


def _breadth(area: Any) -> float:
    """How broad an area is at its broadest place, mm: its largest circle's diameter."""
    import shapely

    parts = polygons_of(area, SPECK_MM2)
    if not parts:
        return 0.0
    largest = max(parts, key=lambda part: part.area)
    return 2 * float(shapely.maximum_inscribed_circle(largest, tolerance=0.05).length)


def _counted(joint: Joint, zone: Any, pad: float) -> Joint:
    """How much of its adhesive a joint takes."""
    parts = polygons_of(zone, SPECK_MM2)
    if joint.adhesive == "wet":
        return structs.replace(joint, grams=joint.area * WET_G_PER_M2 / 1e6)
    if joint.adhesive == "spray":
        return structs.replace(joint, grams=joint.area * SPRAY_G_PER_M2 / 1e6)
    if joint.adhesive == "tape":
        return structs.replace(joint, tape=sum(_tape_on(part) for part in parts))
    if joint.adhesive == "dots":
        return structs.replace(joint, dots=sum(max(1, math.ceil(part.area / DOT_MM**2 / 4)) for part in parts))
    if joint.adhesive == "foam":
        return structs.replace(joint, squares=tuple(place for part in parts for place in place_pads(part, pad)))
    return joint


def _tape_on(part: Any) -> float:
    """How much tape goes along the edges of a part, mm; along the middle of a narrow one."""
    inner = part.buffer(-TAPE_MM / 2, join_style="mitre")
    if inner.area > SPECK_MM2:
        return float(inner.length)
    box = part.minimum_rotated_rectangle
    return float(box.length) / 2 - min(TAPE_MM, float(box.length) / 4)


def place_pads(area: Any, pad: float) -> tuple[Point, ...]:
    """Where foam squares go in an area: in its corners first, then between them so that none of it is far from one;
    smaller ones, cut from squares, where a whole one does not go."""
    import numpy as np
    import shapely

    left, top, right, bottom = area.bounds
    for size in (pad, pad / 2, pad / 4):
        half, step = size / 2, max(size / 2, (right - left + bottom - top) / MOST_ACROSS)
        xs, ys = _places(left + half, right - half, step), _places(top + half, bottom - half, step)
        x, y = (each.ravel() for each in np.meshgrid(xs, ys))
        inside = shapely.covers(area.buffer(0.01), shapely.box(x - half, y - half, x + half, y + half))
        free = np.stack([x[inside], y[inside]], axis=1)
        if not len(free):
            continue
        found: list[int] = []
        far = np.full(len(free), np.inf)
        corners = ((left, top), (right, top), (right, bottom), (left, bottom))
        wanted = [int(np.hypot(*(free - corner).T).argmin()) for corner in corners]
        while wanted or far.max() > PAD_APART_MM / 2:
            chosen = wanted.pop(0) if wanted else int(far.argmax())
            if far[chosen] >= size:
                found.append(chosen)
                far = np.minimum(far, np.hypot(*(free - free[chosen]).T))
        return tuple((float(free[place][0]), float(free[place][1])) for place in found)
    middle = area.representative_point()
    return ((float(middle.x), float(middle.y)),)


def _places(low: float, high: float, step: float) -> Any:
    """Places from end to end, about a step apart; the middle where there is no room for two."""
    import numpy as np

    return np.linspace(low, high, 1 + math.ceil((high - low) / step)) if high > low else np.array([(low + high) / 2])
