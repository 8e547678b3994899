"""What a thread tells the window by. It is kept until the thread has ended, and let go of in the window's own thread: a
signal of an object that is being destroyed would end the application, and so would destroying one in another thread.
"""

from __future__ import annotations

import threading

from PyQt6.QtCore import QObject, pyqtSignal


class Messenger(QObject):
    """Has no parent; what its signal is connected to may go whenever it likes.

    Signals:
        told(what): something the thread has to say; delivered in the thread of who listens.
    """

    told = pyqtSignal(object)


_kept: list[tuple[threading.Thread, Messenger]] = []


def start_with(messenger: Messenger, thread: threading.Thread) -> None:
    """Start a thread that tells something by a messenger. Called in the window's thread."""
    _kept[:] = [(each, used) for each, used in _kept if each.is_alive()]
    thread.start()
    _kept.append((thread, messenger))
