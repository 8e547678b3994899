"""A furnished window for each test, and a check that it leaves no thread behind."""

from __future__ import annotations

import threading
from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from dechirer.core.job.model import Job
from dechirer.core.plan import Plan
from dechirer.desk.room import Room
from dechirer.desk.theme import theme
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.window import MainWindow
from dechirer.desk.work.settings import Settings


class Desk:
    """Drives a window as a maker would: by clicks, keys and object names."""

    def __init__(self, qtbot: QtBot, window: MainWindow, room: Room) -> None:
        self.qtbot, self.window, self.room = qtbot, window, room

    def settle(self) -> Plan:
        """Wait until the plan shown is the plan of the job as it is."""
        self.qtbot.waitUntil(lambda: self.room.document.is_current, timeout=10_000)
        QApplication.processEvents()
        assert self.room.document.plan is not None
        return self.room.document.plan

    def find(self, name: str, kind: type = QWidget) -> QWidget:
        found = self.window.findChild(kind, name)
        assert found is not None, f"no widget {name}"
        return found  # type: ignore[no-any-return]

    def click(self, name: str) -> None:
        self.qtbot.mouseClick(self.find(name), Qt.MouseButton.LeftButton)

    def station(self, name: str) -> None:
        self.click(f"station-{name}")
        self.settle()

    def view(self, name: str) -> DrawingView:
        return self.find(name, DrawingView)  # type: ignore[return-value]

    def type_number(self, view_name: str, figure: str, text: str) -> None:
        """Click a number on a drawing, type, press Enter."""
        view = self.view(view_name)
        place = view.place_of(figure)
        assert place is not None, f"{figure} is not drawn"
        self.qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(round(place[0]), round(place[1])))
        editor = self.find(f"{view_name}-editor")
        assert editor.isVisible()
        self.qtbot.keyClicks(editor, text)
        self.qtbot.keyClick(editor, Qt.Key.Key_Return)

    def words(self, name: str) -> str:
        return self.find(name).text()  # type: ignore[attr-defined,no-any-return]


@pytest.fixture
def open_desk(qtbot: QtBot, own_folders: None, monkeypatch: pytest.MonkeyPatch) -> Callable[[Job], Desk]:
    """Opens windows; each is closed at the end without a question, and its threads must be gone.

    Stations are made when a test asks for them, and not by themselves: a window's eight take longer than most tests.
    """
    monkeypatch.setattr("dechirer.desk.room.IDLE_MS", 3_600_000)
    before = {thread.name for thread in threading.enumerate()}
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    theme.load_fonts()
    theme.apply_theme(app, "light")
    Settings().looks = False  # tests that want a closer lay ask for it
    windows: list[MainWindow] = []

    def open_job(job: Job) -> Desk:
        window = MainWindow()
        windows.append(window)
        room = window.room = Room(window, job, Settings())
        qtbot.addWidget(window, before_close_func=lambda _window: end(window, room))
        window.show()
        desk = Desk(qtbot, window, room)
        desk.settle()
        return desk

    def end(window: MainWindow, room: Room) -> None:
        window.room = None  # closes without a question
        room.end()
        # Deleted here and now: left to the collector, it could be taken apart in the middle of one of its own slots.
        window.deleteLater()
        left = {thread.name for thread in threading.enumerate()} - before
        assert not {name for name in left if name in ("planner", "export")} or others_open(window)

    def others_open(window: MainWindow) -> bool:
        return any(each is not window and each.room for each in windows)

    return open_job


@pytest.fixture
def desk(open_desk: Callable[[Job], Desk], demo: Job) -> Desk:
    return open_desk(demo)
