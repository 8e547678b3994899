"""Kills the window at random moments of edits, saves and exports: kill [rounds] [--seed N]; 1 when work is lost.

A window in a process of its own types, saves and exports, and tells what it has done. After a moment it is killed with
SIGKILL. Then: every saved file is whole and of the last save or the one under way; of the edits at most those of the
last second are lost; an export is the one of before, the new one, or says that it is not finished.
"""

from __future__ import annotations

import argparse
import json
import os
import re
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from random import Random

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

LOST_S = 1.0
SAVED, OUT = "job.dechirer", "out"


def work(folder: Path, seed: int) -> None:
    """The window that is killed: numbers its edits in the job's count and name, and tells each on standard output."""
    from PyQt6.QtCore import QTimer
    from PyQt6.QtWidgets import QApplication

    from dechirer.core.decide.change import Change
    from dechirer.demo import load_demo_job
    from dechirer.desk.room import Room
    from dechirer.desk.theme import theme
    from dechirer.desk.window import MainWindow
    from dechirer.desk.work.settings import Settings

    random = Random(seed)
    app = QApplication(sys.argv[:1])
    theme.load_fonts()
    theme.apply_theme(app, "light")
    window = MainWindow()
    room = window.room = Room(window, load_demo_job("invitations"), Settings())
    window.show()
    number = 0
    steady = random.random() < 0.5

    def tell(what: str) -> None:
        print(what, number, time.time(), flush=True)

    def edit() -> None:
        nonlocal number
        number += 1
        room.document.edit("counted", [Change("brief.count", number), Change("name", f"card {number}")])
        tell("edit")

    def act() -> None:
        kind = random.random()
        if kind < 0.8:
            edit()
        elif kind < 0.9:
            tell("saving")
            if room.files.save_to(folder / SAVED):
                tell("saved")
        else:
            room.exports.export_to(folder / OUT)
        timer.start(random.randrange(15, 250) if steady else random.choice((5, 5, 5, 400)))

    timer = QTimer()
    timer.setSingleShot(True)
    timer.timeout.connect(act)
    edit()
    timer.start(10)
    app.exec()


def one_round(seed: int, folder: Path) -> dict[str, float]:
    """Run a window and kill it; returns how long the lost edits took.

    Raises:
        AssertionError: something was damaged, or too much lost.
    """
    random = Random(seed)
    env = {**os.environ, **{name: str(folder / name) for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME")}}
    child = subprocess.Popen(
        [sys.executable, "-W", "ignore", "-m", "soak.kill", "--child", str(folder), "--seed", str(seed)],
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
        env=env,
    )
    assert child.stdout is not None
    first = child.stdout.readline()
    assert first.startswith("edit"), f"the window did not begin: {first!r}"
    time.sleep(random.uniform(0.05, 2.5))
    killed = time.time()
    child.send_signal(signal.SIGKILL)
    lines = (first + child.stdout.read()).split("\n")[:-1]  # what the kill tore off is no line
    told = [line.split() for line in lines]
    child.wait()
    child.stdout.close()
    lost = check_work(told, killed, folder)
    check_export(folder / OUT)
    return {"lost": lost}


def check_work(told: list[list[str]], killed: float, folder: Path) -> float:
    """The saved file is whole; journal and file together have every edit but those of the last moment."""
    from dechirer.formats.job.archive import read_archive
    from dechirer.formats.job.journal import find_recovered, let_go

    saves = [int(number) for what, number, _ in told if what == "saved"]
    begun = [int(number) for what, number, _ in told if what == "saving"]
    have = 0
    if (folder / SAVED).exists():
        have = read_archive(folder / SAVED).brief.count
        assert have in {*saves[-1:], *begun[-1:]}, f"the file has edit {have}, saved were {saves[-1:]}"
    else:
        assert not saves, "a saved file is gone"
    for each in find_recovered(folder / "XDG_STATE_HOME" / "dechirer" / "journal"):
        have = max(have, each.job.brief.count)
        assert each.job.name == f"card {each.job.brief.count}", "half an edit was taken up"
        let_go(each)
    edits = [(int(number), float(at)) for what, number, at in told if what == "edit"]
    missing = [at for number, at in edits if number > have]
    lost = killed - min(missing) if missing else 0.0
    assert lost <= LOST_S, f"{len(missing)} edits of the last {lost:.2f} s are lost"
    return lost


def check_export(folder: Path) -> None:
    """All files of an export are of one job, or a note says that they are not."""
    from dechirer.formats.export_folder import UNFINISHED

    if not folder.exists() or (folder / UNFINISHED).exists():
        return
    names = set()
    for path in folder.rglob("mat-*.svg"):
        found = re.search(r"<title>(card \d+|[^:]*):", path.read_text())
        assert found, f"{path.name} is not whole"
        names.add(found[1])
    if (folder / "plan.json").exists():
        names.add(json.loads((folder / "plan.json").read_text())["job"]["name"])
    assert len(names) <= 1, f"an export of {sorted(names)}"


def main() -> int:
    """Run rounds until one fails."""
    parser = argparse.ArgumentParser(prog="bin/kill", description="Kill the window at random moments.")
    parser.add_argument("rounds", nargs="?", type=int, default=20)
    parser.add_argument("--seed", type=int, default=None)
    parser.add_argument("--child", type=Path, default=None, help=argparse.SUPPRESS)
    asked = parser.parse_args()
    seed = asked.seed if asked.seed is not None else int.from_bytes(os.urandom(3))
    if asked.child is not None:
        work(asked.child, seed)
        return 0
    longest = 0.0
    for number in range(asked.rounds):
        with tempfile.TemporaryDirectory() as name:
            try:
                longest = max(longest, one_round(seed + number, Path(name))["lost"])
            except AssertionError as error:
                print(f"FAILED seed {seed + number}: {error}", flush=True)
                return 1
        if number % 25 == 24:
            print(f"{number + 1} rounds, at most {longest:.2f} s of edits lost", flush=True)
    print(f"{asked.rounds} kills: no file damaged, at most {longest:.2f} s of edits lost, no export half new")
    return 0


if __name__ == "__main__":
    sys.exit(main())
