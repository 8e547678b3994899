"""How the desk looks: light, dark or as the system is, and how large everything is drawn."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, Qt, pyqtSlot
from PyQt6.QtWidgets import QApplication

from dechirer.desk.screen import screen
from dechirer.desk.theme import theme
from dechirer.desk.window import MainWindow
from dechirer.desk.work.settings import Settings


class Appearance(QObject):
    """Changes the theme of a window and remembers it; follows the system's for as long as none was chosen."""

    def __init__(self, window: MainWindow, settings: Settings, draw_again: Callable[[], None]) -> None:
        """`draw_again` is called when what is painted has to be painted anew."""
        super().__init__(window)
        self._window, self._settings, self._draw_again = window, settings, draw_again
        screen.measured = settings.px_per_mm
        hints = QApplication.styleHints()
        if hints is not None:
            # The hints live as long as the application: a function of its own would hold this window.
            hints.colorSchemeChanged.connect(self.follow_system)
        self._name_actions()

    def toggle(self) -> None:
        """Change between light and dark."""
        self.choose("dark" if theme.name() == "light" else "light")

    def choose(self, wanted: str) -> None:
        """Use a theme from now on, whatever the system does."""
        self._settings.theme = wanted
        self._use(wanted)

    def use_system(self) -> None:
        """Be light or dark as the system is, from now on."""
        self._settings.theme = ""
        self.follow_system()

    @pyqtSlot()  # Qt's own slot goes with the window; a proxy for a mere function stays with the hints
    def follow_system(self) -> None:
        """The system has changed, or is to be followed; what was chosen stays."""
        if not self._settings.theme:
            self._use(theme_of_system())

    def scale(self, percent: int) -> None:
        """Draw everything larger or smaller from the next start."""
        self._settings.scale = percent
        told = "as large as the system has it" if percent == 100 else f"at {percent} %"
        self._window.banners.say("scale", "note", f"From the next start everything is drawn {told}.", seconds=8)
        self._name_actions()

    def _use(self, wanted: str) -> None:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.apply_theme(app, wanted)
        self._name_actions()
        self._draw_again()
        self._window.update()

    def _name_actions(self) -> None:
        actions = self._window.actions_by_id
        actions["theme"].setText("Light theme" if theme.name() == "dark" else "Dark theme")
        actions["theme-system"].setCheckable(True)
        actions["theme-system"].setChecked(not self._settings.theme)
        for id, action in actions.items():
            if id.startswith("scale-"):
                action.setCheckable(True)
                action.setChecked(id == f"scale-{self._settings.scale}")


def theme_of_system() -> str:
    """`dark` when the system is, else `light`."""
    hints = QApplication.styleHints()
    return "dark" if hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark else "light"
