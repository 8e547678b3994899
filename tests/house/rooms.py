"""What stands in the house, gathered once for its tests."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any, get_args

import msgspec

import dechirer
import dechirer.core
from dechirer.core.decide.decisions import Decisions
from dechirer.core.job.model import Job
from dechirer.core.stations import STATIONS

SOURCE = Path(dechirer.__file__).parent
FILES = tuple(sorted(SOURCE.rglob("*.py")))


def import_core() -> None:
    """Import all of core, so that everything has registered."""
    for module in pkgutil.walk_packages(dechirer.core.__path__, "dechirer.core."):
        importlib.import_module(module.name)


def all_decisions(kind: Any = Job, seen: set[Any] | None = None) -> set[type[Decisions]]:
    """Every class of decisions that a job can hold."""
    found: set[Any] = set() if seen is None else seen
    if isinstance(kind, type) and issubclass(kind, msgspec.Struct):
        if kind in found:
            return found
        found.add(kind)
        for field in msgspec.structs.fields(kind):
            all_decisions(field.type, found)
    else:
        for inner in get_args(kind):
            if isinstance(inner, type) or get_args(inner):
                all_decisions(inner, found)
    return {each for each in found if issubclass(each, Decisions)} if seen is None else found


def modules_of(package: str) -> Iterator[Any]:
    """The modules of a package."""
    home = importlib.import_module(package)
    for module in pkgutil.iter_modules(home.__path__):
        yield importlib.import_module(f"{package}.{module.name}")


def stations() -> tuple[str, ...]:
    """The ids of the stations in order."""
    return tuple(STATIONS)
