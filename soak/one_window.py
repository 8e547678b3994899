"""One window for a long time of random work: what it holds reaches a plateau.

Every so many actions all dialogs are closed and what waits is delivered; then widgets, graphics items and memory are
counted. After ten minutes none may grow by more than a tenth. What grew is listed by class.
"""

from __future__ import annotations

import gc
import time
from collections import Counter
from pathlib import Path
from random import Random

from PyQt6.QtWidgets import QDialog, QGraphicsScene, QMenu

from dechirer.demo import load_demo_job
from dechirer.desk.room import Room
from dechirer.desk.window import MainWindow
from dechirer.desk.work.settings import Settings
from dechirer.desk.work.tidying import Tidier
from soak.driver import Driver, process_all
from soak.watch import Watched

EVERY = 150
WARM_S = 600.0
MOST_GROWTH = 0.10
STALL_MS = 200.0
START = "kites"


class Held(Counter[str]):
    """Widgets by class, graphics items (`items`) and memory (`MB`)."""


def count_held(app: Watched, memory_mb: float) -> Held:
    """Count what the process holds."""
    held = Held(type(widget).__name__ for widget in app.allWidgets())
    items = sum(len(scene.items()) for scene in gc.get_objects() if isinstance(scene, QGraphicsScene))
    held["items"], held["MB"] = items, round(memory_mb)
    return held


def close_dialogs(window: MainWindow) -> None:
    """Close every dialog and menu, as a user who returns to the window does."""
    for child in (*window.findChildren(QDialog), *window.findChildren(QMenu)):
        if child.isVisible():
            child.close()
    process_all()


def widgets_of(held: Held) -> int:
    """The number of widgets."""
    return sum(number for name, number in held.items() if name not in ("items", "MB"))


def run_one_window(app: Watched, minutes: float, seed: int, folder: Path, memory: object) -> int:
    """Work in one window until the time is over; 1 when something grew or failed."""
    random = Random(seed)
    window = MainWindow()
    room = window.room = Room(window, load_demo_job(START), Settings())
    room.guard.install()
    tidier = Tidier(room.document, window)
    driver = Driver(room, random, folder)
    driver.answer_questions()
    window.show()
    driver.settle()
    began, actions, faults = time.monotonic(), 0, 0
    longest = 0.0
    base: Held | None = None
    widgets: list[tuple[float, int, int]] = []
    held = Held()
    while time.monotonic() < began + 60 * minutes:
        for _ in range(EVERY):
            driver.step()
            actions += 1
            took, where = app.take_longest()
            if took > STALL_MS:
                took /= app.how_slow()
            if took > longest:
                longest = took
                print(f"  longest stall so far {took:.0f} ms in {where}", flush=True)
            if room.guard.count > faults:
                faults = room.guard.count
                print(f"FAILED after {actions} actions:\n{room.guard.last.tell(whole=True)}", flush=True)
        close_dialogs(window)
        room.files.open_demo(START)  # the same job at every count
        driver.settle()
        for name in room.ids:
            room.show_station(name)
            driver.settle()
        gc.unfreeze()
        gc.collect()
        process_all()
        held = count_held(app, memory())  # type: ignore[operator]
        seconds = time.monotonic() - began
        widgets.append((seconds, widgets_of(held), held["MB"]))
        print(
            f"{seconds / 60:5.1f} min, {actions} actions: {widgets_of(held)} widgets, {held['items']} items, "
            f"{held['MB']} MB, longest stall {longest:.0f} ms",
            flush=True,
        )
        if base is None and seconds > min(WARM_S, 20 * minutes):
            base = held
    room.guard.remove()
    tidier.deleteLater()
    window.room = None
    room.end()
    window.close()
    grew = tell_growth(base, held) if base is not None else ["it did not run for long enough to compare"]
    for line in grew:
        print(line)
    return int(faults > 0 or any(line.startswith("GREW") for line in grew))


def tell_growth(base: Held, last: Held) -> list[str]:
    """What grew from the first ten minutes to the end."""
    lines = []
    for what, old, new in (
        ("widgets", widgets_of(base), widgets_of(last)),
        ("items", base["items"], last["items"]),
        ("MB", base["MB"], last["MB"]),
    ):
        share = new / old - 1 if old else 0.0
        mark = "GREW" if share > MOST_GROWTH else "held"
        lines.append(f"{mark}: {what} {old} after the first minutes, {new} at the end ({100 * share:+.0f} %)")
    for name, more in (last - base).most_common(12):
        if name != "MB":
            lines.append(f"  {name}: {base[name]} to {last[name]} (+{more})")
    return lines
