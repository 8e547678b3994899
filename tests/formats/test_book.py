"""The book's store: whole after kills, a full disk and damage; two windows; what earlier versions kept; commands."""

from __future__ import annotations

import csv
import io
import json
import os
import signal
import sqlite3
import subprocess
import sys
import time
from pathlib import Path

import pytest
from click.testing import CliRunner

from dechirer.cli import command
from dechirer.core.keep.entries import Note, StockMoved
from dechirer.core.press.records import Ticket
from dechirer.devices.seasons import write_seasons
from dechirer.formats.book.exchange import TAKEN, read_exported, take_over_records, write_csv, write_json
from dechirer.formats.book.migrations import VERSION
from dechirer.formats.book.schema import BookError
from dechirer.formats.book.store import NAME, Book
from dechirer.formats.job.archive import write_archive
from dechirer.formats.records import NAME as RECORDS
from dechirer.formats.records import add_records
from tests.helpers import changed, quick_job

NOTE = Note("note-1", "2026-05-02", "Kite Day", "film off before loading")


def note(number: int, words: str = "words") -> Note:
    return Note(f"note-{number}", "2026-05-02", "Kite Day", words)


def test_what_is_kept_is_found_and_put_right_and_taken_out(tmp_path: Path) -> None:
    book = Book(tmp_path / "new" / NAME)
    assert book.keep([NOTE, note(2, "another")]) == 2
    assert book.find("FILM load") == (NOTE,)
    assert book.find("nowhere") == ()
    book.keep([Note("note-1", "2026-05-03", "Kite Day", "film off")])
    assert [each.words for each in book.entries("note") if isinstance(each, Note)] == ["another", "film off"]
    book.drop("note", "note-2")
    assert book.count() == 1
    book.close()
    assert Book(book.path).count() == 1


def test_strangers_words_never_run_as_sql(tmp_path: Path) -> None:
    book = Book(tmp_path / NAME)
    evil = "'); DROP TABLE entries; --"
    book.keep([note(1, evil), note(2, "100 % _ \" ' <b>")])
    assert [each.id for each in book.find(evil)] == ["note-1"]
    assert [each.id for each in book.find("% _")] == ["note-2"]
    assert book.find("%") != book.entries()
    assert book.count() == 2


def test_two_windows_write_into_one_book(tmp_path: Path) -> None:
    one, other = Book(tmp_path / NAME), Book(tmp_path / NAME)
    for number in range(20):
        (one if number % 2 else other).keep([note(number)])
    assert one.count() == other.count() == 20


def test_a_book_of_a_newer_version_is_left_alone(tmp_path: Path) -> None:
    book = Book(tmp_path / NAME)
    book.keep([NOTE])
    book.close()
    made = sqlite3.connect(book.path)
    made.execute(f"PRAGMA user_version = {VERSION + 1}")
    made.close()
    with pytest.raises(BookError, match="this program reads up to version"):
        Book(book.path).entries()
    assert len(list(tmp_path.glob("book*.sqlite"))) == 1


def test_a_damaged_book_is_set_aside_said_and_what_can_be_read_is_taken_in(tmp_path: Path) -> None:
    book = Book(tmp_path / NAME)
    book.keep(note(number, "x" * 200) for number in range(400))
    book.close()
    content = bytearray(book.path.read_bytes())
    content[0:16] = b"SQLite format 3\0"
    content[20:90] = b"\xff" * 70  # its header
    book.path.write_bytes(content)
    fresh = Book(book.path)
    assert fresh.entries() == ()
    assert "damaged" in fresh.said
    (aside,) = tmp_path.glob("book-damaged-*.sqlite")
    assert aside.name in fresh.said
    fresh.keep([NOTE])
    assert fresh.count() == 1
    text = tmp_path / "not-a-book.sqlite"
    text.write_text("this is no book at all, but it is long enough to look like one " * 40)
    other = Book(text)
    assert other.count() == 0
    assert "damaged" in other.said


def test_a_page_that_is_damaged_loses_no_other_row(tmp_path: Path) -> None:
    book = Book(tmp_path / NAME)
    book.keep(note(number, f"{number} " + "x" * 400) for number in range(300))
    book.connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    book.close()
    content = bytearray(book.path.read_bytes())
    middle = (len(content) // 2) // 4096 * 4096
    content[middle : middle + 4096] = b"\0" * 4096
    book.path.write_bytes(content)
    found = read_exported(book.path).entries
    assert 200 < len(found) < 300


def test_where_nothing_may_be_written_it_is_said(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("in the way")
    with pytest.raises(BookError):
        Book(tmp_path / "file" / NAME).keep([NOTE])


def test_a_full_disk_leaves_the_book_as_it_was(tmp_path: Path) -> None:
    code = f"""
import resource, signal, sys
from pathlib import Path
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
from dechirer.core.keep.entries import Note
from dechirer.formats.book.schema import BookError
from dechirer.formats.book.store import Book
book = Book(Path({str(tmp_path / NAME)!r}))
book.keep([Note("note-1", "2026-05-02", "a", "kept")])
resource.setrlimit(resource.RLIMIT_FSIZE, (60_000, 60_000))
try:
    book.keep(Note(f"note-{{n}}", "2026-05-02", "a", "x" * 3000) for n in range(2, 90))
except BookError as error:
    print("said", error)
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False, timeout=60)
    assert done.stdout.startswith("said"), done.stderr
    assert [each.id for each in Book(tmp_path / NAME).entries()] == ["note-1"]


@pytest.mark.parametrize("wait", [0.15, 0.32, 0.5])
def test_a_kill_while_writing_loses_the_last_entry_at_most(tmp_path: Path, wait: float) -> None:
    code = f"""
import sys
from pathlib import Path
from dechirer.core.keep.entries import Note
from dechirer.formats.book.store import Book
book = Book(Path({str(tmp_path / NAME)!r}))
for number in range(100_000):
    book.keep([Note(f"note-{{number}}", "2026-05-02", "a", "words " * 50)])
    print(number, flush=True)
"""
    with subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, text=True) as process:
        assert process.stdout is not None
        process.stdout.readline()
        time.sleep(wait)
        os.kill(process.pid, signal.SIGKILL)
        told = [line for line in process.stdout.read().splitlines() if line.isdigit()]
    found = {each.id for each in Book(tmp_path / NAME).entries()}
    last = int(told[-1]) if told else 0
    assert {f"note-{number}" for number in range(last + 1)} <= found
    assert len(found) <= last + 2


def test_what_earlier_versions_kept_is_taken_over_once_and_nothing_is_lost(tmp_path: Path) -> None:
    tickets = [Ticket(f"ticket-{n}", "2026-05-02", "card", "Siskin", "photo") for n in range(3)]
    add_records(tmp_path, tickets)
    path = tmp_path / RECORDS
    path.write_text(path.read_text() + "not ours\n")
    book = Book(tmp_path / NAME)
    assert take_over_records(book, tmp_path) == 3
    assert take_over_records(book, tmp_path) == 0
    assert set(book.entries("ticket")) == set(tickets)
    assert "not ours" in (tmp_path / (RECORDS + TAKEN)).read_text()


def test_out_and_in_again_is_the_same_book(tmp_path: Path) -> None:
    entries = write_seasons(3, runs=12)
    (tmp_path / "all.json").write_text(write_json(entries), "utf-8")
    assert read_exported(tmp_path / "all.json").entries == entries
    (tmp_path / "all.csv").write_text(write_csv([*entries, note(1, "=1+1")]), "utf-8")
    assert read_exported(tmp_path / "all.csv").entries == (*entries, note(1, "=1+1"))
    rows = list(csv.DictReader(io.StringIO(write_csv([*entries, note(1, "=1+1")]))))
    assert len(rows) == len(entries) + 1
    assert rows[-1]["words"] == "'=1+1"
    (tmp_path / "bad.json").write_text('{"kind": "note", "id": "a", "made": "yesterday"}\n')
    with pytest.raises(BookError, match=r"bad.json, line 1"):
        read_exported(tmp_path / "bad.json")
    (tmp_path / "odd.json").write_text("[1, 2]\n")
    with pytest.raises(BookError, match="line 1"):
        read_exported(tmp_path / "odd.json")
    for content, named in (("kind,id\nspell,a\n", "row 2"), ("kind,id,made\nnote,n,2026-05-02\n", "row 2")):
        (tmp_path / "bad.csv").write_text(content)
        with pytest.raises(BookError, match=rf"bad.csv, {named}"):
            read_exported(tmp_path / "bad.csv")


def test_ten_thousand_entries_are_opened_and_searched(tmp_path: Path) -> None:
    """What is slow is told by bench/book.py; here only that the answers are right."""
    book = Book(tmp_path / NAME)
    book.keep(note(number, f"sheet {number} of sea grey") for number in range(10_000))
    assert [each.id for each in book.find("sheet 9999")] == ["note-9999"]
    assert len(book.find("sea grey")) == 500


def run(*arguments: str) -> tuple[int, str]:
    done = CliRunner().invoke(command, ["book", *arguments])
    return done.exit_code, done.stdout


def test_the_commands(tmp_path: Path) -> None:
    other = ("--book", str(tmp_path / "demo.sqlite"))
    assert run(*other, "demo", "--seed", "3")[0] == 0
    assert run("demo")[0] == 2  # never into the maker's own
    code, text = run(*other, "list", "kite", "--kind", "rundone", "--json")
    assert code == 0
    assert all(each["kind"] == "rundone" and "Kite" in each["job"] for each in json.loads(text))
    _, learned = run(*other, "learned", "--json")
    assert {"time.cut", "spoiled", "web.sea grey"} <= {each["key"] for each in json.loads(learned)}
    assert "against the plan" in run(*other, "learned")[1]
    assert run(*other, "add", "Kite Day", "glue sets slowly in the cold")[0] == 0
    assert "Kite Day" in run(*other, "list", "cold")[1]
    assert run("list", "cold", *other) == run(*other, "list", "cold")  # named before the command or behind it
    assert run(*other, "stock", "sea grey", "--counted", "80")[0] == 0
    _, stock = run(*other, "stock", "sea grey", "--json")
    assert json.loads(stock)[0]["there"] == 80
    assert run(*other, "stock", "--bought", "3")[0] == 2
    for name in ("all.json", "all.csv"):
        assert run(*other, "export", str(tmp_path / name))[0] == 0
    assert run(*other, "export", str(tmp_path / "all.txt"))[0] == 2
    assert run(*other, "backup", str(tmp_path / "copy.sqlite"))[0] == 0
    job = tmp_path / "job.dechirer"
    job.write_bytes(b"PK a job, named by mistake")
    assert run("list", "--book", str(job))[0] == 2
    assert [job.read_bytes()] == [each.read_bytes() for each in tmp_path.glob("job*")]
    assert run(*other, "add", "Kite Day", "after the copy")[0] == 0
    assert run(*other, "restore", str(tmp_path / "copy.sqlite"))[0] == 0
    assert "after the copy" not in run(*other, "list")[1]
    assert run(*other, "restore", str(job))[0] == 2
    third = ("--book", str(tmp_path / "third.sqlite"))
    assert run(*third, "import", str(tmp_path / "all.json"))[0] == 0
    assert run(*third, "import", str(tmp_path / "copy.sqlite"))[0] == 0
    assert Book(tmp_path / "third.sqlite").count() == Book(tmp_path / "demo.sqlite").count()
    assert run(*third, "import", str(tmp_path / "none.json"))[0] == 2
    assert isinstance(Book(tmp_path / "third.sqlite").entries("stockmoved")[0], StockMoved)


def test_the_shopping_list_of_some_jobs(tmp_path: Path) -> None:
    other = ("--book", str(tmp_path / "own.sqlite"))
    for name, count in (("a", 10), ("b", 6)):
        write_archive(tmp_path / f"{name}.dechirer", changed(quick_job("5x7in", count=count), name=name))
    paper = quick_job("5x7in").brief.papers[0].name
    assert run(*other, "stock", paper, "--counted", "12")[0] == 0
    jobs = [str(tmp_path / f"{name}.dechirer") for name in "ab"]
    code, text = run(*other, "shopping", *jobs, "--json")
    assert code == 0
    row = next(each for each in json.loads(text) if each["item"] == paper)
    assert (row["needed"], row["there"], row["buy"], row["jobs"]) == (16, 12, 4, ["a", "b"])
    assert f"{paper}: buy 4 (16 needed, 12 there)" in run(*other, "shopping", *jobs)[1]
    assert run(*other, "shopping", *jobs, "--to", str(tmp_path / "list.csv"))[0] == 0
    rows = list(csv.DictReader(io.StringIO((tmp_path / "list.csv").read_text())))
    assert next(each for each in rows if each["what"] == paper)["to buy"] == "4"
    assert run(*other, "shopping")[0] == 2
    assert run(*other, "shopping", str(tmp_path / "none.dechirer"))[0] == 2
    assert run(*other, "shopping", *jobs, "--to", str(tmp_path / "none" / "list.csv"))[0] == 2
