"""The journal: edits appended, torn lines left out, bounded, and nobody's but one window's."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, to_plain, write_job_json
from dechirer.core.length import parse_length
from dechirer.demo import load_demo_job
from dechirer.formats.job.differences import find_differences, put_in
from dechirer.formats.job.journal import ROOM_FOR_EDITS, Journal, find_recovered, forget, let_go, read_journal
from tests.helpers import examples

KITES = load_demo_job("kites")
EDITS = {
    "count": lambda n: [Change("brief.count", 1 + n)],
    "width": lambda n: [Change("brief.width", parse_length(f"{3 + n} in"))],
    "name": lambda n: [Change("name", "kites " * (n + 1))],
    "envelope": lambda n: [Change("construct.envelope.style", "glued")],
    "words": lambda n: [Change("dress.items.when.words.text", f"at {n}")],
    "fewer": lambda n: [Change(f"dress.items.{KITES.dress.items[-1 - n % 2].id}", None)],
    "units": lambda n: [Change("units", ("in", "mm")[n % 2])],
}


def edited(job: Job, steps: list[tuple[str, int]]) -> list[Job]:
    """A job after each edit that was possible."""
    jobs = [job]
    for name, number in steps:
        try:
            jobs.append(apply_changes(jobs[-1], EDITS[name](number)))
        except ValueError:
            continue
    return jobs


STEPS = st.lists(st.tuples(st.sampled_from(sorted(EDITS)), st.integers(0, 5)), max_size=8)


@examples(40)
@given(STEPS)
def test_differences_put_in_give_the_other_job(steps: list[tuple[str, int]]) -> None:
    jobs = edited(KITES, steps)
    plain = to_plain(jobs[0])
    put_in(plain, [(list(way), value) for way, value in find_differences(jobs[0], jobs[-1])])
    assert plain == to_plain(jobs[-1])


@examples(20)
@given(STEPS, st.integers(0, 400))
def test_a_torn_line_costs_itself_alone(tmp_path_factory: pytest.TempPathFactory, steps: object, torn: int) -> None:
    journal = Journal(tmp_path_factory.mktemp("journal"))
    jobs = edited(KITES, steps)  # type: ignore[arg-type]
    ends = []
    for job in jobs:
        journal.record(job, None)
        ends.append(journal.path.stat().st_size)
    whole = journal.path.read_bytes()
    assert read_journal(whole)[0] == jobs[-1]
    cut = whole[: max(ends[0], len(whole) - torn)]
    last = max(place for place, end in enumerate(ends) if end <= len(cut) or end <= ends[0])
    found, _ = read_journal(cut)
    assert found in jobs[last:]  # a line without its end may still be whole
    journal.close()


def test_an_edit_costs_what_it_changes_and_not_the_typeface(tmp_path: Path) -> None:
    journal = Journal(tmp_path)
    heavy = apply_changes(KITES, [Change("about", "x" * 190)])
    journal.record(heavy, None)
    size = journal.path.stat().st_size
    journal.record(apply_changes(heavy, [Change("dress.items.when.words.text", "at three")]), None)
    assert 0 < journal.path.stat().st_size - size < 120
    again = journal.path.stat().st_size
    journal.record(journal._last[0], None)  # type: ignore[index]
    assert journal.path.stat().st_size == again
    journal.close()


def test_it_is_begun_anew_before_it_grows_without_end(tmp_path: Path) -> None:
    journal = Journal(tmp_path)
    job = KITES
    whole = len(write_job_json(job))
    for number in range(1, 12):
        job = apply_changes(job, [Change("dress.items.when.words.text", f"{number} " + "long words " * 180)])
        for _ in range(20):
            number += 1
            job = apply_changes(job, [Change("brief.count", 1 + number), Change("about", "about it " * 20)])
            job = apply_changes(job, [Change("about", "")])
            journal.record(job, Path("/somewhere/a.dechirer"))
    assert journal.path.stat().st_size < whole + ROOM_FOR_EDITS + 10_000
    assert read_journal(journal.path.read_bytes()) == (job, Path("/somewhere/a.dechirer"))
    journal.close()


def test_another_file_begins_it_anew(tmp_path: Path) -> None:
    journal = Journal(tmp_path)
    journal.record(KITES, None)
    journal.record(KITES, tmp_path / "kites.dechirer")
    assert read_journal(journal.path.read_bytes())[1] == tmp_path / "kites.dechirer"
    assert journal.path.read_bytes().count(b"\n") == 1
    journal.close()


@pytest.mark.parametrize(
    "line", [b'{"edit": [[["no", "such"], 1]]}', b'{"edit": [[["brief", "width"], -4]]}', b"[]", b'{"edit": 3}']
)
def test_a_wrong_edit_ends_what_is_taken_up(tmp_path: Path, line: bytes) -> None:
    journal = Journal(tmp_path)
    journal.record(KITES, None)
    more = apply_changes(KITES, [Change("brief.count", 5)])
    journal.record(more, None)
    with journal.path.open("ab") as out:
        out.write(line + b"\n")
    journal.record(apply_changes(more, [Change("brief.count", 6)]), None)
    found = read_journal(journal.path.read_bytes())[0]
    journal.close()
    assert found == more


def test_a_failed_append_leaves_whole_lines(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    journal = Journal(tmp_path)
    journal.record(KITES, None)
    before = journal.path.read_bytes()

    def full(_handle: int) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patch:
        patch.setattr(os, "fsync", full)
        with pytest.raises(OSError, match="No space"):
            journal.record(apply_changes(KITES, [Change("brief.count", 5)]), None)
    assert journal.path.read_bytes() == before
    journal.record(apply_changes(KITES, [Change("brief.count", 7)]), None)
    assert read_journal(journal.path.read_bytes())[0].brief.count == 7
    journal.close()


def test_two_windows_never_take_up_the_same_work(tmp_path: Path) -> None:
    journal = Journal(tmp_path)
    journal.record(KITES, None)
    journal._lock.close()  # type: ignore[union-attr] - what the system does when a process is killed
    (mine,) = find_recovered(tmp_path)
    code = f"""
from pathlib import Path
from dechirer.formats.job.journal import find_recovered
print(len(find_recovered(Path({str(tmp_path)!r}))))
"""

    def ask() -> str:
        return subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.strip()

    assert ask() == "0"  # I am looking at it
    let_go(mine)
    assert ask() == "1"
    (mine,) = find_recovered(tmp_path)
    forget(mine)
    assert ask() == "0"
    assert os.listdir(tmp_path) == []
