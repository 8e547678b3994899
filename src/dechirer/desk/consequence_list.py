"""What the consequences line and the strip show, read from a plan."""

from __future__ import annotations

from dechirer.core.figure import format_minutes
from dechirer.core.length import format_size
from dechirer.core.plan import Plan
from dechirer.desk.widgets.consequences import Consequence


def count(number: float, one: str, many: str) -> str:
    """The word for one or for many."""
    return one if round(number) == 1 else many


def list_consequences(plan: Plan) -> list[Consequence]:
    """The figures of the bottom line."""
    pieces, sheets, mats = plan.whole.piece_count.value, plan.lay.sheet_count.value, plan.lay.mats.value
    changes = plan.run.changes.value
    number, _, unit = format_minutes(plan.run.minutes.value).partition(" ")
    if "h" in unit:
        number, unit = format_minutes(plan.run.minutes.value), ""
    return [
        Consequence("construct.pieces", "construct", f"{pieces:.0f}", count(pieces, "piece", "pieces")),
        Consequence("lay.sheets", "lay", f"{sheets:.0f}", count(sheets, "sheet", "sheets")),
        Consequence("lay.mats", "lay", f"{mats:.0f}", count(mats, "mat", "mats")),
        Consequence("run.changes", "run", f"{changes:.0f}", count(changes, "tool change", "tool changes")),
        Consequence("run.minutes", "run", number, f"{unit} at the machine".strip()),
        Consequence("lay.share", "lay", f"{100 * plan.lay.share.value:.0f} %", "of paper used"),
        Consequence("stops", "", str(plan.stops), count(plan.stops, "stop", "stops")),
    ]


def station_figure(plan: Plan, station: str) -> str:
    """The one live figure of a station."""
    job = plan.job
    match station:
        case "brief":
            size = format_size(job.brief.width.mm, job.brief.height.mm, job.units)
            return f"{size} {plan.construct.kind.title.lower()} · × {job.brief.count}"
        case "construct":
            kinds = len(plan.construct.pieces)
            return (
                f"{kinds} {'kind' if kinds == 1 else 'kinds'} of piece, {plan.construct.piece_count.value:.0f} in all"
            )
        case "dress":
            items = len(job.dress.items)
            faces = len({item.face for item in job.dress.items})
            if not items:
                return "nothing on the faces yet"
            return f"{items} {count(items, 'item', 'items')} on {faces} {count(faces, 'face', 'faces')}"
        case "lay":
            mats = plan.lay.mats.value
            return f"{mats:.0f} {'mat' if mats == 1 else 'mats'} · {plan.lay.share.text()} used"
        case _:
            return format_minutes(plan.run.minutes.value)
