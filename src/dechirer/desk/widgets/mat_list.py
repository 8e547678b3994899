"""The list of mats, drawn row by row, so that a long job costs no more than a short one."""

from __future__ import annotations

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
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
        plan = self.view.rows.plan
        assert plan is not None
        display = make_mat_scene(plan, plan.lay.layouts[row], bare=True, wordless=True)
        painter.save()
        painter.translate(box.left() + 6, box.top() + (box.height() - PICTURE_PX) / 2)
        paint_display(painter, display, fit_viewport(display.box, PICTURE_PX, PICTURE_PX, (2, 2, 4, 4)))
        painter.restore()


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
