"""No number or name lies on a line or on another, in any drawing of any demo, at three sizes of the window."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtWidgets import QApplication

from dechirer.core.job.model import Job
from dechirer.demo import load_demo_job
from dechirer.desk.theme.tokens import SIZES
from dechirer.desk.widgets.picture import Picture
from tests.desk.conftest import Desk
from tests.desk.overlaps import find_overlaps

WINDOWS = ((1024, 720), (1280, 800), (1920, 1080))


@pytest.mark.parametrize("name", ["kites", "lock", "collar", "topper", "winners", "boathouse"])
def test_nothing_lies_on_anything_else(open_desk: Callable[[Job], Desk], name: str) -> None:
    desk = open_desk(load_demo_job(name))
    seen = 0
    for width, height in WINDOWS:
        desk.window.resize(width, height)
        for station in desk.room.ids:
            desk.room.show_station(station)
            desk.settle()
            QApplication.processEvents()
            for view in desk.window.findChildren(Picture):
                if view.isVisible() and view.display is not None:
                    seen += 1
                    assert find_overlaps(view) == [], (width, station, view.objectName())
    assert seen >= 3 * 7


def test_dimension_text_is_large_enough_to_read() -> None:
    assert SIZES["strong"] >= 12
    assert SIZES["small"] >= 12
