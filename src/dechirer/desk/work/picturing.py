"""A picture of the card into a file, off the GUI thread."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog

from dechirer.core.decide.letters import make_file_name
from dechirer.core.plan import Plan
from dechirer.desk.work.document import Document
from dechirer.desk.work.settings import Settings
from dechirer.drawing.scenes.portrait import View

if TYPE_CHECKING:
    from dechirer.desk.stations.base import Station
    from dechirer.desk.window import MainWindow


class Picturing(QObject):
    """Asks for a file and writes the picture of the plan that is shown, with the card as it was turned by hand.

    Signals:
        ended(why): it is written (`why` empty), or it failed (`why` says so).
        failed(error): it ended by a fault of ours.
    """

    ended = pyqtSignal(str)
    failed = pyqtSignal(object, str)

    def __init__(
        self, window: MainWindow, document: Document, settings: Settings, stations: Mapping[str, Station]
    ) -> None:
        super().__init__(window)
        self._stations = stations
        self.window, self.document, self.settings = window, document, settings
        self._thread: threading.Thread | None = None
        self._path = Path()
        self.ended.connect(self._say)

    def ask(self) -> None:
        """Ask where to, and write."""
        begin = Path(self.settings.folder) / f"{make_file_name(self.document.job.name)}.png"
        name, _ = QFileDialog.getSaveFileName(
            self.window, "A picture of the card", str(begin), "Picture (*.png);;Page (*.pdf)"
        )
        if name:
            self.write(Path(name))

    def write(self, path: Path) -> None:
        """Write the picture; one at a time."""
        plan = self.document.plan
        if plan is None or self._thread is not None:
            return
        self._path = path if path.suffix.lower() in (".png", ".pdf") else path.with_name(f"{path.name}.png")
        self.settings.folder = str(path.parent)
        self.window.banners.say("picture", "note", f"Drawing {self._path.name}…")
        self._thread = threading.Thread(target=self._work, args=(plan, self._seen()), name="picture", daemon=True)
        self._thread.start()

    def _seen(self) -> View | None:
        """How the card was turned by hand, in any station."""
        views = [view.turned_view for each in self._stations.values() for view in each.folded_views]
        return next((view for view in views if view is not None), None)

    def _work(self, plan: Plan, seen: View | None) -> None:
        from dechirer.formats.card_picture import write_picture

        try:
            write_picture(plan, self._path, seen)
        except OSError as error:
            self.ended.emit(error.strerror or str(error))
        except Exception as error:  # noqa: BLE001 - the outermost boundary of this thread
            self.failed.emit(error, "picture")
            self.ended.emit("a mistake in Dechirer itself stopped it")
        else:
            self.ended.emit("")

    def _say(self, why: str) -> None:
        self.end()
        if why:
            self.window.banners.say("picture", "stop", f"{self._path.name} was not written: {why}.")
        else:
            self.window.banners.say("picture", "note", f"The card's picture is {self._path}.", seconds=10)

    def end(self) -> None:
        """Wait until a picture under way is written."""
        if self._thread is not None:
            self._thread.join(timeout=60)
            self._thread = None
