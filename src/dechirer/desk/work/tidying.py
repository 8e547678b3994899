"""Looking for values that hold each other in circles, when nobody waits, and by the window's own thread.

A plan makes many small values and hardly any circle. Python looks through all of them every now and then, which takes
longer the more there are: 90 ms for a dressed job, and several times that after an hour; and it does so in whatever
thread is at work, where a widget that is found must not be taken apart. So Python is told not to. It is done here when
the maker pauses, and what has been looked through once is left alone until a long pause.
"""

from __future__ import annotations

import contextlib
import ctypes
import gc

from PyQt6.QtCore import QObject, Qt, QTimer
from PyQt6.QtGui import QGuiApplication

from dechirer.desk.work.document import Document

MOST_PLANS = 200
"""After so many plans without a pause what is new is looked through all the same: a few milliseconds."""
M_ARENA_MAX = -8
"""Of glibc's `malloc.h`."""
PAUSE_MS = 3_000
LONG_PAUSE_MS = 60_000


def use_one_heap() -> None:
    """Have all threads take their memory from one heap: the C library gives each a heap of its own, of which what was
    freed stays with it. A window then holds 140 MB after an hour of work instead of 220.

    Before the first thread is begun; another C library than glibc goes on as it does.
    """
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL("libc.so.6").mallopt(M_ARENA_MAX, 1)


class Tidier(QObject):
    """Tidies up `PAUSE_MS` after the last plan of a document, and thoroughly after `LONG_PAUSE_MS`."""

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self._pauses = []
        for pause, run in ((PAUSE_MS, self.tidy), (LONG_PAUSE_MS, self.tidy_all)):
            timer = QTimer(self)
            timer.setSingleShot(True)
            timer.setInterval(pause)
            timer.timeout.connect(run)
            document.planned.connect(timer.start)
            self._pauses.append(timer)
        self._plans = 0
        document.planned.connect(self._count)
        gc.disable()

    def _count(self) -> None:
        self._plans += 1
        if self._plans >= MOST_PLANS:
            self._plans = 0
            gc.collect(1)

    def tidy(self) -> None:
        """Look through what is new since the last time."""
        if QGuiApplication.mouseButtons() != Qt.MouseButton.NoButton:
            self._pauses[0].start()
            return
        self._plans = 0
        gc.collect()
        gc.freeze()

    def tidy_all(self) -> None:
        """Look through everything."""
        gc.unfreeze()
        self.tidy()
