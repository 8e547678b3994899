"""Small pictures of jobs, worked out off the GUI thread one after the other."""

from __future__ import annotations

import threading
from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from dechirer.core.job.model import Job
from dechirer.core.plan import Plan
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
        self._draw = draw
        self.made.connect(show)  # before the work begins: the first picture may be there at once
        self._wanted, self._ended = wanted, threading.Event()
        self.destroyed.connect(self._ended.set)  # with its window, if that goes first
        self._thread = threading.Thread(target=self._work, name="small pictures", daemon=True)
        self._thread.start()

    def wait(self) -> None:
        """Wait until all are made."""
        self._thread.join(timeout=60)

    def end(self) -> None:
        """Stop the work and wait for it."""
        self._ended.set()
        self._thread.join(timeout=10)

    def _work(self) -> None:
        from dechirer.core.plan import make_plan
        from dechirer.core.stopping import Stopped, may_be_stopped
        from dechirer.drawing.scenes.portrait import make_portrait

        for key, read in self._wanted:
            try:
                with may_be_stopped(self._ended.is_set):
                    plan = make_plan(read())
                    display = self._draw(plan) if self._draw is not None else make_portrait(plan)[0][1]
            except Stopped:
                return
            except Exception:  # noqa: BLE001 - a stranger's file must not spoil the page; opening it says what is wrong
                continue
            try:
                self.made.emit(key, display)
            except RuntimeError:
                return  # the window is gone
