"""The window: strip, station, Working and Findings, and the consequences line. Heavy parts come after first paint."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QKeySequence, QPainter, QPaintEvent, QShortcut
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from dechirer.desk.actions import ACTIONS
from dechirer.desk.theme import theme
from dechirer.desk.theme.tokens import SIDE_WIDTH
from dechirer.desk.widgets.banner import Banners
from dechirer.desk.widgets.consequences import Consequences
from dechirer.desk.widgets.strip import Strip
from dechirer.desk.widgets.top_bar import TopBar

if TYPE_CHECKING:
    from dechirer.desk.room import Room


class Sheet(QWidget):
    """A surface with a fine edge that other widgets lie on."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setPen(theme.colour("rule"))
        painter.setBrush(theme.colour("surface"))
        painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()


class MainWindow(QMainWindow):
    """The frame. `furnish` puts the open job into it; until then it shows the strip on its ground."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("main-window")
        self.setWindowTitle("Dechirer")
        self.resize(1280, 800)
        self.room: Room | None = None
        self.actions_by_id = self._make_actions()
        self.top = TopBar(self.actions_by_id)
        self.strip = Strip()
        self.banners = Banners()
        self.stack = QStackedWidget()
        self.station_sheet = _on_sheet(self.stack)
        self.side = QVBoxLayout()
        self.side_sheet = Sheet()
        self.side_sheet.setLayout(self.side)
        self.side.setContentsMargins(8, 8, 4, 4)
        self.side_sheet.setFixedWidth(SIDE_WIDTH)
        self.consequences = Consequences()
        middle = QHBoxLayout()
        middle.setContentsMargins(16, 8, 16, 10)
        middle.setSpacing(10)
        middle.addWidget(self.station_sheet, 1)
        middle.addWidget(self.side_sheet)
        column = QVBoxLayout()
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.top)
        column.addWidget(self.strip)
        column.addWidget(self.banners)
        column.addLayout(middle, 1)
        column.addWidget(self.consequences)
        page = QWidget()
        page.setLayout(column)
        self.setCentralWidget(page)
        self.strip.show_chosen("brief")

    def _make_actions(self) -> dict[str, QAction]:
        made: dict[str, QAction] = {}
        for spec in ACTIONS:
            action = QAction(spec.title, self)
            action.setObjectName(f"action-{spec.id}")
            if spec.shortcut:
                action.setShortcut(QKeySequence(spec.shortcut))
            action.setToolTip(f"{spec.about} ({spec.shortcut})" if spec.shortcut else spec.about)
            action.triggered.connect(lambda _checked=False, id=spec.id: self.room.do(id) if self.room else None)
            self.addAction(action)
            made[spec.id] = action
        for number, station in enumerate(("brief", "build", "lay", "run"), start=1):
            key = QShortcut(QKeySequence(f"Alt+{number}"), self)
            key.activated.connect(lambda station=station: self.room.show_station(station) if self.room else None)
        return made

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if self.room is not None and not self.room.may_close():
            event.ignore()
            return
        if self.room is not None:
            self.room.end()
            self.room = None
        event.accept()
        app = QApplication.instance()
        if isinstance(app, QApplication):
            QTimer.singleShot(0, app.quit)


def _on_sheet(inner: QWidget) -> Sheet:
    sheet = Sheet()
    box = QVBoxLayout(sheet)
    box.setContentsMargins(1, 1, 1, 1)
    box.addWidget(inner)
    inner.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
    sheet.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent, False)
    return sheet
