"""JSON as a job is read from: bounded before it is decoded, no name twice, no numbers that are none.

A few kilobytes of JSON can unpack into gigabytes of objects, so they are counted first. Of two values under one name
JSON readers take the last; a job in which somebody sees the first is refused.
"""

from __future__ import annotations

import json
import re
from typing import Any

from dechirer.core.decide.letters import clean

MOST_VALUES = 600_000
"""A job of 2,000 rows in 20 columns has 40,000; the outlines of art are one text each."""
_TEXT_OR_MARK = re.compile(rb'"[^"\\\\]*(?:\\\\.[^"\\\\]*)*"|[\[{,]', re.DOTALL)
"""A whole text, or a mark that begins a value outside of texts: outlines have commas of their own."""


_QUOTE = ord('"')


class NotStrictError(ValueError):
    """JSON that is not read; the message says why."""


def read_strictly(text: bytes) -> tuple[Any, int]:
    """The plain data, and how many texts in it had something that is no letter, which was left out.

    Raises:
        NotStrictError: not UTF-8 or JSON, too many values, too deep, a name twice, or a number that is none.
    """
    _count_values(text)
    cleaned = 0

    def pairs(found: list[tuple[str, Any]]) -> dict[str, Any]:
        made = dict(found)
        if len(made) < len(found):
            names = [name for name, _ in found]
            twice = next(name for name in names if names.count(name) > 1)
            raise NotStrictError(f"“{twice[:60]}” is in it twice")
        return made

    def constant(word: str) -> Any:
        raise NotStrictError(f"{word} is not a number")

    def tidy(value: Any) -> Any:
        nonlocal cleaned
        if isinstance(value, str):
            whole = clean(value)
            cleaned += whole != value
            return whole
        if isinstance(value, list):
            return [tidy(each) for each in value]
        if isinstance(value, dict):
            return {tidy(name): tidy(each) for name, each in value.items()}
        return value

    try:
        plain = json.loads(text.decode("utf-8"), object_pairs_hook=pairs, parse_constant=constant)
        return tidy(plain), cleaned
    except NotStrictError:
        raise
    except RecursionError:
        raise NotStrictError("its values are nested too deep") from None
    except UnicodeDecodeError as error:
        raise NotStrictError(f"byte {error.start + 1} is not UTF-8 text") from None
    except json.JSONDecodeError as error:
        raise NotStrictError(f"it is not valid JSON at line {error.lineno}, column {error.colno}") from None
    except ValueError:
        raise NotStrictError("it has a number of too many digits") from None


def _count_values(text: bytes) -> None:
    if sum(text.count(mark) for mark in (b"[", b"{", b",")) <= MOST_VALUES:
        return
    count = 0
    for found in _TEXT_OR_MARK.finditer(text):
        count += text[found.start()] != _QUOTE
        if count > MOST_VALUES:
            raise NotStrictError(f"it has more than {MOST_VALUES} values")
