"""An edit that is refused is said where it was made, and a drag can be taken back."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QAction
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QLabel, QLineEdit

from dechirer.core.decide.change import Change
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.demo import load_demo_job
from dechirer.desk.widgets.complaint import Complaint
from tests.desk.conftest import Desk
from tests.dressing import dressed, item, step
from tests.helpers import quick_job


def said(desk: Desk) -> list[str]:
    """The complaints that are to be seen."""
    return [each.text() for each in QApplication.allWidgets() if isinstance(each, Complaint) and each.isVisible()]


def test_an_edit_that_is_refused_is_said_and_nothing_changes(desk: Desk) -> None:
    job = desk.room.document.job
    desk.find("paper-add").setFocus()
    assert not desk.room.document.edit("Chalk gone", [Change("brief.papers", job.brief.papers[:1])])
    assert desk.room.document.job is job
    assert not desk.room.document.history.undo_label
    (why,) = said(desk)
    assert why.startswith("Liner, Paper: ")  # as the panel names it, not by the path in the file
    assert "chalk" in why
    desk.qtbot.mouseClick(next(each for each in desk.window.findChildren(Complaint)), Qt.MouseButton.LeftButton)
    assert not said(desk)


def test_an_id_that_is_taken_off_may_be_any(desk: Desk) -> None:
    """`layer-1` taken off while `layer-10` is there, and an item whose id holds digits and signs."""
    desk.station("construct")
    for _ in range(11):
        desk.room.stations["construct"].add.add_menu.aboutToShow.emit()  # type: ignore[attr-defined]
        action = next(
            each
            for each in desk.room.stations["construct"].add.add_menu.findChildren(QAction)  # type: ignore[attr-defined]
            if each.objectName() == "add-layers-front"
        )
        action.trigger()
        desk.settle()
    desk.click("take-off-construct.layers.layer-1")
    ids = [layer.id for layer in desk.settle().job.construct.layers]
    assert ids == [f"layer-{number}" for number in range(2, 12)]
    desk.click("take-off-construct.layers.layer-10")
    assert "layer-10" not in [layer.id for layer in desk.settle().job.construct.layers]
    assert not said(desk)


def test_a_dialog_says_its_own_refusals(desk: Desk) -> None:
    """What is refused while the machine's dialog is worked in is said there, not behind it."""
    desk.click("edit-machine")
    box = desk.find("machine-box")
    box.activateWindow()
    line = desk.find("line-brief.machine.name", QLineEdit)
    line.setFocus()
    desk.qtbot.waitUntil(line.hasFocus)
    assert not desk.room.document.edit("No holders", [Change("brief.machine.holders", ())])
    (note,) = [each for each in QApplication.allWidgets() if isinstance(each, Complaint) and each.isVisible()]
    assert note.text()
    assert note.window() is box
    box.close()


@pytest.mark.parametrize("text", ["wide", "9000", ""])
def test_a_text_that_is_refused_stays_with_its_reason(open_desk: Callable[[Job], Desk], text: str) -> None:
    desk = open_desk(quick_job("5x7in", fold="collar"))
    desk.station("construct")
    line = desk.find("line-construct.collar.reveal", QLineEdit)
    before = desk.room.document.job
    line.setFocus()
    line.selectAll()  # type: ignore[attr-defined]
    desk.qtbot.keyClick(line, Qt.Key.Key_Delete)
    desk.qtbot.keyClicks(line, text)
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)
    assert desk.find("complaint-construct.collar.reveal", QLabel).text()  # type: ignore[attr-defined]
    assert desk.room.document.job is before


def test_a_choice_that_is_refused_goes_back(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(load_demo_job("lock"))
    desk.station("run")
    box = desk.find("choice-run.score_with", QComboBox)
    shown = box.currentData()  # type: ignore[attr-defined]
    box.addItem("a spoon", "spoon")  # type: ignore[attr-defined]
    row = box.findData("spoon")  # type: ignore[attr-defined]
    box.setCurrentIndex(row)  # type: ignore[attr-defined]
    box.activated.emit(row)  # type: ignore[attr-defined]
    assert box.currentData() == shown  # type: ignore[attr-defined]
    assert "spoon" in "".join(said(desk))


def drag_on(desk: Desk, view_name: str, at: tuple[float, float], by: tuple[int, int]) -> QPoint:
    """Press at a place of a drawing (mm) and move by pixels, without letting go; returns where the pointer is."""
    view = desk.view(view_name)
    x, y = view.viewport_now.to_px(at)
    start = QPoint(round(x), round(y))
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    for share in (0.3, 0.6, 1.0):
        QTest.mouseMove(view, start + QPoint(round(by[0] * share), round(by[1] * share)))
    return start + QPoint(*by)


def test_escape_takes_back_what_is_dragged_on_a_face(desk: Desk) -> None:
    desk.room.document.open_job(dressed(item(paper="liner-paper")), None, saved=True)
    desk.settle()
    desk.station("dress")
    job = desk.room.document.job
    view = desk.view("dress-face")
    place = view.viewport_now
    assert place.scale > 0
    box = desk.settle().dress.item("thing").placed.source  # type: ignore[union-attr]
    end = drag_on(desk, "dress-face", ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2), (-40, 25))
    assert desk.room.document.is_dragging
    QTest.keyClick(view, Qt.Key.Key_Escape)
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=end)
    assert desk.settle().job == job
    assert not desk.room.document.history.undo_label
    end = drag_on(desk, "dress-face", ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2), (-40, 25))
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=end)
    assert desk.settle().job != job
    desk.click("button-undo")  # a drag is one step
    assert desk.settle().job == job


def test_escape_takes_back_what_is_dragged_on_a_mat(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("3x4in", fold="flat", count=1))
    desk.station("lay")
    plan = desk.settle()
    box = plan.lay.layouts[0].placements[0].box
    at = ((box.left + box.right) / 2, (box.top + box.bottom) / 2)
    end = drag_on(desk, "lay-mat", at, (60, 60))
    QTest.keyClick(desk.view("lay-mat"), Qt.Key.Key_Escape)
    QTest.mouseRelease(desk.view("lay-mat"), Qt.MouseButton.LeftButton, pos=end)
    assert desk.settle().job.lay.pins == ()
    end = drag_on(desk, "lay-mat", at, (60, 60))
    QTest.mouseRelease(desk.view("lay-mat"), Qt.MouseButton.LeftButton, pos=end)
    assert len(desk.settle().job.lay.pins) == 1
    desk.click("button-undo")
    assert desk.settle().job.lay.pins == ()


def test_a_job_that_opens_in_the_middle_of_a_drag_is_drawn_without_it(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("3x4in", fold="flat", count=1))
    desk.station("lay")
    box = desk.settle().lay.layouts[0].placements[0].box
    end = drag_on(desk, "lay-mat", ((box.left + box.right) / 2, (box.top + box.bottom) / 2), (60, 60))
    desk.room.document.open_job(load_demo_job("stack"), None, saved=True)  # its papers are others
    desk.settle()
    assert not desk.room.guard.count
    QTest.mouseRelease(desk.view("lay-mat"), Qt.MouseButton.LeftButton, pos=end)
    assert desk.settle().job.lay.pins == load_demo_job("stack").lay.pins


def test_escape_takes_back_a_measure_that_is_dragged(desk: Desk) -> None:
    desk.room.document.open_job(
        dressed(item(steps=(step("border", by="2 mm"),), paper="liner-paper")), None, saved=True
    )
    desk.settle()
    desk.station("dress")
    name = desk.find("drag-dress.items.thing.steps.border-1.by")
    QTest.mousePress(name, Qt.MouseButton.LeftButton)
    QTest.mouseMove(name, name.rect().center() + QPoint(50, 0))
    assert desk.room.document.is_dragging
    QTest.keyClick(name, Qt.Key.Key_Escape)
    QTest.mouseRelease(name, Qt.MouseButton.LeftButton)
    assert desk.settle().job.dress.items[0].steps[0].by == parse_length("2 mm")
    assert not desk.room.document.history.undo_label
