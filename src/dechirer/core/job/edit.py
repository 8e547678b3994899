"""Edits of a job: a set of changes makes a new, valid job, or none."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Any

from dechirer.core.decide.change import Change, PathError, change_all, owner_at, value_at
from dechirer.core.decide.decisions import slots_of
from dechirer.core.decide.field import Slot
from dechirer.core.decide.letters import find_unfit_in
from dechirer.core.decide.refusal import FieldError
from dechirer.core.job.model import Job, JobError


def apply_changes(job: Job, changes: Iterable[Change]) -> Job:
    """Make the job with all changes applied at once; it is validated as a whole, whatever their order.

    Raises:
        JobError: no such field, or the changed job is not valid; the job given is untouched.
    """
    try:
        changes = tuple(changes)
        _refuse_locked(job, changes)
        _refuse_unfit(changes)
        changed: Job = change_all(job, changes)
    except ValueError as error:  # a path that leads nowhere, or a value that is refused
        raise JobError(str(error)) from None
    return changed


def _refuse_unfit(changes: tuple[Change, ...]) -> None:
    """Refuse texts with what is no letter.

    Raises:
        FieldError: names the field and what is in it.
    """
    for change in changes:
        unfit = find_unfit_in(change.value)
        if unfit:
            raise FieldError(f"field {change.path}: character {unfit} is not supported")


SCALES = ("width", "height", "fit_in", "scale")
"""The fields that scale what they belong to."""


def _refuse_locked(job: Job, changes: tuple[Change, ...]) -> None:
    """Refuse to scale what is locked, unless it is unlocked at the same time; says what would no longer fit.

    Raises:
        FieldError: something is scaled that is locked.
    """
    open_now = {change.path.rpartition(".")[0] for change in changes if change.path.endswith(".locked")}
    for change in changes:
        owner, _, name = change.path.rpartition(".")
        if name not in SCALES or owner in open_now or not owner.startswith(("dress.items.", "dress.art.")):
            continue
        try:
            found = value_at(job, owner)
        except PathError:
            continue
        if getattr(found, "locked", False) and getattr(found, name) != change.value:
            fits = _fits_of(job, found.id)
            breaks = f": {', '.join(fits)} would no longer fit" if fits else ""
            raise FieldError(f"field {change.path}: the size of {found.name} is locked{breaks}. Unlock it first")


def _fits_of(job: Job, id: str) -> list[str]:
    """What is made to the size of an item, or of the items of an import."""
    mine = {id, *(item.id for item in job.dress.items if item.art == id)}
    found = []
    for item in job.dress.items:
        if item.id in mine and item.backer_size is not None:
            found.append(f"the backer of {item.name}")
        elif item.id not in mine and (item.mate in mine or item.needs() & mine):
            found.append(item.name)
        elif item.id in mine and item.mate is not None:
            found += [each.name for each in job.dress.items if each.id == item.mate]
    if job.brief.construction == "from-file" and job.construct.from_file.art == id:
        found.append("the card and its slots")
    return list(dict.fromkeys(found))


def get_field(job: Job, path: str) -> Any:
    """The value at a path.

    Raises:
        JobError: no such field.
    """
    try:
        return value_at(job, path)
    except PathError as error:
        raise JobError(str(error)) from None


def find_slot(job: Job, path: str) -> Slot | None:
    """What is known of the field at a path, or None when it is no field."""
    try:
        owner, name = owner_at(job, path)
    except PathError:
        return None
    return slots_of(type(owner))[name]


def read_field(job: Job, path: str, text: str) -> tuple[Change, ...]:
    """The changes that a text typed into a field means; some fields change others with them.

    Raises:
        FieldError: it is not a field to type into, or the text is not of its kind or out of its bounds.
    """
    slot = find_slot(job, path)
    if slot is None or not slot.is_typed:
        raise FieldError(f"{path} is not a field to type into")
    owner, name = owner_at(job, path)
    parent = path.rpartition(".")[0]
    fields = owner.typed(name, text, job.units)
    return tuple(Change(f"{parent}.{field}" if parent else field, value) for field, value in fields.items())


def show_field(job: Job, path: str) -> str:
    """The text to edit for a field: what was typed, in the maker's own spelling.

    Raises:
        JobError: no such field.
    """
    try:
        owner, name = owner_at(job, path)
    except PathError as error:
        raise JobError(str(error)) from None
    return owner.shown(name, job.units)


def title_of(job: Job, path: str) -> str:
    """The maker's word for a field; the last word of its path for what is no field."""
    slot = find_slot(job, path)
    return slot.field.title if slot is not None else path.rpartition(".")[2].replace("_", " ")


def label_of(job: Job, path: str) -> str:
    """The field's title with whose it is, for the list of edits: `Kite Day, border: out by`, `layer 1: Border`."""
    steps = path.split(".")
    whose = []
    for end in range(2, len(steps)):
        try:
            parent, entry = (value_at(job, ".".join(steps[:stop])) for stop in (end - 1, end))
        except PathError:
            break
        if isinstance(parent, tuple):
            whose.append(
                getattr(entry, "name", None) or getattr(entry, "kind", None) or steps[end - 1].replace("-", " ")
            )
    return f"{', '.join(whose)}: {title_of(job, path)}" if whose else title_of(job, path)


def explain(job: Job, message: str) -> str:
    """The message of a refusal as the maker has the fields: by their titles in place of the path in the job."""
    found = re.match(r"field ([^:\s]+): (.+)", message, re.DOTALL)
    if found is None:
        return message
    steps, words = re.sub(r"\[\d+\]", "", found[1]).split("."), found[2]
    titles = []
    for end in range(2, len(steps) + 1):
        slot = find_slot(job, ".".join(steps[:end]))
        titles += [slot.field.title] if slot is not None else []
    if not titles or words.startswith(titles[-1]):
        return words
    return f"{', '.join(titles)}: {words}"


def choices_of(job: Job, path: str) -> tuple[tuple[Any, str], ...]:
    """What the field at a path may be, as (value, words); empty when it is not chosen from a list."""
    slot = find_slot(job, path)
    if slot is None:
        return ()
    if slot.kind == "paper":
        papers = tuple((paper.id, paper.name) for paper in job.brief.papers)
        return ((None, slot.field.none), *papers) if slot.optional else papers
    if slot.kind == "art":
        arts = tuple((art.id, art.name) for art in job.dress.art)
        return ((None, slot.field.none), *arts) if slot.optional else arts
    if slot.kind == "group":
        art = next((each for each in job.dress.art if each.id == getattr(owner_at(job, path)[0], "art", None)), None)
        return ((None, slot.field.none), *((group.id, group.name) for group in (art.groups if art is not None else ())))
    return slot.choices if slot.kind == "choice" else ()


def has_effect(job: Job, path: str) -> bool:
    """Whether a field changes anything as the job is now: a dome's flange does not while straps hold the note."""
    slot = find_slot(job, path)
    if slot is None or slot.field.shows is None:
        return True
    return slot.field.shows(owner_at(job, path)[0])
