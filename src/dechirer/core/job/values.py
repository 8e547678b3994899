"""The small values that models of a job are made of: identifiers, names, colours, sizes."""

from __future__ import annotations

from typing import Annotated, Any

import msgspec
from msgspec import Meta, Struct

from dechirer.core.length import Length, parse_length

Identifier = Annotated[str, Meta(pattern=r"^[a-z][a-z0-9-]{0,40}$")]
Name = Annotated[str, Meta(min_length=1, max_length=120)]
Colour = Annotated[str, Meta(pattern=r"^#[0-9a-fA-F]{6}$")]
Count = Annotated[int, Meta(ge=1, le=10_000)]

LARGEST_CARD_MM = 1000.0


def default_length(text: str) -> Any:
    """A default for a length field; by a factory, because a schema cannot hold a default that is not JSON."""
    return msgspec.field(default_factory=lambda: parse_length(text))


def require(condition: bool, message: str) -> None:
    """Refuse a value of a model.

    Raises:
        ValueError: the condition does not hold; with the message.
    """
    if not condition:
        raise ValueError(message)


def require_length(name: str, length: Length, least: float, most: float) -> None:
    """Refuse a length outside its bounds in mm.

    Raises:
        ValueError: it is below `least` or above `most`; with its name.
    """
    require(least <= length.mm <= most, f"{name} must be from {least:g} to {most:g} mm, got {length}")


class Size(Struct, frozen=True, forbid_unknown_fields=True):
    """A width and a height, both above zero and under a metre."""

    width: Length
    height: Length

    def __post_init__(self) -> None:
        for name, length in (("width", self.width), ("height", self.height)):
            require(length.mm > 0, f"{name} must be above zero, got {length}")
            require(length.mm <= LARGEST_CARD_MM, f"{name} must be at most a metre, got {length}")
