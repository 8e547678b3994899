"""An application that measures itself: how long each event took of the GUI thread's own time, and in what."""

from __future__ import annotations

import os
import resource
import sys
import threading
import time
from collections import Counter, deque
from collections.abc import Callable
from types import FrameType

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtWidgets import QApplication

LOOK_EVERY_S = 0.01
LOOK_AFTER_S = 0.04
"""An event that has run for so long is looked at, so often: where it is."""
MOST_PLACES = 3
MOST_CALLS = 7


class Watched(QApplication):
    """Keeps the longest event since it was last asked; time the machine gave to others does not count."""

    def __init__(self, arguments: list[str]) -> None:
        super().__init__(arguments)
        self.longest_ms = 0.0
        self.longest_in = ""
        self._depth = 0
        self._best = min(_yardstick() for _ in range(20))
        self._looker = _Looker(threading.get_ident())
        self._looker.start()

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        """Deliver an event, and measure the outermost ones."""
        if self._depth:
            return super().notify(receiver, event)
        # Named before it is delivered: afterwards the receiver may be gone.
        told = f"{type(event).__name__} {event.type().name if event else ''} of {_name_of(receiver)}"
        self._depth += 1
        self._looker.since = started = time.monotonic()
        began, system = time.thread_time(), _system_s()
        try:
            return super().notify(receiver, event)
        finally:
            self._depth -= 1
            took = 1000 * (time.thread_time() - began)
            told += f", {1000 * (_system_s() - system):.0f} ms of it in the kernel"
            if took > 1000 * LOOK_AFTER_S:
                stolen = 1000 * self._looker.stolen_s(started)
                took, told = took - stolen, f"{told}, {stolen:.0f} ms besides taken by other machines"
            self._looker.since = None
            seen = self._looker.take_places()
            if took > self.longest_ms:
                self.longest_ms, self.longest_in = took, told + seen

    def time_act(self, act: Callable[[], object]) -> float:
        """Milliseconds of this thread for what a maker does; what it sends on is a part of it, as within an event."""
        self._depth += 1
        began = time.thread_time()
        try:
            act()
        finally:
            self._depth -= 1
        return 1000 * (time.thread_time() - began)

    def how_slow(self) -> float:
        """How many times as long the machine takes now for what it did when nothing else ran; 1 at least."""
        now = min(_yardstick() for _ in range(3))
        self._best = min(self._best, now)
        return now / self._best

    def take_longest(self) -> tuple[float, str]:
        """The longest event since the last call, in ms, and what it was."""
        found = self.longest_ms, self.longest_in
        self.longest_ms, self.longest_in = 0.0, ""
        return found


def _system_s() -> float:
    """Seconds the kernel has worked for this thread."""
    return resource.getrusage(resource.RUSAGE_THREAD).ru_stime


def _yardstick() -> float:
    """Seconds of this thread for a fixed piece of painting and of Python."""
    began = time.thread_time()
    picture = QImage(500, 500, QImage.Format.Format_RGB32)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for number in range(60):
        painter.setBrush(QColor.fromHsv(6 * number, 90, 200))
        painter.drawEllipse(number, number, 420, 400)
    painter.end()
    sum(number % 7 for number in range(20_000))
    return time.thread_time() - began


class _Looker(threading.Thread):
    """Looks now and then where the GUI thread is while an event lasts."""

    def __init__(self, watched: int) -> None:
        super().__init__(name="looker", daemon=True)
        self.since: float | None = None
        self._watched = watched
        self._places: Counter[str] = Counter()
        allowed = os.sched_getaffinity(0)
        self._processor = next(iter(allowed)) if len(allowed) == 1 else -1
        self._stolen: deque[tuple[float, float]] = deque(maxlen=2000)

    def run(self) -> None:
        """Look until the process ends."""
        while True:
            time.sleep(LOOK_EVERY_S)
            if self._processor >= 0:
                self._stolen.append((time.monotonic(), _stolen_s(self._processor)))
            since = self.since
            if since is not None and time.monotonic() - since > LOOK_AFTER_S:
                frame = sys._current_frames().get(self._watched)
                if frame is not None:
                    self._places[_tell(frame)] += 1
                del frame  # it holds what it works on, and all frames before it: a whole window, when that is closed

    def stolen_s(self, since: float) -> float:
        """How many seconds since then the machine below this virtual one gave to others; it counts them as ours. Told
        where one processor alone is used; 0 elsewhere."""
        before = next((stolen for when, stolen in reversed(self._stolen) if when <= since), None)
        return 0.0 if before is None else max(0.0, _stolen_s(self._processor) - before)

    def take_places(self) -> str:
        """Where it was seen most since the last call, a line each; empty when the event was short."""
        if not self._places:
            return ""
        places, self._places = self._places, Counter()
        return "".join(f"\n    seen {count}x in {place}" for place, count in places.most_common(MOST_PLACES))


def _stolen_s(processor: int) -> float:
    """Seconds a processor would have run and was not let, as Linux tells (proc(5), `steal`)."""
    with open("/proc/stat", encoding="ascii") as stat:
        own = next((line.split() for line in stat if line.startswith(f"cpu{processor} ")), [])
    return int(own[8]) / os.sysconf("SC_CLK_TCK") if len(own) > 8 else 0.0


def _tell(frame: FrameType | None) -> str:
    calls: list[str] = []
    while frame is not None and len(calls) < MOST_CALLS:
        name = frame.f_code.co_filename.rpartition("/")[2]
        if name != "watch.py":
            calls.append(f"{name}:{frame.f_lineno} {frame.f_code.co_name}")
        frame = frame.f_back
    return " < ".join(calls)


def _name_of(receiver: QObject | None) -> str:
    if receiver is None:
        return "nothing"
    return f"{type(receiver).__name__} {receiver.objectName()}".strip()
