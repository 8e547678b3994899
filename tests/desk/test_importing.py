"""What is dragged or copied: files, SVG as text or data, pictures; and what is not art."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QUrl
from PyQt6.QtGui import QColor, QImage
from pytestqt.qtbot import QtBot

from dechirer.desk.work.importing import contents, takes
from dechirer.formats.art.read import kind_of

SVG = '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm"><rect width="9" height="9"/></svg>'


def copied(**more: object) -> QMimeData:
    mime = QMimeData()
    if "text" in more:
        mime.setText(str(more["text"]))
    if "svg" in more:
        mime.setData("image/svg+xml", str(more["svg"]).encode())
    if "files" in more:
        mime.setUrls([QUrl.fromLocalFile(str(each)) for each in more["files"]])  # type: ignore[attr-defined]
    if "image" in more:
        mime.setImageData(more["image"])
    return mime


def test_files_win_over_data(qtbot: QtBot, tmp_path: Path) -> None:
    mime = copied(files=[tmp_path / "kite.svg", tmp_path / "gull.png"], text="two files")
    assert takes(mime)
    assert contents(mime) == ([tmp_path / "kite.svg", tmp_path / "gull.png"], b"", "")


@pytest.mark.parametrize("mime", [{"text": SVG}, {"svg": SVG}, {"text": f'\n  <?xml version="1.0"?>{SVG}'}])
def test_svg_comes_as_text_or_as_data(qtbot: QtBot, mime: dict) -> None:
    held = copied(**mime)
    assert takes(held)
    files, data, name = contents(held)
    assert files == []
    assert kind_of(data) == "svg"
    assert name.endswith(".svg")


def test_a_copied_picture_becomes_a_png(qtbot: QtBot) -> None:
    image = QImage(20, 10, QImage.Format.Format_ARGB32)
    image.fill(QColor(10, 20, 30, 0))
    held = copied(image=image)
    assert takes(held)
    _, data, name = contents(held)
    assert kind_of(data) == "picture"
    assert name.endswith(".png")


@pytest.mark.parametrize("mime", [{"text": "a letter"}, {}])
def test_what_is_no_art_is_not_taken(qtbot: QtBot, mime: dict) -> None:
    held = copied(**mime)
    assert not takes(held)
    assert contents(held) == ([], b"", "")
    assert not takes(None)
