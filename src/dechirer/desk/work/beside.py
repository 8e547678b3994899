"""One piece of work at a time beside the window: what it gives arrives as a signal."""

from __future__ import annotations

import threading
import weakref
from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from dechirer.core.stopping import Stopped, may_be_stopped
from dechirer.desk.work.messenger import Messenger, start_with


class Beside(QObject):
    """Runs a function in a thread of its own. A newer one takes the place of an older: nothing comes of that.

    Signals:
        told(value): what the function told on its way.
        done(result): what the function gave.
        refused(text): it could not: a file was bad, or could not be opened.
        failed(error): it ended by a fault of ours.
    """

    told = pyqtSignal(object)
    done = pyqtSignal(object)
    refused = pyqtSignal(str)
    failed = pyqtSignal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._number = 0
        self._newest = [0]
        """The number that is worked on, for the thread to ask; it outlives this object. Told by the interpreter when
        that is gone: what was connected to `destroyed` may be collected before it is called, which ends the process."""
        weakref.finalize(self, self._newest.__setitem__, 0, -1).atexit = False
        self._thread: threading.Thread | None = None
        self._is_busy = False
        self._messenger = Messenger()
        self._messenger.told.connect(self._take)

    @property
    def is_busy(self) -> bool:
        """Whether something is being worked out."""
        return self._is_busy

    def run(self, work: Callable[[], object]) -> None:
        """Begin; errors of files and values are told in their own words."""
        self.run_telling(lambda _tell: work())

    def run_telling(self, work: Callable[[Callable[[object], None]], object]) -> None:
        """As `run`; the work is given a function by which it tells how far it is."""
        self._number += 1
        number, self._is_busy, messenger = self._number, True, self._messenger
        newest = self._newest
        newest[0] = number

        def tell(value: object) -> None:
            messenger.told.emit((number, "told", value))

        def go() -> None:
            found: object = None
            try:
                with may_be_stopped(lambda: number != newest[0]):
                    found, how = work(tell), "done"
            except Stopped:
                return
            except OSError as error:
                found, how = f"{error.filename or 'the file'}: {error.strerror or error}", "refused"
            except ValueError as error:
                found, how = str(error), "refused"
            except Exception as error:  # noqa: BLE001 - the outermost boundary of this thread
                found, how = error, "failed"
            messenger.told.emit((number, how, found))

        self._thread = threading.Thread(target=go, name="beside", daemon=True)
        start_with(messenger, self._thread)

    def stop(self) -> None:
        """Give up what is under way, at its next checkpoint."""
        self._number += 1
        self._newest[0] = self._number
        self._is_busy = False

    def _take(self, told: tuple[int, str, object]) -> None:
        number, how, found = told
        if number != self._number:
            return
        if how == "told":
            self.told.emit(found)
            return
        self._is_busy = False
        if how == "done":
            self.done.emit(found)
        elif how == "refused":
            self.refused.emit(str(found))
        else:
            self.failed.emit(found)
