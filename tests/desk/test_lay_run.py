"""Lay and Run in the window: sheets, faces, margins, tools, and long lists of mats."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit
from pytestqt.qtbot import QtBot

from dechirer.core.card.tools import TOOLS
from dechirer.core.job.model import Job
from dechirer.core.lay.decisions import Pin
from dechirer.core.plan import Plan
from dechirer.desk.stations.lay import LayStation
from dechirer.desk.stations.run import RunStation
from dechirer.desk.widgets.mat_list import MatList
from tests.desk.conftest import Desk
from tests.helpers import changed, codes, quick_job


def type_line(desk: Desk, name: str, text: str) -> None:
    line = desk.find(name, QLineEdit)
    line.setFocus()
    line.selectAll()  # type: ignore[attr-defined]
    desk.qtbot.keyClick(line, Qt.Key.Key_Delete)
    desk.qtbot.keyClicks(line, text)
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)


def choose(desk: Desk, name: str, row: int) -> None:
    box = desk.find(name, QComboBox)
    box.setCurrentIndex(row)  # type: ignore[attr-defined]
    box.activated.emit(row)  # type: ignore[attr-defined]


def test_turning_a_paper_over_turns_its_pieces_and_says_so(desk: Desk) -> None:
    desk.station("lay")
    choose(desk, "face", 2)
    plan = desk.settle()
    assert [layout.face for layout in plan.lay.layouts] == ["inside-up", "outside-up"]
    lay = desk.room.stations["lay"]
    assert isinstance(lay, LayStation)
    assert "inside up" in lay.under.text()
    display = desk.view("lay-mat").display
    assert display is not None
    assert "valley" in [getattr(item, "form", "") for item in display.items]


def test_margin_and_spacing_are_typed_and_refused(desk: Desk) -> None:
    desk.station("lay")
    type_line(desk, "line-lay.margin", "1/2")
    assert desk.settle().lay.layouts[0].placements[0].box.left == pytest.approx(12.7)
    type_line(desk, "line-lay.margin", "-1")
    assert "from 0 in" in desk.words("complaint-lay.margin")
    assert str(desk.room.document.job.lay.margin) == "1/2 in"
    type_line(desk, "line-lay.spacing", "5 mm")
    assert desk.settle().job.lay.spacing.mm == 5


def test_a_sheet_set_at_the_machine_is_compared_with_the_paper(desk: Desk) -> None:
    desk.station("lay")
    type_line(desk, "line-sheet-set", "8.5 x 11 in")
    assert "lay.sheet-differs" in codes(desk.settle())
    type_line(desk, "line-sheet-set", "")
    assert "lay.sheet-differs" not in codes(desk.settle())


def test_turning_may_be_forbidden(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("2x5in", fold="flat", count=40))
    desk.station("lay")
    before = desk.settle().lay.mats.value
    desk.find("switch-lay.may_turn", QCheckBox).click()  # type: ignore[attr-defined]
    plan = desk.settle()
    assert not any(placed.turned for layout in plan.lay.layouts for placed in layout.placements)
    assert plan.lay.mats.value >= before


def test_a_mat_is_chosen_from_the_list_and_stays_chosen(desk: Desk) -> None:
    desk.station("lay")
    mats = desk.find("lay-mats", MatList)
    assert isinstance(mats, MatList)
    mats.setCurrentIndex(mats.rows.index(1))
    lay = desk.room.stations["lay"]
    assert isinstance(lay, LayStation)
    assert lay.title.text() == "Mat 2"
    desk.room.document.type_field("brief.count", "9")
    desk.settle()
    assert lay.title.text() == "Mat 2"
    assert "Mat 2 × 9" in str(mats.rows.data(mats.rows.index(1), Qt.ItemDataRole.AccessibleTextRole))


def test_a_long_list_of_mats_costs_no_more_than_a_short_one(qtbot: QtBot, demo_plan: Plan) -> None:
    mats = MatList("long", with_picture=False)
    qtbot.addWidget(mats)
    mats.resize(240, 300)
    mats.show()
    chosen: list[int] = []
    mats.chosen.connect(chosen.append)
    lines = [(f"Mat {number} × 1", "sea grey", "score, cut") for number in range(5000)]
    mats.show_mats(demo_plan, lines, 0)
    assert mats.rows.rowCount() == 5000
    mats.setCurrentIndex(mats.rows.index(4321))
    assert chosen[-1] == 4321
    assert not mats.grab().isNull()
    mats.show_mats(demo_plan, lines, 4321)  # the same list again: nothing moves
    assert mats.currentIndex().row() == 4321


def test_pins_that_overlap_after_a_change_are_mended_from_the_list(open_desk: Callable[[Job], Desk]) -> None:
    pins = (Pin("card", 0, "base", 10.0, 10.0), Pin("card", 0, "base", 90.0, 10.0))
    desk = open_desk(changed(quick_job("3x3in", fold="flat", count=2), lay__pins=pins))
    desk.room.document.type_field("brief.width", "4")
    plan = desk.settle()
    found = next(each for each in plan.findings if each.code == "lay.pieces-overlap")
    desk.room.show_finding(found)
    assert desk.room.station == "lay"
    desk.find("mend-lay.pieces-overlap-0").click()  # type: ignore[attr-defined]
    assert not desk.settle().job.lay.pins


@pytest.mark.parametrize("tool", list(TOOLS))
def test_every_tool_can_be_owned_and_given_away(desk: Desk, tool: str) -> None:
    desk.station("run")
    owned = tool in desk.room.document.job.run.tools
    desk.find(f"tool-{tool}", QCheckBox).click()  # type: ignore[attr-defined]
    assert (tool in desk.settle().job.run.tools) is not owned
    desk.click("button-undo")
    assert (tool in desk.settle().job.run.tools) is owned
    assert desk.find(f"tool-{tool}").isChecked() is owned  # type: ignore[attr-defined]


def test_scoring_with_a_wheel_costs_changes_and_shows_in_the_table(desk: Desk) -> None:
    desk.station("run")
    desk.find("tool-creasing-wheel", QCheckBox).click()  # type: ignore[attr-defined]
    desk.settle()
    choose(desk, "choice-run.score_with", 2)
    plan = desk.settle()
    assert plan.run.changes.value == 2 * 24 - 1
    assert "Single creasing wheel, driven holder" in desk.find("passes").accessibleName()
    type_line(desk, "line-run.score_passes", "2")
    assert "2 ×" in desk.find("passes").accessibleName() or desk.settle().run.mats[0].passes[0].times == 2
    type_line(desk, "line-run.score_passes", "9")
    assert "from 1 to 4" in desk.words("complaint-run.score_passes")


def test_playing_stops_when_another_mat_is_chosen(desk: Desk) -> None:
    desk.station("run")
    run = desk.room.stations["run"]
    assert isinstance(run, RunStation)
    desk.click("play")
    assert run.play.text() == "Stop"
    run.mats.setCurrentIndex(run.mats.rows.index(1))
    assert run.play.text() == "Play"
    assert run.title.text() == "Mat 2"
    desk.click("play")
    desk.click("play")
    assert not run._timer.isActive()


def test_a_spoiled_piece_is_cut_again_and_the_whole_job_after_that(desk: Desk) -> None:
    desk.station("lay")
    lay = desk.room.stations["lay"]
    assert isinstance(lay, LayStation)
    before = len(desk.settle().lay.layouts)
    assert not desk.find("spoiled").isEnabled()
    layout = lay.layout_shown
    assert layout is not None
    lay._pick_piece(layout.placements[0].id)
    assert desk.find("spoiled").isEnabled()
    desk.click("spoiled")
    plan = desk.settle()
    assert [each.count for each in plan.job.lay.recut] == [1]
    assert sum(each.repeats for each in plan.lay.layouts) == 1
    assert "lay.recut" in codes(plan)
    desk.room.do("undo")
    assert len(desk.settle().lay.layouts) == before
