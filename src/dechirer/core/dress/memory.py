"""A memory of results by what they were made from; the ones not asked for longest are dropped."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

Result = TypeVar("Result")


class Memory(Generic[Result]):
    """Remembers up to `most` results."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: OrderedDict[Hashable, Result] = OrderedDict()

    def recall(self, key: Hashable, make: Callable[[], Result]) -> Result:
        """The result for a key; made when it is not remembered."""
        if key in self._kept:
            self._kept.move_to_end(key)
            return self._kept[key]
        made = make()
        self._kept[key] = made
        while len(self._kept) > self._most:
            self._kept.popitem(last=False)
        return made
