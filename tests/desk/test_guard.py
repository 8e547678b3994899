"""The guard: an error in a slot, timer, paint or thread is logged without words of the job, told, and survived."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QFileDialog, QPlainTextEdit
from pytestqt.qtbot import QtBot

from dechirer.core.job.model import Job
from dechirer.core.plan import Planner
from dechirer.desk.work.fault_log import MOST_LOG_BYTES, Fault, FaultLog, make_fault
from dechirer.desk.work.guard import Guard
from dechirer.formats.job.archive import read_archive
from tests.desk.conftest import Desk


@pytest.fixture
def guarded(desk: Desk) -> Iterator[Desk]:
    """A window whose guard has the hooks, as it has when Dechirer runs."""
    desk.room.guard.install()
    yield desk
    desk.room.guard.remove()


def said(desk: Desk) -> str:
    desk.qtbot.waitUntil(lambda: bool(desk.window.banners.text("fault")), timeout=5000)
    return desk.window.banners.text("fault")


def fail() -> None:
    raise KeyError("Aunt Wilma")


def raise_in_timer(desk: Desk) -> None:
    QTimer.singleShot(0, fail)
    desk.qtbot.wait(20)


def raise_in_slot(desk: Desk) -> None:
    desk.window.top.units_chosen.connect(lambda _: fail())
    desk.window.top.units_chosen.emit("mm")


def raise_in_thread(desk: Desk) -> None:
    thread = threading.Thread(target=fail)
    thread.start()
    thread.join()


def test_an_error_too_deep_to_be_told_at_once_is_told_afterwards(
    guarded: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Where a slot has called itself as deep as it goes, telling of it goes too deep as well."""
    deep: list[int] = []

    def make(*args: Any) -> Fault:
        deep.append(1)
        if len(deep) == 1:
            raise RecursionError("maximum recursion depth exceeded")
        return make_fault(*args)

    monkeypatch.setattr("dechirer.desk.work.guard.make_fault", make)
    raise_in_slot(guarded)
    assert not guarded.room.guard.count
    assert said(guarded)
    last = guarded.room.guard.last
    assert last is not None
    assert last.kind == "KeyError"


@pytest.mark.parametrize("way", [raise_in_timer, raise_in_slot, raise_in_thread])
def test_an_error_is_told_and_the_window_goes_on(guarded: Desk, way: Callable[[Desk], None], tmp_path: Path) -> None:
    guarded.room.document.type_field("brief.count", "41")
    with guarded.qtbot.captureExceptions():  # else pytest-qt takes the hook for its own
        guarded.room.guard.install()
        way(guarded)
        words = said(guarded)
    assert "your work is saved for recovery" in words.lower()
    assert "Wilma" not in words
    log = guarded.room.guard.log.path.read_text()
    assert "KeyError" in log
    assert "in fail" in log
    assert "Wilma" not in log  # what an error says may be words of the job
    assert list((tmp_path / "xdg_state_home" / "dechirer" / "journal").glob("*.journal"))
    guarded.room.document.type_field("brief.count", "42")
    assert guarded.settle().job.brief.count == 42


def test_details_are_shown_and_copied(desk: Desk) -> None:
    desk.room.guard.report(ValueError("who knows"), "a test")
    said(desk)
    desk.click("banner-fault-1")
    text = desk.find("fault-text", QPlainTextEdit).toPlainText()  # type: ignore[attr-defined]
    assert text.startswith("ValueError: who knows")
    desk.click("fault-copy")
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    assert clipboard.text() == text
    desk.click("fault-close")
    desk.click("banner-fault-2")
    assert not desk.window.banners.text("fault")


def test_a_copy_is_saved_and_the_job_stays_what_it_is(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    desk.room.document.type_field("brief.count", "41")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "copy"), ""))
    desk.room.guard.report(ValueError())
    said(desk)
    desk.click("banner-fault-0")
    assert read_archive(tmp_path / "copy.dechirer").brief.count == 41
    assert desk.room.document.path is None
    assert not desk.room.document.history.is_saved


def test_a_plan_that_fails_leaves_the_plan_of_before_and_a_way_back(
    desk: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = desk.room.document.plan
    real = Planner.plan

    def plan(self: Planner, job: Job, **more: object) -> object:
        if job.brief.count == 13:
            raise ZeroDivisionError
        return real(self, job, **more)  # type: ignore[arg-type]

    monkeypatch.setattr(Planner, "plan", plan)
    desk.room.document.type_field("brief.count", "13")
    desk.qtbot.waitUntil(lambda: bool(desk.window.banners.text("plan")), timeout=5000)
    assert desk.room.document.plan is before
    desk.click("banner-plan-0")
    assert desk.settle().job.brief.count != 13
    assert not desk.window.banners.text("plan")


def test_an_export_that_fails_can_be_tried_again(desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from dechirer.formats import export

    def broken(*_: object, **__: object) -> None:
        raise ValueError("not a path")

    with monkeypatch.context() as patch:
        patch.setattr(export, "export_plan", broken)
        desk.room.exports.export_to(tmp_path)
        desk.qtbot.waitUntil(lambda: "internal error stopped" in desk.window.banners.text("export"), timeout=120_000)
    said(desk)
    desk.room.exports.export_to(tmp_path)
    desk.qtbot.waitUntil(lambda: "files written" in desk.window.banners.text("export"), timeout=20_000)


def test_the_log_is_turned_over_and_tells_a_fault_once_a_minute(tmp_path: Path) -> None:
    log = FaultLog(tmp_path / "log")
    fault = make_fault(ValueError("x"), "here")
    assert log.write(fault)
    assert log.write(fault)
    assert log.path.read_text().count("ValueError") == 1
    for number in range(3000):
        assert log.write(Fault("ValueError", (f"a.py:{number} in b" + " " * 300,), ""))
    sizes = [path.stat().st_size for path in tmp_path.glob("log/*")]
    assert len(sizes) == 4
    assert max(sizes) <= MOST_LOG_BYTES


def test_without_a_folder_to_write_to_a_fault_is_still_told(qtbot: QtBot, tmp_path: Path) -> None:
    (tmp_path / "log").write_text("in the way")
    guard = Guard(FaultLog(tmp_path / "log"))
    with qtbot.waitSignal(guard.caught) as caught:
        guard.report(ValueError("x"))
    assert caught.args[0].kind == "ValueError"


def test_the_whole_program_outlives_an_error_in_a_slot(tmp_path: Path) -> None:
    """In a process of its own: without the hook PyQt would end it with an abort (exit code 134)."""
    code = """
import sys
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication
from dechirer.desk import start
real = start.furnish
def furnish(window, job_file=None):
    real(window, job_file)
    QTimer.singleShot(50, lambda: 1 / 0)
    def look():
        print(window.banners.text("fault")[:20], flush=True)
        window.room.document.history._saved = True
        window.close()
    QTimer.singleShot(600, look)
start.furnish = furnish
sys.exit(start.run_desk())
"""
    env = {**os.environ, "XDG_STATE_HOME": str(tmp_path), "QT_QPA_PLATFORM": "offscreen"}
    run = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, env=env, timeout=60, check=False)
    assert run.returncode == 0, run.stderr
    assert "Internal error" in run.stdout
    assert "ZeroDivisionError" in (tmp_path / "dechirer" / "log" / "faults.log").read_text()


def test_a_fault_while_a_fault_is_told_is_not_told_in_its_turn(qtbot: QtBot, tmp_path: Path) -> None:
    guard = Guard(FaultLog(tmp_path / "log"))
    told: list[Fault] = []

    def tell(fault: Fault) -> None:
        told.append(fault)
        guard.report(KeyError("again"))  # as the hook does with what a slot raises

    guard.caught.connect(tell)
    guard.report(ValueError("x"))
    assert [fault.kind for fault in told] == ["ValueError"]
    assert "KeyError" in guard.log.path.read_text()
    guard.report(ValueError("y"))
    assert len(told) == 2
