"""Build's picture of the flat pieces, all at one scale, with every dimension that matters."""

from __future__ import annotations

from dechirer.core.build.piece import FoldMark, Measure, Piece, fold_of
from dechirer.core.length import format_length, format_size
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Affine, translate
from dechirer.core.shape.outline import Box, bounds
from dechirer.drawing.display import Dimension, Display, Item, Label, Shape
from dechirer.drawing.forms import form_of_line

ROOM_PX = (66.0, 44.0, 30.0, 44.0)
BELOW_PX, BESIDE_PX = 78.0, 96.0
"""Room between pieces one above the other and side by side: for the dimensions of both."""
MOST_FOLDS_MEASURED = 2
"""Of many folds the first two are measured; the others follow in turn."""
REVEAL_PX = 80.0
"""Room beside the base for the liner's reveal, which is drawn where it is: too narrow to hold its own number."""


def make_flat_scene(plan: Plan, width_px: float, height_px: float, picked: str = "") -> Display:
    """The flat pieces outside up, beside or below each other, whichever is drawn larger.

    Args:
        width_px, height_px: the space there is; dimensions keep their size, so the room between pieces depends on it.
        picked: element id to light up.
    """
    pieces = plan.build.pieces
    places, scale, room = _arrange(pieces, width_px, height_px)
    items: list[Item] = []
    for piece, move in zip(pieces, places, strict=True):
        items += _draw_piece(plan, piece, move, picked, scale)
    corners = [move(point) for piece, move in zip(pieces, places, strict=True) for point in piece.outline]
    sizes = "; ".join(
        f"{piece.name} {format_size(piece.width.value, piece.height.value, plan.job.units)}" for piece in pieces
    )
    return Display(tuple(items), bounds(corners), room, f"Flat pieces: {sizes}.")


def _arrange(
    pieces: tuple[Piece, ...], width_px: float, height_px: float
) -> tuple[list[Affine], float, tuple[float, float, float, float]]:
    """Offsets of the pieces in mm, the scale in px per mm they are meant for, and the room round them in px."""
    boxes = [bounds(piece.outline) for piece in pieces]
    left, top, right, bottom = ROOM_PX
    extra = REVEAL_PX if any(piece.measures for piece in pieces) else 0.0
    if any(mark.start[1] == mark.end[1] for piece in pieces for mark in piece.folds):
        extra = max(extra, 56.0)  # a lying fold is measured at the right
    below = BELOW_PX
    if any(len(piece.folds) > 1 for piece in pieces):
        below, bottom = below + 22.0, bottom + 22.0
    right += extra
    wide, high = max(60.0, width_px - left - right), max(60.0, height_px - top - bottom)
    gaps = len(boxes) - 1
    beside = BESIDE_PX + extra
    row = min(
        max(10.0, wide - gaps * beside) / sum(box.width for box in boxes), high / max(box.height for box in boxes)
    )
    column = min(
        wide / max(box.width for box in boxes), max(10.0, high - gaps * below) / sum(box.height for box in boxes)
    )
    scale = max(row, column)
    places, x, y = [], 0.0, 0.0
    for box in boxes:
        places.append(translate(x - box.left, y - box.top))
        if row > column:
            x += box.width + beside / scale
        else:
            y += box.height + below / scale
    return places, scale, (left, top, right, bottom)


def _draw_piece(plan: Plan, piece: Piece, move: Affine, picked: str, scale: float) -> list[Item]:
    units = plan.job.units
    paper = plan.brief.paper(piece.paper).paper
    outline = move.all(piece.outline)
    box = bounds(outline)
    items: list[Item] = [Shape((outline,), fill=paper.colour, on=paper.colour, element=piece.id, shadow=True)]
    for panel in piece.tree.panels:
        element = f"{piece.id}/{panel.id}"
        ring = move.all(panel.outline)
        lit = picked == element
        items.append(Shape((ring,), fill="accent-wash" if lit else paper.colour, on=paper.colour, element=element))
        middle = bounds(ring)
        # In the middle, but clear of the words in the panel's corner.
        clear = min(max(middle.height / 2, 72 / scale), middle.height - 12 / scale)
        centre = ((middle.left + middle.right) / 2, middle.top + clear)
        items.append(Label(centre, panel.name, "body", "soft", paper.colour))
    for mark in piece.folds:
        if mark.kind == "unmarked":
            items.append(Shape((move.all((mark.start, mark.end)),), closed=False, form="guide", on=paper.colour))
        if mark in piece.folds[:MOST_FOLDS_MEASURED]:
            items.append(_fold_dimension(piece, mark, move, units))
        items += _fold_settings(plan, piece, mark, move, paper.colour)
    for line in piece.lines:
        paths = tuple(move.all(path) for path in line.paths)
        form = form_of_line(line.operation, line.role, line.sense)
        items.append(
            Shape(paths, closed=line.closed, form=form, role="fold" if line.role in ("fold", "tick") else "ink",
                  on=paper.colour, element=line.id, weight=1.6 if picked == line.id else 1.0)
        )  # fmt: skip
    items.append(
        Dimension((box.right, box.top), (box.left, box.top), 24.0, piece.width.text(units), piece.width.key,
                  _typed(plan, piece.width.key), piece.id)
    )  # fmt: skip
    items.append(
        Dimension((box.left, box.bottom), (box.left, box.top), -24.0, piece.height.text(units), piece.height.key,
                  _typed(plan, piece.height.key), piece.id)
    )  # fmt: skip
    for measure in piece.measures:
        items += _draw_measure(measure, piece, move, paper.colour, units)
    return items + _name_piece(plan, piece, box, scale)


def _name_piece(plan: Plan, piece: Piece, box: Box, scale: float) -> list[Item]:
    """The piece's letter, name and count, its paper and weight, in its first panel as far as they fit there."""
    facts = plan.brief.paper(piece.paper)
    paper = facts.paper
    grams = f" ({facts.grammage.text()})" if "lb" in paper.weight and facts.grammage.value else ""
    room = bounds(piece.tree.panels[0].outline).width * scale - 16
    corner = (box.left, box.top)
    lines = [Label(corner, f"{piece.letter} {piece.name} × {piece.count}", "strong", "ink", paper.colour, "start",
                   piece.id, shift_px=(11.0, 17.0))]  # fmt: skip
    for words in (paper.name, paper.weight + grams if 6.2 * len(paper.weight + grams) < room else paper.weight):
        if 6.2 * len(words) < room:
            shift = (11.0, 17.0 + 17.0 * len(lines))
            figure = facts.grammage.key if words.startswith(paper.weight) else ""
            lines.append(Label(corner, words, "small", "soft", paper.colour, "start", shift_px=shift, figure=figure))
    return list(lines)


def _fold_dimension(piece: Piece, mark: FoldMark, move: Affine, units: str) -> Dimension:
    """From the piece's edge to its fold: below an upright fold, right of a lying one."""
    box = bounds(move.all(piece.outline))
    (x, y), _ = move.all((mark.start, mark.end))
    text = format_length(mark.at.value, units)
    shift = 22.0 + 22.0 * piece.folds.index(mark)
    if abs(mark.start[0] - mark.end[0]) < abs(mark.start[1] - mark.end[1]):
        return Dimension((box.left, box.bottom), (x, box.bottom), shift, text, mark.at.key, "", piece.id)
    return Dimension((box.right, box.top), (box.right, y), -shift, text, mark.at.key, "", piece.id)


def _fold_settings(plan: Plan, piece: Piece, mark: FoldMark, move: Affine, paper: str) -> list[Item]:
    """Where the fold line ends, and dash and land of a perforation, to type into: too small to be drawn as dimensions,
    so they stand as words at the end of the fold, in the second panel."""
    fold, path = fold_of(plan.job, piece), piece.fold_field
    if fold is None or mark.kind == "unmarked" or mark is not piece.folds[0]:
        return []  # all folds of a piece are marked alike, so the words stand once
    upright = abs(mark.start[0] - mark.end[0]) < abs(mark.start[1] - mark.end[1])
    at = move(mark.end) if upright else move(mark.start)
    lines = [("ends", f"ends {fold.ends} short")]
    if fold.kind == "perforate":
        lines += [("dash", f"dash {fold.dash}"), ("land", f"land {fold.land}")]
    items: list[Item] = []
    for number, (name, words) in enumerate(lines):
        shift = (8.0, -14.0 - 17.0 * number) if upright else (11.0, 15.0 + 17.0 * number)
        figure = f"{piece.id}.{mark.hinge}.{name}"
        items.append(
            Label(at, words, "small", "ink", paper, "start", shift_px=shift, figure=figure, field=f"{path}.{name}")
        )
    return items


def _typed(plan: Plan, key: str) -> str:
    """The field a flat dimension types into: where the flat size is the finished size itself."""
    figure = plan.figures[key]
    only = figure.inputs[0] if len(figure.inputs) == 1 else None
    return only.field or "" if only is not None and abs(only.value - figure.value) < 1e-9 else ""


def _draw_measure(measure: Measure, piece: Piece, move: Affine, paper: str, units: str) -> list[Item]:
    """A parameter of the piece as a dimension to type into, with its guide."""
    text = f"{measure.words} {measure.figure.text(units)}".strip()
    start, end = move(measure.start), move(measure.end)
    items: list[Item] = []
    if measure.guide:
        items.append(Shape((move.all(measure.guide),), form="guide", role="soft", on=paper))
    items.append(
        Dimension(start, end, measure.shift_px, text, measure.figure.key, measure.figure.field or "", piece.id)
    )
    return items
