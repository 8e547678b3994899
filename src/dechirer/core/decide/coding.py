"""Decisions as plain data and back: how lengths are written, and what is said of data that is not valid."""

from __future__ import annotations

import re
from typing import Any, TypeVar

import msgspec

from dechirer.core.decide.refusal import split_field
from dechirer.core.length import Length, LengthError, parse_length

Kind = TypeVar("Kind")


def decode_hook(kind: type, value: Any) -> Any:
    """Turn a written length into a `Length`.

    Raises:
        LengthError: no text, no unit, or no length; msgspec adds the field's path.
        TypeError: another type that msgspec does not know; a fault of ours.
    """
    if kind is Length:
        if not isinstance(value, str):
            raise LengthError(f'a length is written as text with its unit, such as "133 mm"; got {value!r}')
        length = parse_length(value)
        if length.typed != value.strip():
            raise LengthError(f"“{value}” has no unit")
        return length
    raise TypeError(f"no way to read a {kind.__name__}")


def encode_hook(value: Any) -> Any:
    """Write a `Length` as it was typed. Raises TypeError for anything else."""
    if isinstance(value, Length):
        return value.typed
    raise TypeError(f"no way to write a {type(value).__name__}")


def to_plain(value: Any) -> Any:
    """A value as plain lists and dictionaries; bytes stay bytes."""
    return msgspec.to_builtins(value, enc_hook=encode_hook, builtin_types=(bytes,))


def fit(value: Any, kind: Any) -> Any:
    """A value made anew as one of a kind, checked in every field.

    Raises:
        ValueError: it is not valid as such; the message names the field and what is wrong with it.
    """
    try:
        return msgspec.convert(to_plain(value), kind, dec_hook=decode_hook)
    except msgspec.ValidationError as error:
        raise ValueError(plainly(error)) from None


def plainly(error: msgspec.ValidationError) -> str:
    """msgspec's message with the field first: `field brief.width: …`."""
    what, found, place = str(error).rpartition(" - at `$")
    if not found:
        what, place = str(error), ""
    return name_place(place.rstrip("`").lstrip("."), shorten(in_plain_words(what)))


KINDS = {
    "int": "a whole number",
    "float": "a number",
    "str": "text",
    "bool": "true or false",
    "array": "a list",
    "object": "an object",
    "null": "empty",
    "bytes": "data",
}
MOST_QUOTED = 60
_WORDS: tuple[tuple[str, str], ...] = (
    (r"Object missing required field `(\w+)`", "“{0}” is missing"),
    (r"Object contains unknown field `([^`]*)`", "“{0}” is not a field"),
    (r"Invalid enum value (.+)", "{0} is not one of the choices"),
    (r"Expected `(?:str|array|bytes)` of length <= (\d+)", "it is longer than {0}"),
    (r"Expected `(?:str|array|bytes)` of length >= (\d+)", "it is shorter than {0}"),
    (r"Expected `str` matching regex .*", "it has characters that are not allowed"),
    (r"Expected `(?:int|float)` (<=|>=|<|>) (\S+)", "it must be {0} {1}"),
)


def in_plain_words(message: str) -> str:
    """Return a message of msgspec in plain words; another one as it is."""
    for pattern, words in _WORDS:
        found = re.fullmatch(pattern, message, re.DOTALL)
        if found is not None:
            return words.format(*found.groups())
    found = re.fullmatch(r"Expected `([^`]+)`, got `([^`]+)`", message)
    if found is None:
        return message
    wanted, got = (
        " or ".join(KINDS.get(each.strip(), each.strip()) for each in part.split("|")) for part in found.groups()
    )
    return f"{wanted} is expected, not {got}"


def shorten(message: str) -> str:
    """Return a message in which every quoted value is at most 60 characters long."""
    return re.sub(
        r"“([^”]{61,})”|'([^']{61,})'", lambda found: f"“{(found[1] or found[2])[:59]}…”", message, flags=re.DOTALL
    )


def name_place(path: str, message: str) -> str:
    """A message with the field it is about: the one at a path, or the one below it that the message carries."""
    name, words = split_field(message)
    field = ".".join(part for part in (path, name) if part)
    return f"field {field}: {words}" if field else words
