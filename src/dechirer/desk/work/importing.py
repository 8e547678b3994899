"""Brings files in: read off the GUI thread, with a Stop button when it takes long; the open job stays as it is."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QByteArray, QMimeData, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QProgressDialog, QWidget

from dechirer.core.brought import Art, FontFile
from dechirer.core.stopping import Stopped, may_be_stopped

PATIENCE_MS = 600
"""After this long the maker is shown that something is being read."""


class Importer(QObject):
    """Reads one file at a time. Signals arrive on the GUI thread.

    Signals:
        art_read(art), font_read(font): what was in the file.
        refused(text): why it was not taken.
    """

    art_read = pyqtSignal(object)
    font_read = pyqtSignal(object)
    refused = pyqtSignal(str)
    _done = pyqtSignal(int, object)

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._window = window
        self._number = 0
        self._box: QProgressDialog | None = None
        self._done.connect(self._take)
        self._patience = QTimer(self)
        self._patience.setSingleShot(True)
        self._patience.timeout.connect(self._show_wait)
        self._name = ""
        self._thread: threading.Thread | None = None

    @property
    def is_busy(self) -> bool:
        """Whether a file is being read."""
        return bool(self._name)

    def read_file(self, path: Path, taken: set[str], fonts: set[str]) -> None:
        """Read art or a typeface from a file."""
        from dechirer.formats.art.read import read_bytes

        self._start(path.name, lambda: _read(read_bytes(path), path.name, taken, fonts))

    def read_data(self, data: bytes, name: str, taken: set[str], fonts: set[str]) -> None:
        """Read art that was pasted or dropped."""
        self._start(name, lambda: _read(data, name, taken, fonts))

    def _start(self, name: str, work: Callable[[], Art | FontFile]) -> None:
        self._number += 1
        number, self._name = self._number, name

        def run() -> None:
            try:
                with may_be_stopped(lambda: number != self._number):
                    found: object = work()
            except Stopped:
                return
            except (ValueError, OSError) as error:
                found = str(error)
            except Exception as error:  # noqa: BLE001 - a stranger's file must never take the window down
                found = f"{name}: cannot be read ({type(error).__name__})"
            try:
                self._done.emit(number, found)
            except RuntimeError:
                return  # the window is gone

        self._thread = threading.Thread(target=run, name="importer", daemon=True)
        self._thread.start()
        self._patience.start(PATIENCE_MS)

    def _show_wait(self) -> None:
        self._box = QProgressDialog(f"Reading {self._name} …", "Stop", 0, 0, self._window)
        self._box.setObjectName("import-wait")
        self._box.setWindowModality(Qt.WindowModality.WindowModal)
        self._box.canceled.connect(self.stop)
        self._box.show()

    def stop(self) -> None:
        """Give up: the reading stops at its next checkpoint, and nothing comes of it."""
        self._number += 1
        self._end_wait()

    def _end_wait(self) -> None:
        self._patience.stop()
        self._name = ""
        if self._box is not None:
            box, self._box = self._box, None
            box.canceled.disconnect()
            box.close()
            box.deleteLater()

    def _take(self, number: int, found: object) -> None:
        if number != self._number:
            return
        self._end_wait()
        if isinstance(found, Art):
            self.art_read.emit(found)
        elif isinstance(found, FontFile):
            self.font_read.emit(found)
        else:
            self.refused.emit(str(found))


def _read(data: bytes, name: str, taken: set[str], fonts: set[str]) -> Art | FontFile:
    from dechirer.desk.work.licensing import as_known
    from dechirer.formats.art.read import kind_of, read_art, read_font

    if kind_of(data) == "font":
        return as_known(read_font(data, name, fonts))
    return as_known(read_art(data, name, taken))


def takes(mime: QMimeData | None) -> bool:
    """Whether something dragged or copied holds art."""
    if mime is None:
        return False
    if mime.hasUrls() and any(url.isLocalFile() for url in mime.urls()):
        return True
    return mime.hasImage() or mime.hasFormat("image/svg+xml") or mime.text().lstrip().startswith(("<svg", "<?xml"))


def job_in(mime: QMimeData | None) -> Path | None:
    """The job file among what was dropped, or None."""
    urls = mime.urls() if mime is not None else []
    files = [Path(url.toLocalFile()) for url in urls if url.isLocalFile()]
    return next((path for path in files if path.suffix.lower() == ".dechirer"), None)


def contents(mime: QMimeData) -> tuple[list[Path], bytes, str]:
    """What was dragged or copied: files, or else data with a name."""
    files = [Path(url.toLocalFile()) for url in mime.urls() if url.isLocalFile()]
    if files:
        return files, b"", ""
    if mime.hasFormat("image/svg+xml"):
        return [], mime.data("image/svg+xml").data(), "pasted.svg"
    text = mime.text().lstrip()
    if text.startswith(("<svg", "<?xml")):
        return [], text.encode(), "pasted.svg"
    if mime.hasImage():
        from PyQt6.QtCore import QBuffer
        from PyQt6.QtGui import QImage

        image = mime.imageData()
        store = QByteArray()
        buffer = QBuffer(store)
        buffer.open(QBuffer.OpenModeFlag.WriteOnly)
        if isinstance(image, QImage):
            image.save(buffer, "PNG")
        return [], store.data(), "pasted.png"
    return [], b"", ""
