"""Fold in the window: the film, the steps, adhesives, the kit list, the schedule, and what is refused."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QListWidget, QPushButton, QSlider, QTableWidget

from dechirer.core.job.model import Job
from dechirer.demo import load_demo_job
from dechirer.desk.stations.fold import FILM, FoldStation
from tests.desk.conftest import Desk
from tests.dressing import dressed, item
from tests.helpers import quick_job

Open = Callable[[Job], Desk]
PAPER = {"paper": "liner-paper"}


def at_fold(desk: Desk) -> FoldStation:
    desk.station("fold")
    desk.settle()
    found = desk.room.stations["fold"]
    assert isinstance(found, FoldStation)
    return found


def test_the_film_runs_from_floating_parts_to_the_closed_card(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in", liner="1/16"))
    station = at_fold(desk)
    steps = desk.find("making-steps", QListWidget)
    assert isinstance(steps, QListWidget)
    film = desk.find("making-film", QSlider)
    assert isinstance(film, QSlider)
    assert film.maximum() == steps.count() * FILM
    film.setValue(0)
    assert steps.currentRow() == 0
    apart = station.view._folded
    assert apart is not None
    assert apart.closed == 0.0
    liner = [slab for slab in apart.model.slabs if slab.piece == "liner"]
    assert max(slab.top for slab in liner) < -5.0  # it floats under the card's inside
    film.setValue(film.maximum())
    done = station.view._folded
    assert done is not None
    assert done.closed == 1.0
    assert min(slab.bottom for slab in done.model.slabs if slab.piece == "liner") > -1.0
    assert steps.currentRow() == steps.count() - 1


def test_a_step_shows_its_glue_and_what_sticks_it_can_be_changed(open_desk: Open) -> None:
    desk = open_desk(dressed(item(width="40 mm", **PAPER)))
    station = at_fold(desk)
    row = next(n for n, step in enumerate(desk.settle().making_up.steps) if step.joint == "thing")
    station.steps.setCurrentRow(row)
    assert station.joint_view.isVisibleTo(station)
    words = desk.find("joint-told", QLabel)
    assert isinstance(words, QLabel)
    assert "11.6 cm² takes it, of 16.0." in words.text()
    by = desk.find("joint-by", QComboBox)
    assert isinstance(by, QComboBox)
    by.setCurrentIndex(by.findData("spray"))
    by.activated.emit(by.currentIndex())
    plan = desk.settle()
    joint = plan.making_up.joint("thing")
    assert joint is not None
    assert (joint.adhesive, joint.chosen) == ("spray", True)
    why = desk.find("making-why", QLabel)
    assert isinstance(why, QLabel)
    assert "outdoors" in why.text()
    desk.room.do("undo")
    assert desk.settle().making_up.joint("thing").adhesive == "wet"  # type: ignore[union-attr]


def test_steps_are_moved_left_out_and_put_back(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in", liner="1/16"))
    station = at_fold(desk)
    ids = [step.id for step in desk.settle().making_up.steps]
    last_glue = max(n for n, id in enumerate(ids) if id.startswith("glue"))
    station.steps.setCurrentRow(last_glue)
    desk.click("step-later")
    plan = desk.settle()
    assert plan.verdict("fold") == "stop"  # the fold hides where it goes
    assert station.steps.currentRow() == last_glue + 1
    desk.click("steps-proposed")
    assert desk.settle().verdict("fold") != "stop"
    station.steps.setCurrentRow(ids.index("glue-liner-on-back"))
    desk.click("step-leave")
    plan = desk.settle()
    assert "glue-liner-on-back" not in {step.id for step in plan.making_up.steps}
    assert plan.verdict("fold") == "stop"
    back = desk.find("steps-proposed", QPushButton)
    assert isinstance(back, QPushButton)
    assert back.isVisibleTo(station)


def test_what_is_there_is_typed_into_the_kit_list(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in", count=4, liner="1/16"))
    at_fold(desk)
    desk.click("making-tab-kit")
    kit = desk.find("kit-list", QTableWidget)
    assert isinstance(kit, QTableWidget)
    row = next(n for n in range(kit.rowCount()) if kit.item(n, 0).text().startswith("envelope"))  # type: ignore[union-attr]
    kit.item(row, 4).setText("3")  # type: ignore[union-attr]
    plan = desk.settle()
    assert next(each.there for each in plan.making_up.kit if each.id == "envelope") == 3
    assert "fold.lacking" in {each.code for each in plan.findings}
    kit.item(row, 4).setText("plenty")  # type: ignore[union-attr]
    assert next(each.there for each in desk.settle().making_up.kit if each.id == "envelope") == 3
    kit.item(row, 4).setText("")  # type: ignore[union-attr]
    assert next(each.there for each in desk.settle().making_up.kit if each.id == "envelope") is None


def test_days_hands_and_trinkets_are_typed(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in", count=6, liner="1/16"))
    station = at_fold(desk)
    desk.click("making-tab-ways")
    due = desk.find("line-brief.due", QLineEdit)
    assert isinstance(due, QLineEdit)
    due.setText("2026-05-02")
    due.editingFinished.emit()
    assert desk.settle().making_up.schedule.start_by == "2026-05-01"
    assert "begin by 2026-05-01" in station.time_words.text()
    due.setText("soon")
    due.editingFinished.emit()
    desk.settle()
    assert desk.room.document.job.brief.due == "2026-05-02"
    desk.click("add-trinket")
    plan = desk.settle()
    assert [each.name for each in plan.job.fold.trinkets] == ["gems"]
    assert any(step.stage == "put on" for step in plan.making_up.steps)
    desk.click("trinket-off-gem-1")
    assert desk.settle().job.fold.trinkets == ()


@pytest.mark.parametrize("demo", ["lock", "dunes", "prize"])
def test_every_step_of_a_demo_can_be_looked_at(open_desk: Open, demo: str) -> None:
    desk = open_desk(load_demo_job(demo))
    station = at_fold(desk)
    for row in range(station.steps.count()):
        station.steps.setCurrentRow(row)
        assert station.view.display is not None
        assert station.words.text()
    for tab in ("kit", "time", "bulk", "ways", "step"):
        desk.click(f"making-tab-{tab}")


def test_a_finding_leads_to_its_step(open_desk: Open) -> None:
    desk = open_desk(dressed(item(width="40 mm", face="inside right", foam="3 mm", **PAPER)))
    station = at_fold(desk)
    finding = next(each for each in desk.settle().findings if each.code == "fold.foam-inside")
    desk.room.go_to_finding(finding) if hasattr(desk.room, "go_to_finding") else station.point_at(finding.element)
    step = station.step_shown
    assert step is not None
    assert step.joint == "thing"
