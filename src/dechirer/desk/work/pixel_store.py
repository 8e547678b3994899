"""Pictures for the screen, decoded by a thread of their own: a photograph takes longer than a window may wait."""

from __future__ import annotations

import logging
import threading
from queue import SimpleQueue

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from dechirer.core.brought import Pixels
from dechirer.drawing.rasters import Previews, decode_small


class PixelStore(QObject):
    """Gives pictures as they can be painted.

    Signals:
        ready(): another picture has been decoded; what shows one is to be painted again.
    """

    ready = pyqtSignal()
    _done = pyqtSignal(object, int, int, bytes)

    def __init__(self) -> None:
        super().__init__()
        self._previews = Previews()
        self._asked: dict[int, Pixels] = {}
        self._queue: SimpleQueue[Pixels] = SimpleQueue()
        self._thread: threading.Thread | None = None
        self._done.connect(self._take)

    @property
    def is_busy(self) -> bool:
        """Whether something is being decoded."""
        return bool(self._asked)

    def image(self, pixels: Pixels) -> QImage | None:
        """The picture, or None while it is being decoded."""
        found: QImage | None = self._previews.find(pixels)
        if found is None and id(pixels) not in self._asked:
            self._asked[id(pixels)] = pixels
            self._queue.put(pixels)
            if self._thread is None:
                self._thread = threading.Thread(target=self._work, name="pixels", daemon=True)
                self._thread.start()
        return found

    def _work(self) -> None:
        while True:
            pixels = self._queue.get()
            try:
                image = decode_small(pixels)
                made = (image.width, image.height, image.tobytes())
            except Exception:
                logging.getLogger(__name__).exception("a picture cannot be shown")
                made = (1, 1, bytes(4))
            try:
                self._done.emit(pixels, *made)
            except RuntimeError:
                return  # the application is gone

    def _take(self, pixels: Pixels, width: int, height: int, data: bytes) -> None:
        self._asked.pop(id(pixels), None)
        image = QImage(data, width, height, 4 * width, QImage.Format.Format_RGBA8888)
        painted = image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)
        self._previews.keep(pixels, painted)
        self.ready.emit()


store = PixelStore()
