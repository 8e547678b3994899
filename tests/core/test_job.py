from __future__ import annotations

import json
from typing import Any

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.brief.machine import load_machines
from dechirer.core.decide.change import Change
from dechirer.core.decide.refusal import FieldError
from dechirer.core.job.edit import apply_changes, get_field, read_field, show_field
from dechirer.core.job.history import History
from dechirer.core.job.model import Job, JobError, read_job_json, write_job_json
from dechirer.core.job.schema import make_schema
from dechirer.core.plan import Planner
from dechirer.demo import load_demo_job
from tests.helpers import attached, changed, quick_job, typed


def test_a_job_reads_back_as_it_was_written_and_fits_its_schema(demo: Job) -> None:
    text = write_job_json(demo)
    assert read_job_json(text) == demo
    jsonschema.validate(json.loads(text), make_schema())


def _set(plain: Any, path: str, value: Any) -> bytes:
    here = plain
    *steps, last = path.split(".")
    for step in steps:
        here = here[int(step)] if step.isdigit() else here[step]
    here[int(last) if last.isdigit() else last] = value
    return json.dumps(plain).encode()


@pytest.mark.parametrize(
    ("path", "value", "named"),
    [
        ("brief.width", "-5 in", "brief"),
        ("brief.width", "5", "brief.width"),
        ("brief.width", 5, "brief.width"),
        ("brief.count", 0, "brief.count"),
        ("brief.count", "many", "brief.count"),
        ("brief.construction", "pop-out", "brief.construction"),
        ("brief.papers.0.colour", "red", "colour"),
        ("brief.papers.0.weight", "heavy", "papers"),
        ("brief.base_paper", "gold", "brief"),
        ("brief.machine.cut_width", -1, "cut_width"),
        ("brief.machine.cut_width", 9999, "machine"),
        ("construct.liner.paper", "gold", "gold"),
        ("construct.liner.fold.dash", "0 mm", "fold"),
        ("lay.margin", "-1 mm", "lay"),
        ("run.tools", ["laser"], "run"),
        ("format", 99, "format"),
        ("surprise", 1, "surprise"),
        ("name", "", "name"),
    ],
)
def test_a_bad_field_is_named(path: str, value: Any, named: str) -> None:
    plain = json.loads(write_job_json(load_demo_job()))
    with pytest.raises(JobError, match=named):
        read_job_json(_set(plain, path, value))


@pytest.mark.parametrize("text", [b"", b"[]", b"{}", b"nonsense", b"\xff\xfe", b"[" * 100_000, b'{"name": NaN}'])
def test_what_is_no_job(text: bytes) -> None:
    with pytest.raises(JobError):
        read_job_json(text)


def test_edits_make_new_jobs_and_leave_the_old_one(demo: Job) -> None:
    wide = typed(demo, "brief.width", "4 1/4")
    assert (demo.brief.width.mm, wide.brief.width.mm) == (127, pytest.approx(107.95))
    assert str(wide.brief.width) == "4 1/4 in"
    heavy = typed(demo, "brief.papers.chalk.weight", "100 lb text")
    assert get_field(heavy, "brief.papers.chalk.weight") == "100 lb text"
    for path in ("brief.colour", "brief.papers.gold.weight", "name.first"):
        with pytest.raises(JobError, match="no field"):
            apply_changes(demo, [Change(path, 1)])


@pytest.mark.parametrize(
    ("path", "text", "part"),
    [
        ("brief.width", "0", "from"),
        ("brief.width", "-4", "from"),
        ("brief.width", "wide", "number"),
        ("brief.width", "90 in", "from"),
        ("brief.count", "12.5", "whole number"),
        ("brief.count", "0", "from 1"),
        ("brief.count", "", "whole number"),
        ("brief.papers.chalk.weight", "thick", "weight"),
        ("brief.papers.chalk.sheet", "large", "size"),
        ("brief.machine.pace.cut_mm_s", "fast", "number"),
        ("lay.margin", "-1", "from"),
        ("run.score_passes", "9", "from 1 to 4"),
        ("brief.machine.holders", "x", "not a field"),
    ],
)
def test_a_field_says_what_it_takes(demo: Job, path: str, text: str, part: str) -> None:
    with pytest.raises(FieldError, match=part):
        read_field(demo, path, text)


def test_a_whole_size_may_be_typed_into_a_dimension(demo: Job) -> None:
    job = typed(demo, "brief.width", "a6")
    assert (job.brief.width.mm, job.brief.height.mm) == (105, 148)  # ISO 216
    job = typed(demo, "brief.height", "4 1/4 x 5 1/2")
    assert (job.brief.width.mm, job.brief.height.mm) == (pytest.approx(107.95), pytest.approx(139.7))


def test_optional_fields_can_be_emptied(demo: Job) -> None:
    job = typed(demo, "brief.blank", "10 x 7")
    assert job.brief.blank is not None
    assert show_field(job, "brief.blank") == "10 in x 7 in"
    assert typed(job, "brief.blank", "").brief.blank is None
    assert typed(job, "lay.loadings.sea-grey.sheet", "A4").lay.loadings[0].sheet is not None


@given(st.lists(st.sampled_from(["edit", "undo", "redo"]), max_size=40))
def test_history_always_leads_back(deeds: list[str]) -> None:
    first = quick_job()
    history = History(first)
    model, at = [first], 0
    for number, deed in enumerate(deeds):
        if deed == "edit":
            job = changed(first, brief__count=number + 2)
            history.commit("Copies", job)
            model, at = [*model[: at + 1], job], at + 1
        elif deed == "undo":
            history.undo()
            at = max(0, at - 1)
        else:
            history.redo()
            at = min(len(model) - 1, at + 1)
        assert history.job == model[at]
        assert bool(history.undo_label) == (at > 0)
        assert bool(history.redo_label) == (at + 1 < len(model))


def test_a_drag_is_one_step_and_an_unchanged_job_is_none(demo: Job) -> None:
    history = History(demo)
    assert not history.commit("Nothing", demo)
    for count in (2, 3, 4):
        history.commit("Drag", changed(demo, brief__count=count), merge_key="drag")
    assert history.undo() == demo
    assert not history.undo_label
    assert history.is_saved
    history.redo()
    assert not history.is_saved
    history.mark_saved()
    assert history.is_saved


def test_shipped_machines_are_sound() -> None:
    machines = load_machines()
    assert len(machines) >= 2
    for machine in machines.values():
        assert machine.reader is not None
        assert {tool for holder in machine.holders for tool in holder.takes} >= {"thin-card-blade", "creasing-point"}
    assert machines["heron-12"].cut_width == pytest.approx(11.5 * 25.4)  # common practice: a 12 in mat cuts 11.5


def test_a_length_typed_in_another_way_is_another_decision() -> None:
    """5 in typed anew as 127 mm is kept as typed, and what is remembered of the first does not speak of the second."""
    job = quick_job("5x7in")
    again = typed(job, "brief.width", "127 mm")
    assert again != job
    assert str(again.brief.width) == "127 mm"
    planner = Planner()
    assert planner.plan(job).job.brief.width.mm == planner.plan(again).job.brief.width.mm
    layered = attached(job, "layers")
    inches = typed(layered, "construct.layers.layer-1.border", "1/2 in")
    mm = typed(layered, "construct.layers.layer-1.border", "12.7 mm")
    planner.plan(inches)
    assert str(planner.plan(mm).job.construct.layers[0].border) == "12.7 mm"
