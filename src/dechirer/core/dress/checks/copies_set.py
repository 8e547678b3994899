"""Checks of what the table of copies sets: papers, pens and slots that can be, blanks of the card's size, inserts that
show."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.brief.decisions import Paper
from dechirer.core.construct.bought import SAME_AS_BLANK_MM
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Column, Copies
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.seen import DressSeen
from dechirer.core.dress.setting import is_entry
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import format_size
from dechirer.core.paper.colours import ALIKE, difference, told_apart

WANTED = {
    "paper": "a paper of the job by its id",
    "pen": "a colour by its plain name, or as #1f3a8a,",
    "slot": "the number of a slot, from 1",
}


@CHECKS.add("dress.copy-unset", of=make_dress)
def find_entries_that_cannot_be_set(seen: DressSeen) -> Iterator[Finding]:
    """An entry of a column that sets something, and cannot be that."""
    if not seen.is_first:
        return
    table = seen.dress.copies
    pieces = {piece.id for piece in seen.card.pieces}
    for place, column in enumerate(table.columns):
        if not column.sets:
            continue
        if column.sets == "paper" and column.piece not in pieces and any(row.entries[place] for row in table.rows):
            yield _unset(f"The card has no “{column.piece}” for the copies", "The column sets its paper.", table, place)
            continue
        bad = [
            (number, row.entries[place])
            for number, row in enumerate(table.rows, start=1)
            if row.entries[place] and not is_entry(column.sets, row.entries[place], seen.brief)
        ]
        if bad:
            number, entry = bad[0]
            title = f"Row {number} of the copies says “{entry}” for “{column.name}”"
            yield _unset(title, f"There {WANTED[column.sets]} is wanted.", table, place, {each for _, each in bad})


def _unset(title: str, why: str, table: Copies, place: int, entries: set[str] | None = None) -> Finding:
    change = Change("dress.copies.rows", without_entries(table, place, entries))
    return Finding(
        "dress.copy-unset",
        "stop",
        title,
        why,
        "Those copies are made as the first ones are.",
        "",
        (Mend("Leave those copies as the card is", (change,)),),
    )


def without_entries(table: Copies, place: int, entries: set[str] | None) -> tuple[object, ...]:
    """The rows of a table with some entries of a column emptied; all of them without a set."""
    from msgspec import structs

    return tuple(
        structs.replace(
            row,
            entries=tuple(
                "" if number == place and (entries is None or entry in entries) else entry
                for number, entry in enumerate(row.entries)
            ),
        )
        for row in table.rows
    )


def _paper_columns(seen: DressSeen) -> Iterator[tuple[int, Column]]:
    for place, column in enumerate(seen.dress.copies.columns):
        if column.sets == "paper":
            yield place, column


def _paper(seen: DressSeen, id: str) -> Paper | None:
    return next((paper for paper in seen.brief.papers if paper.id == id), None)


@CHECKS.add("dress.copy-blank-differs", of=make_dress)
def find_blanks_of_another_size(seen: DressSeen) -> Iterator[Finding]:
    """A row whose base is a folded blank of another size than the card opens to."""
    if not seen.is_first or not seen.card.pieces:
        return
    base, units = seen.card.pieces[0], seen.units
    for place, column in _paper_columns(seen):
        if column.piece != base.id:
            continue
        for number, row in enumerate(seen.dress.copies.rows, start=1):
            paper = _paper(seen, row.entries[place])
            if paper is None or paper.bought in ("sheets", "flat"):
                continue
            wide, high = paper.sheet.width.mm, paper.sheet.height.mm
            off = max(abs(wide - base.width.value), abs(high - base.height.value))
            if off <= SAME_AS_BLANK_MM:
                continue
            yield Finding(
                "dress.copy-blank-differs",
                "stop",
                f"Row {number}: the design does not fit its blank",
                f"{paper.name} is {format_size(wide, high, units)} opened flat, the card "
                f"{format_size(base.width.value, base.height.value, units)}. All cards of a job are of one size; "
                "lay another job beside it for the others.",
                "The slits and lines miss their places.",
                base.id,
                (
                    Mend(
                        "Leave those copies on the card’s paper",
                        (Change("dress.copies.rows", without_entries(seen.dress.copies, place, {row.entries[place]})),),
                    ),
                ),
            )
            break


@CHECKS.add("dress.copy-colours", of=make_dress)
def find_copies_whose_insert_does_not_show(seen: DressSeen) -> Iterator[Finding]:
    """A row whose insert has nearly the colour of its card."""
    if not seen.is_first or not seen.card.pieces:
        return
    table, base = seen.dress.copies, seen.card.pieces[0]
    papers = {piece.id: piece.paper for piece in seen.card.pieces}
    columns = {column.piece: place for place, column in _paper_columns(seen)}
    if "insert" not in papers or not {"insert", base.id} & columns.keys():
        return
    alike = []
    for number, row in enumerate(table.rows, start=1):
        own, card = (
            _paper(seen, row.entries[columns[id]] if id in columns and row.entries[columns[id]] else papers[id])
            for id in ("insert", base.id)
        )
        if own is not None and card is not None and difference(own.colour, card.colour) < ALIKE:
            alike.append((number, own, card))
    if not alike:
        return
    number, own, card = alike[0]
    rows = f"Row {number}" if len(alike) == 1 else f"Rows {', '.join(str(number) for number, _, _ in alike)}"
    grounds = [card.colour for _, _, card in alike]
    others = [
        other
        for other in told_apart(seen.brief.papers, card.colour)
        if all(difference(other.colour, ground) >= ALIKE for ground in grounds)
    ]
    yield Finding(
        "dress.copy-colours",
        "look",
        f"{rows}: the insert hardly shows",
        f"{own.name} with {card.name}: the colours differ by {difference(own.colour, card.colour):.1f} "
        f"(CIEDE2000); from about {ALIKE:.0f} they are told apart.",
        "Tone on tone disappears, above all in photographs.",
        "insert",
        tuple(
            Mend(
                f"{other.name} there", (_set_entries(table, {each[0] for each in alike}, columns["insert"], other.id),)
            )
            for other in others[:2]
            if "insert" in columns
        ),
    )


def _set_entries(table: Copies, numbers: set[int], place: int, entry: str) -> Change:
    """The rows of those numbers, from 1, with an entry of a column set."""
    from msgspec import structs

    rows = tuple(
        structs.replace(row, entries=tuple(entry if at == place else each for at, each in enumerate(row.entries)))
        if number in numbers
        else row
        for number, row in enumerate(table.rows, start=1)
    )
    return Change("dress.copies.rows", rows)
