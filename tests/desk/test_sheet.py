"""The style sheet is the window's: whatever opens from it has it, in both themes, and the application has none; what
lies on a drawing does not cut it up."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QEvent
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QMenu, QPushButton, QWidget

from dechirer.core.job.model import Job
from dechirer.demo import load_demo_job
from dechirer.desk.theme import theme
from dechirer.desk.theme.tokens import THEMES
from tests.desk.conftest import Desk


def edge_of(widget: QWidget) -> QColor:
    """The colour in the middle of its uppermost line of pixels."""
    image = widget.grab().toImage()
    return image.pixelColor(image.width() // 2, 0)


def box_of(desk: Desk, action: str) -> QDialog:
    desk.room.do(action)
    QApplication.processEvents()
    return next(each for each in desk.window.findChildren(QDialog) if each.isVisible())


@pytest.mark.parametrize("name", list(THEMES))
def test_boxes_buttons_and_menus_are_dressed(desk: Desk, name: str) -> None:
    desk.station("construct")
    desk.room.appearance.choose(name)
    tokens = THEMES[name]
    for action in ("machine", "screen", "start"):
        box = box_of(desk, action)
        free = [each for each in box.findChildren(QPushButton) if each.isVisible() and each.isEnabled()]
        plain = [each for each in free if not each.hasFocus() and not each.property("main")]
        assert plain, action
        assert {edge_of(each).name() for each in plain} == {tokens["accent"].lower()}, action
        box.close()
        box.deleteLater()
    menu = desk.window.top.findChildren(QMenu)[0]
    assert edge_of(menu).name() == tokens["rule"].lower()


def test_the_fields_of_a_step_stand_in_two_lines_at_most(open_desk: Callable[[Job], Desk]) -> None:
    """Its width is told by its fields as they are in the window; outside it they are smaller."""
    desk = open_desk(load_demo_job("kites"))
    desk.station("dress")
    station = desk.room.stations["dress"]
    items = [item for item in desk.room.document.job.dress.items if item.steps]
    seen = 0
    for item in items:
        desk.room.go_to(item.id)
        QTest.qWait(1)
        for panel in station.chain._panels:  # type: ignore[attr-defined]
            shown = [each for each in panel.widgets.values() if each.isVisible()]
            seen += len(shown)
            assert len({each.geometry().center().y() // 30 for each in shown}) <= 2, (item.id, panel.path)
            assert all(each.geometry().right() <= panel.width() for each in shown), (item.id, panel.path)
    assert seen > len(items)


def test_the_application_itself_has_no_sheet(desk: Desk) -> None:
    """With one, making a station takes three times as long."""
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    assert not app.styleSheet()
    assert desk.window.styleSheet() == theme._style_sheet()


def test_a_window_that_is_gone_is_not_dressed_again(desk: Desk) -> None:
    gone = QWidget()
    theme.dress_window(gone)
    gone.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
    desk.room.appearance.choose("dark")
    assert desk.window.styleSheet() == theme._style_sheet()
    desk.room.appearance.choose("light")


def test_a_drawing_is_painted_in_one_rectangle(desk: Desk) -> None:
    """In a region of several, which Qt makes round what it fills itself, each line of a large picture takes 7 ms."""
    seen = 0
    for name in desk.room.ids:
        desk.station(name)
        for view in desk.room.stations[name]._views:
            if view.isVisible() and view.bar.isVisible():
                assert view.visibleRegion().rectCount() == 1, view.objectName()
                seen += 1
    assert seen > len(desk.room.ids) / 2
