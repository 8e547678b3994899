"""Edits of a job as data: a `Change` names a field by its path and the value it gets.

A path is field names joined by dots; an entry of a list of papers or loadings is named by its id, as in
`brief.papers.sea-grey.weight`. Every edit makes a new, validated job.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import msgspec
from msgspec import Struct

from dechirer.core.job.model import Job, JobError, Loading, from_plain, to_plain


class Change(Struct, frozen=True):
    """Set the field at `path` to `value` (a model value, a Length, or plain data)."""

    path: str
    value: Any


def apply_changes(job: Job, changes: Iterable[Change]) -> Job:
    """Make the job with all changes applied, validated as a whole.

    Raises:
        JobError: no such field, or the changed job is not valid; the job given is untouched.
    """
    changed = job
    for change in changes:
        try:
            changed = _replace(changed, change.path.split("."), change.value, change.path)
        except (TypeError, ValueError) as error:  # a model refuses the value
            raise error if isinstance(error, JobError) else JobError(f"field {change.path}: {error}") from None
    return from_plain(to_plain(changed))


def get_field(job: Job, path: str) -> Any:
    """The value at a path.

    Raises:
        JobError: no such field.
    """
    here: Any = job
    for step in path.split("."):
        here = _step(here, step, path)
    return here


def _step(here: Any, step: str, path: str) -> Any:
    if isinstance(here, tuple):
        for entry in here:
            if step in (getattr(entry, "id", None), getattr(entry, "paper", None)):
                return entry
    elif isinstance(here, msgspec.Struct) and step in here.__struct_fields__:
        return getattr(here, step)
    raise JobError(f"the job has no field {path} (at “{step}”)")


def _replace(here: Any, steps: list[str], value: Any, path: str) -> Any:
    if not steps:
        return value
    below = _replace(_step(here, steps[0], path), steps[1:], value, path)
    if isinstance(here, tuple):
        old = _step(here, steps[0], path)
        return tuple(below if entry is old else entry for entry in here)
    return msgspec.structs.replace(here, **{steps[0]: below})


def set_loading(job: Job, paper: str, **fields: Any) -> Change:
    """The change that sets fields of a paper's loading, making the loading when there is none yet."""
    existing = next((entry for entry in job.lay.loadings if entry.paper == paper), Loading(paper))
    others = tuple(entry for entry in job.lay.loadings if entry.paper != paper)
    return Change("lay.loadings", (*others, msgspec.structs.replace(existing, **fields)))
