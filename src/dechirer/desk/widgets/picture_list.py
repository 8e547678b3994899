"""A list of things with a small picture and three lines of words each, drawn row by row and pictured one by one."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal, pyqtSlot
from PyQt6.QtGui import QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from dechirer.desk.painter import paint_display
from dechirer.desk.theme import theme
from dechirer.desk.work.pixel_store import store
from dechirer.drawing.display import Display
from dechirer.drawing.viewport import fit_viewport

ROW_PX = 84
PICTURE_PX = 68
Line = tuple[str, str, str]


class _Rows(QAbstractListModel):
    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.lines: list[Line] = []

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008 - Qt's own default
        return len(self.lines)

    def data(self, index: QModelIndex, role: int = 0) -> object:
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole, Qt.ItemDataRole.ToolTipRole):
            return ", ".join(self.lines[index.row()])
        return None

    def show(self, lines: list[Line]) -> None:
        self.beginResetModel()
        self.lines = lines
        self.endResetModel()


class _Delegate(QStyledItemDelegate):
    def __init__(self, view: PictureList, picture_px: int) -> None:
        super().__init__(view)
        self.view, self.picture_px = view, picture_px

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        wide = self.view.viewport()
        return QSize(
            max(60, wide.width() if wide is not None else 160), ROW_PX if self.picture_px >= PICTURE_PX else 70
        )

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        rows = self.view.rows
        if painter is None or index.row() >= len(rows.lines):
            return
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(option.rect).adjusted(2, 2, -2, -2)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.setPen(
            QPen(theme.colour("accent" if chosen else "rule"), 2.0 if chosen and self.view.hasFocus() else 1.0)
        )
        painter.setBrush(theme.colour("accent-wash" if chosen else "surface"))
        painter.drawRoundedRect(box, 5, 5)
        left = box.left() + 10
        if self.picture_px:
            self._picture(painter, box, index.row())
            left += self.picture_px
        title, under, more = rows.lines[index.row()]
        wide = box.right() - left - 6
        top = box.top() + (box.height() - 60) / 2
        for text, style, role, y in (
            (title, "strong", "ink", 0),
            (under, "small", "soft", 20),
            (more, "small", "soft", 37),
        ):
            painter.setFont(theme.font(style))
            painter.setPen(theme.colour(role))
            shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(wide))
            painter.drawText(QRectF(left, top + y, wide, 18), Qt.AlignmentFlag.AlignVCenter, shown)
        painter.restore()

    def _picture(self, painter: QPainter, box: QRectF, row: int) -> None:
        picture = self.view.picture(row)
        if picture is not None:
            at = QPointF(box.left() + 5, box.top() + (box.height() - self.picture_px) / 2)
            painter.drawPixmap(at, picture)


def make_picture(display: Display, wide_px: int, high_px: int, scale: float) -> QPixmap:
    """A display in small; `scale` is how many pixels of the screen one of the window is."""
    picture = QPixmap(round(wide_px * scale), round(high_px * scale))
    picture.setDevicePixelRatio(scale)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    paint_display(painter, display, fit_viewport(display.box, wide_px, high_px, (2, 2, 4, 4)))
    painter.end()
    return picture


class PictureList(QListView):
    """Emits `chosen(row)` when another row is picked."""

    chosen = pyqtSignal(int)

    def __init__(self, name: str, words: str, parent: QWidget | None = None, *, picture_px: int = PICTURE_PX) -> None:
        """`words` says what is listed; `picture_px` how large the pictures are, 0 for none."""
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName(words)
        self.rows = _Rows(self)
        self.setModel(self.rows)
        self.setItemDelegate(_Delegate(self, picture_px))
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.setUniformItemSizes(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setMouseTracking(True)
        self._picture_px = picture_px
        self._source: object = None
        self._draw: Callable[[int], Display] | None = None
        # Pictures of dear things would hold up the window were they all painted at one time: one comes after the other.
        self._pictures: dict[int, QPixmap] = {}
        self._made_for: tuple[object, str] = (None, "")
        self._wanted: list[int] = []
        self._next = QTimer(self)
        self._next.setSingleShot(True)
        self._next.setInterval(0)
        self._next.timeout.connect(self._make_next)
        store.ready.connect(self._draw_anew)

    @pyqtSlot()  # Qt's own slot goes with the list; a proxy for a mere function stays with the store
    def _draw_anew(self) -> None:
        """Make the pictures once more: pixels that were missing in them are there now."""
        self._pictures.clear()
        self.update()

    @property
    def is_busy(self) -> bool:
        """Whether a picture is still to be made."""
        return bool(self._wanted)

    def picture(self, row: int) -> QPixmap | None:
        """The picture of a row; None when it is not there yet, and then it is made next."""
        now = (self._source, theme.name())
        if self._made_for[0] is not now[0] or self._made_for[1] != now[1]:
            self._made_for = now
            self._pictures.clear()
            self._wanted.clear()
        if row not in self._pictures and row not in self._wanted:
            self._wanted.append(row)
            self._next.start()
        return self._pictures.get(row)

    def _make_next(self) -> None:
        if self._draw is None or not self._wanted:
            return
        row = self._wanted.pop(0)
        if self._source is self._made_for[0] and row < len(self.rows.lines):
            size = self._picture_px
            self._pictures[row] = make_picture(self._draw(row), size, size, self.devicePixelRatioF())
            self.update(self.rows.index(row))
        if self._wanted:
            self._next.start()

    def show_rows(self, source: object, lines: list[Line], row: int, draw: Callable[[int], Display]) -> None:
        """List things: a title and two lines of words each. `row` stays chosen.

        Args:
            source: what they are drawn from; pictures are made anew when it is another object.
            draw: the picture of a row.
        """
        if self._source is not source or self.rows.lines != lines:
            self._source, self._draw = source, draw
            self.rows.show(lines)
        if 0 <= row < len(lines):
            self.setCurrentIndex(self.rows.index(row))

    def currentChanged(self, current: QModelIndex, previous: QModelIndex) -> None:
        super().currentChanged(current, previous)
        if current.isValid() and current.row() != previous.row():
            self.scrollTo(current)
            self.chosen.emit(current.row())
