"""Checks of places: off the face, across a fold, in a glue zone, hidden, outside the safe zone, on the wrong side."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from msgspec import structs

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import AT_HAND, FACE, Item
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import place_exactly, place_in_middle
from dechirer.core.dress.seen import DressSeen, path_of
from dechirer.core.dress.spots import Spot
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import fine_length, format_length
from dechirer.core.memory import until_forgotten
from dechirer.core.shape.affine import Points
from dechirer.core.shape.algebra import polygon
from dechirer.core.shape.outline import bounds, is_rectangle

SLACK_MM = 0.02
HIDDEN_SHARE = 0.03
ACROSS_MM = 0.5
"""What passes a fold over this length is across it; less is a corner where the fold ends."""
FIT_IN = "Fit it into the safe zone"
CLEAR_MM = 2.0
"""How far from a tab or an opening something is put that is moved off it."""
CUT_OFF = "It is cut off, or cuts the card open."


def ink_of(dressed: Dressed, roles: tuple[str, ...] = ()) -> Any:
    """All that is drawn of an item as one geometry, or what of it has one of some roles; None for nothing."""
    import shapely

    parts = [part for part in dressed.placed.drawn.parts if not roles or part.role in roles]
    shapes = [shape for part in parts for shape in (*part.areas, *part.lines, *part.folds)]
    return shapely.geometrycollections(shapes) if shapes else None


def ink_within(ink: Any, area: Any) -> Any:
    """What of some ink lies within an area, part by part: GEOS does not overlay areas and lines at one time."""
    import shapely

    one, other = shapely.bounds([ink, area])
    if one[0] > other[2] or other[0] > one[2] or one[1] > other[3] or other[1] > one[3]:
        return shapely.geometrycollections([])
    return shapely.geometrycollections(shapely.intersection(shapely.get_parts(ink), area))


def _margin(outline: Points, ink: Any) -> float | None:
    """How far some ink stays from the nearest side of a rectangle, below zero when it reaches past it; None for another
    outline."""
    if not is_rectangle(outline):
        return None
    box, (left, top, right, bottom) = bounds(outline), ink.bounds
    return float(min(left - box.left, top - box.top, box.right - right, box.bottom - bottom))


@until_forgotten(64)
def _face_of(outline: Points) -> tuple[Any, Any]:
    """A face as a polygon, and a hair's breadth larger; the same for every copy."""
    face = polygon(outline)
    return face, face.buffer(SLACK_MM)


def _whole(dressed: Dressed) -> Any:
    """Its areas as one, lines with a hair's width."""
    import shapely

    return shapely.union_all([*dressed.placed.drawn.areas, *(line.buffer(0.05) for line in dressed.placed.drawn.lines)])


def fits_face(dressed: Dressed, factor: float, spot: Spot | None = None) -> bool:
    """Tell whether an item, made larger by a factor, is no larger than its face, or than another one."""
    face = spot or dressed.spot
    if face is None:
        return False
    left, top, right, bottom = _whole(dressed).bounds
    return bool((right - left) * factor <= face.width and (bottom - top) * factor <= face.height)


def as_guide(item: Item) -> Mend:
    """It stays where it is, and nothing is made of it."""
    return Mend("Keep it as a guide only", (Change(path_of(item, "made"), "guide"),))


def move_beside(dressed: Dressed, moving: Any, off: Any, clear: Iterable[Any], what: str) -> Iterator[Mend]:
    """The item put above, below or beside something it lies on, where it goes on its face, the nearest first.

    Args:
        moving: what of it is looked at, as a geometry; `off` what it is moved off.
        clear: what it may not come to lie on.
        what: how that is called.
    """
    import shapely

    item, spot = dressed.item, dressed.spot
    if spot is None or item.of is not None:
        return
    own, gap, face, others = moving.bounds, off.bounds, polygon(spot.outline), list(clear)
    moves = {
        "above": (0.0, gap[1] - CLEAR_MM - own[3]),
        "below": (0.0, gap[3] + CLEAR_MM - own[1]),
        "to the left of": (gap[0] - CLEAR_MM - own[2], 0.0),
        "to the right of": (gap[2] + CLEAR_MM - own[0], 0.0),
    }
    region, start = dressed.placed.region, dressed.placed.start.box()
    for words, (dx, dy) in sorted(moves.items(), key=lambda each: abs(each[1][0]) + abs(each[1][1])):
        moved = shapely.transform(moving, lambda points, by=(dx, dy): points + by)
        if face.covers(moved) and not any(shapely.intersects(moved, other) for other in others):
            place = place_exactly(item, start[0] + dx - region[0], start[1] + dy - region[1])
            yield Mend(f"Put it {words} {what}", (Change(path_of(item, "place"), place),))


def bring_in(seen: DressSeen, dressed: Dressed) -> tuple[Mend, ...]:
    """Ways to bring an item back on its face: to the middle where it fits, or fitted into the safe zone. What is made
    of another item goes with that one, or becomes a guide."""
    item, units = dressed.item, seen.units
    nought = fine_length(0, units)
    place = structs.replace(item.place, across="middle", down="middle", x=nought, y=nought)
    mends = []
    left, top, right, bottom = dressed.placed.drawn.box()
    spot = dressed.spot
    assert spot is not None
    if right - left <= spot.width and bottom - top <= spot.height and place != item.place and item.of is None:
        mends.append(Mend("Put it in the middle", (Change(path_of(item, "place"), place),)))
    if item.of is None and not (item.words is not None and item.words.fit != "size"):
        inside = structs.replace(place, within="safe")
        mends.append(
            Mend(
                FIT_IN,
                (
                    Change(path_of(item, "place"), inside),
                    Change(path_of(item, "fit_in"), fine_length(0, units)),
                    Change(path_of(item, "width"), None),
                    Change(path_of(item, "height"), None),
                ),
            )
        )
    if item.of is not None:
        root = item
        while root.of is not None and root.of != FACE:
            root = next(each for each in seen.dress.items if each.id == root.of)
        if root.of is None:
            mends.append(Mend(f"Put {root.name} in the middle", place_in_middle(root)))
        mends.append(as_guide(item))
    return tuple(mends)


@CHECKS.add("dress.across-fold", "dress.off-face", "dress.stands-proud", of=make_dress)
def find_off_face(seen: DressSeen) -> Iterator[Finding]:
    """Something that reaches past its face: over its edge or across a fold."""
    import shapely

    for dressed in seen.own_of_each():
        item, spot, ink = dressed.item, dressed.spot, ink_of(dressed)
        if spot is None or ink is None or item.made in ("guide", "print"):
            continue  # printing past the edge is bleed, which Press reasons
        margin = _margin(spot.outline, ink)
        if margin is not None and margin >= -SLACK_MM:
            continue
        face, grown = _face_of(spot.outline)
        if shapely.covers(grown, ink):
            continue
        whole = _whole(dressed)
        out = shapely.difference(whole, grown)
        if out.area < 0.01:
            continue
        deep = float(shapely.distance(shapely.points(shapely.get_coordinates(out)), face).max())
        if shapely.area(shapely.intersection(whole, face)) < 0.01:
            code, title = "dress.off-face", f"{item.name} lies beside its face"
        elif _is_across(spot, out):
            code, title = "dress.across-fold", f"{item.name} reaches across a fold"
        elif item.made in ("piece", "stuck"):
            yield _stands_proud(seen, dressed, deep)
            continue
        else:
            code, title = "dress.off-face", f"{item.name} reaches past the edge"
        yield Finding(
            code,
            "stop",
            title,
            f"It reaches {format_length(deep, seen.units)} past the {spot.title}.",
            "The fold tears or the figure is cut off." if code == "dress.across-fold" else CUT_OFF,
            item.id,
            bring_in(seen, dressed),
        )


def _is_across(spot: Spot, out: Any) -> bool:
    """Whether what lies past a face lies past it along a fold, and not only over an edge that meets one."""
    import shapely

    near = out.buffer(2 * SLACK_MM)
    return any(shapely.length(shapely.intersection(shapely.LineString(fold), near)) > ACROSS_MM for fold in spot.folds)


def _stands_proud(seen: DressSeen, dressed: Dressed, deep: float) -> Finding:
    assert dressed.spot is not None
    return Finding(
        "dress.stands-proud",
        "note",
        f"{dressed.item.name} stands proud of the {dressed.spot.title}",
        f"It is glued on and reaches {format_length(deep, seen.units)} past the edge.",
        "The closed card is larger by that, and so is its envelope.",
        dressed.item.id,
        bring_in(seen, dressed),
    )


@CHECKS.add("dress.outside-safe", of=make_dress)
def find_near_edge(seen: DressSeen) -> Iterator[Finding]:
    """Cuts and words that come nearer to an edge or fold than the safe zone."""
    import shapely

    safe = seen.dress.safe.mm
    for dressed in seen.own_of_each():
        item, spot, ink = dressed.item, dressed.spot, ink_of(dressed)
        if spot is None or ink is None or item.made in ("guide", "print", "piece", *AT_HAND):
            continue
        margin = _margin(spot.outline, ink)
        if margin is not None and margin >= safe - SLACK_MM:
            continue
        face, grown = _face_of(spot.outline)
        if not shapely.covers(grown, ink):
            continue
        near = float(shapely.distance(face.exterior, ink))
        if near >= safe - SLACK_MM:
            continue
        what = "edge"
        if spot.folds:
            fold = min(float(shapely.distance(shapely.LineString(fold), ink)) for fold in spot.folds)
            what = "fold" if fold <= near + SLACK_MM else "edge"
        yield Finding(
            "dress.outside-safe",
            "look",
            f"{item.name} comes near the {what}",
            f"It is {near:.1f} mm from it; the safe zone is {safe:g} mm.",
            "A small slip of the sheet spoils the card.",
            item.id,
            (
                *bring_in(seen, dressed)[-1:],
                Mend(
                    f"A safe zone of {max(near, 0):.1f} mm", (Change("dress.safe", fine_length(max(near, 0.0), "mm")),)
                ),
            ),
        )


@CHECKS.add("dress.in-glue", "dress.covered", of=make_dress)
def find_covered(seen: DressSeen) -> Iterator[Finding]:
    """Something under a glue tab, or under another piece on the same face."""
    import shapely

    base = set(seen.card.made.parts.values())
    for dressed in seen.own_of_each():
        item, spot, ink = dressed.item, dressed.spot, ink_of(dressed)
        if spot is None or ink is None or item.made == "guide" or not spot.covers:
            continue
        whole = _whole(dressed)
        for piece_id, ring in spot.covers:
            shared = float(shapely.area(shapely.intersection(whole, polygon(ring))))
            if shared < max(0.05, HIDDEN_SHARE * float(whole.area)):
                continue
            piece = seen.card.piece(piece_id)
            name = piece.name if piece is not None else piece_id
            if piece_id in base:
                yield Finding(
                    "dress.in-glue",
                    "stop",
                    f"{item.name} lies in a glue zone",
                    f"The {name} is glued there.",
                    "Glue comes through the cut, and the join does not hold.",
                    item.id,
                    _out_of_glue(seen, dressed, polygon(ring)),
                )
            else:
                faces = [
                    each.id for each in seen.plan.spots if each.piece == piece_id and fits_face(dressed, 1.0, each)
                ]
                yield Finding(
                    "dress.covered",
                    "look",
                    f"{item.name} lies under the {name}",
                    f"{100 * shared / max(whole.area, 1e-9):.0f} % of it is covered.",
                    "It is not seen.",
                    item.id,
                    tuple(Mend(f"Put it on the {name}", (Change(path_of(item, "face"), face),)) for face in faces[:1]),
                )
            break


def _out_of_glue(seen: DressSeen, dressed: Dressed, tab: Any) -> tuple[Mend, ...]:
    """Those of the mends that bring it in that leave the tab free, and a way beside the tab."""
    import shapely

    spot, item = dressed.spot, dressed.item
    assert spot is not None
    mends = [mend for mend in bring_in(seen, dressed) if mend.label != FIT_IN]
    whole, face = _whole(dressed), polygon(spot.outline)
    left, _, right, _ = whole.bounds
    for dx, words in ((tab.bounds[0] - CLEAR_MM - right, "left"), (tab.bounds[2] + CLEAR_MM - left, "right")):
        moved = shapely.transform(whole, lambda points, by=(dx, 0.0): points + by)
        if item.of is None and face.covers(moved) and not shapely.intersects(moved, tab):
            start, region = dressed.placed.start.box(), dressed.placed.region
            place = place_exactly(item, start[0] + dx - region[0], start[1] - region[1])
            mends.append(Mend(f"Put it to the {words} of it", (Change(path_of(item, "place"), place),)))
    return tuple(mends)


@CHECKS.add("dress.hidden", of=make_dress)
def find_hidden(seen: DressSeen) -> Iterator[Finding]:
    """Something that stands behind another panel when the card is closed."""
    import shapely

    for dressed in seen.own_of_each():
        item, spot, ink = dressed.item, dressed.spot, ink_of(dressed)
        if spot is None or ink is None or item.made == "guide" or spot.to_card is None or "/" in spot.id:
            continue
        sight, face = seen.region(spot, "visible"), seen.region(spot, "panel")
        if sight.area > face.area - 0.5:
            continue
        whole = _whole(dressed)
        hidden = 1.0 - float(shapely.area(shapely.intersection(whole, sight.buffer(SLACK_MM)))) / max(whole.area, 1e-9)
        if hidden < HIDDEN_SHARE:
            continue
        nought = fine_length(0, seen.units)
        place = structs.replace(item.place, within="visible", across="middle", down="middle", x=nought, y=nought)
        left, top, right, bottom = sight.bounds or (0.0, 0.0, 0.0, 0.0)
        room = right - left >= whole.bounds[2] - whole.bounds[0] and bottom - top >= whole.bounds[3] - whole.bounds[1]
        fits = item.place.within != "visible" and item.of is None and room
        yield Finding(
            "dress.hidden",
            "look",
            f"{item.name} is partly hidden",
            f"{100 * hidden:.0f} % of it stands behind what is in front when the card is closed.",
            "It cannot be read.",
            item.id,
            (
                Mend("Place it where it is seen", (Change(path_of(item, "place"), place),)),
                Mend(
                    "Fit it into what is seen",
                    (Change(path_of(item, "place"), place), Change(path_of(item, "fit_in"), fine_length(3, "mm"))),
                ),
            )
            if fits
            else (as_guide(item),),
        )
