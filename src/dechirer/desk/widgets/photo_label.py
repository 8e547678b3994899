"""A photograph as large as there is room, and whole at a click."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QMouseEvent, QPixmap
from PyQt6.QtWidgets import QDialog, QLabel, QVBoxLayout

HIGH_PX = 200


class PhotoLabel(QLabel):
    """Shows a picture HIGH_PX high; a click or Enter shows it whole. Hidden where there is none."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("book-picture")
        self.setAccessibleName("The photograph; Enter shows it whole")
        self.setAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setToolTip("Click to see it whole")
        self.whole: QPixmap | None = None
        self.hide()

    def show_picture(self, pixels: QPixmap | None) -> None:
        """Show a picture, or none."""
        self.whole = pixels
        self.setVisible(pixels is not None)
        if pixels is not None:
            ratio = self.devicePixelRatioF()
            wide, high = round(2.4 * HIGH_PX * ratio), round(HIGH_PX * ratio)
            shown = _scaled(pixels, QSize(wide, high))
            shown.setDevicePixelRatio(ratio)
            self.setPixmap(shown)

    def open_whole(self) -> QDialog | None:
        """Open the picture in a window of its own, no larger than the screen."""
        if self.whole is None:
            return None
        box = QDialog(self)
        box.setObjectName("photo-box")
        box.setWindowTitle("Photograph")
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        screen = QGuiApplication.primaryScreen()
        room = screen.availableSize() * 0.85 if screen is not None else QSize(1000, 700)
        label = QLabel()
        fits = self.whole.width() <= room.width() and self.whole.height() <= room.height()
        label.setPixmap(self.whole if fits else _scaled(self.whole, room))
        column = QVBoxLayout(box)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(label)
        box.show()
        return box

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A click shows it whole."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.open_whole()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter shows it whole."""
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.open_whole()
            return
        super().keyPressEvent(event)


def _scaled(pixels: QPixmap, room: QSize) -> QPixmap:
    return pixels.scaled(room, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
