"""Without a display: the demo's main job into a folder, with a picture of each station."""

from __future__ import annotations

import os
import sys
import time
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QApplication, QWidget

    from dechirer.desk.room import Room

DEMO_FOLDER = "dechirer-demo"


def run_without_display(folder: Path | None = None) -> int:
    """Say that there is no display, plan the demo, write every file and a PNG of each station. Returns 0."""
    from dechirer.core.plan import make_plan
    from dechirer.demo import load_demo_job
    from dechirer.formats.export import export_plan

    out = folder or Path.cwd() / DEMO_FOLDER
    print("No display: the window cannot be opened, so the demo is planned without it.", file=sys.stderr)
    try:
        files = export_plan(make_plan(load_demo_job()), out)
        files += take_pictures(out / "stations")
    except OSError as error:
        print(f"dechirer: {error.filename or out}: {error.strerror or error}", file=sys.stderr)
        return 2
    print(f"{len(files)} files in {out}", file=sys.stderr)
    return 0


def take_pictures(
    folder: Path,
    *,
    theme_name: str = "light",
    stations: tuple[str, ...] = (),
    demo: str = "invitations",
    piece: str = "",
    box: str = "",
) -> list[Path]:
    """A PNG of each station (or of those named) with a demo job, drawn offscreen at 1280 x 800.

    Args:
        piece: the piece to show large in Construct, or the item to pick in Dress.
        box: the box to take in place of the window: `words` or `roles` of Dress, or that of an action of the menu.
    """
    from PyQt6 import sip
    from PyQt6.QtWidgets import QDialog

    app, room = open_window(demo, theme_name)
    folder.mkdir(parents=True, exist_ok=True)
    written = []
    for station in stations or room.ids:
        room.show_station(station)
        shown: QWidget = room.window
        if piece:
            room.stations[station].point_at(piece)
        opened = room.stations[station].open_box(box) if box else None
        if opened is not None:
            shown = opened
            shown.resize(960, 640)
        elif box:
            room.do(box)
            shown = next(each for each in room.window.findChildren(QDialog) if each.isVisible())
        settle(app, shown)
        path = folder / f"{station}.png"
        shown.grab().save(str(path))
        if shown is not room.window:
            shown.close()
        written.append(path)
    room.window.close()
    app.processEvents()
    # Here and now: left to Python, it could be taken apart by the thread that plans for the next window.
    sip.delete(room.window)
    return written


def open_window(demo: str, theme_name: str) -> tuple[QApplication, Room]:
    """A window on a demo job, planned, its chooser drawn."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtCore import QEventLoop, QTimer, qInstallMessageHandler
    from PyQt6.QtWidgets import QApplication

    from dechirer.demo import load_demo_job
    from dechirer.desk.room import Room
    from dechirer.desk.theme import theme
    from dechirer.desk.window import MainWindow
    from dechirer.desk.work.settings import Settings

    # The offscreen platform complains of each window that it cannot hint its size; anything else is passed on.
    qInstallMessageHandler(
        lambda _kind, _where, text: None if text and "propagateSizeHints" in text else print(text, file=sys.stderr)
    )
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    # Kept: when an application goes, everything that outlives a window goes with it.
    KEPT_APP[:] = [app]
    theme.load_fonts()
    theme.apply_theme(app, theme_name)
    window = MainWindow()
    room = window.room = Room(window, load_demo_job(demo), Settings())
    window.banners.drop("hint")
    window.show()
    loop = QEventLoop()
    room.document.planned.connect(loop.quit)
    QTimer.singleShot(20_000, loop.quit)
    if not room.document.is_current:
        loop.exec()
    room.document.offered.connect(loop.quit)  # the chooser's drawings come when nothing else is wanted
    if not room.document.offers:
        loop.exec()
    return app, room


SETTLE_ROUNDS = 400
KEPT_APP: list[QApplication] = []


def settle(app: QApplication, window: QWidget) -> None:
    """Let the layout come to rest: until nothing in a window has moved from one round of events to the next."""
    from PyQt6.QtCore import QCoreApplication, QEvent
    from PyQt6.QtWidgets import QWidget

    from dechirer.desk.panels.item_list import ItemList
    from dechirer.desk.widgets.picture_list import PictureList
    from dechirer.desk.work.beside import Beside
    from dechirer.desk.work.pixel_store import store
    from dechirer.desk.work.small_pictures import SmallPictures

    before: object = None
    for _ in range(SETTLE_ROUNDS):
        app.processEvents()
        QCoreApplication.sendPostedEvents(None, QEvent.Type.LayoutRequest)
        now = [each.geometry().getRect() for each in window.findChildren(QWidget)]
        lists: list[PictureList | ItemList] = [*window.findChildren(PictureList), *window.findChildren(ItemList)]
        is_beside = any(each.is_busy for each in window.findChildren(Beside))
        waits = any(each.is_busy for each in lists) or store.is_busy or is_beside
        if store.is_busy or is_beside:
            time.sleep(0.02)
        for pictures in window.findChildren(SmallPictures):
            pictures.wait()  # they are made by a thread of their own
        if now == before and not waits:
            return
        before = now
