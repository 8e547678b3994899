"""Checks of the dress: the list, and what every check looks at. The checks stand in files of their own by subject."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.construct.construct import ConstructPlan
from dechirer.core.dress.dressed import Dressed, DressPlan
from dechirer.core.finding import CheckList
from dechirer.core.job.dressing import Item, Step, StepKind
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job


class DressContext(Struct, frozen=True):
    """What the dress's checks look at."""

    job: Job
    brief: BriefPlan
    construct: ConstructPlan
    dress: DressPlan

    def first_of_each(self) -> Iterator[Dressed]:
        """Every item once, on the first copy that has it."""
        seen: set[str] = set()
        for dressed in self.dress.items:
            if dressed.item.id not in seen:
                seen.add(dressed.item.id)
                yield dressed


CHECKS: CheckList[DressContext] = CheckList("dress")


def path_of(item: Item, *steps: str) -> str:
    """The path of a field of an item in the job."""
    return ".".join(("dress.items", item.id, *steps))


def new_step(item: Item, kind: StepKind, **fields: object) -> Change:
    """The change that adds a step at the end of an item's recipe."""
    return Change(path_of(item, "steps"), (*item.steps, make_step(item, kind, **fields)))


def make_step(item: Item, kind: StepKind, **fields: object) -> Step:
    """A step with an id not yet in the item's recipe."""
    taken = {step.id for step in item.steps}
    id = next(f"{kind}-{number}" for number in range(1, 1000) if f"{kind}-{number}" not in taken)
    return structs.replace(Step(id, kind), **fields)


def remove_item(job: Job, item: Item) -> tuple[Change, ...]:
    """The changes that take an item off, and with it what is made of it."""
    gone = {item.id}
    while True:
        more = {other.id for other in job.dress.items if other.id not in gone and gone & other.needs()}
        if not more:
            break
        gone |= more
    return (Change("dress.items", tuple(other for other in job.dress.items if other.id not in gone)),)


# Registered by being imported.
from dechirer.core.dress import checks_art, checks_paper, checks_place, checks_words  # noqa: E402, F401
