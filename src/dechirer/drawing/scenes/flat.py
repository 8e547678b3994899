"""Construct's picture of a flat piece: large, with every dimension that matters and what Dress puts on it."""

from __future__ import annotations

from msgspec import Struct, structs

from dechirer.core.card.piece import FoldMark, Measure, Piece, fold_of
from dechirer.core.construct.drawn_card import UNDECIDED
from dechirer.core.construct.kinds.from_file import Read
from dechirer.core.job.edit import show_field
from dechirer.core.job.model import Job
from dechirer.core.length import format_length, format_size
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Affine, Point, Points, translate
from dechirer.core.shape.outline import Box, area, bounds, is_inside
from dechirer.drawing.display import Dimension, Display, Item, Label, Shape
from dechirer.drawing.forms import form_of_line
from dechirer.drawing.scenes.landed import draw_landed, openings_of
from dechirer.drawing.scenes.papers import draw_pattern, shows_good

ROOM_PX = (66.0, 44.0, 30.0, 44.0)
"""Room round the main piece for its dimensions: left, top, right, bottom."""
MOST_FOLDS_MEASURED = 2
"""Of many folds of one direction the first two are measured; the others follow in turn."""
MEASURE_PX = 80.0
"""Room at the right for parameters that are too narrow to hold their own number."""
LINE_PX = 17.0
LETTER_PX = {"strong": 7.4, "small": 6.3, "body": 6.9}
"""About how wide a letter is in each style; a little more than on average, to be safe."""


def make_flat_scene(plan: Plan, width_px: float, height_px: float, main: str = "", picked: str = "") -> Display:
    """One piece large with all its dimensions and what Dress puts on it, outside up.

    Args:
        width_px, height_px: the space there is; dimensions keep their size, so the drawing's scale depends on it.
        main: id of the piece to show; the first one when there is none of that id.
        picked: element id to light up.
    """
    pieces = plan.construct.pieces
    piece = next((each for each in pieces if each.id == main), pieces[0])
    left, top, right, bottom = ROOM_PX
    right += MEASURE_PX if piece.measures else 0.0
    upright, level = _measured(piece)
    right += 26.0 + 22.0 * (len(level) - 1) if level else 0.0
    bottom += 22.0 * max(0, len(upright) - 1)
    box = bounds(piece.outline)
    wide, high = max(60.0, width_px - left - right), max(60.0, height_px - top - bottom)
    scale = min(wide / box.width, high / box.height)
    move = translate(-box.left, -box.top)
    items = _draw_piece(plan, piece, move, picked, scale)
    size = format_size(piece.width.value, piece.height.value, plan.job.units)
    view = Box(0.0, 0.0, box.width, box.height)
    words = f"The flat piece {piece.name}, {size}, outside up."
    return Display(tuple(items), view, (left, top, right, bottom), words, scale)


def _draw_piece(plan: Plan, piece: Piece, move: Affine, picked: str, scale: float) -> list[Item]:
    units = plan.job.units
    stock = plan.brief.paper(piece.paper).paper
    good = shows_good(piece, "outside")
    paper = structs.replace(stock, colour=stock.face(good=good))
    outline = move.all(piece.outline)
    box = bounds(outline)
    fallen = openings_of(plan, piece, move)
    items: list[Item] = [Shape((outline, *fallen), fill=paper.colour, on=paper.colour, element=piece.id, shadow=True)]
    items += _draw_panels(piece, move, paper.colour, picked, scale, fallen)
    items += draw_pattern(stock, (outline, *fallen), good=good)
    items += draw_landed(plan, piece, move, paper.colour)
    for mark in piece.folds:
        if mark.kind == "unmarked":
            items.append(Shape((move.all((mark.start, mark.end)),), closed=False, form="guide", on=paper.colour))
        for marks in _measured(piece):
            if mark in marks:
                items.append(_fold_dimension(piece, mark, move, units, marks.index(mark)))
        items += _fold_settings(plan, piece, mark, move, paper.colour)
    for line in piece.lines:
        paths = tuple(move.all(path) for path in line.paths)
        form = form_of_line(line.operation, line.role, line.sense)
        items.append(
            Shape(
                paths,
                closed=line.closed,
                form=form,
                role="fold" if line.role in ("fold", "tick") else "ink",
                on=paper.colour,
                element=line.id,
                weight=1.6 if picked == line.id else 1.0,
            )
        )
    items += _draw_undecided(plan, piece, move, paper.colour, picked)
    items.append(
        Dimension(
            (box.right, box.top),
            (box.left, box.top),
            24.0,
            piece.width.text(units),
            piece.width.key,
            _typed(plan, piece.width.key),
            piece.id,
        )
    )
    items.append(
        Dimension(
            (box.left, box.bottom),
            (box.left, box.top),
            -24.0,
            piece.height.text(units),
            piece.height.key,
            _typed(plan, piece.height.key),
            piece.id,
        )
    )
    for measure in piece.measures:
        items += _draw_measure(measure, piece, move, paper.colour, plan.job)
    return items + _name_piece(plan, piece, box, scale)


def _draw_undecided(plan: Plan, piece: Piece, move: Affine, paper: str, picked: str) -> list[Item]:
    """The lines of a card file that have no role yet, on the piece they lie on."""
    read = plan.construct.made.found
    if piece.id != "base" or not isinstance(read, Read) or read.card is None:
        return []
    corner = bounds(read.card.part.outline)
    there = translate(-corner.left, -corner.top).then(move)
    return [
        Shape(
            tuple(there.all(path) for path in group.paths),
            closed=False,
            form="guide",
            role="look",
            on=paper,
            element=f"{UNDECIDED}{group.id}",
            weight=2.2 if picked == f"{UNDECIDED}{group.id}" else 1.4,
        )
        for group in read.drawn.undecided
    ]


def _draw_panels(
    piece: Piece, move: Affine, colour: str, picked: str, scale: float, fallen: tuple[Points, ...]
) -> list[Item]:
    """Each panel's area, to be pointed at, and its name where there is room."""
    items: list[Item] = []
    for panel in piece.tree.panels:
        element = f"{piece.id}/{panel.id}"
        ring = move.all(panel.outline)
        lit = picked == element
        gone = tuple(hole for hole in fallen if is_inside(ring, hole[0]))
        rings = (ring, *(move.all(hole) for hole in panel.holes), *gone)
        items.append(Shape(rings, fill="accent-wash" if lit else colour, on=colour, element=element))
        middle = bounds(ring)
        # In the middle, but clear of the words in the panel's corner.
        clear = min(max(middle.height / 2, 72 / scale), middle.height - 12 / scale)
        if len(panel.outline) > 8:
            clear = middle.height * 0.62
        if panel.holes:
            clear = middle.height * 0.88
        centre = ((middle.left + middle.right) / 2, middle.top + clear)
        if middle.width * scale > 6.4 * len(panel.name) + 8:
            items.append(Label(centre, panel.name, "body", "soft", colour, yields=True))
    return items


def _name_piece(plan: Plan, piece: Piece, box: Box, scale: float) -> list[Item]:
    """The piece's letter, name and count, its paper and weight, in its first panel as far as they fit there."""
    facts = plan.brief.paper(piece.paper)
    paper = facts.paper
    grams = f" ({facts.grammage.text()})" if "lb" in paper.weight and facts.grammage.value else ""
    title = f"{piece.letter} {piece.name} × {piece.count}"
    lines = [
        (title, "strong", "ink", ""),
        (paper.name, "small", "soft", ""),
        (paper.weight + grams, "small", "soft", facts.grammage.key),
    ]
    place = _find_place(piece, [words for words, *_ in lines], scale)
    moved = translate(box.left - bounds(piece.outline).left, box.top - bounds(piece.outline).top)
    on = paper.colour if place.inside else ""
    return [
        Label(
            moved(place.at),
            words,
            style,
            role,
            on,
            place.anchor,
            "" if number else piece.id,
            shift_px=(place.shift_px[0], place.shift_px[1] + LINE_PX * number),
            figure=figure,
        )
        for number, (words, style, role, figure) in enumerate(lines[: place.lines])
    ]


class _Place(Struct, frozen=True):
    """Where a piece's words go: a point of the piece, how they hang on it, and how many lines there is room for."""

    at: Point
    anchor: str
    shift_px: Point
    lines: int
    inside: bool = True


def _find_place(piece: Piece, words: list[str], scale: float) -> _Place:
    """A place for the words inside a broad panel: its upper left or lower left corner, or its middle; all lines if they
    fit there, else fewer; below the piece when there is no room anywhere."""
    largest = max(area(panel.outline) for panel in piece.tree.panels)
    broad = [panel for panel in piece.tree.panels if area(panel.outline) > 0.4 * largest]
    broad.sort(key=lambda panel: bounds(panel.outline).left)
    worded = any(measure.as_words for measure in piece.measures)
    for count in () if worded else (3, 2, 1):
        wide = max(LETTER_PX["strong"] * len(words[0]), *(6.2 * len(each) for each in words[1:count]), 0.0)
        high = LINE_PX * count
        for panel in broad:
            box = bounds(panel.outline)
            middle = (box.left + box.right) / 2
            for place, left, top in (
                (_Place((box.left, box.top), "start", (11.0, 17.0), count), box.left + 11 / scale, box.top + 8 / scale),
                (
                    _Place((box.left, box.bottom), "start", (11.0, 4.0 - high), count),
                    box.left + 11 / scale,
                    box.bottom - (high + 4) / scale,
                ),
                (
                    _Place((middle, box.top), "middle", (0.0, 0.2 * box.height * scale), count),
                    middle - wide / 2 / scale,
                    box.top + 0.2 * box.height - 8 / scale,
                ),
            ):
                xs = [left + share * wide / scale for share in (0.0, 0.25, 0.5, 0.75, 1.0)]
                ys = (top, top + high / 2 / scale, top + high / scale)
                if all(
                    is_inside(panel.outline, (x, y)) and not any(is_inside(hole, (x, y)) for hole in panel.holes)
                    for x in xs
                    for y in ys
                ):
                    return place
    whole = bounds(piece.outline)
    below = 20.0 + 22.0 * len(_measured(piece)[0])
    return _Place((whole.left, whole.bottom), "start", (0.0, below), 1, inside=False)


def _measured(piece: Piece) -> tuple[list[FoldMark], list[FoldMark]]:
    """The folds whose places are drawn: upright ones, and level ones."""
    flat = [mark for mark in piece.folds if not mark.lifts]
    upright = [mark for mark in flat if _is_upright(mark)]
    level = [mark for mark in flat if not _is_upright(mark)]
    return upright[:MOST_FOLDS_MEASURED], level[:MOST_FOLDS_MEASURED]


def _is_upright(mark: FoldMark) -> bool:
    return abs(mark.start[0] - mark.end[0]) < abs(mark.start[1] - mark.end[1])


def _fold_dimension(piece: Piece, mark: FoldMark, move: Affine, units: str, place: int) -> Dimension:
    """From the piece's edge to its fold: below an upright fold, right of a level one; `place` says in which line."""
    box = bounds(move.all(piece.outline))
    (x, y), _ = move.all((mark.start, mark.end))
    text = format_length(mark.at.value, units)
    shift = 22.0 + 22.0 * place
    if _is_upright(mark):
        return Dimension((box.left, box.bottom), (x, box.bottom), shift, text, mark.at.key, "", piece.id)
    return Dimension((box.right, box.top), (box.right, y), -shift, text, mark.at.key, "", piece.id)


def _fold_settings(plan: Plan, piece: Piece, mark: FoldMark, move: Affine, paper: str) -> list[Item]:
    """Where the fold line ends, and dash and land of a perforation, to type into: too small to be drawn as dimensions,
    so they stand as words at the end of the fold, in the second panel."""
    fold, path = fold_of(plan.job, piece), piece.fold_field
    if fold is None or mark.kind == "unmarked" or mark is not piece.folds[0]:
        return []  # all folds of a piece are marked alike, so the words stand once
    upright = _is_upright(mark)
    at = move(mark.end) if upright else move(mark.start)
    anchor, side = "start", 8.0 if upright else 11.0
    if mark.lifts:  # such folds are many and short: the words stand below the piece
        box = bounds(move.all(piece.outline))
        at, upright, anchor, side, paper = (box.right, box.bottom), False, "end", 0.0, ""
    lines = [("ends", f"ends {fold.ends} short")]
    if any(each.kind == "perforate" for each in piece.folds):
        lines += [("dash", f"dash {fold.dash}"), ("land", f"land {fold.land}")]
    items: list[Item] = []
    for number, (name, words) in enumerate(lines):
        shift = (side, -14.0 - LINE_PX * number) if upright else (side, 15.0 + LINE_PX * number)
        figure = f"{piece.id}.{mark.hinge}.{name}"
        items.append(
            Label(at, words, "small", "ink", paper, anchor, shift_px=shift, figure=figure, field=f"{path}.{name}")
        )
    return items


def _typed(plan: Plan, key: str) -> str:
    """The field a flat dimension types into: where the flat size is the finished size itself."""
    figure = plan.figures[key]
    only = figure.inputs[0] if len(figure.inputs) == 1 else None
    return only.field or "" if only is not None and abs(only.value - figure.value) < 1e-9 else ""


def _draw_measure(measure: Measure, piece: Piece, move: Affine, paper: str, job: Job) -> list[Item]:
    """A parameter of the piece as a dimension to type into, with its guide."""
    shown = measure.figure.text(job.units)
    if shown.startswith("~") and measure.figure.field:
        shown = show_field(job, measure.figure.field)  # as it was typed: 12 mm, not about 15/32 in
    text = f"{measure.words} {shown}".strip()
    start, end = move(measure.start), move(measure.end)
    items: list[Item] = []
    if measure.as_words:
        return [
            Label(
                start,
                text,
                "small",
                "ink",
                paper,
                shift_px=(0.0, measure.shift_px),
                figure=measure.figure.key,
                field=measure.figure.field or "",
            )
        ]
    if measure.guide:
        items.append(Shape((move.all(measure.guide),), form="guide", role="soft", on=paper))
    items.append(
        Dimension(start, end, measure.shift_px, text, measure.figure.key, measure.figure.field or "", piece.id, True)
    )
    return items
