"""Words for counts."""

from __future__ import annotations


def plural(number: float, one: str, many: str = "") -> str:
    """The word for one or for many (with an s unless it is given), without the number."""
    return one if round(number) == 1 else many or f"{one}s"
