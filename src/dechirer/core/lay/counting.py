"""The figures of a lay: how many mats and sheets, and how much of the paper is used."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence

from dechirer.core.brief.decisions import Paper
from dechirer.core.card.placed import Placement
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.figure import Figure
from dechirer.core.lay.mat import MatLayout


def area_of(placements: Iterable[Placement]) -> float:
    """The area of some pieces, in mm2."""
    return sum(each.piece.area for each in placements)


def share_of(key: str, name: str, area: float, sheet: LoadedSheet) -> Figure:
    """How much of a sheet's paper the pieces on it take, whose area that is in mm2."""
    used = Figure(f"{key}.pieces", "area of the pieces", area, "area", source="outlines of the pieces")
    whole = Figure(f"{key}.sheet", "area of the sheet", sheet.width * sheet.height, "area", source="the sheet set")
    return Figure(
        key,
        name,
        used.value / whole.value if whole.value else 0.0,
        "share",
        formula="{area of the pieces} ÷ {area of the sheet}",
        inputs=(used, whole),
    )


def repeats_of(layout: MatLayout) -> Figure:
    """How often a mat is cut, and what it holds."""
    words = ", ".join(
        f"{count} × {piece}" for piece, count in Counter(each.piece.name for each in layout.placements).items()
    )
    return Figure(
        f"{layout.id}.repeats",
        f"mat {layout.number}",
        float(layout.repeats),
        "count",
        source=f"holds {words}",
    )


def count_mats(layouts: Sequence[MatLayout]) -> Figure:
    """The mats of all layouts, each as often as it is cut."""
    inputs = tuple(repeats_of(layout) for layout in layouts)
    return Figure(
        "lay.mats",
        "mats",
        sum(each.value for each in inputs),
        "count",
        formula=" + ".join("{" + each.name + "}" for each in inputs),
        inputs=inputs,
        note="A mat that is cut several times is counted each time.",
    )


def count_sheets(layouts: Sequence[MatLayout], papers: tuple[Paper, ...]) -> tuple[Figure, ...]:
    """The sheets of each paper; one that is larger than the mat gives as many mats as it can be cut down to."""
    found = []
    for paper in papers:
        blanks = [(each, _of_paper(each, paper)) for each in layouts if each.is_blank and _of_paper(each, paper)]
        if blanks:
            found.append(_count_blanks(paper, blanks))
        own = [each for each in layouts if each.paper == paper.id and not each.is_blank and not each.sheet.offcut]
        if not own:
            continue
        for number in sorted({layout.sheet.size_number for layout in own}):
            found.append(_count_of_size(paper, number, [each for each in own if each.sheet.size_number == number]))
    return tuple(found)


def _count_of_size(paper: Paper, number: int, own: Sequence[MatLayout]) -> Figure:
    """The sheets of one size of a paper, by its number from 0."""
    mine = tuple(repeats_of(layout) for layout in own)
    mats, per_sheet = sum(each.value for each in mine), own[0].sheet.per_sheet
    formula, note = " + ".join("{" + each.name + "}" for each in mine), ""
    if per_sheet > 1:
        formula, note = f"({formula}) ÷ {per_sheet}", f"Rounded up: each sheet is cut down to {per_sheet} for the mat."
    key, name = f"lay.sheets.{paper.id}", f"sheets of {paper.name}"
    if number:
        size = paper.other_sheets[number - 1]
        key, name = f"{key}.{number}", f"{name}, {size.width} x {size.height}"
    return Figure(key, name, float(-(-mats // per_sheet)), "count", formula=formula, inputs=mine, note=note)


def _of_paper(layout: MatLayout, paper: Paper) -> int:
    """How many pieces of a paper lie on a mat."""
    return sum(placed.piece.paper == paper.id for placed in layout.placements)


def _count_blanks(paper: Paper, loads: list[tuple[MatLayout, int]]) -> Figure:
    mats = tuple(repeats_of(layout) for layout, _ in loads)
    terms = [
        f"{count} × {{{mat.name}}}" if count > 1 else f"{{{mat.name}}}"
        for (_, count), mat in zip(loads, mats, strict=True)
    ]
    return Figure(
        f"lay.blanks.{paper.id}",
        f"blanks of {paper.name}",
        sum(layout.repeats * count for layout, count in loads),
        "count",
        formula=" + ".join(terms),
        inputs=mats,
        note="Bought cut and scored.",
    )


def count_all_sheets(inputs: tuple[Figure, ...]) -> Figure:
    """The sheets of all papers."""
    return Figure(
        "lay.sheets",
        "sheets",
        sum(each.value for each in inputs),
        "count",
        formula=" + ".join("{" + each.name + "}" for each in inputs),
        inputs=inputs,
    )


def share_of_all(layouts: Sequence[MatLayout]) -> Figure:
    """How much of all paper is used."""
    pieces = sum(each.repeats * each.share.inputs[0].value for each in layouts)
    sheets = sum(each.repeats * each.share.inputs[1].value for each in layouts)
    used = Figure("lay.area.pieces", "area of all pieces", pieces, "area", source="outlines of the pieces")
    whole = Figure("lay.area.sheets", "area of all sheets", sheets, "area", source="the sheets set")
    return Figure(
        "lay.share",
        "paper used",
        pieces / sheets if sheets else 0.0,
        "share",
        formula="{area of all pieces} ÷ {area of all sheets}" if sheets else "",
        inputs=(used, whole),
        note="The rest is offcuts.",
    )
