"""Checks of what shares mats: papers that look alike and are laid apart, jobs laid with this one, pins that hold
nothing."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Iterator

from dechirer.core.brief.decisions import Paper
from dechirer.core.decide.change import Change
from dechirer.core.decide.papers import papers_in
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.lay.checks import LaySeen
from dechirer.core.lay.decisions import Pin
from dechirer.core.lay.guests import Invited
from dechirer.core.lay.lay import make_lay
from dechirer.core.paper.colours import difference
from dechirer.core.paper.weight import parse_weight
from dechirer.core.words import plural

NEARLY = 2.5
"""Papers nearer than this (CIEDE2000) are taken for one when they lie apart (common practice: about 2 is just seen)."""


@CHECKS.add("lay.papers-alike", of=make_lay)
def find_papers_that_look_alike(seen: LaySeen) -> Iterator[Finding]:
    """Two papers of nearly one colour, of one weight and size, that are laid on sheets of their own."""
    used = [paper for paper in seen.brief.papers if any(layout.paper == paper.id for layout in seen.plan.layouts)]
    for one, other in itertools.combinations(used, 2):
        if not _stands_for(one, other):
            continue
        apart = difference(one.colour, other.colour)
        yield Finding(
            "lay.papers-alike",
            "note",
            f"{one.name} and {other.name} look alike",
            f"They differ by {apart:.1f} (CIEDE2000) and are of one weight and sheet; laid apart they take sheets of "
            "their own.",
            "A sheet more is begun than is needed.",
            f"brief.papers.{other.id}",
            (Mend(f"Cut all of it from {one.name}", tuple(_take_instead(seen, other.id, one.id))),),
        )


def _stands_for(one: Paper, other: Paper) -> bool:
    weights = [parse_weight(paper.weight).gsm or 0.0 for paper in (one, other)]
    same = (one.sheet, one.bought, one.finish, one.pattern) == (other.sheet, other.bought, other.finish, other.pattern)
    return same and abs(weights[0] - weights[1]) < 5.0 and difference(one.colour, other.colour) < NEARLY


def _take_instead(seen: LaySeen, old: str, new: str) -> Iterator[Change]:
    """The changes that make of one paper all that was of another."""
    rooms = (("brief", seen.brief), ("construct", seen.construct), ("dress", seen.dress), ("lay", seen.lay))
    for room, decisions in rooms:
        for path, paper in papers_in(decisions, room):
            if paper == old:
                yield Change(path, new)


@CHECKS.add("lay.guest-stops", of=make_lay)
def find_guests_that_cannot_be_laid(seen: LaySeen) -> Iterator[Finding]:
    """A job that is laid with this one and cannot be: it stops, is printed, or could not be read."""
    for each in seen.plan.guests:
        why = _why_not(each)
        if not why:
            continue
        others = tuple(guest for guest in seen.lay.guests if guest.id != each.guest.id)
        yield Finding(
            "lay.guest-stops",
            "stop",
            f"“{each.guest.name}” cannot be laid with this job",
            why,
            "Its pieces are missing from the mats, or spoiled on them.",
            "",
            (Mend("Lay this job without it", (Change("lay.guests", others),)),),
        )


def _why_not(each: Invited) -> str:
    if each.other.why:
        return f"It could not be read: {each.other.why}."
    if each.other.is_printed:
        return "It is printed, and its pages are cut on mats of their own. Plan it by itself."
    if each.other.stops:
        return "It has findings of its own that stop it. Open it, mend it, and lay it with this one again."
    if len(each.pieces) < len(each.other.pieces):
        return "A paper of it is not told to be cut from one of this job. Take it off, and lay it with this one again."
    return ""


@CHECKS.add("lay.pins-idle", of=make_lay)
def find_pins_that_hold_nothing(seen: LaySeen) -> Iterator[Finding]:
    """Pins of pieces that are gone, or of more of them than there are: they are kept, and said."""
    there = Counter({piece.id: piece.count for piece in seen.pieces})
    laid = Counter(placed.piece.id for layout in seen.plan.layouts for placed in layout.placements if placed.pinned)
    pinned = Counter(pin.piece for pin in seen.lay.pins)
    idle = {piece: count - laid[piece] for piece, count in pinned.items() if count > laid[piece]}
    if not idle:
        return
    piece = next(iter(idle))
    count = sum(idle.values())
    why = f"The job has {there[piece]} of “{piece}” now." if there[piece] else f"The job has no “{piece}” any more."
    left: list[Pin] = []
    room = Counter(laid)
    for pin in seen.lay.pins:
        if room[pin.piece] > 0:
            room[pin.piece] -= 1
            left.append(pin)
    yield Finding(
        "lay.pins-idle",
        "note",
        f"{count} {plural(count, 'pin')} {'holds' if count == 1 else 'hold'} nothing",
        f"{why} What was put down by hand is kept for when it comes back.",
        "",
        "",
        (Mend("Forget those pins", (Change("lay.pins", tuple(left)),)),),
    )
