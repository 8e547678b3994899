"""The list of mats, drawn row by row, so that a long job costs no more than a short one."""

from __future__ import annotations

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPainter, QPixmap
from PyQt6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from dechirer.core.plan import Plan
from dechirer.desk.painter import paint_display
from dechirer.desk.theme import theme
from dechirer.drawing.scenes.mat import make_mat_scene
from dechirer.drawing.viewport import fit_viewport

ROW_PX = 84
PICTURE_PX = 68


class _Rows(QAbstractListModel):
    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.plan: Plan | None = None
        self.lines: list[tuple[str, str, str]] = []

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008 - Qt's own default
        return len(self.lines)

    def data(self, index: QModelIndex, role: int = 0) -> object:
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return ", ".join(self.lines[index.row()])
        return None

    def show(self, plan: Plan, lines: list[tuple[str, str, str]]) -> None:
        self.beginResetModel()
        self.plan, self.lines = plan, lines
        self.endResetModel()


class _Delegate(QStyledItemDelegate):
    def __init__(self, view: MatList, with_picture: bool) -> None:
        super().__init__(view)
        self.view = view
        self.with_picture = with_picture

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(180, ROW_PX if self.with_picture else 70)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        rows = self.view.rows
        if painter is None or rows.plan is None or index.row() >= len(rows.lines):
            return
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(option.rect).adjusted(2, 2, -2, -2)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.setPen(theme.colour("accent" if chosen else "rule"))
        painter.setBrush(theme.colour("accent-wash" if chosen else "surface"))
        painter.drawRoundedRect(box, 5, 5)
        left = box.left() + 12
        if self.with_picture:
            self._picture(painter, box, index.row())
            left += PICTURE_PX
        title, under, more = rows.lines[index.row()]
        wide = box.right() - left - 6
        for text, style, role, y in (
            (title, "strong", "ink", 8),
            (under, "small", "soft", 27),
            (more, "small", "soft", 43),
        ):
            painter.setFont(theme.font(style))
            painter.setPen(theme.colour(role))
            shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(wide))
            painter.drawText(QRectF(left, box.top() + y, wide, 18), Qt.AlignmentFlag.AlignVCenter, shown)
        painter.restore()

    def _picture(self, painter: QPainter, box: QRectF, row: int) -> None:
        picture = self.view.picture(row)
        if picture is not None:
            at = QPointF(box.left() + 6, box.top() + (box.height() - PICTURE_PX) / 2)
            painter.drawPixmap(at, picture)


def make_picture(plan: Plan, row: int, scale: float) -> QPixmap:
    """A mat in small; `scale` is how many pixels of the screen one of the window is."""
    display = make_mat_scene(plan, plan.lay.layouts[row], bare=True, wordless=True)
    picture = QPixmap(round(PICTURE_PX * scale), round(PICTURE_PX * scale))
    picture.setDevicePixelRatio(scale)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    paint_display(painter, display, fit_viewport(display.box, PICTURE_PX, PICTURE_PX, (2, 2, 4, 4)))
    painter.end()
    return picture


class MatList(QListView):
    """Emits `chosen(row)` when another mat is picked."""

    chosen = pyqtSignal(int)

    def __init__(self, name: str, parent: QWidget | None = None, *, with_picture: bool = True) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName("Mats")
        self.rows = _Rows(self)
        self.setModel(self.rows)
        self.setItemDelegate(_Delegate(self, with_picture))
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.setUniformItemSizes(True)
        self.setMouseTracking(True)
        self.setMinimumWidth(190)
        # Pictures of dear mats would hold up the window were they all painted at one time: one comes after the other.
        self._pictures: dict[int, QPixmap] = {}
        self._made_for: tuple[Plan | None, str] = (None, "")
        self._wanted: list[int] = []
        self._next = QTimer(self)
        self._next.setSingleShot(True)
        self._next.setInterval(0)
        self._next.timeout.connect(self._make_next)

    @property
    def is_busy(self) -> bool:
        """Whether a picture is still to be made."""
        return bool(self._wanted)

    def picture(self, row: int) -> QPixmap | None:
        """The picture of a mat; None when it is not there yet, and then it is made next."""
        now = (self.rows.plan, theme.name())
        if self._made_for[0] is not now[0] or self._made_for[1] != now[1]:
            self._made_for = now
            self._pictures.clear()
            self._wanted.clear()
        if row not in self._pictures and row not in self._wanted:
            self._wanted.append(row)
            self._next.start()
        return self._pictures.get(row)

    def _make_next(self) -> None:
        plan = self.rows.plan
        if plan is None or not self._wanted:
            return
        row = self._wanted.pop(0)
        if plan is self._made_for[0] and row < len(plan.lay.layouts):
            self._pictures[row] = make_picture(plan, row, self.devicePixelRatioF())
            self.update(self.rows.index(row))
        if self._wanted:
            self._next.start()

    def show_mats(self, plan: Plan, lines: list[tuple[str, str, str]], row: int) -> None:
        """List the mats: a title and two lines of words each. `row` stays chosen."""
        if self.rows.plan is not plan or self.rows.lines != lines:
            self.rows.show(plan, lines)
        if 0 <= row < len(lines):
            self.setCurrentIndex(self.rows.index(row))

    def currentChanged(self, current: QModelIndex, previous: QModelIndex) -> None:
        super().currentChanged(current, previous)
        if current.isValid() and current.row() != previous.row():
            self.scrollTo(current)
            self.chosen.emit(current.row())
