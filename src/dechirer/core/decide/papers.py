"""Which papers and files decisions name, found by their fields: whatever is added later is found as well."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from msgspec import Struct

from dechirer.core.decide.change import key_of
from dechirer.core.decide.decisions import Decisions, slots_of


def papers_in(owner: Any, path: str) -> Iterator[tuple[str, str]]:
    """The places that name a paper in some decisions and all below them: (path, paper id)."""
    return named_in(owner, path, "paper")


def named_in(owner: Any, path: str, kind: str) -> Iterator[tuple[str, str]]:
    """The places that name something of a kind (`paper`, `art`) in some decisions and all below them: (path, its id).

    What a list keeps for a paper by its id (how it is loaded) does not count, nor what says of itself that it is one.
    """
    if isinstance(owner, tuple):
        for entry in owner:
            if isinstance(entry, Struct):
                yield from named_in(entry, f"{path}.{key_of(entry)}", kind)
        return
    if not isinstance(owner, Decisions):
        return
    for name in owner.__struct_fields__:
        value = getattr(owner, name)
        slot = slots_of(type(owner)).get(name)
        if slot is not None and slot.kind == kind:
            if value is not None:
                yield f"{path}.{name}", value
        elif isinstance(value, (tuple, Decisions)):
            yield from named_in(value, f"{path}.{name}", kind)
