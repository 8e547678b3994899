"""Start-up: first paint of the frame and the demo job drawn, against an empty PyQt6 window of the same size.

Each figure is from process start (as the parent counts it) in a process of its own, offscreen, in turn with the
yardstick so that a slow spell of the machine hits both.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import time

from bench.table import show, spread, verdict

EMPTY = """
import sys, time
started = float(sys.argv[1])
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QMainWindow
class Window(QMainWindow):
    done = False
    def paintEvent(self, event):
        super().paintEvent(event)
        if not self.done:
            self.done = True
            QTimer.singleShot(0, self.tell)
    def tell(self):
        print("painted", time.time() - started)
        app.quit()
app = QApplication([])
window = Window()
window.resize(1280, 800)
window.show()
app.exec()
"""

OURS = """
import sys, time
started = float(sys.argv[1])
from dechirer.desk import start
furnish = start.furnish
def timed(window, job_file=None):
    print("painted", time.time() - started)
    furnish(window, job_file)
    room = window.room
    view = room.stations["brief"].card
    paint = view.paintEvent
    def drawn(event):
        paint(event)
        if view.display is not None:
            print("drawn", time.time() - started, flush=True)
            import os
            os._exit(0)
    view.paintEvent = drawn
start.furnish = timed
start.run_desk()
"""


def run_once(code: str) -> dict[str, float]:
    """Milliseconds by name, as one process prints them."""
    # As on a maker's machine: compiled modules are kept from one start to the next.
    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    env.pop("PYTHONDONTWRITEBYTECODE", None)
    done = subprocess.run(
        [sys.executable, "-c", code, str(time.time())], capture_output=True, text=True, check=True, env=env
    )
    return {line.split()[0]: 1000 * float(line.split()[1]) for line in done.stdout.splitlines()}


def main(runs: int = 15) -> None:
    """Measure and print."""
    run_once(EMPTY), run_once(OURS)
    empty, painted, drawn = [], [], []
    for _ in range(runs):
        empty.append(run_once(EMPTY)["painted"])
        ours = run_once(OURS)
        painted.append(ours["painted"])
        drawn.append(ours["drawn"])
    base = statistics.median(empty)
    ratios = (statistics.median(painted) / base, statistics.median(drawn) / base)
    show(
        f"Start-up, {runs} runs in turn (yardstick: an empty 1280 x 800 PyQt6 window, {spread(empty)})",
        [
            (
                "first paint of our window",
                spread(painted),
                f"{ratios[0]:.2f} x the empty window, wanted 2",
                verdict(ratios[0] <= 2),
            ),
            ("demo job drawn", spread(drawn), f"{ratios[1]:.2f} x the empty window, wanted 5", verdict(ratios[1] <= 5)),
        ],
    )


if __name__ == "__main__":
    main()
