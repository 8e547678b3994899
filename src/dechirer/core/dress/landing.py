"""Landing: from items on faces as seen to lines on flat pieces, pieces of their own, and what is seen on the card."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.construct.construct import ConstructPlan
from dechirer.core.construct.making import make_piece
from dechirer.core.construct.panels import Face, Panel, PanelTree
from dechirer.core.construct.piece import OPERATIONS, Line, Operation, Piece
from dechirer.core.construct.setting import Slab
from dechirer.core.dress.drawn import Part
from dechirer.core.dress.memory import Memory
from dechirer.core.dress.recipe import OUTLINE_ROLES, items_of
from dechirer.core.dress.spots import Spot
from dechirer.core.dress.wording import Copy
from dechirer.core.figure import Figure
from dechirer.core.job.constructing import Fold
from dechirer.core.job.dressing import Item
from dechirer.core.job.model import Brief
from dechirer.core.shape.affine import Affine, Points
from dechirer.core.shape.outline import bounds, clockwise

if TYPE_CHECKING:
    from dechirer.core.dress.dressed import Dressed

CUT_ROLES: dict[str, Operation] = {
    "cut": "cut",
    "kiss": "kiss",
    "score": "score",
    "perforate": "perforate",
    "pen": "pen",
    "foil": "foil",
}
MOST_OWN_PIECES = 120
ROUGH_MM = 0.15


class Mark(Struct, frozen=True):
    """What is seen of an item on its face, mm as seen: areas as lists of rings (the outer first), or open lines.

    `form` is `opening`, `paper` (a piece glued on; `colour` is its paper's), `print`, or an operation. The rough ones
    are the same within ROUGH_MM, for the folded card.
    """

    item: str
    spot: str
    form: str
    colour: str
    rings: tuple[tuple[Points, ...], ...] = ()
    lines: tuple[Points, ...] = ()
    rough: tuple[tuple[Points, ...], ...] = ()
    rough_lines: tuple[Points, ...] = ()


class Landed(Struct, frozen=True):
    """The dressed pieces, the card's slabs with their openings, and the marks on the faces."""

    pieces: tuple[Piece, ...]
    slabs: tuple[Slab, ...]
    marks: tuple[Mark, ...]


class _Flat:
    """Lines and pieces as they are gathered for one kind of copy."""

    def __init__(self) -> None:
        self.lines: dict[str, list[Line]] = {}
        self.own: list[Piece] = []


def land(
    construct: ConstructPlan, facts: BriefPlan, brief: Brief, items: tuple[Dressed, ...], copies: tuple[Copy, ...]
) -> Landed:
    """Give every piece its lines. A piece whose words differ from copy to copy becomes several, each with its count."""
    slabs = list(construct.slabs)
    marks: list[Mark] = []
    shared = _Flat()
    varied: dict[int, _Flat] = {}
    differs = {dressed.item.id for dressed in items if dressed.copy.number}
    for dressed in items:
        if dressed.spot is None or dressed.item.made == "guide":
            continue
        flat = varied.setdefault(dressed.copy.number, _Flat()) if dressed.item.id in differs else shared
        first = not dressed.copy.number
        landed, seen = _recall(dressed, dressed.spot, facts, brief, len(copies) > 1)
        for piece_id, lines in landed.lines.items():
            flat.lines.setdefault(piece_id, []).extend(lines)
        flat.own += landed.own
        marks += seen if first else []
        if first and dressed.item.made in ("window", "art"):
            _open_slab(dressed, dressed.spot, slabs)
    changed = {piece for flat in varied.values() for piece, lines in flat.lines.items() if lines}
    pieces: list[Piece] = []
    for piece in construct.pieces:
        lines = shared.lines.get(piece.id, [])
        if piece.id not in changed:
            pieces.append(_with_lines(piece, lines))
            continue
        for copy in copies:
            own = varied[copy.number].lines.get(piece.id, []) if copy.number in varied else []
            pieces.append(_copy_of(_with_lines(piece, [*lines, *own]), copy, piece.count // max(1, brief.count)))
    pieces += shared.own
    for copy in copies:
        pieces += varied[copy.number].own if copy.number in varied else []
    return Landed(_letter(_name_apart(pieces), len(construct.pieces)), tuple(slabs), tuple(marks))


_GIVEN: Memory[tuple[_Flat, list[Mark]]] = Memory(600)


def _recall(dressed: Dressed, spot: Spot, facts: BriefPlan, brief: Brief, many: bool) -> tuple[_Flat, list[Mark]]:
    """What an item gives, remembered by what it was made from."""

    def give() -> tuple[_Flat, list[Mark]]:
        flat, marks = _Flat(), list[Mark]()
        _land_item(dressed, spot, flat, marks, facts, brief, many)
        return flat, marks

    colour = facts.paper(dressed.item.paper or brief.base_paper).paper.colour
    key = (dressed.item, dressed.placed.serial, spot, dressed.copy, colour, brief.base_paper, many)
    return _GIVEN.recall(key, give)


def _name_apart(pieces: list[Piece]) -> list[Piece]:
    """No two pieces of one id, whatever items are called."""
    taken: set[str] = set()
    found = []
    for piece in pieces:
        id = piece.id
        number = 1
        while id in taken:
            number += 1
            id = f"{piece.id}-x{number}"
        taken.add(id)
        found.append(piece if id == piece.id else structs.replace(piece, id=id))
    return found


def _with_lines(piece: Piece, lines: list[Line]) -> Piece:
    """A piece with more lines before its outline."""
    if not lines:
        return piece
    return structs.replace(piece, lines=(*piece.lines[:-1], *lines, piece.lines[-1]))


def _copy_of(piece: Piece, copy: Copy, per_card: int) -> Piece:
    words = "blank" if copy.is_blank else copy.name or f"row {copy.number + 1}"
    id = f"{piece.id}-{copy.number + 1}"
    lines = tuple(structs.replace(line, id=f"{id}{line.id.removeprefix(piece.id)}") for line in piece.lines)
    return structs.replace(
        piece, id=id, name=f"{piece.name}, {words}"[:120], count=max(1, per_card) * copy.count, lines=lines
    )


def _letter(pieces: list[Piece], known: int) -> tuple[Piece, ...]:
    """Letters for the pieces that were added or multiplied: A to Z, then AA and so on."""
    found = []
    for number, piece in enumerate(pieces):
        high, low = divmod(number, 26)
        letter = ("" if not high else chr(64 + min(high, 26))) + chr(65 + low)
        found.append(piece if number < known and piece.letter == letter else structs.replace(piece, letter=letter))
    return tuple(found)


def _rings(polygon: Any, map: Affine) -> tuple[Points, ...]:
    return tuple(
        clockwise(tuple(map((x, y)) for x, y in ring.coords[:-1])) for ring in (polygon.exterior, *polygon.interiors)
    )


def _path(line: Any, map: Affine) -> Points:
    return tuple(map((x, y)) for x, y in line.coords)


def _land_item(
    dressed: Dressed, spot: Spot, flat: _Flat, marks: list[Mark], facts: BriefPlan, brief: Brief, many: bool
) -> None:
    item, drawn = dressed.item, dressed.placed.drawn
    if item.made == "piece":
        _own_pieces(dressed, spot, flat, marks, facts, brief, many)
        return
    lines = flat.lines.setdefault(spot.piece, [])
    for number, part in enumerate(drawn.parts):
        if part.role in ("off", "unassigned"):
            marks.append(_mark(item, spot, "guide", part.colour, part))
            continue
        colour = item.colour or part.colour
        if part.role == "print":
            marks.append(_mark(item, spot, "print", colour, part))
            continue
        id = f"{spot.piece}-{item.id}-{number + 1}"
        lines += _lines_of(part, id, item, spot.to_piece)
        form = "opening" if part.role == "cut" and not part.folds else part.role
        marks.append(_mark(item, spot, form, colour, part))
        if part.folds:
            paths = tuple(_path(line, spot.to_piece) for line in part.folds)
            lines.insert(0, Line(f"{id}-hinge", f"{item.name}, hinge", "score", paths, False, "fold", "valley"))
            marks.append(make_mark(item.id, spot.id, "score", colour, (), part.folds))
    if item.made == "window" and item.paper is not None and drawn.areas:
        _back(dressed, spot, flat, brief)


def _mark(item: Item, spot: Spot, form: str, colour: str, part: Part) -> Mark:
    return make_mark(item.id, spot.id, form, colour, part.areas, part.lines)


def make_mark(item: str, spot: str, form: str, colour: str, areas: Sequence[Any], lines: Sequence[Any] = ()) -> Mark:
    """A mark of areas and open lines that lie on the face as seen."""
    import shapely

    same = Affine()
    rough = [shapely.simplify(area, ROUGH_MM) for area in areas]
    rough_lines = [shapely.simplify(line, ROUGH_MM) for line in lines]
    return Mark(
        item,
        spot,
        form,
        colour,
        tuple(_rings(area, same) for area in areas),
        tuple(_path(line, same) for line in lines),
        tuple(_rings(area, same) for area in rough if area.geom_type == "Polygon" and not area.is_empty),
        tuple(_path(line, same) for line in rough_lines),
    )


def _open_slab(dressed: Dressed, spot: Spot, slabs: list[Slab]) -> None:
    """Openings show what is behind: the slab of the face gets holes where an item is cut out of it."""
    if spot.to_card is None or spot.slab < 0:
        return
    holes = [
        _rings(area, spot.to_card)[0]
        for part in dressed.placed.drawn.parts
        if part.role == "cut" and not part.folds
        for area in part.areas
    ]
    slab = slabs[spot.slab]
    slabs[spot.slab] = structs.replace(slab, holes=(*slab.holes, *holes))


def _own_pieces(
    dressed: Dressed, spot: Spot, flat: _Flat, marks: list[Mark], facts: BriefPlan, brief: Brief, many: bool
) -> None:
    """Each outline of it as a piece of its own, cut from its paper and glued on, with what is drawn on it."""
    item = dressed.item
    paper = item.paper or brief.base_paper
    parts = items_of(dressed.placed.drawn)[:MOST_OWN_PIECES]
    parts.sort(key=lambda part: (round(part.bounds[1]), part.bounds[0]))
    inks = [part for part in dressed.placed.drawn.parts if part.role not in OUTLINE_ROLES]
    slits = [line for part in dressed.placed.drawn.parts if part.role in OUTLINE_ROLES for line in part.lines]
    colour = facts.paper(paper).paper.colour
    marks.append(make_mark(item.id, spot.id, "paper", colour, parts, slits))
    for number, area in enumerate(parts):
        base = item.id if len(parts) == 1 else f"{item.id}-{number + 1}"
        id = f"{base}-{dressed.copy.number + 1}" if many and dressed.copy.entries else base
        name = item.name if len(parts) == 1 else f"{item.name} {number + 1}"
        if many and dressed.copy.entries:
            name = f"{name}, {dressed.copy.name or 'blank'}"
        left, top, right, bottom = area.bounds
        home = Affine(e=-left, f=-top)
        rings = _rings(area, home)
        inner: list[Line] = []
        for place, part in enumerate(inks):
            inner += _lines_of(_within(part, area, True), f"{id}-{place + 1}", item, home)
        inner += [
            Line(f"{id}-hole-{place + 1}", name, "cut", (ring,), True, "hole") for place, ring in enumerate(rings[1:])
        ]
        inner += [
            Line(f"{id}-slit-{place + 1}", name, "cut", (_path(line, home),), False, "slit")
            for place, line in enumerate(slits)
            if area.covers(line)
        ]
        inner.sort(key=lambda line: OPERATIONS.index(line.operation))
        size = (right - left, bottom - top)
        flat.own.append(make_outline_piece(id, name, rings[0], paper, dressed.copy.count, tuple(inner), dressed, size))
    # What reaches past every outline is drawn on the face itself.
    import shapely

    whole = shapely.union_all(parts) if parts else shapely.MultiPolygon()
    on_face = flat.lines.setdefault(spot.piece, [])
    for place, part in enumerate(inks):
        marks.append(_mark(item, spot, part.role, item.colour or part.colour, part))
        if part.role in CUT_ROLES:
            beside = _within(part, whole, False)
            on_face += _lines_of(beside, f"{spot.piece}-{item.id}-ink-{place + 1}", item, spot.to_piece)


def _within(part: Part, area: Any, inside: bool) -> Part:
    """Those of a part's areas and lines that lie in an area, or that do not."""
    return structs.replace(
        part,
        areas=tuple(each for each in part.areas if area.covers(each) == inside),
        lines=tuple(each for each in part.lines if area.covers(each) == inside),
    )


def _lines_of(part: Part, id: str, item: Item, map: Affine) -> list[Line]:
    """The lines a part gives on a flat piece."""
    if part.role not in CUT_ROLES:
        return []
    operation = CUT_ROLES[part.role]
    colour = (item.colour or part.colour) if operation in ("pen", "foil") else ""
    sense = "valley" if operation == "score" else ""
    role = {"cut": "hole", "kiss": "peel"}.get(operation, "art")
    found = [
        Line(f"{id}-{place + 1}", item.name, operation, _rings(area, map), True, role, sense, colour)
        for place, area in enumerate(part.areas)
    ]
    if part.lines:
        role = "flap" if part.folds else "slit" if operation in ("cut", "kiss") else "art"
        paths = tuple(_path(line, map) for line in part.lines)
        found.append(Line(f"{id}-lines", item.name, operation, paths, False, role, sense, colour))
    return found


def make_outline_piece(
    id: str,
    name: str,
    outline: Points,
    paper: str,
    count: int,
    inner: tuple[Line, ...],
    dressed: Dressed,
    size: tuple[float, float],
) -> Piece:
    """A flat piece of any outline without folds; its size with the working of its borders."""
    figures = []
    alone = len(items_of(dressed.placed.drawn)) == 1
    for side, value, ink in (("width", size[0], dressed.width), ("height", size[1], dressed.height)):
        borders = [step for step in dressed.item.steps if step.kind == "border" and step.by.mm]
        kinds = {step.kind for step in dressed.item.steps}
        plain = alone and borders and kinds <= {"border", "join", "fill", "tidy"}
        if plain and abs(ink.value + 2 * sum(step.by.mm for step in borders) - value) < 0.03:
            inputs = tuple(
                Figure(
                    f"{id}.{side}.{step.id}",
                    f"border {number + 1}",
                    step.by.mm,
                    field=f"dress.items.{dressed.item.id}.steps.{step.id}.by",
                )
                for number, step in enumerate(borders)
            )
            formula = "{" + ink.name + "}" + "".join(" + 2 × {" + each.name + "}" for each in inputs)
            figures.append(Figure(f"{id}.{side}", f"{name} {side}", value, formula=formula, inputs=(ink, *inputs)))
        else:
            figures.append(
                Figure(
                    f"{id}.{side}",
                    f"{name} {side}",
                    value,
                    formula="the recipe made of {" + ink.name + "}",
                    inputs=(ink,),
                )
            )
    box = bounds(outline)
    face = Face("front", id, "outside", box.width, box.height, Affine())
    tree = PanelTree((Panel(id, name, outline),), (), (face,))
    return make_piece(
        id,
        "",
        name,
        tree,
        outline,
        paper=paper,
        count=count,
        fold=Fold(kind="unmarked"),
        field="",
        width=figures[0],
        height=figures[1],
        at={},
        inner=inner,
    )


def _back(dressed: Dressed, spot: Spot, flat: _Flat, brief: Brief) -> None:
    """The backer of an opening: its outline grown by the glue margin, kept on the panel and off folds."""
    import shapely

    from dechirer.core.shape.algebra import polygon
    from dechirer.core.shape.webs import grow

    item = dressed.item
    assert item.paper is not None
    whole = shapely.union_all([shapely.Polygon(area.exterior) for area in dressed.placed.drawn.areas])
    backer = grow(whole, item.margin.mm)
    backer = shapely.union_all([shapely.Polygon(part.exterior) for part in shapely.get_parts(backer)])
    backer = shapely.intersection(backer, grow(polygon(spot.outline), -0.5))
    for number, part in enumerate(each for each in shapely.get_parts(backer) if each.geom_type == "Polygon"):
        id = f"{item.id}-backer" + (f"-{number + 1}" if number else "")
        if dressed.copy.number:
            id = f"{id}-c{dressed.copy.number + 1}"
        left, top, right, bottom = part.bounds
        # Glued on behind, its own face up: mirrored, as it is seen through the opening from the other side.
        ring = clockwise(tuple((x - left, y - top) for x, y in part.exterior.coords[:-1]))
        name = f"backer of {item.name}"
        margin = Figure(f"{id}.margin", "glue margin", item.margin.mm, field=f"dress.items.{item.id}.margin")
        face = Face("front", id, "outside", right - left, bottom - top, Affine())
        tree = PanelTree((Panel(id, name, ring),), (), (face,))
        width, height = (
            Figure(
                f"{id}.{side}",
                f"{name} {side}",
                value,
                inputs=(margin,),
                formula="the opening + 2 × {glue margin}, kept on the panel",
            )
            for side, value in (("width", right - left), ("height", bottom - top))
        )
        flat.own.append(
            make_piece(
                id,
                "",
                name,
                tree,
                ring,
                paper=item.paper,
                count=dressed.copy.count,
                fold=Fold(kind="unmarked"),
                field="",
                width=width,
                height=height,
                at={},
            )
        )
