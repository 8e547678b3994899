"""What can be put on a face that has nothing on it, and how."""

from __future__ import annotations

from PyQt6.QtWidgets import QLabel, QPushButton, QStackedWidget, QToolButton, QVBoxLayout, QWidget

from dechirer.core.plan import Plan
from dechirer.desk.panels.dress_bar import DressBar
from dechirer.desk.widgets.choices import heading, small


class EmptyFace(QWidget):
    """Offers the ways of the bar above, each with what it is for."""

    def __init__(self, bar: DressBar) -> None:
        super().__init__()
        self.setObjectName("empty-face")
        column = QVBoxLayout(self)
        column.setContentsMargins(4, 8, 4, 4)
        column.setSpacing(6)
        self.title = heading("")
        column.addWidget(self.title)
        words = QLabel("Drop a file here, paste a picture (Ctrl+V), or begin with one of these:")
        words.setWordWrap(True)
        column.addWidget(words)
        column.addSpacing(6)
        for title, name, about, signal in (
            (
                "Words",
                "empty-words",
                "Typed and set; cut, drawn with a pen, or foiled.",
                bar.words_wanted,
            ),
            ("Bring in art…", "empty-art", "SVG, DXF or a picture, at its true size.", bar.art_wanted),
        ):
            button = QPushButton(title)
            button.setObjectName(name)
            button.clicked.connect(signal.emit)
            column.addWidget(button)
            column.addWidget(small(about))
        for title, name, about, source in (
            ("A shape ▾", "empty-shape", "Discs, hearts, stars, tags: no file is needed.", bar.shape_button),
            (
                "Something at hand ▾",
                "empty-thing",
                "Gems, ribbon, a note: stuck on or put in.",
                bar.thing_button,
            ),
        ):
            tool = QToolButton()
            tool.setObjectName(name)
            tool.setText(title)
            tool.setProperty("quiet", True)
            tool.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
            tool.setMenu(source.menu())
            column.addWidget(tool)
            column.addWidget(small(about))
        column.addStretch(1)

    def show_face(self, face: str) -> None:
        """Say which face is empty."""
        self.title.setText(f"Nothing on the {face} yet" if face else "Nothing yet")


class FaceSide(QStackedWidget):
    """What stands beside a face: the panel of its items, or, while it is empty, what can be put on it."""

    def __init__(self, panel: QWidget, bar: DressBar) -> None:
        super().__init__()
        self._panel, self._empty = panel, EmptyFace(bar)
        self.addWidget(panel)
        self.addWidget(self._empty)

    def show_face(self, plan: Plan, face: str) -> bool:
        """Turn to a face; whether it has something on it."""
        has_items = any(each.item.face == face for each in plan.dress.items)
        spot = plan.dress.spot(face)
        self._empty.show_face(spot.title if spot is not None else face)
        self.setCurrentWidget(self._panel if has_items else self._empty)
        return has_items
