"""The cut list: one row per kind of piece, as CSV that any spreadsheet opens."""

from __future__ import annotations

import csv
import io

from dechirer.core.length import format_length
from dechirer.core.plan import Plan
from dechirer.formats.output import OUTPUTS
from dechirer.formats.read_back import check_cut_list

HEADINGS = (
    "piece",
    "name",
    "count",
    "paper",
    "weight",
    "width",
    "height",
    "width mm",
    "height mm",
    "fold at",
    "fold sense, outside up",
    "fold marked by",
    "mats",
)


@OUTPUTS.add(
    "cut-list.csv",
    order=20,
    check=check_cut_list,
    about="a row for each kind of piece",
)
def write_cut_list(plan: Plan) -> bytes:
    """The cut list as CSV in UTF-8 (RFC 4180: CRLF line ends). Cells that a spreadsheet could take for a formula
    are led by an apostrophe."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(HEADINGS)
    units = plan.job.units
    for piece in (*plan.whole.pieces, *plan.lay.guest_pieces):
        paper = plan.brief.paper(piece.paper).paper
        mats = [
            str(layout.number)
            for layout in plan.lay.layouts
            if any(placed.piece.id == piece.id for placed in layout.placements)
        ]
        rows.writerow(
            safe_cell(cell)
            for cell in (
                piece.letter,
                piece.name,
                piece.count,
                paper.name,
                paper.weight,
                format_length(piece.width.value, units),
                format_length(piece.height.value, units),
                f"{piece.width.value:.2f}",
                f"{piece.height.value:.2f}",
                "; ".join(f"{format_length(mark.at.value, units)} from the {mark.edge}" for mark in piece.folds),
                "; ".join(mark.sense for mark in piece.folds),
                "; ".join(mark.kind for mark in piece.folds),
                "; ".join(mats) + (", bought: not cut out" if piece.blank else ""),
            )
        )
    for each in plan.dress.at_hand:
        size = format_length(each.width, units), format_length(each.height, units)
        row = (
            "",
            each.name,
            each.count,
            "",
            "",
            *size,
            f"{each.width:.2f}",
            f"{each.height:.2f}",
            "",
            "",
            "",
            "at hand: not cut",
        )
        rows.writerow(safe_cell(cell) for cell in row)
    return out.getvalue().encode()


FORMULA_SIGNS = frozenset("=+-@＝＋－＠")
"""Signs that begin a formula, the full-width ones that some table programs take for them among them."""


def safe_cell(cell: object) -> str:
    """A cell that no table program takes for a formula, whatever stands before its sign."""
    text = str(cell)
    begins = text.lstrip("\t\r\n \u00a0\u3000")[:1]
    return f"'{text}" if text[:1] in ("\t", "\r", "\n") or (begins and begins in FORMULA_SIGNS) else text
