"""Jobs of older formats open, and what is cut from them is what was cut then.

`old_jobs` holds the demos as they were written in format 1, and in `sizes.json` the width, height (mm) and count of
each piece as the cut lists of that time had them.
"""

from __future__ import annotations

import copy
import json
from pathlib import Path
from typing import Any

import pytest

from dechirer.core.card.tools import TOOLS
from dechirer.core.job.model import FORMAT_VERSION, Job, JobError, read_job_json, write_job_json
from dechirer.core.job.upgrade import upgrade_machine
from dechirer.core.plan import make_plan
from dechirer.demo import DEMOS, load_demo_job

OLD = Path(__file__).parents[1] / "old_jobs"
SIZES: dict[str, dict[str, list[float]]] = json.loads((OLD / "sizes.json").read_text())


def old(name: str) -> dict[str, Any]:
    plain: dict[str, Any] = json.loads((OLD / f"{name}-1.json").read_text())
    assert plain["format"] == 1
    return plain


CHANGED = {"kites": "kites-3"}
"""Demos that have been made otherwise since: what the newest kept file of each says."""


def as_it_was(name: str) -> Job:
    """A demo as it was when its old files were kept."""
    if name in CHANGED:
        return read_job_json((OLD / f"{CHANGED[name]}.json").read_bytes())
    return load_demo_job(name)


def test_every_demo_is_kept_in_its_old_format() -> None:
    old = {path.stem.removesuffix("-1") for path in OLD.glob("*-1.json")}
    assert set(SIZES) == old
    assert set(DEMOS) - old == {"boathouse", "winners"}  # made since


@pytest.mark.parametrize("name", list(SIZES))
def test_an_old_job_cuts_what_it_cut_then(name: str) -> None:
    job = read_job_json((OLD / f"{name}-1.json").read_bytes())
    assert job == as_it_was(name)
    plan = make_plan(job)
    now = {
        f"{piece.letter} {piece.name}": [round(piece.width.value, 2), round(piece.height.value, 2), piece.count]
        for piece in plan.whole.pieces
    }
    assert set(now) == set(SIZES[name])
    for piece, size in SIZES[name].items():
        assert now[piece] == pytest.approx(size, abs=0.011), piece  # the cut list has two places


def test_an_old_job_keeps_every_choice() -> None:
    for name in SIZES:
        plain = old(name)
        job = read_job_json(json.dumps(plain).encode())
        assert str(job.brief.width) == plain["brief"]["width"]
        assert set(job.run.tools) <= set(TOOLS)
        assert len(job.run.tools) == len(plain.get("run", {}).get("tools", job.run.tools))
        items = plain.get("dress", {}).get("items", [])
        assert [item.id for item in job.dress.items] == [item["id"] for item in items]
        for item, was in zip(job.dress.items, items, strict=True):
            assert [step.kind for step in item.steps] == [step["kind"] for step in was.get("steps", [])]
            for step, before in zip(item.steps, was.get("steps", []), strict=True):
                if hasattr(step, "by") and "by" in before:
                    assert str(step.by) == before["by"]


@pytest.mark.parametrize("path", sorted(OLD.glob("*-[23].json")), ids=lambda path: path.stem)
def test_a_later_job_is_the_demo_as_it_was(path: Path) -> None:
    name, _, version = path.stem.rpartition("-")
    assert json.loads(path.read_text())["format"] == int(version)
    assert read_job_json(path.read_bytes()) == as_it_was(name)


def test_a_job_of_every_format_is_kept() -> None:
    kept = {int(path.stem.rpartition("-")[2]) for path in OLD.glob("*-*.json")}
    assert kept == set(range(1, FORMAT_VERSION + 1))


def test_it_is_written_in_the_format_of_today_and_opens_again() -> None:
    for name in SIZES:
        job = read_job_json((OLD / f"{name}-1.json").read_bytes())
        text = write_job_json(job)
        assert json.loads(text)["format"] == FORMAT_VERSION == 3
        assert read_job_json(text) == job


@pytest.mark.parametrize(
    ("path", "value", "named"),
    [
        (("build", "fold"), 3, "construct"),
        (("brief", "machine", "holders"), [{"name": "tool holder", "takes": [4]}], "machine"),
        (("run", "tools"), ["spoon"], "spoon"),
        (("dress",), [], "dress"),
        (("dress", "items"), [{"id": "x", "steps": [{"kind": "melt"}]}], "items"),
        (("format",), 99, "newer"),
        (("format",), "one", "format"),
    ],
)
def test_a_bad_old_job_is_refused_by_name(path: tuple[str, ...], value: Any, named: str) -> None:
    plain = copy.deepcopy(old("kites"))
    here = plain
    for step in path[:-1]:
        here = here[step]
    here[path[-1]] = value
    with pytest.raises(JobError, match=named):
        read_job_json(json.dumps(plain).encode())


def test_a_kept_machine_is_brought_up_to_date() -> None:
    was = {"name": "Mine", "holders": [{"name": "accessory holder", "takes": ["fine-blade", "pen"]}]}
    now = upgrade_machine(was)
    assert now["holders"] == [{"name": "light holder", "takes": ["thin-card-blade", "pen"]}]
    assert upgrade_machine(now) == now
    assert upgrade_machine("nonsense") == "nonsense"
    assert upgrade_machine({"holders": [3]}) == {"holders": [3]}
