"""Checks of what meets an opening or a cut of its piece: words over a window, a window through a strap."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from msgspec import structs

from dechirer.core.decide.change import Change
from dechirer.core.dress.checks.place import CLEAR_MM, ink_of
from dechirer.core.dress.drawn import mapper
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import place_exactly
from dechirer.core.dress.seen import DressSeen, path_of
from dechirer.core.dress.spots import Spot
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import format_length
from dechirer.core.shape.algebra import polygon

OVER_MM2 = 0.5
OVER_MM = 1.0
"""Ink over an opening by less than this area, or a line by less than this length, is an error of rounding."""
INKED = ("pen", "foil", "print", "score", "perforate")


def _openings(seen: DressSeen, dressed: Dressed, spot: Spot) -> Iterator[tuple[str, Any]]:
    """What is open in the piece an item lies on, as (name, area on its face): those of other items, and Construct's."""
    for hole in spot.holes:
        yield "an opening made in Construct", polygon(hole)
    back = spot.to_piece.inverse()
    for other in seen.first_of_each():
        if other.item.id == dressed.item.id or other.item.made not in ("window", "art") or other.spot is None:
            continue
        if other.spot.piece != spot.piece:
            continue
        change = mapper(other.spot.to_piece.then(back))
        for part in other.placed.drawn.parts:
            if part.role == "cut" and not part.folds:
                for area in change(part.areas):
                    yield other.item.name, area


@CHECKS.add("dress.over-opening", of=make_dress)
def find_ink_over_openings(seen: DressSeen) -> Iterator[Finding]:
    """What is drawn, printed, foiled or scored where its paper is cut out."""
    import shapely

    for dressed in seen.first_of_each():
        item, spot, ink = dressed.item, dressed.spot, ink_of(dressed, INKED)
        if spot is None or ink is None or item.made in ("guide", "piece"):
            continue
        names, areas = [], []
        for name, area in _openings(seen, dressed, spot):
            over = shapely.intersection(ink, area)
            if shapely.area(over) > OVER_MM2 or shapely.length(over) > OVER_MM + 4 * shapely.area(over) ** 0.5:
                names.append(name)
                areas.append(area)
        if not areas:
            continue
        yield Finding(
            "dress.over-opening",
            "stop",
            f"{item.name} lies over {names[0]}",
            "Part of it is where the paper is cut out.",
            "It is drawn on the mat, or falls out with the middle.",
            item.id,
            tuple(_move_off(dressed, spot, ink, shapely.union_all(areas), seen)),
        )


def _move_off(dressed: Dressed, spot: Spot, ink: Any, opening: Any, seen: DressSeen) -> Iterator[Mend]:
    """Beside the opening, on the side where it goes on the face, the nearest first; or made another way."""
    item = dressed.item
    own, gap = ink.bounds, opening.bounds
    every = [area for _, area in _openings(seen, dressed, spot)]
    moves = {
        "above": (0.0, gap[1] - CLEAR_MM - own[3]),
        "below": (0.0, gap[3] + CLEAR_MM - own[1]),
        "to the left of": (gap[0] - CLEAR_MM - own[2], 0.0),
        "to the right of": (gap[2] + CLEAR_MM - own[0], 0.0),
    }
    import shapely

    face = polygon(spot.outline)
    region, start = dressed.placed.region, dressed.placed.start.box()
    for words, (dx, dy) in sorted(moves.items(), key=lambda each: abs(each[1][0]) + abs(each[1][1])):
        moved = shapely.transform(ink, lambda points, by=(dx, dy): points + by)
        if item.of is None and face.covers(moved) and not any(shapely.intersects(moved, area) for area in every):
            place = place_exactly(item, start[0] + dx - region[0], start[1] + dy - region[1])
            yield Mend(f"Put it {words} the opening", (Change(path_of(item, "place"), place),))
            break
    guide = structs.replace(item, made="guide")
    yield Mend("Keep it as a guide only", (Change(path_of(item, "made"), guide.made),))


@CHECKS.add("dress.cuts-into", of=make_dress)
def find_cuts_across_cuts(seen: DressSeen) -> Iterator[Finding]:
    """An opening that runs through a slit, a strap or another opening of its piece."""
    import shapely

    for dressed in seen.first_of_each():
        item, spot = dressed.item, dressed.spot
        if spot is None or item.made not in ("window", "art", "kiss"):
            continue
        cuts = ink_of(dressed, ("cut", "kiss"))
        piece = seen.card.piece(spot.piece)
        if cuts is None or piece is None:
            continue
        back = spot.to_piece.inverse()
        for line in piece.lines[:-1]:
            if line.operation not in ("cut", "kiss") or line.role == "fold":
                continue
            paths = [shapely.LineString(back.all(path)) for path in line.paths if len(path) > 1]
            through = sum(shapely.length(shapely.intersection(path, cuts)) for path in paths)
            if through > OVER_MM:
                yield Finding(
                    "dress.cuts-into",
                    "stop",
                    f"{item.name} cuts through the {line.name} of the {piece.name}",
                    f"{format_length(through, seen.units)} of that cut lies inside it.",
                    "What it holds comes loose.",
                    item.id,
                    tuple(_move_off(dressed, spot, cuts, shapely.union_all(paths), seen)),
                )
                break
