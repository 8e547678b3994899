"""The small bar in a drawing's corner: smaller, the scale, larger, the ruler."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QToolButton, QWidget

from dechirer.desk.theme import theme

EDGE_PX = 6


class ViewBar(QWidget):
    """Emits `stepped(steps)`, `fit_wanted`, `true_size_wanted`, `measuring_wanted` (the screen) and `ruled(on)`."""

    stepped = pyqtSignal(int)
    fit_wanted = pyqtSignal()
    true_size_wanted = pyqtSignal()
    measuring_wanted = pyqtSignal()
    ruled = pyqtSignal(bool)

    def __init__(self, name: str, host: QWidget, *, flat: bool) -> None:
        super().__init__(host)
        self.setObjectName(f"{name}-bar")
        line = QHBoxLayout(self)
        line.setContentsMargins(2, 2, 2, 2)
        line.setSpacing(0)
        self.smaller = self._button(f"{name}-smaller", "−", "Smaller (-)")
        self.scale = self._button(f"{name}-scale", "", "The scale on the screen; 0 fits the picture again")
        self.larger = self._button(f"{name}-larger", "+", "Larger (+, or the wheel at the pointer)")
        self.rule = self._button(f"{name}-ruler", "Ruler", "Measure between two places (M)")
        self.rule.setCheckable(True)
        self.rule.setVisible(flat)
        self.smaller.clicked.connect(lambda: self.stepped.emit(-1))
        self.larger.clicked.connect(lambda: self.stepped.emit(1))
        self.rule.clicked.connect(self.ruled.emit)
        self.scale.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.scale)
        for id, words, signal in (
            ("fit", "Fit the picture (0)", self.fit_wanted),
            ("true-size", "True size on this screen (1)", self.true_size_wanted),
            ("measure-screen", "Measure this screen…", self.measuring_wanted),
        ):
            action = menu.addAction(words)
            if action is not None:
                action.setObjectName(f"{name}-{id}")
                action.triggered.connect(lambda _=False, signal=signal: signal.emit())
        self.scale.setMenu(menu)
        for button in (self.smaller, self.scale, self.larger, self.rule):
            line.addWidget(button)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paints its own ground. Were it Qt's to fill, the drawing would be painted round it, in a region of several
        rectangles, in which each line of a large picture takes 7 ms and not 0.3."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("surface"))
        painter.end()

    def _button(self, name: str, words: str, about: str) -> QToolButton:
        button = QToolButton(self)  # of this from the start: one of its own would be a window while it is shown
        button.setObjectName(name)
        button.setText(words)
        button.setToolTip(about)
        button.setAccessibleName(about)
        button.setFont(theme.font("small"))
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.setStyleSheet("padding: 1px 6px;")
        return button

    def show_scale(self, words: str) -> None:
        """Say the scale."""
        if words != self.scale.text():
            self.scale.setText(words)
            self.scale.setAccessibleName(f"Scale {words}")
            self.lie()

    def lie(self) -> None:
        """Lie in the lower right corner of the drawing."""
        host = self.parentWidget()
        if host is not None:
            self.adjustSize()
            self.move(host.width() - self.width() - EDGE_PX, host.height() - self.height() - EDGE_PX)
