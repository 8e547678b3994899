"""Edits in the real window: from the edit to the new plan drawn, and the longest the event loop stood still.

The yardstick of an edit is a bare repaint of the same window in the same run; of planning, a plan made from
nothing. The event loop is watched by a 5 ms timer; a gap between two ticks is a stall.
"""

from __future__ import annotations

import os
import tempfile
import time

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from bench.table import show, spread, verdict
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.core.plan import Planner, make_plan
from dechirer.demo import load_demo_job
from dechirer.desk.room import Room
from dechirer.desk.theme import theme
from dechirer.desk.window import MainWindow
from dechirer.desk.work.settings import Settings

TICK_MS = 5


class Watch:
    """Measures the longest gap between two ticks of the event loop."""

    def __init__(self) -> None:
        self.longest = 0.0
        self._last = time.perf_counter()
        self._timer = QTimer()
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._tick)

    def start(self) -> None:
        self.longest, self._last = 0.0, time.perf_counter()
        self._timer.start()

    def _tick(self) -> None:
        now = time.perf_counter()
        self.longest = max(self.longest, 1000 * (now - self._last))
        self._last = now


def open_window(app: QApplication, job: Job) -> MainWindow:
    """A furnished window with its first plan drawn."""
    theme.load_fonts()
    theme.apply_theme(app, "light")
    window = MainWindow()
    window.room = Room(window, job, Settings())
    window.show()
    wait(app, lambda: window.room is not None and window.room.document.is_current)
    return window


def wait(app: QApplication, done) -> None:  # type: ignore[no-untyped-def]
    """Run the event loop until something holds."""
    until = time.perf_counter() + 30
    while not done() and time.perf_counter() < until:
        app.processEvents()
    app.processEvents()


def time_edits(app: QApplication, window: MainWindow, edits: int, *, forced: bool = True) -> list[float]:
    """Milliseconds from each edit to its plan drawn.

    `forced` repaints the whole window at once; without it Qt paints what changed when its turn comes, as it does for a
    maker, which is how stalls are watched.
    """
    room = window.room
    assert room is not None
    taken = []
    for number in range(edits):
        width = parse_length(f"{4 + (number % 24) / 32} in")
        began = time.perf_counter()
        room.document.edit("Width", [Change("brief.width", width)])
        wait(app, lambda: room.document.is_current)
        if forced:
            window.repaint()
        taken.append(1000 * (time.perf_counter() - began))
    return taken


def time_core(job: Job, edits: int) -> list[float]:
    """Milliseconds the core takes for each such edit."""
    planner = Planner()
    planner.plan(job)
    taken = []
    for number in range(edits):
        width = parse_length(f"{4 + (number % 24) / 32 + 1 / 64} in")
        began = time.perf_counter()
        planner.plan(apply_changes(job, [Change("brief.width", width)]))
        taken.append(1000 * (time.perf_counter() - began))
    return taken


def main() -> None:
    """Measure and print."""
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME"):
        os.environ[name] = tempfile.mkdtemp()
    app = QApplication([])
    demo = load_demo_job()
    window = open_window(app, demo)
    repaint = []
    for _ in range(40):
        began = time.perf_counter()
        window.repaint()
        app.processEvents()
        repaint.append(1000 * (time.perf_counter() - began))
    rows = []
    core = time_core(demo, 60)
    rows.append(("core: edit to new plan", spread(core), "wanted under 40 ms", verdict(sorted(core)[30] < 40)))
    assert window.room is not None
    for station in window.room.ids:
        window.room.show_station(station)
        taken = time_edits(app, window, 40)
        rows.append(
            (f"edit to repaint in {station}", spread(taken), "wanted under 100 ms", verdict(sorted(taken)[20] < 100))
        )
    show(f"Edits, demo job (yardstick: a bare repaint of the window, {spread(repaint)})", rows)
    window.room.document.history.mark_saved()
    window.close()

    long = apply_changes(demo, [Change("brief.count", 500)])
    fresh = []
    for _ in range(10):
        began = time.perf_counter()
        make_plan(long)
        fresh.append(1000 * (time.perf_counter() - began))
    window = open_window(app, long)
    assert window.room is not None
    watch, stalls = Watch(), []
    for station in window.room.ids:
        window.room.show_station(station)
        app.processEvents()
        watch.start()
        time_edits(app, window, 24, forced=False)
        stalls.append((station, watch.longest))
    rows = [("500 cards: plan from nothing", spread(fresh), "wanted under 2000 ms", verdict(max(fresh) < 2000))]
    rows += [
        (f"longest stall while editing in {station}", f"{longest:.1f} ms", "wanted under 50 ms", verdict(longest < 50))
        for station, longest in stalls
    ]
    show("A long job", rows)
    window.room.document.history.mark_saved()
    window.close()


if __name__ == "__main__":
    main()
