"""What is dropped anywhere on the window: a job file is opened, anything else is brought in as art."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QEvent, QMimeData, QObject
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QWidget

from dechirer.desk.work.importing import job_in, takes


class Drops(QObject):
    """Watches a window. `open_job(path)` is called for a job file, `bring_in(mime)` for everything else it takes."""

    def __init__(
        self, window: QWidget, open_job: Callable[[Path], None], bring_in: Callable[[QMimeData | None], None]
    ) -> None:
        super().__init__(window)
        self._window, self._open_job, self._bring_in = window, open_job, bring_in
        window.setAcceptDrops(True)
        window.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QDragEnterEvent) and takes(event.mimeData()):
            event.acceptProposedAction()
            return True
        if isinstance(event, QDropEvent) and watched is self._window and takes(event.mimeData()):
            event.acceptProposedAction()
            job = job_in(event.mimeData())
            if job is not None:
                self._open_job(job)
            else:
                self._bring_in(event.mimeData())
            return True
        return super().eventFilter(watched, event)
