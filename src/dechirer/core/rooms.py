"""The rooms of the house by name, title and place, light to import: shown before anything is planned."""

from __future__ import annotations

import importlib
import os
from collections import namedtuple

Room = namedtuple("Room", ("id", "title", "order"))
"""A station's room: its id, which is its folder's name, its title and its place in the order of work."""


def list_rooms() -> tuple[Room, ...]:
    """The stations' rooms in the order of work: the packages here that give themselves a TITLE and an ORDER."""
    found = []
    for name in names_in("dechirer.core", folders=True):
        package = importlib.import_module(f"dechirer.core.{name}")
        if hasattr(package, "TITLE"):
            found.append(Room(name, package.TITLE, package.ORDER))
    return tuple(sorted(found, key=lambda room: room.order))


def names_in(package: str, *, folders: bool = False) -> list[str]:
    """The names of the modules in a package, or of the packages in it, sorted.

    (pkgutil does the same, but takes 14 ms to import.)
    """
    found = set()
    for home in importlib.import_module(package).__path__:
        for entry in os.scandir(home):
            name, ending = os.path.splitext(entry.name)
            if folders and entry.is_dir() and os.path.exists(os.path.join(entry.path, "__init__.py")):
                found.add(entry.name)
            elif not folders and ending == ".py" and name != "__init__":
                found.add(name)
    return sorted(found)
