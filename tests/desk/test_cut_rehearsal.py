"""The job rehearsed in the window, the kinds of files chosen, the path played at its speed, and where the time goes."""

from __future__ import annotations

import time
from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QLabel, QListWidget, QPushButton, QSlider

from dechirer.core.job.model import Job
from dechirer.desk.boxes.cut_rehearsal_box import CutRehearsalBox
from dechirer.desk.stations.run import RunStation
from tests.desk.conftest import Desk
from tests.helpers import attached, quick_job
from tests.jobs.made import GOOD

Open = Callable[[Job], Desk]


def run_of(desk: Desk) -> RunStation:
    desk.station("run")
    station = desk.room.stations["run"]
    assert isinstance(station, RunStation)
    return station


def test_the_job_is_rehearsed_and_each_file_shown(open_desk: Open) -> None:
    desk = open_desk(GOOD["1 small"]())
    station = run_of(desk)
    desk.click("rehearse")
    box = station.findChild(CutRehearsalBox)
    assert box is not None
    desk.qtbot.waitUntil(lambda: "come out as planned" in box.said.text(), timeout=60_000)
    files = box.findChild(QListWidget, "cut-files")
    assert files is not None
    names = [files.item(row).text() for row in range(files.count())]  # type: ignore[union-attr]
    assert all(name.endswith("as planned") for name in names)
    assert {name.split(":")[0].rpartition(".")[2] for name in names} == {"svg", "plt"}
    files.setCurrentRow(0)
    assert "within 0.0" in box.pieces.text()
    assert "slits that miss their corner" in box.spoils.text()
    assert box.picture.grab().toImage().width() > 100
    box.close()


def test_a_box_that_is_closed_on_the_way_hears_no_more_of_it(open_desk: Open) -> None:
    """Found by random work: how far it was came to a bar that was gone."""
    desk = open_desk(GOOD["1 small"]())
    box = run_of(desk).open_box("rehearse")
    assert isinstance(box, CutRehearsalBox)
    tell: list[Callable[[object], None]] = []
    box.beside.run_telling(lambda told: (tell.append(told), time.sleep(0.2)))
    desk.qtbot.waitUntil(lambda: bool(tell), timeout=10_000)
    tell[0](0.5)
    desk.qtbot.waitUntil(lambda: box.progress.value() == 50, timeout=10_000)
    tell[0](0.7)  # on its way as the box goes
    box.close()
    box.deleteLater()
    desk.qtbot.wait(300)
    tell[0](0.9)
    desk.qtbot.wait(50)
    assert not desk.room.guard.count


def test_what_would_be_wrong_is_told_and_it_can_be_stopped(open_desk: Open) -> None:
    desk = open_desk(GOOD["17"]())
    station = run_of(desk)
    box = station.open_box("rehearse")
    assert isinstance(box, CutRehearsalBox)
    desk.qtbot.waitUntil(lambda: "would be wrong" in box.said.text(), timeout=60_000)
    assert any("tore" in box.pieces.text() for row in range(box.files.count()) if box.files.setCurrentRow(row) is None)
    box.close()
    other = station.open_box("rehearse")
    assert isinstance(other, CutRehearsalBox)
    other.stop.click()
    assert other.said.text() == "Stopped."
    other.close()


def test_kinds_of_files_are_left_out_by_the_menu(open_desk: Open) -> None:
    desk = open_desk(quick_job())
    run_of(desk)
    menu = desk.find("run-files", QPushButton).menu()  # type: ignore[attr-defined]
    menu.aboutToShow.emit()
    assert [action.isChecked() for action in menu.actions()] == [True] * 4
    menu.actions()[1].trigger()
    assert desk.settle().job.run.skip == ("dxf",)
    menu.aboutToShow.emit()
    menu.actions()[1].trigger()
    assert desk.settle().job.run.skip == ()


def test_the_path_is_played_by_the_clock(open_desk: Open) -> None:
    desk = open_desk(attached(quick_job("5x7in"), "window"))
    station = run_of(desk)
    slider, speed = desk.find("step", QSlider), desk.find("play-speed", QComboBox)
    steps = station.mat_shown.steps  # type: ignore[union-attr]
    desk.click("play")
    assert slider.value() == 0  # type: ignore[attr-defined]
    desk.qtbot.waitUntil(lambda: slider.value() == len(steps), timeout=20_000)  # type: ignore[attr-defined]
    desk.qtbot.waitUntil(lambda: station.play.text() == "Play", timeout=20_000)
    speed.setCurrentIndex(1)  # type: ignore[attr-defined]
    desk.click("play")
    desk.qtbot.wait(400)
    assert slider.value() < len(steps), "at its true speed it takes longer than that"  # type: ignore[attr-defined]
    desk.click("play")
    assert "loading mats" in desk.find("time-bar").accessibleName()
    assert desk.find("step-words", QLabel).text()  # type: ignore[attr-defined]
