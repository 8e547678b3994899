"""Taking an item apart: an item for each of its outlines, as large and where it is now."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Item
from dechirer.core.dress.drawn import Drawn
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import exact_mm, new_id, place_exactly
from dechirer.core.dress.outline import items_of, keep_one, parts_in_order
from dechirer.core.dress.place import turn_of
from dechirer.core.dress.seen import Decided
from dechirer.core.dress.steps.which import Take

MOST_PARTS = 40


def take_apart(job: Decided, dressed: Dressed) -> tuple[Change, ...]:
    """An item of several outlines as an item for each, as large and where it is now; in its place in the list.

    What is made of the whole item keeps it, as a guide. Nothing is changed for an item that has gone since it was
    drawn.
    """
    if job.dress.item(dressed.item.id) is None:
        return ()
    item, start = dressed.item, dressed.placed.start
    turn = turn_of(item.place)
    upright = start.moved(turn.inverse())
    outlines = parts_in_order(upright)
    found: list[Item] = []
    for number in range(min(len(outlines), MOST_PARTS)):
        one = keep_one(upright, outlines, number)
        lies = {} if item.of is not None else _as_it_lies(item, one, one.moved(turn), dressed)
        name = f"{item.name} {number + 1}"
        id = new_id(job, name, *(each.id for each in found))
        found.append(structs.replace(item, id=id, name=name[:120], part=number + 1, **lies))
    kept = [each for each in job.dress.items if each.id != item.id]
    if any(item.id in each.needs() for each in kept):
        return (Change("dress.items", (*kept, structs.replace(item, made="guide"), *found)),)
    at = [each.id for each in job.dress.items].index(item.id)
    return (Change("dress.items", (*kept[:at], *found, *kept[at:])),)


def take_as_part(dressed: Dressed) -> tuple[Change, ...]:
    """An item whose recipe begins by taking one outline of the whole, as that outline: its size and place are then the
    outline's, and it stays as large and where it is."""
    item = dressed.item
    first = item.steps[0]
    assert isinstance(first, Take)
    turn = turn_of(item.place)
    upright = dressed.placed.start.moved(turn.inverse())
    by_size, in_order = items_of(upright), parts_in_order(upright)
    outline = by_size[min(first.count, len(by_size)) - 1]
    number = in_order.index(outline)
    one = keep_one(upright, in_order, number)
    lies = _as_it_lies(item, one, one.moved(turn), dressed)
    path = f"dress.items.{item.id}"
    changes = {"part": number + 1, "steps": item.steps[1:], **lies}
    return tuple(Change(f"{path}.{name}", value) for name, value in changes.items())


def _as_it_lies(item: Item, upright: Drawn, turned: Drawn, dressed: Dressed) -> dict[str, object]:
    """Size and place of one outline; a side that followed from the other, or from the art, still does."""
    left, top, right, bottom = upright.box()
    sizes: dict[str, object] = {"width": None, "height": None, "fit_in": None, "same_as": None}
    fitted = (
        item.fit_in is not None
        or item.same_as is not None
        or (item.words is not None and item.words.fit not in ("size", "arc"))
    )
    if (item.width is not None or fitted) and right > left:
        sizes["width"] = exact_mm(right - left)
    if item.height is not None and bottom > top:
        sizes["height"] = exact_mm(bottom - top)
    box, region = turned.box(), dressed.placed.region
    return {**sizes, "place": place_exactly(item, box[0] - region[0], box[1] - region[1])}
