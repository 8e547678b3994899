"""The menu entry, icons and file type: put in, valid, and taken out without a trace."""

from __future__ import annotations

import configparser
import io
import os
import shlex
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from defusedxml import ElementTree
from PIL import Image
from pytestqt.qtbot import QtBot

from dechirer.__main__ import main
from dechirer.cli import write_completion
from dechirer.desk.installing import ICONS, ID, MIME, SIZES_PX, _quoted, draw_icon, find_command, install, uninstall


def test_everything_is_put_in_and_taken_out(qtbot: QtBot, tmp_path: Path) -> None:
    (tmp_path / "applications").mkdir()
    other = tmp_path / "applications" / "other.desktop"
    other.write_text("[Desktop Entry]\n")
    written = install(tmp_path, write_completion)
    assert len(written) == 3 + 2 * (1 + len(SIZES_PX)) + 2
    assert install(tmp_path, write_completion) == written  # again: the same
    assert sorted(uninstall(tmp_path)) == sorted(written)
    left = [path for path in tmp_path.rglob("*") if path.is_file() and "cache" not in path.name]
    assert [path for path in left if ID in path.name or "dechirer" in path.name] == []
    assert other.exists()
    assert uninstall(tmp_path) == []


@pytest.mark.parametrize(("typed", "offered"), [("pl", "plan"), ("plan --ou", "--out"), ("completion f", "fish")])
def test_the_command_line_is_completed_by_bash(tmp_path: Path, typed: str, offered: str) -> None:
    """What bash asks for when Tab is pressed; the script that asks it is read by bash itself."""
    script = tmp_path / "completion"
    script.write_text(write_completion("bash"))
    assert subprocess.run(["bash", "-n", str(script)], check=False).returncode == 0
    words = f"dechirer {typed}"
    asked = {"_DECHIRER_COMPLETE": "bash_complete", "COMP_WORDS": words, "COMP_CWORD": str(words.count(" "))}
    done = subprocess.run(
        [sys.executable, "-m", "dechirer"], env={**os.environ, **asked}, capture_output=True, text=True, check=False
    )
    assert f"plain,{offered}" in done.stdout.split()


def test_the_entry_starts_dechirer_with_a_job(qtbot: QtBot, tmp_path: Path) -> None:
    install(tmp_path)
    entry = configparser.ConfigParser(interpolation=None)
    entry.optionxform = str  # type: ignore[assignment, method-assign]
    entry.read(tmp_path / "applications" / f"{ID}.desktop")
    said = entry["Desktop Entry"]
    assert (said["Type"], said["Name"], said["Icon"]) == ("Application", "Dechirer", ID)
    command, place = shlex.split(said["Exec"])
    assert Path(command).exists()
    assert place == "%f"
    assert said["MimeType"] == f"{MIME};"


def test_the_file_type_and_the_metadata_are_whole(qtbot: QtBot, tmp_path: Path) -> None:
    install(tmp_path)
    kind = ElementTree.parse(tmp_path / "mime" / "packages" / f"{ID}.xml").getroot()
    space = "{http://www.freedesktop.org/standards/shared-mime-info}"
    assert kind.find(f"{space}mime-type").get("type") == MIME
    assert kind.find(f".//{space}glob").get("pattern") == "*.dechirer"
    about = ElementTree.parse(tmp_path / "metainfo" / f"{ID}.metainfo.xml").getroot()
    assert about.find("id").text == ID
    assert about.find("launchable").text == f"{ID}.desktop"
    for tool, path in (
        (["desktop-file-validate"], tmp_path / "applications" / f"{ID}.desktop"),
        (["appstreamcli", "validate", "--no-net"], tmp_path / "metainfo" / f"{ID}.metainfo.xml"),
    ):
        if shutil.which(tool[0]):
            done = subprocess.run([*tool, str(path)], capture_output=True, text=True)
            assert done.returncode == 0, done.stdout + done.stderr


@pytest.mark.parametrize("drawing", ["dechirer.svg", "job.svg"])
@pytest.mark.parametrize("size", SIZES_PX)
def test_icons_are_drawn_at_every_size(qtbot: QtBot, drawing: str, size: int) -> None:
    with Image.open(io.BytesIO(draw_icon((ICONS / drawing).read_bytes(), size))) as picture:
        assert picture.size == (size, size)
        assert picture.mode == "RGBA"
        corners, middle = picture.getpixel((0, size - 1)), picture.getpixel((size // 3, size // 2))
    assert corners[3] < 60
    assert middle[3] == 255


def test_a_path_with_signs_is_quoted_for_an_exec_line() -> None:
    # The Desktop Entry specification: in quotes, with \\ before " ` $ \, and the whole escaped as a string once more.
    assert _quoted("/home/a b/bin") == '"/home/a b/bin"'
    assert _quoted('/x"$y') == '"/x\\\\"\\\\$y"'
    assert _quoted("/100%") == '"/100%%"'
    assert find_command().startswith('"')


def test_it_is_asked_for_on_the_command_line(
    qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "share"))
    monkeypatch.setattr("sys.argv", ["dechirer", "--install"])
    assert main() == 0
    assert (tmp_path / "share" / "applications" / f"{ID}.desktop").exists()
    monkeypatch.setattr("sys.argv", ["dechirer", "--uninstall"])
    assert main() == 0
    assert "taken out of" in capsys.readouterr().out
    (tmp_path / "file").write_text("")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "file" / "share"))
    monkeypatch.setattr("sys.argv", ["dechirer", "--install"])
    assert main() == 2
