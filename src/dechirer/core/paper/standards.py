"""Published sizes of sheets, cards and envelopes by name, and sizes as makers type them."""

from __future__ import annotations

import json
import re
from fractions import Fraction
from functools import lru_cache
from pathlib import Path

from msgspec import Struct

from dechirer.core.length import UNIT_SPELLINGS, Length, LengthError, parse_length


class StandardSize(Struct, frozen=True):
    """A named size, upright, with the standard it comes from and how far that is to be trusted."""

    name: str
    kind: str
    width_mm: float
    height_mm: float
    source: str
    mark: str


@lru_cache(maxsize=1)
def load_sizes() -> tuple[StandardSize, ...]:
    """All named sizes, from the data file that ships with the package."""
    text = Path(__file__).with_name("sizes.json").read_text(encoding="utf-8")
    return tuple(
        StandardSize(row["name"], row["kind"], row["width"], row["height"], row["source"], row["mark"])
        for row in json.loads(text)["sizes"]
    )


def find_size(name: str) -> StandardSize | None:
    """The size of that name, or None. `ISO A6` and `A6` are the ISO size; `US A6` is the American one."""
    wanted = " ".join(name.lower().split()).removeprefix("iso ")
    return next((size for size in load_sizes() if size.name.lower() == wanted), None)


def find_american_namesake(name: str) -> StandardSize | None:
    """The American card size that shares a bare name with an ISO size (A6, A7), or None.

    The two differ by up to 50 mm, so a bare name deserves a word.
    """
    wanted = " ".join(name.lower().split())
    return find_size(f"us {wanted}") if find_size(wanted) is not None else None


_UNIT_WORD = re.compile(r"(?<![A-Za-z])(?:(?![xX](?:\W|\d|$)|by\b)[A-Za-z]+\.?|[\"″”]|''|′′|’’)")
"""A unit in a size; not the x between its numbers."""


def parse_size(text: str, *, unit: str = "mm") -> tuple[Length, Length]:
    """Read a size `5x7in`, `5 x 7`, `105 mm x 148 mm` or a standard name such as `A6` or `US A7`.

    A unit on one of the numbers alone serves both: `5x7in`, `105mm x 148`.

    Raises:
        LengthError: no standard has that name and the text is not two lengths with an x between.
    """
    named = find_size(text)
    if named is not None:
        width, height = named.width_mm, named.height_mm
        return Length(Fraction(str(width)), f"{width:g} mm"), Length(Fraction(str(height)), f"{height:g} mm")
    # "5x7in" and "5 by 7 in", but not the x of "px".
    parts = re.split(r"\s*(?:(?<![pP])[xX]|×|\bby\b)\s*", text.strip())
    if len(parts) != 2 or not all(parts):
        raise LengthError(f"“{text}” is no size; write one such as 5 x 7 in, 105 x 148 mm, A6 or US A7")
    found = [
        UNIT_SPELLINGS.get(re.sub(r"''|′′|’’", '"', word).lower().rstrip("."), "") for word in _UNIT_WORD.findall(text)
    ]
    shared = found[0] if len(found) == 1 and found[0] else unit
    return parse_length(parts[0], unit=shared), parse_length(parts[1], unit=shared)
