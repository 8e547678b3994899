"""Build's picture of the flat pieces, all at one scale, with every dimension that matters."""

from __future__ import annotations

from dechirer.core.build.piece import FoldMark, Piece
from dechirer.core.length import format_length, format_size
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Affine, translate
from dechirer.core.shape.outline import Box, bounds
from dechirer.drawing.display import Dimension, Display, Item, Label, Shape
from dechirer.drawing.forms import form_of_line

GAP_MM = 34.0


def make_flat_scene(plan: Plan, aspect: float, picked: str = "") -> Display:
    """The flat pieces outside up, beside or below each other, whichever suits the window better.

    Args:
        aspect: width over height of the space there is.
        picked: element id to light up.
    """
    pieces = plan.build.pieces
    places = _arrange(pieces, aspect)
    items: list[Item] = []
    for piece, move in zip(pieces, places, strict=True):
        items += _draw_piece(plan, piece, move, picked)
    if plan.build.piece("liner") is not None:
        items += _reveal(plan, places[0])
    corners = [move(point) for piece, move in zip(pieces, places, strict=True) for point in piece.outline]
    sizes = "; ".join(
        f"{piece.name} {format_size(piece.width.value, piece.height.value, plan.job.units)}" for piece in pieces
    )
    return Display(tuple(items), bounds(corners), (78.0, 46.0, 40.0, 92.0), f"Flat pieces: {sizes}.")


def _arrange(pieces: tuple[Piece, ...], aspect: float) -> list[Affine]:
    """Offsets of the pieces: in a column or in a row, whichever is drawn larger."""
    boxes = [bounds(piece.outline) for piece in pieces]
    row_width = sum(box.width for box in boxes) + GAP_MM * (len(boxes) - 1)
    row_height = max(box.height for box in boxes)
    column_width = max(box.width for box in boxes)
    column_height = sum(box.height for box in boxes) + GAP_MM * (len(boxes) - 1)
    in_row = min(aspect / row_width, 1 / row_height) >= min(aspect / column_width, 1 / column_height)
    places, x, y = [], 0.0, 0.0
    for box in boxes:
        places.append(translate(x - box.left, y - box.top))
        if in_row:
            x += box.width + GAP_MM
        else:
            y += box.height + GAP_MM
    return places


def _draw_piece(plan: Plan, piece: Piece, move: Affine, picked: str) -> list[Item]:
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
        centre = ((middle.left + middle.right) / 2, (middle.top + middle.bottom) / 2)
        items.append(Label(centre, panel.name, "body", "soft", paper.colour))
    for mark in piece.folds:
        if mark.kind == "unmarked":
            items.append(Shape((move.all((mark.start, mark.end)),), closed=False, form="guide", on=paper.colour))
        items.append(_fold_dimension(piece, mark, move, units))
    for line in piece.lines:
        paths = tuple(move.all(path) for path in line.paths)
        form = form_of_line(line.operation, line.role, line.sense)
        items.append(
            Shape(paths, closed=line.closed, form=form, role="fold" if line.role != "outline" else "ink",
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
    facts = plan.brief.paper(piece.paper)
    weight = f"{paper.weight}" + (
        f" ({facts.grammage.value:.0f} g/m²)" if "lb" in paper.weight and facts.grammage.value else ""
    )
    where = (box.left, box.bottom)
    items.append(Label(where, f"{piece.letter} {piece.name}", "strong", anchor="start", element=piece.id,
                       shift_px=(0.0, 54.0)))  # fmt: skip
    items.append(Label(where, f"{paper.name}, {weight} · × {piece.count}", "small", "soft", anchor="start",
                       shift_px=(0.0, 71.0), figure=facts.grammage.key))  # fmt: skip
    return items


def _fold_dimension(piece: Piece, mark: FoldMark, move: Affine, units: str) -> Dimension:
    """From the piece's edge to its fold: below an upright fold, right of a lying one."""
    box = bounds(move.all(piece.outline))
    (x, y), _ = move.all((mark.start, mark.end))
    text = format_length(mark.at.value, units)
    if abs(mark.start[0] - mark.end[0]) < abs(mark.start[1] - mark.end[1]):
        return Dimension((box.left, box.bottom), (x, box.bottom), 22.0, text, mark.at.key, "", piece.id)
    return Dimension((box.right, box.top), (box.right, y), -22.0, text, mark.at.key, "", piece.id)


def _typed(plan: Plan, key: str) -> str:
    """The field a flat dimension types into: where the flat size is the finished size itself."""
    figure = plan.figures[key]
    only = figure.inputs[0] if len(figure.inputs) == 1 else None
    return only.field or "" if only is not None and abs(only.value - figure.value) < 1e-9 else ""


def _reveal(plan: Plan, move: Affine) -> list[Item]:
    """The liner's place on the base as a guide, and the reveal as a dimension to type into."""
    base, liner = plan.build.pieces[0], plan.build.piece("liner")
    assert liner is not None
    reveal = plan.figures["liner.reveal"]
    paper = plan.brief.paper(base.paper).paper.colour
    box = bounds(move.all(base.outline))
    inner = Box(box.left, box.top, box.right, box.bottom).grown(-reveal.value)
    ring = ((inner.left, inner.top), (inner.right, inner.top), (inner.right, inner.bottom), (inner.left, inner.bottom))
    middle = box.top + box.height * 0.8
    text = f"reveal {reveal.text(plan.job.units)}"
    return [
        Shape((ring,), form="guide", role="soft", on=paper),
        Dimension((inner.right, middle), (box.right, middle), 0.0, text, reveal.key, "build.liner.reveal", "liner"),
    ]
