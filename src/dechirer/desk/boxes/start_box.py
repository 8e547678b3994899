"""The page at the start: jobs to go on with, a new card, the demo jobs as pictures."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QHBoxLayout,
    QListView,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.job.model import Job
from dechirer.demo import load_demo_job
from dechirer.desk.actions import DEMOS
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import heading
from dechirer.desk.widgets.picture_list import make_picture
from dechirer.desk.work.files import Files
from dechirer.desk.work.settings import Settings
from dechirer.desk.work.small_pictures import Made, SmallPictures
from dechirer.drawing.display import Display
from dechirer.formats.job.archive import read_archive

WIDE_PX, HIGH_PX = 124, 92
ROW_PX = HIGH_PX + 44
LARGEST_BYTES = 20_000_000
"""A job file larger than this has no picture here: it would be read for long."""


class StartBox(QDialog):
    """What there is to begin with; what is chosen is opened, and the page is put away."""

    def __init__(self, files: Files, settings: Settings, parent: QWidget) -> None:
        super().__init__(parent)
        self._files, self._settings = files, settings
        self.setObjectName("start-box")
        self.setWindowTitle("Begin")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        column = QVBoxLayout(self)
        recent = settings.recent
        wanted: list[Made] = []
        if recent:
            column.addWidget(heading("Go on with"))
            self.recent = _shelf("start-recent", "Jobs opened or saved last", rows=1)
            for path in recent:
                _add(self.recent, str(path), path.stem, str(path))
                wanted.append((str(path), partial(_read, path)))
            self.recent.itemActivated.connect(lambda entry: self._open(Path(entry.data(KEY))))
            self.recent.itemClicked.connect(lambda entry: self._open(Path(entry.data(KEY))))
            column.addWidget(self.recent)
        line = QHBoxLayout()
        for words, name, run in (
            ("New card", "start-new", files.new),
            ("Open a job…", "start-open", files.ask_open),
        ):
            button = QPushButton(words)
            button.setObjectName(name)
            button.clicked.connect(partial(self._leave, run))
            line.addWidget(button)
        line.addStretch(1)
        column.addLayout(line)
        column.addWidget(heading("Demo jobs"))
        self.demos = _shelf("start-demos", "Demo jobs", rows=2)
        for name, title, about in DEMOS:
            _add(self.demos, name, title, about)
            wanted.append((name, partial(load_demo_job, name)))
        self.demos.itemActivated.connect(lambda entry: self._leave(partial(files.open_demo, entry.data(KEY))))
        self.demos.itemClicked.connect(lambda entry: self._leave(partial(files.open_demo, entry.data(KEY))))
        column.addWidget(self.demos, 1)
        column.addLayout(self._make_foot())
        self.resize(760, 620)
        self._pictures = SmallPictures(wanted, self._show, self)
        self.finished.connect(lambda _code: self._pictures.end())

    def _make_foot(self) -> QHBoxLayout:
        line = QHBoxLayout()
        at_start = QCheckBox("Show this at the start")
        at_start.setObjectName("start-at-start")
        at_start.setChecked(self._settings.start_page)
        at_start.clicked.connect(lambda on: setattr(self._settings, "start_page", on))
        line.addWidget(at_start)
        line.addStretch(1)
        close = QPushButton("Stay with the job that is open")
        close.setObjectName("start-close")
        close.clicked.connect(self.reject)
        line.addWidget(close)
        return line

    def _open(self, path: Path) -> None:
        self._leave(lambda: self._files.leave_and_open(path))

    def _leave(self, run: Callable[[], object]) -> None:
        self.accept()
        run()

    def _show(self, key: str, display: Display) -> None:
        for shelf in self.findChildren(QListWidget):
            for row in range(shelf.count()):
                entry = shelf.item(row)
                if entry is not None and entry.data(KEY) == key:
                    entry.setIcon(QIcon(make_picture(display, WIDE_PX, HIGH_PX, self.devicePixelRatioF())))


KEY = Qt.ItemDataRole.UserRole


def _read(path: Path) -> Job:
    if path.stat().st_size > LARGEST_BYTES:
        raise ValueError("too large for a small picture")
    return read_archive(path)


def _shelf(name: str, words: str, *, rows: int) -> QListWidget:
    shelf = QListWidget()
    shelf.setObjectName(name)
    shelf.setAccessibleName(words)
    shelf.setViewMode(QListView.ViewMode.IconMode)
    shelf.setMovement(QListView.Movement.Static)
    shelf.setResizeMode(QListView.ResizeMode.Adjust)
    shelf.setIconSize(QSize(WIDE_PX, HIGH_PX))
    shelf.setGridSize(QSize(WIDE_PX + 18, ROW_PX))
    shelf.setWordWrap(True)
    shelf.setFont(theme.font("small"))
    shelf.setMinimumHeight(ROW_PX + 8)
    if rows == 1:
        shelf.setFixedHeight(ROW_PX + 8)
    return shelf


def _add(shelf: QListWidget, key: str, title: str, about: str) -> None:
    empty = QPixmap(WIDE_PX, HIGH_PX)
    empty.fill(theme.colour("sunken"))
    entry = QListWidgetItem(QIcon(empty), title)
    entry.setData(KEY, key)
    entry.setToolTip(about)
    entry.setTextAlignment(Qt.AlignmentFlag.AlignHCenter)
    shelf.addItem(entry)
