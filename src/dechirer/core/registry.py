"""Registries: a thing registers itself by a decorator in its own file, and its folder is looked through once.

Nothing else names the things: whoever needs them asks the registry, in their order. An id that is not known is
answered with those that are.
"""

from __future__ import annotations

import importlib
from collections.abc import Callable, Iterator
from typing import Any, Generic, TypeVar

from dechirer.core.rooms import names_in

Spec = TypeVar("Spec")
Run = TypeVar("Run", bound=Callable[..., Any])


class UnknownIdError(KeyError):
    """An id that nothing has registered; the message lists those that are known."""

    def __str__(self) -> str:
        return str(self.args[0])


class Registry(Generic[Spec]):
    """The things of one kind, by id, in their order.

    Args:
        what: what one of them is called in messages, such as `construction`.
        make: the class of their specs; called with `id`, `run` and whatever else `add` is given.
        folders: packages whose modules register; they are imported when the registry is first asked.
    """

    def __init__(self, what: str, make: Callable[..., Spec], *, folders: tuple[str, ...]) -> None:
        self.what = what
        self._make = make
        self._folders = folders
        self._found = False
        self._specs: dict[str, Spec] = {}

    def add(self, id: str, **facts: Any) -> Callable[[Run], Run]:
        """Decorator: register a function (or class) under an id, with the facts of its spec.

        Raises:
            ValueError: another one has the id.
        """

        def register(run: Run) -> Run:
            if id in self._specs:
                raise ValueError(f"two of {self.what} are called {id}")
            self._specs[id] = self._make(id=id, run=run, **facts)
            return run

        return register

    def find(self) -> dict[str, Spec]:
        """All of them by id, in their order; imports the folders the first time."""
        if not self._found:
            self._found = True
            for folder in self._folders:
                import_all(folder)
            ranked = sorted(self._specs.items(), key=lambda pair: getattr(pair[1], "order", 0))
            self._specs = dict(ranked)
        return self._specs

    def __getitem__(self, id: str) -> Spec:
        """The one of that id.

        Raises:
            UnknownIdError: nothing is called so.
        """
        specs = self.find()
        if id not in specs:
            raise UnknownIdError(f"{self.what} “{id}” is not one of {', '.join(specs)}")
        return specs[id]

    def __contains__(self, id: object) -> bool:
        return id in self.find()

    def __iter__(self) -> Iterator[Spec]:
        return iter(self.find().values())

    def __len__(self) -> int:
        return len(self.find())

    def ids(self) -> tuple[str, ...]:
        """Their ids in order."""
        return tuple(self.find())


def import_all(package: str) -> tuple[Any, ...]:
    """Import every module of a package, in the order of their names; returns them."""
    return tuple(importlib.import_module(f"{package}.{name}") for name in names_in(package))
