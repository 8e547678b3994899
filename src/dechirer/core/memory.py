"""The memory of results: by what they were made from, bounded by bytes, owned by the planner.

Plans are made of frozen values, so a result may be kept and given again as long as its key is equal. There is no other
memory of results of a job: what is remembered elsewhere depends on no job (fonts, tables of sizes).
"""

from __future__ import annotations

import sys
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, TypeVar

import msgspec

Result = TypeVar("Result")

MOST_BYTES = 256 * 1024 * 1024
"""What is kept at most. Results not asked for longest are dropped first."""


class Memory:
    """Remembers results up to `most_bytes`; the newest is kept whatever it weighs."""

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self._most = most_bytes
        self._kept: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self.bytes = 0

    def recall(self, key: Hashable, make: Callable[[], Result]) -> Result:
        """The result for a key; made when it is not remembered. What `make` raises is not remembered."""
        if key in self._kept:
            self._kept.move_to_end(key)
            result: Result = self._kept[key][0]
            return result
        made = make()
        weight = weigh(made)
        self._kept[key] = (made, weight)
        self.bytes += weight
        while self.bytes > self._most and len(self._kept) > 1:
            self.bytes -= self._kept.popitem(last=False)[1][1]
        return made

    def __len__(self) -> int:
        return len(self._kept)


def weigh(value: Any) -> int:
    """About how many bytes a result takes, what it shares with itself counted once. Geometries count their points."""
    seen: set[int] = set()
    total = 0
    waiting = [value]
    while waiting:
        here = waiting.pop()
        if here is None or isinstance(here, (int, float, bool)) or id(here) in seen:
            continue
        seen.add(id(here))
        if isinstance(here, (str, bytes)):
            total += sys.getsizeof(here)
        elif isinstance(here, (tuple, list)):
            total += 56 + 8 * len(here)
            if here and isinstance(here[0], tuple) and here[0] and isinstance(here[0][0], float):
                total += 120 * len(here)  # points: a pair and its two numbers
            else:
                waiting.extend(here)
        elif isinstance(here, dict):
            total += 64 + 16 * len(here)
            waiting.extend(here.values())
        elif isinstance(here, msgspec.Struct):
            total += 48 + 8 * len(here.__struct_fields__)
            waiting.extend(getattr(here, name) for name in here.__struct_fields__)
        else:
            total += _weigh_other(here)
    return total


def _weigh_other(value: Any) -> int:
    """A geometry by its points; anything else by what it says of itself."""
    if type(value).__module__.startswith("shapely"):
        import shapely

        return 200 + 16 * int(shapely.get_num_coordinates(value))
    own = getattr(value, "__dict__", None)
    return sys.getsizeof(value) + (sum(sys.getsizeof(each) for each in own.values()) if own else 0)
