"""The card as it will be: the stack and the envelope after the dress, and a file of 2,000 paths made the card.

Yardsticks of the same run: for the stack, shapely's union of the same outlines; for the file, svgelements reading it.
"""

from __future__ import annotations

import io
import time

import shapely
import svgelements

from bench.table import show, spread, verdict
from dechirer.core.construct.card import make_card
from dechirer.core.construct.construct import make_construct
from dechirer.core.construct.station import CARD
from dechirer.core.dress.glued import GLUED, stack_dress
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.new import make_job
from dechirer.core.plan import Planner
from dechirer.core.starting import take_card
from dechirer.demo import load_demo_job
from dechirer.formats.art.read import read_art

RUNS = 15
PATHS = 2000


def lattice() -> bytes:
    """A card of 240 x 180 mm with a fold and 1,998 small openings."""
    holes = "".join(
        f'<path d="M {3 + n % 50 * 4.6:.2f} {3 + n // 50 * 4.3:.2f} h 2.5 v 2.5 h -2.5 Z"/>' for n in range(PATHS - 2)
    )
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" width="250mm" height="190mm" viewBox="0 0 250 190" fill="none" '
        f'stroke="#000000" stroke-width="0.2"><g id="cut"><path d="M 0 0 h 240 v 180 h -240 Z"/>{holes}</g>'
        '<g id="score"><path d="M 120 0 V 180"/></g></svg>'
    ).encode()


def measure_stack() -> list[tuple[str, str, str, str]]:
    """The stack and the envelope of the dressed demo, worked out from nothing."""
    job = load_demo_job("kites")
    plan = Planner().plan(job)
    items = tuple(each for each in plan.dress.items if each.item.made in GLUED and "/" not in each.item.face)
    card = make_card(job.brief, job.construct.fold, plan.brief, job.units, job.lay.margin.mm)
    bare, taken, union = plan.part(CARD), [], []
    for _ in range(RUNS):
        began = time.perf_counter()
        stacked = stack_dress(bare, plan.brief, items, ())
        make_construct(job.construct, card, bare, stacked)
        taken.append(1000 * (time.perf_counter() - began))
        began = time.perf_counter()
        shapely.union_all([shapely.Polygon(slab.outline, slab.holes).buffer(0) for slab in stacked.slabs])
        union.append(1000 * (time.perf_counter() - began))
    good = sorted(taken)[RUNS // 2] < 20
    return [
        ("stack and envelope of the dressed demo", spread(taken), "wanted under 20 ms", verdict(good)),
        ("shapely's union of its outlines", spread(union), "the yardstick", ""),
    ]


def measure_file() -> list[tuple[str, str, str, str]]:
    """A file of 2,000 paths, from its bytes to the folded card's size."""
    data, taken, other = lattice(), [], []
    for _ in range(5):
        began = time.perf_counter()
        job = make_job()
        apply_changes(job, take_card(job, read_art(data, "lattice.svg", set())))
        taken.append(1000 * (time.perf_counter() - began))
        began = time.perf_counter()
        list(svgelements.SVG.parse(io.StringIO(data.decode()), ppi=25.4).elements())
        other.append(1000 * (time.perf_counter() - began))
    good = sorted(taken)[2] < 1000
    return [
        (f"a file of {PATHS:,} paths made a folded card", spread(taken), "wanted under 1 s", verdict(good)),
        ("svgelements reading the same file", spread(other), "the yardstick", ""),
    ]


def main() -> None:
    """Measure and print."""
    show("The card as it will be", [*measure_stack(), *measure_file()])


if __name__ == "__main__":
    main()
