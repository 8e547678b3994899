"""Dress's pictures: a face as it is seen with what is on it, and the small flat piece it lands on."""

from __future__ import annotations

import math

from dechirer.core.dress.addressed import stamp_place
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.mark import Mark
from dechirer.core.dress.spots import Spot
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Affine, Point, Points
from dechirer.core.shape.outline import Box, bounds, rectangle
from dechirer.drawing.display import Dimension, Display, Item, Label, Shape
from dechirer.drawing.forms import form_of_line
from dechirer.drawing.scenes.landed import draw_prints, dressed_piece
from dechirer.drawing.scenes.papers import draw_pattern

ROOM_PX = (30.0, 16.0, 106.0, 64.0)
SHORT_PX = 84.0
"""A gap shorter than this on the screen does not hold its own number."""


def make_face_scene(
    plan: Plan, spot_id: str, picked: str = "", lit: str = "", scale: float = 3.0, others: frozenset[str] = frozenset()
) -> Display:
    """A face in front of you as seen, with what is on it, the picked item's measures and the weak places.

    Args:
        picked: id of the item that is chosen; `lit` of the one pointed at.
        scale: px per mm it will be drawn at, for marks of a fixed size.
        others: ids of what is picked together with it.
    """
    spot = plan.dress.spot(spot_id)
    if spot is None:
        return Display((), Box(0, 0, 100, 100), ROOM_PX, "The card has no such face.")
    stock = plan.brief.paper(spot.paper).paper
    paper = stock.face(good=spot.good)
    items: list[Item] = [
        Shape((spot.outline, *spot.holes), fill=paper, form="edge", role="soft", on=paper, shadow=True),
        *draw_pattern(stock, (spot.outline, *spot.holes), good=spot.good),
    ]
    for piece_id, ring in spot.covers:
        piece = plan.construct.piece(piece_id)
        colour = plan.brief.paper(piece.paper).paper.colour if piece is not None else paper
        items.append(Shape((ring,), fill=colour, form="edge", role="soft", on=colour))
        box = bounds(ring)
        items.append(
            Label(
                ((box.left + box.right) / 2, box.bottom),
                piece.name if piece else piece_id,
                "small",
                "soft",
                colour,
                shift_px=(0.0, -10.0),
                yields=True,
            )
        )
    items += _draw_limits(plan, spot, paper)
    backers = {item.id: item.paper for item in plan.job.dress.items if item.made == "window" and item.paper}
    for mark in plan.dress.marks:
        if mark.spot == spot.id:
            backer = backers.get(mark.item)
            behind = plan.brief.paper(backer).paper.colour if backer else "sunken"
            items += draw_mark(mark, paper, behind, strong=mark.item in {picked, lit, *others})
    items += _draw_weak(plan, spot, paper, scale)
    dressed = plan.dress.item(picked)
    if dressed is not None and dressed.item.face == spot.id and not dressed.placed.drawn.is_empty:
        items += _measure(plan, dressed, spot, scale)
    box = _whole(plan, spot)
    names = ", ".join(each.item.name for each in plan.dress.on(spot.id)) or "nothing"
    details = tuple(
        (narrow.at, narrow.width)
        for weak in plan.dress.weak
        if weak.spot == spot.id and not weak.copy
        for narrow in (*weak.narrow, *weak.slim)
    )
    return Display(tuple(items), box, ROOM_PX, f"The {spot.title} as it is seen; on it: {names}.", scale, details)


def _whole(plan: Plan, spot: Spot) -> Box:
    """The face with the pieces that stand out past it, as far as a face's size at most."""
    face = bounds(spot.outline)
    left, top, right, bottom = face.left, face.top, face.right, face.bottom
    for dressed in plan.dress.on(spot.id):
        if dressed.item.made in ("piece", "stuck") and not dressed.placed.drawn.is_empty:
            own = dressed.placed.drawn.box()
            left, top = min(left, own[0]), min(top, own[1])
            right, bottom = max(right, own[2]), max(bottom, own[3])
    return Box(
        max(left, face.left - face.width),
        max(top, face.top - face.height),
        min(right, face.right + face.width),
        min(bottom, face.bottom + face.height),
    )


def _draw_limits(plan: Plan, spot: Spot, paper: str) -> list[Item]:
    """Folds, and the safe zone as fine dots."""
    box, safe = bounds(spot.outline), plan.job.dress.safe.mm
    items: list[Item] = []
    for a, b in spot.folds:
        items.append(Shape(((a, b),), closed=False, form="valley", role="fold", on=paper))
        upright = abs(a[0] - b[0]) < abs(a[1] - b[1])
        at = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
        inward = 1.0 if (at[0] if upright else at[1]) < (box.width if upright else box.height) / 2 else -1.0
        shift = (10.0 * inward, 0.0) if upright else (0.0, 10.0 * inward)
        items.append(
            Label(at, "fold", "small", "fold", paper, turn_deg=90.0 if upright else 0.0, shift_px=shift, yields=True)
        )
    if safe > 0 and len(spot.outline) <= 8 and box.width > 2 * safe and box.height > 2 * safe:
        inner = Box(box.left + safe, box.top + safe, box.right - safe, box.bottom - safe)
        ring = (
            (inner.left, inner.top),
            (inner.right, inner.top),
            (inner.right, inner.bottom),
            (inner.left, inner.bottom),
        )
        items.append(Shape((ring,), form="guide", role="soft", on=paper))
    kept = stamp_place(spot)
    if kept is not None:
        stamp = rectangle(kept.width, kept.height, at=(kept.left, kept.top))
        items.append(Shape((stamp,), form="guide", role="soft", on=paper))
        middle = ((kept.left + kept.right) / 2, (kept.top + kept.bottom) / 2)
        items.append(Label(middle, "kept for the stamp", "small", "soft", paper, yields=True))
    return items


def draw_mark(mark: Mark, paper: str, behind: str, *, strong: bool = False) -> list[Item]:
    """What an item leaves on its face; through an opening is seen what lies `behind`."""
    element = f"item:{mark.item}"
    weight = 1.7 if strong else 1.0
    items: list[Item] = []
    inked = mark.form in ("pen", "foil")
    role = mark.colour if inked else "ink"
    form = {"opening": "cut", "paper": "cut", "print": "", "score": "valley", "guide": "guide"}.get(
        mark.form, mark.form
    )
    for rings in mark.rings:
        fill = {"paper": mark.colour, "print": mark.colour, "opening": behind}.get(mark.form, "")
        outline = form or ("edge" if strong else "")
        items.append(
            Shape(
                rings,
                fill=fill,
                form=outline,
                role="accent" if strong and not inked else role,
                on=mark.colour if mark.form == "paper" else paper,
                element=element,
                shadow=mark.form == "paper",
                weight=weight,
                raster=mark.raster,
            )
        )
    if mark.lines:
        items.append(
            Shape(
                mark.lines,
                closed=False,
                form=form or "edge",
                role="accent" if strong and not inked else role,
                on=paper,
                element=element,
                weight=weight,
            )
        )
    return items


def _draw_weak(plan: Plan, spot: Spot, paper: str, scale: float) -> list[Item]:
    """Weak places as a heat: the narrower against what the paper holds, the hotter; a ring round the worst."""
    items: list[Item] = []
    for weak in plan.dress.weak:
        if weak.spot != spot.id or weak.copy:
            continue
        for number, narrow in enumerate((*weak.narrow, *weak.slim)):
            hot = narrow.width < 0.6 * weak.holds
            items.append(Shape((narrow.outline,), fill="stop" if hot else "look", on=paper))
            if number < 12:
                ring = _circle(narrow.at, max(7.0 / scale, narrow.width))
                items.append(Shape((ring,), form="edge", role="stop" if hot else "look", on=paper, weight=1.6))
        if weak.narrow:
            worst = weak.narrow[0]
            items.append(
                Label(
                    worst.at,
                    f"{worst.width:.2g} mm",
                    "small",
                    "stop",
                    paper,
                    anchor="start",
                    shift_px=(12.0, -10.0),
                    yields=True,
                )
            )
        kept = any(dressed.item.id == weak.item and dressed.item.islands == "keep" for dressed in plan.dress.items)
        role = "soft" if kept else "look"
        for at in weak.islands:
            items.append(Shape((_circle(at, 4.0 / scale),), fill=role, on=paper))
        if weak.islands:
            count = len(weak.islands)
            lost = "falls out" if count == 1 else f"{count} middles fall out"
            words = ("set back" if count == 1 else f"{count} middles set back") if kept else lost
            items.append(Label(weak.islands[0], words, "small", role, paper, shift_px=(0.0, 14.0), yields=True))
    return items


def _circle(centre: Point, radius: float) -> Points:
    return tuple(
        (centre[0] + radius * math.cos(math.tau * step / 24), centre[1] + radius * math.sin(math.tau * step / 24))
        for step in range(24)
    )


def _measure(plan: Plan, dressed: Dressed, spot: Spot, scale: float) -> list[Item]:
    """The picked item's size and its distances from the left and the top of its region, to type into."""
    units, item, placed = plan.job.units, dressed.item, dressed.placed
    left, top, right, bottom = placed.source
    base = f"dress.items.{item.id}"
    words = item.words
    sized = item.same_as is None and (words is None or words.fit in ("size", "arc"))
    turned = item.place.turn_deg % 180 != 0
    size_field = "" if not sized or turned else f"{base}.width"
    if words is not None and words.fit in ("band", "circle"):
        size_field = f"{base}.words.width"
    high_field = (
        f"{base}.words.height"
        if words is not None and words.fit == "band"
        else (f"{base}.height" if item.art is not None and not turned else "")
    )
    region = placed.region
    moves = item.of is None and not (words is not None and words.fit == "shape")
    # As on a drawing board: a chain of measures below the face, and one beside it, clear of what is on it.
    face = bounds(spot.outline)
    below = (face.bottom - bottom) * scale + 20.0
    beside = (face.right - right) * scale + 20.0
    # A short gap's number would stand on the next one: it goes into a second line.
    lower = below + (20.0 if (left - region[0]) * scale < SHORT_PX else 0.0)
    further = beside + (24.0 if (top - region[1]) * scale < SHORT_PX else 0.0)
    element = f"item:{item.id}"
    items: list[Item] = [
        Dimension(
            (left, bottom), (right, bottom), below, dressed.width.text(units), dressed.width.key, size_field, element
        ),
        Dimension(
            (right, bottom), (right, top), beside, dressed.height.text(units), dressed.height.key, high_field, element
        ),
    ]
    if left - region[0] > 0.3:
        items.append(
            Dimension(
                (region[0], bottom),
                (left, bottom),
                lower,
                dressed.left.text(units),
                dressed.left.key,
                f"{base}.place.left" if moves else "",
                element,
            )
        )
    if top - region[1] > 0.3:
        items.append(
            Dimension(
                (right, top),
                (right, region[1]),
                further,
                dressed.top.text(units),
                dressed.top.key,
                f"{base}.place.top" if moves else "",
                element,
            )
        )
    return items


def make_landing_scene(plan: Plan, spot_id: str, picked: str = "") -> Display:
    """The flat piece a face is a side of, outside up, with the face lit and which way it is turned there."""
    spot = plan.dress.spot(spot_id)
    piece = dressed_piece(plan, spot.piece) if spot is not None else None
    if spot is None or piece is None:
        return Display((), Box(0, 0, 100, 100), (8, 8, 8, 8), "")
    paper = plan.brief.paper(piece.paper).paper.colour
    fallen = tuple(path for line in piece.lines if line.role in ("hole", "window") for path in line.paths)
    items: list[Item] = [Shape((piece.outline, *fallen), fill=paper, on=paper, shadow=True, element=piece.id)]
    ring = spot.to_piece.all(spot.outline)
    items.append(Shape((ring,), form="edge", role="accent", on=paper, weight=1.6))
    for line in piece.lines:
        form = form_of_line(line.operation, line.role, line.sense)
        role = line.colour or ("fold" if line.role in ("fold", "tick") else "ink")
        strong = f"-{picked}-" in line.id and bool(picked)
        items.append(
            Shape(
                line.paths,
                closed=line.closed,
                form=form,
                role="accent" if strong else role,
                on=paper,
                weight=1.1 if strong else 0.7,
            )
        )
    items += draw_prints(plan, spot.piece, Affine(), paper)
    items += _arrow_up(spot, ring, paper)
    return Display(tuple(items), bounds(piece.outline), (10.0, 10.0, 10.0, 10.0), f"{piece.name}, outside up.")


def _arrow_up(spot: Spot, ring: Points, paper: str) -> list[Item]:
    """A letter F as it lies on the flat piece: the plainest sign of turned and mirrored."""
    box = bounds(spot.outline)
    size = 0.2 * min(box.width, box.height)
    x, y = box.left + 0.08 * box.width, box.bottom - 0.08 * box.height - size
    strokes: tuple[Points, ...] = (
        ((x, y + size), (x, y), (x + 0.6 * size, y)),
        ((x, y + 0.45 * size), (x + 0.45 * size, y + 0.45 * size)),
    )
    paths = tuple(spot.to_piece.all(stroke) for stroke in strokes)
    return [Shape(paths, closed=False, form="done", role="accent", on=paper)]


def describe_landing(plan: Plan, spot_id: str) -> str:
    """How a face lies on its flat piece, in words."""
    spot = plan.dress.spot(spot_id)
    if spot is None:
        return ""
    piece = dressed_piece(plan, spot.piece)
    name = piece.name if piece is not None else spot.piece
    map: Affine = spot.to_piece
    mirrored = map.is_mirrored
    turn = round(math.degrees(math.atan2(map.b, -map.a if mirrored else map.a))) % 360
    ways = [f"turned {turn}°"] if turn else []
    if mirrored:
        ways.append("mirrored, as it is the other side")
    return f"On {name} it lies {' and '.join(ways) if ways else 'upright'}; the F shows its way up."
