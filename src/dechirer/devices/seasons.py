"""A book of two invented seasons at Saltmarsh, made by a seeded simulation, so that what is learned of it can be held
against what was put in.

Corners are cut where the simulated machine cuts them; times, webs and spoiled sheets are drawn about the truth.
"""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from datetime import date, timedelta

from msgspec import Struct, structs

from dechirer.core.brief.machine import Machine, load_machines
from dechirer.core.keep.entries import (
    Entry,
    MadeUp,
    Note,
    Recipient,
    RunDone,
    Spoilt,
    StockMoved,
    Took,
    WebTried,
)
from dechirer.core.press.records import Calibration, CornerTrial
from dechirer.devices.cutter import draw_faults

FIRST, LAST = date(2025, 3, 1), date(2026, 10, 15)
JOBS = (
    ("Saltmarsh Kite Day", 12, 14, 33.0, 71.0),
    ("Boathouse opening", 8, 9, 19.0, 26.0),
    ("Thank you, helpers", 30, 12, 41.0, 38.0),
    ("Prize giving", 6, 7, 22.0, 31.0),
    ("Winter swim tickets", 20, 6, 15.0, 18.0),
    ("Harbour supper", 16, 10, 28.0, 44.0),
)
"""Invented jobs: cards, sheets, minutes planned at the machine and at the table."""
PAPERS = (("sea grey", 297.0), ("chalk white", 120.0), ("dune green", 216.0))
CAUSES = ("a corner caught the roller", "a web tore while weeding", "laid in askew", "film left on")
PRINTER = "Siskin 4"
STAGES = ("weed", "crease", "glue", "fold", "envelope")
SPLIT = {"cut": 0.4, "score": 0.15, "load": 0.25, "fit": 0.2}
NAMES = ("Ann Fowler", "Bo Larsson", "Cass Wren", "Dai Prosser", "Ena Quill", "Finn Saltby")


class Truth(Struct, frozen=True):
    """What a simulated maker is really like: how many times the planned times are taken, at the machine and at the
    table, the narrowest web each paper holds (mm), the share of sheets spoiled, and where the machine cuts in the
    corner (mm), and where its printer prints beside the cut (mm) and how much too large (%)."""

    machine: dict[str, float]
    table: dict[str, float]
    webs: dict[str, float]
    spoiled: float
    corner: tuple[float, float]
    prints: dict[str, float]


def draw_truth(seed: int) -> Truth:
    """What is true of the maker of a seed."""
    pick = random.Random(seed)
    return Truth(
        {kind: math.exp(pick.gauss(0.0, 0.2)) for kind in SPLIT},
        {stage: math.exp(pick.gauss(0.1, 0.2)) for stage in STAGES},
        {paper: max(0.3, pick.gauss(0.75, 0.12)) for paper, _ in PAPERS},
        min(0.2, max(0.005, pick.gauss(0.04, 0.015))),
        (pick.gauss(2.0, 0.8), pick.gauss(-1.0, 0.8)),
        {"right": pick.gauss(0.3, 0.5), "down": pick.gauss(-0.2, 0.5), "wide": pick.gauss(0, 0.2), "high": 0.1},
    )


def write_seasons(seed: int = 7, runs: int = 40, truth: Truth | None = None) -> tuple[Entry, ...]:
    """The entries of two seasons; the same ones for the same seed."""
    pick = random.Random(seed * 7919 + 1)
    known = truth or draw_truth(seed)
    machine = load_machines()["heron-12"]
    return tuple(_all(pick, known, machine, runs, seed))


def _all(pick: random.Random, known: Truth, machine: Machine, runs: int, seed: int) -> Iterator[Entry]:
    yield from _bought(pick)
    span = (LAST - FIRST).days
    for number in range(runs):
        day = (FIRST + timedelta(days=round(span * (number + 0.5) / runs))).isoformat()
        name, cards, sheets, planned, table = pick.choice(JOBS)
        yield from _run(pick, known, machine, number, day, (name, cards, sheets, planned))
        took = tuple(
            Took(stage, share := 60 * table / len(STAGES), share * known.table[stage] * math.exp(pick.gauss(0, 0.12)))
            for stage in STAGES
        )
        yield MadeUp(f"making-{number}", day, name, cards, table, sum(each.seconds for each in took) / 60, took)
        if number % 3 == 0:
            yield from _tries(pick, known, number, day)
            faults = draw_faults(machine, seed * 1000 + number)
            right, down = known.corner[0] + faults.right * 0.1, known.corner[1] + faults.down * 0.1
            yield CornerTrial(f"trial-{number}", day, machine.name, "main", round(right, 3), round(down, 3))
        if number % 5 == 0:
            off = {side: round(value + pick.gauss(0, 0.04), 3) for side, value in known.prints.items()}
            page = Calibration(f"page-{number}", day, "sea grey", PRINTER, machine.name, "marks", spread=0.06, places=9)
            yield structs.replace(page, **off)
    yield Note("note-film", FIRST.isoformat(), "Saltmarsh Kite Day", "Film off before loading: the roller skids on it.")
    for place, name in enumerate(NAMES):
        made = LAST.isoformat()
        posted = made if place < 4 else ""
        yield Recipient(f"recipient-{place}", made, "Saltmarsh Kite Day", name, made, made if place < 5 else "", posted)


def _bought(pick: random.Random) -> Iterator[Entry]:
    """Stock at the beginning, and some more each season."""
    for season, day in enumerate((FIRST, FIRST + timedelta(days=365))):
        for paper, _ in PAPERS:
            id, count = f"bought-{season}-{paper.replace(' ', '-')}", float(pick.choice((150, 200, 250)))
            yield StockMoved(id, day.isoformat(), paper, count, price=0.35)


def _run(
    pick: random.Random, known: Truth, machine: Machine, number: int, day: str, job: tuple[str, int, int, float]
) -> Iterator[Entry]:
    name, cards, sheets, planned = job
    took = tuple(
        Took(kind, share := 60 * planned * part, share * known.machine[kind] * math.exp(pick.gauss(0, 0.1)), sheets)
        for kind, part in SPLIT.items()
    )
    minutes = sum(each.seconds for each in took) / 60
    yield RunDone(f"run-{number}", day, name, machine.name, cards, sheets, planned, minutes, took)
    bad = sum(pick.random() < known.spoiled for _ in range(sheets))
    paper = pick.choice(PAPERS)[0]
    for place in range(bad):
        yield Spoilt(f"spoilt-{number}-{place}", day, name, paper, pick.choice(CAUSES))
    yield StockMoved(f"used-{number}", day, paper, -float(sheets + bad), why=f"cut for {name}")


def _tries(pick: random.Random, known: Truth, number: int, day: str) -> Iterator[Entry]:
    """A ladder of webs on a paper: those near its limit hold now and then."""
    paper, grams = PAPERS[(number // 3) % len(PAPERS)]
    for place, width in enumerate((0.4, 0.6, 0.8, 1.0, 1.2)):
        held = width > known.webs[paper] + pick.gauss(0, 0.08)
        yield WebTried(f"web-{number}-{place}", day, paper, width, held, grams)
