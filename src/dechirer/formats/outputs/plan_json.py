"""The plan's figures as JSON, for other programs and for `--json`. Keys are described in `docs/files.md`."""

from __future__ import annotations

import json
from typing import Any

from dechirer.core.finding import Finding
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.offcuts import find_offcut
from dechirer.core.plan import Plan
from dechirer.core.press.pages import Page, walk_sides
from dechirer.core.press.station import PAGES, PRESS
from dechirer.core.run.run import MatRun
from dechirer.core.stations import STATIONS
from dechirer.formats.output import OUTPUTS
from dechirer.formats.read_back import check_plan_json


def make_plan_record(plan: Plan) -> dict[str, Any]:
    """The plan as plain data: lengths in mm, times in minutes, shares from 0 to 1."""
    return {
        "job": {"name": plan.job.name, "about": plan.job.about},
        "totals": {
            "pieces": int(plan.whole.piece_count.value),
            "sheets": int(plan.lay.sheet_count.value),
            "mats": int(plan.lay.mats.value),
            "tool_changes": int(plan.run.changes.value),
            "minutes": round(plan.run.minutes.value, 2),
            "paper_used": round(plan.lay.share.value, 4),
            "stops": plan.stops,
        },
        "verdicts": {station: plan.verdict(station) for station in STATIONS.ids()},
        "pieces": [
            {
                "id": piece.id,
                "count": piece.count,
                "paper": piece.paper,
                "width_mm": round(piece.width.value, 4),
                "height_mm": round(piece.height.value, 4),
                "folds": [
                    {
                        "marked_by": mark.kind,
                        "sense": mark.sense,
                        "at_mm": round(mark.at.value, 4),
                        "from": mark.edge,
                        "length_mm": round(mark.length.value, 4),
                    }
                    for mark in piece.folds
                ],
            }
            for piece in (*plan.whole.pieces, *plan.lay.guest_pieces)
        ],
        "laid_with": [each.guest.name for each in plan.lay.guests],
        "closed": {
            "width_mm": round(plan.construct.closed.width.value, 4),
            "height_mm": round(plan.construct.closed.height.value, 4),
            "thickness_mm": round(plan.construct.closed.thickness.value, 4),
            "weight_g": round(plan.construct.closed.weight.value, 2),
        },
        "at_hand": [
            {
                "id": each.id,
                "name": each.name,
                "count": each.count,
                "width_mm": round(each.width, 4),
                "height_mm": round(each.height, 4),
                "thickness_mm": round(each.thickness, 4),
                "on": each.on,
                "loose": each.loose,
            }
            for each in plan.dress.at_hand
        ],
        "mats": [_mat_record(mat, plan) for mat in plan.run.mats],
        "pages": [_page_record(page, plan) for page in plan.part(PAGES).pages],
        "unplaced": [{"piece": piece, "count": count} for piece, count in plan.lay.unplaced],
        "findings": [make_finding_record(finding) for finding in plan.findings],
        "figures": [figure.tree() for figure in plan.figures.values()],
    }


def _page_record(page: Page, plan: Plan) -> dict[str, Any]:
    press = plan.part(PRESS)
    marks = page.sheet.registration
    return {
        "files": [f"press/{id}.pdf" for id, _ in walk_sides(page)],
        "print_times": page.times,
        "to_spare": page.spoiled,
        "mat": page.mat,
        "paper": page.paper,
        "face": page.face,
        "sheet_mm": [round(page.sheet.width, 4), round(page.sheet.height, 4)],
        "marks_mm": [[round(x, 4), round(y, 4)] for x, y in marks.places] if marks is not None else [],
        "pieces": [
            {
                "piece": placed.piece.id,
                "x_mm": round(placed.box.left, 4),
                "y_mm": round(placed.box.top, 4),
                "bleed_mm": round(press.bleed_of(placed.piece.id), 4),
            }
            for placed in page.placements
        ],
    }


def _left_over(layout: MatLayout, gap: float) -> list[float]:
    """The largest rectangle left of a sheet, as left, top, width and height on the mat; empty for none."""
    left = None if layout.is_blank else find_offcut(layout, gap)
    return [] if left is None else [round(each, 4) for each in (left.left, left.top, left.width, left.height)]


def _mat_record(mat: MatRun, plan: Plan) -> dict[str, Any]:
    layout = mat.layout
    return {
        "file": f"mats/{layout.id}.svg",
        "cut_times": layout.repeats,
        "paper": layout.paper,
        "face": layout.face,
        "sheet_mm": [round(layout.sheet.width, 4), round(layout.sheet.height, 4)],
        "sheet_at_mm": [round(layout.sheet.left, 4), round(layout.sheet.top, 4)],
        "mat": layout.sheet.mat.name,
        "offcut": layout.sheet.offcut,
        "mat_mm": [round(layout.sheet.mat.width, 4), round(layout.sheet.mat.height, 4)],
        "left_over_mm": _left_over(layout, plan.job.lay.spacing.mm),
        "slots": [
            {"slot": row.slot, "piece": row.placement, "design": row.design, "blank": row.blank, "insert": row.insert}
            for row in plan.slots_of(layout)
        ],
        "pieces": [
            {
                "id": placed.id,
                "x_mm": round(placed.box.left, 4),
                "y_mm": round(placed.box.top, 4),
                "turned": placed.turned,
                "angle_deg": round(placed.angle, 3),
                "pinned": placed.pinned,
            }
            for placed in layout.placements
        ],
        "passes": [
            {
                "operation": each.operation,
                "tool": each.tool.tool,
                "colour": each.tool.colour or None,
                "tip_mm": each.tool.tip_fitted or None,
                "holder": each.tool.holder,
                "times": each.times,
                "length_mm": round(each.length_mm, 2),
                "seconds": round(each.seconds, 1),
            }
            for each in mat.passes
        ],
    }


def make_finding_record(finding: Finding) -> dict[str, Any]:
    """A finding as plain data; mends by their labels."""
    return {
        "code": finding.code,
        "severity": finding.severity,
        "station": finding.station,
        "title": finding.title,
        "reason": finding.reason,
        "cost": finding.cost,
        "element": finding.element,
        "mends": [mend.label for mend in finding.mends],
    }


@OUTPUTS.add(
    "plan.json",
    order=40,
    check=check_plan_json,
    about="every figure with its working, for other programs",
)
def write_plan_json(plan: Plan) -> bytes:
    """The plan as JSON in UTF-8."""
    return json.dumps(make_plan_record(plan), indent=1, ensure_ascii=False).encode() + b"\n"
