"""What Dress puts on a flat piece, as it lies there: cuts, pen and foil lines, prints."""

from __future__ import annotations

from collections.abc import Iterable

from dechirer.core.card.piece import Piece
from dechirer.core.card.print import Print
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Affine, Points
from dechirer.core.shape.outline import bounds
from dechirer.drawing.display import Display, Item, Shape
from dechirer.drawing.forms import form_of_line
from dechirer.drawing.scenes.papers import draw_pattern, shows_good

LIGHT = 0.8
"""How heavy the lines of Dress are beside the piece's own."""


def dressed_piece(plan: Plan, piece: str) -> Piece | None:
    """A piece with what Dress puts on it: of the copy that is shown, or the first kind there is."""
    found = plan.dress.piece(piece)
    if found is None and plan.dress.shown:
        found = plan.dress.piece(f"{piece}-{plan.dress.shown + 1}")
    return found or next((each for each in plan.dress.pieces if each.id.startswith(f"{piece}-")), None)


def draw_landed(plan: Plan, piece: Piece, map: Affine, paper: str) -> list[Item]:
    """What Dress puts on a piece of Construct, mapped; nothing for a piece it leaves alone."""
    dressed = dressed_piece(plan, piece.id)
    if dressed is None:
        return []
    items = draw_prints(plan, piece.id, map, paper)
    own = {line.id for line in piece.lines}
    for line in dressed.lines:
        if line.id in own or line.role in ("fold", "tick"):
            continue
        paths = tuple(map.all(path) for path in line.paths)
        form = form_of_line(line.operation, line.role, line.sense)
        role = line.colour or "ink"
        items.append(Shape(paths, closed=line.closed, form=form, role=role, on=paper, weight=LIGHT))
    return items


def draw_prints(plan: Plan, piece: str, map: Affine, paper: str) -> list[Item]:
    """What is printed on a piece."""
    dressed = dressed_piece(plan, piece)
    return draw_ink(dressed.prints, map, paper) if dressed is not None else []


def draw_ink(prints: Iterable[Print], map: Affine, paper: str) -> list[Item]:
    """Prints as they lie, mapped."""
    items: list[Item] = []
    for part in prints:
        raster = part.raster.moved(map) if part.raster is not None else None
        shapes = [tuple(map.all(ring) for ring in area) for area in part.rings]
        items += [Shape(rings, fill=part.colour, on=paper, raster=raster) for rings in shapes]
    return items


def openings_of(plan: Plan, piece: Piece, map: Affine) -> tuple[Points, ...]:
    """Where paper falls out of a piece, for its own windows and for those of Dress."""
    dressed = dressed_piece(plan, piece.id) or piece
    return tuple(map.all(path) for line in dressed.lines if line.role in ("hole", "window") for path in line.paths)


def make_small_piece(plan: Plan, piece: Piece) -> Display:
    """A flat piece without words or numbers, for a list."""
    stock = plan.brief.paper(piece.paper).paper
    good = shows_good(piece, "outside")
    paper = stock.face(good=good)
    same = Affine()
    rings = (piece.outline, *openings_of(plan, piece, same))
    items: list[Item] = [Shape(rings, fill=paper, form="edge", role="soft", on=paper, element=piece.id)]
    items += draw_pattern(stock, rings, good=good)
    items += draw_landed(plan, piece, same, paper)
    for line in piece.lines:
        if line.role != "outline":
            form = form_of_line(line.operation, line.role, line.sense)
            role = line.colour or ("fold" if line.role in ("fold", "tick") else "ink")
            items.append(Shape(line.paths, closed=line.closed, form=form, role=role, on=paper, weight=0.7))
    return Display(tuple(items), bounds(piece.outline), (3.0, 3.0, 3.0, 3.0), piece.name)
