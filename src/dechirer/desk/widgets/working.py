"""Working: the picked number, and where it comes from, down to what was typed."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import QUrl, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QTextBrowser, QToolButton, QVBoxLayout, QWidget

from dechirer.core.figure import Figure
from dechirer.desk.theme import theme

MOST_LINES = 24
HINT_PX, LEAST_PX = 58, 170
"""As high while nothing is picked, and at least so high while something is explained."""
QWIDGETSIZE_MAX = 16777215


class Working(QWidget):
    """Explains one figure, and is away while none is picked. Emits `figure_picked(key)` when a figure it comes from is
    clicked, `closed` when it is put away."""

    figure_picked = pyqtSignal(str)
    closed = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("working")
        self._page = QTextBrowser(self)
        self._page.setObjectName("working-text")
        self._page.setOpenLinks(False)
        self._page.setAccessibleName("Working: where the picked number comes from")
        self._page.anchorClicked.connect(self._follow)
        box = QVBoxLayout(self)
        box.setContentsMargins(4, 2, 4, 2)
        box.addWidget(self._page)
        self.close_button = QToolButton(self)
        self.close_button.setObjectName("close-working")
        self.close_button.setText("✕")
        self.close_button.setToolTip("Put the working away (Escape in a drawing)")
        self.close_button.setAccessibleName("Put the working away")
        self.close_button.clicked.connect(self.closed.emit)
        self.show_figure(None, "in")

    def text(self) -> str:
        """The working as plain text."""
        return self._page.toPlainText()

    def show_figure(self, figure: Figure | None, unit: str) -> None:
        """Explain a figure, or, small, say how to pick one."""
        ink, soft, accent, rule = (theme.colour(role).name() for role in ("ink", "soft", "accent", "rule-strong"))
        if figure is None:
            self._page.setHtml(
                f'<p style="color:{soft}">Click any number to see where it comes from, down to what you typed.</p>'
            )
            self.setFixedHeight(HINT_PX)
            self.close_button.hide()
            return
        self.setMinimumHeight(LEAST_PX)
        self.setMaximumHeight(QWIDGETSIZE_MAX)
        self.close_button.show()
        other = _other_unit(figure, unit)
        lines = [
            f'<p style="margin:0 0 4px 0"><span style="font-size:15px;font-weight:600;color:{ink}">Working</span>'
            f'&nbsp; <span style="color:{accent}">{escape(figure.name)}</span></p>',
            f'<p style="margin:0 0 6px 0"><span style="font-size:25px;font-weight:600;color:{ink}">'
            f'{escape(figure.text(unit))}</span>&nbsp; <span style="color:{soft}">{escape(other)}</span></p>',
        ]
        for number, (depth, each) in enumerate(figure.walk()):
            if number >= MOST_LINES:
                lines.append(f'<p style="color:{soft}">… and more</p>')
                break
            pad = 14 * max(0, depth - 1)
            if depth == 0:
                body = f'<span style="color:{ink}">= {escape(each.sentence(unit))}</span>'
            else:
                bar = f'<span style="color:{rule}">▏</span>'
                style = f"color:{accent};text-decoration:none"
                link = f'<a style="{style}" href="figure:{escape(each.key)}">{escape(each.name)}</a>'
                shown = each.sentence(unit)
                value = escape(each.both(unit))
                body = f'{bar}{link} <span style="color:{soft}">= {value}'
                body += f" = {escape(shown)}" if each.inputs else f", {escape(shown)}" if shown else ""
                body += "</span>"
            lines.append(f'<p style="margin:2px 0 2px {pad}px">{body}</p>')
        if figure.note:
            lines.append(f'<p style="margin:7px 0 0 0;color:{soft}">{escape(figure.note)}</p>')
        self._page.setHtml("".join(lines))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        size = self.close_button.sizeHint()
        self.close_button.setGeometry(self.width() - size.width() - 4, 4, size.width(), size.height())
        self.close_button.raise_()

    def _follow(self, url: QUrl) -> None:
        self.figure_picked.emit(url.toString().removeprefix("figure:"))


def _other_unit(figure: Figure, unit: str) -> str:
    """The same length in the other unit."""
    if figure.kind != "length":
        return ""
    return figure.text("mm" if unit == "in" else "in") if figure.value else ""
