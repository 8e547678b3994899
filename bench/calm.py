"""How long the window stands still: the longest event of the GUI thread's own time, for each kind of work; and how long
an edit of one item of the dressed demo takes to its whole plan. The yardstick is a bare repaint of the same window.

bin/bench calm           # the dressed demo
bin/bench calm 2000      # with so many cards that differ in a name, pauses included
"""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import qInstallMessageHandler
from soak.watch import Watched

from bench.table import show, spread, verdict
from bench.wordings import worded
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.length import parse_length
from dechirer.core.plan import Planner
from dechirer.demo import load_demo_job
from dechirer.desk.actions import DEMOS
from dechirer.desk.room import Room
from dechirer.desk.theme import theme
from dechirer.desk.window import MainWindow
from dechirer.desk.work.settings import Settings
from dechirer.desk.work.tidying import Tidier

ORDINARY_MS, MOST_MS = 50.0, 200.0
LONG_ENOUGH_S = 3.5
"""Until what is done in a pause has been done."""
ITEMS = ("when", "sail", "greeting", "gulls", "made-by")
"""Words and figures that are drawn, glued on and cut out."""
EDITS = 8


def time_items() -> dict[str, list[float]]:
    """Milliseconds of the processor from an edit of one item of the dressed demo to its whole plan, by item, moved
    and made larger."""
    planner, job = Planner(), load_demo_job("kites")
    planner.plan(job)
    taken: dict[str, list[float]] = {}
    for number in range(EDITS):
        for id in ITEMS:
            item = next(each for each in job.dress.items if each.id == id)
            field = "words.size" if item.words is not None else "width"
            now = item.words.size if item.words is not None else item.width
            assert now is not None
            moved = Change(f"dress.items.{id}.place.x", parse_length(f"{1 + number / 7:.2f} mm"))
            larger = Change(f"dress.items.{id}.{field}", parse_length(f"{now.mm + 0.03:.2f} mm"))
            for name, change in (("moved", moved), ("made larger", larger)):
                job = apply_changes(job, [change])
                began = time.process_time()
                planner.plan(job)
                taken.setdefault(f"core: {id} {name}", []).append(1000 * (time.process_time() - began))
                planner.memory.trim()  # as the window does once a plan is shown
    return taken


def main() -> None:
    """Measure and print."""
    crowd = int(sys.argv[1]) if len(sys.argv) > 1 else 0
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"):
        os.environ[name] = tempfile.mkdtemp()
    qInstallMessageHandler(lambda _kind, _where, _text: None)
    app = Watched(sys.argv[:1])
    theme.load_fonts()
    theme.apply_theme(app, "light")
    window = MainWindow()
    room = window.room = Room(window, worded(crowd) if crowd else load_demo_job("kites"), Settings())
    Tidier(room.document, window)
    window.show()

    def settle() -> None:
        until = time.perf_counter() + 300
        while not room.document.is_current and time.perf_counter() < until:
            app.processEvents()
            time.sleep(0.001)
        pause = time.perf_counter() + (LONG_ENOUGH_S if crowd else 0.01)
        while time.perf_counter() < pause:
            app.processEvents()
            time.sleep(0.002)

    settle()
    for station in room.ids:  # everything is made once
        room.show_station(station)
        settle()
    rows = []

    def measure(name: str, most: float, *acts: Callable[[], object]) -> None:
        longest = 0.0
        for act in acts:
            app.take_longest()
            own = app.time_act(act)  # an event when a maker does it
            settle()
            longest = max(longest, own, app.take_longest()[0])
        rows.append((name, f"longest {longest:.0f} ms", f"wanted under {most:.0f} ms", verdict(longest < most)))

    measure("a bare repaint", ORDINARY_MS, *[window.repaint] * 10)
    for station in room.ids:
        measure(f"to {station}", ORDINARY_MS, *[partial(room.show_station, station)] * 3)
        widths = [f"{4 + number / 16} in" for number in range(1 if crowd else 6)]
        measure(
            f"edits in {station}",
            ORDINARY_MS,
            *[partial(room.document.type_field, "brief.width", width) for width in widths],
        )
    measure("undo and redo", ORDINARY_MS, *[room.document.undo, room.document.redo] * 5)
    measure("change of theme", MOST_MS, *[room.appearance.toggle] * 6)

    def open_demo(name: str) -> None:
        room.document.history.mark_saved()  # else it is asked whether to save
        room.files.open_demo(name)

    if crowd:
        words = "dress.items.made-by.words.text"
        measure("other words", MOST_MS, partial(room.document.type_field, words, "Ahoy {name}"), room.document.undo)
    measure("opening a demo", MOST_MS, *[partial(open_demo, name) for name, *_ in DEMOS])
    for name, taken in time_items().items():
        rows.append((name, spread(taken), "wanted under 100 ms", verdict(statistics.median(taken) < 100)))
    show("how long the window stands still", rows)
    room.document.history.mark_saved()
    window.room = None
    room.end()
    window.close()


if __name__ == "__main__":
    main()
