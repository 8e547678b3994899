"""The plan of the dress as a value: what is on each face, the dressed pieces, the marks. Light to import: a card with
nothing on its faces needs no more of this room."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct, structs

from dechirer.core.card.assembly import Slab
from dechirer.core.card.piece import Piece
from dechirer.core.card.stack import AtHand, Stacked
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.dress.decisions import WITHOUT, Item
from dechirer.core.dress.mark import Mark
from dechirer.core.dress.placed import Placed
from dechirer.core.dress.spots import Spot, find_spots
from dechirer.core.dress.words.copies import Copy
from dechirer.core.figure import Figure
from dechirer.core.shape.affine import Point
from dechirer.core.shape.webs import Narrow


class Dressed(Struct, frozen=True):
    """An item on its face: how it was placed for one copy, the spot it is on (None: the card has no such face), and
    its figures."""

    item: Item
    spot: Spot | None
    placed: Placed
    copy: Copy
    width: Figure
    height: Figure
    left: Figure
    top: Figure


class Weak(Struct, frozen=True):
    """The weak places of one item: narrow ones of the paper that is left, narrow ones of what is taken out, the middles
    of islands, and what its paper holds (mm); `copy` is the number of the copy it is looked at on."""

    item: str
    spot: str
    holds: float
    narrow: tuple[Narrow, ...] = ()
    slim: tuple[Narrow, ...] = ()
    islands: tuple[Point, ...] = ()
    copy: int = 0


class DressPlan(Struct, frozen=True):
    """Every face that can be dressed, what is on it, and the pieces with their lines.

    `pieces` are the card's with the lines of the dress, and the pieces it adds; `slabs` the card's with its openings;
    `marks` what is seen of the dress on each face. `copies` are the wordings, `count` how many words are set in all;
    `at_hand` is what is wanted and not cut; `other_marks` are those of later kinds of copies,
    `shown` is the kind in front. Of a later copy, `own` are the ids of the items that are not those of the first.
    """

    spots: tuple[Spot, ...]
    items: tuple[Dressed, ...]
    pieces: tuple[Piece, ...]
    slabs: tuple[Slab, ...]
    marks: tuple[Mark, ...]
    copies: tuple[Copy, ...]
    count: Figure
    piece_count: Figure
    weak: tuple[Weak, ...] = ()
    at_hand: tuple[AtHand, ...] = ()
    other_marks: dict[int, tuple[Mark, ...]] = {}
    shown: int = 0
    own: frozenset[str] | None = None

    def spot(self, spot_id: str) -> Spot | None:
        """The face of that id, or None."""
        return next((spot for spot in self.spots if spot.id == spot_id), None)

    def item(self, item_id: str) -> Dressed | None:
        """The item of that id as it is on the first copy, or None."""
        return next((dressed for dressed in self.items if dressed.item.id == item_id), None)

    def first_of_each(self) -> Iterator[Dressed]:
        """Every item once, on the first copy that has it."""
        seen: set[str] = set()
        for dressed in self.items:
            if dressed.item.id not in seen:
                seen.add(dressed.item.id)
                yield dressed

    def later_copies(self) -> Iterator[tuple[Copy, DressPlan]]:
        """Each later copy that has words of its own, and the dress as it has it: its own, and what all copies share."""
        own = self._own()
        weak: dict[int, list[Weak]] = {}
        for each in self.weak:
            weak.setdefault(each.copy, []).append(each)
        first = tuple(self.first_of_each())
        for copy in self.copies[1:]:
            mine = own.get(copy.number)
            if mine:
                items = tuple(self._on_copy(copy, first, mine))
                shared = (each for each in weak.get(0, ()) if each.item not in mine)
                weak_here = (*shared, *weak.get(copy.number, ()))
                yield copy, structs.replace(self, items=items, weak=weak_here, own=frozenset(mine))

    def _own(self) -> dict[int, dict[str, Dressed]]:
        """The items each kind of copies has of its own, by the kind's number and their ids."""
        own: dict[int, dict[str, Dressed]] = {}
        for dressed in self.items:
            own.setdefault(dressed.copy.number, {})[dressed.item.id] = dressed
        return own

    def _on_copy(self, copy: Copy, first: tuple[Dressed, ...], mine: dict[str, Dressed]) -> Iterator[Dressed]:
        gone = {item for item, entry in copy.stands if entry == WITHOUT}
        for dressed in first:
            if dressed.item.id not in gone:
                yield mine.get(dressed.item.id, dressed)

    def as_copy(self, number: int) -> DressPlan:
        """The dress as one kind of copies has it; the first kind where there is no such one, or it cannot be shown."""
        copy = next((each for each in self.copies if each.number == number), None)
        if copy is None or not number or len(self.copies) < 2:
            return self
        items = tuple(self._on_copy(copy, tuple(self.first_of_each()), self._own().get(number, {})))
        differ = {dressed.item.id for dressed in self.items if dressed.copy.number}
        differ |= {item for each in self.copies for item, _ in each.stands}
        marks = (*(mark for mark in self.marks if mark.item not in differ), *self.other_marks.get(number, ()))
        order = {dressed.item.id: place for place, dressed in enumerate(items)}
        marks = tuple(sorted(marks, key=lambda mark: order.get(mark.item, -1)))
        return structs.replace(self, items=items, marks=marks, shown=number)

    def on(self, spot_id: str) -> tuple[Dressed, ...]:
        """The items of a face on the first copy that has each, from back to front."""
        found: dict[str, Dressed] = {}
        for dressed in self.items:
            if dressed.item.face == spot_id:
                found.setdefault(dressed.item.id, dressed)
        return tuple(found.values())

    def piece(self, piece_id: str) -> Piece | None:
        """The dressed piece of that id, or None."""
        return next((piece for piece in self.pieces if piece.id == piece_id), None)

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the dress."""
        found = [self.count, self.piece_count]
        for dressed in self.items:
            found += [dressed.width, dressed.height, dressed.left, dressed.top]
        for piece in self.pieces:
            found += [piece.width, piece.height]
        return tuple(found)


def undressed(construct: ConstructPlan, stacked: Stacked) -> DressPlan:
    """The faces of a card with nothing on them."""
    none = Figure("dress.items", "on the faces", 0.0, "count", source="nothing is on a face yet")
    return DressPlan(
        find_spots(construct),
        (),
        construct.pieces,
        stacked.slabs,
        (),
        (),
        none,
        construct.piece_count,
        (),
        construct.at_hand,
    )
