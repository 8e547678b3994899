"""What archives, exports and names are held to: bounded, whole or not there, letters only, links followed."""

from __future__ import annotations

import errno
import io
import json
import os
import struct
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.decide.change import Change
from dechirer.core.decide.letters import clean, find_unfit, make_file_name
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, JobError, read_job_json, write_job_json
from dechirer.core.job.strict import MOST_VALUES
from dechirer.core.plan import Plan
from dechirer.demo import load_demo_job
from dechirer.formats import export_folder
from dechirer.formats.art.read import read_art
from dechirer.formats.copies_csv import read_copies
from dechirer.formats.export import ExportCancelledError, export_plan
from dechirer.formats.export_folder import NOTE, UNFINISHED
from dechirer.formats.job import atomic
from dechirer.formats.job.archive import MOST_ENTRIES, ArchiveError, read_archive, read_archive_told, write_archive
from dechirer.formats.outputs.cut_list import safe_cell
from tests.helpers import changed

BAD = ["\x07", "\x00", "\x1b[31m", "\ud800", "\ufffe", "\U0001ffff", "\x9f", "\ufdd0"]


# --- letters ---------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("bad", BAD)
@pytest.mark.parametrize("path", ["name", "about", "dress.items.when.words.text", "brief.papers.sea-grey.name"])
def test_what_is_no_letter_is_refused_where_it_is_typed(path: str, bad: str) -> None:
    with pytest.raises(JobError, match="not supported"):
        apply_changes(load_demo_job("kites"), [Change(path, f"kites{bad}")])


@given(st.text())
def test_what_is_cleaned_is_text_that_every_file_can_hold(text: str) -> None:
    left = clean(text)
    assert find_unfit(left) == ""
    assert left == text or find_unfit(text)
    left.encode("utf-8")


def test_a_new_line_and_any_tongue_are_letters() -> None:
    assert find_unfit("one\ntwo\tÄöü 日本語 🪁 \u202eright to left") == ""


def test_a_job_with_such_signs_is_opened_without_them_and_told(tmp_path: Path, demo: Job) -> None:
    plain = json.loads(write_job_json(demo))
    plain["name"], plain["about"] = "a\x07b", "c\ufffe"
    path = tmp_path / "a.dechirer"
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("job.json", json.dumps(plain))
    job, cleaned = read_archive_told(path)
    assert (job.name, job.about, cleaned) == ("ab", "c", 2)


def test_art_and_tables_are_cleaned_as_they_come_in() -> None:
    svg = b'<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm"><rect width="9" height="9"/></svg>'
    art = read_art(svg, "a\x07\ud800b.svg", set())
    assert "\x07" not in art.name
    assert any("no letters" in each for each in art.lost)
    assert read_copies(b"name\nWil\x07ma\n", "a.csv").rows[0].entries == ("Wilma",)


@pytest.mark.parametrize("cell", ["=1+1", "\t=1+1", " =1", "\r=1", "＝1+1", "+1", "@a", "\u00a0-1", "\u3000＠x"])
def test_no_cell_begins_a_formula(cell: str) -> None:
    assert safe_cell(cell).startswith("'")


@pytest.mark.parametrize(
    ("name", "file"),
    [("a/b", "a-b"), ("..", "card"), (" .hidden", "hidden"), ("x" * 300, "x" * 200), ("a\x07:b", "a--b"), ("", "card")],
)
def test_a_jobs_name_makes_a_name_every_file_system_takes(name: str, file: str) -> None:
    assert make_file_name(name) == file
    assert len(make_file_name("日" * 120).encode()) <= 200


# --- archives --------------------------------------------------------------------------------------------------------


def archive_of(path: Path, text: bytes) -> Path:
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("job.json", text)
    return path


def test_a_small_archive_of_very_many_values_is_refused_before_they_are_made(tmp_path: Path) -> None:
    bomb = archive_of(tmp_path / "a.dechirer", b'{"name": [' + b"[]," * (2 * MOST_VALUES) + b"[]]}")
    assert bomb.stat().st_size < 20_000
    with pytest.raises(ArchiveError, match=f"more than {MOST_VALUES}"):
        read_archive(bomb)


def test_outlines_are_texts_and_their_commas_are_not_counted(demo: Job) -> None:
    plain = json.loads(write_job_json(demo))
    plain["about"] = "x"
    text = json.dumps(plain).encode()
    long = text.replace(b'"about": "x"', b'"about": "' + b"1,2[{" * MOST_VALUES + b'"')
    with pytest.raises(JobError, match="about"):  # too long, and not too many
        read_job_json(long)


def test_an_archive_of_very_many_entries_is_refused_by_its_directory(tmp_path: Path) -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("job.json", b"{}")
        for number in range(MOST_ENTRIES + 1):
            archive.writestr(f"{number}", b"")
    path = tmp_path / "a.dechirer"
    path.write_bytes(out.getvalue())
    with pytest.raises(ArchiveError, match=f"more than {MOST_ENTRIES} entries"):
        read_archive(path)
    # One that says it has few, with a directory of many.
    data = bytearray(out.getvalue())
    at = data.rfind(b"PK\5\6")
    struct.pack_into("<2H", data, at + 8, 1, 1)
    path.write_bytes(data)
    with pytest.raises(ArchiveError, match="entries"):
        read_archive(path)


@pytest.mark.parametrize(
    ("text", "why"),
    [
        (b'{"name": "a", "name": "b"}', "“name” is in it twice"),
        (b'{"name": NaN}', "NaN is not a number"),
        (b'{"name": -Infinity}', "Infinity is not a number"),
        (b"[" * 100_000 + b"]" * 100_000, "nested too deep"),
        (b'{"name": "\xff"}', "byte 11 is not UTF-8"),
        (b"", "not valid JSON at line 1"),
    ],
)
def test_json_that_is_not_strict_is_refused(text: bytes, why: str) -> None:
    with pytest.raises(JobError, match=why):
        read_job_json(text)


# --- saving ----------------------------------------------------------------------------------------------------------


def test_saving_follows_a_link(tmp_path: Path, demo: Job) -> None:
    real = tmp_path / "jobs" / "real.dechirer"
    real.parent.mkdir()
    write_archive(real, demo)
    link = tmp_path / "link.dechirer"
    link.symlink_to(real)
    write_archive(link, changed(demo, brief__count=7))
    assert link.is_symlink()
    assert read_archive(real).brief.count == 7


def test_the_longest_name_a_file_system_takes_can_be_saved_to(tmp_path: Path, demo: Job) -> None:
    path = tmp_path / ("x" * 246 + ".dechirer")
    write_archive(path, demo)
    assert read_archive(path) == demo
    assert os.listdir(tmp_path) == [path.name]


# --- exports ---------------------------------------------------------------------------------------------------------


def contents(folder: Path) -> dict[str, bytes]:
    return {path.relative_to(folder).as_posix(): path.read_bytes() for path in folder.rglob("*") if path.is_file()}


def test_an_export_that_fails_leaves_the_one_of_before(
    tmp_path: Path, demo_plan: Plan, monkeypatch: pytest.MonkeyPatch
) -> None:
    export_plan(demo_plan, tmp_path)
    (tmp_path / "mine.txt").write_text("mine")
    before = contents(tmp_path)
    calls = 0

    def full(handle: int) -> None:
        nonlocal calls
        calls += 1
        if calls == 3:
            raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(atomic.os, "fsync", full)
    with pytest.raises(OSError, match="No space"):
        export_plan(demo_plan, tmp_path)
    assert contents(tmp_path) == before


@pytest.mark.parametrize("after", [0, 1, 3])
def test_an_export_that_is_stopped_leaves_the_one_of_before(tmp_path: Path, demo_plan: Plan, after: int) -> None:
    export_plan(demo_plan, tmp_path)
    before = contents(tmp_path)
    asked = iter(range(1000))
    with pytest.raises(ExportCancelledError):
        export_plan(demo_plan, tmp_path, cancelled=lambda: next(asked) >= after)
    assert contents(tmp_path) == before


def test_while_files_change_places_a_note_says_so(
    tmp_path: Path, demo_plan: Plan, monkeypatch: pytest.MonkeyPatch
) -> None:
    real, seen = export_folder.os.rename, []

    def rename(source: object, target: object) -> None:
        seen.append((tmp_path / UNFINISHED).read_bytes())
        real(source, target)  # type: ignore[arg-type]

    monkeypatch.setattr(export_folder.os, "rename", rename)
    export_plan(demo_plan, tmp_path)
    assert set(seen) == {NOTE}
    assert not (tmp_path / UNFINISHED).exists()


# --- the terminal ----------------------------------------------------------------------------------------------------


def run(*arguments: str, **more: object) -> subprocess.CompletedProcess[bytes]:
    env = {**os.environ, **more.pop("env", {})}  # type: ignore[dict-item]
    return subprocess.run(
        [sys.executable, "-m", "dechirer", *arguments], capture_output=True, env=env, check=False, **more
    )


def test_a_full_or_narrow_output_is_said_and_no_traceback(tmp_path: Path, demo: Job) -> None:
    path = tmp_path / "ü.dechirer"
    write_archive(path, changed(demo, name="Fährmann 日本"))
    with Path("/dev/full").open("wb") as full:
        ended = subprocess.run(
            [sys.executable, "-m", "dechirer", "check", str(path), "--json"],
            stdout=full,
            stderr=subprocess.PIPE,
            check=False,
        )
    assert ended.returncode == 2
    assert b"cannot be written" in ended.stderr
    assert b"Traceback" not in ended.stderr
    ended = run("plan", str(path), "--out", str(tmp_path / "out"), "--json", env={"PYTHONIOENCODING": "latin-1"})
    assert ended.returncode in (0, 1)
    assert b"Traceback" not in ended.stderr


def test_a_file_name_cannot_steer_the_terminal(tmp_path: Path) -> None:
    for name in (b"a\x1b[31mred.dechirer", b"bad\xffname.dechirer"):
        path = os.path.join(os.fsencode(tmp_path), name)
        with open(path, "wb") as out:
            out.write(b"no zip")
        ended = run("check", os.fsdecode(path))
        assert ended.returncode == 2
        assert b"\x1b" not in ended.stderr
        assert b"Traceback" not in ended.stderr
