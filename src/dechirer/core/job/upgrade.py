"""Bringing old jobs up to the format of today, one version at a time, on plain data before it is validated."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from dechirer.core.length import LengthError, parse_length

Plain = dict[str, Any]

_TOOLS = {
    "fine-blade": "thin-card-blade",
    "deep-blade": "thick-card-blade",
    "scoring-stylus": "creasing-point",
    "scoring-wheel": "creasing-wheel",
    "foil-tip": "hot-foil-tip",
}
_HOLDERS = {"accessory holder": "light holder", "tool holder": "driven holder"}


def upgrade_job(plain: Plain, version: int, newest: int) -> Plain:
    """The plain data of a job of an older format as the newest format has it; of the same format, as it is.

    What is not of the shape its format wants is left for the validation to refuse.
    """
    for number in range(max(1, version), newest):
        plain = _UPGRADES[number](plain)
    return {**plain, "format": newest} if version < newest else plain


def upgrade_machine(machine: Any) -> Any:
    """A machine profile with the tools and holders named as they are today; other data unchanged."""
    if not isinstance(machine, dict) or not isinstance(machine.get("holders"), list):
        return machine
    holders = []
    for holder in machine["holders"]:
        if isinstance(holder, dict):
            takes = holder.get("takes")
            holder = {**holder, "name": _HOLDERS.get(str(holder.get("name")), holder.get("name"))}
            if isinstance(takes, list):
                holder["takes"] = [_tool(each) for each in takes]
        holders.append(holder)
    return {**machine, "holders": holders}


def _tool(name: Any) -> Any:
    return _TOOLS.get(name, name) if isinstance(name, str) else name


def _from_1(job: Plain) -> Plain:
    """Construct was called build; tools, holders and constructions had other names; every step had every measure."""
    found = {("construct" if key == "build" else key): value for key, value in job.items()}
    brief, run, dress, construct = (found.get(key) for key in ("brief", "run", "dress", "construct"))
    if isinstance(construct, dict):
        found["construct"] = _construct_from_1(construct)
    if isinstance(dress, dict) and isinstance(dress.get("items"), list):
        found["dress"] = {**dress, "items": [_item_from_1(item) for item in dress["items"]]}
    if isinstance(brief, dict):
        found["brief"] = {**brief, "machine": upgrade_machine(brief.get("machine"))}
    if isinstance(run, dict):
        tools = run.get("tools")
        run = {**run, "score_with": _tool(run.get("score_with", "best"))}
        if isinstance(tools, list):
            run["tools"] = [_tool(each) for each in tools]
        found["run"] = run
    return found


_KINDS = {"hinged": "hinged_shape", "lock": "lock_gate", "money": "money_holder", "row": "flap_row"}


def _construct_from_1(construct: Plain) -> Plain:
    found = {_KINDS.get(key, key): value for key, value in construct.items()}
    if isinstance(found.get("bought"), str):
        found["bought"] = {"name": found["bought"]}
    return found


_MEASURES: Plain = {
    "by": "2 mm",
    "to": "0 mm",
    "count": 2,
    "of": None,
    "edges": "outer",
    "corners": "round",
    "each": False,
    "side": "top",
    "keep": "frame",
}
"""The measures every step had, with what they were when nothing was said."""
_USED = {
    "border": ("by", "edges", "corners", "each"),
    "join": ("of",),
    "merge": ("by",),
    "cut": ("of", "by"),
    "relief": ("by", "keep"),
    "bridge": ("by", "count"),
    "fill": (),
    "outermost": (),
    "item": ("count",),
    "mirror": ("side",),
    "repeat": ("count", "by", "of", "each"),
    "spread": ("by",),
    "round": ("by",),
    "tidy": ("by",),
    "fit": ("by", "to"),
    "lift": ("by", "side"),
}


def _item_from_1(item: Any) -> Any:
    if not isinstance(item, dict) or not isinstance(item.get("steps"), list):
        return item
    return {**item, "steps": [_step_from_1(step) for step in item["steps"]]}


def _step_from_1(step: Any) -> Any:
    if not isinstance(step, dict) or step.get("kind") not in _USED:
        return step
    kind = step["kind"]
    found = {"id": step.get("id"), "kind": kind, **{name: step.get(name, _MEASURES[name]) for name in _USED[kind]}}
    if kind in _BOUNDS and isinstance(found.get("by"), str):
        found["by"] = _within(found["by"], *_BOUNDS[kind])
    if kind in _COUNTS and isinstance(found.get("count"), int):
        found["count"] = max(1, min(found["count"], _COUNTS[kind]))
    return found


_BOUNDS = {
    "merge": (0.0, 200.0),
    "cut": (-200.0, 200.0),
    "relief": (0.0, 200.0),
    "bridge": (0.1, 200.0),
    "spread": (1.0, 2000.0),
    "round": (0.0, 200.0),
    "tidy": (0.0, 50.0),
    "fit": (0.5, 2000.0),
    "lift": (0.5, 2000.0),
}
"""Bounds of measures (mm) that were once the same for every step; outside them a step did nothing of use."""
_COUNTS = {"item": 400, "repeat": 400, "bridge": 40}


def _within(text: str, least: float, most: float) -> str:
    """A length brought within bounds; a radius below zero meant the same as above it."""
    try:
        mm = parse_length(text).mm
    except LengthError:
        return text
    inside = max(least, min(abs(mm) if least >= 0 else mm, most))
    return text if inside == mm else f"{inside:g} mm"


def _from_2(job: Plain) -> Plain:
    """What differs from copy to copy was a table of words alone."""
    dress = job.get("dress")
    if not isinstance(dress, dict) or "wordings" not in dress:
        return job
    rest = {key: value for key, value in dress.items() if key != "wordings"}
    table = dress["wordings"]
    if not isinstance(table, dict):
        return {**job, "dress": {**rest, "copies": table}}
    columns, rows = table.get("columns", []), table.get("rows", [])
    copies = {
        "columns": [{"name": name} for name in columns] if isinstance(columns, list) else columns,
        "rows": [{"entries": row} for row in rows] if isinstance(rows, list) else rows,
    }
    return {**job, "dress": {**rest, "copies": copies}}


_UPGRADES: dict[int, Callable[[Plain], Plain]] = {1: _from_1, 2: _from_2}
