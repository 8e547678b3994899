"""Several items of a face at one time: moved, lined up, spread, put in order, kept together, as changes to the job."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

from msgspec import structs

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Item, Place
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import exact_mm, new_id, place_exactly
from dechirer.core.dress.seen import Decided

Edge = Literal["left", "middle", "right", "top", "centre", "bottom"]
"""What of items is lined up: a side of their boxes, their middles across, or their centres down."""
EDGES: dict[Edge, tuple[str, int]] = {
    "left": ("Left sides", 0),
    "middle": ("Middles, one above the other", 0),
    "right": ("Right sides", 0),
    "top": ("Tops", 1),
    "centre": ("Middles, side by side", 1),
    "bottom": ("Bottoms", 1),
}
"""Each edge in words, and which way items are moved to bring it in line: 0 across, 1 down."""


def may_move(item: Item) -> bool:
    """Whether an item lies where its own place says, and not where what it is made of or fills does."""
    return item.of is None and item.fit_in is None and (item.words is None or item.words.fit != "shape")


def group_of(job: Decided, item: Item) -> tuple[str, ...]:
    """The ids of the items that are kept together with one on its face, itself among them, as they are listed."""
    if item.together is None:
        return (item.id,)
    return tuple(each.id for each in job.dress.items if each.together == item.together and each.face == item.face)


def keep_together(job: Decided, items: Sequence[Item]) -> tuple[Change, ...]:
    """Items that are picked and moved as one from now on; what they were together with before stays behind."""
    name = new_id(job, "set", *(each.together for each in job.dress.items if each.together))
    return _each(items, "together", name)


def let_apart(items: Sequence[Item]) -> tuple[Change, ...]:
    """Items that are picked and moved each by itself again."""
    return _each(items, "together", None)


def move_several(dressed: Iterable[Dressed], dx: float, dy: float) -> tuple[Change, ...]:
    """Items moved by exactly so much (mm), each kept to the left and the top of its region."""
    return tuple(change for each in dressed if may_move(each.item) for change in _put(each, dx, dy))


def line_up(dressed: Sequence[Dressed], edge: Edge) -> tuple[Change, ...]:
    """Items moved so that an edge of their boxes is in line with that of the outermost, or with the middle of all."""
    movable = [each for each in dressed if may_move(each.item)]
    axis = EDGES[edge][1]
    low = min(each.placed.source[axis] for each in dressed)
    high = max(each.placed.source[axis + 2] for each in dressed)
    changes: list[Change] = []
    for each in movable:
        first, last = each.placed.source[axis], each.placed.source[axis + 2]
        if edge in ("left", "top"):
            by = low - first
        elif edge in ("right", "bottom"):
            by = high - last
        else:
            by = (low + high - first - last) / 2
        changes += _put_along(each, axis, by)
    return tuple(changes)


def spread(dressed: Sequence[Dressed], axis: int) -> tuple[Change, ...]:
    """Items moved so that the gaps between them are equal, the outermost staying; fewer than three stay as they are.

    Args:
        axis: 0 across, 1 down.
    """
    movable = sorted(
        (each for each in dressed if may_move(each.item)),
        key=lambda each: each.placed.source[axis] + each.placed.source[axis + 2],
    )
    if len(movable) < 3:
        return ()
    sizes = [each.placed.source[axis + 2] - each.placed.source[axis] for each in movable]
    first, last = movable[0].placed.source[axis], movable[-1].placed.source[axis + 2]
    gap = (last - first - sum(sizes)) / (len(movable) - 1)
    changes: list[Change] = []
    at = first
    for each, size in zip(movable, sizes, strict=True):
        changes += _put_along(each, axis, at - each.placed.source[axis])
        at += size + gap
    return tuple(changes)


def put_in_order(job: Decided, topmost_first: Sequence[str]) -> tuple[Change, ...]:
    """The items with some of them in another order among themselves; all others keep their places."""
    own = set(topmost_first)
    wanted = iter([item for id in reversed(topmost_first) if (item := job.dress.item(id)) is not None])
    items = tuple(next(wanted) if each.id in own else each for each in job.dress.items)
    return (Change("dress.items", items),) if items != job.dress.items else ()


def _each(items: Iterable[Item], name: str, value: object) -> tuple[Change, ...]:
    return tuple(Change(f"dress.items.{item.id}.{name}", value) for item in items)


def _put(dressed: Dressed, dx: float, dy: float) -> tuple[Change, ...]:
    left, top, _, _ = dressed.placed.source
    region = dressed.placed.region
    return _placed(dressed, place_exactly(dressed.item, left + dx - region[0], top + dy - region[1]))


def _put_along(dressed: Dressed, axis: int, by: float) -> tuple[Change, ...]:
    """Moved along one axis; what keeps it along the other stays. One that is in line already stays as it is."""
    if abs(by) < 5e-4:
        return ()
    at = exact_mm(dressed.placed.source[axis] + by - dressed.placed.region[axis])
    place = dressed.item.place
    if axis == 0:
        return _placed(dressed, structs.replace(place, across="left", x=at))
    return _placed(dressed, structs.replace(place, down="top", y=at))


def _placed(dressed: Dressed, place: Place) -> tuple[Change, ...]:
    return (Change(f"dress.items.{dressed.item.id}.place", place),)
