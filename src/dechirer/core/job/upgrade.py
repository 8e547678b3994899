"""Bringing old jobs up to the format of today, one version at a time, on plain data before it is validated."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

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
    """Construct was called build, and tools and holders had other names."""
    found = {("construct" if key == "build" else key): value for key, value in job.items()}
    brief, run = found.get("brief"), found.get("run")
    if isinstance(brief, dict):
        found["brief"] = {**brief, "machine": upgrade_machine(brief.get("machine"))}
    if isinstance(run, dict):
        tools = run.get("tools")
        run = {**run, "score_with": _tool(run.get("score_with", "best"))}
        if isinstance(tools, list):
            run["tools"] = [_tool(each) for each in tools]
        found["run"] = run
    return found


_UPGRADES: dict[int, Callable[[Plain], Plain]] = {1: _from_1}
