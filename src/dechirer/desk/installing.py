"""At home on the desktop: a menu entry, icons and a type for job files, put into the user's folders and taken out.

Formats after the freedesktop.org specifications: Desktop Entry, Icon Theme, Shared MIME-info Database, AppStream.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

from dechirer import __version__

ID = "app.dechirer.Dechirer"
MIME = "application/x-dechirer"
ICONS = Path(__file__).parent / "theme" / "icons"
SIZES_PX = (16, 24, 32, 48, 64, 128, 256)
ABOUT = "Work paper cards out backwards, from the card in the hand to the mats to cut"

ENTRY = """[Desktop Entry]
Type=Application
Version=1.5
Name=Dechirer
GenericName=Paper card workbench
Comment={about}
Exec={command} %f
Icon={id}
Terminal=false
Categories=Graphics;VectorGraphics;
Keywords=card;paper;cutting;fold;score;
MimeType={mime};
StartupNotify=true
"""
TYPE = """<?xml version="1.0" encoding="UTF-8"?>
<mime-info xmlns="http://www.freedesktop.org/standards/shared-mime-info">
  <mime-type type="{mime}">
    <comment>Dechirer job</comment>
    <sub-class-of type="application/zip"/>
    <glob pattern="*.dechirer"/>
    <icon name="{icon}"/>
  </mime-type>
</mime-info>
"""
METAINFO = """<?xml version="1.0" encoding="UTF-8"?>
<component type="desktop-application">
  <id>{id}</id>
  <name>Dechirer</name>
  <summary>{about}</summary>
  <metadata_license>CC0-1.0</metadata_license>
  <project_license>{licence}</project_license>
  <description>
    <p>You say what the finished card is. Dechirer computes every flat piece to exact size, its score lines, windows
    and joins, places the pieces on mats, plans the run, checks the job before paper is spent, and writes the files.</p>
  </description>
  <launchable type="desktop-id">{id}.desktop</launchable>
  <provides><mediatype>{mime}</mediatype><binary>dechirer</binary></provides>
  <content_rating type="oars-1.1"/>
  <releases><release version="{version}" date="2026-11-29"/></releases>
</component>
"""


def data_home() -> Path:
    """The user's folder for what applications share."""
    told = os.environ.get("XDG_DATA_HOME")
    return Path(told) if told and Path(told).is_absolute() else Path.home() / ".local" / "share"


def install(where: Path | None = None, completion: Callable[[str], str] | None = None) -> list[Path]:
    """Put everything in; what is there already is replaced. Returns the files written.

    Args:
        completion: writes what makes a shell, `bash` or `fish`, complete the command line.

    Raises:
        OSError: a folder cannot be written to.
    """
    root = where or data_home()
    written = []
    completions = [(path, completion(shell).encode()) for path, shell in _completions(root)] if completion else []
    for path, content in (*_files(root), *completions):
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(content)
        written.append(path)
    _tell_the_desktop(root)
    return written


def uninstall(where: Path | None = None) -> list[Path]:
    """Take everything out again. Returns the files that were there."""
    root = where or data_home()
    gone = [path for path in _paths(root) if path.exists()]
    for path in gone:
        path.unlink()
    _tell_the_desktop(root)
    return gone


def _files(root: Path) -> Iterator[tuple[Path, bytes]]:
    words = {
        "id": ID,
        "mime": MIME,
        "icon": MIME.replace("/", "-"),
        "about": ABOUT,
        "command": find_command(),
        "version": __version__,
        "licence": "GPL-3.0-or-later",
    }
    texts = (ENTRY, TYPE, METAINFO)
    for path, text in zip(_text_paths(root), texts, strict=True):
        yield path, text.format(**words).encode()
    for folder, name, drawing in _icons():
        source = (ICONS / drawing).read_bytes()
        yield root / "icons/hicolor/scalable" / folder / f"{name}.svg", source
        for size in SIZES_PX:
            yield root / f"icons/hicolor/{size}x{size}" / folder / f"{name}.png", draw_icon(source, size)


def _icons() -> tuple[tuple[str, str, str], ...]:
    return ("apps", ID, "dechirer.svg"), ("mimetypes", MIME.replace("/", "-"), "job.svg")


def _text_paths(root: Path) -> tuple[Path, Path, Path]:
    return (
        root / "applications" / f"{ID}.desktop",
        root / "mime" / "packages" / f"{ID}.xml",
        root / "metainfo" / f"{ID}.metainfo.xml",
    )


def _completions(root: Path) -> tuple[tuple[Path, str], ...]:
    """Where shells look for what completes a command, as far as they look into the user's own data folder."""
    return (
        (root / "bash-completion" / "completions" / "dechirer", "bash"),
        (root / "fish" / "vendor_completions.d" / "dechirer.fish", "fish"),
    )


def _paths(root: Path) -> Iterator[Path]:
    yield from _text_paths(root)
    for path, _ in _completions(root):
        yield path
    for folder, name, _ in _icons():
        yield root / "icons/hicolor/scalable" / folder / f"{name}.svg"
        for size in SIZES_PX:
            yield root / f"icons/hicolor/{size}x{size}" / folder / f"{name}.png"


def find_command() -> str:
    """How the window is started from outside, quoted for a desktop entry."""
    checkout = Path(__file__).parents[3] / "bin" / "dechirer"
    found = shutil.which("dechirer")
    if checkout.exists():
        return _quoted(str(checkout))
    return _quoted(found) if found else f"{_quoted(sys.executable)} -m dechirer"


def _quoted(text: str) -> str:
    """A word of an Exec line: in quotes, with what has a meaning in them taken literally."""
    for sign in ("\\", '"', "`", "$"):
        text = text.replace(sign, "\\" + sign)
    return '"' + text.replace("%", "%%").replace("\\", "\\\\") + '"'


def draw_icon(source: bytes, size: int) -> bytes:
    """A drawing as PNG, `size` px square."""
    from PyQt6.QtCore import QBuffer, QByteArray, QIODevice
    from PyQt6.QtGui import QImage, QPainter
    from PyQt6.QtSvg import QSvgRenderer

    image = QImage(size, size, QImage.Format.Format_ARGB32)
    image.fill(0)
    painter = QPainter(image)
    QSvgRenderer(QByteArray(source)).render(painter)
    painter.end()
    out = QBuffer()
    out.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(out, "PNG")
    return bytes(out.data().data())


def _tell_the_desktop(root: Path) -> None:
    """Let the desktop see what has changed, with its own tools where they are there."""
    for command in (
        ["update-mime-database", str(root / "mime")],
        ["update-desktop-database", str(root / "applications")],
        ["gtk-update-icon-cache", "-q", "-t", "-f", str(root / "icons/hicolor")],
    ):
        if shutil.which(command[0]) is not None:
            subprocess.run(command, capture_output=True, check=False, timeout=60)


def run(argument: str, completion: Callable[[str], str]) -> int:
    """`--install` or `--uninstall`; returns the exit code. `completion` as for `install`."""
    try:
        files = install(completion=completion) if argument == "--install" else uninstall()
    except OSError as error:
        print(f"dechirer: {error.filename}: {error.strerror or error}", file=sys.stderr)
        return 2
    verb = "put into" if argument == "--install" else "taken out of"
    print(f"{len(files)} files {verb} {data_home()}")
    return 0
