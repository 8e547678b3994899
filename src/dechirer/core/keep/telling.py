"""Entries of the book in words."""

from __future__ import annotations

from dechirer.core.keep.entries import TITLES, Entry, about_of, as_plain, kind_of
from dechirer.core.keep.putting_right import EntryRow, rows_of_entry


def line_of(entry: Entry) -> str:
    """An entry in one line."""
    plain = as_plain(entry)
    more = ""
    if "minutes" in plain:
        more = f"{plain['cards']} cards, {plain['minutes']:.0f} min ({plain['planned']:.0f} planned)"
    elif "held" in plain:
        more = f"{plain['width']:g} mm {'held' if plain['held'] else 'tore'}"
    elif "change" in plain:
        more = f"counted {plain['counted']:g}" if plain["counted"] is not None else f"{plain['change']:+g}"
    elif "cause" in plain:
        more = f"{plain['paper']}: {plain['cause'] or 'no cause given'}"
    elif "words" in plain:
        more = plain["words"][:80]
    elif "licence" in plain:
        more = plain["licence"]
    elif "name" in plain:
        more = plain["name"]
    return " · ".join(word for word in (plain["made"], TITLES[plain["kind"]], about_of(plain), more) if word)


def detail_of(entry: Entry, units: str) -> str:
    """All that an entry holds, in words."""
    told = [f"{TITLES[kind_of(entry)]}: {about_of(as_plain(entry))}"]
    told += [_shown(row) for row in rows_of_entry(entry, units) if row.text]
    return " · ".join(told)


def _shown(row: EntryRow) -> str:
    """A field in words: `took 20 min` for what is typed as `Took, min`."""
    name, _, unit = row.title.lower().rpartition(", ")
    if not name:
        return f"{row.title.lower()} {row.text}"
    try:
        return f"{name} {float(row.text):.3g} {unit}"
    except ValueError:
        return f"{name} {row.text} {unit}"
