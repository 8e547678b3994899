"""Gathering: what was taken out of one file comes together on a face as it lies in the file."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Item
from dechirer.core.dress.drawn import Drawn
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import exact_mm, place_exactly
from dechirer.core.dress.place import turn_of
from dechirer.core.dress.seen import Decided
from dechirer.core.dress.source import Given, draw_source
from dechirer.core.memory import Memory
from dechirer.core.shape.affine import Affine


def gather(job: Decided, dressed: Dressed) -> tuple[Change, ...]:
    """The other items of its face that are drawn from the same file come to where they lie in the file beside it, at
    its scale, turned and mirrored as it is; nothing when there are none.

    What is locked stays, as does a second item of the same outlines. Exact to a thousandth of a millimetre.
    """
    item, placed = dressed.item, dressed.placed
    if item.art is None or placed.start.is_empty:
        return ()
    scale = Affine(a=placed.scale, d=placed.scale / placed.stretch)
    onto = scale.then(turn_of(item.place))
    left, top, _, _ = _as_filed(job, item).moved(onto).box()
    shift = Affine(e=placed.source[0] - left, f=placed.source[1] - top)
    taken = {_outlines_of(item)}
    found: dict[str, Item] = {}
    for other in job.dress.items:
        is_one = other.art == item.art and other.face == item.face and not other.locked
        if not is_one or _outlines_of(other) in taken:
            continue
        taken.add(_outlines_of(other))
        filed = _as_filed(job, other)
        if not filed.is_empty:
            box = filed.moved(onto).moved(shift).box()
            place = place_exactly(item, box[0] - placed.region[0], box[1] - placed.region[1])
            sizes = _sizes(filed.moved(scale), stretched=abs(placed.stretch - 1) > 1e-9)
            found[other.id] = structs.replace(other, place=place, anchor=item.anchor, **sizes)
    if not found:
        return ()
    return (Change("dress.items", tuple(found.get(each.id, each) for each in job.dress.items)),)


def _outlines_of(item: Item) -> tuple[str | None, int | None]:
    """Which outlines of its file an item takes."""
    return item.group, item.part


def _as_filed(job: Decided, item: Item) -> Drawn:
    """The item's outlines where they lie in their file, in the file's own size."""
    art = next((each for each in job.dress.art if each.id == item.art), None)
    if art is None:
        return Drawn()
    return draw_source(item, Given(art, "", job.dress.fonts, {}, Memory()), 1.0).drawn


def _sizes(upright: Drawn, *, stretched: bool) -> dict[str, object]:
    """Width, and height where the ratio is not kept or there is no width."""
    left, top, right, bottom = upright.box()
    width = exact_mm(right - left) if right - left >= 1 else None
    height = exact_mm(bottom - top) if (stretched or width is None) and bottom - top >= 1 else None
    return {"width": width, "height": height, "fit_in": None, "same_as": None}
