"""Making up: the joints, the steps, the kit list, the closed card's thickness and the schedule of a dressed card."""

from __future__ import annotations

from functools import partial

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.card.assembly import Bare, Slab
from dechirer.core.card.panels import PanelTree
from dechirer.core.card.stack import Stacked
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.dress.dressed import DressPlan
from dechirer.core.figure import Figure
from dechirer.core.fold.around import Ground
from dechirer.core.fold.decisions import MakingUp
from dechirer.core.fold.folds import FoldStep, plan_folds
from dechirer.core.fold.joints import Joint, find_joints
from dechirer.core.fold.kit import KitRow, make_kit
from dechirer.core.fold.making import Workshop, make_steps
from dechirer.core.fold.schedule import Schedule, make_schedule
from dechirer.core.fold.step import MakeStep, in_order
from dechirer.core.fold.weeding import Lying, WeedMap, map_mat
from dechirer.core.learned import Learned, factor_of
from dechirer.core.memory import Same
from dechirer.core.run.run import RunPlan
from dechirer.core.stations import Work


class MakingPlan(Struct, frozen=True):
    """How the cards are made up.

    Attributes:
        joints: every joint of the card and of its envelope.
        proposed: the steps in the order that is proposed; `steps` in the maker's own, without those left out.
        folds: the folds of the card.
        kit: what is needed.
        schedule: how long it takes.
        weeding: a map for each mat, in running order.
    """

    joints: tuple[Joint, ...]
    proposed: tuple[MakeStep, ...]
    steps: tuple[MakeStep, ...]
    folds: tuple[FoldStep, ...]
    kit: tuple[KitRow, ...]
    schedule: Schedule
    weeding: tuple[WeedMap, ...]
    steps_count: Figure

    def figures(self) -> tuple[Figure, ...]:
        """Its figures."""
        return (self.schedule.minutes, *self.schedule.minutes.inputs, self.steps_count)

    def joint(self, id: str) -> Joint | None:
        """The joint of that id, or None."""
        return next((joint for joint in self.joints if joint.id == id), None)


class Asked(Struct, frozen=True):
    """What making up is told of the brief: how many cards, the units, how an envelope is closed, and of
    the maker's own pace, and when the cards are wanted."""

    count: int
    units: str
    closure: str
    learned: tuple[Learned, ...] = ()
    due: str = ""


def make_making_up(
    asked: Asked,
    facts: BriefPlan,
    construct: ConstructPlan,
    stacked: Stacked,
    dress: DressPlan,
    run: RunPlan,
    own: MakingUp,
    work: Work,
) -> MakingPlan:
    """Plan the making up."""
    count, units = asked.count, asked.units
    pieces = {piece.id: piece for piece in (*construct.pieces, *dress.pieces)}
    made = construct.envelope
    loose = frozenset(dressed.item.id for dressed in dress.first_of_each() if dressed.item.made == "held")
    ground = Ground("card", stacked.tree, stacked.slabs, construct.made.parts, pieces, construct.bare, own, loose)
    joints = find_joints(ground, work.memory)
    nothing: tuple[Bare, ...] = ()
    if made is not None:
        slabs = construct.envelope_slabs
        joints += find_joints(Ground("envelope", made.tree, slabs, made.parts, pieces, nothing, own), work.memory)
    folds = _folds(stacked.tree, stacked.slabs, work)
    around = _folds(made.tree, construct.envelope_slabs, work) if made is not None else ()
    shop = Workshop(construct, dress, stacked.tree, folds, around, joints, own, units, asked.closure)
    proposed = make_steps(shop)
    steps = tuple(_at_own_pace(step, asked.learned) for step in in_order(proposed, own.order, own.skipped))
    kit = make_kit(dress.pieces, dress.at_hand, joints, construct, own, count, units)
    source = ", ".join(
        f"{sum(step.stage == stage for step in steps)} {stage}" for stage in dict.fromkeys(s.stage for s in steps)
    )
    lying: Lying = {}
    return MakingPlan(
        joints,
        proposed,
        steps,
        folds,
        kit,
        make_schedule(steps, own, count, run.minutes, asked.due),
        tuple(
            work.memory.recall(("weeding", Same(mat.layout), dress.weak), partial(map_mat, mat.layout, dress, lying))
            for mat in run.mats
        ),
        Figure("fold.steps", "steps", float(len(steps)), "count", source=source),
    )


def _at_own_pace(step: MakeStep, learned: tuple[Learned, ...]) -> MakeStep:
    """A step with the time it was learned to take."""
    factor = factor_of(learned, f"making.{step.stage}")
    if factor == 1.0:
        return step
    return structs.replace(step, hands_s=step.hands_s * factor, setup_s=step.setup_s * factor)


def _folds(tree: PanelTree, slabs: tuple[Slab, ...], work: Work) -> tuple[FoldStep, ...]:
    return work.memory.recall(("folds", tree, slabs), lambda: plan_folds(tree, slabs)) if tree.hinges else ()
