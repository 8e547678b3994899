"""The first start, with its three edits, and the page of later ones."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QCheckBox, QListWidget, QPlainTextEdit

from dechirer.core.job.model import Job
from dechirer.demo import DEMOS, load_demo_job
from dechirer.desk.actions import DEMOS as DEMO_MENU
from dechirer.desk.boxes.start_box import StartBox
from dechirer.desk.start import furnish
from dechirer.desk.window import MainWindow
from dechirer.desk.work.settings import Settings
from dechirer.formats.job.archive import write_archive
from tests.desk.conftest import Desk
from tests.helpers import quick_job


def hint(desk: Desk) -> str:
    return desk.window.banners.text("hint")


def test_the_first_start_walks_through_three_edits_as_a_maker_does_them(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(load_demo_job())
    assert hint(desk).startswith("1 of 3:  Click the 5 in")
    desk.type_number("brief-card", "brief.height", "6 1/2 in")
    desk.settle()
    assert hint(desk).startswith("1 of 3")  # another edit than the one that is asked for
    desk.type_number("brief-card", "brief.width", "4 1/2")
    assert not desk.settle().stops  # what is learnt by is no mistake
    assert "narrower now" in hint(desk)
    assert "2 of 3:  Open Dress" in hint(desk)
    desk.station("dress")
    desk.click("add-words")
    desk.settle()
    typing = desk.find("face-words", QPlainTextEdit)
    desk.qtbot.keyClicks(typing, "Marsh")
    desk.qtbot.keyClick(typing, Qt.Key.Key_Return)
    desk.settle()
    assert "3 of 3" in hint(desk)
    desk.station("brief")
    desk.type_number("brief-card", "brief.count", "20")
    desk.settle()
    assert hint(desk).endswith("That is all there is to it.")
    assert not desk.room.settings.hint_seen
    desk.click("banner-hint-0")
    assert hint(desk) == ""
    assert Settings().hint_seen


def test_another_job_begins_the_lesson_anew_and_what_was_put_off_stays_away(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("5x7in"))
    desk.room.document.open_job(quick_job("6x6in"), None, saved=True)
    desk.settle()
    assert hint(desk).startswith("1 of 3")  # the width differs, but nobody has typed it
    desk.click("banner-hint-0")
    desk.type_number("brief-card", "brief.width", "7 in")
    desk.settle()
    assert hint(desk) == ""


def start_box(desk: Desk) -> StartBox:
    desk.room.do("start")
    found: StartBox = desk.find("start-box", StartBox)  # type: ignore[assignment]
    return found


def shelf(box: StartBox, name: str) -> QListWidget:
    found = box.findChild(QListWidget, name)
    assert found is not None
    return found


def test_the_page_shows_jobs_as_pictures_and_opens_what_is_clicked(
    open_desk: Callable[[Job], Desk], tmp_path: Path
) -> None:
    desk = open_desk(quick_job("5x7in"))
    for name in ("reeds", "gone", "broken"):
        write_archive(tmp_path / f"{name}.dechirer", quick_job("4x4in"))
        desk.room.settings.remember(tmp_path / f"{name}.dechirer")
    (tmp_path / "gone.dechirer").unlink()
    (tmp_path / "broken.dechirer").write_bytes(b"PK nothing")
    box = start_box(desk)
    recent = shelf(box, "start-recent")
    assert [recent.item(row).text() for row in range(recent.count())] == ["broken", "reeds"]  # type: ignore[union-attr]
    demos = shelf(box, "start-demos")
    assert demos.count() == len(DEMOS)
    entry = recent.item(1)
    assert entry is not None

    def has_picture() -> bool:
        seen = entry.icon().pixmap(QSize(124, 92)).toImage()
        return any(seen.pixelColor(x, 46) != seen.pixelColor(0, 0) for x in range(seen.width()))

    desk.qtbot.waitUntil(has_picture, timeout=30_000)
    where = recent.visualItemRect(entry).center()
    desk.qtbot.mouseClick(recent.viewport(), Qt.MouseButton.LeftButton, pos=where)
    desk.qtbot.waitUntil(lambda: desk.room.document.path == tmp_path / "reeds.dechirer", timeout=10_000)
    assert not any(thread.name == "small pictures" for thread in threading.enumerate())


def test_the_page_opens_demos_and_new_cards_and_can_be_left(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("5x7in"))
    box = start_box(desk)
    assert box.findChild(QListWidget, "start-recent") is None
    demos = shelf(box, "start-demos")
    demos.setCurrentRow(2)
    demos.itemActivated.emit(demos.item(2))  # as Enter does
    desk.settle()
    assert desk.room.document.job == load_demo_job(DEMO_MENU[2][0])
    start_box(desk)
    desk.click("start-close")
    start_box(desk)
    desk.click("start-new")
    assert desk.settle().job.dress.items == ()


def test_later_starts_begin_with_the_page_unless_it_is_switched_off(
    qtbot: object, own_folders: None, open_desk: Callable[[Job], Desk]
) -> None:
    desk = open_desk(quick_job("5x7in"))  # its fonts and theme
    for seen, page, wanted in ((False, True, False), (True, True, True), (True, False, False)):
        settings = Settings()
        settings.hint_seen, settings.start_page = seen, page
        window = MainWindow()
        desk.qtbot.addWidget(window)
        window.show()
        furnish(window)
        desk.qtbot.wait(400)
        box = window.findChild(StartBox)
        assert (box is not None) == wanted, (seen, page)
        if box is not None:
            box.findChild(QCheckBox, "start-at-start").click()  # type: ignore[union-attr]
            assert not Settings().start_page
            box.reject()
        room = window.room
        assert room is not None
        room.guard.remove()  # type: ignore[attr-defined]
        room.end()
        window.room = None
        window.close()
