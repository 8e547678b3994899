"""What a thread tells the window by. It belongs to the thread as much as to the window, so that it is still there when
the window goes first: a signal of an object that is being destroyed would end the application.
"""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal


class Messenger(QObject):
    """Has no parent; what its signal is connected to may go whenever it likes.

    Signals:
        told(what): something the thread has to say; delivered in the thread of who listens.
    """

    told = pyqtSignal(object)
