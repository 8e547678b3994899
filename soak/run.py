"""Random work in the real window: run [minutes] [--seed N] [--actions N]. Ends with 1 at the first thing that is wrong.

Each round begins a new window on a demo and does some hundred things to it. Then it is judged: no exception, no event
that took longer than STALL_MS of the GUI thread at the pace the machine has when nothing else runs, undo to the start
gives the first job byte for byte, redo the last; saved is opened; the plan of many small edits is the plan made from
nothing, in another process; the audit is clean.
"""

from __future__ import annotations

import argparse
import gc
import os
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from random import Random

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import qInstallMessageHandler

from dechirer.core.job.history import History
from dechirer.core.job.model import write_job_json
from dechirer.demo import load_demo_job
from dechirer.desk.actions import DEMOS
from dechirer.desk.room import Room
from dechirer.desk.theme import theme
from dechirer.desk.window import MainWindow
from dechirer.desk.work.settings import Settings
from dechirer.desk.work.tidying import Tidier, give_back, use_one_heap
from dechirer.formats.job.archive import write_archive
from soak.driver import Driver, process_all
from soak.judge import check_audit, check_saved, digest, tell_apart
from soak.one_window import run_one_window
from soak.watch import Watched

WARM_S, ROUNDS_TOLD = 600.0, 15
STALL_MS = 200.0
ACTIONS = 150


class FailedError(AssertionError):
    """Something did not hold."""


def one_round(app: Watched, seed: int, actions: int, folder: Path, *, judge_plan: bool = True) -> dict[str, float]:
    """One window's worth of random work; returns what was measured.

    Raises:
        FailedError: something did not hold; the message says what, after which actions.
    """
    random = Random(seed)
    window = MainWindow()
    room = window.room = Room(window, load_demo_job(random.choice(DEMOS)[0]), Settings())
    room.guard.install()
    tidier = Tidier(room.document, window)
    driver = Driver(room, random, folder)
    driver.answer_questions()
    stalls: list[tuple[float, str]] = []
    try:
        window.show()
        driver.settle()
        app.take_longest()
        for _ in range(actions):
            driver.step()
            if room.guard.count:
                raise FailedError("an error was caught by the guard:\n" + room.guard.last.tell(whole=True))
            longest, where = app.take_longest()
            if longest > STALL_MS:
                longest /= app.how_slow()  # another process may share the core's caches and its clock
            stalls.append((longest, where))
            if longest > STALL_MS:
                size = f"{window.width()} x {window.height()}"
                raise FailedError(f"a stall of {longest:.0f} ms at {size} in {where}")
        judge(driver, folder, judge_plan=judge_plan)
        if room.guard.count:
            raise FailedError("an error was caught by the guard:\n" + room.guard.last.tell(whole=True))
    except Exception as error:
        done = "\n".join(f"  {line}" for line in driver.log[-12:])
        kept = Path(tempfile.gettempdir()) / f"soak-{seed}.json"
        kept.write_bytes(write_job_json(room.document.job))
        words = f"seed {seed}, after {len(driver.log)} actions: {error}\n{done}\n  the job is kept as {kept}"
        raise FailedError(words) from error
    finally:
        tidier.deleteLater()
        room.guard.remove()
        window.room = None
        room.end()
        window.close()
        window.deleteLater()
        process_all()
    return {"longest stall": max(stalls)[0] if stalls else 0.0}


def judge(driver: Driver, folder: Path, *, judge_plan: bool) -> None:
    """What has to hold after any work."""
    room = driver.room
    document = room.document
    document.abort()
    driver.settle()
    last, plan = document.job, document.plan
    assert plan is not None
    check_saved(last, folder)
    if judge_plan and not room.window.banners.text("plan"):
        write_archive(folder / "judged.dechirer", last)
        mine = "".join(f"{name} {words}\n" for name, words in digest(plan).items())
        hashes = str(int.from_bytes(os.urandom(2)))  # what is told apart is what was found to differ
        if mine != judged_elsewhere(folder, hashes):
            whole = judged_elsewhere(folder, hashes, "--whole")
            raise FailedError(f"the plan of the edits is not the plan made from nothing:\n{tell_apart(plan, whole)}")
        check_audit(plan)
    steps = 0
    while document.history.undo_label:
        document.undo()
        steps += 1
    if steps < History.MOST_STEPS - 1 and write_job_json(document.job) != driver.first:
        raise FailedError("undo to the start does not give the first job")
    for _ in range(steps):
        document.redo()
    if write_job_json(document.job) != write_job_json(last):
        raise FailedError("redo to the end does not give the last job")


def judged_elsewhere(folder: Path, hashes: str, *more: str) -> str:
    """What another process says of the plan of the job that was judged; `hashes` settles its order of sets."""
    return subprocess.run(
        [sys.executable, "-W", "ignore", "-m", "soak.judge", str(folder / "judged.dechirer"), *more],
        env={**os.environ, "PYTHONHASHSEED": hashes},
        capture_output=True,
        text=True,
        check=True,
    ).stdout


def memory_mb() -> float:
    """What the process holds now, in MB, without what it has freed and the C library keeps for the next time."""
    give_back()
    with open("/proc/self/statm", encoding="ascii") as statm:
        return int(statm.read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1024**2


def tell_held(held: list[tuple[float, float]]) -> str:
    """What was held after the first ten minutes and at the end, each the middle of ROUNDS_TOLD rounds: some jobs are
    large, and what they leave goes over a few rounds.

    Args:
        held: the seconds after which each round ended, and MB held then.
    """
    early = [mb for seconds, mb in held if seconds <= WARM_S][-ROUNDS_TOLD:]
    late = [mb for _, mb in held][-ROUNDS_TOLD:]
    if not early or held[-1][0] <= WARM_S:
        return "memory is compared after ten minutes"
    first, last = statistics.median(early), statistics.median(late)
    return f"{first:.0f} MB after ten minutes, {last:.0f} at the end ({100 * (last / first - 1):+.0f} %)"


def main() -> int:
    """Run rounds until the time is over or something fails."""
    parser = argparse.ArgumentParser(prog="bin/soak", description="Random work in the real window.")
    parser.add_argument("minutes", nargs="?", type=float, default=10.0)
    parser.add_argument("--seed", type=int, default=None, help="of the first round; the next ones count up")
    parser.add_argument("--keep-going", action="store_true", help="after a failure as well; they are listed")
    parser.add_argument("--one-window", action="store_true", help="one window all the time: what it holds levels off")
    parser.add_argument("--actions", type=int, default=ACTIONS, help="in each round")
    asked = parser.parse_args()
    seed = asked.seed if asked.seed is not None else int.from_bytes(os.urandom(3))
    use_one_heap()
    app = Watched(sys.argv[:1])
    theme.load_fonts()
    theme.apply_theme(app, "light")
    began, rounds, longest, failures = time.monotonic(), 0, 0.0, 0
    until, held = began + 60 * asked.minutes, list[tuple[float, float]]()
    qInstallMessageHandler(lambda _kind, _where, text: None if "This plugin does not" in (text or "") else print(text))
    with tempfile.TemporaryDirectory() as name:
        for variable in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME", "XDG_DOCUMENTS_DIR"):
            os.environ[variable] = f"{name}/{variable.lower()}"
        if asked.one_window:
            return run_one_window(app, asked.minutes, seed, Path(name) / "work", memory_mb)
        while rounds == 0 or time.monotonic() < until:
            rounds += 1
            try:
                found = one_round(app, seed + rounds - 1, asked.actions, Path(name) / "work")
            except FailedError as failure:
                print(f"FAILED {failure}", flush=True)
                failures += 1
                if asked.keep_going:
                    continue
                return 1
            longest = max(longest, found["longest stall"])
            gc.unfreeze()
            gc.collect()
            process_all()  # what was connected to the window lets go of it
            gc.collect()
            widgets = len(app.allWidgets())
            held.append((time.monotonic() - began, memory_mb()))
            print(
                f"seed {seed + rounds - 1}: {asked.actions} actions, longest stall {found['longest stall']:.0f} ms, "
                f"{held[-1][1]:.0f} MB with {len(sys.modules)} modules, {widgets} widgets",
                flush=True,
            )
    print(tell_held(held))
    told = f"{failures} failures" if failures else "without a failure"
    print(f"{rounds} rounds, {rounds * asked.actions} actions, {told}; longest stall {longest:.0f} ms")
    return 1 if failures else 0


if __name__ == "__main__":
    sys.exit(main())
