"""A sample of what bin/look takes at length, and that it finds what is wrong."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QCheckBox, QComboBox, QHBoxLayout, QLabel, QLineEdit, QScrollArea, QWidget
from pytestqt.qtbot import QtBot

from dechirer.core.job.model import Job
from dechirer.demo import load_demo_job
from dechirer.desk.headless import settle
from dechirer.desk.theme import theme
from dechirer.desk.widgets.wrapped_button import WrappedButton
from tests.desk.conftest import Desk
from tests.desk.looking import find_flaws


@pytest.fixture
def light_again() -> Iterator[None]:
    yield
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    theme.apply_theme(app, "light")


@pytest.mark.parametrize(
    ("demo", "theme_name", "size"),
    [
        ("kites", "light", (1024, 700)),
        ("kites", "dark", (1280, 800)),
        ("boathouse", "light", (1024, 700)),
        ("winners", "dark", (1920, 1080)),
        ("lock", "light", (683, 467)),
    ],
)
def test_no_word_is_cut_off_or_faint_and_nothing_lies_on_anything(
    open_desk: Callable[[Job], Desk], light_again: None, demo: str, theme_name: str, size: tuple[int, int]
) -> None:
    desk = open_desk(load_demo_job(demo))
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    theme.apply_theme(app, theme_name)
    desk.window.resize(*size)
    for station in desk.room.ids:
        desk.station(station)
        settle(app, desk.window)
        assert find_flaws(desk.window) == [], station
    assert (desk.window.width(), desk.window.height()) == pytest.approx(size, abs=1)  # it goes into its screen


def holding(qtbot: QtBot, *widgets: QWidget, wide: int = 200) -> QWidget:
    holder = QWidget()
    qtbot.addWidget(holder)
    line = QHBoxLayout(holder)
    for widget in widgets:
        line.addWidget(widget)
    holder.resize(wide, 80)
    holder.show()
    return holder


def wide_combo() -> QComboBox:
    combo = QComboBox()
    combo.addItem("a choice of many words that are not seen")
    combo.setMaximumWidth(80)
    return combo


def cut_label() -> QLabel:
    label = QLabel("a label of many words that are not seen")
    label.setMaximumWidth(60)
    return label


def low_label() -> QLabel:
    label = QLabel("words that go on in lines of which only the first is seen")
    label.setWordWrap(True)
    label.setFixedSize(90, 16)
    return label


def faint_label() -> QLabel:
    label = QLabel("hardly seen")
    label.setStyleSheet("color: #d0c8b8; background: #ffffff")
    label.setFixedSize(120, 24)
    return label


def narrow_line() -> QLineEdit:
    line = QLineEdit()
    line.setPlaceholderText("what is to be typed here, and how")
    line.setFixedWidth(60)
    return line


def scrolled() -> QScrollArea:
    area = QScrollArea()
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    inner = QLabel("x")
    inner.setFixedSize(400, 20)
    area.setWidget(inner)
    return area


@pytest.mark.parametrize(
    ("make", "told"),
    [
        (cut_label, "px wide and needs"),
        (low_label, "px high and needs"),
        (wide_combo, "px wide and needs"),
        (narrow_line, "px wide and needs"),
        (faint_label, "stand out"),
        (scrolled, "of it are seen"),
    ],
)
def test_each_kind_of_flaw_is_found(qtbot: QtBot, make: Callable[[], QWidget], told: str) -> None:
    window = holding(qtbot, make())
    assert any(told in flaw for flaw in find_flaws(window)), find_flaws(window)


def test_things_on_each_other_and_past_their_parent_are_found(qtbot: QtBot) -> None:
    one, other = QCheckBox("one"), QCheckBox("other")
    window = holding(qtbot, one, other)
    assert find_flaws(window) == []
    other.setGeometry(one.geometry().translated(5, 5))
    assert any("lies on" in flaw for flaw in find_flaws(window))
    other.move(190, 5)
    assert any("lies past" in flaw for flaw in find_flaws(window))


def test_a_button_goes_on_in_a_second_line_and_comes_back_to_one(qtbot: QtBot) -> None:
    button = WrappedButton("Border them until they are one piece")
    window = holding(qtbot, button, wide=150)
    QApplication.processEvents()
    assert len(button.lines(button.width())) > 1
    assert find_flaws(window) == []
    assert button.accessibleName() == "Border them until they are one piece"
    window.resize(500, 80)
    QApplication.processEvents()
    assert len(button.lines(button.width())) == 1
