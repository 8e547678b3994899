"""Pieces that items give: each outline as a piece of its own with what is drawn on it, and backers of openings."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

from msgspec import structs

from dechirer.core.card.making import make_flat_piece
from dechirer.core.card.operations import OPERATION, OPERATIONS
from dechirer.core.card.piece import Line, Piece
from dechirer.core.card.print import Print
from dechirer.core.card.stack import AtHand
from dechirer.core.dress.drawn import Part
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.gathered import Gathered, Ground, lines_of, prints_of, within
from dechirer.core.dress.mark import make_mark, path_of_line, rings_of
from dechirer.core.dress.outline import OUTLINE_ROLES, items_of, owner_of
from dechirer.core.dress.spots import Spot
from dechirer.core.dress.steps.edge import Border, Tidy
from dechirer.core.dress.steps.together import Join
from dechirer.core.dress.steps.which import Fill
from dechirer.core.figure import Figure
from dechirer.core.shape.affine import FINE_DIGITS, Affine, Points
from dechirer.core.shape.algebra import polygon, polygons_of
from dechirer.core.shape.divide import equal_but_for_place
from dechirer.core.shape.webs import grow

MOST_OWN_PIECES = 120
SAME_MM = 0.03
"""Outlines that lie this near to each other all round are cut as one kind."""
ROUNDED_MM = 0.02
"""By so much the chords of a round border may fall short of its true size."""
OFF_EDGE_MM = 0.5
"""A backer stays this far from the edges and folds of its panel."""
THING_COLOUR = "#b9b4a8"
"""What is at hand is shown in this where it has no colour of its own."""
PLAIN_STEPS = (Border, Join, Fill, Tidy)
"""Steps after which a piece is as large as the ink and its borders."""


def give_own_pieces(dressed: Dressed, spot: Spot, out: Gathered, ground: Ground) -> None:
    """Each outline of an item as a piece of its own, cut from its paper and glued on, with what is drawn on it."""
    import shapely

    item, drawn = dressed.item, dressed.placed.drawn
    paper = item.paper or ground.brief.base_paper
    parts = items_of(drawn)[:MOST_OWN_PIECES]
    is_alone = len(parts) == 1
    parts.sort(key=lambda part: (round(part.bounds[1]), part.bounds[0]))
    inks = [part for part in drawn.parts if part.role not in OUTLINE_ROLES]
    slits = [line for part in drawn.parts if part.role in OUTLINE_ROLES for line in part.lines]
    colour = ground.facts.paper(paper).paper.colour
    out.marks.append(make_mark(item.id, spot.id, "paper", colour, parts, slits))
    if item.at_hand:
        count_at_hand(dressed, parts, ground.facts.paper(paper).thickness.value, spot, out)
        return
    kinds = _equal_ones(parts, inks, slits)
    for number, (area, many) in enumerate(kinds):
        id, name = _name(dressed, number, len(kinds), ground.many)
        left, top, right, bottom = area.bounds
        home = Affine(e=-left, f=-top)
        inner = _inner_lines(dressed, area, inks, slits, (id, name), ground.pen_tip)
        outline, size = rings_of(area, home)[0], (right - left, bottom - top)
        piece = make_outline_piece(id, name, outline, paper, inner, dressed, size, is_alone=is_alone)
        spares = item.spares if not dressed.copy.number else 0
        prints = _prints_on(dressed, [each is area for each in parts].index(True), parts, inks, (id, home))
        out.own.append(structs.replace(piece, count=many * dressed.copy.count + spares, prints=prints))
    # What reaches past every outline is drawn on the face itself.
    whole = shapely.union_all(parts) if parts else shapely.MultiPolygon()
    on_face = out.on(spot.piece)
    for place, part in enumerate(inks):
        out.mark(item, spot, part.role, item.colour or part.colour, part)
        if part.role in OPERATION:
            beside = within(part, whole, False)
            on_face += lines_of(beside, f"{spot.piece}-{item.id}-ink-{place + 1}", item, spot.to_piece, ground.pen_tip)


def _equal_ones(parts: Sequence[Any], inks: Sequence[Part], slits: Sequence[Any]) -> list[tuple[Any, int]]:
    """Outlines that are equal but for their place as one, with how many there are; what is drawn on them tells them
    apart."""
    lines = [shape for part in inks for shape in (*part.areas, *part.lines)] + list(slits)
    drawn_on = [any(part.intersects(line) for line in lines) for part in parts] if lines else [False] * len(parts)
    found: list[tuple[Any, int]] = []
    plain: list[int] = []
    for part, marked in zip(parts, drawn_on, strict=True):
        for place in plain if not marked else ():
            other, many = found[place]
            if abs(part.area - other.area) > SAME_MM * part.length:
                continue
            if equal_but_for_place(part.boundary, other.boundary, SAME_MM):
                found[place] = (other, many + 1)
                break
        else:
            plain += [] if marked else [len(found)]
            found.append((part, 1))
    return found


def _prints_on(
    dressed: Dressed, number: int, parts: Sequence[Any], inks: Sequence[Part], named: tuple[str, Affine]
) -> tuple[Print, ...]:
    """What is printed on one outline of several: every printed area that lies on it more than on others, whole."""
    import numpy as np

    id, home = named
    outlines, found = np.array(parts, dtype=object), []
    for place, part in enumerate(inks):
        if part.role == "print":
            own = tuple(each for each in part.areas if len(parts) == 1 or owner_of(each, outlines) == number)
            found += prints_of(structs.replace(part, areas=own), f"{id}-print-{place + 1}", dressed.item, home)
    return tuple(found)


def _name(dressed: Dressed, number: int, of: int, many: bool) -> tuple[str, str]:
    """The id and the name of the number-th piece (from 0) of so many."""
    item, copy = dressed.item, dressed.copy
    id = item.id if of == 1 else f"{item.id}-{number + 1}"
    name = item.name if of == 1 else f"{item.name} {number + 1}"
    if many and (copy.entries or copy.stands):
        return f"{id}-{copy.number + 1}", f"{name}, {copy.name or 'blank'}"
    return id, name


def _inner_lines(
    dressed: Dressed, area: Any, inks: Sequence[Part], slits: Sequence[Any], named: tuple[str, str], pen_tip: float
) -> tuple[Line, ...]:
    """What is drawn and cut inside one outline, in running order."""
    id, name = named
    left, top, _, _ = area.bounds
    home = Affine(e=-left, f=-top)
    inner: list[Line] = []
    for place, part in enumerate(inks):
        inner += lines_of(within(part, area, True), f"{id}-{place + 1}", dressed.item, home, pen_tip)
    inner += [
        Line(f"{id}-hole-{place + 1}", name, "cut", (ring,), True, "hole")
        for place, ring in enumerate(rings_of(area, home)[1:])
    ]
    inner += [
        Line(f"{id}-slit-{place + 1}", name, "cut", (path_of_line(line, home),), False, "slit")
        for place, line in enumerate(slits)
        if area.covers(line)
    ]
    inner.sort(key=lambda line: OPERATIONS.index(line.operation))
    return tuple(inner)


def make_outline_piece(
    id: str,
    name: str,
    outline: Points,
    paper: str,
    inner: tuple[Line, ...],
    dressed: Dressed,
    size: tuple[float, float],
    is_alone: bool,
) -> Piece:
    """A flat piece of any outline without folds (mm); its size with the working of its borders, where it is the only
    outline of its item."""
    width = _measure_side(id, name, "width", size[0], dressed, dressed.width, is_alone)
    height = _measure_side(id, name, "height", size[1], dressed, dressed.height, is_alone)
    return make_flat_piece(
        id, "", name, paper=paper, count=dressed.copy.count, width=width, height=height, outline=outline, inner=inner
    )


def _measure_side(id: str, name: str, side: str, value: float, dressed: Dressed, ink: Figure, is_alone: bool) -> Figure:
    """One side of a piece: the ink and its borders where nothing else changed it."""
    item = dressed.item
    borders = [step for step in item.steps if isinstance(step, Border) and step.by.mm]
    plain = borders and all(isinstance(step, PLAIN_STEPS) for step in item.steps)
    exact = ink.value + 2 * sum(step.by.mm for step in borders)
    if plain and is_alone and abs(exact - value) < ROUNDED_MM:
        inputs = tuple(
            Figure(
                f"{id}.{side}.{step.id}",
                f"border {number + 1}",
                step.by.mm,
                field=f"dress.items.{item.id}.steps.{step.id}.by",
            )
            for number, step in enumerate(borders)
        )
        formula = "{" + ink.name + "}" + "".join(" + 2 × {" + each.name + "}" for each in inputs)
        return Figure(f"{id}.{side}", f"{name} {side}", exact, formula=formula, inputs=(ink, *inputs))
    source = "what its recipe makes, from edge to edge"
    return Figure(f"{id}.{side}", f"{name} {side}", round(value, FINE_DIGITS), source=source, inputs=(ink,))


def give_at_hand(dressed: Dressed, spot: Spot, out: Gathered) -> None:
    """Something that is stuck on or put in: seen on its face, and counted."""
    parts = items_of(dressed.placed.drawn)
    colour = dressed.item.colour or THING_COLOUR
    out.marks.append(make_mark(dressed.item.id, spot.id, "paper", colour, parts))
    count_at_hand(dressed, parts, dressed.item.thick.mm, spot, out)


def count_at_hand(dressed: Dressed, parts: Sequence[Any], thickness: float, spot: Spot, out: Gathered) -> None:
    """How many of a thing at hand are wanted, those of one size together."""
    item, sizes = (
        dressed.item,
        Counter((round(p.bounds[2] - p.bounds[0], 1), round(p.bounds[3] - p.bounds[1], 1)) for p in parts),
    )
    for number, ((width, height), many) in enumerate(sorted(sizes.items(), reverse=True)):
        id = item.id if not number else f"{item.id}-{number + 1}"
        count = many * dressed.copy.count
        out.at_hand.append(AtHand(id, item.name, width, height, thickness, count, spot.title, item.made == "held"))


def backer_areas(dressed: Dressed, spot: Spot) -> list[Any]:
    """Where the backer of an opening lies, as seen: the opening grown by the glue margin, or the rectangle round that,
    kept on the panel; one that is at hand as large as it is, its middle behind the opening's."""
    import shapely

    item, whole = dressed.item, opening_of(dressed)
    if item.backer_size is not None:
        left, top, right, bottom = whole.bounds
        across, down = item.backer_size.width.mm / 2, item.backer_size.height.mm / 2
        x, y = (left + right) / 2, (top + bottom) / 2
        return [shapely.box(x - across, y - down, x + across, y + down)]
    if item.backer == "rectangle":
        backer = shapely.union_all([shapely.box(*whole.bounds).buffer(item.margin.mm, join_style="mitre")])
    else:
        backer = grow(whole, item.margin.mm)
    backer = shapely.union_all([shapely.Polygon(part.exterior) for part in polygons_of(backer)])
    backer = shapely.intersection(backer, grow(polygon(spot.outline), -OFF_EDGE_MM))
    return list(polygons_of(backer))


def opening_of(dressed: Dressed) -> Any:
    """All that is open through a window, loose middles counted in."""
    import shapely

    return shapely.union_all([shapely.Polygon(area.exterior) for area in dressed.placed.drawn.areas])


def give_backer(dressed: Dressed, spot: Spot, out: Gathered, thickness: float) -> None:
    """The backer of an opening, a piece of its own."""
    item = dressed.item
    assert item.paper is not None
    name = f"backer of {item.name}"
    if item.backer_size is not None:
        size = item.backer_size
        count = dressed.copy.count
        out.at_hand.append(
            AtHand(f"{item.id}-backer", name, size.width.mm, size.height.mm, thickness, count, spot.title)
        )
        return
    opened = opening_of(dressed).bounds
    for number, part in enumerate(backer_areas(dressed, spot)):
        id = f"{item.id}-backer" + (f"-{number + 1}" if number else "")
        if dressed.copy.number:
            id = f"{id}-c{dressed.copy.number + 1}"
        left, top, right, bottom = part.bounds
        # Glued on behind, its own face up: mirrored, as it is seen through the opening from the other side.
        ring = rings_of(part, Affine(e=-left, f=-top))[0]
        margin = Figure(f"{id}.margin", "glue margin", item.margin.mm, field=f"dress.items.{item.id}.margin")
        sides = {"width": (right - left, opened[2] - opened[0]), "height": (bottom - top, opened[3] - opened[1])}
        width, height = (_measure_backer(id, name, side, *sides[side], margin) for side in ("width", "height"))
        count = dressed.copy.count
        out.own.append(
            make_flat_piece(id, "", name, paper=item.paper, count=count, width=width, height=height, outline=ring)
        )


def _measure_backer(id: str, name: str, side: str, value: float, opened: float, margin: Figure) -> Figure:
    """One side of a backer: the opening and its margins, where nothing was in their way."""
    key, title = f"{id}.{side}", f"{name} {side}"
    if abs(opened + 2 * margin.value - value) < 0.03:
        inner = Figure(f"{key}.opening", f"opening {side}", value - 2 * margin.value, source="the opening as it is cut")
        return Figure(key, title, value, formula="{" + inner.name + "} + 2 × {glue margin}", inputs=(inner, margin))
    source = "the opening and its glue margin, as far as they stay on the panel"
    return Figure(key, title, value, source=source, inputs=(margin,))
