"""Entries of the book: what happened at the machines and at the table, each with an id and the day it was made.

They come from working, not from forms. Every entry can be put right later: one of the same kind and id takes its place.
"""

from __future__ import annotations

import re
import zlib
from datetime import date
from typing import Annotated, Any, Literal, get_args

import msgspec
from msgspec import Meta

from dechirer.core.brought import LICENCE_WORDS, LicenceKind
from dechirer.core.decide.coding import plainly
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.press.records import Calibration, CornerTrial, Made, Ticket

Words = Annotated[str, Meta(max_length=400)]
Item = Annotated[str, Meta(min_length=1, max_length=120)]
EntryId = Annotated[str, Meta(pattern=r"^[a-z][a-z0-9-]{0,80}$")]
MaybeId = Annotated[str, Meta(pattern=r"^([a-z][a-z0-9-]{0,80})?$")]
Day = Annotated[Made, Field("Day", hint="2026-05-02")]
DayOrNone = Annotated[str, Meta(pattern=r"^(\d{4}-\d\d-\d\d)?$")]
Remark = Annotated[Words, Field("Note", 0, 400)]
Paper = Annotated[Item, Field("Paper", 1, 120)]


class Took(Decisions, frozen=True):
    """How long a kind of step was planned to take and took, and how often it was done (s)."""

    kind: Annotated[str, Meta(min_length=1, max_length=40)]
    planned: Annotated[float, Field("Planned, s", 0, 1e7)]
    seconds: Annotated[float, Field("Took, s", 0, 1e7)]
    count: Annotated[int, Field("Times", 1, 1_000_000)] = 1


class RunDone(Decisions, frozen=True):
    """A run at the machine: of which job, on which machine, how many sheets and cards, how long it was planned to take
    and took (minutes), by kinds of steps."""

    id: EntryId
    made: Day
    job: Item
    machine: Item
    cards: Annotated[int, Field("Cards", 1, 1_000_000)]
    sheets: Annotated[int, Field("Sheets", 0, 1_000_000)]
    planned: Annotated[float, Field("Planned, min", 0, 1e6)]
    minutes: Annotated[float, Field("Took, min", 0, 1e6)]
    took: Annotated[tuple[Took, ...], Meta(max_length=60)] = ()
    note: Remark = ""


class MadeUp(Decisions, frozen=True):
    """Cards made up at the table: as for a run, by stages."""

    id: EntryId
    made: Day
    job: Item
    cards: Annotated[int, Field("Cards", 1, 1_000_000)]
    planned: Annotated[float, Field("Planned, min", 0, 1e6)]
    minutes: Annotated[float, Field("Took, min", 0, 1e6)]
    took: Annotated[tuple[Took, ...], Meta(max_length=60)] = ()
    note: Remark = ""


class Spoilt(Decisions, frozen=True):
    """A sheet that was spoiled, of which paper, and what happened."""

    id: EntryId
    made: Day
    job: Item
    paper: Paper
    cause: Annotated[Words, Field("What happened", 0, 400)] = ""
    sheets: Annotated[int, Field("Sheets", 1, 100_000)] = 1


class WebTried(Decisions, frozen=True):
    """A web of a paper, so wide (mm), that held or tore."""

    id: EntryId
    made: Day
    paper: Paper
    width: Annotated[float, Field("Width", 0.05, 20, takes="mm")]
    held: Annotated[bool, Field("It held")]
    grams: Annotated[float, Field("Weight, g/m²", 0, 2000)] = 0.0


class StockMoved(Decisions, frozen=True):
    """Stock that came in or was used (`change`), or was counted anew (`counted`, which sets it).

    An offcut tells of which paper it is, and how wide and high (mm; 0 for all else, whose size is in its name).
    """

    id: EntryId
    made: Day
    item: Item
    change: Annotated[float, Field("Change", -1e7, 1e7)] = 0.0
    counted: Annotated[float | None, Field("Counted", 0, 1e7)] = None
    price: Annotated[float, Field("Price of one", 0, 1e6)] = 0.0
    why: Annotated[Words, Field("Why", 0, 400)] = ""
    paper: Annotated[str, Meta(max_length=120)] = ""
    width: Annotated[float, Field("Width", 0, 5000, takes="mm", hidden=True)] = 0.0
    height: Annotated[float, Field("Height", 0, 5000, takes="mm", hidden=True)] = 0.0


class Recipient(Decisions, frozen=True):
    """Who a card is for, and on which days it was made, written and posted (empty: not yet)."""

    id: EntryId
    made: Day
    job: Item
    name: Item
    is_made: Annotated[DayOrNone, Field("Made on", hint="not yet")] = ""
    is_written: Annotated[DayOrNone, Field("Written on", hint="not yet")] = ""
    is_posted: Annotated[DayOrNone, Field("Posted on", hint="not yet")] = ""


class Note(Decisions, frozen=True):
    """Words about a job, a run or a paper; `of` is the id of the entry they are about, where they are about one."""

    id: EntryId
    made: Day
    about: Item
    words: Annotated[str, Meta(min_length=1, max_length=4000), Field("Note", 1, 4000)]
    of: MaybeId = ""


class Photo(Decisions, frozen=True):
    """A photograph of a job, a run or a paper, made small (pixels); the picture itself is kept beside it."""

    id: EntryId
    made: Day
    about: Item
    width: Annotated[int, Meta(ge=1, le=4000)]
    height: Annotated[int, Meta(ge=1, le=4000)]
    words: Annotated[Words, Field("What it shows", 0, 400)] = ""
    of: MaybeId = ""


class Licence(Decisions, frozen=True):
    """Where art or a typeface comes from and how it may be used, known again by its content's seal in the id."""

    id: EntryId
    made: Day
    what: Literal["art", "typeface"]
    name: Item
    licence: Annotated[LicenceKind, Field("It may be used", choices=LICENCE_WORDS)]
    source: Annotated[Words, Field("Where it comes from", 0, 400)] = ""


Entry = (
    RunDone
    | MadeUp
    | Spoilt
    | WebTried
    | StockMoved
    | Recipient
    | Note
    | Photo
    | Licence
    | Calibration
    | Ticket
    | CornerTrial
)
KINDS: dict[str, type[Entry]] = {kind.__name__.lower(): kind for kind in get_args(Entry)}
TITLES = {
    "rundone": "run",
    "madeup": "making up",
    "spoilt": "spoiled sheet",
    "webtried": "web tried",
    "stockmoved": "stock",
    "recipient": "recipient",
    "note": "note",
    "photo": "photograph",
    "licence": "licence",
    "calibration": "calibration",
    "ticket": "ticket of the printer",
    "cornertrial": "trial cut",
}


TORE = "web tore"
"""What tells that a sheet was spoiled by a web that was too narrow."""
USUAL_CAUSES = (
    "a corner caught the roller",
    f"a {TORE} while weeding",
    "laid in askew",
    "not cut through",
    "cut beside its print",
    "smeared or misprinted",
    "film left on",
)
"""What spoils sheets most (common practice), to be chosen from instead of typed."""
STEP_WORDS = {
    "pass": "tool at work",
    "cut": "cutting",
    "kiss": "kiss cutting",
    "score": "scoring",
    "perforate": "perforating",
    "pen": "drawing",
    "foil": "foiling",
    "load": "loading mats",
    "fit": "changing tools",
    "hold": "waiting",
    "besides": "getting ready and what is done besides",
}
"""What kinds of steps at the machine are called; stages of making up by their own words."""
SEARCHED = ("job", "machine", "paper", "item", "cause", "why", "note", "words", "name", "about", "licence", "source")


class EntryError(ValueError):
    """An entry that cannot be read; the message says what is wrong with it."""


def entry_id(*words: str) -> str:
    """An id of words, and a seal of all of them, so that equal work gives one entry."""
    plain = "-".join(re.sub(r"[^a-z0-9]+", "-", word.lower()).strip("-") for word in words)
    seal = f"{zlib.crc32(' '.join(words).encode('utf-8', 'backslashreplace')):08x}"
    return f"e-{plain[:60].strip('-')}-{seal}"


def kind_of(entry: Entry) -> str:
    """What an entry's kind is called in the book."""
    return type(entry).__name__.lower()


def read_entry(kind: str, body: bytes) -> Entry:
    """An entry from JSON.

    Raises:
        EntryError: no such kind, or it is not of that kind.
    """
    if kind not in KINDS:
        raise EntryError(f"“{kind[:40]}” is not an entry type. Use {', '.join(KINDS)}.")
    try:
        found: Entry = msgspec.json.decode(body, type=KINDS[kind])
        date.fromisoformat(found.made)
    except msgspec.ValidationError as error:
        raise EntryError(f"{kind}: {plainly(error)}") from None
    except (msgspec.DecodeError, ValueError):
        raise EntryError(f"{kind}: it cannot be read as an entry") from None
    return found


def as_plain(entry: Entry) -> dict[str, Any]:
    """An entry as plain data, its kind first."""
    return {"kind": kind_of(entry), **msgspec.to_builtins(entry)}


def about_of(plain: dict[str, Any]) -> str:
    """What an entry, as plain data, is about; nothing where it does not say."""
    return next(
        (str(plain[name]) for name in ("job", "item", "paper", "about", "name", "machine") if plain.get(name)), ""
    )


def words_of(entry: Entry) -> str:
    """What an entry is searched by."""
    plain = msgspec.to_builtins(entry)
    told = [str(plain.get(name, "")) for name in SEARCHED]
    return " ".join(word for word in (TITLES[kind_of(entry)], *told) if word).lower()
