"""The book put right in the window: entries, photographs, licences, offcuts, the shopping list, the book as a whole."""

from __future__ import annotations

import csv
from collections.abc import Callable
from datetime import date, timedelta
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QListWidget, QTableWidget

from dechirer.core.brought import Art
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.keep.entries import EntryError, Licence, Note, Photo, RunDone, Spoilt, StockMoved, Took, WebTried
from dechirer.core.keep.learning import learn
from dechirer.core.keep.putting_right import put_right
from dechirer.core.keep.stock import on_shelf
from dechirer.core.plan import make_plan
from dechirer.desk.boxes.entry_box import EntryBox
from dechirer.desk.boxes.machine_view import MachineView
from dechirer.desk.boxes.shopping_box import ShoppingBox
from dechirer.desk.panels.offcuts_button import OffcutsButton
from dechirer.desk.stations.dress import DressStation
from dechirer.desk.stations.keep import KeepStation
from dechirer.desk.work.booking import booking
from dechirer.formats.book.store import Book
from dechirer.formats.job.archive import write_archive
from dechirer.formats.test_cut import WEBS_MM
from tests.desk.conftest import Desk
from tests.desk.test_keep_station import at_keep, with_seasons
from tests.dressing import dressed, item, words
from tests.helpers import changed, codes, quick_job

Open = Callable[[Job], Desk]
TODAY = date.today().isoformat()
RUN = RunDone("run-1", "2026-05-02", "Kite Day", "Heron 12", 6, 3, 10.0, 12.0, (Took("cut", 300, 360, 3),))
SPOILT = Spoilt("spoilt-1", "2026-05-02", "Kite Day", "sea grey", "a corner caught")


def settle(desk: Desk, station: KeepStation) -> None:
    """Until the book was written and read anew."""
    booking.wait()
    desk.qtbot.waitUntil(
        lambda: not (station.beside.is_busy or station.entries.is_busy or station.menu.beside.is_busy), timeout=20_000
    )
    desk.qtbot.wait(20)
    desk.qtbot.waitUntil(lambda: not station.beside.is_busy, timeout=20_000)


def look_at(desk: Desk, station: KeepStation, words: str) -> None:
    search, entries = desk.find("book-search", QLineEdit), desk.find("book-entries", QListWidget)
    search.setText(words)  # type: ignore[attr-defined]
    settle(desk, station)
    entries.setCurrentRow(-1)  # type: ignore[attr-defined]
    entries.setCurrentRow(0)  # type: ignore[attr-defined]


def test_an_entry_is_put_right_taken_out_and_put_back(open_desk: Open) -> None:
    booking.keep([RUN, SPOILT])
    desk = open_desk(quick_job("5x7in"))
    station = at_keep(desk)
    look_at(desk, station, "run kite")
    box = station.entries.open_right()
    assert isinstance(box, EntryBox)
    minutes, took, day = (box.lines[name] for name in ("minutes", "took.0", "made"))
    assert isinstance(minutes, QLineEdit)
    assert isinstance(took, QLineEdit)
    assert isinstance(day, QLineEdit)
    took.setText("a while")
    box.take.click()
    assert "Cutting" in box.said.text()
    assert "not a number" in box.said.text()
    took.setText("9")
    day.setText("2026-02-31")
    box.take.click()
    assert "is no day" in box.said.text()
    day.setText("2026-05-03")
    box.take.click()
    settle(desk, station)
    (found,) = booking.entries("rundone")
    assert isinstance(found, RunDone)
    assert (found.made, found.minutes, found.took[0].seconds) == ("2026-05-03", 15.0, 540.0)  # 3 min more in all
    desk.click("book-back")
    settle(desk, station)
    assert booking.entries("rundone") == (RUN,)
    look_at(desk, station, "corner caught")
    desk.click("book-drop")
    settle(desk, station)
    assert not booking.entries("spoilt")
    desk.click("book-back")
    settle(desk, station)
    assert booking.entries("spoilt") == (SPOILT,)


def test_a_photograph_is_kept_with_the_run_it_is_of_and_shown(open_desk: Open, tmp_path: Path) -> None:
    Image.new("RGB", (2400, 1600), (180, 40, 40)).save(tmp_path / "tear.jpg")
    (tmp_path / "words.jpg").write_text("no picture")
    booking.keep([RUN])
    desk = open_desk(quick_job("5x7in"))
    station = at_keep(desk)
    look_at(desk, station, "run kite")
    about = desk.find("book-about", QComboBox)
    assert isinstance(about, QComboBox)
    about.setCurrentIndex(about.findText("The run of 2026-05-02"))
    note = desk.find("book-note", QLineEdit)
    assert isinstance(note, QLineEdit)
    note.setText("the tear at its corner")
    said: list[str] = []
    station.refused.connect(said.append)
    station.entries.take_photo(tmp_path / "words.jpg")
    settle(desk, station)
    assert said == ["words.jpg: is no PNG, JPEG, TIFF or WebP picture"]
    assert note.text()  # not lost
    station.entries.take_photo(tmp_path / "tear.jpg")
    settle(desk, station)
    (photo,) = booking.entries("photo")
    assert isinstance(photo, Photo)
    assert (photo.about, photo.of, photo.words) == ("Kite Day", "run-1", "the tear at its corner")
    assert (photo.width, photo.height) == (1280, 853)
    look_at(desk, station, "run kite")
    desk.qtbot.waitUntil(lambda: station.entries.photo.whole is not None, timeout=20_000)
    box = station.entries.photo.open_whole()
    assert box is not None
    box.close()
    look_at(desk, station, "tear corner")
    desk.click("book-drop")
    settle(desk, station)
    assert not booking.entries("photo")
    desk.click("book-back")
    settle(desk, station)
    assert booking.entries("photo") == (photo,)
    assert booking.picture(photo.id)
    look_at(desk, station, "run kite")
    about.setCurrentIndex(about.findText("The run of 2026-05-02"))
    note.setText("cut slower")
    note.returnPressed.emit()
    settle(desk, station)
    (kept,) = booking.entries("note")
    assert isinstance(kept, Note)
    assert kept.of == "run-1"


def test_the_whole_book_goes_out_and_in_is_backed_up_and_put_back(open_desk: Open, tmp_path: Path) -> None:
    with_seasons()
    desk = open_desk(quick_job("5x7in"))
    station = at_keep(desk)
    count = len(booking.entries())
    for name in ("book.json", "book.csv"):
        station.menu.take_out(tmp_path / name)
        settle(desk, station)
        assert (tmp_path / name).stat().st_size > 1000
    with (tmp_path / "book.csv").open(newline="") as file:
        assert sum(1 for _ in csv.reader(file)) == count + 1
    station.menu.back_up(tmp_path / "copy.sqlite")
    settle(desk, station)
    assert Book(tmp_path / "copy.sqlite").count() == count
    booking.keep([RUN])
    station.menu.put_back(tmp_path / "copy.sqlite")
    settle(desk, station)
    assert len(booking.entries()) == count
    assert "book-before-" in station.said.text()
    station.menu.take_in(tmp_path / "none.json")
    settle(desk, station)
    assert "none.json" in station.said.text()
    (tmp_path / "bad.json").write_text('{"kind": "spell"}')
    station.menu.take_in(tmp_path / "bad.json")
    settle(desk, station)
    assert "bad.json, line 1" in station.said.text()
    station.menu.take_in(tmp_path / "book.csv")
    settle(desk, station)
    assert f"{count} entries of book.csv" in station.said.text()
    assert len(booking.entries()) == count


def kite_of(desk: Desk) -> Art | None:
    return next(
        (art for art in desk.room.document.job.dress.art if art.source.endswith(".svg") or art.licence == "personal"),
        None,
    )


def bring_in(desk: Desk, path: Path) -> None:
    desk.station("dress")
    station = desk.room.stations["dress"]
    assert isinstance(station, DressStation)
    station.bring_in(path)


SVG = """<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30">
<path d="M1 1H39V29H1Z"/></svg>"""


def test_a_licence_is_noted_and_the_same_file_is_known_again_in_another_job(open_desk: Open, tmp_path: Path) -> None:
    (tmp_path / "kite.svg").write_text(SVG)
    desk = open_desk(dressed(item("hello", art=None, words=words("hello")), job=quick_job("5x7in")))
    bring_in(desk, tmp_path / "kite.svg")
    desk.qtbot.waitUntil(lambda: kite_of(desk) is not None, timeout=20_000)
    desk.settle()
    station = at_keep(desk)
    desk.click("keep-tab-licences")
    table = desk.find("licences", QTableWidget)
    assert isinstance(table, QTableWidget)
    row = next(n for n in range(table.rowCount()) if table.item(n, 0).text().startswith("kite"))  # type: ignore[union-attr]
    choice = desk.find(f"licence-{row}", QComboBox)
    assert isinstance(choice, QComboBox)
    choice.setCurrentIndex(choice.findData("personal"))
    choice.activated.emit(choice.currentIndex())
    table.item(row, 3).setText("a friend, <b>by mail</b>")  # type: ignore[union-attr]
    station.licences.sold.click()
    assert "dress.licence" in codes(desk.settle())
    told = desk.find("licences-told", QLabel)
    assert "personal use only: kite" in told.text()  # type: ignore[attr-defined]
    settle(desk, station)
    (kept,) = booking.entries("licence")
    assert isinstance(kept, Licence)
    assert (kept.licence, kept.source, kept.what) == ("personal", "a friend, <b>by mail</b>", "art")
    (tmp_path / "other name.svg").write_text(SVG)
    again = open_desk(dressed(item("hello", art=None, words=words("hello")), job=quick_job("a5")))
    bring_in(again, tmp_path / "other name.svg")
    again.qtbot.waitUntil(lambda: kite_of(again) is not None, timeout=20_000)
    art = kite_of(again)
    assert art is not None
    assert (art.licence, art.source) == ("personal", "a friend, <b>by mail</b>")


def through_a_run(desk: Desk) -> MachineView:
    desk.station("run")
    desk.settle()
    box = desk.room.stations["run"].open_box("machine-view")
    assert isinstance(box, MachineView)
    while not box.is_over:
        box.go_on()
    desk.qtbot.waitUntil(lambda: "stands in the book" in box.more.text())
    return box


def test_what_is_left_of_sheets_is_kept_used_in_another_job_and_taken_off_by_its_run(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in", count=2))
    box = through_a_run(desk)
    assert box.left.isVisibleTo(box)
    box.left.click()
    assert not box.left.isVisibleTo(box)
    booking.wait()
    box.close()
    shelf = on_shelf(each for each in booking.entries("stockmoved") if isinstance(each, StockMoved))
    (offcut,) = (each for each in shelf.values() if each.paper)
    layout = desk.settle().lay.layouts[0]
    assert offcut.amount == layout.repeats == 2
    assert min(offcut.width, offcut.height) >= 50
    # A smaller card of the same paper: it goes onto the offcut.
    small = changed(quick_job("a7"), brief__papers__card__name=offcut.paper)
    small = apply_changes(small, [Change("brief.count", 1)])
    other = open_desk(small)
    other.station("lay")
    other.settle()
    button = other.find("offcuts", OffcutsButton)
    assert isinstance(button, OffcutsButton)
    menu = button.menu()
    assert menu is not None
    menu.aboutToShow.emit()
    other.qtbot.waitUntil(lambda: any("From the stock" in each.text() for each in menu.actions()), timeout=20_000)
    (action,) = (each for each in menu.actions() if "From the stock" in each.text())
    assert "(2 there)" in action.text()
    station = at_keep(other)
    other.click("keep-tab-stock")
    table = station.stock.table
    row = next(n for n in range(table.rowCount()) if table.item(n, 0).text() == offcut.item)  # type: ignore[union-attr]
    table.setCurrentCell(row, 0)
    other.click("stock-use")
    plan = other.settle()
    assert [each.sheet.offcut for each in plan.lay.layouts] == [True]
    through_a_run(other).close()
    booking.wait()
    shelf = on_shelf(each for each in booking.entries("stockmoved") if isinstance(each, StockMoved))
    assert shelf[offcut.item].amount == 1


def test_the_shopping_list_of_two_jobs(open_desk: Open, tmp_path: Path) -> None:
    job = quick_job("5x7in", count=10)
    paper = job.brief.papers[0].name
    booking.keep([StockMoved("count", "2026-05-02", paper, counted=12.0, price=0.5)])
    other = changed(quick_job("5x7in", count=6), name="=Harbour <b>supper")
    write_archive(tmp_path / "supper.dechirer", other)
    (tmp_path / "odd.dechirer").write_bytes(b"no job")
    desk = open_desk(job)
    station = at_keep(desk)
    desk.click("keep-tab-stock")
    box = station.stock.open_shopping()
    assert isinstance(box, ShoppingBox)
    assert next(row for row in box.rows if row.item == paper).buy == 0
    for name in ("odd.dechirer", "supper.dechirer"):
        box.add_job(tmp_path / name)
        desk.qtbot.waitUntil(lambda: not box.beside.is_busy, timeout=20_000)
    assert len(box.jobs) == 2
    row = next(row for row in box.rows if row.item == paper)
    assert (row.needed, row.there, row.buy, row.costs) == (16, 12, 4, 2.0)
    box.save_to(tmp_path / "list.csv")
    with (tmp_path / "list.csv").open(newline="") as file:
        rows = {each["what"]: each for each in csv.DictReader(file)}
    assert (rows[paper]["to buy"], rows[paper]["costs"]) == ("4", "2.00")
    assert rows[paper]["for"].endswith("; =Harbour <b>supper")
    box.save_to(tmp_path / "none" / "list.csv")
    assert "was not written" in box.said.text()
    box.close()


@pytest.fixture
def set_back(own_folders: None) -> None:
    """The clock stands a month before the book's last count."""
    booking.keep([StockMoved("count-1", (date.today() + timedelta(days=30)).isoformat(), "card", counted=20.0)])
    booking.wait()


@pytest.mark.usefixtures("set_back")
def test_a_clock_that_was_set_back_is_said_and_a_count_made_now_still_holds(open_desk: Open) -> None:
    desk = open_desk(changed(quick_job("5x7in", count=2), brief__papers__card__name="card"))
    station = at_keep(desk)
    assert "Is the clock right?" in station.facts.text()
    desk.click("keep-tab-stock")
    table = station.stock.table
    row = next(n for n in range(table.rowCount()) if table.item(n, 0).text() == "card")  # type: ignore[union-attr]
    for amount in ("7", "9"):  # counted twice on a day
        table.item(row, 1).setText(amount)  # type: ignore[union-attr]
        settle(desk, station)
    through_a_run(desk).close()
    booking.wait()
    shelf = on_shelf(each for each in booking.entries("stockmoved") if isinstance(each, StockMoved))
    assert shelf["card"].amount == 9 - make_plan(desk.room.document.job).lay.sheet_count.value


def test_halves_of_letters_typed_into_a_note_are_left_out(open_desk: Open) -> None:
    """Found by random work: a half of a pair of surrogates was an error in a slot."""
    booking.keep([RUN])
    desk = open_desk(quick_job("5x7in"))
    station = at_keep(desk)
    note = desk.find("book-note", QLineEdit)
    assert isinstance(note, QLineEdit)
    note.setText("glue \ud800\x07 dries")
    note.returnPressed.emit()
    settle(desk, station)
    (kept,) = booking.entries("note")
    assert isinstance(kept, Note)
    assert kept.words == "glue  dries"
    with pytest.raises(EntryError, match=r"U\+D800"):
        put_right(RUN, {"note": "\ud800"}, "mm")


def test_names_from_strangers_are_no_markup(open_desk: Open) -> None:
    name = "<img src='x'><b>grey</b>"
    booking.keep([StockMoved("count-1", TODAY, name, counted=0.0)])
    desk = open_desk(changed(quick_job("5x7in", count=2), brief__papers__card__name=name))
    station = at_keep(desk)
    assert "&lt;img" in station.facts.text()
    assert "<img" not in station.facts.text()


def test_what_the_stock_lacks_is_said_before_a_run_begins(open_desk: Open) -> None:
    job = quick_job("5x7in", count=5)
    paper = job.brief.papers[0].name
    booking.keep([StockMoved("count-1", TODAY, paper, counted=2.0)])
    booking.wait()
    desk = open_desk(job)
    desk.station("run")
    box = desk.room.stations["run"].open_box("machine-view")
    assert isinstance(box, MachineView)
    desk.qtbot.waitUntil(lambda: box.said.text() == f"The stock lacks {paper} (3).", timeout=20_000)
    box.close()


def test_a_ladder_of_webs_goes_into_the_book_and_is_told_again_in_its_place(open_desk: Open) -> None:
    desk = open_desk(quick_job("5x7in"))
    desk.station("run")
    desk.click("settings")
    box = desk.find("settings-box")

    def tell(words: str) -> list[tuple[float, bool]]:
        held = next(each for each in box.findChildren(QComboBox) if each.objectName().startswith("held-"))
        held.setCurrentIndex(held.findText(words))
        held.activated.emit(held.currentIndex())
        booking.wait()
        desk.settle()
        return [(each.width, each.held) for each in booking.entries("webtried") if isinstance(each, WebTried)]

    assert tell("0.8 mm") == [(width, width >= 0.8) for width in WEBS_MM]
    assert tell("1 mm") == [(width, width >= 1.0) for width in WEBS_MM]
    paper = desk.settle().job.brief.papers[0]
    (learned,) = learn(booking.entries())
    assert learned.key == f"web.{paper.name}"
    assert 0.8 < learned.value < 1.0
    assert tell("not tried") == []
    box.close()
