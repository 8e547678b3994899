"""Prints exported sheets at true size, off the GUI thread."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, QRectF, QSizeF, pyqtSignal
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPainter
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QDialog

from dechirer.core.words import count
from dechirer.desk.window import MainWindow

PPI = 300
POINTS = 72.0


class SheetPrinter(QObject):
    """Prints the pages of some PDFs.

    Signals:
        ended(pages, why): all pages are printed (`why` empty), or it was stopped or failed.
        failed(error): an internal error.
    """

    ended = pyqtSignal(int, str)
    failed = pyqtSignal(object)

    def __init__(self, printer: QPrinter, files: list[Path], parent: QObject) -> None:
        super().__init__(parent)
        self._printer, self._files = printer, files
        self._stopped = threading.Event()
        self._thread = threading.Thread(target=self._work, name="printing", daemon=True)

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    def stop(self) -> None:
        """Stop after the page under way."""
        self._stopped.set()

    def wait(self) -> None:
        """Wait until it has ended."""
        self._thread.join(timeout=120)

    def _work(self) -> None:
        try:
            self.ended.emit(*print_files(self._printer, self._files, self._stopped.is_set))
        except Exception as error:  # noqa: BLE001 - the outermost boundary of this thread
            self.failed.emit(error)
            self.ended.emit(0, "An internal error stopped the printing.")


def print_files(
    printer: QPrinter, files: list[Path], is_stopped: Callable[[], bool] = lambda: False
) -> tuple[int, str]:
    """Print every page of some PDFs, each at its own size and without scaling.

    Returns:
        The number of pages, and why it ended early (empty: it did not).
    """
    import pypdfium2

    printer.setFullPage(True)
    printer.setResolution(PPI)
    painter, pages = QPainter(), 0
    try:
        for path in files:
            with pypdfium2.PdfDocument(path) as document:
                for page in document:
                    if is_stopped():
                        return pages, "Stopped."
                    wide, high = page.get_size()
                    size = QPageSize(QSizeF(min(wide, high), max(wide, high)), QPageSize.Unit.Point)
                    printer.setPageSize(size)
                    lying = QPageLayout.Orientation.Landscape if wide > high else QPageLayout.Orientation.Portrait
                    printer.setPageOrientation(lying)
                    if not (painter.begin(printer) if not painter.isActive() else printer.newPage()):
                        return pages, "The printer took no page. See whether it is switched on and has paper."
                    picture = page.render(scale=PPI / POINTS).to_pil().convert("RGB")
                    data = picture.tobytes()
                    image = QImage(data, picture.width, picture.height, 3 * picture.width, QImage.Format.Format_RGB888)
                    scale = printer.resolution() / POINTS
                    painter.drawImage(QRectF(0, 0, wide * scale, high * scale), image)
                    pages += 1
    finally:
        if painter.isActive():
            painter.end()
    return pages, ""


def ask_and_print(window: MainWindow, files: list[Path], failed: Callable[[object, str], None]) -> SheetPrinter | None:
    """Ask for a printer and print; None when the user thinks better of it."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    dialog = QPrintDialog(printer, window)
    dialog.setWindowTitle("Print the sheets")
    if dialog.exec() != QDialog.DialogCode.Accepted:
        return None
    work = SheetPrinter(printer, files, window)
    banners = window.banners
    banners.say("print", "note", "Printing…", [("Stop", work.stop)])

    def end(pages: int, why: str) -> None:
        work.wait()
        work.deleteLater()
        banners.say(
            "print", "stop" if why else "note", why or f"{count(pages, 'page')} sent to the printer.", seconds=15
        )

    work.ended.connect(end)
    work.failed.connect(lambda error: failed(error, "print"))
    work.start()
    return work
