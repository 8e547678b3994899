"""Bought blanks in the window: begun from the catalogue, loaded in slots, told apart in the table, tried on a mat."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
import svgelements
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QMenu, QPushButton

from dechirer.core.brief.machine import load_machines
from dechirer.core.job.model import Job
from dechirer.demo import load_demo_job
from dechirer.desk.boxes.copies_box import CopiesBox
from dechirer.desk.boxes.trial_box import TrialBox
from dechirer.desk.panels.mats_panel import MatsPanel
from dechirer.desk.work.recording import Recording
from tests.blanks import blank_job, in_words
from tests.desk.conftest import Desk
from tests.helpers import attached, changed, quick_job


def act(menu: QMenu, *words: str) -> None:
    """Choose what begins with some words, menu after menu."""
    for word in words:
        menu.aboutToShow.emit()
        found = next(each for each in menu.actions() if each.text().startswith(word))
        inner = found.menu()
        if inner is None:
            found.trigger()
        else:
            menu = inner


def test_a_card_is_begun_from_a_blank_of_the_catalogue_and_loaded_in_slots(open_desk: Callable[[Job], Desk]) -> None:
    job = changed(quick_job("6x6in", count=4), brief__machine=load_machines()["heron-12"])
    desk = open_desk(attached(job, "window"))
    act(desk.find("start-from").menu(), "A folded or flat blank", "4 1/4 x 5 1/2 in, side")  # type: ignore[attr-defined]
    plan = desk.settle()
    assert (str(plan.job.brief.width), str(plan.job.brief.height)) == ("4 1/4 in", "5 1/2 in")
    assert plan.whole.pieces[0].blank
    desk.station("lay")
    lay = desk.room.stations["lay"]
    row = next(row for row, layout in enumerate(plan.lay.layouts) if layout.is_blank)
    lay._choose_mat(row)  # type: ignore[attr-defined]
    assert len(desk.find("lay-slots", QLabel).text().splitlines()) == 4  # type: ignore[attr-defined]
    assert not desk.find("trial-cut").isVisible()
    mats = desk.find("mat-kind", QComboBox)
    mats.setCurrentIndex(mats.findData("main"))  # type: ignore[attr-defined]
    mats.activated.emit(mats.currentIndex())  # type: ignore[attr-defined]
    plan = desk.settle()
    assert {layout.sheet.mat.id for layout in plan.lay.layouts} == {"main"}
    desk.room.do("undo")
    assert any(layout.sheet.slots for layout in desk.settle().lay.layouts)


def test_the_corner_is_tried_and_kept_for_the_machine(open_desk: Callable[[Job], Desk], tmp_path: Path) -> None:
    desk = open_desk(in_words(blank_job()))
    desk.station("lay")
    mats = desk.find("mat-kind", QComboBox)
    desk.room.stations["lay"]._choose_mat(len(desk.settle().lay.layouts) - 1)  # type: ignore[attr-defined]
    mats.setCurrentIndex(mats.findData("main"))  # type: ignore[attr-defined]
    mats.activated.emit(mats.currentIndex())  # type: ignore[attr-defined]
    plan = desk.settle()
    row = next(row for row, layout in enumerate(plan.lay.layouts) if layout.is_blank)
    desk.room.stations["lay"]._choose_mat(row)  # type: ignore[attr-defined]
    before = plan.lay.layouts[row].placements[0].box.left
    desk.click("trial-cut")
    box: TrialBox = desk.find("trial-box", TrialBox)  # type: ignore[assignment]
    box.save(tmp_path / "cross.svg")
    drawn = svgelements.SVG.parse(tmp_path / "cross.svg", ppi=25.4)
    assert len(list(drawn.elements(lambda each: isinstance(each, svgelements.Path)))) == 2
    across, down = desk.find("trial-across", QLineEdit), desk.find("trial-down", QLineEdit)
    keep = desk.find("trial-keep", QPushButton)
    desk.qtbot.keyClicks(across, "a hand")
    desk.qtbot.keyClicks(down, "2 3/4")
    assert not keep.isEnabled()
    across.clear()  # type: ignore[attr-defined]
    desk.qtbot.keyClicks(across, "2.165")
    assert keep.isEnabled()
    desk.click("trial-keep")
    plan = desk.settle()
    assert plan.lay.layouts[row].placements[0].box.left == before - round(0.04 * 25.4, 3)
    assert "lay.corner-untried" not in [each.code for each in plan.findings]
    machine = plan.job.brief.machine.name
    desk.qtbot.waitUntil(lambda: Recording().trial(machine, "main") is not None, timeout=10_000)  # read anew


def test_columns_set_papers_pens_and_slots(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(in_words(blank_job()))
    desk.station("dress")
    desk.click("copies")
    box: CopiesBox = desk.find("copies-box", CopiesBox)  # type: ignore[assignment]
    menu = desk.find("copies-column", QPushButton).menu()  # type: ignore[attr-defined]
    act(menu, "What is set", "Paper of the insert")
    act(menu, "What is set", "Slot")
    desk.settle()
    chooser = box.table.cellWidget(0, 2)
    assert isinstance(chooser, QComboBox)
    chooser.setCurrentIndex(chooser.findData(desk.room.document.job.brief.base_paper))
    chooser.activated.emit(chooser.currentIndex())
    box.table.item(0, 3).setText("4")  # type: ignore[union-attr]
    desk.settle()
    (load,) = [each for each in desk.settle().lay.layouts if each.is_blank]
    rows = desk.settle().slots_of(load)
    assert [row.design for row in rows if row.slot == 4] == ["base, Wren"]
    assert "hardly shows" in " ".join(each.title for each in desk.settle().findings)
    desk.qtbot.keyClick(box, Qt.Key.Key_Escape)


def test_mats_are_added_to_the_machine_and_taken_off(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(changed(in_words(blank_job()), brief__machine__mats=()))
    desk.room.do("machine")
    panel: MatsPanel = desk.find("machine-box").mats  # type: ignore[attr-defined]
    panel.add_for(3, 1, "5 x 7 in")
    assert "do not lie beside" in panel.said.text()
    panel.add_for(2, 2, "not a size")
    assert panel.said.text()
    panel.add_for(2, 2, "5 x 7 in")
    plan = desk.settle()
    assert [mat.name for mat in plan.job.brief.machine.mats] == ["mat for 4 cards"]
    assert any(layout.sheet.slots for layout in plan.lay.layouts)
    desk.click("mat-off-cards-4")
    assert desk.settle().job.brief.machine.mats == ()
    desk.find("machine-box").close()


def test_what_is_left_of_a_sheet_is_kept_and_one_that_is_gone_meanwhile_harms_nothing(
    open_desk: Callable[[Job], Desk],
) -> None:
    desk = open_desk(quick_job("3x3in", fold="flat", count=10))
    desk.station("lay")
    menu: QMenu = desk.find("offcuts", QPushButton).menu()  # type: ignore[attr-defined]
    act(menu, "Keep what is left")
    assert len(desk.settle().job.brief.papers[0].offcuts) == 1
    menu.aboutToShow.emit()
    stale = [each for each in menu.actions() if each.text() and not each.text().endswith("…")]
    assert [each.text().split(":")[0] for each in stale] == ["Keep what is left", "Used up"]
    desk.room.document.open_job(load_demo_job("dunes"), None, saved=False)
    papers = desk.room.document.job.brief.papers
    assert "card" not in [paper.id for paper in papers]
    for each in stale:
        each.trigger()
    assert desk.room.document.job.brief.papers == papers
    assert desk.settle().job.brief.papers == papers


def test_sheets_of_another_size_are_told_of_and_taken_off_again(
    open_desk: Callable[[Job], Desk], monkeypatch: pytest.MonkeyPatch
) -> None:
    desk = open_desk(quick_job("3x3in", fold="flat", count=6))
    desk.station("lay")
    said: list[str] = []
    desk.room.document.refused.connect(said.append)
    button = desk.find("offcuts", QPushButton)
    menu: QMenu = button.menu()  # type: ignore[attr-defined]
    for typed_in, expected in (
        ("huge", 0),
        ("12 x 12 in", 0),
        ("90 x 90 in", 0),
        ("8.5 x 11 in", 1),
        ("8.5 x 11 in", 1),
    ):
        monkeypatch.setattr("PyQt6.QtWidgets.QInputDialog.getText", lambda *_, text=typed_in: (text, True))
        act(menu, "Sheets of another size")
        assert len(desk.settle().job.brief.papers[0].other_sheets) == expected
    assert len(said) == 2
    assert "“huge” is no size" in said[0]
    assert "Sheet size" in said[1]
    plan = desk.settle()
    assert plan.lay.layouts[0].sheet.width < 280
    assert button.text() == "1 other size"  # type: ignore[attr-defined]
    act(menu, "No sheets of 8.5 in x 11 in any more")
    assert desk.settle().lay.layouts[0].sheet.width > 300
    assert button.text() == "Offcuts and other sizes"  # type: ignore[attr-defined]
