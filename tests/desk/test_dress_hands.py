"""What is done on a face by hand: words typed where they stand, several things picked, moved and put in order."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, Qt, QUrl
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QFileDialog, QLabel, QListWidget, QPlainTextEdit, QToolButton

from dechirer.core.job.model import Job
from dechirer.desk.panels.item_list import ItemList
from dechirer.desk.stations.dress import DressStation
from dechirer.drawing.hit import box_of_element
from dechirer.formats.job.archive import read_archive
from tests.desk.conftest import Desk
from tests.dressing import dressed, item, square, step
from tests.helpers import changed, quick_job, typed

ART = Path(__file__).parents[2] / "src" / "dechirer" / "demo" / "art"


def opened(desk: Desk, job: Job) -> DressStation:
    desk.room.document.open_job(job, None, saved=True)
    desk.settle()
    desk.station("dress")
    station = desk.room.stations["dress"]
    assert isinstance(station, DressStation)
    return station


def three() -> Job:
    job = dressed(*(item(name, made="window") for name in "abc"))
    for name, left, top in (("a", 8, 10), ("b", 40, 55), ("c", 90, 110)):
        job = typed(job, f"dress.items.{name}.place.left", f"{left} mm")
        job = typed(job, f"dress.items.{name}.place.top", f"{top} mm")
    return job


def ids(desk: Desk) -> list[str]:
    return [each.id for each in desk.room.document.job.dress.items]


def at(station: DressStation, element: str) -> QPoint:
    """Where an item is on the screen: on its edge's inside corner."""
    view = station.face
    assert view.display is not None
    box = box_of_element(view.display, f"item:{element}")
    assert box is not None
    x, y = view.viewport_now.to_px(((box.left + box.right) / 2, (box.top + box.bottom) / 2))
    return QPoint(round(x), round(y))


def line(desk: Desk) -> QPlainTextEdit:
    return desk.find("face-words", QPlainTextEdit)  # type: ignore[return-value]


def test_new_words_are_typed_where_they_stand_and_take_two_steps_to_undo(desk: Desk) -> None:
    station = opened(desk, quick_job("5x7in"))
    desk.click("add-words")
    desk.settle()
    typing = line(desk)
    assert typing.isVisible()
    desk.qtbot.keyClicks(typing, "Tide")
    desk.qtbot.keyClick(typing, Qt.Key.Key_Return, Qt.KeyboardModifier.ShiftModifier)
    desk.qtbot.keyClicks(typing, "Inn")
    desk.qtbot.waitUntil(lambda: station.dressed is not None and len(station.dressed.placed.drawn.lines) > 6)
    assert desk.room.document.job.dress.items[0].words.text == "Words"  # type: ignore[union-attr] - shown, not yet kept
    desk.qtbot.keyClick(typing, Qt.Key.Key_Return)
    plan = desk.settle()
    assert not typing.isVisible()
    assert plan.job.dress.items[0].words.text == "Tide\nInn"  # type: ignore[union-attr]
    assert plan.job.dress.items[0].name == "Tide"
    for _ in range(2):
        desk.room.document.undo()
    assert desk.settle().job.dress.items == ()


def test_words_are_taken_back_by_escape_and_new_ones_left_empty_go(desk: Desk) -> None:
    station = opened(desk, quick_job("5x7in"))
    desk.click("add-words")
    desk.settle()
    desk.qtbot.keyClicks(line(desk), "Quay")
    desk.qtbot.keyClick(line(desk), Qt.Key.Key_Escape)
    assert desk.settle().job.dress.items[0].words.text == "Words"  # type: ignore[union-attr]
    desk.qtbot.mouseDClick(station.face, Qt.MouseButton.LeftButton, pos=at(station, "words"))
    assert line(desk).isVisible()
    desk.qtbot.keyClick(line(desk), Qt.Key.Key_Delete)
    desk.qtbot.keyClick(line(desk), Qt.Key.Key_Return)
    assert ids(desk) == ["words"]  # they were there before, so nothing typed leaves them
    desk.click("add-words")
    desk.settle()
    desk.qtbot.keyClick(line(desk), Qt.Key.Key_Delete)
    desk.qtbot.keyClick(line(desk), Qt.Key.Key_Return)
    desk.settle()
    assert ids(desk) == ["words"]


def test_typing_for_long_is_no_wait(desk: Desk) -> None:
    """The plan of what is typed is there; that it is not kept yet is nothing to wait for."""
    opened(desk, quick_job("5x7in"))
    desk.click("add-words")
    desk.settle()
    for letter in "Quay":
        desk.qtbot.keyClicks(line(desk), letter)
        desk.qtbot.wait(400)  # longer in all than a plan may take before it is said
    desk.qtbot.waitUntil(lambda: not desk.room.document.is_waiting, timeout=5_000)
    assert not desk.room.document.is_current
    assert desk.window.banners.text("slow") == ""


@pytest.mark.parametrize("leave", ["station", "save", "export"])
def test_what_is_typed_is_kept_by_going_elsewhere_and_by_saving(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, leave: str
) -> None:
    opened(desk, quick_job("5x7in"))
    desk.click("add-words")
    desk.settle()
    typing = line(desk)
    desk.qtbot.keyClicks(typing, "Quay")
    if leave == "station":
        desk.room.show_station("lay")
        words = desk.settle().job.dress.items[0].words
    elif leave == "save":
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "a.dechirer"), ""))
        desk.room.do("save")
        words = read_archive(tmp_path / "a.dechirer").dress.items[0].words
    else:
        monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path))
        desk.room.do("export")
        desk.click("export-choose")
        desk.click("export-go")
        desk.qtbot.waitUntil(lambda: "written into" in desk.window.banners.text("export"), timeout=10_000)
        words = desk.room.document.job.dress.items[0].words
    assert words is not None
    assert words.text == "Quay"
    assert not typing.isVisible()
    assert desk.settle().job.dress.items[0].name == "Quay"


def test_the_line_goes_when_its_words_are_undone_meanwhile(desk: Desk) -> None:
    opened(desk, quick_job("5x7in"))
    desk.click("add-words")
    desk.settle()
    assert line(desk).isVisible()
    desk.room.document.undo()
    desk.settle()
    assert not line(desk).isVisible()
    desk.qtbot.keyClicks(desk.view("dress-face"), "x")  # goes nowhere
    assert desk.settle().job.dress.items == ()


def test_a_double_click_on_bare_paper_begins_words_there(desk: Desk) -> None:
    station = opened(desk, quick_job("5x7in"))
    x, y = station.face.viewport_now.to_px((40.0, 150.0))
    desk.qtbot.mouseDClick(station.face, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(y)))
    plan = desk.settle()
    left, top, right, bottom = plan.dress.items[0].placed.source
    assert ((left + right) / 2, (top + bottom) / 2) == (pytest.approx(40, abs=0.6), pytest.approx(150, abs=0.6))
    assert line(desk).isVisible()


def test_several_are_picked_with_shift_and_dragged_as_one_by_a_round_length(desk: Desk) -> None:
    station = opened(desk, three())
    before = {each.item.id: each.placed.source for each in desk.settle().dress.items}
    desk.qtbot.mouseClick(station.face, Qt.MouseButton.LeftButton, pos=at(station, "a"))
    desk.qtbot.mouseClick(
        station.face, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, pos=at(station, "c")
    )
    assert set(station.panel.list.chosen) == {"a", "c"}
    start = at(station, "a")
    desk.qtbot.mousePress(station.face, Qt.MouseButton.LeftButton, pos=start)
    for step_px in (5, 20, 30):
        desk.qtbot.mouseMove(station.face, start + QPoint(step_px, step_px))
    desk.qtbot.mouseRelease(station.face, Qt.MouseButton.LeftButton, pos=start + QPoint(30, 30))
    after = {each.item.id: each.placed.source for each in desk.settle().dress.items}
    moved = {name: after[name][0] - before[name][0] for name in "abc"}
    assert moved["b"] == 0
    assert moved["a"] > 2
    assert moved["c"] == pytest.approx(moved["a"], abs=2e-3)
    desk.qtbot.keyClick(station.face, Qt.Key.Key_Delete)
    desk.settle()
    assert ids(desk) == ["b"]
    desk.room.document.undo()
    desk.settle()
    assert ids(desk) == ["a", "b", "c"]


def menu_of(desk: Desk, button: str, choose: str) -> None:
    menu = desk.find(button, QToolButton).menu()  # type: ignore[attr-defined]
    menu.aboutToShow.emit()
    action = next(each for each in menu.actions() if each.objectName() == choose)
    assert action.isEnabled()
    action.trigger()
    desk.settle()


def test_what_is_kept_together_is_picked_as_one_and_lined_up(desk: Desk) -> None:
    station = opened(desk, three())
    names = desk.find("face-items", QListWidget)
    names.selectAll()  # type: ignore[attr-defined]
    menu_of(desk, "item-several", "line-up-left")
    assert {round(each.placed.source[0], 3) for each in desk.settle().dress.items} == {8.0}
    names.item(0).setSelected(False)  # type: ignore[attr-defined] - c, the topmost
    menu_of(desk, "item-several", "keep-together")
    station.pick("c")
    assert station.panel.list.chosen == ["c"]
    desk.qtbot.mouseClick(station.face, Qt.MouseButton.LeftButton, pos=at(station, "a"))
    assert set(station.panel.list.chosen) == {"a", "b"}
    menu_of(desk, "item-several", "let-apart")
    station.pick("c")
    station.pick("a")
    assert station.panel.list.chosen == ["a"]


def test_items_are_put_in_order_in_the_list_by_hand_and_by_keys(desk: Desk) -> None:
    opened(desk, three())
    names = desk.find("face-items", ItemList)
    assert names.ids == ["c", "b", "a"]  # type: ignore[attr-defined]
    entry = names.takeItem(2)  # type: ignore[attr-defined] - as a drop does: the entry lies elsewhere, then it is told
    names.insertItem(0, entry)  # type: ignore[attr-defined]
    names.ordered.emit(names.ids)  # type: ignore[attr-defined]
    desk.settle()
    assert ids(desk) == ["b", "c", "a"]
    names.setCurrentRow(0)  # type: ignore[attr-defined]
    desk.qtbot.keyClick(names, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    desk.settle()
    assert ids(desk) == ["b", "a", "c"]


def test_the_list_shows_each_item_and_what_it_is_made_as(desk: Desk) -> None:
    station = opened(desk, three())
    names = station.panel.list
    desk.qtbot.waitUntil(lambda: not names.is_busy and names.picture("a") is not None, timeout=5_000)
    picture = names.picture("a")
    assert picture is not None
    drawn = picture.toImage().convertToFormat(QImage.Format.Format_ARGB32)
    seen = {drawn.pixel(x, y) for x in range(drawn.width()) for y in range(drawn.height())}
    assert len(seen) > 2
    entry = names.item(0)
    assert entry is not None
    assert entry.data(Qt.ItemDataRole.AccessibleTextRole) == "c: window"


def test_the_recipe_reads_as_a_sentence_with_a_picture_for_each_step(desk: Desk) -> None:
    border = step("border", by="3 mm", corners="mitre")
    station = opened(desk, dressed(item(paper="liner-paper", steps=(border, step("round", by="1 mm")))))
    sentence = desk.find("recipe-sentence", QLabel).text()  # type: ignore[attr-defined]
    assert sentence == "art art.svg, then border 3 mm, then round corners 1 mm: a piece of its own."
    placed = desk.settle().dress.items[0].placed
    assert [stage.box()[2] - stage.box()[0] for stage in placed.stages] == [pytest.approx(26), pytest.approx(26)]
    assert placed.stages[-1] is placed.drawn
    pictures = [label for label, _ in station.chain._pictures]
    assert len(pictures) == 3
    assert all(not label.pixmap().isNull() for label in pictures)


def test_several_files_dropped_together_are_all_brought_in(desk: Desk, tmp_path: Path) -> None:
    station = opened(desk, changed(quick_job("5x7in", liner="1/16"), dress__art=(square(id="there"),)))
    said: list[str] = []
    station.refused.connect(said.append)
    bad = tmp_path / "bad.svg"
    bad.write_text("<svg")
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path)) for path in (ART / "gulls.svg", bad, ART / "dunes.svg")])
    station.take_drop(mime)
    desk.qtbot.waitUntil(lambda: len(ids(desk)) == 2, timeout=10_000)
    desk.settle()
    assert ids(desk) == ["gulls", "dunes"]
    assert len(said) == 1
    assert "bad.svg" in said[0]
