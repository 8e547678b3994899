"""The rooms of the house by name, title and place, light to import: shown before anything is planned."""

from __future__ import annotations

import importlib
import pkgutil
from typing import NamedTuple


class Room(NamedTuple):
    """A station's room: its id, which is its folder's name, its title and its place in the order of work."""

    id: str
    title: str
    order: int


def list_rooms() -> tuple[Room, ...]:
    """The stations' rooms in the order of work: the packages here that give themselves a TITLE and an ORDER."""
    home = importlib.import_module("dechirer.core")
    found = []
    for each in pkgutil.iter_modules(home.__path__):
        if each.ispkg:
            package = importlib.import_module(f"dechirer.core.{each.name}")
            if hasattr(package, "TITLE"):
                found.append(Room(each.name, package.TITLE, package.ORDER))
    return tuple(sorted(found, key=lambda room: room.order))
