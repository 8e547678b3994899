"""A machine that fails: full and broken disks, folders that are none, no home, no locale, a clock that jumps.

Each runs the window in a process of its own, edits, saves and exports, and tells what was said and what is there.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from dechirer.formats.job.archive import read_archive
from dechirer.formats.job.journal import read_journal

STORY = """
import json, sys, time
from pathlib import Path
folder = Path(sys.argv[1])
{before}
from PyQt6.QtWidgets import QApplication
from dechirer.demo import load_demo_job
from dechirer.desk.room import Room
from dechirer.desk.theme import theme
from dechirer.desk.window import MainWindow
from dechirer.desk.work.settings import Settings, state_folder
app = QApplication(sys.argv[:1])
theme.load_fonts()
theme.apply_theme(app, "light")
window = MainWindow()
room = window.room = Room(window, load_demo_job(), Settings())
room.guard.install()
window.show()
def settle(done):
    until = time.perf_counter() + 30
    while not done() and time.perf_counter() < until:
        app.processEvents()
        time.sleep(0.005)
settle(lambda: room.document.is_current)
{during}
said = {{}}
room.document.type_field("brief.count", "41")
kept = room.files.keep_safe()
app.processEvents()
for key in ("journal",):
    said[key] = window.banners.text(key)
journals = [path.read_bytes().decode() for path in (state_folder() / "journal").glob("*.journal")] if kept else []
saved = room.files.save_to(folder / "Kärtchen.dechirer")
said["save"] = window.banners.text("save")
room.document.type_field("brief.count", "42")
room.exports.export_to(folder / "out")
settle(lambda: room.exports._worker is None and room.exports._waiting is None)
said["export"] = window.banners.text("export")
room.document.type_field("brief.count", "43")
settle(lambda: room.document.is_current)
print(json.dumps({{"said": said, "kept": kept, "journals": journals, "saved": saved,
    "count": room.document.plan.job.brief.count, "faults": room.guard.count}}))
window.room = None
room.end()
# As the application ends: the window goes before it, whatever the order in which Python lets go of the two.
from PyQt6 import sip
sip.delete(window)
"""

LIMITED = """
import resource, signal
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
"""
LIMIT = "resource.setrlimit(resource.RLIMIT_FSIZE, (300, 300))"
BROKEN = """
import errno, os
def broken(handle):
    raise OSError(errno.EIO, "Input/output error")
os.fsync = broken
"""
JUMPS = """
import itertools
real, jumps = time.time, itertools.cycle((0, 86_400, -86_400, 4e8))
time.time = lambda: real() + next(jumps)
"""


def tell(tmp_path: Path, *, before: str = "", during: str = "", env: dict[str, str] | None = None) -> dict[str, Any]:
    """Run the story in a process of its own, and return what it tells."""
    folder = tmp_path / "work"
    folder.mkdir()
    code = STORY.format(before=before, during=during)
    mine = {**os.environ, "XDG_STATE_HOME": str(tmp_path / "state"), "XDG_CONFIG_HOME": str(tmp_path / "config")}
    mine = mine | (env or {})
    mine = {name: value for name, value in mine.items() if value != "-"}
    done = subprocess.run(
        [sys.executable, "-c", code, str(folder)], capture_output=True, env=mine, timeout=120, check=False
    )
    assert done.returncode == 0, done.stderr.decode(errors="replace")
    told: dict[str, Any] = json.loads(done.stdout)
    assert told["faults"] == 0, told
    assert told["count"] == 43  # whatever failed, the window went on
    return told


def test_all_is_well_where_the_machine_is(tmp_path: Path) -> None:
    told = tell(tmp_path)
    assert told["kept"]
    assert told["saved"]
    assert told["said"]["journal"] == ""
    assert "files written" in told["said"]["export"]
    assert read_archive(tmp_path / "work" / "Kärtchen.dechirer").brief.count == 41
    assert read_journal(told["journals"][0].encode())[0].brief.count == 41


@pytest.mark.parametrize(
    ("before", "during", "why"), [(LIMITED, LIMIT, "File too large"), ("", BROKEN, "Input/output error")]
)
def test_a_disk_that_takes_nothing_more_is_said_each_time(tmp_path: Path, before: str, during: str, why: str) -> None:
    told = tell(tmp_path, before=before, during=during)
    assert not told["kept"]
    assert not told["saved"]
    for key in ("journal", "save", "export"):
        assert why in told["said"][key], key
    assert not [path for path in (tmp_path / "work").rglob("*") if path.is_file()]  # nothing half is left


def test_a_state_folder_that_is_none_is_said_once_and_worked_without(tmp_path: Path) -> None:
    (tmp_path / "state").write_text("in the way")
    told = tell(tmp_path)
    assert not told["kept"]
    assert "cannot be kept safe" in told["said"]["journal"]
    assert told["saved"]


def test_a_settings_folder_that_is_none_is_worked_without(tmp_path: Path) -> None:
    (tmp_path / "config").write_text("in the way")
    assert tell(tmp_path)["saved"]


@pytest.mark.parametrize("locale", ["C"])
def test_letters_beyond_ascii_are_saved_in_any_locale(tmp_path: Path, locale: str) -> None:
    told = tell(tmp_path, env={"LC_ALL": locale, "LANG": locale})
    assert told["saved"]
    assert (tmp_path / "work" / "Kärtchen.dechirer").exists()


def test_it_starts_and_saves_without_a_home(tmp_path: Path) -> None:
    told = tell(tmp_path, env={"HOME": "-"})
    assert told["saved"]


def test_a_clock_that_jumps_loses_nothing(tmp_path: Path) -> None:
    told = tell(tmp_path, during=JUMPS)
    assert told["kept"]
    assert read_journal(told["journals"][0].encode())[0].brief.count == 41
