from __future__ import annotations

import errno
import os
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.job.model import Job, write_job_json
from dechirer.formats.job import atomic
from dechirer.formats.job.archive import ArchiveError, read_archive, write_archive
from dechirer.formats.job.journal import Journal, find_recovered, forget
from dechirer.formats.job.locks import JobLock
from tests.helpers import changed


def make_zip(path: Path, entries: dict[str, bytes]) -> Path:
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in entries.items():
            archive.writestr(name, content)
    return path


def test_saved_and_read_again(tmp_path: Path, demo: Job) -> None:
    path = tmp_path / "kites.dechirer"
    write_archive(path, demo)
    assert read_archive(path) == demo
    first = path.read_bytes()
    write_archive(path, demo)
    assert path.read_bytes() == first  # equal jobs are equal files
    assert os.listdir(tmp_path) == ["kites.dechirer"]


def test_hostile_archives_are_named_and_refused(tmp_path: Path, demo: Job) -> None:
    good = write_job_json(demo)
    for name, entries, part in (
        ("outside", {"job.json": good, "../../evil.txt": b"x"}, "points outside"),
        ("absolute", {"job.json": good, "/etc/evil": b"x"}, "points outside"),
        ("drive", {"job.json": good, "C:\\evil": b"x"}, "points outside"),
        ("empty", {"readme": b"x"}, "0 entries named job.json"),
        ("negative", {"job.json": good.replace(b'"5 in"', b'"-5 in"', 1)}, "job.json: field brief"),
        ("newer", {"job.json": good.replace(b'"format": 3', b'"format": 7')}, "newer Dechirer"),
        ("nonsense", {"job.json": b"{]"}, "not a job"),
    ):
        path = make_zip(tmp_path / f"{name}.dechirer", entries)
        with pytest.raises(ArchiveError, match=part) as caught:
            read_archive(path)
        assert str(caught.value).startswith(path.name)


def test_a_bomb_is_refused_before_it_fills_the_memory(tmp_path: Path) -> None:
    path = tmp_path / "bomb.dechirer"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive, archive.open("job.json", "w") as entry:
        for _ in range(1024):
            entry.write(b" " * 1024 * 1024)  # 1 GB of blanks
    assert path.stat().st_size < 2_000_000
    with pytest.raises(ArchiveError, match="over 96 MB"):
        read_archive(path)


@given(st.data())
def test_damage_anywhere_is_an_error_or_the_same_job(
    tmp_path_factory: pytest.TempPathFactory, data: st.DataObject
) -> None:
    from dechirer.demo import load_demo_job

    path = tmp_path_factory.mktemp("damage") / "a.dechirer"
    write_archive(path, load_demo_job())
    content = bytearray(path.read_bytes())
    if data.draw(st.booleans()):
        del content[data.draw(st.integers(0, len(content) - 1)) :]
    else:
        content[data.draw(st.integers(0, len(content) - 1))] ^= data.draw(st.integers(1, 255))
    path.write_bytes(bytes(content))
    try:
        job = read_archive(path)
    except ArchiveError as error:
        said = str(error)
    else:
        said = "a.dechirer" if job == load_demo_job() else "another job"
    assert "a.dechirer" in said


def test_folders_and_missing_files(tmp_path: Path) -> None:
    with pytest.raises(ArchiveError, match="folder"):
        read_archive(tmp_path)
    with pytest.raises(FileNotFoundError):
        read_archive(tmp_path / "none.dechirer")


def test_a_full_disk_leaves_the_old_file_whole(tmp_path: Path, demo: Job, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "kites.dechirer"
    write_archive(path, demo)
    before = path.read_bytes()

    def full(handle: int) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(atomic.os, "fsync", full)
    with pytest.raises(OSError, match="No space"):
        write_archive(path, changed(demo, brief__count=99))
    assert path.read_bytes() == before
    assert os.listdir(tmp_path) == ["kites.dechirer"]


def test_a_journal_outlives_a_kill_and_only_a_kill(tmp_path: Path, demo: Job) -> None:
    code = f"""
import os, sys
from pathlib import Path
from dechirer.formats.job.journal import Journal
from dechirer.demo import load_demo_job
journal = Journal(Path({str(tmp_path)!r}))
journal.record(load_demo_job(), Path("/somewhere/kites.dechirer"))
print("ready", flush=True)
sys.stdin.read()
"""
    other = subprocess.Popen([sys.executable, "-c", code], stdin=subprocess.PIPE, stdout=subprocess.PIPE)
    assert other.stdout is not None
    assert other.stdin is not None
    other.stdout.readline()
    assert find_recovered(tmp_path) == []  # its window is still open
    other.kill()
    other.wait()
    other.stdout.close()
    other.stdin.close()
    (found,) = find_recovered(tmp_path)
    assert found.job == demo
    assert found.path == Path("/somewhere/kites.dechirer")
    forget(found)
    assert find_recovered(tmp_path) == []
    mine = Journal(tmp_path)
    mine.record(demo, None)
    mine.close()
    assert os.listdir(tmp_path) == []


def test_broken_journals_are_left_alone(tmp_path: Path) -> None:
    (tmp_path / "a.journal").write_text("{")
    (tmp_path / "b.journal").write_text('{"job": {"name": 1}}')
    assert find_recovered(tmp_path) == []
    assert (tmp_path / "a.journal").exists()


def test_a_second_window_on_a_job_is_noticed(tmp_path: Path) -> None:
    job_file = tmp_path / "kites.dechirer"
    first = JobLock(tmp_path / "open", job_file)
    second = JobLock(tmp_path / "open", tmp_path / "." / "kites.dechirer")
    assert (first.taken, second.taken) == (False, True)
    first.release()
    third = JobLock(tmp_path / "open", job_file)
    assert not third.taken
    third.release()
