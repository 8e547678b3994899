"""Checks of what meets an opening or a cut of its piece: words over a window, a window through a strap."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial
from itertools import islice
from typing import Any

from dechirer.core.decide.change import Change
from dechirer.core.dress.checks.place import FIT_IN, as_guide, bring_in, ink_of, ink_within, move_beside
from dechirer.core.dress.drawn import mapper
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import place_in_middle
from dechirer.core.dress.own_pieces import OFF_EDGE_MM, backer_areas, opening_of
from dechirer.core.dress.seen import DressSeen, path_of
from dechirer.core.dress.spots import Spot
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import fine_length, format_length
from dechirer.core.shape.algebra import polygon

OVER_MM2 = 0.5
OVER_MM = 1.0
"""Ink over an opening by less than this area, or a line by less than this length, is an error of rounding."""
BACKER_SLACK_MM = 0.05
LEAST_GLUE_MM = 2.0
"""With less than this a backer does not hold (common practice, no published figure)."""
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

    # On a later copy that opens nothing else, only its own ink may lie over an opening that the first has not told of.
    opens = any(each.item.made in ("window", "art") for each in seen.own_of_each())
    for dressed in seen.first_of_each() if opens else seen.own_of_each():
        item, spot, ink = dressed.item, dressed.spot, ink_of(dressed, INKED)
        if spot is None or ink is None or item.made in ("guide", "piece"):
            continue
        names, areas = [], []
        for name, area in _openings(seen, dressed, spot):
            over = ink_within(ink, area)
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
    """Beside the opening, on the side where it goes on the face, the nearest; or made another way."""
    every = (area for _, area in _openings(seen, dressed, spot))
    yield from islice(move_beside(dressed, ink, opening, every, "the opening"), 1)
    yield as_guide(dressed.item)


@CHECKS.add("dress.cuts-into", of=make_dress)
def find_cuts_across_cuts(seen: DressSeen) -> Iterator[Finding]:
    """An opening that runs through a slit, a strap or another opening of its piece."""
    import shapely

    for dressed in seen.own_of_each():
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
            through = sum(shapely.length(ink_within(cuts, path)) for path in paths)
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


@CHECKS.add("dress.backer-narrow", of=make_dress)
def find_narrow_backers(seen: DressSeen) -> Iterator[Finding]:
    """A backer that has less room for glue than was asked for, since it stays on its panel."""
    for dressed in seen.own_of_each():
        item, spot = dressed.item, dressed.spot
        if spot is None or item.made != "window" or item.paper is None or not dressed.placed.drawn.areas:
            continue
        free = seen.memory.recall(("backer", item, dressed.placed.serial, spot), partial(_free_round, dressed, spot))
        if free >= item.margin.mm - BACKER_SLACK_MM:
            continue
        mends = [mend for mend in bring_in(seen, dressed) if mend.label != FIT_IN and _leaves(dressed, spot)]
        if free >= LEAST_GLUE_MM:
            as_it_is = fine_length(math.floor(free * 20) / 20, "mm")
            mends.append(Mend(f"A glue margin of {as_it_is}", (Change(path_of(item, "margin"), as_it_is),)))
        if item.backer_size is not None:
            mends = [Mend("Cut one that is large enough", (Change(path_of(item, "backer_size"), None),))]
        mends.append(Mend("No backer", (Change(path_of(item, "paper"), None),)))
        why = f"since it stays on the {spot.title}" if item.backer_size is None else "as it is no larger"
        yield Finding(
            "dress.backer-narrow",
            "look" if free >= LEAST_GLUE_MM else "stop",
            f"The backer of {item.name} has little room for glue",
            f"{format_length(item.margin.mm, seen.units)} was asked for all round; {format_length(free, 'mm')} is left "
            f"at the narrowest, {why}.",
            "It comes off, or glue shows in the opening.",
            item.id,
            tuple(mends),
        )


def _free_round(dressed: Dressed, spot: Spot) -> float:
    """How much of its backer is left round an opening at the narrowest, mm."""
    import shapely

    backer, opening = shapely.union_all(backer_areas(dressed, spot)), opening_of(dressed)
    return float(shapely.distance(backer.boundary, opening)) if shapely.covers(backer, opening) else 0.0


def _leaves(dressed: Dressed, spot: Spot) -> bool:
    """Whether the opening leaves room for its whole backer when it is in the middle of its face."""
    left, top, right, bottom = dressed.placed.drawn.box()
    need = dressed.item.margin.mm + OFF_EDGE_MM
    return min(spot.width - (right - left), spot.height - (bottom - top)) / 2 >= need


@CHECKS.add("dress.beyond-inlay", of=make_dress)
def find_opening_beyond_inlay(seen: DressSeen) -> Iterator[Finding]:
    """An opening in an envelope must lie on the inlay behind it."""
    import shapely

    made = seen.card.envelope
    behind = [patch for patch in made.patches if patch.piece == "inlay"] if made is not None else []
    if not behind:
        return
    inlay = shapely.union_all([polygon(patch.outline) for patch in behind])
    for dressed in seen.own_of_each():
        item, spot = dressed.item, dressed.spot
        cuts = ink_of(dressed, ("cut",))
        if spot is None or spot.piece != "envelope" or item.made not in ("window", "art") or cuts is None:
            continue
        own = mapper(spot.to_piece)([shapely.union_all(dressed.placed.drawn.areas)])[0]
        out = shapely.difference(own, inlay.buffer(0.05))
        if out.area < OVER_MM2:
            continue
        beyond = float(shapely.distance(shapely.points(shapely.get_coordinates(out)), inlay).max())
        mends = []
        middle = place_in_middle(item)
        left, top, right, bottom = dressed.placed.drawn.box()
        box = shapely.box(*mapper(spot.to_piece.inverse())([polygon(behind[0].outline)])[0].bounds)
        fits = box.bounds[2] - box.bounds[0] > right - left and box.bounds[3] - box.bounds[1] > bottom - top
        if fits and item.of is None:
            mends.append(Mend("Put it in the middle", middle))
        mends.append(as_guide(item))
        yield Finding(
            "dress.beyond-inlay",
            "stop",
            f"{item.name} reaches beyond the inlay",
            f"It is {format_length(beyond, seen.units)} past the inlay's edge, which is "
            f"{format_length(seen.card.value('envelope.inlay-margin'), seen.units)} inside the envelope's.",
            "There is a hole in the envelope with nothing behind it.",
            item.id,
            tuple(mends),
        )


@CHECKS.add("dress.kiss-without-backer", of=make_dress)
def find_kiss_without_backer(seen: DressSeen) -> Iterator[Finding]:
    """A kiss cut wants something behind it that what is cut can stay on."""
    import shapely

    for dressed in seen.own_of_each():
        item, spot = dressed.item, dressed.spot
        cuts = ink_of(dressed, ("kiss",))
        if spot is None or cuts is None or item.made in ("piece", "guide"):
            continue
        other = "inside" if spot.side == "outside" else "outside"
        behind = [
            polygon(slab.outline)
            for slab in seen.plan.slabs
            if slab.piece.endswith("backer")
            and slab.panel == spot.panel
            and (slab.top <= 0 if other == "inside" else slab.bottom > 0)
        ]
        if spot.to_card is not None and behind:
            own = mapper(spot.to_card)([cuts])[0]
            if shapely.covers(shapely.union_all(behind).buffer(0.05), own):
                continue
        yield Finding(
            "dress.kiss-without-backer",
            "look",
            f"Nothing lies behind {item.name}",
            "It is kiss cut, through the top paper only, and no backer is glued behind it; that is right only for a "
            "paper that comes on a backing of its own.",
            "What is cut falls out, or the mat is what it is peeled from.",
            item.id,
        )
