"""The top line: the job's name and saved state at the left, actions at the right."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QToolButton, QWidget

from dechirer.desk.actions import DEMOS, JOB_MENU, LOOKS_MENU
from dechirer.desk.theme import theme
from dechirer.desk.theme.tokens import TOP_HEIGHT
from dechirer.desk.widgets.elided import Elided
from dechirer.desk.widgets.segments import Segments


class TopBar(QWidget):
    """Built from the window's actions. Emits `units_chosen(units)`."""

    units_chosen = pyqtSignal(str)

    def __init__(self, actions: dict[str, QAction], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("top-bar")
        self.setFixedHeight(TOP_HEIGHT)
        line = QHBoxLayout(self)
        line.setContentsMargins(16, 6, 16, 4)
        line.setSpacing(4)
        self.name = Elided("Dechirer")
        self.name.setObjectName("job-name")
        self.name.setFont(theme.font("title"))
        self.state = Elided()
        self.state.setObjectName("saved-state")
        self.state.setProperty("role", "soft")
        line.addWidget(self.name)
        line.addSpacing(8)
        line.addWidget(self.state)
        line.addStretch(1)
        self.job_button = QToolButton()
        self.job_button.setObjectName("job-menu")
        self.job_button.setText("Job ▾")
        self.job_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.job_button)
        for id in JOB_MENU:
            if id == "-":
                menu.addSeparator()
            elif id == "recent":
                self.recent = QMenu("Recent jobs", menu)
                self.recent.setObjectName("recent-jobs")
                menu.addMenu(self.recent)
            elif id == "demos":
                inner = QMenu("Demo jobs", menu)
                for name, *_ in DEMOS:
                    inner.addAction(actions[f"demo-{name}"])
                menu.addMenu(inner)
            elif id == "looks":
                looks = QMenu("Look and size", menu)
                looks.setObjectName("looks")
                for entry in LOOKS_MENU:
                    looks.addSeparator() if entry == "-" else looks.addAction(actions[entry])
                menu.addMenu(looks)
            else:
                menu.addAction(actions[id])
        self.job_button.setMenu(menu)
        line.addWidget(self.job_button)
        for id in ("undo", "redo"):
            line.addWidget(_button(actions[id], id))
        self.units = Segments("units", [("in", "in"), ("mm", "mm")])
        self.units.chosen.connect(self.units_chosen.emit)
        line.addSpacing(6)
        line.addWidget(self.units)
        line.addSpacing(6)
        for id in ("find", "help"):
            line.addWidget(_button(actions[id], id))
        export = _button(actions["export"], "export")
        export.setProperty("main", True)
        line.addWidget(export)

    def show_recent(self, paths: list[Path], open_one: Callable[[Path], None]) -> None:
        """List job files to open again."""
        self.recent.clear()
        none = self.recent.addAction("none yet") if not paths else None
        if none is not None:
            none.setEnabled(False)
        for path in paths:
            action = self.recent.addAction(path.name)
            if action is not None:
                action.setToolTip(str(path))
                action.triggered.connect(lambda _=False, path=path: open_one(path))

    def show_job(self, name: str, state: str) -> None:
        """Show the job's name and what has become of its file."""
        self.name.say(name)
        self.state.say(state)


def _button(action: QAction, id: str) -> QToolButton:
    button = QToolButton()
    button.setObjectName(f"button-{id}")
    button.setDefaultAction(action)
    button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextOnly)
    button.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
    return button
