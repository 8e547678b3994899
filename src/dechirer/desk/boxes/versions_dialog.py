"""Earlier versions of the open job: when each was saved, its picture, and what changed in numbers."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QPixmap
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.plan import Plan
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.picture_list import make_picture
from dechirer.desk.work.small_pictures import Made, SmallPictures
from dechirer.drawing.display import Display
from dechirer.drawing.scenes.portrait import make_portrait
from dechirer.formats.job.version_changes import describe_changes
from dechirer.formats.job.versions import Version, VersionError, VersionStore

WIDE_PX, HIGH_PX = 112, 78
NUMBER = Qt.ItemDataRole.UserRole


class VersionsDialog(QDialog):
    """Lists the versions of a job; `restore` puts one in place of the open job, `open_beside` opens one in a window."""

    def __init__(
        self,
        store: VersionStore,
        plan: Plan,
        parent: QWidget,
        *,
        restore: Callable[[Version], bool],
        open_beside: Callable[[Version], None],
    ) -> None:
        super().__init__(parent)
        self.setObjectName("versions-dialog")
        self.setWindowTitle("Versions")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(640, 520)
        self.store, self._now = store, plan
        self._restore, self._open_beside = restore, open_beside
        self.versions = store.list_versions()
        column = QVBoxLayout(self)
        column.addWidget(heading(f"Earlier versions of “{plan.job.name}”"))
        self.list = QListWidget()
        self.list.setObjectName("versions-list")
        self.list.setAccessibleName("Earlier versions, the newest first")
        self.list.setIconSize(QSize(WIDE_PX, HIGH_PX))
        self.list.setFont(theme.font("body"))
        self.list.setWordWrap(True)
        self.list.itemSelectionChanged.connect(self._show_state)
        column.addWidget(self.list, 1)
        what = "Below each date: what changed from that version to the card as it is now."
        self.said = small(what if self.versions else "Each save keeps the version before it. There is none yet.")
        self.said.setObjectName("versions-said")
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        self.restore_button = QPushButton("Restore")
        self.beside_button = QPushButton("Open in a new window")
        for button, name in ((self.restore_button, "restore"), (self.beside_button, "beside")):
            button.setObjectName(f"versions-{name}")
            button.setAutoDefault(False)
            buttons.addButton(button, QDialogButtonBox.ButtonRole.ActionRole)
        self.restore_button.clicked.connect(self._do_restore)
        self.beside_button.clicked.connect(lambda: self._with_chosen(self._open_beside))
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self._fill()
        self._show_state()

    def _fill(self) -> None:
        empty = QPixmap(WIDE_PX, HIGH_PX)
        empty.fill(theme.colour("sunken"))
        for version in self.versions:
            entry = QListWidgetItem(QIcon(empty), self._words(version, "…" if version.is_job else "not a job"))
            entry.setData(NUMBER, version.number)
            self.list.addItem(entry)
        wanted: list[Made] = [
            (str(version.number), partial(self.store.read, version.number))
            for version in self.versions
            if version.is_job
        ]
        # The thread that draws a version compares it too; the words come in order, before the pictures.
        self._changes: list[str] = []
        self._pictures = SmallPictures(wanted, self._show, self, draw=self._draw)
        self.finished.connect(lambda _code: self._pictures.end())

    def _draw(self, plan: Plan) -> Display:
        self._changes.append(describe_changes(plan, self._now))
        return make_portrait(plan)[0][1]

    def _words(self, version: Version, more: str) -> str:
        when = datetime.fromisoformat(version.saved).astimezone()
        return f"{when:%Y-%m-%d %H:%M}  ·  {version.name or Path(version.path).name}\n{more}"

    def _show(self, key: str, display: Display) -> None:
        words = self._changes.pop(0)
        for row, version in enumerate(self.versions):
            entry = self.list.item(row)
            if entry is not None and str(version.number) == key:
                entry.setIcon(QIcon(make_picture(display, WIDE_PX, HIGH_PX, self.devicePixelRatioF())))
                entry.setText(self._words(version, words))

    def chosen(self) -> Version | None:
        """The version that is selected."""
        entry = self.list.currentItem()
        number = entry.data(NUMBER) if entry is not None and entry.isSelected() else None
        return next((version for version in self.versions if version.number == number), None)

    def _show_state(self) -> None:
        version = self.chosen()
        is_job = version is not None and version.is_job
        self.restore_button.setEnabled(is_job)
        self.beside_button.setEnabled(is_job)

    def _with_chosen(self, act: Callable[[Version], object]) -> bool:
        version = self.chosen()
        if version is None:
            return False
        try:
            return bool(act(version))
        except (VersionError, OSError) as error:
            self.said.setText(f"{error}")
            return False

    def _do_restore(self) -> None:
        if self._with_chosen(self._restore):
            self.accept()
