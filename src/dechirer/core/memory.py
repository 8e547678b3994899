"""The memory of results: by what they were made from, bounded by bytes, owned by the planner.

Plans are made of frozen values, so a result may be kept and given again as long as its key is equal. What else follows
from a job and is remembered, `until_forgotten`, is little and is forgotten in a long pause and when the job is closed
(curves, and texts, colours and names that were read or measured); what is remembered beside that depends on no job
(fonts, tables of sizes).
"""

from __future__ import annotations

import sys
from collections import OrderedDict
from collections.abc import Callable, Hashable
from functools import lru_cache
from typing import Any, ParamSpec, TypeVar, cast

import msgspec

Given = ParamSpec("Given")
Result = TypeVar("Result")

MOST_BYTES = 256 * 1024 * 1024
"""What is kept at most. Results not asked for longest are dropped first."""


MOST_WEIGHED = 12
"""So many entries of a list, and so many results of a kind, are weighed."""
MOST_UNWEIGHED = 256
"""So many results wait to be weighed."""
_LIGHT = frozenset({type(None), int, float, bool})


_FORGETTING: list[Callable[[], None]] = []


def until_forgotten(most: int) -> Callable[[Callable[Given, Result]], Callable[Given, Result]]:
    """Decorator: the latest results of a function are given again for the same arguments, until `forget` is called."""

    def keeping(make: Callable[Given, Result]) -> Callable[Given, Result]:
        kept = lru_cache(maxsize=most)(make)
        _FORGETTING.append(kept.cache_clear)
        return cast("Callable[Given, Result]", kept)

    return keeping


def forget() -> None:
    """Forget what was kept `until_forgotten`: thousands of small values that lie all over the memory, so that pages
    which are free but for them cannot be given back."""
    for clear in _FORGETTING:
        clear()


class _Key:
    """A key whose hash is worked out once: keys are decisions and outlines in depth."""

    __slots__ = ("_hash", "_key")

    def __init__(self, key: Hashable) -> None:
        self._key, self._hash = key, hash(key)

    def __hash__(self) -> int:
        return self._hash

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Key) and self._hash == other._hash and self._key == other._key


class Same(msgspec.Struct, frozen=True, eq=False):
    """A result as a key: the very same one, since results are remembered and so given again."""

    value: Any

    def __hash__(self) -> int:
        return id(self.value)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Same) and self.value is other.value


class _Kept:
    """A result, the head of its key, and its weight in bytes; not weighed yet while that is below zero."""

    __slots__ = ("head", "result", "weight")

    def __init__(self, result: Any, head: object) -> None:
        self.result, self.head, self.weight = result, head, -1


class Memory:
    """Remembers results up to `most_bytes`; the newest is kept whatever it weighs.

    Weighing takes as long as some results do, so it waits until `trim` is called, or until MOST_UNWEIGHED are waiting.
    """

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self._most = most_bytes
        self._kept: OrderedDict[_Key, _Kept] = OrderedDict()
        self._unweighed: list[_Kept] = []
        self.bytes = 0

    def recall(self, key: Hashable, make: Callable[[], Result]) -> Result:
        """The result for a key; made when it is not remembered. What `make` raises is not remembered."""
        mine = _Key(key)
        kept = self._kept.get(mine)
        if kept is not None:
            self._kept.move_to_end(mine)
            result: Result = kept.result
            return result
        made = make()
        self._kept[mine] = kept = _Kept(
            made, key[0] if isinstance(key, tuple) and key and isinstance(key[0], str) else ""
        )
        self._unweighed.append(kept)
        if len(self._unweighed) > MOST_UNWEIGHED:
            self.trim()
        return made

    def trim(self) -> None:
        """Weigh what is new, and drop what was not asked for longest until the rest is light enough."""
        by_kind: dict[object, list[_Kept]] = {}
        for kept in self._unweighed:
            by_kind.setdefault((kept.head, type(kept.result)), []).append(kept)
        for alike in by_kind.values():
            # Results of one kind weigh about the same: of many some are weighed for all.
            some = alike[:: max(1, len(alike) // MOST_WEIGHED)]
            each = sum(weigh(kept.result) for kept in some) // len(some)
            for kept in alike:
                kept.weight = each
            self.bytes += each * len(alike)
        self._unweighed.clear()
        while self.bytes > self._most and len(self._kept) > 1:
            _, gone = self._kept.popitem(last=False)
            self.bytes -= gone.weight

    def __len__(self) -> int:
        return len(self._kept)


def weigh(value: Any) -> int:
    """About how many bytes a result takes, what it shares with itself counted once. Geometries count their points; of a
    long list some entries are weighed for all."""
    seen: set[int] = set()
    total = 0.0
    waiting = [(value, 1.0)]
    while waiting:
        here, times = waiting.pop()
        kind = type(here)
        if kind in _LIGHT or id(here) in seen:
            continue
        seen.add(id(here))
        if kind is str or kind is bytes:
            total += times * (50 + len(here))
        elif issubclass(kind, (tuple, list)):
            number = len(here)
            total += times * (56 + 8 * number)
            if here and type(here[0]) is tuple and here[0] and type(here[0][0]) is float:
                total += times * 120 * number  # points: a pair and its two numbers
            else:
                some = here if number <= MOST_WEIGHED else here[:: number // MOST_WEIGHED]
                waiting += [(each, times * number / len(some)) for each in some]
        elif issubclass(kind, dict):
            total += times * (64 + 16 * len(here))
            waiting += [(each, times) for each in here.values()]
        elif issubclass(kind, msgspec.Struct):
            fields = msgspec.structs.astuple(here)
            total += times * (48 + 8 * len(fields))
            waiting += [(each, times) for each in fields if type(each) not in _LIGHT]
        else:
            total += times * _weigh_other(here)
    return int(total)


def _weigh_other(value: Any) -> int:
    """A geometry by its points; anything else by what it says of itself."""
    if type(value).__module__.startswith("shapely"):
        import shapely

        return 200 + 16 * int(shapely.get_num_coordinates(value))
    own = getattr(value, "__dict__", None)
    return sys.getsizeof(value) + (sum(sys.getsizeof(each) for each in own.values()) if own else 0)
