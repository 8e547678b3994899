"""Starting the desk: the window's frame first, everything heavy after its first paint."""

from __future__ import annotations

import gc
import os
import sys

TYPE_CHECKING = False  # spares the import of typing before the first paint
if TYPE_CHECKING:
    from pathlib import Path

    from dechirer.desk.work.guard import Guard


RECOVERY_AFTER_MS = 250


def has_display() -> bool:
    """Whether a window can be opened: a display is named, or the Qt platform was chosen by hand."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


def run_desk(job_file: Path | None = None) -> int:
    """Open the window and run until it is closed. Returns the exit code."""
    from PyQt6 import sip
    from PyQt6.QtWidgets import QApplication

    from dechirer.desk.theme import theme

    # Nothing made while starting is garbage; looking for some would cost a few milliseconds at every import.
    gc.disable()
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("Dechirer")
    app.setDesktopFileName("app.dechirer.Dechirer")
    theme.load_fonts()
    theme.apply_theme(app, _remembered_theme())
    from dechirer.desk.window import MainWindow

    window = MainWindow()
    # Imports of the core and the stations would delay the first paint.
    window.first_painted.connect(lambda: furnish(window, job_file))
    window.show()
    code = app.exec()
    # The window goes before the application, whatever the order in which Python lets go of the two.
    sip.delete(window)
    return code


def make_guard() -> Guard:
    """The guard of this process, its hooks in place: an error in a slot no longer ends the window."""
    from dechirer.desk.work.fault_log import FaultLog
    from dechirer.desk.work.guard import Guard
    from dechirer.desk.work.settings import state_folder

    guard = Guard(FaultLog(state_folder() / "log"))
    guard.install()
    return guard


def furnish(window: object, job_file: Path | None = None) -> None:
    """Put the open job into a window that has been painted once; from now on the guard catches what goes wrong."""
    from PyQt6.QtCore import QTimer

    from dechirer.demo import load_demo_job
    from dechirer.desk.room import Room
    from dechirer.desk.theme import theme
    from dechirer.desk.window import MainWindow
    from dechirer.desk.work.settings import Settings
    from dechirer.desk.work.tidying import Tidier

    assert isinstance(window, MainWindow)
    guard = make_guard()
    settings = Settings()
    room = window.room = Room(window, load_demo_job(), settings, guard)
    window.actions_by_id["theme"].setText("Light theme" if theme.name() == "dark" else "Dark theme")
    if job_file is not None:
        room.files.open_file(job_file)
    # After the first picture: it reads the disk and imports what is rarely needed.
    QTimer.singleShot(RECOVERY_AFTER_MS, room.files.offer_recovered)
    gc.freeze()
    Tidier(room.document, room)


def _remembered_theme() -> str:
    """The theme kept by `Settings`, found without importing json or platformdirs: this runs before the first paint."""
    home = os.environ.get("XDG_CONFIG_HOME") or os.path.expanduser("~/.config")
    try:
        with open(os.path.join(home, "dechirer", "desk.json"), encoding="utf-8") as kept:
            return "dark" if '"theme": "dark"' in kept.read(10_000) else "light"
    except (OSError, UnicodeDecodeError):
        return "light"
