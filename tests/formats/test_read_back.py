"""What is written is read back with other libraries and compared with the plan; a wrong word or number is found."""

from __future__ import annotations

import json
from collections.abc import Callable

import pytest
from msgspec import structs

from dechirer.core.plan import Plan, make_plan
from dechirer.demo import DEMOS, load_demo_job
from dechirer.formats import read_back
from dechirer.formats.output import OUTPUTS, OutputError
from dechirer.formats.outputs.cut_list import write_cut_list
from dechirer.formats.outputs.kit_list import write_kit_list
from dechirer.formats.outputs.making_up import write_making_up
from dechirer.formats.outputs.plan_json import write_plan_json
from dechirer.formats.outputs.run_sheet import write_run_sheet
from tests.helpers import changed, quick_job

CHECKED = ("cut-list.csv", "kit-list.csv", "plan.json", "run-sheet.pdf", "making-up.pdf", "press/{page}.pdf")


@pytest.fixture(scope="module")
def plan() -> Plan:
    return make_plan(changed(quick_job(liner="1/16in"), brief__count=3))


@pytest.mark.parametrize("name", list(DEMOS))
def test_every_sheet_and_list_of_the_demos_says_what_the_plan_says(name: str) -> None:
    """A file that does not raises as it is written."""
    plan = make_plan(load_demo_job(name))
    for id in CHECKED:
        for file in OUTPUTS[id].files(plan):
            file.write()


@pytest.mark.parametrize(
    ("check", "write", "wrong", "why"),
    [
        (read_back.check_cut_list, write_cut_list, lambda data: data.replace(b",254.00,", b",245.00,"), "width mm"),
        (read_back.check_cut_list, write_cut_list, lambda data: data.replace(b"base,3,", b"base,2,"), "2 × base"),
        (read_back.check_kit_list, write_kit_list, lambda data: data.replace(b",1,3,", b",1,4,"), "4 × base"),
        (read_back.check_kit_list, write_kit_list, lambda data: data.rsplit(b"\r\n", 2)[0], "rows"),
        (read_back.check_plan_json, write_plan_json, lambda data: data.replace(b"254.0", b"250.0"), "mm wide"),
    ],
)
def test_a_wrong_number_is_found(
    plan: Plan, check: Callable[..., str], write: Callable[[Plan], bytes], wrong: Callable[[bytes], bytes], why: str
) -> None:
    content = write(plan)
    assert check(content, None, plan) == ""
    assert wrong(content) != content
    assert why in check(wrong(content), None, plan)


def test_a_count_of_cuts_that_differs_is_found(plan: Plan) -> None:
    record = json.loads(write_plan_json(plan))
    record["mats"][0]["cut_times"] += 1
    assert "other times" in read_back.check_plan_json(json.dumps(record).encode(), None, plan)


def test_a_sheet_of_another_job_is_found(plan: Plan) -> None:
    """The run sheet of four cards says another number of cuts, and that of another card lacks the liner's mat."""
    more = make_plan(changed(plan.job, brief__count=4))
    assert "does not say" in read_back.check_run_sheet(write_run_sheet(more), None, plan)
    bare = make_plan(changed(plan.job, construct__liner=None))
    assert "mat 2" in read_back.check_run_sheet(write_run_sheet(bare), None, plan)
    assert read_back.check_making_up(write_making_up(bare), None, plan)


def test_a_file_that_reads_back_wrong_is_not_written(plan: Plan, monkeypatch: pytest.MonkeyPatch) -> None:
    spec = structs.replace(OUTPUTS["kit-list.csv"], run=lambda plan: b"kind,what\r\n")
    (file,) = spec.files(plan)
    with pytest.raises(OutputError, match="rows"):
        file.write()
