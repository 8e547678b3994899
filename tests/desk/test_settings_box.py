"""Settings typed in the window, put back to what is suggested, and the outcome of a test cut."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import svgelements
from PyQt6.QtWidgets import QComboBox, QLineEdit, QSpinBox

from dechirer.core.job.model import Job
from dechirer.desk.boxes.settings_box import SettingsBox
from tests.desk.conftest import Desk
from tests.helpers import quick_job

Open = Callable[[Job], Desk]


def box_of(desk: Desk) -> SettingsBox:
    desk.station("run")
    desk.click("settings")
    found = desk.find("settings-box", SettingsBox)
    assert isinstance(found, SettingsBox)
    return found


def field(box: SettingsBox, name: str) -> QLineEdit:
    found = box.findChildren(QLineEdit, name)
    assert found
    return found[-1]


def test_values_are_typed_refused_and_put_back(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in"))
    box = box_of(desk)
    times = box.findChild(QSpinBox, "times-card-thin-card-blade")
    assert times is not None
    times.setValue(2)
    times.editingFinished.emit()
    plan = desk.settle()
    assert {each.times for mat in plan.run.mats for each in mat.passes if each.operation == "cut"} == {2}
    desk.qtbot.wait(30)
    for name, text in (("depth", "0.4 mm"), ("speed", "35"), ("pressure", "card, more")):
        line = field(box, f"{name}-card-thin-card-blade")
        line.setText(text)
        line.editingFinished.emit()
        desk.settle()
        desk.qtbot.wait(30)
    (setting,) = desk.settle().job.run.settings
    assert (setting.passes, setting.depth, setting.speed, setting.pressure) == (2, 0.4, 35.0, "card, more")
    line = field(box, "depth-card-thin-card-blade")
    line.setText("9 cm")
    line.editingFinished.emit()
    assert "between 0.05 and 5" in box.said.text()
    line.setText("deep")
    line.editingFinished.emit()
    assert "Thin-card blade" in box.said.text()
    desk.click("drop-card-thin-card-blade")
    assert desk.settle().job.run.settings == ()
    box.close()


def test_the_outcome_of_a_test_cut_becomes_the_papers_limit(open_desk: Open, tmp_path: Path) -> None:
    desk = open_desk(quick_job("3x3in", fold="flat"))
    box = box_of(desk)
    box.save_test("card", tmp_path / "test.svg")
    assert "in the waste of mat 1" in box.said.text()
    drawn = svgelements.SVG.parse(tmp_path / "test.svg", ppi=25.4)
    assert len(list(drawn.elements(lambda each: isinstance(each, svgelements.Path)))) > 10
    box.save_test("card", tmp_path / "gone" / "test.svg")
    assert "was not written" in box.said.text()
    held = box.findChild(QComboBox, "held-card")
    assert held is not None
    held.setCurrentIndex(held.findData(1.2))
    held.activated.emit(held.currentIndex())
    assert str(desk.settle().job.brief.papers[0].holds) == "1.2 mm"
    box.close()
