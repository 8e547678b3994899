"""Checks of making up: is every part used, does glue hold where it may go, can the steps be done in this order?"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.brief.decisions import Brief
from dechirer.core.card.assembly import FOAM
from dechirer.core.card.stack import Stacked
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.decide.change import Change
from dechirer.core.dress.dressed import DressPlan
from dechirer.core.figure import format_minutes
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.fold.adhesives import ADHESIVES, Adhesive
from dechirer.core.fold.decisions import MakingUp, StuckBy
from dechirer.core.fold.joints import Joint
from dechirer.core.fold.kit import TWEEZERS_MM
from dechirer.core.fold.making import used_parts
from dechirer.core.fold.making_up import MakingPlan, make_making_up
from dechirer.core.fold.step import missing_before
from dechirer.core.length import format_length, parse_length
from dechirer.core.words import plural

LEAST_TAB_MM = 8.0
"""A tab that joins sections is at least so broad (common practice)."""
NARROW_SLACK_MM = 0.15
THICK_FOAM_MM = 1.5
"""Foam of up to this height between two panels lets a flap close (from memory)."""


class FoldSeen(Struct, frozen=True):
    """What the checks look at."""

    units: str
    brief: Brief
    built: Construct
    own: MakingUp
    construct: ConstructPlan
    stacked: Stacked
    dress: DressPlan
    plan: MakingPlan


@CHECKS.add("fold.part-unused", of=make_making_up)
def find_unused_parts(seen: FoldSeen) -> Iterator[Finding]:
    """A part that is cut and that no step uses, because its step was left out."""
    used = set(used_parts(seen.plan.steps))
    for step in seen.plan.proposed:
        lost = [part for part in step.parts if part not in used]
        if not lost:
            continue
        left = tuple(each for each in seen.own.skipped if each != step.id)
        yield Finding(
            "fold.part-unused",
            "stop",
            f"No step uses the {', '.join(lost)}",
            f"“{step.words}” was left out.",
            "It is cut and stays on the table.",
            step.id,
            (Mend("Do that step again", (Change("fold.skipped", left),)),),
        )


@CHECKS.add("fold.order", of=make_making_up)
def find_impossible_order(seen: FoldSeen) -> Iterator[Finding]:
    """A step that comes before what it needs: a part that is trapped, or glued on what is not there yet."""
    words = {step.id: step.words for step in seen.plan.proposed}
    told: set[str] = set()
    for step, need in missing_before(seen.plan.steps):
        if step.id in told or need in seen.own.skipped:
            continue
        told.add(step.id)
        trapped = step.stage == "fold"
        yield Finding(
            "fold.order",
            "stop",
            f"“{step.words}” comes too early",
            f"“{words.get(need, need)}” has to be done before"
            + (": the fold hides where that goes." if trapped else ", or there is nothing to put it on."),
            "A part is left out, or the card is opened up again.",
            step.id,
            (Mend("Back to the order that is proposed", (Change("fold.order", ()),)),),
        )


@CHECKS.add("fold.glue-narrow", "fold.no-glue", of=make_making_up)
def find_joints_that_do_not_hold(seen: FoldSeen) -> Iterator[Finding]:
    """Where a part touches what it is stuck on too narrowly for its adhesive, or nowhere."""
    for joint in seen.plan.joints:
        spec, name = ADHESIVES[joint.adhesive], _name(seen, joint.part)
        if not joint.zone:
            free = f" less {', '.join(joint.free_of)}" if joint.free_of else ""
            yield Finding(
                "fold.no-glue",
                "look",
                f"No glue holds the {name}",
                f"It lies on nothing{free} that glue could go on.",
                "It falls off.",
                joint.id,
            )
        elif joint.narrowest < (least := _least(seen, joint)) - NARROW_SLACK_MM:
            usable: tuple[Adhesive, ...] = ("wet", "spray")
            others = [id for id in usable if ADHESIVES[id].least <= joint.narrowest and least <= spec.least]
            yield Finding(
                "fold.glue-narrow",
                "look",
                f"{name[:1].upper()}{name[1:]} has too narrow a place for {spec.title}",
                f"It touches over {format_length(joint.narrowest, seen.units)} at most; "
                + (f"{spec.title} wants " if least == spec.least else "a tab wants ")
                + f"{format_length(least, seen.units)} (common practice).",
                "It comes off, or shows beside the part.",
                joint.id,
                tuple(
                    Mend(f"Use {ADHESIVES[id].title}", (Change("fold.stuck", _stuck(seen.own, joint, id)),))
                    for id in others
                    if id != joint.adhesive
                ),
            )


def _least(seen: FoldSeen, joint: Joint) -> float:
    """How broad a joint has to be, mm: a tab that joins two sections of the card broader than what lies on a face."""
    is_tab = joint.model == "card" and joint.part in seen.construct.made.parts.values()
    return max(ADHESIVES[joint.adhesive].least, LEAST_TAB_MM) if is_tab else ADHESIVES[joint.adhesive].least


def _stuck(own: MakingUp, joint: Joint, by: Adhesive) -> tuple[StuckBy, ...]:
    others = tuple(each for each in own.stuck if each.id != joint.id)
    return (*others, StuckBy(joint.id, by))


def _name(seen: FoldSeen, part: str) -> str:
    pieces = (*seen.construct.pieces, *seen.dress.pieces)
    named = {piece.id: piece.name for piece in reversed(pieces)}
    named |= {dressed.item.id: dressed.item.name for dressed in seen.dress.first_of_each()}
    return named.get(part, re.sub("-", " ", part))


def _foam_path(part: str) -> str:
    """The field of the foam under a part of the construction: a layer, or the layers of a stack."""
    return "construct.stack.foam" if part.startswith("stack") else f"construct.layers.{part}.foam"


@CHECKS.add("fold.foam-inside", of=make_making_up)
def find_foam_between_panels(seen: FoldSeen) -> Iterator[Finding]:
    """Foam that lies between two panels of the closed card: the flap over it stands off."""
    told: set[str] = set()
    hides = {"mountain": "inside", "valley": "outside"}
    sides = {
        (panel, hides[hinge.sense])
        for hinge in seen.stacked.tree.hinges
        if not hinge.lifts
        for panel in (hinge.parent, hinge.child)
    }
    for slab in seen.stacked.slabs:
        if not slab.paper.startswith(FOAM) or slab.top - slab.bottom <= THICK_FOAM_MM:
            continue
        side = "outside" if slab.bottom > 0 else "inside"
        part = slab.paper.removeprefix(FOAM)
        if (slab.panel, side) not in sides or part in told:
            continue
        told.add(part)
        item = next((dressed.item for dressed in seen.dress.first_of_each() if dressed.item.id == part), None)
        path = f"dress.items.{part}.foam" if item is not None else _foam_path(part)
        yield Finding(
            "fold.foam-inside",
            "look",
            f"Foam of {slab.top - slab.bottom:g} mm under the {_name(seen, part)} lies inside the closed card",
            f"The panel that closes over it stands off by as much; up to {THICK_FOAM_MM:g} mm lies well (from memory).",
            "The card gapes, and its fold wanders.",
            part,
            (Mend("Use foam of 1 mm", (Change(path, parse_length("1 mm")),)),),
        )


@CHECKS.add("fold.tiny", of=make_making_up)
def find_parts_too_small_for_fingers(seen: FoldSeen) -> Iterator[Finding]:
    """Parts that only tweezers can set."""
    small = [
        piece
        for piece in seen.dress.pieces
        if max(piece.width.value, piece.height.value) < TWEEZERS_MM and not piece.blank
    ]
    if small:
        names = ", ".join(dict.fromkeys(piece.name for piece in small[:3])) + (" …" if len(small) > 3 else "")
        count = len(small)
        yield Finding(
            "fold.tiny",
            "note",
            f"{count} {plural(count, 'kind')} of parts {plural(count, 'is', 'are')} too small for fingers",
            f"{names}: under {TWEEZERS_MM:g} mm. Tweezers or a wax pick, and a tray to count them into.",
            "Some get lost. Keep small parts from small children.",
            small[0].id,
        )


@CHECKS.add("fold.lacking", of=make_making_up)
def find_what_is_lacking(seen: FoldSeen) -> Iterator[Finding]:
    """What there is too little of, by what was counted."""
    for row in seen.plan.kit:
        if row.lacking:
            unit, there = f" {row.unit}" if row.unit else "", row.there or 0
            yield Finding(
                "fold.lacking",
                "look",
                f"{row.lacking:g}{unit} of {row.name} {plural(row.lacking, 'is', 'are')} lacking",
                f"{row.total:g}{unit} {plural(row.total, 'is', 'are')} needed, {there}{unit} there.",
                "The last cards wait for it.",
                row.id,
            )


@CHECKS.add("fold.late", of=make_making_up)
def find_too_little_time(seen: FoldSeen) -> Iterator[Finding]:
    """Work that begins too late for the day the cards are wanted."""
    schedule = seen.plan.schedule
    if not schedule.late:
        return
    longer = min(24.0, math.ceil(seen.own.hours * schedule.days / max(1, schedule.days - schedule.late) * 2) / 2)
    mends = [Mend(f"Begin on {schedule.start_by}", (Change("fold.begins", schedule.start_by),))]
    if schedule.days > schedule.late:
        mends.append(Mend(f"Work {longer:g} hours a day", (Change("fold.hours", longer),)))
    yield Finding(
        "fold.late",
        "look",
        f"Work begins {schedule.late} {plural(schedule.late, 'day')} too late",
        f"Machines and making up take {schedule.days} {plural(schedule.days, 'day')} of {seen.own.hours:g} hours "
        f"({format_minutes(schedule.minutes.value)} to make up): it has to begin by {schedule.start_by}.",
        f"The cards are not done on {seen.brief.due}.",
        "due",
        tuple(mends),
    )
