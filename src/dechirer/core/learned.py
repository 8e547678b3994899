"""What was learned from work that was done: a value with what it rests on. A job carries copies of those it uses."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated

from msgspec import Meta

from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field

Key = Annotated[str, Meta(min_length=1, max_length=160)]


class Learned(Decisions, frozen=True):
    """One value: its key, what it is, and the 95 % interval it lies in; from how many observations, of which spread,
    the last made on which day, and what was held before there were any (the trade's value)."""

    key: Key
    words: Annotated[str, Meta(max_length=200)]
    value: Annotated[float, Field("Value", -1e6, 1e6)]
    low: Annotated[float, Field("At least", -1e6, 1e6)]
    high: Annotated[float, Field("At most", -1e6, 1e6)]
    count: Annotated[int, Field("Observations", 0, 10_000_000)]
    spread: Annotated[float, Field("Spread", 0, 1e6)] = 0.0
    made: Annotated[str, Meta(max_length=10)] = ""
    before: Annotated[float, Field("Held before", -1e6, 1e6)] = 0.0
    unit: Annotated[str, Meta(max_length=20)] = ""

    @property
    def rests_on(self) -> str:
        """What it rests on, in words."""
        number = "1 observation" if self.count == 1 else f"{self.count} observations"
        return f"learned from {number}, the last of {self.made}" if self.made else f"learned from {number}"


def find_learned(learned: Iterable[Learned], key: str) -> Learned | None:
    """The value of a key, or None."""
    return next((each for each in learned if each.key == key), None)


def factor_of(learned: Iterable[Learned], key: str) -> float:
    """How many times a planned time really takes, as learned; 1 where nothing was."""
    found = find_learned(learned, key)
    return found.value if found is not None and found.value > 0 else 1.0


def place_key(machine: str, mat: str, side: str) -> str:
    """The key of where a machine cuts in a mat's corner, `right` or `down`."""
    return f"place.{machine}.{mat}.{side}"[:160]
