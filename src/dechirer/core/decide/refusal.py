"""Refusals: the errors of values that are not taken, and the field they carry."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any


class FieldError(ValueError):
    """A value that a field does not take; says what it takes."""


def at_field(name: str, message: str) -> str:
    """A message that carries the field it is about, for `split_field` to tell them apart again."""
    return f"«{name}» {message}"


def split_field(message: str) -> tuple[str, str]:
    """The field a message carries (empty: none), and the message without it."""
    if not message.startswith("«"):
        return "", message
    name, _, words = message[1:].partition("» ")
    return name, words


def require(condition: bool, message: str) -> None:
    """Refuse a value of a model.

    Raises:
        ValueError: the condition does not hold; with the message.
    """
    if not condition:
        raise ValueError(message)


def require_own_ids(what: str, entries: Iterable[Any]) -> None:
    """Refuse a list in which two entries have one id.

    Raises:
        ValueError: two have; `what` says of what.
    """
    ids = [entry.id for entry in entries]
    require(len(set(ids)) == len(ids), f"two {what} have the same id")
