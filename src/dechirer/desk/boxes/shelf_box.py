"""The shelf: the maker's own designs, words, recipes and papers, to be dragged into any job."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QMimeData, QSize, Qt, QUrl, pyqtSignal
from PyQt6.QtGui import QIcon, QPixmap
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QListView,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QMessageBox,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.dress.carry import Kept, keep_items
from dechirer.core.dress.decisions import Item
from dechirer.core.job.model import Job
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import heading, menu_button, push_button, small
from dechirer.desk.widgets.picture_list import make_picture
from dechirer.desk.work.document import Document
from dechirer.desk.work.small_pictures import Made, SmallPictures
from dechirer.drawing.display import Display
from dechirer.drawing.scenes.item import make_kept_scene
from dechirer.formats.shelf import ArchiveError, Shelved, keep_paper, list_shelf, read_kept, write_kept

WIDE_PX, HIGH_PX = 104, 78
KEY = Qt.ItemDataRole.UserRole


class _Things(QListWidget):
    """Things as pictures; one that is dragged is its file."""

    def mimeData(self, items: object) -> QMimeData:
        mime = QMimeData()
        mime.setUrls([QUrl.fromLocalFile(str(entry.data(KEY))) for entry in items])  # type: ignore[attr-defined]
        return mime


class ShelfBox(QDialog):
    """Stays beside the work.

    Signals:
        wanted(shelved): what is to be put into the job.
        recipe_wanted(shelved): its recipe is, for the picked item.
    """

    wanted = pyqtSignal(object)
    recipe_wanted = pyqtSignal(object)

    def __init__(self, document: Document, folder: Path, picked: Callable[[], list[Item]], parent: QWidget) -> None:
        """`picked` gives the items that are picked in Dress."""
        super().__init__(parent)
        self._document, self._folder, self._picked = document, folder, picked
        self.setObjectName("shelf-box")
        self.setWindowTitle("Shelf")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.things = _Things()
        self.things.setObjectName("shelf-things")
        self.things.setAccessibleName("What is on the shelf")
        self.things.setViewMode(QListView.ViewMode.IconMode)
        self.things.setResizeMode(QListView.ResizeMode.Adjust)
        self.things.setIconSize(QSize(WIDE_PX, HIGH_PX))
        self.things.setGridSize(QSize(WIDE_PX + 16, HIGH_PX + 38))
        self.things.setWordWrap(True)
        self.things.setFont(theme.font("small"))
        self.things.setDragEnabled(True)
        self.things.itemSelectionChanged.connect(self._say)
        self.things.itemActivated.connect(lambda _entry: self._use())
        self.said = QLabel()
        self.said.setObjectName("shelf-said")
        self.said.setWordWrap(True)
        column = QVBoxLayout(self)
        column.addWidget(heading("Shelf"))
        told = small("Yours, for any job: drag something onto a face, or pick it and press Use.")
        told.setWordWrap(True)
        column.addWidget(told)
        column.addWidget(self.things, 1)
        column.addWidget(self.said)
        column.addLayout(self._make_buttons())
        self.resize(460, 460)
        self._pictures: SmallPictures | None = None
        self.finished.connect(lambda _code: self._end())
        self.refresh()

    def _make_buttons(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self.keep, menu = menu_button("Keep ▾", "shelf-keep", "What of this job goes onto the shelf")
        menu.aboutToShow.connect(partial(self._fill_keep, menu))
        line.addWidget(self.keep)
        line.addStretch(1)
        self.use = push_button("Use", "shelf-use", "Put it on the face in front", self._use)
        self.recipe = push_button("Its recipe", "shelf-recipe", "Give its steps to what is picked", self._use_recipe)
        self.off = push_button("Take off the shelf", "shelf-off", "Its file is deleted", self._take_off)
        for button in (self.use, self.recipe, self.off):
            line.addWidget(button)
        return line

    # --- showing ---------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """List the shelf as it is on the disk now."""
        self._end()
        self.things.clear()
        wanted: list[Made] = []
        for path in list_shelf(self._folder):
            empty = QPixmap(WIDE_PX, HIGH_PX)
            empty.fill(theme.colour("sunken"))
            entry = QListWidgetItem(QIcon(empty), path.stem)
            entry.setData(KEY, str(path))
            entry.setTextAlignment(Qt.AlignmentFlag.AlignHCenter)
            self.things.addItem(entry)
            wanted.append((str(path), partial(_read, path)))
        self._pictures = SmallPictures(wanted, self._show, self, make_kept_scene)
        self._say()

    def _show(self, key: str, display: Display) -> None:
        for row in range(self.things.count()):
            entry = self.things.item(row)
            if entry is not None and entry.data(KEY) == key:
                entry.setIcon(QIcon(make_picture(display, WIDE_PX, HIGH_PX, self.devicePixelRatioF())))

    def _say(self) -> None:
        entry = self.things.currentItem() if self.things.selectedItems() else None
        for button in (self.use, self.recipe, self.off):
            button.setEnabled(entry is not None)
        empty = "Nothing yet. Pick something in Dress and press Keep." if not self.things.count() else ""
        self.said.setText(entry.text() if entry is not None else empty)

    def _end(self) -> None:
        if self._pictures is not None:
            self._pictures.end()
            self._pictures = None

    # --- keeping ---------------------------------------------------------------------------------------------

    def _fill_keep(self, menu: QMenu) -> None:
        menu.clear()
        items = self._picked()
        names = items[0].name if len(items) == 1 else f"the {len(items)} that are picked"
        action = menu.addAction(f"{names}, with all it is made of" if items else "nothing is picked in Dress")
        if action is not None:
            action.setObjectName("keep-items")
            action.setEnabled(bool(items))
            action.triggered.connect(lambda: self._keep(items[0].name, keep_items(self._document.job, items)))
        menu.addSection("Papers")
        for paper in self._document.job.brief.papers:
            action = menu.addAction(paper.name)
            if action is not None:
                action.setObjectName(f"keep-{paper.id}")
                action.triggered.connect(lambda _=False, paper=paper: self._keep(paper.name, keep_paper(paper)))

    def _keep(self, name: str, kept: Kept) -> None:
        try:
            path = write_kept(self._folder, name, kept)
        except (OSError, ValueError) as error:
            why = (error.strerror if isinstance(error, OSError) else "") or str(error)
            self.said.setText(f"{name} could not be kept: {why}")
            return
        self.refresh()
        self.said.setText(f"{path.stem} is on the shelf.")

    # --- using -----------------------------------------------------------------------------------------------

    def _read_chosen(self) -> Shelved | None:
        entry = self.things.currentItem()
        if entry is None:
            return None
        try:
            return read_kept(Path(entry.data(KEY)))
        except (ArchiveError, OSError) as error:
            self.said.setText(str(error))
            return None

    def _use(self) -> None:
        shelved = self._read_chosen()
        if shelved is not None:
            self.wanted.emit(shelved)

    def _use_recipe(self) -> None:
        shelved = self._read_chosen()
        if shelved is not None:
            self.recipe_wanted.emit(shelved)

    def _take_off(self) -> None:
        entry = self.things.currentItem()
        if entry is None:
            return
        answer = QMessageBox.question(self, "Dechirer", f"Take {entry.text()} off the shelf? Its file is deleted.")
        if answer == QMessageBox.StandardButton.Yes:
            try:
                Path(entry.data(KEY)).unlink(missing_ok=True)
            except OSError as error:
                self.said.setText(f"{entry.text()} stays: {error.strerror or error}")
                return
            self.refresh()


def _read(path: Path) -> Job:
    return read_kept(path).job
