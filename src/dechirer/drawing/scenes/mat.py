"""Lay's and Run's picture: a mat with its sheet, what the machine reaches, the pieces and the tool's path."""

from __future__ import annotations

import math

from dechirer.core.card.panels import Side
from dechirer.core.card.placed import Placement
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.offcuts import find_offcut
from dechirer.core.length import format_length, format_size
from dechirer.core.plan import Plan
from dechirer.core.run.run import MatRun
from dechirer.core.shape.affine import Affine, Point
from dechirer.core.shape.outline import Box, rectangle
from dechirer.drawing.display import Arrow, Dimension, Display, Item, Label, Shape
from dechirer.drawing.forms import form_of_line
from dechirer.drawing.scenes.hatching import hatch
from dechirer.drawing.scenes.landed import draw_ink
from dechirer.drawing.scenes.papers import draw_pattern, shows_good

MAT_COLOUR = "#B9C9BE"
MARK = "#23262b"
WIDE_HATCH_MM, WORDS_HIGH_MM = 9.0, 28.0
LETTER_MM = 6.0
"""Room for a letter of a piece's name at the scale mats are usually drawn."""


def make_mat_scene(
    plan: Plan,
    layout: MatLayout,
    *,
    picked: str = "",
    moved: Placement | None = None,
    refused: bool = False,
    bare: bool = False,
    wordless: bool = False,
) -> Display:
    """A loaded mat.

    Args:
        picked: placement id to light up.
        moved: a placement that is being dragged, drawn in place of its own.
        refused: whether the dragged piece may not lie there.
        bare: leave out dimensions and labels outside the mat.
        wordless: leave out every word (for small pictures).
    """
    mat, units = layout.sheet.mat, plan.job.units
    items, fronts = _ground(plan, layout), _fronts(layout)
    for placed in sorted(layout.placements, key=lambda each: each.within):
        if moved is None or moved.id != placed.id:
            items += _draw_placement(plan, placed, lit=picked == placed.id, refused=False, front=fronts.get(placed.id))
    if moved is not None:  # on top of the others, so that it can be seen where it may not lie
        items += _draw_placement(plan, moved, lit=True, refused=refused)
    items += _name_slots(layout)
    lit = moved or next((placed for placed in layout.placements if placed.id == picked), None)
    if lit is not None and not bare and not layout.is_blank:
        items += _draw_handle(lit)
    if not bare:
        sheet, on = layout.sheet, layout.sheet.box
        if not sheet.slots:
            what = "blank" if layout.is_blank else "offcut" if sheet.offcut else "sheet"
            wide, high = format_length(sheet.width, units), format_length(sheet.height, units)
            items.append(Dimension((on.left, on.bottom), (on.right, on.bottom), 26.0, f"{what} {wide}"))
            items.append(Dimension((on.right, on.top), (on.right, on.bottom), -26.0, high))
            items += _measure_shift(sheet, units)
        items += _draw_offcut(plan, layout)
        middle = mat.width / 2
        items.append(Arrow((middle, 0.0), -90.0, shift_px=(0.0, -14.0)))
        first = "this edge goes in first" + ("" if sheet.slots else f": {sheet.first_edge}")
        items.append(Label((middle, 0.0), first, "small", "accent", shift_px=(0.0, -36.0)))
    if wordless:
        items = [item for item in items if not isinstance(item, Label)]
    box = Box(0.0, 0.0, mat.width, mat.height)
    room = (8.0, 8.0, 8.0, 8.0) if bare else (28.0, 50.0, 62.0, 48.0)
    pieces = ", ".join(placed.piece.name for placed in layout.placements)
    return Display(tuple(items), box, room, f"Mat {layout.number}, cut {layout.repeats} times: {pieces}.")


def make_run_scene(plan: Plan, mat: MatRun, step: int) -> Display:
    """The mat with the tool's path drawn up to and including a step (0: nothing done yet)."""
    layout, under = mat.layout, mat.layout.sheet.mat
    paper = _colour_up(plan, layout)
    items, fronts = _ground(plan, layout), _fronts(layout)
    for placed in sorted(layout.placements, key=lambda each: each.within):
        items += _draw_placement(plan, placed, lit=False, refused=False, front=fronts.get(placed.id))
    for index, done in enumerate(mat.steps[:step]):
        last = index == step - 1
        if done.come_from != done.path[0]:
            items.append(
                Shape(
                    ((done.come_from, done.path[0]),),
                    closed=False,
                    form="travel",
                    role="look",
                    on=paper,
                    weight=1.6 if last else 1.0,
                )
            )
        items.append(
            Shape((done.path,), closed=False, form="done", role="accent", on=paper, weight=1.5 if last else 0.8)
        )
    if step:
        tool = mat.steps[step - 1].path[-1]
        items.append(Shape((_ring(tool, 3.0),), fill="accent", form="edge", role="surface", on=paper))
    middle = under.width / 2
    items.append(Arrow((middle, 0.0), -90.0, shift_px=(0.0, -14.0)))
    items.append(Label((middle, 0.0), "this edge goes in first", "small", "accent", shift_px=(0.0, -36.0)))
    box = Box(0.0, 0.0, under.width, under.height)
    return Display(tuple(items), box, (24.0, 50.0, 24.0, 20.0), f"Tool path of mat {layout.number}, step {step}.")


def _ground(plan: Plan, layout: MatLayout) -> list[Item]:
    mat = layout.sheet.mat
    stock, good = plan.brief.paper(layout.paper).paper, is_good_up(layout)
    paper = stock.face(good=good)
    room, on = layout.sheet.room, layout.sheet.box
    whole = rectangle(on.width, on.height, at=(on.left, on.top))
    items: list[Item] = [
        Shape(
            (rectangle(mat.width, mat.height),),
            fill=MAT_COLOUR,
            form="hair",
            shadow=True,
            on=MAT_COLOUR,
        ),
    ]
    if layout.sheet.slots:
        return [*items, *_draw_slots(layout)]
    items += [Shape((whole,), fill=paper, form="hair", on=paper), *draw_pattern(stock, (whole,), good=good)]
    if room.width > 0 and room.height > 0:
        ring = rectangle(room.width, room.height, at=(room.left, room.top))
        items.append(Shape((ring,), form="reach", role="soft", on=paper))
    marks = layout.sheet.registration
    if marks is not None:
        items += [Shape((_ring(at, marks.outer), _ring(at, marks.inner)), fill=MARK, on=paper) for at in marks.places]
        items.append(Shape((_ring(marks.places[0], marks.dot),), fill=MARK, on=paper))
    return items


TURN_HANDLE = "turn-handle"
"""The element of the handle by which a picked piece is turned."""
HANDLE_MM, HANDLE_OUT_MM = 3.4, 9.0


def handle_of(placed: Placement) -> Point:
    """Where the handle of a placed piece is: above its box, in the middle; inside it where there is no room."""
    x, y = placed.box.middle[0], placed.box.top - HANDLE_OUT_MM
    return x, y if y > HANDLE_MM else placed.box.top + HANDLE_OUT_MM


def _draw_handle(placed: Placement) -> list[Item]:
    at = handle_of(placed)
    return [
        Shape((((at[0], at[1]), (at[0], placed.box.top)),), closed=False, form="hair", role="accent"),
        Shape((_ring(at, HANDLE_MM),), fill="surface", form="edge", role="accent", element=TURN_HANDLE, weight=1.6),
    ]


def _draw_slots(layout: MatLayout) -> list[Item]:
    """The slots of a card mat with their numbers: the slit the back goes under, and the upper line it is pushed to."""
    items: list[Item] = []
    for slot in layout.sheet.mat.slots:
        ring = rectangle(slot.width, slot.height, at=(slot.left, slot.top))
        slit = ((slot.left, slot.top - 4.0), (slot.left, slot.bottom + 4.0))
        line = ((slot.left - 4.0, slot.top), (slot.right, slot.top))
        items += [
            Shape((ring,), form="guide", role="ink", on=MAT_COLOUR),
            Shape((slit,), closed=False, form="edge", role="ink", on=MAT_COLOUR, weight=2.4),
            Shape((line,), closed=False, form="edge", role="ink", on=MAT_COLOUR, weight=1.0),
        ]
    return items


def _name_slots(layout: MatLayout) -> list[Item]:
    """The numbers of the slots, over what lies in them."""
    slots = layout.sheet.mat.slots if layout.sheet.slots else ()
    return [
        Label((slot.right, slot.top), f"slot {number}", "small", "ink", MAT_COLOUR, "end", shift_px=(-6.0, 14.0))
        for number, slot in enumerate(slots, start=1)
    ]


def _measure_shift(sheet: LoadedSheet, units: str) -> list[Item]:
    """How far a sheet that lies further in is from the mat's edges."""
    if max(sheet.left, sheet.top) <= 0:
        return []
    across, down = format_length(sheet.left, units), format_length(sheet.top, units)
    words = f"sheet {across} from the mat’s left, {down} from its top"
    return [Label((sheet.left, sheet.box.bottom), words, "small", "accent", MAT_COLOUR, "start", shift_px=(0.0, 12.0))]


def _draw_offcut(plan: Plan, layout: MatLayout) -> list[Item]:
    """What is left of the sheet and can be used again, hatched, with its size."""
    left = None if layout.is_blank else find_offcut(layout, plan.job.lay.spacing.mm)
    if left is None:
        return []
    paper, units = _colour_up(plan, layout), plan.job.units
    ring = rectangle(left.width, left.height, at=(left.left, left.top))
    middle = ((left.left + left.right) / 2, (left.top + left.bottom) / 2)
    words = f"left over {format_size(left.width, left.height, units)}"
    upright = left.height > 1.6 * left.width
    long, high = min(6.0 * len(words), 0.9 * max(left.width, left.height)), WORDS_HIGH_MM
    wide, high = (high, long) if upright else (long, high)
    clear = rectangle(wide, high, at=(middle[0] - wide / 2, middle[1] - high / 2))
    strokes = tuple(hatch((ring, clear), WIDE_HATCH_MM))
    return [
        Shape((ring,), form="guide", role="soft", on=paper),
        Shape(strokes, closed=False, form="edge", role="soft", on=paper, weight=0.4),
        Label(middle, words, "small", "ink", paper, turn_deg=90.0 if upright else 0.0),
    ]


def is_good_up(layout: MatLayout) -> bool:
    """Whether the good side of its paper lies up on a mat."""
    side: Side = "outside" if layout.face == "outside-up" else "inside"
    return all(shows_good(placed.piece, side) for placed in layout.placements)


def _colour_up(plan: Plan, layout: MatLayout) -> str:
    return plan.brief.paper(layout.paper).paper.face(good=is_good_up(layout))


def _fronts(layout: MatLayout) -> dict[str, Box]:
    """Where the fronts lie that are loaded in slots, by placement: their backs are under the mat."""
    return (
        {
            placed.id: front
            for placed, front in zip(layout.placements, layout.sheet.slots, strict=bool(layout.sheet.slots))
        }
        if layout.sheet.slots
        else {}
    )


def _draw_placement(plan: Plan, placed: Placement, *, lit: bool, refused: bool, front: Box | None = None) -> list[Item]:
    stock = plan.brief.paper(placed.piece.paper).paper
    good = shows_good(placed.piece, "outside" if placed.piece.face == "outside-up" else "inside")
    paper = stock.face(good=good)
    fill = "stop-wash" if refused else "accent-wash" if lit else paper
    shown = placed.outline if front is None else rectangle(front.width, front.height, at=(front.left, front.top))
    items: list[Item] = [Shape((shown,), fill=fill, on=paper, element=placed.id, shadow=True)]
    if fill == paper:
        items += draw_pattern(stock, (shown,), good=good)
        items += draw_ink(placed.prints(), Affine(), paper)
    for line in placed.lines():
        if front is not None and line.role in ("outline", "fold", "tick"):
            continue
        role = "stop" if refused else line.colour or ("fold" if line.role in ("fold", "tick") else "ink")
        form = form_of_line(line.operation, line.role, line.sense)
        items.append(Shape(line.paths, closed=line.closed, form=form, role=role, on=paper))
    if placed.piece.blank and front is None:  # its folds are there already, and tell which way it lies
        for mark in placed.piece.folds:
            ends = placed.to_sheet.all((mark.start, mark.end))
            items.append(Shape((ends,), closed=False, form="guide", role="fold", on=paper))
    items.append(_name_placement(placed, paper, front or placed.box))
    if placed.pinned:
        items.append(
            Label(
                (placed.box.right, placed.box.top),
                "pinned",
                "small",
                "accent",
                paper,
                anchor="end",
                shift_px=(-8.0, 14.0),
            )
        )
    return items


def _name_placement(placed: Placement, paper: str, box: Box) -> Label:
    """The piece's letter and name, off its folds and what is on it; the letter alone where the name would run over."""
    piece = placed.piece
    points = [
        point
        for line in placed.lines()
        if line.role in ("fold", "art", "hole", "peel")
        for path in line.paths
        for point in path[:: max(1, len(path) // 8)]
    ]
    x = _clear_of([point[0] for point in points], box.left, box.width)
    y = _clear_of([point[1] for point in points], box.top, box.height)
    along = box.height if placed.turned else box.width
    name = f"{piece.letter} {piece.name}"
    text = name if len(name) * LETTER_MM < along and not piece.prints else piece.letter
    return Label((x, y), text, "strong", "ink", paper, turn_deg=90.0 if placed.turned else 0.0)


def _clear_of(folds: list[float], start: float, length: float) -> float:
    """A place along a side that keeps away from the folds; off the ends, where round pieces are not."""
    places = [start + share * length for share in (0.5, 0.27, 0.73)]
    crossing = [fold for fold in folds if start + 0.02 * length < fold < start + 0.98 * length]
    return max(places, key=lambda place: round(min((abs(place - fold) for fold in crossing), default=1.0), 3))


def _ring(centre: tuple[float, float], radius: float) -> tuple[tuple[float, float], ...]:
    return tuple(
        (centre[0] + radius * math.cos(math.tau * step / 20), centre[1] + radius * math.sin(math.tau * step / 20))
        for step in range(20)
    )
