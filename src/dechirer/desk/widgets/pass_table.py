"""The passes of a mat as a painted table: drawn whole at each plan, without a label per cell."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from dechirer.core.run.run import MatRun
from dechirer.desk.theme import theme

HEADINGS = ("Pass", "Tool", "Holder", "Times over", "Lines", "Length", "Time")
ROW_PX = 20
GAP_PX = 18.0


class PassTable(QWidget):
    """Pass, tool, holder, times, lines, length and time; a missing tool is marked."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("passes")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._rows: list[tuple[str, ...]] = []
        self._missing: set[int] = set()
        self.setFixedHeight(0)

    def show_passes(self, mat: MatRun | None) -> None:
        """Show a mat's passes, or nothing."""
        passes = mat.passes if mat is not None else ()
        self._missing = {row for row, each in enumerate(passes) if each.tool.trouble}
        self._rows = [
            (
                f"{number}. {each.operation}",
                each.tool.title + (" (missing)" if each.tool.trouble else ""),
                each.tool.holder,
                f"{each.times} ×",
                str(each.lines),
                f"{each.length_mm / 10:.0f} cm",
                f"{each.seconds:.0f} s",
            )
            for number, each in enumerate(passes, start=1)
        ]
        self.setAccessibleName("; ".join(", ".join(row) for row in self._rows))
        self.setFixedHeight(ROW_PX * (len(self._rows) + 1) + 4 if self._rows else 0)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(400, self.height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if not self._rows:
            return
        painter = QPainter(self)
        bold, plain, small = theme.font("strong"), theme.font("body"), theme.font("small")
        left = 0.0
        for column, heading in enumerate(HEADINGS):
            cell_font = bold if column == 0 else plain
            metrics = QFontMetricsF(cell_font)
            wide = max(
                QFontMetricsF(small).horizontalAdvance(heading),
                *(metrics.horizontalAdvance(row[column]) for row in self._rows),
            )
            painter.setFont(small)
            painter.setPen(theme.colour("soft"))
            painter.drawText(QRectF(left, 0, wide + 4, ROW_PX), Qt.AlignmentFlag.AlignVCenter, heading)
            painter.setFont(cell_font)
            for number, row in enumerate(self._rows):
                painter.setPen(theme.colour("stop" if column == 1 and number in self._missing else "ink"))
                box = QRectF(left, ROW_PX * (number + 1), wide + 4, ROW_PX)
                painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, row[column])
            left += wide + GAP_PX
        painter.end()
