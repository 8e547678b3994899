"""The window: strip, station, Working and Findings, and the consequences line. Heavy parts come after first paint."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QAction, QCloseEvent, QKeySequence, QPainter, QPaintEvent, QResizeEvent, QShortcut
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QMainWindow,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QStyle,
    QVBoxLayout,
    QWidget,
)

from dechirer.desk.theme import theme
from dechirer.desk.theme.tokens import LINE_HEIGHT, SIDE_WIDTH, TOP_HEIGHT
from dechirer.desk.widgets.strip import Strip

TYPE_CHECKING = False  # spares the import of typing before the first paint
if TYPE_CHECKING:
    from typing import Protocol

    from dechirer.desk.widgets.banner import Banners
    from dechirer.desk.widgets.consequences import Consequences
    from dechirer.desk.widgets.top_bar import TopBar

    class Tenant(Protocol):
        """What the frame asks of the job that is open in it."""

        def do(self, id: str) -> None: ...
        def show_station(self, station: str) -> None: ...
        def may_close(self) -> bool: ...
        def end(self) -> None: ...


NARROW_PX, SIDE_NARROW = 1180, 256
LEAST_STATION = (360, 180)
LEAST_WINDOW = (680, 420)
"""A narrower window gives its right column this width."""


class Sheet(QWidget):
    """A surface with a fine edge that other widgets lie on."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setPen(theme.colour("rule"))
        painter.setBrush(theme.colour("surface"))
        painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()


class MainWindow(QMainWindow):
    """The frame: at first the strip and the ground, so that it is painted at once; `complete` adds the lines above and
    below, and a `Room` puts the open job into it.

    Signals:
        first_painted(): the frame has been painted once.
    """

    first_painted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("main-window")
        theme.dress_window(self)
        self.setWindowTitle("Dechirer")
        self.setMinimumSize(*LEAST_WINDOW)  # with the right column narrow, as it then is
        self.resize(1280, 800)
        self.room: Tenant | None = None
        self._was_painted = False
        self.actions_by_id: dict[str, QAction] = {}
        self.strip = Strip()
        self.stack = QStackedWidget()
        self.station_sheet = _on_sheet(self.stack)
        self.side = QVBoxLayout()
        self.side_sheet = Sheet()
        self.side_sheet.setLayout(self.side)
        self.side.setContentsMargins(8, 8, 4, 4)
        self._side_width = SIDE_WIDTH
        self.side_sheet.setFixedWidth(SIDE_WIDTH)
        middle = QHBoxLayout()
        middle.setContentsMargins(16, 8, 16, 10)
        middle.setSpacing(10)
        middle.addWidget(self.station_sheet, 1)
        middle.addWidget(self.side_sheet)
        column = self._column = QVBoxLayout()
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addSpacing(TOP_HEIGHT)
        column.addWidget(self.strip)
        column.addLayout(middle, 1)
        column.addSpacing(LINE_HEIGHT)
        page = QWidget()
        page.setLayout(column)
        self.setCentralWidget(page)
        self.strip.show_chosen(next(iter(self.strip.buttons)))

    def complete(self) -> None:
        """Add the top line, the banners and the consequences line; does nothing the second time."""
        if self.actions_by_id:
            return
        from dechirer.desk.widgets.banner import Banners
        from dechirer.desk.widgets.consequences import Consequences
        from dechirer.desk.widgets.top_bar import TopBar

        self.actions_by_id = self._make_actions()
        self.top: TopBar = TopBar(self.actions_by_id)
        self.banners: Banners = Banners()
        self.consequences: Consequences = Consequences()
        column = self._column
        column.takeAt(column.count() - 1)
        column.takeAt(0)
        column.insertWidget(0, self.top)
        column.insertWidget(2, self.banners)
        column.addWidget(self.consequences)

    def _make_actions(self) -> dict[str, QAction]:
        from dechirer.desk.actions import ACTIONS

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
        for number, station in enumerate(self.strip.buttons, start=1):
            key = QShortcut(QKeySequence(f"Alt+{number}"), self)
            key.activated.connect(lambda station=station: self.room.show_station(station) if self.room else None)
        return made

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        wanted = SIDE_WIDTH if self.width() >= NARROW_PX else SIDE_NARROW
        if wanted != self._side_width:
            self._side_width = wanted
            self.side_sheet.setFixedWidth(wanted)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if not self._was_painted:
            self._was_painted = True
            # The frame's children are painted in this same pass; what is heavy comes after it.
            QTimer.singleShot(0, self.first_painted.emit)

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


class _Scrolled(QScrollArea):
    """Gives what it holds all its room, and as much as it needs at least."""

    def __init__(self, inner: QWidget) -> None:
        super().__init__()
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setMinimumSize(*LEAST_STATION)
        self._is_filling = False
        self.setWidget(inner)
        inner.installEventFilter(self)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fill()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self._fill()
        return super().eventFilter(watched, event)

    def _fill(self) -> None:
        # Qt's own way of resizing would give labels that wrap the height they have at their narrowest. Bars are put on
        # here too: a bar that comes takes room, for want of which it might go, and come again.
        inner = self.widget()
        if inner is None or self._is_filling:
            return
        self._is_filling = True
        room, needs = self.maximumViewportSize(), inner.minimumSizeHint()
        bar = self.style().pixelMetric(QStyle.PixelMetric.PM_ScrollBarExtent) if self.style() is not None else 0  # type: ignore[union-attr]
        down = needs.height() > room.height()
        across = needs.width() > room.width() - (bar if down else 0)
        down = down or needs.height() > room.height() - (bar if across else 0)
        policies = Qt.ScrollBarPolicy.ScrollBarAlwaysOff, Qt.ScrollBarPolicy.ScrollBarAlwaysOn
        self.setVerticalScrollBarPolicy(policies[down])
        self.setHorizontalScrollBarPolicy(policies[across])
        port = self.viewport()
        if port is not None:
            inner.resize(port.size().expandedTo(needs))
        self._is_filling = False


def _on_sheet(inner: QWidget) -> Sheet:
    """A station on paper; in a window that is too small for it, it is scrolled."""
    sheet = Sheet()
    box = QVBoxLayout(sheet)
    box.setContentsMargins(1, 1, 1, 1)
    box.addWidget(_Scrolled(inner))
    inner.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
    sheet.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent, False)
    return sheet
