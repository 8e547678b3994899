"""Adds a thing to the house from one temporary file and uses it, in a process of its own.

The file stands in a folder of the test; the package it belongs to is told of that folder, as if the file lay in it.
"""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path
from textwrap import dedent

ROOT = Path(__file__).parents[2]

PREAMBLE = """
import importlib, os, sys
from pathlib import Path
for package, folder in PLACES:
    importlib.import_module(package).__path__.append(folder)

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QAction
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget

app = QApplication([])
from dechirer.core.job.new import make_job
from dechirer.core.paper.standards import parse_size
from dechirer.demo import load_demo_job
from dechirer.desk.room import Room
from dechirer.desk.theme import theme
from dechirer.desk.window import MainWindow
from dechirer.desk.work.settings import Settings

theme.load_fonts()
theme.apply_theme(app, "light")
window = MainWindow()
room = window.room = Room(window, make_job(construction="side-fold", size=parse_size("5x7in", unit="in")), Settings())
window.show()

def wait(ready, what="the plan"):
    for _ in range(2000):
        if ready():
            return
        QTest.qWait(10)
    raise AssertionError(f"waited in vain for {what}")

def settle():
    wait(lambda: room.document.is_current)
    QApplication.processEvents()
    return room.document.plan

def find(name, kind=QWidget):
    QApplication.sendPostedEvents(None, 52)  # what is to be deleted (QEvent.DeferredDelete) is deleted now
    found = window.findChild(kind, name)
    assert found is not None, f"no widget {name}"
    return found

def click(name):
    QTest.mouseClick(find(name), Qt.MouseButton.LeftButton)
    return settle()

def type_line(name, text):
    line = find(name)
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, text)
    QTest.keyClick(line, Qt.Key.Key_Return)
    return settle()

def leave():
    from PyQt6 import sip
    window.room = None
    room.end()
    sip.delete(window)  # before the application, as `run_desk` does
    print("used in the window", flush=True)

settle()
"""


def use(folder: Path, files: dict[str, str], script: str) -> None:
    """Put files where they belong (`construct/kinds/slip.py` stands for `dechirer/core/construct/kinds/slip.py`) and
    run a script with the window open, its `room` and short ways to drive it.

    Raises:
        AssertionError: the script failed; the message is what it said.
    """
    places = {}
    for name, text in files.items():
        path = folder / "added" / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(dedent(text))
        home = path.parent
        if (home / "__init__.py").exists() or path.name == "__init__.py":
            home = home.parent  # a package that is new altogether
        places[".".join(("dechirer", *home.relative_to(folder / "added").parts))] = str(home)
    code = folder / "use.py"
    code.write_text(f"PLACES = {sorted(places.items())!r}\n{PREAMBLE}\n{dedent(script)}\nleave()\n")
    own = {f"XDG_{name}_HOME": str(folder / name.lower()) for name in ("CONFIG", "STATE", "DATA")}
    own |= {"QT_QPA_PLATFORM": "offscreen", "PYTHONPATH": str(ROOT / "src"), "TMP_OUT": str(folder)}
    done = subprocess.run(
        [sys.executable, str(code)],
        cwd=folder,
        env={
            **os.environ,
            **own,
            "QT_QPA_PLATFORM": "offscreen",
            "PYTHONFAULTHANDLER": "1",
            "PYTHONPATH": str(ROOT / "src"),
            "TMP_OUT": str(folder),
        },
        capture_output=True,
        text=True,
        timeout=120,
    )
    assert done.returncode == 0, f"ended with {done.returncode}: {done.stderr[-3000:]}"
    assert "used in the window" in done.stdout
    assert "Traceback" not in done.stderr, done.stderr[-3000:]
