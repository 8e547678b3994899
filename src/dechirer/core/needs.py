"""What a job takes of the stock: sheets and blanks, things of the kit, foil, and the pens that are to be there."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator

from dechirer.core.keep.entries import StockMoved
from dechirer.core.keep.stock import offcut_name
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.offcuts import find_offcut
from dechirer.core.paper.colours import name_colour
from dechirer.core.plan import Plan
from dechirer.core.run.steps import foil_sheet

PER_CM2 = 100.0


def needs_of(plan: Plan) -> dict[str, float]:
    """How much of each thing a job takes or has to have, by the names stock has."""
    sheets = {plan.brief.paper(paper).paper.name: float(count) for paper, count in sheets_of(plan).items()}
    kit = {row.stock_name: row.stock_amount for row in plan.making_up.kit if row.is_stocked}
    return sheets | foil_of(plan) | pens_of(plan) | kit


def sheets_of(plan: Plan) -> Counter[str]:
    """How many sheets and blanks of each paper, by its id, the run takes; offcuts are not among them."""
    used: Counter[str] = Counter()
    for mat in plan.run.mats:
        layout = mat.layout
        if layout.is_blank:
            for placed in layout.placements:
                used[placed.piece.paper] += layout.repeats
        elif not layout.sheet.offcut:
            used[layout.paper] += layout.repeats
    return used


def foil_of(plan: Plan) -> dict[str, float]:
    """How much foil of each colour the run takes (cm², with what is taped)."""
    found: dict[str, float] = {}
    for mat in plan.run.mats:
        for colour in dict.fromkeys(each.tool.colour for each in mat.passes if each.operation == "foil"):
            sheet = foil_sheet(mat.layout, colour)
            if sheet is not None:
                name = f"foil, {name_colour(colour)} (cm²)"
                area = mat.layout.repeats * math.ceil(sheet.width) * math.ceil(sheet.height) / PER_CM2
                found[name] = found.get(name, 0.0) + round(area, 1)
    return found


def pens_of(plan: Plan) -> dict[str, float]:
    """The pens that are to be there; a run does not use them up."""
    tools = [each.tool for mat in plan.run.mats for each in mat.passes if each.operation == "pen"]
    return {tool.title.lower(): 1.0 for tool in tools}


def offcuts_used(plan: Plan, id: str, day: str) -> Iterator[StockMoved]:
    """The offcuts a run has cut from."""
    for number, (layout, paper) in enumerate(_sheets(plan)):
        if layout.sheet.offcut:
            wide, high = layout.sheet.width, layout.sheet.height
            why = f"cut for {plan.job.name}"[:400]
            yield offcut_moved(f"{id}-offcut-{number}"[:80], day, paper, wide, high, -layout.repeats, why)


def offcuts_left(plan: Plan, id: str, day: str) -> tuple[StockMoved, ...]:
    """What is left of the sheets of a run and large enough to be used again, as stock that comes in."""
    gap, found = plan.job.lay.spacing.mm, []
    for number, (layout, paper) in enumerate(_sheets(plan)):
        left = None if layout.sheet.offcut else find_offcut(layout, gap)
        if left is not None:
            why = f"left of {plan.job.name}"[:400]
            own = f"{id}-left-{number}"[:80]
            found.append(offcut_moved(own, day, paper, left.width, left.height, layout.repeats, why))
    return tuple(found)


def offcut_moved(id: str, day: str, paper: str, wide: float, high: float, change: float, why: str) -> StockMoved:
    """Offcuts of a size (mm) that came in or were used; they lie either way, so the longer side comes first."""
    wide, high = round(max(wide, high), 1), round(min(wide, high), 1)
    name = offcut_name(paper, wide, high)
    return StockMoved(id, day, name, float(change), why=why, paper=paper[:120], width=wide, height=high)


def _sheets(plan: Plan) -> Iterator[tuple[MatLayout, str]]:
    """The layouts that are cut from sheets, with the names of their papers."""
    for mat in plan.run.mats:
        if not mat.layout.is_blank:
            yield mat.layout, plan.brief.paper(mat.layout.paper).paper.name
