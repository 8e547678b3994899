"""Looking for a closer lay in the window: found, taken, undone, stopped; never under the maker's hands."""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from dechirer.core.decide.change import Change
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.demo import load_demo_job
from dechirer.desk.stations.lay import LayStation
from tests.desk.conftest import Desk
from tests.helpers import quick_job

Open = Callable[[Job], Desk]


def lay_of(desk: Desk) -> LayStation:
    desk.station("lay")
    station = desk.room.stations["lay"]
    assert isinstance(station, LayStation)
    return known(desk, station)


def known(desk: Desk, station: LayStation) -> LayStation:
    """Once how near its plan is has been worked out beside the window."""
    desk.settle()
    desk.qtbot.waitUntil(lambda: station.closer._known_now() is not None, timeout=20_000)
    return station


def count(desk: Desk) -> int:
    return sum(layout.repeats for layout in desk.settle().lay.layouts)


def test_a_closer_lay_is_found_taken_and_undone(open_desk: Open) -> None:
    desk = open_desk(load_demo_job("stack"))
    station = lay_of(desk)
    before = count(desk)
    assert "at least" in station.closer.words.text()
    assert "(the pieces take " in station.closer.words.text()
    assert "half a gap round it" in station.closer.words.toolTip()
    desk.click("closer-look")
    assert station.closer.button.text() == "Stop"
    desk.qtbot.waitUntil(lambda: count(desk) < before, timeout=60_000)
    if station.closer.looker.is_busy:
        desk.click("closer-look")
    assert not station.closer.looker.is_busy
    desk.settle()
    assert "saved" in station.closer.words.text()
    assert "less" in desk.room.document.last_edit
    while count(desk) < before:
        desk.room.do("undo")
    assert not desk.settle().job.lay.closer


def test_it_is_begun_once_it_is_known_what_to_look_for(open_desk: Open) -> None:
    desk = open_desk(load_demo_job("gate"))
    station = lay_of(desk)
    station.closer.show_plan(make_plan(desk.settle().job))
    station.closer.button.click()
    assert not station.closer.looker.is_busy
    desk.qtbot.waitUntil(lambda: station.closer.looker.is_busy, timeout=20_000)
    station.closer.button.click()
    assert station.closer.words.text().startswith("Stopped")


def test_where_no_sheet_can_be_saved_it_says_so(open_desk: Open) -> None:
    station = lay_of(open_desk(quick_job("3x3in", fold="flat")))
    assert not station.closer.button.isEnabled()
    assert "No paper can do with fewer" in station.closer.words.text()


def test_it_is_stopped_and_a_job_that_changes_ends_it(open_desk: Open) -> None:
    desk = open_desk(load_demo_job("gate"))
    station = lay_of(desk)
    desk.click("closer-look")
    desk.click("closer-look")
    assert not station.closer.looker.is_busy
    assert station.closer.words.text().startswith("Stopped")
    desk.click("closer-look")
    assert station.closer.looker.asked is not None
    desk.room.document.edit("more", [Change("brief.count", 3)])
    known(desk, station)
    assert not station.closer.looker.is_busy
    assert "job has changed" in station.closer.words.text()
    # Another job altogether, whose papers are others: nothing of the search reaches it (found by soak).
    desk.click("closer-look")
    ask = station.closer.looker.asked
    assert ask is not None
    station.closer._say_moved(msgspec.structs.replace(ask, paper="gone"), 3.2)
    assert "3.20 sheets" in station.closer.words.text()


def test_a_closer_lay_is_looked_for_by_itself_once(open_desk: Open) -> None:
    desk = open_desk(load_demo_job("stack"))
    before = count(desk)
    station = lay_of(desk)
    station.closer.itself.click()
    desk.qtbot.waitUntil(lambda: station.closer.looker.is_busy, timeout=20_000)
    desk.qtbot.waitUntil(lambda: count(desk) < before, timeout=60_000)
    if station.closer.looker.is_busy:
        desk.click("closer-look")
    while count(desk) < before:
        desk.room.do("undo")
    desk.qtbot.wait(2200)
    assert not station.closer.looker.is_busy, "what was taken back is not looked for again"
    station.closer.itself.click()
    assert not station.closer.itself.isChecked()
