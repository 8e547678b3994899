"""Starting the desk: the window's frame first, everything heavy after its first paint."""

from __future__ import annotations

import os
import sys
from pathlib import Path


def has_display() -> bool:
    """Whether a window can be opened: a display is named, or the Qt platform was chosen by hand."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


def run_desk(job_file: Path | None = None) -> int:
    """Open the window and run until it is closed. Returns the exit code."""
    from PyQt6.QtCore import QTimer
    from PyQt6.QtWidgets import QApplication

    from dechirer.desk.theme import theme

    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("Dechirer")
    theme.load_fonts()
    theme.apply_theme(app, _remembered_theme())
    from dechirer.desk.window import MainWindow

    window = MainWindow()
    window.show()
    # The event after the first paint; imports of the core and the stations would delay it.
    QTimer.singleShot(0, lambda: furnish(window, job_file))
    return app.exec()


def furnish(window: object, job_file: Path | None = None) -> None:
    """Put the open job into a window that has been painted once."""
    from dechirer.demo import load_demo_job
    from dechirer.desk.room import Room
    from dechirer.desk.settings import Settings
    from dechirer.desk.theme import theme
    from dechirer.desk.window import MainWindow

    assert isinstance(window, MainWindow)
    settings = Settings()
    window.room = Room(window, load_demo_job(), settings)
    window.actions_by_id["theme"].setText("Light theme" if theme.name() == "dark" else "Dark theme")
    if job_file is not None:
        window.room.files.open_file(job_file)
    window.room.files.offer_recovered()


def _remembered_theme() -> str:
    """The theme without importing more than json: this runs before the first paint."""
    from dechirer.desk.settings import Settings

    return Settings().theme
