"""Working from the window at the machine: step by step by keys, timers, what was spoiled, and going on after a kill."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt

from dechirer.core.job.model import Job
from dechirer.desk.boxes.machine_view import MachineView
from dechirer.desk.work import at_machine
from dechirer.desk.work.at_machine import NAME, Progress, Watch, keep_progress, read_progress, seal_of
from dechirer.desk.work.settings import state_folder
from tests.blanks import blank_job, in_words
from tests.desk.conftest import Desk

Open = Callable[[Job], Desk]


def view_of(desk: Desk) -> MachineView:
    desk.station("run")
    desk.click("at-the-machine")
    found = desk.room.stations["run"].findChildren(MachineView)[-1]
    assert isinstance(found, MachineView)
    return found


def test_a_run_is_worked_through_by_keys_to_its_end(open_desk: Open) -> None:
    desk = open_desk(in_words(blank_job()))
    view = view_of(desk)
    assert view.words.text() == view.steps[0].words
    assert view.next.text() == f"then: {view.steps[1].words}"
    desk.qtbot.keyClick(view, Qt.Key.Key_Space)
    desk.qtbot.keyClick(view, Qt.Key.Key_Return)
    assert view.progress.step == 2
    desk.qtbot.keyClick(view, Qt.Key.Key_Left)
    assert view.words.text() == view.steps[1].words
    while not view.is_over:
        held = view.steps[view.progress.step]
        assert (view.timer_words.text() != "") == (held.seconds > 0)
        view.go_on()
    assert view.words.text() == "The run is over."
    assert "were planned" in view.more.text()
    view.anew.click()
    assert view.progress.step == 0
    view.close()


def test_it_goes_on_where_it_was_after_the_window_is_gone(open_desk: Open) -> None:
    desk = open_desk(in_words(blank_job()))
    view = view_of(desk)
    for _ in range(3):
        desk.click("machine-done")
    view.spoiled("a torn corner")
    seal, kept = view.progress.seal, view.progress
    view.close()
    assert read_progress(seal) == kept  # what a killed window left is read by the next one
    again = view_of(desk)
    assert again.progress.step == 3
    assert "1 spoiled" in again.kind.text()
    assert "Gone on" in again.said.text()
    while not again.is_over:
        again.go_on()
    assert "a torn corner" in again.more.text()
    again.close()
    desk.room.document.type_field("brief.count", "5")
    desk.settle()
    other = view_of(desk)
    assert other.progress == Progress(other.progress.seal), "another run begins at its start"
    other.close()


def test_what_is_broken_or_of_another_run_is_begun_anew(own_folders: None) -> None:
    path = state_folder() / NAME
    path.parent.mkdir(parents=True, exist_ok=True)
    for text in (b"", b"{", b'{"seal": "a", "step": -4}', b'{"seal": "b", "step": 2}'):
        path.write_bytes(text)
        assert read_progress("a") == Progress("a")
    assert keep_progress(Progress("a", 2)) == ""
    assert read_progress("a").step == 2


def test_a_disk_that_fails_is_said_and_the_run_goes_on(open_desk: Open, monkeypatch: pytest.MonkeyPatch) -> None:
    desk = open_desk(in_words(blank_job()))
    view = view_of(desk)

    def full(path: Path, content: bytes) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(at_machine, "write_atomically", full)
    view.go_on()
    assert view.progress.step == 1
    assert "No space left" in view.said.text()
    view.close()


def test_a_closed_lid_counts_for_an_hour_at_most() -> None:
    now = [0.0]
    watch = Watch(lambda: now[0])
    now[0] = 90.0
    assert watch.seconds == 90.0
    now[0] = 90_000.0
    assert watch.seconds == Watch.MOST_S
    steps = ()
    assert seal_of("a", steps) != seal_of("b", steps)


def test_what_was_spoiled_is_laid_again_at_the_end(open_desk: Open) -> None:
    desk = open_desk(in_words(blank_job()))
    view = view_of(desk)
    while not view.is_over:
        now = view.steps[view.progress.step]
        if now.kind == "pass" and now.mat == "mat-1" and not view.progress.spoiled:
            view.spoiled("slipped")
        view.go_on()
    wanted = view.spoilt_pieces()
    assert sum(wanted.values()) == len(desk.settle().lay.layouts[0].placements)
    view.again.click()
    plan = desk.settle()
    assert {each.piece: each.count for each in plan.job.lay.recut} == dict(wanted)
    assert "lay.recut" in [each.code for each in plan.findings]
