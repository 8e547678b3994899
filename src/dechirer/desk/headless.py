"""Without a display: the demo's main job into a folder, with a picture of each station."""

from __future__ import annotations

import os
import sys
from pathlib import Path

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
        box: the box of Dress to take in place of the window: `words` or `roles`.
    """
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtCore import QEventLoop, QTimer, qInstallMessageHandler
    from PyQt6.QtWidgets import QApplication, QWidget

    from dechirer.demo import load_demo_job
    from dechirer.desk.room import Room
    from dechirer.desk.settings import Settings
    from dechirer.desk.theme import theme
    from dechirer.desk.widgets.strip import TITLES
    from dechirer.desk.window import MainWindow

    # The offscreen platform complains of each window that it cannot hint its size; anything else is passed on.
    qInstallMessageHandler(
        lambda _kind, _where, text: None if text and "propagateSizeHints" in text else print(text, file=sys.stderr)
    )
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    theme.load_fonts()
    theme.apply_theme(app, theme_name)
    folder.mkdir(parents=True, exist_ok=True)
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
    written = []
    for station in stations or TITLES:
        room.show_station(station)
        if station == "construct" and piece:
            room.stations[station].point_at(piece)
        if station == "dress" and piece:
            room.stations[station].point_at(piece)
        app.processEvents()
        path = folder / f"{station}.png"
        shown: QWidget = window
        if station == "dress" and box:
            opened = room.stations[station].open_box(box)  # type: ignore[attr-defined]
            shown = opened if opened is not None else window
            shown.resize(960, 640)
            app.processEvents()
        shown.grab().save(str(path))
        if shown is not window:
            shown.close()
        written.append(path)
    window.close()
    app.processEvents()
    return written
