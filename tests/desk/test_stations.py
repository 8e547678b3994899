"""Every station and every step, as the window has them."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QLabel, QLineEdit, QListWidget, QToolButton

from dechirer.core.dress.step import STEPS, step_groups
from dechirer.core.job.model import Job
from dechirer.core.stations import STATIONS
from dechirer.demo import load_demo_job
from tests.desk.conftest import Desk
from tests.dressing import dressed, item


def test_every_key_opens_what_the_strip_shows(desk: Desk) -> None:
    for number, spec in enumerate(STATIONS, start=1):
        desk.qtbot.keyClick(desk.window, getattr(Qt.Key, f"Key_{number}"), Qt.KeyboardModifier.AltModifier)
        plan = desk.settle()
        assert desk.room.station == spec.id
        live = spec.live(plan.known)
        assert live
        assert live in desk.find(f"station-{spec.id}").accessibleName()


def test_every_station_has_help_and_is_found(desk: Desk) -> None:
    for spec in STATIONS:
        desk.station(spec.id)
        desk.room.help()
        box = desk.find("help-box")
        assert spec.about in [label.text() for label in box.findChildren(QLabel)]
        box.close()
        desk.qtbot.wait(5)  # it is deleted when it is closed
        desk.room.find()
        desk.find("find-line", QLineEdit).setText(spec.title)  # type: ignore[attr-defined]
        assert desk.find("find-rows", QListWidget).count() >= 1  # type: ignore[attr-defined]
        desk.qtbot.keyClick(desk.find("find-line"), Qt.Key.Key_Escape)


def test_every_step_stands_in_the_menu(desk: Desk) -> None:
    desk.room.document.open_job(dressed(item(paper="liner-paper")), None, saved=True)
    desk.settle()
    desk.station("dress")
    menu = desk.find("add-step", QToolButton).menu()  # type: ignore[attr-defined]
    names = {action.objectName() for action in menu.actions() if action.objectName()}
    assert names == {f"add-step-{spec.id}" for spec in STEPS}
    assert sum(len(specs) for specs in step_groups().values()) == len(STEPS)


@pytest.mark.parametrize("name", ["kites", "winners", "boathouse"])
def test_every_station_fits_the_window_as_it_opens(open_desk: Callable[[Job], Desk], name: str) -> None:
    desk = open_desk(load_demo_job(name))
    desk.settle()
    for station in desk.room.ids:
        desk.station(station)
        desk.settle()
        assert desk.window.size() == QSize(1280, 800)
