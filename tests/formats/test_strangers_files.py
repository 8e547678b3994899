"""Hostile files: pipes and devices, archives that lie, logbooks with triggers and views, libraries that print."""

from __future__ import annotations

import io
import json
import os
import sqlite3
import struct
import subprocess
import sys
import time
import zipfile
from contextlib import closing
from pathlib import Path

import pytest
from PIL import Image

from dechirer.core.decide.coding import in_plain_words, shorten
from dechirer.core.job.model import Job, JobError, read_job_json, write_job_json
from dechirer.core.job.strict import MOST_VALUES, NotStrictError, read_strictly
from dechirer.core.keep.entries import Note
from dechirer.formats.art.collect import ArtError, Budget
from dechirer.formats.art.read import read_art, read_bytes
from dechirer.formats.book.exchange import read_exported
from dechirer.formats.book.schema import BookError, expected_schema
from dechirer.formats.book.store import Book
from dechirer.formats.job.archive import MOST_ENTRIES, ArchiveError, read_archive
from dechirer.formats.untrusted_files import quote, read_regular

ENDLESS = "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT 'note', i, '', '', '' FROM n"
SECONDS = 120


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "dechirer", *arguments], capture_output=True, text=True, check=False, timeout=600
    )


# --- pipes and devices ----------------------------------------------------------------------------------------------


@pytest.fixture(params=["pipe", "device", "folder"])
def no_file(request: pytest.FixtureRequest, tmp_path: Path) -> Path:
    if request.param == "device":
        return Path("/dev/zero")
    path = tmp_path / "odd.dechirer"
    os.mkfifo(path) if request.param == "pipe" else path.mkdir()
    return path


def test_what_is_no_regular_file_is_refused_at_once(no_file: Path) -> None:
    began = time.thread_time()
    with pytest.raises(ArchiveError, match=r"not a regular file|is a folder"):
        read_archive(no_file)
    with pytest.raises(ArtError, match=r"not a regular file|is a folder"):
        read_bytes(no_file)
    with pytest.raises(BookError, match=r"not a regular file|is a folder"):
        read_exported(no_file)
    with pytest.raises(ValueError, match=r"not a regular file|is a folder"):
        read_regular(no_file, 10, ValueError)
    assert time.thread_time() - began < 1.0


@pytest.mark.parametrize("command", ["check", "inspect", "read", "book import", "plan --into out"])
def test_commands_refuse_a_pipe_in_a_line(tmp_path: Path, command: str) -> None:
    path = tmp_path / "pipe.dechirer"
    os.mkfifo(path)
    ended = run(*command.split(), str(path), *(("--book", str(tmp_path / "b.sqlite")) if "book" in command else ()))
    assert ended.returncode == 2
    assert "not a regular file" in ended.stderr
    assert "Traceback" not in ended.stderr


# --- archives -------------------------------------------------------------------------------------------------------


def test_thirty_million_empty_lists_are_refused_cheaply(tmp_path: Path) -> None:
    """90 kB that unpack to 90 MB of empty lists: counted without a list of them (defect S11)."""
    path = tmp_path / "a.dechirer"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("job.json", b'{"name": [' + b"[]," * 30_000_000 + b"[]]}")
    assert path.stat().st_size < 200_000
    code = (
        "import sys, resource, time; from pathlib import Path; from dechirer.formats.job.archive import *\n"
        "before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss; began = time.process_time()\n"
        "try: read_archive(Path(sys.argv[1]))\n"
        "except ArchiveError as error: print(error)\n"
        "print(time.process_time() - began, (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024)"
    )
    ended = subprocess.run([sys.executable, "-c", code, str(path)], capture_output=True, text=True, check=True)
    words, figures = ended.stdout.strip().splitlines()
    seconds, megabytes = map(float, figures.split())
    assert f"more than {MOST_VALUES} values" in words
    assert seconds < 2.0
    assert megabytes < 300


def test_texts_with_marks_in_them_are_no_values() -> None:
    text = json.dumps({"name": '[,{"' * 10, "path": "1,2" * MOST_VALUES}).encode()
    assert read_strictly(text)[0]["path"].startswith("1,2")
    with pytest.raises(NotStrictError, match="more than"):
        read_strictly(b"[" + b'"a,b",' * (MOST_VALUES + 1) + b"1]")


def archive_of_many(entries: int) -> bytearray:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("job.json", b"{}")
        for number in range(entries):
            archive.writestr(f"{number}", b"")
    return bytearray(out.getvalue())


def test_the_end_record_is_found_as_the_standard_says(tmp_path: Path) -> None:
    """PKWARE's APPNOTE 4.3.16: the record ends the file; its own counts may spell its signature (defect S11)."""
    data = archive_of_many(3 * MOST_ENTRIES)
    at = data.rfind(b"PK\5\6")
    data[at + 4 : at + 8] = b"PK\5\6"  # the numbers of its disks
    path = tmp_path / "a.dechirer"
    path.write_bytes(data)
    with pytest.raises(ArchiveError, match=f"more than {MOST_ENTRIES} entries"):
        read_archive(path)


def test_an_archive_with_a_locator_for_more_is_refused(tmp_path: Path) -> None:
    """A ZIP64 locator (APPNOTE 4.3.15) would replace the counts that were looked at."""
    data = archive_of_many(1)
    at = data.rfind(b"PK\5\6")
    data[at:at] = struct.pack("<4sLQL", b"PK\6\7", 0, 0, 1)
    path = tmp_path / "a.dechirer"
    path.write_bytes(data)
    with pytest.raises(ArchiveError, match="ZIP64"):
        read_archive(path)


# --- logbooks -------------------------------------------------------------------------------------------------------


def book_of(path: Path, *statements: str, entries: int = 40) -> Path:
    book = Book(path)
    book.keep([Note(f"note-{number}", "2026-05-02", "kites", "cut well", "") for number in range(entries)])
    book.close()
    with closing(sqlite3.connect(path, isolation_level=None)) as opened:
        opened.execute("PRAGMA journal_mode = DELETE")
        for statement in statements:
            opened.execute(statement)
    return path


STRANGE = {
    "a trigger": ("CREATE TRIGGER t AFTER INSERT ON entries BEGIN DELETE FROM entries; END",),
    "a view": (f"CREATE VIEW extra AS {ENDLESS}",),
    "a view in place of the table": ("ALTER TABLE entries RENAME TO old", f"CREATE VIEW entries AS {ENDLESS}"),
    "another column": ("ALTER TABLE entries ADD COLUMN more TEXT",),
    "a renamed column": ("ALTER TABLE entries RENAME COLUMN body TO content",),
    "a table too many": ("CREATE TABLE strange (x)",),
    "an index too few": ("DROP INDEX entries_by_day",),
}


@pytest.mark.parametrize("what", list(STRANGE))
def test_a_backup_with_another_schema_is_refused_and_the_book_stays(tmp_path: Path, what: str) -> None:
    backup = book_of(tmp_path / "strange.sqlite", *STRANGE[what])
    own = Book(tmp_path / "book.sqlite")
    own.keep([Note("mine", "2026-05-02", "kites", "mine", "")])
    began = time.thread_time()
    with pytest.raises(BookError, match="is not a logbook of this program"):
        own.restore(backup)
    assert time.thread_time() - began < 5.0
    assert [each.id for each in own.entries()] == ["mine"]
    with pytest.raises(BookError, match="is not a logbook of this program"):
        Book(backup).entries()
    own.close()


@pytest.mark.parametrize("what", ["a view in place of the table", "a renamed column"])
def test_such_a_book_is_not_imported_either(tmp_path: Path, what: str) -> None:
    strange = book_of(tmp_path / "strange.sqlite", *STRANGE[what])
    with pytest.raises(BookError, match="no table of entries"):
        read_exported(strange)
    ended = run("book", "import", str(strange), "--book", str(tmp_path / "book.sqlite"))
    assert ended.returncode == 2
    assert "is not a logbook" in ended.stderr


def test_what_was_lost_is_counted(tmp_path: Path) -> None:
    backup = book_of(tmp_path / "half.sqlite", "UPDATE entries SET body = '{' WHERE rowid % 4 = 0")
    ended = run("book", "restore", str(backup), "--book", str(tmp_path / "book.sqlite"))
    assert ended.returncode == 0
    assert "30 entries restored; 10 could not be read" in ended.stderr
    ended = run("book", "import", str(backup), "--book", str(tmp_path / "other.sqlite"))
    assert "30 entries imported; 10 could not be read" in ended.stderr


def test_books_of_every_version_are_ours(tmp_path: Path) -> None:
    from dechirer.formats.book.migrations import STEPS, migrate

    for version in range(1, len(STEPS) + 1):
        path = tmp_path / f"{version}.sqlite"
        with closing(sqlite3.connect(path, isolation_level=None)) as made:
            migrate(made, 0, version)
        assert expected_schema(version)
        assert Book(path).entries() == ()


# --- words ----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("theirs", "ours"),
    [
        ("Expected `int`, got `str`", "a whole number is expected, not text"),
        ("Expected `float | null`, got `array`", "a number or empty is expected, not a list"),
        ("Object missing required field `brief`", "“brief” is missing"),
        ("Expected `str` of length <= 300", "it is longer than 300"),
        ("our own words", "our own words"),
    ],
)
def test_no_message_is_that_of_a_library(theirs: str, ours: str) -> None:
    assert in_plain_words(theirs) == ours


def test_messages_quote_sixty_characters_at_most(demo: Job) -> None:
    assert len(quote("x" * 5000)) == 60
    assert quote("a\x1b[31m\nb") == "a\ufffd[31m b"
    assert len(shorten(f"“{'[' * 5000}” is not a unit")) < 90
    plain = json.loads(write_job_json(demo))
    plain["brief"]["width"] = "[" * 5000
    with pytest.raises(JobError) as refused:
        read_job_json(json.dumps(plain).encode())
    assert len(str(refused.value)) < 300


def test_libraries_do_not_print_to_the_terminal(tmp_path: Path) -> None:
    """A damaged TIFF makes its decoder complain on the standard error of the process itself."""
    out = io.BytesIO()
    Image.effect_noise((80, 60), 40).convert("RGB").save(out, "TIFF", compression="tiff_lzw")
    data = bytearray(out.getvalue())
    for at in range(200, len(data) - 200, 37):
        data[at] ^= 0xFF
    path = tmp_path / "a.tiff"
    path.write_bytes(data)
    ended = run("inspect", str(path))
    assert ended.stderr == "" or ended.stderr.startswith("dechirer: a.tiff")
    assert len(ended.stderr.splitlines()) <= 1


def test_a_good_file_is_read_on_a_busy_machine(monkeypatch: pytest.MonkeyPatch) -> None:
    """The limit counts this thread's own time, so waiting costs nothing (defect F2)."""
    budget = Budget("a.svg")
    monkeypatch.setattr(time, "monotonic", lambda: 1e9)
    budget.spend(1000)
    svg = b'<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm"><rect width="9" height="9"/></svg>'
    assert read_art(svg, "a.svg", set()).width > 0
