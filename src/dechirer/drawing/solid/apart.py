"""The card taken apart: a film of its making up, from parts that float over their places to the closed card.

A place in the film is a number of steps that are done, and what of the next one is.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec import Struct, structs

from dechirer.core.card.assembly import FOAM, Slab
from dechirer.core.card.folding import fold
from dechirer.core.fold.joints import side_of
from dechirer.core.fold.making_up import MakingPlan
from dechirer.core.fold.step import MakeStep
from dechirer.core.plan import Plan
from dechirer.drawing.solid.model import Folded, Model

GAP_MM = 16.0
"""Parts float so far over each other."""


class Moment(Struct, frozen=True):
    """A moment of the film: the step that is done, what of it is (0 to 1), what is seen, and how far that is closed."""

    step: MakeStep | None
    share: float
    model: str
    closed: float


def moment_at(making: MakingPlan, place: float) -> Moment:
    """The moment when so many steps are done."""
    steps = making.steps
    if not steps:
        return Moment(None, 0.0, "card", 0.0)
    number = min(int(place), len(steps) - 1)
    step, share = steps[number], min(1.0, place - number)
    model = next((each.model for each in reversed(steps[: number + 1]) if each.model), "card")
    if not step.model:
        model = "card"
    closed = next((each.after for each in reversed(steps[:number]) if each.model == model and each.after), 0.0)
    if step.model == model and step.after > step.before:
        closed = step.before + share * (step.after - step.before)
    return Moment(step, share, model, closed)


class Apart(Folded):
    """The card, or its envelope, at a moment of the film."""

    def __init__(self, plan: Plan, place: float) -> None:
        making = plan.making_up
        self.moment = moment_at(making, place)
        piece = "envelope" if self.moment.model == "envelope" else ""
        super().__init__(plan, self.moment.closed, piece)
        self.place = place
        self.model: Model = structs.replace(self.model, slabs=tuple(_afloat(self.model, making, self.moment, place)))
        self.poses = fold(self.model.tree, self.closed)

    @property
    def lit(self) -> str:
        """The element of the part that is stuck at this moment; empty for none."""
        step = self.moment.step
        joint = self.plan.making_up.joint(step.joint) if step is not None and step.joint else None
        return f"{joint.part}/{joint.panel}" if joint is not None else ""


def _afloat(model: Model, making: MakingPlan, moment: Moment, place: float) -> list[Slab]:
    """The slabs, those that are not stuck yet moved away from their panel, the later the farther."""
    away = {}
    for number, step in enumerate(making.steps):
        joint = making.joint(step.joint) if step.joint and step.model == moment.model else None
        if joint is not None and not joint.id.endswith("-flap"):
            away[joint.part, joint.panel] = min(1.0, max(0.0, number + 1 - place))
    slabs, floats, found = model.slabs, dict[tuple[str, str], float](), []
    for index, slab in enumerate(slabs):
        share = away.get((_part(slab, slabs, index), slab.panel), 0.0)
        if not share:
            found.append(slab)
            continue
        side = side_of(slab)
        key = (slab.panel, side)
        if not slab.paper.startswith(FOAM):
            floats[key] = floats.get(key, 0.0) + share
        by = GAP_MM * (floats.get(key, 0.0) + (share if slab.paper.startswith(FOAM) else 0.0))
        by = by if side == "outside" else -by
        found.append(structs.replace(slab, bottom=slab.bottom + by, top=slab.top + by))
    return found


def _part(slab: Slab, slabs: Sequence[Slab], index: int) -> str:
    """The part a slab belongs to; foam to what it is under, which comes after it."""
    if not slab.paper.startswith(FOAM):
        return slab.piece
    later: Any = (other for other in slabs[index + 1 :] if other.panel == slab.panel and other.piece != "foam")
    return next((other.piece for other in later), "")
