"""What the checks of the dress look at, and short ways to the changes their mends make."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any, Protocol

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Dress, Item
from dechirer.core.dress.dressed import Dressed, DressPlan
from dechirer.core.dress.spots import Spot, region_of
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.memory import Memory


class Decided(Protocol):
    """The decisions up to this room, by the names that paths begin with: a job, or what checks are given."""

    @property
    def brief(self) -> Brief:
        """The card that is wanted."""

    @property
    def construct(self) -> Construct:
        """How it is made."""

    @property
    def dress(self) -> Dress:
        """What is on its faces."""

    @property
    def units(self) -> str:
        """`in` or `mm`."""


class DressSeen(Struct, frozen=True):
    """The decisions up to here, what is known of papers and card, the dressed card, and the memory of what was found of
    items that have not changed.

    `every` are its items, each once, and `own` those that are not as on the first copy, where they have been listed.
    """

    brief: Brief
    construct: Construct
    dress: Dress
    units: str
    facts: BriefPlan
    card: ConstructPlan
    plan: DressPlan
    memory: Memory
    regions: dict[tuple[str, str], Any] = {}
    every: tuple[Dressed, ...] | None = None
    own: tuple[Dressed, ...] | None = None

    def region(self, spot: Spot, within: str) -> Any:
        """The part of a face an item is placed in; the same on every copy, so it is worked out once."""
        key = (spot.id, within)
        if key not in self.regions:
            safe = self.dress.safe.mm if within != "panel" else 0.0
            self.regions[key] = region_of(spot, within, safe, self.card)
        return self.regions[key]

    def first_of_each(self) -> Iterator[Dressed]:
        """Every item once, on the first copy that has it."""
        return self.plan.first_of_each() if self.every is None else iter(self.every)

    @property
    def is_first(self) -> bool:
        """Whether it is the first copy that is seen: what holds for the whole table is told of that one alone."""
        return self.plan.own is None

    def own_of_each(self) -> Iterator[Dressed]:
        """Every item once; on a later copy those alone that differ from the first, for what is told of an item by
        itself and the card under it."""
        if self.own is not None:
            return iter(self.own)
        own = self.plan.own
        return (each for each in self.first_of_each() if own is None or each.item.id in own)


def path_of(item: Item, *steps: str) -> str:
    """The path of a field of an item in the job."""
    return ".".join(("dress.items", item.id, *steps))


def new_step(item: Item, kind: type[Step], **fields: object) -> Change:
    """The change that adds a step at the end of an item's recipe."""
    return Change(path_of(item, "steps"), (*item.steps, make_step(item, kind, **fields)))


def make_step(item: Item, kind: type[Step], **fields: object) -> Step:
    """A step with an id not yet in the item's recipe; its other measures are those it begins with."""
    taken = {step.id for step in item.steps}
    stem = next(spec.id for spec in STEPS if spec.decisions is kind)
    id = next(f"{stem}-{number}" for number in range(1, 1000) if f"{stem}-{number}" not in taken)
    return kind(id, **fields)


def made_with(decided: Decided, items: Iterable[Item]) -> set[str]:
    """The ids of items and of all that is made of them, fills them or is placed on them."""
    gone = {item.id for item in items}
    while True:
        more = {
            other.id
            for other in decided.dress.items
            if other.id not in gone and gone & structs.replace(other, same_as=None).needs()
        }
        if not more:
            return gone
        gone |= more


def remove_items(decided: Decided, items: Iterable[Item]) -> tuple[Change, ...]:
    """The changes that take items off, and with them what is made of them; what was as large as one of them has its own
    size again."""
    gone = made_with(decided, items)
    left = []
    for each in decided.dress.items:
        if each.id not in gone:
            mate = None if each.mate in gone else each.mate
            left.append(structs.replace(each, mate=mate, same_as=None if each.same_as in gone else each.same_as))
    return (Change("dress.items", tuple(left)),)
