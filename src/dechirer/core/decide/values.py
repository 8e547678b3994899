"""The small values that decisions are made of: identifiers, names, colours, sizes."""

from datetime import date
from typing import Annotated, Any

import msgspec
from msgspec import Meta, Struct

from dechirer.core.decide.refusal import require
from dechirer.core.length import Length, parse_length

Identifier = Annotated[str, Meta(pattern=r"^[a-z][a-z0-9-]{0,40}$")]
Name = Annotated[str, Meta(min_length=1, max_length=120)]
Colour = Annotated[str, Meta(pattern=r"^#[0-9a-fA-F]{6}$")]

LARGEST_CARD_MM = 1000.0


def given(text: str) -> Any:
    """A default for a length field; by a factory, because a schema cannot hold a default that is not JSON."""
    return msgspec.field(default_factory=lambda: parse_length(text))


def made(kind: Any) -> Any:
    """A default for a field that holds decisions of its own: those with all their defaults."""
    return msgspec.field(default_factory=kind)


def is_day(text: str) -> bool:
    """Whether a text is a day, as 2026-05-02."""
    try:
        return date.fromisoformat(text).isoformat() == text
    except ValueError:
        return False


class Size(Struct, frozen=True, forbid_unknown_fields=True):
    """A width and a height, both above zero and under a metre."""

    width: Length
    height: Length

    def __post_init__(self) -> None:
        for name, length in (("width", self.width), ("height", self.height)):
            require(length.mm > 0, f"{name} must be above zero, got {length}")
            require(length.mm <= LARGEST_CARD_MM, f"{name} must be at most a metre, got {length}")

    @property
    def area(self) -> float:
        """In mm2."""
        return self.width.mm * self.height.mm

    def is_like(self, width: float, height: float, within: float) -> bool:
        """Whether it is a width by a height (mm), upright or across, but for less than so much each way."""
        own = sorted((self.width.mm, self.height.mm))
        return all(abs(a - b) < within for a, b in zip(own, sorted((width, height)), strict=True))
