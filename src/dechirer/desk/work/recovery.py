"""Offers the unsaved work of windows that are gone: one after the other, each by this window alone."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from dechirer.desk.widgets.banner import Banners

if TYPE_CHECKING:
    from dechirer.formats.job.journal import Recovered


class Recovery(QObject):
    """Looks for journals off the GUI thread and offers what is in them.

    Signals:
        failed(error): the state folder could not be looked through.
    """

    failed = pyqtSignal(object)
    _found = pyqtSignal(object)

    def __init__(self, folder: Path, banners: Banners, take_up: Callable[[Recovered], bool], parent: QObject) -> None:
        """`take_up` puts recovered work into the window; False when the maker thinks better of it."""
        super().__init__(parent)
        self._folder, self._banners, self._take_up = folder, banners, take_up
        self._offered: list[Recovered] = []
        self._is_ended = False
        self._thread: threading.Thread | None = None
        self._found.connect(self._offer)

    def look(self) -> None:
        """Look for work to offer, and offer it when there is any."""
        if self._thread is None and self._folder.is_dir():
            self._thread = threading.Thread(target=self._look, name="recovery", daemon=True)
            self._thread.start()

    def _look(self) -> None:
        from dechirer.formats.job.journal import find_recovered, let_go

        try:
            found = find_recovered(self._folder)
        except OSError as error:
            self.failed.emit(error)
            return
        if self._is_ended:
            for each in found:
                let_go(each)
        elif found:
            self._found.emit(found)

    def _offer(self, found: list[Recovered]) -> None:
        self._offered = found
        newest = found[0]
        origin = f" from {newest.path.name}" if newest.path else ""
        more = f" ({len(found) - 1} more after this one.)" if len(found) > 1 else ""
        self._banners.say(
            "recovered",
            "look",
            f"Dechirer was ended before “{newest.job.name}”{origin} was saved. Its unsaved work is kept.{more}",
            [("Take it up", self.take_up), ("Drop it", self.drop)],
        )

    def take_up(self) -> None:
        """Put the work that is offered into the window."""
        if self._offered and self._take_up(self._offered[0]):
            self.drop()

    def drop(self) -> None:
        """Forget the work that is offered, and offer the next."""
        from dechirer.formats.job.journal import forget

        if not self._offered:
            return
        first, *rest = self._offered
        self._offered = rest
        self._banners.drop("recovered")
        try:
            forget(first)
        except OSError as error:
            self.failed.emit(error)
        if rest:
            self._offer(rest)

    def end(self) -> None:
        """Leave what was not answered to the next window."""
        from dechirer.formats.job.journal import let_go

        self._is_ended = True
        if self._thread is not None:
            self._thread.join(timeout=10)
        for each in self._offered:
            let_go(each)
        self._offered = []
