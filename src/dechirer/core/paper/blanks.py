"""Bought blanks that are known by name, from the data file that ships with the package; makers add their own."""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path

import msgspec
from msgspec import Struct


class BoughtBlank(Struct, frozen=True):
    """A blank: its finished size, how it folds (`side`, `top` or nothing), what comes with it; mm. `mark` says how far
    its figures are to be trusted."""

    id: str
    name: str
    bought: str
    fold: str
    width: float
    height: float
    insert: tuple[float, float] | None
    envelope: tuple[float, float]
    mark: str

    @property
    def flat(self) -> tuple[float, float]:
        """Its size opened flat: twice as wide with a fold at its side, twice as high with one at its top."""
        if self.fold == "side":
            return 2 * self.width, self.height
        return self.width, (2 if self.fold == "top" else 1) * self.height


@lru_cache(maxsize=1)
def load_blanks() -> tuple[BoughtBlank, ...]:
    """All blanks that are known."""
    rows = json.loads(Path(__file__).with_name("blanks.json").read_text(encoding="utf-8"))["blanks"]
    return msgspec.convert(rows, tuple[BoughtBlank, ...])
