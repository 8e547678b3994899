"""What items give on their way to flat pieces: lines by piece, pieces of their own, marks on the faces."""

from __future__ import annotations

from typing import Any

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.card.operations import OPERATION
from dechirer.core.card.piece import Line, Piece
from dechirer.core.card.print import Print
from dechirer.core.card.stack import AtHand
from dechirer.core.card.tools import FINE_MM, tip_for
from dechirer.core.dress.decisions import Item
from dechirer.core.dress.drawn import Part
from dechirer.core.dress.mark import Mark, make_mark, paths_of_lines, rings_of
from dechirer.core.dress.spots import Spot
from dechirer.core.shape.affine import Affine


class Ground(Struct, frozen=True):
    """What all items land on: the papers, the brief, whether there are several kinds of copies, and the tip of pens
    that have none of their own (mm)."""

    facts: BriefPlan
    brief: Brief
    many: bool
    pen_tip: float

    @property
    def way(self) -> tuple[bool, float]:
        """What of it an item's lines hang on, besides papers."""
        return self.many, self.pen_tip


class Gathered:
    """Lines, pieces and marks as they are gathered."""

    def __init__(self) -> None:
        self.lines: dict[str, list[Line]] = {}
        self.prints: dict[str, list[Print]] = {}
        self.own: list[Piece] = []
        self.at_hand: list[AtHand] = []
        self.marks: list[Mark] = []

    def on(self, piece: str) -> list[Line]:
        """The lines of a piece, to be added to."""
        return self.lines.setdefault(piece, [])

    def print(self, prints: list[Print], piece: str) -> None:
        """Something more that is printed on a piece."""
        self.prints.setdefault(piece, []).extend(prints)

    def mark(self, item: Item, spot: Spot, form: str, colour: str, part: Part) -> None:
        """What is seen of a part on its face."""
        self.marks.append(make_mark(item.id, spot.id, form, colour, part.areas, part.lines, part.raster))


def prints_of(part: Part, id: str, item: Item, map: Affine) -> list[Print]:
    """What a printed part gives on a flat piece; nothing for what is written or stamped by hand."""
    if item.made == "hand" or not part.areas:
        return []
    side = "inside-up" if map.is_mirrored else "outside-up"
    raster = part.raster.moved(map) if part.raster is not None else None
    colour = item.colour or part.colour
    rings = tuple(rings_of(area, map) for area in part.areas)
    return [Print(id, item.id, item.name, colour, rings, side, raster, item.words is not None)]


def tip_of(part: Part, item: Item, pen_tip: float) -> float:
    """How broad the tip is that draws or foils a part, mm; 0 where it is run by no tool with a tip.

    Words are foiled by the fine tip, figures by the one that is as broad as their lines were drawn (common practice).
    """
    if part.role not in ("pen", "foil"):
        return 0.0
    if item.tip is not None:
        return item.tip.mm
    if part.role == "pen":
        return pen_tip
    return FINE_MM if item.words is not None else tip_for(part.breadth)


def lines_of(part: Part, id: str, item: Item, map: Affine, pen_tip: float) -> list[Line]:
    """The lines a part gives on a flat piece; none for what is not run by a machine."""
    if part.role not in OPERATION:
        return []
    spec = OPERATION[part.role]
    colour = (item.colour or part.colour) if spec.has_colour else ""
    sense = "valley" if spec.id == "score" else ""
    side = ("inside-up" if map.is_mirrored else "outside-up") if spec.one_sided else ""
    tip = tip_of(part, item, pen_tip)
    like = Line(id, item.name, spec.id, (), True, spec.path_role, sense, colour, side, tip=tip)
    found = [
        structs.replace(like, id=f"{id}-{place + 1}", paths=rings_of(area, map))
        for place, area in enumerate(part.areas)
    ]
    if part.lines:
        role = "flap" if part.folds else spec.open_role
        paths = paths_of_lines(part.lines, map)
        found.append(structs.replace(like, id=f"{id}-lines", paths=paths, closed=False, role=role))
    return found


OVERSHOOT_MM = 0.3
"""A line that runs past its outline by no more than this belongs to its piece: what is beyond is left off."""


def within(part: Part, area: Any, inside: bool) -> Part:
    """What of a part's areas and lines lies in an area (a polygon), or what does not.

    An area lies in it as a whole or not at all. A line that leaves it by more than OVERSHOOT_MM is divided at its edge.
    """
    near = area.buffer(OVERSHOOT_MM)
    areas = tuple(each for each in part.areas if near.covers(each) == inside)
    lines: list[Any] = []
    for line in part.lines:
        if area.covers(line) or not near.intersects(line):
            lines += [line] if area.covers(line) == inside else []
            continue
        beyond = [each for each in _strings(line.difference(area)) if not near.covers(each)]
        if inside:
            lines += _strings(line.intersection(area))
        elif beyond:
            lines += beyond
    return structs.replace(part, areas=areas, lines=tuple(lines))


def _strings(shape: Any) -> list[Any]:
    """The lines of a geometry, those that meet at their ends as one."""
    import shapely

    parts = [part for part in shapely.get_parts(shape).tolist() if part.geom_type == "LineString" and part.length > 0]
    return shapely.get_parts(shapely.line_merge(shapely.MultiLineString(parts))).tolist() if parts else []
