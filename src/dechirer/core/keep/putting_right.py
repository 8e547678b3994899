"""Putting an entry right: its fields as they are shown to be typed, and the entry that comes of what was typed."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import date
from typing import Any

from msgspec import Struct, json, structs

from dechirer.core.decide.decisions import Decisions, slots_of
from dechirer.core.decide.field import Choices
from dechirer.core.decide.letters import find_unfit
from dechirer.core.decide.refusal import FieldError
from dechirer.core.keep.entries import STEP_WORDS, Entry, EntryError, MadeUp, RunDone, kind_of, read_entry

DAYS = ("made", "is_made", "is_written", "is_posted")
TOOK = "took."


class EntryRow(Struct, frozen=True):
    """One field of an entry: its name, the maker's word for it, what stands in it, and what it may be (empty where it
    is typed)."""

    name: str
    title: str
    text: str
    choices: Choices = ()


def rows_of_entry(entry: Entry, units: str) -> Iterator[EntryRow]:
    """The fields of an entry that can be put right, with those of its kinds of steps (min)."""
    decisions: Decisions = entry
    for name, slot in slots_of(type(decisions)).items():
        if slot.field.hidden:
            continue
        if slot.kind == "switch":
            yield EntryRow(name, slot.field.title, _yes(getattr(entry, name)), (("yes", "yes"), ("no", "no")))
        elif slot.kind == "choice":
            yield EntryRow(name, slot.field.title, str(getattr(entry, name)), slot.choices)
        elif slot.is_typed:
            yield EntryRow(name, slot.field.title, decisions.shown(name, units))
    for number, took in enumerate(entry.took if isinstance(entry, RunDone | MadeUp) else ()):
        words = STEP_WORDS.get(took.kind, took.kind)
        yield EntryRow(f"{TOOK}{number}", f"{words.capitalize()}: took, min", f"{took.seconds / 60:.4g}")


def put_right(entry: Entry, typed: Mapping[str, str], units: str) -> Entry:
    """The entry with what was typed into some of its fields, by the rows' names.

    Where the time of a kind of step is put right and that of the whole is not, the whole moves with it.

    Raises:
        EntryError: a text is not of its field; names the field.
    """
    slots = slots_of(type(entry))
    fields: dict[str, Any] = {}
    try:
        for name, text in typed.items():
            if find_unfit(text):
                raise EntryError(f"{find_unfit(text)} is no letter")
            if name.startswith(TOOK):
                continue
            slot = slots[name]
            if name in DAYS and text.strip():
                _check_day(slot.field.title, text.strip())
            fields |= _typed(entry, name, text, units)
        if isinstance(entry, RunDone | MadeUp):
            fields |= _retimed(entry, typed, whole="minutes" not in typed)
        made: Entry = structs.replace(entry, **fields)
    except (FieldError, ValueError) as error:
        raise EntryError(str(error)) from None
    return read_entry(kind_of(made), json.encode(made))


def _typed(entry: Decisions, name: str, text: str, units: str) -> dict[str, Any]:
    slot = slots_of(type(entry))[name]
    if slot.kind == "switch":
        return {name: text == "yes"}
    if slot.kind == "choice":
        return {name: next(value for value, _ in slot.choices if str(value) == text)}
    return entry.typed(name, text, units)


def _retimed(entry: RunDone | MadeUp, typed: Mapping[str, str], *, whole: bool) -> dict[str, Any]:
    took, moved = list(entry.took), 0.0
    for number, each in enumerate(entry.took):
        text = typed.get(f"{TOOK}{number}")
        if text is None:
            continue
        words = STEP_WORDS.get(each.kind, each.kind)
        try:
            seconds = 60 * float(text.replace(",", "."))
        except ValueError:
            raise EntryError(f"{words.capitalize()}: “{text[:40]}” is not a number of minutes") from None
        took[number] = structs.replace(each, seconds=seconds)
        moved += seconds - each.seconds
    if took == list(entry.took):
        return {}
    minutes = {"minutes": max(0.0, entry.minutes + moved / 60)} if whole else {}
    return {"took": tuple(took), **minutes}


def _check_day(title: str, text: str) -> None:
    try:
        date.fromisoformat(text)
    except ValueError:
        raise EntryError(f"{title}: “{text[:20]}” is no day; one is written as 2026-05-02") from None


def _yes(value: object) -> str:
    return "yes" if value else "no"
