"""Kills processes that export, save or write the logbook, at random moments: kill_writes [rounds] [--seed N].

A process writes one version after another and says what it has done; it is killed with SIGKILL. Then: an export is
that of one job, file by file as its manifest says, or says that it is unfinished and is completed or undone by the
next one; a saved job is the last one or the one under way, and every version can be read; every entry of the logbook
that was said to be written is there.
"""

from __future__ import annotations

import argparse
import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from random import Random

from dechirer.core.job.model import Job
from dechirer.core.keep.entries import Note
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import load_demo_job
from dechirer.formats.book.store import Book
from dechirer.formats.export import export_plan
from dechirer.formats.export_folder import STAGE, UNFINISHED
from dechirer.formats.export_manifest import MANIFEST, digest_file, read_manifest
from dechirer.formats.job.archive import read_archive
from dechirer.formats.job.saving import save_job
from dechirer.formats.job.versions import VersionStore

ID = "00ff00ff00ff00ff"
OWN = "own notes.txt"
KINDS = ("export", "save", "book")


def job_of(number: int) -> Job:
    """A job that tells its versions apart by its name; every second one has a liner and so a mat more."""
    from dechirer.core.decide.change import Change
    from dechirer.core.job.edit import apply_changes

    job = load_demo_job("invitations")
    changes = [Change("name", f"card {number}")]
    if number % 2:
        changes.append(Change("construct.liner", None))
    return apply_changes(job, changes)


def write(kind: str, folder: Path) -> None:
    """Write one version after another until killed."""
    plans: list[Plan] = [make_plan(job_of(number)) for number in range(2)] if kind == "export" else []
    book = Book(folder / "book.sqlite")
    print("ready", flush=True)
    number = 0
    while True:
        number += 1
        print("begun", number, flush=True)
        if kind == "export":
            export_plan(plans[number % 2], folder / "out", job_id=ID)
        elif kind == "save":
            save_job(folder / "job.dechirer", job_of(number), ID)
        else:
            book.keep([Note(f"note-{number}", "2026-05-02", "kites", f"cut {number}", "")])
        print("done", number, flush=True)


def one_round(kind: str, seed: int, folder: Path) -> None:
    """Run and kill a process, and look at what it left.

    Raises:
        AssertionError: something was lost or mixed.
    """
    random = Random(seed)
    (folder / "out").mkdir(exist_ok=True)
    (folder / "out" / OWN).write_text("mine")
    env = {**os.environ, "XDG_DATA_HOME": str(folder / "data")}
    child = subprocess.Popen(
        [sys.executable, "-W", "ignore", "-m", "soak.kill_writes", "--child", kind, "--folder", str(folder)],
        stdout=subprocess.PIPE,
        text=True,
        env=env,
    )
    assert child.stdout is not None
    assert child.stdout.readline() == "ready\n"
    time.sleep(random.uniform(0.02, 1.2))
    child.send_signal(signal.SIGKILL)
    # The kill may tear the last line; a number it shortens only asks for less.
    told = [words for line in child.stdout.read().splitlines() if len(words := line.split()) == 2]
    child.wait()
    begun = max((int(number) for what, number in told if what == "begun"), default=0)
    done = max((int(number) for what, number in told if what == "done"), default=0)
    {"export": check_export, "save": check_save, "book": check_book}[kind](folder, begun, done)


def check_export(folder: Path, begun: int, done: int) -> None:
    """The folder is whole, or says that it is not; the next export brings it to rest."""
    out = folder / "out"
    if not (out / UNFINISHED).exists() and (out / MANIFEST).exists():
        check_whole(out)
    export_plan(make_plan(job_of(0)), out, job_id=ID)
    check_whole(out)
    assert not (out / UNFINISHED).exists()
    assert not (out / STAGE).exists()
    assert (out / OWN).read_text() == "mine"


def check_whole(out: Path) -> None:
    """Every file is that of the manifest, and all are of one job."""
    manifest = read_manifest(out)
    assert manifest is not None
    there = {path.relative_to(out).as_posix() for path in out.rglob("*") if path.is_file()}
    there = {path for path in there if not path.startswith(STAGE)} - {MANIFEST, OWN, UNFINISHED}
    assert there == {file.path for file in manifest.files}, there ^ {file.path for file in manifest.files}
    for file in manifest.files:
        assert digest_file(out / file.path) == file.sha256, file.path
    assert len({file.made_from for file in manifest.files}) == 1


def check_save(folder: Path, begun: int, done: int) -> None:
    """The file is the last saved version or the one under way; the versions can all be read."""
    path = folder / "job.dechirer"
    if path.exists():
        number = int(read_archive(path).name.removeprefix("card "))
        # Nothing may have been saved yet this time: then it is what an earlier process left.
        assert not done or number in (done, begun), (number, done, begun)
    else:
        assert not done
    os.environ["XDG_DATA_HOME"] = str(folder / "data")
    store = VersionStore(ID)
    for version in store.list_versions():
        assert store.read(version.number).name == version.name


def check_book(folder: Path, begun: int, done: int) -> None:
    """Every entry that was said to be written is there."""
    book = Book(folder / "book.sqlite")
    have = {each.id for each in book.entries()}
    assert {f"note-{number}" for number in range(1, done + 1)} <= have
    assert not book.said
    book.close()


def main() -> int:
    """Run rounds of each kind until one fails."""
    parser = argparse.ArgumentParser(prog="soak.kill_writes")
    parser.add_argument("rounds", nargs="?", type=int, default=100)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--child", choices=KINDS)
    parser.add_argument("--folder", type=Path)
    asked = parser.parse_args()
    if asked.child:
        write(asked.child, asked.folder)
    for kind in KINDS:
        with tempfile.TemporaryDirectory() as name:
            for number in range(asked.rounds):
                try:
                    one_round(kind, asked.seed + number, Path(name))
                except AssertionError as error:
                    print(f"FAILED {kind}, seed {asked.seed + number}: {error}")
                    return 1
        print(f"{kind}: killed {asked.rounds} times, nothing lost", flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
