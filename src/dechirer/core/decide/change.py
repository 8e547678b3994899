"""Edits as data: a `Change` names a field by its path and the value it gets; a set of them is made as a whole.

A path is field names joined by dots; an entry of a list is named by its id, as in `brief.papers.sea-grey.weight`.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Any, get_args, get_origin

import msgspec
from msgspec import Struct

from dechirer.core.decide.coding import fit, name_place
from dechirer.core.decide.decisions import Decisions, slots_of
from dechirer.core.decide.refusal import require

_KEPT = object()
"""Stands for a value that is not given anew, only changed further down."""


class Change(Struct, frozen=True):
    """Set the field at `path` to `value`."""

    path: str
    value: Any


class PathError(ValueError):
    """A path that leads to no field; the message names the place."""


class _Patch:
    """What becomes of one place: a new value, and changes below it."""

    def __init__(self) -> None:
        self.value: Any = _KEPT
        self.below: dict[str, _Patch] = {}


def change_all(root: Any, changes: Iterable[Change]) -> Any:
    """The root with all changes made at once: the order of the changes does not matter, and each part is checked once,
    with every change of it.

    Raises:
        PathError: a path leads to no field.
        ValueError: the changed values are refused; the message begins with the path of the part.
    """
    patch = _Patch()
    for change in changes:
        here = patch
        for step in change.path.split("."):
            here = here.below.setdefault(step, _Patch())
        here.value = change.value
    return _rebuild(root, patch, "")


def value_at(root: Any, path: str) -> Any:
    """The value at a path.

    Raises:
        PathError: no such field.
    """
    return _walk(root, path)[-1][0]


def owner_at(root: Any, path: str) -> tuple[Decisions, str]:
    """The decisions that own the field at a path, and its name in them.

    Raises:
        PathError: no such field, or it is not a field of decisions.
    """
    parent, _, name = path.rpartition(".")
    owner = value_at(root, parent) if parent else root
    if not isinstance(owner, Decisions) or name not in slots_of(type(owner)):
        raise PathError(f"the job has no field {path} (at “{name}”)")
    return owner, name


def _walk(root: Any, path: str) -> list[tuple[Any, Any]]:
    """(value, the function that makes an entry missing from it) at every step of a path."""
    seen: list[tuple[Any, Any]] = [(root, None)]
    for step in path.split("."):
        here, entry = seen[-1]
        seen.append(_below(here, entry, step, path))
    return seen


def _below(here: Any, entry: Any, step: str, path: str) -> tuple[Any, Any]:
    if isinstance(here, tuple):
        for each in here:
            if step == key_of(each):
                return each, None
        if entry is not None:
            return entry(step), None
    elif isinstance(here, Struct) and step in here.__struct_fields__:
        return getattr(here, step), _entry_of(here, step)
    raise PathError(f"the job has no field {path} (at “{step}”)")


def _entry_of(owner: Struct, name: str) -> Any:
    slot = slots_of(type(owner)).get(name) if isinstance(owner, Decisions) else None
    return slot.field.entry if slot is not None else None


def key_of(entry: Any) -> str | None:
    """What an entry of a list is named by in a path: its id, or the paper it is for."""
    return getattr(entry, "id", None) or getattr(entry, "paper", None)


def _rebuild(here: Any, patch: _Patch, path: str, entry: Any = None) -> Any:
    """A value with its patch: first what is given anew, then what is changed below it."""
    if patch.value is not _KEPT:
        here = patch.value
    if not patch.below:
        return here
    if isinstance(here, tuple):
        return _rebuild_list(here, patch, path, entry)
    if not isinstance(here, Struct):
        raise PathError(f"the job has no field {path} (at “{next(iter(patch.below))}”)")
    fields: dict[str, Any] = {}
    for step, deeper in patch.below.items():
        where = f"{path}.{step}" if path else step
        value, made = _below(here, None, step, where)
        if deeper.value is not _KEPT:
            deeper.value = _fit(deeper.value, value, _type_of(here, step), where)
        fields[step] = _rebuild(value, deeper, where, made)
    try:
        return msgspec.structs.replace(here, **fields)
    except (TypeError, ValueError) as error:
        if str(error).startswith("field "):
            raise
        raise ValueError(name_place(path, str(error))) from None


def _type_of(owner: Struct, name: str) -> Any:
    return next(field.type for field in msgspec.structs.fields(owner) if field.name == name)


def _fit(value: Any, old: Any, kind: Any, path: str) -> Any:
    """A value given anew, checked as the field's own type; entries of a list that were there before are not again."""
    try:
        if isinstance(value, tuple) and isinstance(old, tuple) and value:
            known = {id(entry) for entry in old}
            new = [entry for entry in value if id(entry) not in known]
            if len(new) < len(value):
                _check_count(value, kind)
                made = iter(fit(new, list[_entry_type(kind)]))  # type: ignore[misc]
                return tuple(entry if id(entry) in known else next(made) for entry in value)
        return fit(value, kind)
    except ValueError as error:
        raise ValueError(_under(path, str(error))) from None


def _under(path: str, message: str) -> str:
    """A message about something at a path; one that names its own place names it from there."""
    if message.startswith("field "):
        place, _, words = message.removeprefix("field ").partition(": ")
        return f"field {path}.{place}: {words}"
    return name_place(path, message)


def _check_count(value: tuple[Any, ...], kind: Any) -> None:
    """Refuse a list with more or fewer entries than its type allows. Raises ValueError."""
    for meta in getattr(kind, "__metadata__", ()):
        least, most = getattr(meta, "min_length", None), getattr(meta, "max_length", None)
        require(least is None or len(value) >= least, f"at least {least} entries, got {len(value)}")
        require(most is None or len(value) <= most, f"at most {most} entries, got {len(value)}")


def _entry_type(kind: Any) -> Any:
    while get_origin(kind) is Annotated:
        kind = get_args(kind)[0]
    return get_args(kind)[0]


def _rebuild_list(here: tuple[Any, ...], patch: _Patch, path: str, entry: Any) -> tuple[Any, ...]:
    found = list(here)
    for step, deeper in patch.below.items():
        old, _ = _below(here, entry, step, f"{path}.{step}")
        if deeper.value is not _KEPT:
            deeper.value = _fit(deeper.value, old, type(old), f"{path}.{step}")
        new = _rebuild(old, deeper, f"{path}.{step}")
        if any(each is old for each in found):
            found = [new if each is old else each for each in found]
        else:
            found.append(new)
    return tuple(found)


def take_off(root: Any, path: str) -> Change:
    """The change that takes away what is at a path: an entry out of its list, anything else set to none.

    Raises:
        PathError: there is nothing at the path.
    """
    value = value_at(root, path)
    parent, _, name = path.rpartition(".")
    holder = value_at(root, parent) if parent else root
    if isinstance(holder, tuple):
        return Change(parent, tuple(entry for entry in holder if key_of(entry) != name))
    return Change(path, None if value is not None else value)
