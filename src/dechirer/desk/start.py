"""Starting the desk: the window's frame first, everything heavy after its first paint."""

from __future__ import annotations

import gc
import os
import sys

TYPE_CHECKING = False  # spares the import of typing before the first paint
if TYPE_CHECKING:
    from pathlib import Path

    from PyQt6.QtWidgets import QApplication, QWidget

    from dechirer.desk.work.guard import Guard


RECOVERY_AFTER_MS = 250
FRAME_PX = 12


def has_display() -> bool:
    """Whether a window can be opened: a display is named, or the Qt platform was chosen by hand."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


def run_desk(job_file: Path | None = None, book: Path | None = None) -> int:
    """Open the window and run until it is closed; `book` is another one than the maker's own. Returns the exit code."""
    from PyQt6 import sip
    from PyQt6.QtWidgets import QApplication

    from dechirer.desk.theme import theme

    # Nothing made while starting is garbage; looking for some would cost a few milliseconds at every import.
    gc.disable()
    kept = remembered()
    scale_everything(kept.get("scale", "100"))
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("Dechirer")
    app.setDesktopFileName("app.dechirer.Dechirer")
    theme.load_fonts()
    theme.apply_theme(app, kept.get("theme") or _theme_of_system(app))
    from dechirer.desk.window import MainWindow

    window = MainWindow()
    fit_to_screen(window)
    # Imports of the core and the stations would delay the first paint.
    window.first_painted.connect(lambda: furnish(window, job_file))
    if book is not None:
        from dechirer.desk.work.booking import booking

        booking.use(book)
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
    from dechirer.desk.window import MainWindow
    from dechirer.desk.work.settings import Settings
    from dechirer.desk.work.tidying import Tidier, use_one_heap

    assert isinstance(window, MainWindow)
    use_one_heap()
    guard = make_guard()
    settings = Settings()
    room = window.room = Room(window, load_demo_job(), settings, guard)
    if job_file is not None:
        room.files.open_file(job_file)

    def begin() -> None:
        room.files.offer_recovered()
        # The first start walks through the demo; later ones offer what there is, unless there is something to say.
        if job_file is None and settings.hint_seen and settings.start_page and window.banners.is_empty:
            room.begin()

    # After the first picture: it reads the disk and imports what is rarely needed.
    QTimer.singleShot(RECOVERY_AFTER_MS, begin)
    gc.freeze()
    Tidier(room.document, room)


def remembered() -> dict[str, str]:
    """The theme and the size kept by `Settings`, found without importing json or platformdirs: this runs before the
    first paint."""
    home = os.environ.get("XDG_CONFIG_HOME") or os.path.expanduser("~/.config")
    try:
        with open(os.path.join(home, "dechirer", "desk.json"), encoding="utf-8") as kept:
            text = kept.read(10_000)
    except (OSError, UnicodeDecodeError):
        return {}
    found = {}
    for name in ("light", "dark"):
        if f'"theme": "{name}"' in text:
            found["theme"] = name
    _, known, rest = text.partition('"scale": ')
    percent = rest[:4].rstrip(",} ")
    if known and percent.isdecimal() and 50 <= int(percent) <= 300:
        found["scale"] = percent
    return found


def scale_everything(percent: str) -> None:
    """Have Qt draw everything so large, beside what the environment asks; works before an application is made."""
    if percent != "100":
        try:
            own = float(os.environ.get("QT_SCALE_FACTOR") or 1)
        except ValueError:
            own = 1.0
        os.environ["QT_SCALE_FACTOR"] = f"{own * int(percent) / 100:g}"


def _theme_of_system(app: QApplication) -> str:
    from PyQt6.QtCore import Qt

    hints = app.styleHints()
    return "dark" if hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark else "light"


def fit_to_screen(window: QWidget) -> None:
    """No larger than what the screen has free."""
    from PyQt6.QtCore import QSize

    screen = window.screen()
    if screen is not None:
        free = screen.availableGeometry().size()
        # The window's frame is drawn round it; its size is not known before.
        window.resize(window.size().boundedTo(QSize(free.width() - FRAME_PX, free.height() - 3 * FRAME_PX)))
