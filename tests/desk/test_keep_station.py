"""The book in the window: runs write themselves into it, it is looked through, and a job learns from it, undoably."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from msgspec import structs
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QLineEdit, QListWidget, QTableWidget

from dechirer.core.job.model import Job
from dechirer.core.keep.entries import MadeUp, Note, Recipient, RunDone, Spoilt, StockMoved
from dechirer.core.press.records import Calibration
from dechirer.desk.boxes.machine_view import MachineView
from dechirer.desk.boxes.table_view import TableView
from dechirer.desk.panels.entries_panel import MOST_SHOWN
from dechirer.desk.stations.fold import FoldStation
from dechirer.desk.stations.keep import KeepStation
from dechirer.desk.work.booking import booking
from dechirer.devices.seasons import write_seasons
from dechirer.formats.book.schema import BookError
from dechirer.formats.book.store import Book
from tests.desk.conftest import Desk
from tests.helpers import quick_job

Open = Callable[[Job], Desk]


def at_keep(desk: Desk) -> KeepStation:
    desk.station("keep")
    desk.settle()
    station = desk.room.stations["keep"]
    assert isinstance(station, KeepStation)
    desk.qtbot.waitUntil(lambda: not station.beside.is_busy, timeout=20_000)
    return station


def with_seasons() -> None:
    booking.keep(write_seasons(7, runs=12))
    booking.wait()


def test_a_run_at_the_machine_writes_itself_into_the_book_once(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in", count=2))
    desk.station("run")
    desk.settle()
    box = desk.room.stations["run"].open_box("machine-view")
    assert isinstance(box, MachineView)
    box.spoiled("a corner caught")
    while not box.is_over:
        box.go_on()
    booking.wait()
    (run,) = booking.entries("rundone")
    assert isinstance(run, RunDone)
    assert run.cards == 2
    (spoilt,) = booking.entries("spoilt")
    assert isinstance(spoilt, Spoilt)
    assert spoilt.cause == "a corner caught"
    assert any(isinstance(each, StockMoved) and each.change < 0 for each in booking.entries("stockmoved"))
    desk.qtbot.waitUntil(lambda: "stands in the book" in box.more.text())
    box.go_back()
    box.go_on()
    booking.wait()
    assert len(booking.entries("rundone")) == 1
    assert "stands in the book" in box.more.text()
    box.close()


def test_a_run_that_could_not_be_written_is_said_to_be_and_is_written_once_it_can(
    open_desk: Open, monkeypatch: pytest.MonkeyPatch
) -> None:
    desk = open_desk(quick_job("5x7in", count=2))
    desk.station("run")
    desk.settle()

    def full(*_: object) -> int:
        raise BookError("book.sqlite could not be written: database or disk is full")

    with monkeypatch.context() as broken:
        broken.setattr(Book, "keep", full)
        box = desk.room.stations["run"].open_box("machine-view")
        assert isinstance(box, MachineView)
        while not box.is_over:
            box.go_on()
        desk.qtbot.waitUntil(lambda: "disk is full" in box.more.text())
        assert not box.progress.booked
        box.close()
    again = desk.room.stations["run"].open_box("machine-view")
    assert isinstance(again, MachineView)
    desk.qtbot.waitUntil(lambda: "stands in the book" in again.more.text())
    assert again.progress.booked
    assert len(booking.entries("rundone")) == 1
    assert not booking.words
    again.close()


def test_cards_made_up_at_the_table_write_themselves_too_and_go_on_where_they_were(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in", count=2, liner="1/16"))
    desk.station("fold")
    desk.settle()
    station = desk.room.stations["fold"]
    assert isinstance(station, FoldStation)
    box = station.open_box("table-view")
    assert isinstance(box, TableView)
    box.go_on()
    box.close()
    again = station.open_box("table-view")
    assert isinstance(again, TableView)
    assert again.progress.step == 1
    while not again.is_over:
        again.go_on()
    booking.wait()
    (made,) = booking.entries("madeup")
    assert isinstance(made, MadeUp)
    assert made.cards == 2
    again.close()


def test_a_job_takes_over_what_the_book_knows_and_can_leave_some_out(open_desk: Open) -> None:
    with_seasons()
    desk = open_desk(quick_job("5x7in", count=30, liner="1/16"))
    before = desk.settle().run.minutes.value
    station = at_keep(desk)
    assert station.take.isEnabled()
    desk.click("keep-learn")
    plan = desk.settle()
    assert plan.run.minutes.value != pytest.approx(before)
    assert {"time.cut", "spoiled"} <= {each.key for each in plan.job.keep.learned}
    desk.qtbot.waitUntil(lambda: not station.take.isEnabled() and not station.beside.is_busy, timeout=20_000)
    values = desk.find("keep-values", QTableWidget)
    assert isinstance(values, QTableWidget)
    row = next(n for n in range(values.rowCount()) if values.item(n, 0).data(Qt.ItemDataRole.UserRole) == "time.cut")  # type: ignore[union-attr]
    values.item(row, 0).setCheckState(Qt.CheckState.Unchecked)  # type: ignore[union-attr]
    assert desk.settle().job.keep.off == ("time.cut",)
    desk.room.do("undo")
    desk.room.do("undo")
    assert desk.settle().run.minutes.value == pytest.approx(before)


def test_calibrations_of_the_jobs_papers_are_taken_over_in_one_step_with_what_was_learned(open_desk: Open) -> None:
    job = quick_job("5x7in", count=4)
    paper, brief = job.brief.papers[0].name, job.brief
    names = (brief.printer.name, brief.machine.name)
    own = Calibration("page-1", "2026-05-02", paper, *names, "marks", right=0.4, down=-0.2, places=9)
    booking.keep([own, structs.replace(own, id="page-2", paper="another"), structs.replace(own, id="p3", printer="x")])
    booking.wait()
    desk = open_desk(job)
    station = at_keep(desk)
    assert f"Print beside its cut on {paper}: +0.40 mm across, -0.20 mm down" in station.facts.text()
    desk.click("keep-learn")
    made = desk.settle().job
    assert made.press.calibrations == (own,)
    key = f"print.{paper}.{names[0]}.marks.right"
    value = next(each for each in made.keep.learned if each.key == key)
    assert 0.3 < value.value < 0.4  # one page moves most of the way
    assert value.low < 0.4 < value.high
    desk.room.do("undo")
    assert desk.settle().job == job


def test_the_book_is_searched_a_note_is_kept_and_taken_out(open_desk: Open) -> None:
    with_seasons()
    desk = open_desk(quick_job("5x7in"))
    station = at_keep(desk)
    search, entries = desk.find("book-search", QLineEdit), desk.find("book-entries", QListWidget)
    assert isinstance(search, QLineEdit)
    assert isinstance(entries, QListWidget)
    everything = entries.count()
    search.setText("film roller")
    desk.qtbot.waitUntil(lambda: entries.count() == 1, timeout=20_000)
    entries.setCurrentRow(0)
    detail = desk.find("book-detail", QLabel)
    assert isinstance(detail, QLabel)
    assert "the roller skids" in detail.text()
    search.clear()
    note = desk.find("book-note", QLineEdit)
    assert isinstance(note, QLineEdit)
    note.setText("it rained")
    note.returnPressed.emit()
    desk.qtbot.waitUntil(lambda: entries.count() == everything + 1, timeout=20_000)
    assert any(isinstance(each, Note) and each.words == "it rained" for each in booking.entries("note"))
    search.setText("rained")
    desk.qtbot.waitUntil(lambda: entries.count() == 1, timeout=20_000)
    entries.setCurrentRow(0)
    desk.click("book-drop")
    desk.qtbot.waitUntil(lambda: not station.beside.is_busy and entries.count() == 0, timeout=20_000)


def test_stock_is_counted_and_what_is_lacking_is_said(open_desk: Open) -> None:
    job = quick_job("5x7in", count=40)
    desk = open_desk(job)
    station = at_keep(desk)
    desk.click("keep-tab-stock")
    stock = desk.find("book-stock", QTableWidget)
    assert isinstance(stock, QTableWidget)
    paper = job.brief.papers[0].name
    row = next(n for n in range(stock.rowCount()) if stock.item(n, 0).text() == paper)  # type: ignore[union-attr]
    stock.item(row, 1).setText("25")  # type: ignore[union-attr]
    desk.qtbot.waitUntil(lambda: not station.beside.is_busy and "Lacking" in station.facts.text(), timeout=20_000)
    assert f"{paper} (15)" in station.facts.text()
    rate = desk.find("line-keep.rate", QLineEdit)
    assert isinstance(rate, QLineEdit)
    rate.setText("12")
    rate.editingFinished.emit()
    assert desk.settle().job.keep.rate == 12
    desk.qtbot.waitUntil(lambda: "a card" in station.facts.text(), timeout=20_000)
    row = next(n for n in range(stock.rowCount()) if stock.item(n, 0).text() == paper)  # type: ignore[union-attr]
    stock.item(row, 4).setText("0.5")  # type: ignore[union-attr]
    desk.qtbot.waitUntil(lambda: "(20.00 of it for materials)" in station.facts.text(), timeout=20_000)
    row = next(n for n in range(stock.rowCount()) if stock.item(n, 0).text() == paper)  # type: ignore[union-attr]
    assert stock.item(row, 3).text() == "15"  # type: ignore[union-attr]
    stock.item(row, 1).setText("lots")  # type: ignore[union-attr]
    booking.wait()
    assert len(booking.entries("stockmoved")) == 2


def test_recipients_are_ticked_off(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in", count=3))
    at_keep(desk)
    desk.click("keep-tab-people")
    table = desk.find("recipients", QTableWidget)
    assert isinstance(table, QTableWidget)
    assert table.rowCount() == 3
    table.item(1, 3).setCheckState(Qt.CheckState.Checked)  # type: ignore[union-attr]
    booking.wait()
    (kept,) = booking.entries("recipient")
    assert isinstance(kept, Recipient)
    assert kept.is_posted
    assert not kept.is_made
    told = desk.find("recipients-told", QLabel)
    assert isinstance(told, QLabel)
    assert told.text().startswith("1 of 3 posted")


def test_plots_show_the_entries_and_a_point_leads_to_its_own(open_desk: Open) -> None:
    with_seasons()
    desk = open_desk(quick_job("5x7in"))
    station = at_keep(desk)
    desk.click("keep-tab-plots")
    desk.qtbot.waitUntil(lambda: any(plot.series for plot in station.plots.values()), timeout=20_000)
    counts = {name: sum(len(dots) for dots in plot.series.values()) for name, plot in station.plots.items()}
    assert counts["minutes"] == 24
    assert counts["webs"] == 20
    assert counts["places"] == 14  # four trial cuts and three pages, each across and down
    assert counts["stock"] > 2
    plot = station.plots["minutes"]
    dot = plot.series["at the machine"][0]
    desk.qtbot.mouseClick(plot, Qt.MouseButton.LeftButton, pos=plot.place_of(dot).toPoint())
    detail = desk.find("book-detail", QLabel)
    assert isinstance(detail, QLabel)
    desk.qtbot.waitUntil(lambda: detail.text().startswith("run"), timeout=20_000)


def test_a_point_of_long_ago_leads_to_its_entry_too(open_desk: Open) -> None:
    old = RunDone("run-old", "2020-05-02", "First cards", "Heron 12", 6, 3, 10.0, 12.0)
    booking.keep([old, *(Note(f"note-{n}", "2026-05-02", "Kite Day", f"words {n}") for n in range(MOST_SHOWN + 20))])
    desk = open_desk(quick_job("5x7in"))
    station = at_keep(desk)
    assert station.entries.list.count() == MOST_SHOWN
    station.entries.look_up("rundone", "run-old")
    detail = desk.find("book-detail", QLabel)
    assert isinstance(detail, QLabel)
    desk.qtbot.waitUntil(lambda: "First cards" in detail.text(), timeout=20_000)
    station.entries.look_up("rundone", "gone")
    desk.qtbot.waitUntil(lambda: not station.entries.is_busy, timeout=20_000)


def test_an_empty_book_says_so_and_how_it_is_written(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in"))
    station = at_keep(desk)
    assert not station.take.isEnabled()
    assert station.take.text() == "Nothing to take over yet"
    empty = desk.find("book-empty", QLabel)
    assert isinstance(empty, QLabel)
    assert empty.isVisible()
    assert "At the machine" in empty.text()
    assert not station.values.isVisible()
    with_seasons()
    station.refresh()
    desk.qtbot.waitUntil(lambda: station.values.isVisible() and not empty.isVisible(), timeout=20_000)
