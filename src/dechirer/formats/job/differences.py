"""What differs between two jobs, and a job with differences put in: what the journal appends at an edit.

Jobs are frozen, and an edit shares with the job before it all that it did not touch. So parts that are the same object
are not looked into: a typeface of some megabytes costs nothing when a border is moved.
"""

from __future__ import annotations

from typing import Any

import msgspec
from msgspec import Struct

from dechirer.core.decide.coding import encode_hook
from dechirer.core.job.model import Job

Way = tuple[str | int, ...]
"""How to get to a part of a job: names of fields and numbers in lists."""


def find_differences(old: Job, new: Job) -> list[tuple[Way, Any]]:
    """Where two jobs differ, and what stands there in the new one, as plain data."""
    found: list[tuple[Way, Any]] = []
    _compare(old, new, (), found)
    return found


def _compare(old: Any, new: Any, way: Way, found: list[tuple[Way, Any]]) -> None:
    if old is new:
        return
    if type(old) is type(new):
        if isinstance(new, Struct) and not new.__struct_config__.array_like:
            for name, written in zip(new.__struct_fields__, new.__struct_encode_fields__, strict=True):
                _compare(getattr(old, name), getattr(new, name), (*way, written), found)
            return
        if isinstance(new, tuple) and len(old) == len(new):
            for place, (before, after) in enumerate(zip(old, new, strict=True)):
                _compare(before, after, (*way, place), found)
            return
    found.append((way, msgspec.to_builtins(new, enc_hook=encode_hook)))


def put_in(plain: Any, differences: list[Any]) -> None:
    """Put differences into a job that is plain data.

    Raises:
        KeyError, IndexError, TypeError, ValueError: they are not differences of that job.
    """
    for way, value in differences:
        *before, last = way
        at = plain
        for step in before:
            at = at[step]
        if isinstance(at, list) and not 0 <= last < len(at):
            raise IndexError(f"no entry {last}")
        at[last] = value
