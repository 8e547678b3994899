"""The tasks a new maker would set: done by hand in the real window, in few actions, and nothing stops the job."""

from __future__ import annotations

from pathlib import Path

import pytest
from bench.first_use import REPORT, TASKS, Task, do_task
from pytestqt.qtbot import QtBot

from dechirer.core.plan import make_plan


@pytest.mark.parametrize("task", TASKS, ids=lambda task: task.words)
def test_a_task_takes_hardly_more_actions_than_it_states_decisions(
    qtbot: QtBot, own_folders: None, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, task: Task
) -> None:
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"):
        monkeypatch.setenv(name, str(tmp_path))  # put back afterwards
    did, plan = do_task(task, tmp_path)
    assert len(did) <= task.limit, did
    assert {each.code for each in make_plan(plan.job).findings} == {each.code for each in plan.findings}
    # The report that is kept says what is done now.
    row = next(line for line in REPORT.read_text().splitlines() if line.startswith(f"| {task.words} "))
    assert row.split(" | ")[2:] == [str(len(did)), f"{task.limit:g}", "; ".join(did) + " |"]
