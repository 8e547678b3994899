"""From the card and the decisions to the dressed pieces: what is on each face as seen, and where it lands on the flat.

Everything of an item is worked out on its face as seen, at its final size; only then is it mapped to the flat piece.
"""

from __future__ import annotations

from collections.abc import Container

from msgspec import structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.card.piece import Piece
from dechirer.core.card.stack import Stacked
from dechirer.core.construct.whole import CardPlan, ConstructPlan
from dechirer.core.dress.decisions import Dress, Item
from dechirer.core.dress.dressed import Dressed, DressPlan, Weak, undressed
from dechirer.core.dress.glued import GLUED, stack_dress
from dechirer.core.dress.landing import land
from dechirer.core.dress.place import place_item
from dechirer.core.dress.placed import Placed
from dechirer.core.dress.source import Given, depends_on
from dechirer.core.dress.spots import Spot, find_spots
from dechirer.core.dress.weak import find_weak
from dechirer.core.dress.words.copies import Copy, fill_in, has_blanks, item_on, list_copies
from dechirer.core.figure import Figure
from dechirer.core.stations import Work
from dechirer.core.stopping import checkpoint

SIZE_DIGITS = 9
"""Sizes of ink are told so finely (mm): what was only moved is exactly as large as it was."""


def stack_card(brief: Brief, dress: Dress, facts: BriefPlan, card: CardPlan, work: Work) -> Stacked:
    """The card as it will be, with all that its own faces carry: what lies on what, and how large and thick it is."""
    spots = find_spots(card)
    faces = {spot.id for spot in spots}
    copies = list_copies(dress, brief.count)
    items = place_all(dress, facts, spots, card, copies, work, only=faces)
    glued = [dressed for dressed in items if dressed.item.made in GLUED]
    first = tuple(dressed for dressed in glued if not dressed.copy.number)
    return stack_dress(card, facts, first, tuple(dressed for dressed in glued if dressed.copy.number))


def place_all(
    dress: Dress,
    facts: BriefPlan,
    spots: tuple[Spot, ...],
    card: CardPlan,
    copies: tuple[Copy, ...],
    work: Work,
    only: Container[str] | None = None,
) -> list[Dressed]:
    """Every item on its face: all of the first copy, and of later ones those that differ.

    Args:
        only: the faces whose items are placed; all of them when it is None.
    """
    by_id = {spot.id: spot for spot in spots}
    items: list[Dressed] = []
    first: dict[str, Placed] = {}
    differ = find_differing(dress) if len(copies) > 1 else frozenset()
    order = _in_order(dress)
    for copy in copies:
        placed: dict[str, Placed] = {}
        for item in order:
            if work.cancelled():
                break
            if only is not None and item.face not in only:
                continue
            if copy.number and item.id not in differ:
                placed[item.id] = first[item.id]
                continue
            own = item_on(item, copy, dress)
            if own is not None:
                placed[item.id] = _recall(own, dress, by_id, card, placed, copy, work)
        first = first if copy.number else placed
        for item in dress.items:
            if item.id in placed and (not copy.number or item.id in differ):
                own, mine = item_on(item, copy, dress) or item, placed[item.id]
                sizes, places = _measure(own, mine, copy), _measure_place(own, mine, copy)
                items.append(Dressed(own, by_id.get(item.face), mine, copy, *sizes, *places))
    return items


def make_dress(
    brief: Brief, dress: Dress, facts: BriefPlan, card: ConstructPlan, stacked: Stacked, work: Work
) -> DressPlan:
    """Place every item and give the pieces their lines.

    Args:
        work: how; coarse flattens and offsets roughly, for a picture while a measure is dragged.
    """
    if not dress.items:
        return undressed(card, stacked)
    spots = find_spots(card)
    copies = list_copies(dress, brief.count)
    items = place_all(dress, facts, spots, card, copies, work)
    landed = land(card, facts, brief, tuple(items), copies, dress.pen_tip.mm, work.memory)
    count = Figure(
        "dress.items",
        "on the faces",
        float(len(dress.items)),
        "count",
        source=f"{sum(item.art is not None for item in dress.items)} of art, "
        f"{sum(item.words is not None for item in dress.items)} of words, "
        f"{sum(item.of is not None for item in dress.items)} made of another item",
    )
    plan = DressPlan(
        spots,
        tuple(items),
        landed.pieces,
        stacked.slabs,
        landed.marks,
        copies,
        count,
        _count_pieces(card, landed.pieces),
        at_hand=(*card.at_hand, *landed.at_hand),
        other_marks=landed.others,
    )
    return plan if work.coarse else structs.replace(plan, weak=_find_all_weak(plan, brief, facts, work))


def _find_all_weak(plan: DressPlan, brief: Brief, facts: BriefPlan, work: Work) -> tuple[Weak, ...]:
    """The weak places on the first copy, and those of each later copy's own items."""
    found = list(find_weak(tuple(plan.first_of_each()), brief, facts, work.memory))
    for copy, dress in plan.later_copies():
        if work.cancelled():
            break
        own = {dressed.item.id for dressed in dress.items if dressed.copy.number == copy.number}
        weak = find_weak(dress.items, brief, facts, work.memory, own)
        found += [structs.replace(each, copy=copy.number) for each in weak]
    return tuple(found)


def _count_pieces(card: ConstructPlan, pieces: tuple[Piece, ...]) -> Figure:
    """Every piece to be cut, those the dress adds included."""
    total = float(sum(piece.count for piece in pieces))
    built = structs.replace(card.piece_count, key="construct.pieces.card", name="pieces of the card")
    if total == built.value:
        return card.piece_count
    extra = Figure(
        "dress.pieces",
        "pieces of the dress",
        total - built.value,
        "count",
        source="cut from papers of their own and glued on or behind",
    )
    return Figure(
        "construct.pieces",
        "pieces",
        total,
        "count",
        formula="{pieces of the card} + {pieces of the dress}",
        inputs=(built, extra),
    )


def _in_order(dress: Dress) -> list[Item]:
    """Items so that each comes after those it is made of or asks for, and those that ask for what stands in its place
    where that leaves no circle."""
    needs = {item.id: item.needs() for item in dress.items}
    more = dict(needs)
    for place, column in enumerate(dress.copies.columns):
        if column.carries in more:
            stands = {row.entries[place] for row in dress.copies.rows} & needs.keys()
            more[column.carries] = more[column.carries].union(*(needs[stand] for stand in stands))
    done = _sort(dress.items, more)
    return done if len(done) == len(dress.items) else _sort(dress.items, needs)


def _sort(items: tuple[Item, ...], needs: dict[str, set[str]]) -> list[Item]:
    """Items so that each comes after those it needs; those that wait for each other are left out."""
    done: list[Item] = []
    ready: set[str] = set()
    waiting = list(items)
    while waiting:
        for item in waiting:
            if needs[item.id] <= ready:
                done.append(item)
                ready.add(item.id)
                waiting.remove(item)
                break
        else:
            break  # the model refuses circles
    return done


def find_differing(dress: Dress) -> frozenset[str]:
    """The items that differ from copy to copy: by their own words, by what stands in their place, or by an item they
    are made of."""
    names = dress.copies.words
    carried = {column.carries for column in dress.copies.columns}
    found = {
        item.id
        for item in dress.items
        if item.id in carried or (item.words is not None and has_blanks(item.words.text, names))
    }
    while True:
        more = {item.id for item in dress.items if item.id not in found and item.needs() & found}
        if not more:
            return frozenset(found)
        found |= more


def _recall(
    item: Item,
    dress: Dress,
    spots: dict[str, Spot],
    card: CardPlan,
    placed: dict[str, Placed],
    copy: Copy,
    work: Work,
) -> Placed:
    """An item placed, remembered by all that it depends on."""
    spot = spots.get(item.face)
    others = {each.id: spots.get(each.face) for each in dress.items if each.id in item.needs()}
    needed = {
        other: seen_from(placed[other], others.get(other), spot) for other in sorted(item.needs()) if other in placed
    }
    given = Given(
        next((art for art in dress.art if art.id == item.art), None),
        fill_in(item.words.text, copy) if item.words else "",
        dress.fonts if item.words else (),
        needed,
        work.memory,
        work.coarse,
    )
    sight = (card.slabs, card.tree) if item.place.within == "visible" else ()
    made_of = tuple((name, each.serial, others.get(name)) for name, each in needed.items())
    safe = dress.safe.mm
    key = ("placed", depends_on(item), given.art, given.text, given.fonts, spot, safe, made_of, sight, work.coarse)
    is_shown = not copy.number  # the stages of a recipe are, and a row may come to be the first one

    def place() -> Placed:
        checkpoint("placing it", item.id)
        found = place_item(item, given, spot, card, safe)
        return found if is_shown else structs.replace(found, stages=())

    return work.memory.recall((*key, is_shown or not item.steps), place)


def seen_from(placed: Placed, spot: Spot | None, other: Spot | None) -> Placed:
    """What lies on one side of a panel as it lies seen from its other side; elsewhere as it is."""
    if spot is None or other is None or not spot.panel or spot.panel != other.panel or spot.side == other.side:
        return placed
    if spot.to_card is None or other.to_card is None or spot.piece != other.piece:
        return placed
    through = spot.to_card.then(other.to_card.inverse())
    return structs.replace(placed, drawn=placed.drawn.moved(through))


def _measure(item: Item, placed: Placed, copy: Copy) -> tuple[Figure, Figure]:
    """The size of an item's own ink, and where it comes from."""
    left, top, right, bottom = placed.source
    key = f"{item.id}.{{}}" if not copy.number else f"{item.id}.{copy.number}.{{}}"
    found = []
    for side, value in (("width", right - left), ("height", bottom - top)):
        typed = getattr(item, side) is not None and not item.place.turn_deg % 180
        found.append(
            Figure(
                key.format(f"ink-{side}"),
                f"{item.name} {side}",
                round(value, SIZE_DIGITS),
                field=f"dress.items.{item.id}.{side}" if typed else None,
                source="" if typed else placed.sizing,
                note=placed.note,
            )
        )
    return found[0], found[1]


def _measure_place(item: Item, placed: Placed, copy: Copy) -> tuple[Figure, Figure]:
    """How far its ink lies from the left and the top of its region, and what keeps it there."""
    key = f"{item.id}.{{}}" if not copy.number else f"{item.id}.{copy.number}.{{}}"
    found = []
    for axis, side, low in (("across", "left", 0), ("down", "top", 1)):
        value = placed.source[low] - placed.region[low]
        kept, by = getattr(item.place, axis), getattr(item.place, "x" if axis == "across" else "y")
        field = f"dress.items.{item.id}.place.{side}"
        words = {"middle": "kept in the middle", side: "typed"}.get(kept, f"kept {by} from the {kept}")
        if kept == "middle" and by.mm:
            words = f"kept {by} off the middle"
        if item.of is not None and item.place.across == "middle":
            words = "where what it is made of lies"
        found.append(
            Figure(
                key.format(side),
                f"{item.name} from the {side}",
                value,
                field=field if kept == side else None,
                source="" if kept == side else words,
            )
        )
    return found[0], found[1]
