"""By keyboard alone and for screen readers: every control has a name in words and is reached with Tab."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractScrollArea,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QDialog,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QSlider,
    QWidget,
)

from dechirer.core.job.model import Job
from dechirer.core.stations import STATIONS
from dechirer.demo import load_demo_job
from dechirer.desk.widgets.picture import Picture
from tests.desk.conftest import Desk

CONTROLS = (
    QAbstractButton,
    QLineEdit,
    QComboBox,
    QAbstractItemView,
    QSlider,
    QPlainTextEdit,
    QAbstractSpinBox,
    Picture,
)
BOXES = ("machine", "screen", "help", "start", "shelf")
DRESS_BOXES = ("words", "copies", "roles")


def controls(window: QWidget) -> Iterator[QWidget]:
    """What is seen in a window and can be worked with."""
    for widget in window.findChildren(QWidget):
        inside = widget.parentWidget()
        if not isinstance(widget, CONTROLS) or not widget.isVisible() or widget.window() is not window:
            continue
        if isinstance(inside, (QComboBox, QAbstractItemView)) or isinstance(widget.parent(), QAbstractItemView):
            continue  # parts of one control: the list a combo box opens, the head of a table
        if isinstance(widget, QLineEdit) and isinstance(inside, (QAbstractScrollArea, QAbstractSpinBox)):
            continue
        yield widget


def name_of(widget: QWidget, window: QWidget) -> str:
    """What a screen reader calls it."""
    told = widget.accessibleName()
    if not told and isinstance(widget, QAbstractButton):
        told = widget.text().replace("&", "")
    if not told:
        told = next((label.text() for label in window.findChildren(QLabel) if label.buddy() is widget), "")
    return told


def unnamed(window: QWidget) -> list[str]:
    return [
        f"{type(widget).__name__} {widget.objectName()} “{name_of(widget, window)}”"
        for widget in controls(window)
        if not any(letter.isalnum() for letter in name_of(widget, window))
    ]


def unreached(window: QWidget) -> list[str]:
    """Controls that Tab does not come to. Of words of which one is chosen Tab comes to that one, arrows to the others;
    what is on a drawing is reached with its own keys."""
    wanted = [widget for widget in controls(window) if widget.isEnabled()]
    window.activateWindow()
    first = next(widget for widget in wanted if widget.focusPolicy() & Qt.FocusPolicy.TabFocus)
    first.setFocus(Qt.FocusReason.TabFocusReason)
    seen: set[QWidget] = set()
    for _ in range(600):
        here = QApplication.focusWidget()
        assert here is not None
        seen.add(here)
        window.focusNextChild()
        if QApplication.focusWidget() is first:
            break
    left = []
    for widget in wanted:
        group = widget.group() if isinstance(widget, QAbstractButton) else None
        alike = group.buttons() if group is not None and group.exclusive() else [widget]
        on_drawing = any(isinstance(each, Picture) for each in (widget.parentWidget(), widget.parentWidget().parent()))  # type: ignore[union-attr]
        if not seen & set(alike) and not on_drawing:
            left.append(f"{type(widget).__name__} {widget.objectName()} “{name_of(widget, window)}”")
    return left


@pytest.fixture
def desk(open_desk: Callable[[Job], Desk]) -> Desk:
    return open_desk(load_demo_job("kites"))


@pytest.mark.parametrize("station", STATIONS.ids())
def test_every_control_of_a_station_has_a_name_and_is_reached_with_tab(desk: Desk, station: str) -> None:
    desk.station(station)
    assert unnamed(desk.window) == []
    assert unreached(desk.window) == []


def shown_box(desk: Desk) -> QDialog:
    QApplication.processEvents()
    return next(box for box in desk.window.findChildren(QDialog) if box.isVisible())


@pytest.mark.parametrize("box", BOXES)
def test_every_control_of_a_box_has_a_name_and_is_reached_with_tab(desk: Desk, box: str) -> None:
    desk.room.do(box)
    shown = shown_box(desk)
    assert unnamed(shown) == []
    assert unreached(shown) == []
    shown.reject()


@pytest.mark.parametrize("box", DRESS_BOXES)
def test_every_control_of_the_boxes_of_dress_has_a_name_and_is_reached_with_tab(desk: Desk, box: str) -> None:
    desk.station("dress")
    station = desk.room.stations["dress"]
    station.point_at("sail" if box == "roles" else "greeting")
    desk.settle()
    station.open_box(box)
    shown = shown_box(desk)
    assert unnamed(shown) == []
    assert unreached(shown) == []
    shown.reject()


def test_every_drawing_and_station_says_what_it_is(desk: Desk) -> None:
    for station in STATIONS.ids():
        desk.station(station)
        for view in desk.window.findChildren(Picture):
            if view.isVisible():
                assert len(view.accessibleName()) > 8, view.objectName()
    assert all(button.accessibleName() or button.text() for button in desk.window.strip.buttons.values())  # type: ignore[attr-defined]


def test_what_has_the_focus_by_keyboard_can_be_seen(desk: Desk) -> None:
    """A button, a line and a drawing look otherwise with the focus of the keyboard than without it."""
    for name in ("add-words", "line-dress.safe", "dress-face", "face-items", "item-off", "made", "construct-parts"):
        desk.station("construct" if name.startswith("construct") else "dress")
        widget = desk.find(name)
        desk.window.strip.setFocus()
        widget.clearFocus()
        QApplication.processEvents()
        before = widget.grab().toImage()
        widget.setFocus(Qt.FocusReason.TabFocusReason)
        QApplication.processEvents()
        assert widget.grab().toImage() != before, name


@pytest.mark.parametrize("box", ["read", "calibrate"])
def test_every_control_of_the_boxes_of_press_has_a_name_and_is_reached_with_tab(
    open_desk: Callable[[Job], Desk], box: str
) -> None:
    desk = open_desk(load_demo_job("kites"))
    desk.station("press")
    desk.room.stations["press"].open_box(box)
    shown = shown_box(desk)
    assert unnamed(shown) == []
    assert unreached(shown) == []
    shown.reject()
