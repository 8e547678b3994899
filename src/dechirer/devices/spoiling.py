"""What would spoil copies, over many loads: slits beside their corner, webs that tear, white rims, shallow blades."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from msgspec import Struct

from dechirer.core.paper.strength import web_it_holds
from dechirer.core.plan import Plan
from dechirer.core.press.station import PAGES, PRESS
from dechirer.core.run.run import MatRun, Pass
from dechirer.core.run.settings import reach_of, setting_of
from dechirer.devices.cutter import Faults, MatOutcome, run_place
from dechirer.devices.rehearsal import print_and_read

STRENGTH_SHARE = 0.1
"""Webs of one paper hold differently by so much, one standard deviation (from memory)."""
KISSED_LAYERS = 2
"""What is kiss-cut lies on a backing as thick as itself."""
NEAR_MM = 0.005


class Spoils(Struct, frozen=True):
    """What would spoil copies: what, the share of loads it happened in, and its limit in words."""

    what: str
    share: float
    limit: str


def _reach(plan: Plan, mat: MatRun, each: Pass) -> tuple[float, float]:
    """How deep the blade of a pass goes, and how thick its paper is, mm."""
    facts = plan.brief.paper(mat.layout.paper)
    setting = setting_of(plan.job.run.settings, mat.layout.paper, each.tool.tool)
    return reach_of(setting, facts, each.tool.tool, each.times), facts.thickness.value


def goes_through(plan: Plan, mat: MatRun) -> set[str]:
    """The operations of a mat whose blade goes through its paper; a kiss cut does where it reaches past the backing."""
    found: set[str] = set()
    for each in mat.passes:
        if each.operation in ("cut", "kiss"):
            reach, thick = _reach(plan, mat, each)
            layers = 1 if each.operation == "cut" else KISSED_LAYERS
            if reach >= layers * thick - NEAR_MM:
                found.add(each.operation)
    return found


def find_bad_blades(plan: Plan, mat: MatRun) -> Iterator[str]:
    """What is wrong with the depth of a mat's blades, in words."""
    through = goes_through(plan, mat)
    for each in mat.passes:
        if each.operation not in ("cut", "kiss") or (each.operation in through) == (each.operation == "cut"):
            continue
        reach, thick = _reach(plan, mat, each)
        what = "does not go through" if each.operation == "cut" else "goes through the backing of"
        yield f"mat {mat.layout.number}: the blade reaches {reach:.2f} mm and {what} a paper of {thick:.2f} mm"


def find_torn(
    plan: Plan, nominal: list[tuple[str, MatOutcome]], loads: list[tuple[MatRun, Faults]], seed: int
) -> list[Spoils]:
    """In how many loads a web tears: it is narrowed by the carriage's play, and papers are not equally strong."""
    narrow: dict[str, float] = {}
    for _, outcome in nominal:
        for piece in outcome.pieces:
            narrow[outcome.mat] = min(narrow.get(outcome.mat, math.inf), piece.web)
    random, torn, holds = np.random.default_rng(seed + 31), [], 0.0
    for mat, faults in loads:
        web = narrow.get(mat.layout.id, math.inf)
        if not math.isfinite(web):
            continue
        holds = web_it_holds(plan.brief.paper(mat.layout.paper).grammage.value)
        torn.append(web - faults.play - faults.kerf < holds * random.normal(1.0, STRENGTH_SHARE))
    if not torn:
        return []
    return [Spoils("webs that tear", float(np.mean(torn)), f"its paper holds about {holds:.2f} mm")]


def shift_at(place: tuple[float, float], faults: Faults) -> tuple[float, float]:
    """How far what belongs at a place of the mat is run from it."""
    x, y = run_place(place, faults)
    return x - place[0], y - place[1]


def find_missed_slits(plan: Plan, loads: list[tuple[MatRun, Faults]]) -> list[Spoils]:
    """In how many loads of blanks a slit misses its corner."""
    figure = plan.figures.get("slits.tolerance")
    on_blanks = [(mat, faults) for mat, faults in loads if mat.layout.is_blank]
    if figure is None or not on_blanks:
        return []
    missed = [
        max(np.hypot(*shift_at(placed.box.middle, faults)) for placed in mat.layout.placements) > figure.value
        for mat, faults in on_blanks
    ]
    limit = f"a slit may be {figure.value:.2f} mm beside its place"
    return [Spoils("slits that miss their corner", float(np.mean(missed)), limit)]


def find_rims(plan: Plan, seed: int, runs: int) -> list[Spoils]:
    """In how many sheets a white rim shows where ink reaches the cut."""
    press, found = plan.part(PRESS), []
    for page in plan.part(PAGES).pages:
        bleeds = [press.bleed_of(placed.piece.id) for placed in page.placements]
        bleed = min((each for each in bleeds if each > 0), default=0.0)
        if not bleed:
            continue
        worst = [print_and_read(plan, page, seed + run).worst for run in range(min(runs, 6))]
        share = float(np.mean([each > bleed for each in worst])) if worst else 0.0
        found.append(Spoils(f"white rims on page {page.number}", share, f"the bleed is {bleed:.2f} mm"))
    return found
