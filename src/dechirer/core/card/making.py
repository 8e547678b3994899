"""Making a piece from a tree of panels: its fold lines, its marks with their figures, its outline last."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import structs

from dechirer.core.card.fold import Fold, OneFold
from dechirer.core.card.foldline import make_fold_lines
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.card.piece import FoldMark, Line, Measure, Piece
from dechirer.core.figure import Figure
from dechirer.core.shape.affine import Affine, Points
from dechirer.core.shape.divide import without
from dechirer.core.shape.outline import bounds, clockwise, rectangle


def derive(key: str, name: str, value: float, formula: str, *inputs: Figure, note: str = "") -> Figure:
    """A length that follows from others."""
    return Figure(key, name, value, formula=formula, inputs=inputs, note=note)


def times(number: int, given: Figure, key: str, name: str, *, note: str = "") -> Figure:
    """A whole number of times a length."""
    formula = "{" + given.name + "}" if number == 1 else f"{number} × " + "{" + given.name + "}"
    return derive(key, name, number * given.value, formula, given, note=note if number > 1 else "")


def make_piece(
    id: str,
    letter: str,
    name: str,
    tree: PanelTree,
    outline: Points,
    *,
    paper: str,
    count: int,
    fold: Fold,
    field: str,
    width: Figure,
    height: Figure,
    at: dict[str, tuple[Figure, Figure]],
    inner: tuple[Line, ...] = (),
    measures: tuple[Measure, ...] = (),
) -> Piece:
    """A piece with its lines in running order.

    Args:
        fold: how its folds are marked; `field` is the path of that in the job.
        at: for each hinge, the figure of where it lies and the figure of how long it is from edge to edge.
        inner: cuts inside the outline.
    """
    outline = clockwise(outline)
    lines: list[Line] = []
    marks: list[FoldMark] = []
    for hinge in tree.hinges:
        lines += make_fold_lines(fold, hinge.start, hinge.end, id=f"{id}-{hinge.id}", sense=hinge.sense)
        marks.append(_make_mark(id, hinge, fold, field, *at[hinge.id]))
    lines += inner
    lines.append(Line(f"{id}-outline", "outline", "cut", (outline,), closed=True))
    return Piece(
        id,
        letter,
        name,
        paper,
        count,
        tree,
        outline,
        tuple(lines),
        tuple(marks),
        width,
        height,
        measures=measures,
        fold_field=field,
    )


def _make_mark(piece: str, hinge: Hinge, fold: Fold, field: str, at: Figure, along: Figure) -> FoldMark:
    key = f"{piece}.{hinge.id}"
    ends = Figure(f"{key}.ends", "short of the edge", fold.ends.mm, field=f"{field}.ends")
    length = Figure(
        f"{key}.length",
        f"{piece} fold length",
        along.value - 2 * fold.ends.mm,
        formula="{" + along.name + "}" + (" − 2 × {" + ends.name + "}" if fold.ends.mm else ""),
        inputs=(along, ends) if fold.ends.mm else (along,),
    )
    dash = Figure(f"{key}.dash", "perforation dash", fold.dash.mm, field=f"{field}.dash")
    land = Figure(f"{key}.land", "perforation land", fold.land.mm, field=f"{field}.land")
    settings = (ends, dash, land) if fold.kind == "perforate" else (ends,)
    return FoldMark(hinge.id, hinge.start, hinge.end, fold.kind, hinge.sense, at, length, settings, hinge.lifts)


def remark(piece: Piece, fold: Fold | None, folds: Mapping[str, OneFold]) -> Piece:
    """A piece with some of its folds marked otherwise.

    Args:
        fold: how its folds are marked.
        folds: the folds that are not so, by `piece-hinge`.
    """
    if fold is None or not any(f"{piece.id}-{mark.hinge}" in folds for mark in piece.folds):
        return piece
    lines, marks = list(piece.lines), []
    for mark in piece.folds:
        one = folds.get(f"{piece.id}-{mark.hinge}")
        if one is None:
            marks.append(mark)
            continue
        kind = fold.kind if one.kind == "as-others" else one.kind
        own = structs.replace(fold, kind=kind)
        id = f"{piece.id}-{mark.hinge}"
        place = next((place for place, line in enumerate(lines) if line.id == id), 0)
        lines = [line for line in lines if line.id != id]
        made = make_fold_lines(own, mark.start, mark.end, id=id, sense=mark.sense)
        lines[place:place] = [
            structs.replace(line, times=(one.times or 0) if line.operation == "score" else 0) for line in made
        ]
        settings = tuple(
            each for each in mark.settings if kind == "perforate" or not each.key.endswith((".dash", ".land"))
        )
        marks.append(structs.replace(mark, kind=kind, settings=settings))
    return structs.replace(piece, lines=tuple(lines), folds=tuple(marks))


def make_flat_piece(
    id: str,
    letter: str,
    name: str,
    *,
    paper: str,
    count: int,
    width: Figure,
    height: Figure,
    outline: Points | None = None,
    inner: tuple[Line, ...] = (),
    measures: tuple[Measure, ...] = (),
) -> Piece:
    """A piece without folds (mm): a rectangle, or of any outline; `inner` are cuts inside it."""
    outline = outline or rectangle(width.value, height.value)
    box = bounds(outline)
    face = Face("front", id, "outside", box.width, box.height, Affine())
    tree = PanelTree((Panel(id, name, outline),), (), (face,))
    return make_piece(
        id,
        letter,
        name,
        tree,
        outline,
        paper=paper,
        count=count,
        fold=Fold(kind="unmarked"),
        field="",
        width=width,
        height=height,
        at={},
        inner=inner,
        measures=measures,
    )


def keep_on_paper(piece: Piece) -> Piece:
    """A piece whose folds are marked only where there is paper: not across its openings."""
    holes = [line.paths[0] for line in piece.lines if line.role == "hole" and line.closed]
    if not holes or not piece.folds:
        return piece
    import shapely

    body = without(shapely.Polygon(piece.outline), [shapely.Polygon(hole) for hole in holes]).buffer(0.01)
    lines = []
    for line in piece.lines:
        if line.role not in ("fold", "tick"):
            lines.append(line)
            continue
        kept = [
            each
            for path in line.paths
            for each in shapely.get_parts(shapely.intersection(shapely.LineString(path), body)).tolist()
            if each.geom_type == "LineString" and each.length > 0.1
        ]
        paths = tuple(tuple((float(x), float(y)) for x, y in each.coords) for each in kept)
        if paths:
            lines.append(structs.replace(line, paths=paths))
    return structs.replace(piece, lines=tuple(lines))


def letter_of(number: int) -> str:
    """The letter of the number-th piece (from 0): A to Z, then AA, AB and so on."""
    high, low = divmod(number, 26)
    return (letter_of(high - 1) if high else "") + chr(65 + low)
