"""`dechirer making-up`: the making-up of a job on paper, its kit list, and its steps as data."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from dechirer.cli.exporting import export_or_refuse
from dechirer.cli.saying import say
from dechirer.core.audit import audited
from dechirer.core.figure import format_minutes
from dechirer.core.fold.bulk import Bulk
from dechirer.core.fold.joints import Joint
from dechirer.core.fold.making_up import MakingPlan
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.formats.export import Choice

FILES = ("making-up.pdf", "kit-list.csv")


def run_making_up(job: Job, out: Path, *, as_json: bool, replace: bool = False) -> Plan:
    """Write the making-up of a job, and say what it comes to; the plan.

    Raises:
        BadInput: a file cannot be written.
    """
    made = audited(make_plan(job))
    export_or_refuse(made, out, choice=Choice(only=FILES), replace=replace)
    making = made.making_up
    if as_json:
        say(json.dumps(as_record(making, made.find_bulk()), indent=1, ensure_ascii=False))
        return made
    for number, step in enumerate(making.steps, start=1):
        say(f"{number}. {step.words}")
    say(f"{format_minutes(making.schedule.minutes.value)} to make up", err=True)
    say(f"{', '.join(FILES)} in {out}", err=True)
    return made


def as_record(making: MakingPlan, bulk: Bulk) -> dict[str, Any]:
    """A making-up as plain data."""
    schedule = making.schedule
    return {
        "steps": [
            {
                "id": step.id,
                "stage": step.stage,
                "words": step.words,
                "more": step.more,
                "why": step.why,
                "parts": list(step.parts),
                "needs": list(step.needs),
                "hands_s": round(step.hands_s, 1),
                "sets_min": step.sets_min,
            }
            for step in making.steps
        ],
        "joints": [_joint_record(joint) for joint in making.joints],
        "kit": [
            {
                "id": row.id,
                "kind": row.kind,
                "name": row.name,
                "size": row.size,
                "each": row.each,
                "total": row.total,
                "unit": row.unit,
                "spare": row.spare,
                "there": row.there,
                "lacking": row.lacking,
            }
            for row in making.kit
        ],
        "thickest_mm": round(bulk.most, 3),
        "rocks": bulk.rocks,
        "schedule": {
            "way": schedule.way,
            "minutes": round(schedule.minutes.value, 1),
            "line_minutes": round(schedule.line, 1),
            "each_minutes": round(schedule.each, 1),
            "days": schedule.days,
            "start_by": schedule.start_by or None,
        },
    }


def _joint_record(joint: Joint) -> dict[str, Any]:
    return {
        "id": joint.id,
        "part": joint.part,
        "onto": joint.onto,
        "panel": joint.panel,
        "side": joint.side,
        "adhesive": joint.adhesive,
        "area_mm2": round(joint.area, 1),
        "part_mm2": round(joint.whole, 1),
        "narrowest_mm": round(joint.narrowest, 2),
        "free_of": list(joint.free_of),
        "squares": [[round(x, 2), round(y, 2)] for x, y in joint.squares],
        "tape_mm": round(joint.tape, 1),
        "dots": joint.dots,
        "grams": round(joint.grams, 3),
    }
