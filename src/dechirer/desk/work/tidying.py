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
import sys
import time

from PyQt6.QtCore import QObject, Qt, QTimer
from PyQt6.QtGui import QGuiApplication, QPixmapCache

from dechirer.core.memory import forget
from dechirer.desk.work.document import Document

MOST_PLANS = 200
"""After so many plans without a pause what is new is looked through all the same."""
MOST_S = 0.1
"""What would take longer is left alone: a large job's values, which hold no circles, and whatever lies among them."""
FIRST_S_EACH = 0.5e-6
"""What one value takes to look at, until it has been measured."""
ENOUGH_TO_TELL = 20_000
"""So many values tell how long one takes."""
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


def give_back() -> None:
    """Give memory that was freed back to the system: the C library keeps what lies between things still in use.

    Two caches lie between it, and are emptied first: Python's of methods, which keeps up to 4,096 names that C code
    made for one call each (NumPy's does), every one on a page that would be free but for it; and Qt's of pixmaps.
    """
    clear = getattr(sys, "_clear_type_cache", None)
    if clear is not None:
        clear()
    QPixmapCache.clear()
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL("libc.so.6").malloc_trim(0)


def count_new() -> int:
    """How many values have come since what there was was last left alone. Python's own count will not do: it is less
    by each old value that went.

    In one call of the interpreter, so that no other thread comes between: one that is about to make a tuple would find
    it held by the list as well, which ends it with a `SystemError`.
    """
    return next(map(len, iter(gc.get_objects, None)))


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
        self._s_each = FIRST_S_EACH
        document.planned.connect(self._count)
        gc.disable()
        gc.freeze()  # what there is by now is not this window's, or stays as long as it does

    def _count(self) -> None:
        self._plans += 1
        if self._plans >= MOST_PLANS:
            self._look_through()

    def tidy(self) -> None:
        """Look through what is new since the last time."""
        if QGuiApplication.mouseButtons() != Qt.MouseButton.NoButton:
            self._pauses[0].start()
            return
        self._look_through()

    def tidy_all(self) -> None:
        """Look through everything, where that does not take long, forget what is soon found again, and give back what
        is free."""
        forget()
        if self._takes(gc.get_freeze_count() + count_new()) <= MOST_S:
            gc.unfreeze()
        self.tidy()
        give_back()

    def _takes(self, values: int) -> float:
        """About how many seconds so many values take to look through."""
        return values * self._s_each

    def _look_through(self) -> None:
        self._plans = 0
        values = count_new()
        if self._takes(values) <= MOST_S:
            began = time.thread_time()
            gc.collect()
            if values >= ENOUGH_TO_TELL:
                self._s_each = max(FIRST_S_EACH, (time.thread_time() - began) / values)
        gc.freeze()
