"""Checks of what is glued on, stuck on and put in: foam that has no room, things too large for where they lie, backers
that are at hand and too small or too large, small parts."""

from __future__ import annotations

import math
from collections.abc import Iterator

from dechirer.core.card.assembly import Slab
from dechirer.core.decide.change import Change
from dechirer.core.dress.checks.place import as_guide, ink_of, ink_within
from dechirer.core.dress.decisions import AT_HAND
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import exact_mm, make_as, place_in_middle
from dechirer.core.dress.glued import foam_areas
from dechirer.core.dress.outline import items_of
from dechirer.core.dress.own_pieces import backer_areas
from dechirer.core.dress.seen import DressSeen, path_of
from dechirer.core.dress.spots import Spot
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import format_length, format_size, parse_length
from dechirer.core.shape.algebra import polygon

SMALL_PART_MM = 31.7
"""What goes into a cylinder of this diameter is a small part (16 CFR 1501.4)."""
SLACK_MM = 0.1


@CHECKS.add("dress.foam-narrow", of=make_dress)
def find_foam_without_room(seen: DressSeen) -> Iterator[Finding]:
    """Foam under something too narrow for it."""
    for dressed in seen.own_of_each():
        item = dressed.item
        if not item.foam.mm or item.made not in ("piece", "stuck") or dressed.placed.drawn.is_empty:
            continue
        bare = sum(not foam_areas(area) for area in items_of(dressed.placed.drawn))
        if bare:
            number = "part of it is" if bare == 1 else f"{bare} parts of it are"
            yield Finding(
                "dress.foam-narrow",
                "look",
                f"There is no room for foam under {item.name}",
                f"{number.capitalize()} too narrow: foam is set in from the edge so that it does not show.",
                "The foam shows, or it does not hold.",
                item.id,
                (Mend("Glue it flat", (Change(path_of(item, "foam"), parse_length("0 mm")),)),),
            )


@CHECKS.add("dress.held-large", "dress.held-thick", of=make_dress)
def find_what_does_not_go_in(seen: DressSeen) -> Iterator[Finding]:
    """What is put in lies inside the closed card, and goes into the pocket it is in."""
    for dressed in seen.first_of_each():
        item, spot = dressed.item, dressed.spot
        if item.made != "held" or spot is None or dressed.placed.drawn.is_empty:
            continue
        pocket = _pocket_over(seen, dressed, spot)
        if pocket is not None:
            yield from _too_thick(seen, dressed, pocket)
        elif spot.side == "outside" and spot.panel:
            inside = next((each for each in seen.plan.spots if each.side == "inside" and "/" not in each.id), None)
            mends = [as_guide(item)]
            if inside is not None and inside.width >= _wide(dressed) and inside.height >= _high(dressed):
                changes = (Change(path_of(item, "face"), inside.id), *place_in_middle(item))
                mends.insert(0, Mend(f"Put it on the {inside.title}", changes))
            yield Finding(
                "dress.held-large",
                "look",
                f"{item.name} is put on the outside",
                f"It lies loose on the {spot.title}, and nothing holds it there.",
                "It falls off.",
                item.id,
                tuple(mends),
            )


def _too_thick(seen: DressSeen, dressed: Dressed, pocket: Slab) -> Iterator[Finding]:
    item = dressed.item
    left, _, right, _ = polygon(pocket.outline).bounds
    room = right - left - 2 * _rim_of(seen, pocket)
    need = _wide(dressed) + item.thick.mm
    if need <= room + SLACK_MM:
        return
    mends = [as_guide(item)]
    if room - _wide(dressed) >= 0.01:
        thin = exact_mm(math.floor((room - _wide(dressed)) * 100) / 100)
        mends.insert(0, Mend(f"No thicker than {thin}", (Change(path_of(item, "thick"), thin),)))
    yield Finding(
        "dress.held-thick",
        "stop",
        f"{item.name} does not go into the {pocket.piece}",
        f"It takes {format_length(need, seen.units)} across with its thickness; between the glued edges there are "
        f"{format_length(room, seen.units)}.",
        "The pocket bursts or buckles.",
        item.id,
        tuple(mends),
    )


def _pocket_over(seen: DressSeen, dressed: Dressed, spot: Spot) -> Slab | None:
    """The pocket an item lies in, if any."""
    if spot.to_card is None:
        return None
    left, top, right, bottom = dressed.placed.drawn.box()
    pockets = {each.id for each in seen.construct.pockets}
    middle = spot.to_card(((left + right) / 2, (top + bottom) / 2))
    for slab in seen.card.slabs:
        if slab.panel == spot.panel and slab.piece in pockets:
            box = polygon(slab.outline).bounds
            if box[0] <= middle[0] <= box[2] and box[1] <= middle[1] <= box[3]:
                return slab
    return None


def _rim_of(seen: DressSeen, pocket: Slab) -> float:
    """How far in a pocket is glued, in mm."""
    return next(float(each.rim.mm) for each in seen.construct.pockets if each.id == pocket.piece)


def _wide(dressed: Dressed) -> float:
    left, _, right, _ = dressed.placed.drawn.box()
    return right - left


def _high(dressed: Dressed) -> float:
    _, top, _, bottom = dressed.placed.drawn.box()
    return bottom - top


@CHECKS.add("dress.backer-beyond", of=make_dress)
def find_backer_past_its_panel(seen: DressSeen) -> Iterator[Finding]:
    """A backer that is at hand and does not go on the panel behind its opening."""
    for dressed in seen.first_of_each():
        item, spot = dressed.item, dressed.spot
        size = item.backer_size
        if (
            size is None
            or spot is None
            or item.made != "window"
            or item.paper is None
            or not dressed.placed.drawn.areas
        ):
            continue
        panel = polygon(spot.outline).buffer(SLACK_MM)
        if all(panel.covers(area) for area in backer_areas(dressed, spot)):
            continue
        shown = format_size(size.width.mm, size.height.mm, seen.units)
        mends = [Mend("Cut one that goes", (Change(path_of(item, "backer_size"), None),))]
        if size.width.mm <= spot.width and size.height.mm <= spot.height and item.of is None:
            mends.append(Mend("Put the opening in the middle", place_in_middle(item)))
        yield Finding(
            "dress.backer-beyond",
            "stop",
            f"The backer of {item.name} reaches past its panel",
            f"It is there in {shown}; with its middle behind the opening it lies over an edge or a fold.",
            "It shows past the edge, or the fold does not close.",
            item.id,
            tuple(mends),
        )


@CHECKS.add("dress.small-parts", of=make_dress)
def find_small_parts(seen: DressSeen) -> Iterator[Finding]:
    """Gems and the like choke small children."""
    small = [
        dressed
        for dressed in seen.first_of_each()
        if dressed.item.made in AT_HAND
        and dressed.spot is not None
        and not dressed.placed.drawn.is_empty
        and any(
            max(a.bounds[2] - a.bounds[0], a.bounds[3] - a.bounds[1]) < SMALL_PART_MM
            for a in items_of(dressed.placed.drawn)
        )
    ]
    if small:
        names = ", ".join(dressed.item.name for dressed in small[:3])
        yield Finding(
            "dress.small-parts",
            "note",
            "Small parts come off",
            f"Smaller than {SMALL_PART_MM} mm: {names}. Keep the card from children under three; local rules come "
            "first.",
            "A small child can choke on them.",
            small[0].item.id,
        )


DRAWN = ("pen", "foil", "print", "kiss", "score", "perforate")
HIDDEN_SHARE = 0.05


@CHECKS.add("dress.under-piece", of=make_dress)
def find_what_is_glued_over(seen: DressSeen) -> Iterator[Finding]:
    """What is drawn or printed on a face where a piece is glued over it."""
    import shapely

    items = list(seen.first_of_each())
    # On a later copy, of two that are as on the first it has been told.
    own = {dressed.item.id for dressed in seen.own_of_each()}
    over = [dressed for dressed in items if dressed.item.made in ("piece", "stuck")]
    for dressed in items:
        item, spot = dressed.item, dressed.spot
        others = [
            other
            for other in over
            if other.item.face == item.face and other is not dressed and (item.id in own or other.item.id in own)
        ]
        if not others or spot is None or item.made in ("piece", "guide", *AT_HAND):
            continue
        ink = ink_of(dressed, DRAWN)
        for other in others if ink is not None else ():
            cover = shapely.union_all(items_of(other.placed.drawn))
            under = ink_within(ink, cover)
            whole, hidden = (each.area or each.length for each in (ink, under))
            if whole and hidden / whole > HIDDEN_SHARE:
                yield Finding(
                    "dress.under-piece",
                    "look",
                    f"{other.item.name} is glued over {item.name}",
                    f"{item.name} is put on the {spot.title} itself; {100 * hidden / whole:.0f} % of it lies under "
                    f"{other.item.name}, which is cut and glued on.",
                    "It is drawn and then covered.",
                    item.id,
                    (
                        Mend("Make it a piece on top", make_as(seen, item, "piece")),
                        as_guide(item),
                    ),
                )
                break
