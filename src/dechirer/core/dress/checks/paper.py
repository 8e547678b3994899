"""Checks of outlines against paper: narrow webs, islands, spikes, steps that lose or break things, colours alike."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial
from typing import Any

from msgspec import structs

from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import slots_of
from dechirer.core.dress.checks.place import fits_face
from dechirer.core.dress.drawn import Remark
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.dressed import Dressed, Weak
from dechirer.core.dress.outline import OUTLINE_ROLES
from dechirer.core.dress.recipe import cook
from dechirer.core.dress.seen import DressSeen, new_step, path_of
from dechirer.core.dress.step import Step
from dechirer.core.dress.steps.edge import Border, Round, Tidy
from dechirer.core.dress.steps.lift import Lift
from dechirer.core.dress.steps.out_of_it import Bridge, Relief
from dechirer.core.dress.steps.which import Fill
from dechirer.core.dress.tidying import tidy
from dechirer.core.finding import CHECKS, Finding, Mend, Severity
from dechirer.core.length import Length, fine_length
from dechirer.core.paper.colours import ALIKE, difference, told_apart

SPIKE_DEG = 12.0
SPIKE_MM = 1.0
"""A tip sharper than this with both legs longer than SPIKE_MM catches when it is weeded (common practice)."""
CLOSING_MM = (0.1, 0.5, 1.0, 2.0, 5.0)
"""Gaps that are offered to be closed, the smallest that closes all."""


def _dressed(seen: DressSeen, item_id: str) -> Dressed:
    found = seen.plan.item(item_id)
    assert found is not None
    return found


def _mm(value: float) -> str:
    return f"{value:.2g} mm"


@CHECKS.add("dress.web-narrow", of=make_dress)
def find_narrow_webs(seen: DressSeen) -> Iterator[Finding]:
    """Paper narrower than it holds."""
    for weak in seen.plan.weak:
        if not weak.narrow:
            continue
        worst = weak.narrow[0]
        dressed = _dressed(seen, weak.item)
        words = {"web": "web", "detail": "detail", "tip": "tip", "speck": "part"}[worst.kind]
        count = len(weak.narrow)
        more = f" and {count - 1} more" if count > 1 else ""
        yield Finding(
            "dress.web-narrow",
            "stop" if worst.width < 0.6 * weak.holds and worst.kind != "tip" else "look",
            f"A {words} of {dressed.item.name}{more} is too narrow",
            f"It is {_mm(worst.width)} wide; this paper holds from {_mm(weak.holds)} (by its weight, common practice, "
            "unless you typed it).",
            "It will tear when weeded.",
            weak.item,
            tuple(_widen(seen, dressed, weak)),
        )


def _widen(seen: DressSeen, dressed: Dressed, weak: Weak) -> Iterator[Mend]:
    """Mends for a narrow place: the step that made it, a border, a larger figure."""
    item, units = dressed.item, seen.units
    worst = weak.narrow[0]
    wanted = fine_length(math.ceil(weak.holds * 20) / 20, "mm" if weak.holds < 3 else units)
    for step in reversed(item.steps):
        if isinstance(step, (Bridge, Relief)) and step.by.mm < weak.holds:
            yield Mend(f"Widen to {wanted}", (Change(path_of(item, "steps", step.id, "by"), wanted),))
            return
    if item.made == "piece":
        lack = fine_length(math.ceil((weak.holds - worst.width) / 2 * 20) / 20, "mm")
        last = next((step for step in reversed(item.steps) if isinstance(step, Border)), None)
        if last is not None:
            more = fine_length(last.by.mm + lack.mm, "mm")
            yield Mend(f"A border of {more}", (Change(path_of(item, "steps", last.id, "by"), more),))
        else:
            yield Mend(f"Add a border of {lack}", (new_step(item, Border, by=lack, edges="all"),))
    ink = dressed.placed.source
    if item.of is None and worst.width > 0.05 and ink[2] > ink[0]:
        larger = (ink[2] - ink[0]) * weak.holds / worst.width
        if fits_face(dressed, weak.holds / worst.width) and (item.words is None or item.words.fit in ("size", "arc")):
            width = fine_length(larger, units)
            freed = (Change(path_of(item, "fit_in"), None), Change(path_of(item, "same_as"), None))
            yield Mend(f"Make it {width} wide", (Change(path_of(item, "width"), width), *freed))
    if worst.kind in ("detail", "tip"):
        yield Mend("Round its corners by 0.4 mm", (new_step(item, Round, by=fine_length(0.4, "mm")),))


@CHECKS.add("dress.hole-narrow", of=make_dress)
def find_slim_openings(seen: DressSeen) -> Iterator[Finding]:
    """Openings too narrow to be weeded."""
    for weak in seen.plan.weak:
        if not weak.slim:
            continue
        worst = weak.slim[0]
        item = _dressed(seen, weak.item).item
        grow = fine_length(math.ceil((weak.holds / 2 - worst.width) / 2 * 20) / 20 + 0.05, "mm")
        yield Finding(
            "dress.hole-narrow",
            "look",
            f"Openings of {item.name} are too narrow to weed",
            f"The narrowest is {_mm(worst.width)} wide; from about {_mm(weak.holds / 2)} the bit comes out whole.",
            "Bits stay in the card, or tear it.",
            weak.item,
            (
                Mend(f"Grow the outline by {grow}", (new_step(item, Border, by=grow, edges="all"),)),
                Mend("Draw it instead", (Change(path_of(item, "made"), "pen"),)),
            ),
        )


@CHECKS.add(
    "dress.island",
    "dress.step-gone",
    "dress.step-lost",
    "dress.step-broken",
    "dress.join-apart",
    "dress.lift-narrow",
    "dress.step-few",
    "dress.spread-tight",
    "dress.no-islands",
    of=make_dress,
)
def find_islands(seen: DressSeen) -> Iterator[Finding]:
    """Middles of an opening that nothing holds."""
    for weak in seen.plan.weak:
        item = _dressed(seen, weak.item).item
        count = len(weak.islands)
        if not count or item.islands == "keep" or item.made not in ("window", "art"):
            continue
        tie = fine_length(math.ceil(max(weak.holds, 1.0) * 20) / 20, "mm")
        these = "middle falls" if count == 1 else "middles fall"
        yield Finding(
            "dress.island",
            "look",
            f"{count} {these} out of {item.name}",
            "The cut goes all the way round: nothing holds what is inside.",
            "The inside of letters and figures is lost, unless it is kept and placed by hand.",
            item.id,
            (
                Mend(f"Hold each with 2 ties of {tie}", (new_step(item, Bridge, by=tie, count=2),)),
                Mend("Keep them, to be set back by hand", (Change(path_of(item, "islands"), "keep"),)),
                Mend("Let them fall: fill the holes", (new_step(item, Fill),)),
            ),
        )


REMARKS: dict[str, tuple[str, Severity, str, str]] = {
    "gone": ("dress.step-gone", "stop", "Nothing is left of {}", "It is not cut or drawn."),
    "lost": ("dress.step-lost", "look", "Parts of {} are lost", "They vanish without a trace in the cut."),
    "broken": ("dress.step-broken", "look", "{} breaks apart", "It comes off the mat in bits."),
    "apart": ("dress.join-apart", "look", "Parts of {} do not touch", "The step does nothing."),
    "no-hinge": ("dress.lift-narrow", "stop", "{} is too narrow for its hinge", "It is cut out whole and falls."),
    "few": ("dress.step-few", "look", "{} has too few items for a step", "The step does not do what it says."),
    "tight": ("dress.spread-tight", "look", "The items of {} overlap", "They are cut into each other."),
    "no-islands": ("dress.no-islands", "note", "{} has no island to hold", "The step does nothing."),
}
"""For each remark of a step: the finding's code, severity, title and cost."""
SMALLER_HELPS = ("gone", "lost", "broken", "no-hinge")


@CHECKS.add(*(code for code, *_ in REMARKS.values()), of=make_dress)
def find_step_remarks(seen: DressSeen) -> Iterator[Finding]:
    """What the steps of a recipe have to say."""
    for dressed in seen.own_of_each():
        item = dressed.item
        told: set[str] = set()
        for remark in dressed.placed.drawn.remarks:
            if remark.code not in REMARKS or remark.code in told:
                continue
            told.add(remark.code)
            code, severity, title, cost = REMARKS[remark.code]
            yield Finding(
                code,
                severity,
                title.format(item.name),
                f"{remark.words[0].upper()}{remark.words[1:]}.",
                cost,
                item.id,
                tuple(_mends_for_remark(seen, dressed, remark)),
            )


def _mends_for_remark(seen: DressSeen, dressed: Dressed, remark: Remark) -> Iterator[Mend]:
    """A smaller measure with which the step has nothing to say, or the recipe without the step that spoke."""
    item = dressed.item
    step = next((each for each in item.steps if each.id == remark.step), None)
    if step is None:
        if item.part is not None:
            yield Mend("Take the largest", (Change(path_of(item, "part"), 1),))
        return
    by = getattr(step, "by", None)
    whole = by.mm if isinstance(by, Length) and remark.code in SMALLER_HELPS else 0.0
    for share in (2, 4, 8, 16) if whole else ():
        less = fine_length(whole / share, seen.units if abs(whole) > 3 else "mm")
        if not slots_of(type(step))["by"].allows(less.mm):
            break
        if less.mm and not _speaks(seen, dressed, structs.replace(step, by=less), remark.code):
            words = f"A hinge of {less}" if isinstance(step, Lift) else f"Make it {less}"
            yield Mend(words, (Change(path_of(item, "steps", step.id, "by"), less),))
            break
    left = tuple(each for each in item.steps if each is not step)
    yield Mend("Take the step out", (Change(path_of(item, "steps"), left),), "chooses")


def _speaks(seen: DressSeen, dressed: Dressed, changed: Step, code: str) -> bool:
    """Whether the recipe still has the same to say with one step changed."""
    steps = tuple(changed if each.id == changed.id else each for each in dressed.item.steps)
    others = {id: found.placed.drawn for id in dressed.item.needs() if (found := seen.plan.item(id)) is not None}
    return any(remark.code == code for remark in cook(dressed.placed.start, steps, others).remarks)


@CHECKS.add("dress.open-path", of=make_dress)
def find_open_paths(seen: DressSeen) -> Iterator[Finding]:
    """Open lines where a piece or a window wants a closed outline."""
    for dressed in seen.own_of_each():
        item = dressed.item
        if item.made not in ("piece", "window") or any(isinstance(step, Lift) for step in item.steps):
            continue
        lines = [line for part in dressed.placed.drawn.parts if part.role in OUTLINE_ROLES for line in part.lines]
        if not lines or (item.words is None and item.art is None):
            continue
        gap = widest_gap(lines)
        mends = [Mend("Give the lines a width of 2 mm", (new_step(item, Border, by=fine_length(1, "mm")),))]
        for by in CLOSING_MM:
            if not any(part.lines for part in tidy(dressed.placed.drawn, by)[0].parts if part.role in OUTLINE_ROLES):
                words = f"Close gaps up to {by:g} mm"
                mends.insert(0, Mend(words, (new_step(item, Tidy, by=fine_length(by, "mm")),)))
                break
        yield Finding(
            "dress.open-path",
            "look",
            f"{len(lines)} lines of {item.name} are open",
            f"A {item.made} wants closed outlines; the widest gap is {gap:.1f} mm.",
            "They are cut as slits, and nothing comes out.",
            item.id,
            tuple(mends),
        )


def widest_gap(lines: list[Any]) -> float:
    """The widest gap between an end of a line and the next end that is not its own start, or its own if it is nearest.

    Lines that meet end to end leave a gap of 0.
    """
    ends = [(number, point) for number, line in enumerate(lines) for point in (line.coords[0], line.coords[-1])]
    return max(
        min(math.dist(here, there) for place, (_, there) in enumerate(ends) if place != index)
        for index, (_, here) in enumerate(ends)
    )


@CHECKS.add("dress.spikes", of=make_dress)
def find_spikes(seen: DressSeen) -> Iterator[Finding]:
    """Tips so sharp that they catch and curl when weeded."""
    for dressed in seen.own_of_each():
        item = dressed.item
        if item.made not in ("piece", "window", "kiss") or any(isinstance(step, Round) for step in item.steps):
            continue
        placed = dressed.placed
        count = seen.memory.recall(("spikes", placed.serial), partial(_count_spikes, placed.drawn.areas))
        if not count:
            continue
        yield Finding(
            "dress.spikes",
            "look",
            f"{item.name} has {count} needle-sharp {'tip' if count == 1 else 'tips'}",
            f"Their sides meet at under {SPIKE_DEG:.0f} degrees.",
            "They catch in weeding and curl.",
            item.id,
            (Mend("Round its corners by 0.3 mm", (new_step(item, Round, by=fine_length(0.3, "mm")),)),),
        )


def _count_spikes(areas: tuple[Any, ...]) -> int:
    import numpy as np
    import shapely

    total = 0
    rings = [ring for area in areas for ring in (area.exterior, *area.interiors)]
    for ring in shapely.simplify(rings, 0.05):
        points = shapely.get_coordinates(ring)[:-1]
        if len(points) < 3:
            continue
        back, ahead = np.roll(points, 1, axis=0) - points, np.roll(points, -1, axis=0) - points
        long = np.hypot(*back.T), np.hypot(*ahead.T)
        angle = np.degrees(np.arccos(np.clip((back * ahead).sum(axis=1) / (long[0] * long[1] + 1e-12), -1, 1)))
        total += int(((angle < SPIKE_DEG) & (long[0] > SPIKE_MM) & (long[1] > SPIKE_MM)).sum())
    return total


@CHECKS.add("dress.colours-alike", of=make_dress)
def find_colours_alike(seen: DressSeen) -> Iterator[Finding]:
    """A piece on, or an opening over, a paper of nearly its own colour."""
    import shapely

    if all(each.item.made not in ("piece", "window") for each in seen.own_of_each()):
        return
    shown: list[tuple[Dressed, str]] = []
    for dressed in seen.first_of_each():
        item, spot = dressed.item, dressed.spot
        if spot is None or item.made not in ("piece", "window"):
            continue
        areas = shapely.STRtree(dressed.placed.drawn.areas)
        below = spot.paper
        for other, paper in shown:
            mine = other.placed.drawn.areas if other.spot is not None and other.spot.id == spot.id else ()
            if mine and areas.query(mine, predicate="intersects").size:
                below = paper
        own = item.paper if item.made == "window" else (item.paper or seen.brief.base_paper)
        if item.made == "piece":
            shown.append((dressed, own or spot.paper))
        if own is None or item.printed:
            continue  # what is printed on it tells it from its ground
        one, ground = seen.facts.paper(own).paper, seen.facts.paper(below).paper
        apart = difference(one.colour, ground.colour)
        if apart >= ALIKE:
            continue
        yield Finding(
            "dress.colours-alike",
            "look",
            f"{item.name} hardly shows",
            f"{one.name} on {ground.name}: the colours differ by {apart:.1f} (CIEDE2000); from about {ALIKE:.0f} they "
            "are told apart.",
            "Tone on tone disappears, above all in photographs.",
            item.id,
            tuple(
                Mend(f"Use {paper.name}", (Change(path_of(item, "paper"), paper.id),))
                for paper in told_apart(seen.brief.papers, ground.colour)[:2]
            ),
        )
