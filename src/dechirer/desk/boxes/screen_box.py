"""Measuring the screen: a bank card held to its picture, made as large as the card; then true size is true."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QLabel, QSizePolicy, QSlider, QVBoxLayout, QWidget

from dechirer.desk.screen import CARD_MM, screen
from dechirer.desk.theme import theme
from dechirer.desk.work.settings import Settings

STEPS_PER_PX_MM = 200
"""The slider's steps for one px per mm: a step moves the card's far edge by less than half a pixel."""
LEAST, MOST = 2.0, 9.0
ROUND_MM = 3.18
"""The radius of a bank card's corners, ISO/IEC 7810."""


class CardPicture(QWidget):
    """A bank card and a ruler at the size that is being tried. Emits `reached(px)`: the far edge was dragged there."""

    reached = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("screen-card")
        self.px_per_mm = 4.0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.SizeHorCursor)
        self.setAccessibleName("A bank card's outline; make it as large as a real card held to the screen")

    def sizeHint(self) -> QSize:
        return QSize(int(CARD_MM[0] * MOST) + 20, int(CARD_MM[1] * 6.0) + 50)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self.reached.emit(event.position().x() - 8)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        scale = self.px_per_mm
        wide, high = CARD_MM[0] * scale, CARD_MM[1] * scale
        painter.setPen(QPen(theme.colour("ink"), 1.5))
        painter.setBrush(theme.colour("accent-wash"))
        painter.drawRoundedRect(QRectF(8, 8, wide, high), ROUND_MM * scale, ROUND_MM * scale)
        painter.setFont(theme.font("body"))
        painter.drawText(QRectF(8, 8, wide, high), Qt.AlignmentFlag.AlignCenter, "a bank card, 85.6 × 54 mm")
        painter.setPen(QPen(theme.colour("ink"), 1.0))
        top = high + 16
        for mm in range(int(CARD_MM[0]) + 1):
            x = 8 + mm * scale
            tall = 14 if mm % 10 == 0 else 9 if mm % 5 == 0 else 5
            painter.drawLine(round(x), round(top), round(x), round(top + tall))
            if mm % 10 == 0:
                painter.drawText(QRectF(x - 14, top + 13, 28, 16), Qt.AlignmentFlag.AlignCenter, str(mm))
        painter.end()


class ScreenBox(QDialog):
    """Keeps what was measured in the settings. Emits `measured` when it was taken."""

    measured = pyqtSignal()

    def __init__(self, settings: Settings, parent: QWidget) -> None:
        super().__init__(parent)
        self._settings = settings
        self.setObjectName("screen-box")
        self.setWindowTitle("Measure this screen")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        column = QVBoxLayout(self)
        words = QLabel(
            "Hold a bank card, or a ruler, flat to the screen. Move the slider, or drag the picture's right edge, "
            "until the picture is exactly as large. “True size” is then true in every drawing."
        )
        words.setWordWrap(True)
        column.addWidget(words)
        self.picture = CardPicture()
        self.picture.reached.connect(lambda px: self.slider.setValue(round(px / CARD_MM[0] * STEPS_PER_PX_MM)))
        column.addWidget(self.picture)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("screen-size")
        self.slider.setAccessibleName("How large the picture of the card is")
        self.slider.setRange(round(LEAST * STEPS_PER_PX_MM), round(MOST * STEPS_PER_PX_MM))
        self.slider.valueChanged.connect(self._show)
        column.addWidget(self.slider)
        self.said = QLabel("")
        self.said.setObjectName("screen-said")
        self.said.setProperty("role", "soft")
        column.addWidget(self.said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        keep = buttons.addButton("It is as large", QDialogButtonBox.ButtonRole.AcceptRole)
        forget = buttons.addButton("Use what the screen says", QDialogButtonBox.ButtonRole.ResetRole)
        assert keep is not None
        assert forget is not None
        keep.setObjectName("screen-keep")
        forget.setObjectName("screen-forget")
        forget.clicked.connect(lambda: self._keep(0.0))
        buttons.accepted.connect(lambda: self._keep(self.slider.value() / STEPS_PER_PX_MM))
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.slider.setValue(round(min(MOST, max(LEAST, screen.px_per_mm)) * STEPS_PER_PX_MM))
        self._show()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.slider.hasFocus():
            return  # the slider's arrows are being pressed; Enter would end it by mistake
        super().keyPressEvent(event)

    def _show(self) -> None:
        self.picture.px_per_mm = self.slider.value() / STEPS_PER_PX_MM
        self.picture.update()
        told = "measured before" if screen.measured else "what the screen says of itself until now"
        self.said.setText(
            f"{self.picture.px_per_mm:.2f} px to the mm, {self.picture.px_per_mm * 25.4:.0f} to the inch "
            f"({told}: {screen.px_per_mm:.2f})"
        )

    def _keep(self, px_per_mm: float) -> None:
        screen.measured = self._settings.px_per_mm = px_per_mm * screen.ratio
        self.measured.emit()
        self.accept()
