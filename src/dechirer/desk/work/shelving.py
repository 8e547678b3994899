"""The shelf beside the work: opened from the menu, and what is taken from it goes onto the face in front."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from platformdirs import user_data_path
from PyQt6.QtCore import QObject

from dechirer.desk.work.document import Document

if TYPE_CHECKING:
    from dechirer.desk.stations.dress import DressStation
    from dechirer.desk.window import MainWindow

DRESS = "dress"


def shelf_folder() -> Path:
    """Where what is kept lies."""
    return user_data_path("dechirer") / "shelf"


class Shelving(QObject):
    """Opens the shelf. `dress` brings Dress in front and gives it."""

    def __init__(self, window: MainWindow, document: Document, dress: Callable[[], DressStation]) -> None:
        super().__init__(window)
        self._window, self._document, self._dress = window, document, dress

    def open(self) -> None:
        """Open the shelf beside Dress."""
        from dechirer.desk.boxes.shelf_box import ShelfBox

        station = self._dress()
        box = ShelfBox(self._document, shelf_folder(), station.panel.chosen_items, self._window)
        box.wanted.connect(station.bringing.put_shelved)
        box.recipe_wanted.connect(station.bringing.give_recipe)
        box.show()
