"""Work that takes long can be stopped, and says what it is at and what could be done instead."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest

from dechirer.core import stopping
from dechirer.core.job.model import Job
from dechirer.core.plan import PlanCancelled, Planner
from dechirer.desk.work.exporting import STOPPED, ExportWorker
from dechirer.formats.art.read import read_art
from tests.desk.conftest import Desk
from tests.dressing import art, dressed, item, step

KITE = art("M 10 0 L 20 12 L 10 30 L 0 12 Z", width=20.0, height=30.0)


def heavy(made: str = "window", count: int = 60) -> Job:
    """Two steps of 60 repeats: 3,600 kites that cross each other."""
    steps = (step("repeat", id="one", count=count, by="6 mm"), step("repeat", id="two", count=count, by="20 mm"))
    return dressed(item(made=made, width="1 mm", steps=steps), arts=(KITE,))


@pytest.mark.parametrize("made", ["window", "pen", "piece"])
@pytest.mark.parametrize("after", [40, 400])
def test_a_heavy_plan_stops_when_it_is_told(made: str, after: int) -> None:
    """How soon that is, `python -m bench.stops` measures; here, that the work asks often and goes no further."""
    asked = 0

    def cancelled() -> bool:
        nonlocal asked
        asked += 1
        return asked > after

    told: list[tuple[str, str | None]] = []
    with pytest.raises(PlanCancelled):
        Planner().plan(heavy(made), cancelled=cancelled, doing=lambda what, of: told.append((what, of)))
    assert asked == after + 1
    assert ("its step “repeat”", None) in told


def test_a_checkpoint_outside_of_work_that_may_be_stopped_does_nothing() -> None:
    stopping.checkpoint("anything")
    with stopping.may_be_stopped(lambda: True):
        with pytest.raises(stopping.Stopped):
            stopping.checkpoint()
        with stopping.may_be_stopped(lambda: False):
            stopping.checkpoint()
        with pytest.raises(stopping.Stopped):
            stopping.checkpoint()
    stopping.checkpoint()


def test_stop_keeps_the_plan_of_before_and_offers_ways_out(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(heavy(count=3))
    before = desk.room.document.plan
    for number in ("one", "two"):
        desk.room.document.type_field(f"dress.items.thing.steps.{number}.count", "90")
    desk.qtbot.waitUntil(lambda: bool(desk.window.banners.text("slow")), timeout=10_000)
    assert "Working out the last edit" in desk.window.banners.text("slow")
    desk.qtbot.waitUntil(lambda: "thing" in desk.window.banners.text("slow"), timeout=20_000)
    desk.click("banner-slow-0")
    assert not desk.window.banners.text("slow")
    assert "plan of before" in desk.window.banners.text("stopped")
    assert desk.room.document.plan is before
    assert desk.room.document.is_stopped
    desk.click("banner-stopped-2")  # only draw it
    assert desk.settle().job.dress.items[0].made == "guide"
    assert not desk.window.banners.text("stopped")


def test_what_was_stopped_can_be_worked_out_after_all_or_undone(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(heavy(count=3))
    document = desk.room.document
    document.type_field("brief.count", "7")
    document.stop()
    assert not document.is_current
    document.resume()
    assert desk.settle().job.brief.count == 7
    document.type_field("brief.count", "8")
    document.stop()
    document.undo()
    assert desk.settle().job.brief.count == 7
    assert not document.is_stopped


def test_reading_art_stops_when_it_is_told() -> None:
    shapes = "".join(f'<rect x="{n % 90}" y="{n // 90}" width="0.5" height="0.5"/>' for n in range(3000))
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" width="99mm" height="99mm" viewBox="0 0 99 99">{shapes}</svg>'
    asked = 0

    def cancelled() -> bool:
        nonlocal asked
        asked += 1
        return asked > 3

    with stopping.may_be_stopped(cancelled), pytest.raises(stopping.Stopped):
        read_art(svg.encode(), "many.svg", set())
    assert asked == 4


def test_an_export_stops_while_its_plan_is_audited(open_desk: Callable[[Job], Desk], tmp_path: Path) -> None:
    desk = open_desk(heavy(count=12))
    plan = desk.settle()
    worker = ExportWorker(plan, tmp_path / "out")
    worker.stop()
    with desk.qtbot.waitSignal(worker.ended, timeout=10_000) as ended:
        worker.start()
    assert ended.args == [0, STOPPED]
    worker.wait()
    assert not list((tmp_path / "out").glob("*"))
