"""Words for counts."""

from __future__ import annotations


def plural(number: float, one: str, many: str = "") -> str:
    """The word for one or for many (with an s unless it is given), without the number."""
    return one if round(number) == 1 else many or f"{one}s"


def count(number: int, one: str, many: str = "") -> str:
    """Return a number with its word: "1 piece", "2 pieces", "no pieces"."""
    return f"{number or 'no'} {plural(number, one, many)}"
