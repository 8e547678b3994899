"""The test square in the window: written as either kind of file, measured, kept in the profile, undone."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton

from dechirer.core.job.model import Job
from dechirer.desk.boxes.machine_box import MachineBox
from dechirer.desk.boxes.square_box import SquareBox
from dechirer.devices.cut_rehearsal import rehearse
from dechirer.devices.cutter_files import read_cutter_file
from tests.desk.conftest import Desk
from tests.helpers import quick_job

Open = Callable[[Job], Desk]


def open_box(desk: Desk) -> tuple[MachineBox, SquareBox]:
    machine = MachineBox(desk.room.document, desk.window)
    desk.qtbot.addWidget(machine)
    machine.show()
    button = machine.findChild(QPushButton, "test-square")
    assert button is not None
    button.click()
    box = machine.findChild(SquareBox, "square-box")
    assert box is not None
    return machine, box


def type_sides(box: SquareBox, across: str, down: str) -> str:
    for name, text in (("square-across", across), ("square-down", down)):
        line = box.findChild(QLineEdit, name)
        assert line is not None
        line.setText(text)
    return box.said.text()


def test_measured_sides_go_into_the_profile_and_the_next_files_come_out_true(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in", liner="1/16"))
    machine, box = open_box(desk)
    assert "has not been tried" in machine.findChild(QLabel, "files-proved").text()  # type: ignore[union-attr]
    assert not box.take.isEnabled()
    assert "Type in both sides" in box.said.text()
    said = type_sides(box, "99.5 mm", "100.3 mm")
    assert "−0.50 % across, +0.30 % down" in said
    box.take.click()
    plan = desk.settle()
    files = plan.job.brief.machine.files
    assert files.across == pytest.approx(100 / 99.5, abs=1e-5)
    assert files.down == pytest.approx(100 / 100.3, abs=1e-5)
    assert len(files.proved) == 10
    assert "Lines are written 1.005 × 0.997" in machine.findChild(QLabel, "files-proved").text()  # type: ignore[union-attr]
    assert rehearse(plan, runs=0).troubles == ()
    desk.room.do("undo")
    assert desk.settle().job.brief.machine.files.across == 1.0


def test_a_square_cut_the_other_way_round_turns_the_plotters_origin(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in"))
    _, box = open_box(desk)
    tick = box.findChild(QComboBox, "square-tick")
    assert tick is not None
    tick.setCurrentIndex(tick.findData("bottom-left"))
    assert "It draws true. Plotter files will count from the upper left." in type_sides(box, "100 mm", "100 mm")
    box.take.click()
    assert desk.settle().job.brief.machine.files.origin == "top-left"


@pytest.mark.parametrize(
    ("across", "words"), [("10 mm", "measure once more"), ("wide", "Measured across"), ("", "both")]
)
def test_a_wrong_measure_is_said_and_not_kept(open_desk: Open, across: str, words: str) -> None:
    desk = open_desk(quick_job("5x7in"))
    _, box = open_box(desk)
    assert words in type_sides(box, across, "100 mm")
    assert not box.take.isEnabled()


def test_the_square_is_saved_as_either_kind_and_a_bad_place_is_said(open_desk: Open, tmp_path: Path) -> None:
    desk = open_desk(quick_job("5x7in"))
    _, box = open_box(desk)
    for name in ("square.svg", "square.plt"):
        box.save(tmp_path / name)
        assert len(read_cutter_file(tmp_path / name).strokes) == 2
        assert name in box.said.text()
    box.save(tmp_path / "no" / "such.svg")
    assert "was not written" in box.said.text()
