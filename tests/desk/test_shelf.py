"""The shelf in the window: kept from one job, dragged or put into another, taken off again."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication, QListWidget, QMessageBox, QToolButton

from dechirer.core.job.model import Job
from dechirer.demo import load_demo_job
from dechirer.desk.boxes.shelf_box import ShelfBox
from dechirer.desk.work.shelving import shelf_folder
from tests.desk.conftest import Desk
from tests.helpers import quick_job


@pytest.fixture
def desk(open_desk: Callable[[Job], Desk], tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Desk:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    return open_desk(load_demo_job("kites"))


def shelf(desk: Desk) -> ShelfBox:
    desk.room.do("shelf")
    desk.settle()
    boxes = [box for box in desk.window.findChildren(ShelfBox) if box.isVisible()]
    return boxes[-1]


def keep(desk: Desk, what: str) -> None:
    menu = desk.find("shelf-keep", QToolButton).menu()  # type: ignore[attr-defined]
    menu.aboutToShow.emit()
    next(action for action in menu.actions() if action.objectName() == what).trigger()


def things(desk: Desk) -> QListWidget:
    return desk.find("shelf-things", QListWidget)  # type: ignore[return-value]


def names(desk: Desk) -> list[str]:
    listed = things(desk)
    return [listed.item(row).text() for row in range(listed.count())]  # type: ignore[union-attr]


def new_job(desk: Desk) -> None:
    desk.room.document.open_job(quick_job("5x7in"), None, saved=True)
    desk.settle()


def test_a_design_is_kept_and_used_in_another_job_by_dragging_it_there(desk: Desk) -> None:
    box = shelf(desk)
    assert "Nothing yet" in desk.words("shelf-said")
    assert not desk.find("shelf-use").isEnabled()
    desk.room.stations["dress"].point_at("greeting-shadow")
    keep(desk, "keep-items")
    assert names(desk) == ["Kite Day shadow"]
    new_job(desk)
    listed = things(desk)
    mime = listed.mimeData([listed.item(0)])  # type: ignore[list-item] - what the list gives when it is dragged
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    QApplication.sendEvent(desk.window, QDragEnterEvent(QPoint(600, 400), Qt.DropAction.CopyAction, mime, left, none))
    QApplication.sendEvent(desk.window, QDropEvent(QPointF(600, 400), Qt.DropAction.CopyAction, mime, left, none))
    plan = desk.settle()
    assert {each.name for each in plan.job.dress.items} == {"Kite Day shadow", "Kite Day"}
    assert not plan.dress.items[-1].placed.drawn.is_empty
    desk.room.document.undo()
    assert desk.settle().job.dress.items == ()
    box.reject()


def test_what_is_kept_is_put_on_the_face_and_its_recipe_given(desk: Desk) -> None:
    box = shelf(desk)
    desk.room.stations["dress"].point_at("greeting")
    keep(desk, "keep-items")
    new_job(desk)
    things(desk).setCurrentRow(0)
    desk.click("shelf-recipe")
    assert desk.settle().job.dress.items == ()  # nothing is picked that could have it
    desk.click("shelf-use")
    plan = desk.settle()
    kinds = [step.kind for step in plan.job.dress.items[-1].steps]
    assert kinds
    desk.click("add-words")
    desk.settle()
    desk.qtbot.keyClick(desk.find("face-words"), Qt.Key.Key_Escape)
    desk.click("shelf-recipe")
    assert [step.kind for step in desk.settle().job.dress.items[-1].steps] == kinds
    box.reject()


def test_a_paper_is_kept_and_used_and_taken_off(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    box = shelf(desk)
    keep(desk, "keep-kite-orange")
    new_job(desk)
    things(desk).setCurrentRow(0)
    desk.click("shelf-use")
    assert desk.settle().job.brief.papers[-1].name == "kite orange"
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.No)
    desk.click("shelf-off")
    assert names(desk) == ["kite orange"]
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.Yes)
    desk.click("shelf-off")
    assert names(desk) == []
    assert list(shelf_folder().iterdir()) == []
    box.reject()


def test_a_damaged_file_and_a_full_disk_are_said(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    shelf_folder().mkdir(parents=True)
    (shelf_folder() / "bad.kept").write_bytes(b"nothing")
    box = shelf(desk)
    things(desk).setCurrentRow(0)
    desk.click("shelf-use")
    assert "bad.kept" in desk.words("shelf-said")

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("dechirer.formats.shelf.write_archive", full)
    keep(desk, "keep-kite-orange")
    assert "No space left" in desk.words("shelf-said")
    box.reject()
