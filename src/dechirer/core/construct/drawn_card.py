"""A drawing that is a card: its outlines as pieces with panels and folds, what is drawn on them, what is not clear."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from msgspec import Struct

from dechirer.core.brought import Art, ArtGroup
from dechirer.core.card.operations import OPERATION, OPERATIONS
from dechirer.core.card.piece import Line
from dechirer.core.shape.affine import Affine, Point, Points
from dechirer.core.shape.algebra import polygons_of
from dechirer.core.shape.curves import FLAT_MM, areas_of, flatten_all
from dechirer.core.shape.divide import JOIN_MM, Part, Trouble, divide, equal_but_for_place
from dechirer.core.shape.fold_guess import like_folds

SAME_MM = 0.2
"""Outlines that lie this near to each other all round are equal."""
ROW_MM = 20.0
"""Outlines whose tops differ by less stand in one row."""
FOLD_ROLES = ("score", "perforate")
EDGES = ("cut", "score", "perforate", "unassigned")
"""The roles of lines that a fold may end on: outlines, slots, other folds."""
LAID_ON = ("pen", "foil", "kiss")
"""What of a drawing is run on its pieces besides cuts and folds."""


class Kind(Struct, frozen=True):
    """Outlines that are equal: one part for all, how many there are, and their colour in the drawing."""

    part: Part
    count: int
    colour: str
    lines: tuple[Line, ...]


UNDECIDED = "undecided-"
"""How the element of a group without a role begins."""


class Undecided(Struct, frozen=True):
    """A group of lines that has no role yet: its id, name and colour, its lines in the drawing, and whether they look
    like folds."""

    id: str
    name: str
    colour: str
    paths: tuple[Points, ...]
    like_folds: bool


class DrawnCard(Struct, frozen=True):
    """What a drawing holds: its kinds of parts, the largest first; every part by itself as it is read, row by row; what
    is not clear in it; lines beside every part; groups that have no role yet."""

    kinds: tuple[Kind, ...]
    singles: tuple[Kind, ...]
    troubles: tuple[Trouble, ...]
    strays: tuple[Point, ...]
    undecided: tuple[Undecided, ...] = ()
    printed: int = 0


def read_drawn_card(art: Art, *, inside: bool = False, join: float = JOIN_MM) -> DrawnCard:
    """Take a drawing apart into kinds of parts.

    Args:
        inside: the drawing shows the inside of the card, so that it is mirrored.
        join: ends of cut lines that lie this near to each other belong together, in mm.
    """
    flip = Affine(a=-1.0) if inside else Affine()
    cuts = [group for group in art.groups if group.role == "cut"]
    folds = [line for group in art.groups if group.role in FOLD_ROLES for line, _ in _lines(group, art, flip)]
    layers: list[tuple[str, list[tuple[Points, bool]]]] = []
    colours = {group.colour for group in cuts if not group.stroke}
    if len(colours) > 1 and all(not group.stroke for group in cuts):
        # Filled outlines in several papers: what lies on another is a layer, not a hole in it.
        for colour in sorted(colours):
            rings = [ring for group in cuts if group.colour == colour for ring in _lines(group, art, flip)]
            layers.append((colour, rings))
    else:
        rings = [ring for group in cuts for ring in _lines(group, art, flip)]
        layers.append((cuts[0].colour if cuts else "#000000", rings))
    laid = [
        (group, line, closed)
        for group in art.groups
        if group.role in LAID_ON
        for line, closed in _lines(group, art, flip)
    ]
    parts: list[tuple[Part, str]] = []
    troubles: list[Trouble] = []
    strays: list[Point] = []
    for colour, rings in layers:
        divided = divide(rings, folds, join)
        parts += [(part, colour) for part in divided.parts]
        troubles += divided.troubles
        strays += divided.strays
    kinds, singles = _inventory(parts, laid, strays, several=len(layers) > 1)
    return DrawnCard(
        kinds,
        singles,
        tuple(troubles),
        tuple(strays),
        find_undecided(art, flip),
        sum(group.role == "print" for group in art.groups),
    )


def find_undecided(art: Art, flip: Affine) -> tuple[Undecided, ...]:
    """Find the groups of a drawing that have no role yet, and which of them look like folds."""
    groups = [group for group in art.groups if group.role == "unassigned"]
    if not groups:
        return ()
    lines = {group.id: _lines(group, art, flip) for group in art.groups if group.role in EDGES}
    edges = [(points, closed) for found in lines.values() for points, closed in found]
    return tuple(
        Undecided(
            group.id,
            group.name,
            group.colour,
            tuple(points for points, _ in lines[group.id]),
            like_folds(lines[group.id], edges),
        )
        for group in groups
    )


def find_fold_lines(art: Art) -> dict[str, tuple[int, ...]]:
    """Find the paths of groups that are cut and look like folds: the places of such paths by the id of their group."""
    groups = {group.id: _lines(group, art, Affine()) for group in art.groups if group.role in EDGES}
    edges = [line for lines in groups.values() for line in lines]
    found = {}
    for group in art.groups:
        if group.role != "cut" or not group.stroke:
            continue
        lines = [flatten_all((path,), FLAT_MM, art.scale) for path in group.paths]
        places = tuple(
            place
            for place, runs in enumerate(lines)
            if like_folds([(tuple(run.points), run.closed) for run in runs], edges)
        )
        if places:
            found[group.id] = places
    return found


def _lines(group: ArtGroup, art: Art, flip: Affine) -> list[tuple[Points, bool]]:
    """The lines of a group at the settled size: (points, closed); the edges of areas where it is filled."""
    if group.stroke:
        return [
            (flip.all(tuple(run.points)), run.closed or run.points[0] == run.points[-1])
            for run in flatten_all(group.paths, FLAT_MM, art.scale)
        ]
    found: list[tuple[Points, bool]] = []
    for path in group.paths:
        for area in polygons_of(areas_of(flatten_all((path,), FLAT_MM, art.scale), group.rule)):
            for ring in (area.exterior, *area.interiors):
                found.append((flip.all(tuple((float(x), float(y)) for x, y in ring.coords[:-1])), True))
    return found


def _inventory(
    parts: list[tuple[Part, str]],
    laid: list[tuple[ArtGroup, Points, bool]],
    strays: list[Point],
    *,
    several: bool,
) -> tuple[tuple[Kind, ...], tuple[Kind, ...]]:
    """Parts that are equal as one kind, with what is laid on them; and every part by itself."""
    import shapely

    shapes = [shapely.Polygon(part.outline) for part, _ in parts]
    on: dict[int, list[tuple[ArtGroup, Points, bool]]] = {}
    tree = shapely.STRtree(shapes) if shapes else None
    for group, line, closed in laid:
        middle = shapely.LineString(line).interpolate(0.5, normalized=True) if len(line) > 1 else shapely.Point(line[0])
        owners = tree.query(middle, predicate="within").tolist() if tree is not None else []
        if owners:
            on.setdefault(min(owners, key=lambda place: shapes[place].area), []).append((group, line, closed))
        else:
            strays.append((middle.x, middle.y))
    lines = [_make_lines(part, on.get(place, ())) for place, (part, _) in enumerate(parts)]
    found: list[list[int]] = []
    for place, (part, colour) in enumerate(parts):
        for same in found:
            other, its = parts[same[0]]
            if len(lines[place]) != len(lines[same[0]]):
                continue
            if (its == colour or not several) and _equal(part, shapes[place], other, shapes[same[0]]):
                same.append(place)
                break
        else:
            found.append([place])
    found.sort(key=lambda same: -shapes[same[0]].area)
    rows = sorted(
        range(len(parts)), key=lambda place: (round(shapes[place].bounds[1] / ROW_MM), shapes[place].bounds[0])
    )

    def kind(place: int, count: int) -> Kind:
        return Kind(parts[place][0], count, parts[place][1], lines[place])

    return tuple(kind(same[0], len(same)) for same in found), tuple(kind(place, 1) for place in rows)


def _equal(part: Part, shape: Any, other: Part, its: Any) -> bool:
    """Whether two parts are equal but for their place: outline, openings and panels."""
    if len(part.holes) != len(other.holes) or len(part.panels) != len(other.panels):
        return False
    return equal_but_for_place(shape.exterior, its.exterior, SAME_MM)


def _make_lines(part: Part, laid: Iterable[tuple[ArtGroup, Points, bool]]) -> tuple[Line, ...]:
    """What is cut in a part, scored on it and laid on it, in the part's own place, in running order."""
    lines: list[Line] = []
    for number, (group, line, closed) in enumerate(laid, start=1):
        spec = OPERATION[group.role]  # type: ignore[index]
        role = spec.path_role if closed else spec.open_role
        colour = group.colour if spec.has_colour else ""
        side = "outside-up" if spec.one_sided else ""
        lines.append(Line(f"file-{spec.id}-{number}", group.name, spec.id, (line,), closed, role, "", colour, side))
    lines += [
        Line(f"file-score-{number}", "score", "score", (line,), False, "art", "valley")
        for number, line in enumerate(part.scores, start=1)
    ]
    lines += [
        Line(f"file-hole-{number}", "opening", "cut", (ring,), True, "hole")
        for number, ring in enumerate(part.holes, start=1)
    ]
    lines += [
        Line(f"file-slit-{number}", "slit", "cut", (line,), False, "slit")
        for number, line in enumerate(part.slits, start=1)
    ]
    return tuple(sorted(lines, key=lambda line: OPERATIONS.index(line.operation)))
