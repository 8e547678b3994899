"""The one guard: an error anywhere is logged, the journal brought up to date, and told; the window goes on.

PyQt ends the process when an exception leaves a slot and nobody has put a hook there. The hook is put there before the
window is made, so that whatever goes wrong afterwards, in a slot, a timer, a paint or a thread, comes here.
"""

from __future__ import annotations

import sys
import threading
from collections.abc import Callable
from functools import partial
from types import TracebackType

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from dechirer.desk.work.fault_log import Fault, FaultLog, make_fault


class Guard(QObject):
    """Catches what nobody else has caught, on every thread.

    Signals:
        caught(fault): on the GUI thread, after the fault has been logged.
    """

    caught = pyqtSignal(object)

    def __init__(self, log: FaultLog, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.log = log
        self.count = 0
        self.last: Fault | None = None
        self.doing = ""
        self._is_telling = False
        self._before: tuple[Callable[..., object], Callable[..., object]] | None = None

    def install(self) -> None:
        """Take over the hooks of the interpreter and of its threads."""
        self._before = (sys.excepthook, threading.excepthook)
        sys.excepthook = self._hook
        threading.excepthook = self._hook_of_thread

    def remove(self) -> None:
        """Give the hooks back."""
        if self._before is not None:
            sys.excepthook, threading.excepthook = self._before
            self._before = None

    def report(self, error: BaseException, doing: str = "") -> None:
        """Log an error that was caught, and tell it."""
        self._take(make_fault(error, doing or self.doing))

    def _hook(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        try:
            self._take(make_fault(error, self.doing, trace))
        except RecursionError:
            # As deep as it went nothing more can be called: it is told when the window is back in its loop.
            QTimer.singleShot(0, partial(self._hook, kind, error, trace))

    def _hook_of_thread(self, args: threading.ExceptHookArgs) -> None:
        if args.exc_value is not None and not isinstance(args.exc_value, SystemExit):
            name = args.thread.name if args.thread is not None else "a thread"
            self._take(make_fault(args.exc_value, name, args.exc_traceback))

    def _take(self, fault: Fault) -> None:
        self.count, self.last = self.count + 1, fault
        try:
            self.log.write(fault)
            if self._is_telling:
                return  # what fails while a fault is told is logged, and not told in its turn
            self._is_telling = True
            try:
                self.caught.emit(fault)
            finally:
                self._is_telling = False
        except Exception:  # noqa: BLE001 - the guard itself must not fail; the terminal is the last place to say it
            print(f"dechirer: {fault.tell(whole=True)}", file=sys.stderr)
