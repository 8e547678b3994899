"""Press in the window: pages, bleed, print and read, calibration from a scan, tickets that are kept."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from msgspec import structs
from PIL import Image
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication, QComboBox, QDialog

from dechirer.core.decide.change import Change
from dechirer.core.dress.addressed import ADDRESS_SIDE, BLANKS
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan
from dechirer.core.press.calibration import make_calibration_page
from dechirer.core.press.records import Ticket
from dechirer.core.press.station import PAGES, PRESS
from dechirer.demo import load_demo_job
from dechirer.desk.boxes.calibration_box import CalibrationBox
from dechirer.desk.boxes.rehearsal_box import RehearsalBox
from dechirer.desk.stations.dress import DressStation
from dechirer.desk.stations.press import PressStation
from dechirer.desk.work.booking import records_folder
from dechirer.desk.work.recording import Recording, recording
from dechirer.devices.rehearsal import TRIALS
from dechirer.formats.book.store import NAME, Book
from tests.core.test_press_catalogue import card, red, to_the_edge
from tests.desk.conftest import Desk
from tests.helpers import attached, quick_job
from tests.scans import draw_scan

Open = Callable[[Job], Desk]


def press_of(desk: Desk) -> PressStation:
    desk.station("press")
    station = desk.room.stations["press"]
    assert isinstance(station, PressStation)
    return station


def choose(desk: Desk, name: str, data: str) -> Plan:
    box = desk.find(name, QComboBox)
    row = box.findData(data)  # type: ignore[attr-defined]
    box.setCurrentIndex(row)  # type: ignore[attr-defined]
    box.activated.emit(row)  # type: ignore[attr-defined]
    return desk.settle()


def box_of(station: PressStation, kind: type[QDialog]) -> QDialog:
    return next(each for each in station.children() if isinstance(each, kind))


def test_a_card_without_print_says_how_to_come_to_one(open_desk: Open) -> None:
    station = press_of(open_desk(quick_job()))
    assert station.nothing.isVisible()
    assert "In Dress" in station.nothing.text()
    assert not station.rehearse.isEnabled()
    assert not station.calibrate.isEnabled()


def test_the_page_its_names_and_its_figures(open_desk: Open) -> None:
    desk = open_desk(load_demo_job("kites"))
    station = press_of(desk)
    assert station.page_shown is not None
    station.page.element_hovered.emit("mark-1")
    assert station.under.text().startswith("mark 1 of 6")
    station.page.element_hovered.emit("room")
    assert "room to print" in station.under.text()
    station.page.element_hovered.emit("")
    assert "for mat" in station.under.text()
    station.fit.words.linkActivated.emit(desk.settle().part(PRESS).papers[0].budgets.read.typical.key)
    assert desk.room.picked.endswith("fit.read")


def test_bleed_is_chosen_for_one_piece_and_undone(open_desk: Open) -> None:
    desk = open_desk(card(to_the_edge()))
    press_of(desk)
    assert desk.settle().part(PRESS).bleed_of("base") == 2.0
    plan = choose(desk, "press-bleed", "never")
    assert plan.part(PRESS).bleed_of("base") == 0
    assert "press.no-bleed" in [each.code for each in plan.findings]
    desk.room.do("undo")
    assert desk.settle().part(PRESS).bleed_of("base") == 2.0


@pytest.mark.parametrize("trial", list(TRIALS))
def test_print_and_read_tells_how_a_sheet_comes_out(open_desk: Open, trial: str) -> None:
    desk = open_desk(card(to_the_edge()))
    station = press_of(desk)
    desk.click("press-rehearse")
    box = box_of(station, RehearsalBox)
    assert isinstance(box, RehearsalBox)
    desk.qtbot.waitUntil(lambda: not box.beside.is_busy, timeout=10_000)
    box.trial.setCurrentIndex(box.trial.findData(trial))
    box.trial.activated.emit(box.trial.currentIndex())
    desk.qtbot.waitUntil(lambda: not box.beside.is_busy, timeout=10_000)
    said = box.said.text()
    refused = {"covered": "covered", "turned": "turned by half", "wrong": "another page"}
    if trial in refused:
        assert refused[trial] in said
        assert "Nothing is cut" in said
    else:
        assert "mm apart" in said or "refuses" in said
    if trial == "":
        first = said
        desk.qtbot.mouseClick(box.again, Qt.MouseButton.LeftButton)
        desk.qtbot.waitUntil(lambda: not box.beside.is_busy, timeout=10_000)
        assert box.said.text() != first
        picture = box.picture.grab().toImage()
        assert picture.pixelColor(picture.width() // 2, picture.height() // 2).lightness() > 40
    box.reject()


def test_a_scan_that_is_dropped_is_measured_and_used(open_desk: Open, tmp_path: Path) -> None:
    desk = open_desk(card(red()))
    station = press_of(desk)
    plan = desk.settle()
    before = plan.part(PRESS).papers[0].budgets.read.mm
    page = make_calibration_page(plan.part(PRESS).papers[0].sheet)
    grey, _ = draw_scan(page, ppi=150)
    path = tmp_path / "scan.png"
    Image.fromarray(grey).save(path, dpi=(150, 150))
    desk.click("press-calibrate")
    box = box_of(station, CalibrationBox)
    assert isinstance(box, CalibrationBox)
    assert not box.take.isEnabled()
    box.measure([tmp_path / "nothing.png"])
    desk.qtbot.waitUntil(lambda: not box.beside.is_busy, timeout=10_000)
    assert "No such file" in box.said.text()
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    action, left, none = Qt.DropAction.CopyAction, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    box.dropEvent(QDropEvent(QPointF(20, 20), action, data, left, none))
    desk.qtbot.waitUntil(lambda: not box.beside.is_busy, timeout=10_000)
    assert "crosses" in box.said.text()
    desk.qtbot.mouseClick(box.take, Qt.MouseButton.LeftButton)
    plan = desk.settle()
    (kept,) = plan.job.press.calibrations
    assert kept.right == pytest.approx(0.35, abs=0.02)
    assert plan.part(PRESS).papers[0].budgets.read.mm > before
    assert "press.never-calibrated" not in [each.code for each in plan.findings]
    recording.wait()
    assert Book(records_folder() / NAME).entries() == (kept,)
    desk.room.do("undo")
    assert not desk.settle().job.press.calibrations
    # What was measured is offered in another job of the same paper, printer and machine.
    other = open_desk(card(to_the_edge()))
    station = press_of(other)
    other.click("press-calibrate")
    box = box_of(station, CalibrationBox)
    assert isinstance(box, CalibrationBox)
    assert kept.made in box.use_earlier.text()
    other.qtbot.mouseClick(box.use_earlier, Qt.MouseButton.LeftButton)
    assert other.settle().job.press.calibrations == (kept,)


def test_the_calibration_page_is_written_and_numbers_can_be_typed(open_desk: Open, tmp_path: Path) -> None:
    desk = open_desk(card(red()))
    station = press_of(desk)
    desk.click("press-calibrate")
    box = box_of(station, CalibrationBox)
    assert isinstance(box, CalibrationBox)
    box.write(tmp_path)
    assert sorted(path.name for path in tmp_path.glob("calibration*")) == [
        "calibration-card.pdf",
        "calibration-card.svg",
    ]
    box.write(tmp_path / "calibration-card.pdf")
    assert "calibration-card.pdf" in box.said.text()
    box.typed["right"].setValue(0.4)
    box.typed["spread"].setValue(0.1)
    desk.qtbot.mouseClick(box.use_typed, Qt.MouseButton.LeftButton)
    (kept,) = desk.settle().job.press.calibrations
    assert (kept.right, kept.spread, kept.how) == (0.4, 0.1, "typed")
    assert "Measured on" in station.fit.words.text()


def test_a_ticket_is_kept_and_offered_the_next_time(open_desk: Open) -> None:
    desk = open_desk(card(red()))
    station = press_of(desk)
    assert station.ticket.again.isHidden()
    plan = choose(desk, "ticket-paper_type", "plain")
    plan = choose(desk, "ticket-feed", "rear")
    ticket = plan.job.press.ticket_of("card", plan.job.brief.printer.name)
    assert (ticket.paper_type, ticket.feed) == ("plain", "rear")
    assert len(plan.job.press.tickets) == 1
    assert "Plain paper" in station.ticket.why.text()
    recording.wait()
    other = open_desk(card(to_the_edge()))
    station = press_of(other)
    assert "plain paper, best, the rear" in station.ticket.again.text()
    other.qtbot.mouseClick(station.ticket.again, Qt.MouseButton.LeftButton)
    assert other.settle().job.press.ticket_of("card", plan.job.brief.printer.name).feed == "rear"


def test_the_cost_of_other_pages_stands_beside_the_choice(open_desk: Open) -> None:
    desk = open_desk(load_demo_job("kites"))
    station = press_of(desk)
    # Four invitations and four huts on one sheet, or on eight; two minutes a page, from the printer's profile.
    assert station.cost.text() == "1 sheet, about 2 min at the printer. One to a page: 8 sheets, 16 min."
    plan = choose_value(desk, "some")
    assert plan.part(PAGES).count.value == 8
    assert station.cost.text() == "8 sheets, about 16 min at the printer."


def choose_value(desk: Desk, to_a_page: str) -> Plan:
    desk.room.document.edit("pages", [Change("press.to_a_page", to_a_page)])
    return desk.settle()


def test_pages_come_and_go_with_what_is_printed(open_desk: Open) -> None:
    """The consequences line has a figure more while something is printed."""
    desk = open_desk(card(red(), count=3))
    press_of(desk)
    assert desk.settle().part(PAGES).count.value == 3
    before = len([each for each in desk.window.consequences._buttons if not each.isHidden()])
    desk.room.document.edit("guide", [Change("dress.items.red.made", "guide")])
    assert not desk.settle().part(PAGES).pages
    QApplication.processEvents()
    after = len([each for each in desk.window.consequences._buttons if not each.isHidden()])
    assert after == before - 1
    desk.room.do("undo")
    desk.settle()
    assert len([each for each in desk.window.consequences._buttons if not each.isHidden()]) == before


def test_the_run_counts_printing_and_drying(open_desk: Open) -> None:
    desk = open_desk(card(red(), count=4))
    plan = desk.settle()
    parts = {each.key: each.value for each in plan.run.minutes.inputs}
    pages, printer = plan.part(PAGES).count.value, plan.job.brief.printer
    assert parts["run.printing"] == pages * printer.page_minutes
    assert parts["run.drying"] == plan.job.press.dry_minutes
    desk.room.document.edit("film", [Change("press.film", "clear")])
    parts = {each.key: each.value for each in desk.settle().run.minutes.inputs}
    assert parts["run.film"] == pages * 1.5


def test_an_envelope_is_addressed_by_a_button_that_is_there_only_on_it(open_desk: Open) -> None:
    desk = open_desk(attached(quick_job("5x7in"), "envelope"))
    desk.station("dress")
    station = desk.room.stations["dress"]
    assert isinstance(station, DressStation)
    assert desk.find("add-address").isHidden()
    station.show_face(ADDRESS_SIDE)
    desk.settle()
    assert not desk.find("add-address").isHidden()
    desk.click("add-address")
    plan = desk.settle()
    assert [each.id for each in plan.job.dress.items] == ["sender", "address"]
    assert plan.job.dress.copies.words == BLANKS
    desk.room.do("undo")
    assert not desk.settle().job.dress.items


def test_what_was_kept_twice_is_what_was_kept_last_written_or_not() -> None:
    """A ticket has one id for its paper and printer: the first of two must not come back for the second."""
    own = Recording()
    first = Ticket("ticket-1", "2026-05-02", "card", "Siskin", feed="tray")
    second = structs.replace(first, feed="rear")
    for each in (first, second):
        own.keep(each)
        assert own.ticket("card", "Siskin") == each
    own.wait()
    assert own.ticket("card", "Siskin") == second
    assert Recording().ticket("card", "Siskin") == second
