"""An application that measures itself: how long each event took of the GUI thread's own time, and in what."""

from __future__ import annotations

import time

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QApplication


class Watched(QApplication):
    """Keeps the longest event since it was last asked; time the machine gave to others does not count."""

    def __init__(self, arguments: list[str]) -> None:
        super().__init__(arguments)
        self.longest_ms = 0.0
        self.longest_in = ""
        self._depth = 0

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        """Deliver an event, and measure the outermost ones."""
        if self._depth:
            return super().notify(receiver, event)
        # Named before it is delivered: afterwards the receiver may be gone.
        told = f"{type(event).__name__} {event.type().name if event else ''} of {_name_of(receiver)}"
        self._depth += 1
        began = time.thread_time()
        try:
            return super().notify(receiver, event)
        finally:
            self._depth -= 1
            took = 1000 * (time.thread_time() - began)
            if took > self.longest_ms:
                self.longest_ms, self.longest_in = took, told

    def take_longest(self) -> tuple[float, str]:
        """The longest event since the last call, in ms, and what it was."""
        found = self.longest_ms, self.longest_in
        self.longest_ms, self.longest_in = 0.0, ""
        return found


def _name_of(receiver: QObject | None) -> str:
    if receiver is None:
        return "nothing"
    return f"{type(receiver).__name__} {receiver.objectName()}".strip()
