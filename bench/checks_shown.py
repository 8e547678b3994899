"""CPU of the window's thread for showing sixty checks, switching stations and changing the theme: bench checks_shown.

Beside each figure stands its yardstick: the same list shown when nothing changed, which has only to be compared.
"""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from dechirer.core.decide.change import Change
from dechirer.core.finding import Finding, Mend
from dechirer.core.stations import STATIONS
from dechirer.desk.headless import open_window, settle

MANY = 60
ROUNDS = 7


def make_findings(changed: int = 0) -> tuple[Finding, ...]:
    """Sixty findings of all stations, each with two fixes; the first `changed` ones are new each time."""
    stations = STATIONS.ids()
    return tuple(
        Finding(
            f"{stations[number % len(stations)]}.check-{number}",
            "stop" if number % 3 == 0 else "look",
            f"This bridge of piece {number} is narrow{' now' if number < changed else ''}",
            "160 g/m² card holds from 0.8 mm. It will tear when weeded, above all where two of them meet.",
            "It tears.",
            f"piece-{number}",
            tuple(Mend(f"Widen it to {size} mm and keep its place", (Change("x", size),)) for size in (1.0, 1.5)),
        )
        for number in range(MANY)
    )


def main() -> None:
    """Measure and print."""
    with tempfile.TemporaryDirectory() as name:
        for variable in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME", "XDG_DOCUMENTS_DIR"):
            os.environ[variable] = f"{name}/{variable.lower()}"
        measure()
    sys.stdout.flush()
    os._exit(0)


def measure() -> None:
    """Measure in a window of 1280 x 800 with the dressed demo."""
    app, room = open_window("kites", "light")
    for station in room.ids:
        room.show_station(station)
        settle(app, room.window)

    def timed(label: str, act: Callable[[int], object]) -> None:
        took = []
        for number in range(ROUNDS):
            began = time.thread_time()
            act(number)
            app.processEvents()
            took.append(1000 * (time.thread_time() - began))
        print(f"{label:<58} median {statistics.median(took):6.1f} ms, worst {max(took):6.1f}")

    station = room.ids[0]
    some, other = make_findings(), make_findings(6)
    room.findings.show_findings(some, station)
    app.processEvents()
    timed("yardstick: sixty checks that did not change", lambda _n: room.findings.show_findings(some, station))
    timed("six of sixty checks changed", lambda n: room.findings.show_findings((some, other)[n % 2], station))
    timed("sixty checks, another station in front", lambda n: room.findings.show_findings(some, room.ids[n % 8]))
    plan = room.document.plan
    assert plan is not None
    from msgspec import structs

    room.document.plan = structs.replace(plan, findings=some)
    timed("switch of station with sixty checks", lambda n: room.show_station(room.ids[n % 8]))
    timed("change of theme with sixty checks", lambda _n: room.do("theme"))


if __name__ == "__main__":
    main()
