"""Small pictures of jobs, worked out off the GUI thread one after the other."""

from __future__ import annotations

import threading
import weakref
from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from dechirer.core.job.model import Job
from dechirer.core.plan import Plan
from dechirer.desk.work.messenger import Messenger, start_with
from dechirer.drawing.display import Display

Made = tuple[str, Callable[[], Job]]
"""The key of a picture, and what reads its job."""


class SmallPictures(QObject):
    """Plans jobs and draws them. Emits `made(key, display)`; a job that cannot be read or planned has no picture."""

    made = pyqtSignal(str, object)

    def __init__(
        self,
        wanted: list[Made],
        show: Callable[[str, Display], None],
        parent: QObject,
        draw: Callable[[Plan], Display] | None = None,
    ) -> None:
        """`show` takes what is made; `draw` draws a plan, the finished card from the front without it."""
        super().__init__(parent)
        self.made.connect(show)  # before the work begins: the first picture may be there at once
        self._messenger = Messenger()
        self._messenger.told.connect(self._pass_on)
        self._ended = threading.Event()
        weakref.finalize(self, self._ended.set).atexit = False  # with its window, if that goes first
        work = (wanted, draw, self._ended, self._messenger)
        self._thread = threading.Thread(target=_work, args=work, name="small pictures", daemon=True)
        start_with(self._messenger, self._thread)

    def wait(self) -> None:
        """Wait until all are made."""
        self._thread.join(timeout=60)

    def end(self) -> None:
        """Stop the work and wait for it."""
        self._ended.set()
        self._thread.join(timeout=10)

    def _pass_on(self, made: tuple[str, Display]) -> None:
        self.made.emit(*made)


def _work(
    wanted: list[Made], draw: Callable[[Plan], Display] | None, ended: threading.Event, messenger: Messenger
) -> None:
    """Plan and draw what is wanted, until told to end. The thread touches nothing of the window."""
    from dechirer.core.plan import make_plan
    from dechirer.core.stopping import Stopped, may_be_stopped
    from dechirer.drawing.scenes.portrait import make_portrait

    for key, read in wanted:
        try:
            with may_be_stopped(ended.is_set):
                plan = make_plan(read())
                display = draw(plan) if draw is not None else make_portrait(plan)[0][1]
        except Stopped:
            return
        except Exception:  # noqa: BLE001 - a stranger's file must not spoil the page; opening it says what is wrong
            continue
        if ended.is_set():
            return
        messenger.told.emit((key, display))
