"""Banners: what the window has to say or ask, in a line above the station, without a dialog in the way."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from dechirer.desk.theme import theme


class Banner(QWidget):
    """One line with optional buttons. `kind` is stop, look or note."""

    def __init__(
        self, key: str, kind: str, text: str, buttons: list[tuple[str, Callable[[], None]]], stack: Banners
    ) -> None:
        super().__init__(stack)
        self.setObjectName(f"banner-{key}")
        self.key, self.kind, self._stack = key, kind, stack
        self.time = QTimer(self)
        self.time.setSingleShot(True)
        line = QHBoxLayout(self)
        line.setContentsMargins(20, 6, 10, 6)
        self.words = QLabel(text)
        self.words.setObjectName(f"banner-{key}-text")
        self.words.setWordWrap(True)
        line.addWidget(self.words, 1)
        for number, (label, act) in enumerate(buttons):
            button = QPushButton(label)
            button.setObjectName(f"banner-{key}-{number}")
            button.clicked.connect(lambda _=False, act=act: act())
            line.addWidget(button)

    def leave(self) -> None:
        """Its time is over."""
        self._stack.drop(self.key)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        wash = {"stop": "stop-wash", "look": "look-wash", "note": "accent-wash"}[self.kind]
        mark = {"stop": "stop", "look": "look", "note": "accent"}[self.kind]
        painter.fillRect(self.rect(), theme.colour(wash))
        painter.fillRect(0, 0, 4, self.height(), theme.colour(mark))
        painter.end()


class Banners(QWidget):
    """The stack of banners; one per key, the newest text wins."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("banners")
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(16, 4, 16, 0)
        self._column.setSpacing(4)
        self._shown: dict[str, Banner] = {}
        self.hide()

    def say(
        self,
        key: str,
        kind: str,
        text: str,
        buttons: list[tuple[str, Callable[[], None]]] | None = None,
        *,
        seconds: int = 0,
    ) -> None:
        """Show a banner until it is dropped, or for some seconds."""
        self.drop(key)
        banner = Banner(key, kind, text, buttons or [("Close", lambda: self.drop(key))], self)
        self._shown[key] = banner
        self._column.addWidget(banner)
        self.show()
        if seconds:
            banner.time.start(1000 * seconds)
            banner.time.timeout.connect(banner.leave)

    def clear(self) -> None:
        """Take every banner away, with what waits for its time."""
        for key in list(self._shown):
            self.drop(key)

    @property
    def is_empty(self) -> bool:
        """Whether nothing is said."""
        return not self._shown

    def text(self, key: str) -> str:
        """What a banner says; empty when it is not shown."""
        banner = self._shown.get(key)
        return banner.words.text() if banner else ""

    def set_text(self, key: str, text: str) -> None:
        """Change the words of a banner that is shown."""
        if key in self._shown:
            self._shown[key].words.setText(text)

    def drop(self, key: str) -> None:
        """Take a banner away."""
        banner = self._shown.pop(key, None)
        if banner is not None:
            banner.time.stop()  # a banner that waits to be deleted must not drop the next one of its key
            self._column.removeWidget(banner)
            banner.hide()
            banner.setParent(None)  # nobody finds it any more by its name
            banner.deleteLater()
        if not self._shown:
            self.hide()
