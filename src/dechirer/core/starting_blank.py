"""Starting from a bought blank: the card takes its size and its fold, and its paper joins those on hand."""

from __future__ import annotations

from typing import Any

from msgspec import structs

from dechirer.core.construct.attachments.slits import CornerSlits
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.change import Change
from dechirer.core.decide.values import Size
from dechirer.core.job.model import Job
from dechirer.core.job.papers import make_paper_id
from dechirer.core.length import exact_length
from dechirer.core.paper.blanks import BoughtBlank

FOLDS = {"side": (2, 1), "top": (1, 2), "": (1, 1)}
"""How many panels lie side by side, and one above the other."""


def take_bought(job: Job, blank: BoughtBlank) -> tuple[Change, ...]:
    """The changes that make the card of a blank. A blank that comes slit for an insert has its slits round the insert
    that comes with it, where the card has an insert; a construction that folds as the blank does is kept."""
    units = job.units

    def size(sides: tuple[float, float] | None) -> Size | None:
        return None if sides is None else Size(*(exact_length(side, units) for side in sides))

    model = job.brief.paper(job.brief.base_paper)
    name = f"Blank {blank.name}"
    taken = {paper.name for paper in job.brief.papers}
    name = next(each for each in (name, *(f"{name} {number}" for number in range(2, 1000))) if each not in taken)
    paper: Any = structs.replace(
        model,
        id=make_paper_id(job, name),
        name=name,
        sheet=size(blank.flat),
        bought=blank.bought,
        insert=size(blank.insert) if blank.bought != "peel" else None,
        envelope=size(blank.envelope),
        on_hand=None,
    )
    changes = [
        Change("brief.papers", (*job.brief.papers, paper)),
        Change("brief.base_paper", paper.id),
        Change("brief.blank", None),
        Change("brief.width", exact_length(blank.width, units)),
        Change("brief.height", exact_length(blank.height, units)),
    ]
    if CONSTRUCTIONS[job.brief.construction].halves != FOLDS[blank.fold]:
        kind = next(spec.id for spec in CONSTRUCTIONS if spec.halves == FOLDS[blank.fold])
        changes.append(Change("brief.construction", kind))
    slits = getattr(job.construct, "slits", None)
    if isinstance(slits, CornerSlits) and blank.insert is not None:
        wide, high = (exact_length(side, units) for side in blank.insert)
        changes += [Change("construct.slits.width", wide), Change("construct.slits.height", high)]
    return tuple(changes)
