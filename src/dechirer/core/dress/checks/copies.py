"""Checks of the table of copies: blanks without a column, counts that do not add up, what stands in an item's place."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import WITHOUT, Copies
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.seen import DressSeen
from dechirer.core.dress.words.copies import find_blanks, makes_difference
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.words import plural


@CHECKS.add("dress.blank-unknown", of=make_dress)
def find_unknown_blanks(seen: DressSeen) -> Iterator[Finding]:
    """A blank of some words that the table has no column for."""
    if not seen.is_first:
        return
    dress = seen.dress
    names = dress.copies.words
    blanks = {blank for item in dress.items if item.words is not None for blank in find_blanks(item.words.text)}
    for blank in sorted(blanks - set(names))[:3]:
        item = next(each for each in dress.items if each.words is not None and blank in find_blanks(each.words.text))
        yield Finding(
            "dress.blank-unknown",
            "stop",
            f"The copies have no column “{blank}”",
            f"{item.name} has the blank {{{blank}}}; the table has {', '.join(names) or 'no columns of words'}.",
            "The blank would be cut as it is written.",
            item.id,
        )


@CHECKS.add("dress.copies-count", of=make_dress)
def find_counts_that_do_not_add_up(seen: DressSeen) -> Iterator[Finding]:
    """A table of copies that does not go with the number of copies."""
    table, count = seen.dress.copies, seen.brief.count
    if not seen.is_first or not makes_difference(seen.dress):
        return
    rows, told = len(table.rows), sum(row.count for row in table.rows)
    silent = sum(not row.count for row in table.rows)
    wanted = told + silent
    make = Mend(f"Make {wanted} {plural(wanted, 'copy', 'copies')}", (Change("brief.count", wanted),))
    if told and (wanted > count or (told != count and not silent)):
        with_rest = f", and {silent} more {plural(silent, 'row')} without a count" if silent else ""
        yield Finding(
            "dress.copies-count",
            "stop",
            f"The counts of the table do not add up to {count} {plural(count, 'copy', 'copies')}",
            f"They come to {told}{with_rest}.",
            "Some are not made, or are made as nobody wants them.",
            "",
            (make, *_shared_out(table)),
        )
    elif told:
        return
    elif rows > count:
        yield Finding(
            "dress.copies-count",
            "look",
            f"The table has {rows} rows for {count} {plural(count, 'copy', 'copies')}",
            f"The last {rows - count} of the table are not made.",
            "Someone gets no card.",
            "",
            (make,),
        )
    elif count % rows:
        yield Finding(
            "dress.copies-count",
            "look",
            f"{count - rows} copies have no row of their own",
            f"The table has {rows} rows for {count} copies.",
            "Their blanks stay empty.",
            "",
            (make,),
        )
    elif count > rows > 1:
        yield Finding(
            "dress.copies-count",
            "note",
            f"Each of the {rows} rows is made {count // rows} times",
            f"The table has {rows} rows for {count} copies.",
            "It is as you want it, or the table is not whole.",
            "",
            (make,),
        )


def _shared_out(table: Copies) -> Iterator[Mend]:
    if any(row.count for row in table.rows):
        from msgspec import structs

        rows = tuple(structs.replace(row, count=0) for row in table.rows)
        yield Mend("Share the copies out evenly", (Change("dress.copies.rows", rows),))


@CHECKS.add("dress.stand-in-unknown", of=make_dress)
def find_unknown_stand_ins(seen: DressSeen) -> Iterator[Finding]:
    """An entry that stands in an item's place and names nothing the job has, or goes round in a circle."""
    if not seen.is_first:
        return
    dress = seen.dress
    arts = {art.id for art in dress.art}
    for place, column in enumerate(dress.copies.columns):
        if column.carries is None:
            continue
        item = dress.item(column.carries)
        bad = []
        for number, row in enumerate(dress.copies.rows, start=1):
            entry = row.entries[place]
            other = dress.item(entry)
            circle = other is not None and column.carries in other.needs()
            if entry and entry != WITHOUT and entry not in arts and (other is None or circle):
                bad.append((number, entry))
        if item is None or bad:
            number, entry = bad[0] if bad else (0, column.carries)
            what = f"Row {number} wants “{entry}” in the place of {item.name}" if item is not None else "Nothing"
            yield Finding(
                "dress.stand-in-unknown",
                "stop",
                f"The job has no “{entry}” for the copies",
                f"{what}; there is no such art and no such item that could."
                if item is not None
                else f"The column “{column.name}” stands for an item that is gone.",
                "Those copies are made as the first ones are.",
                item.id if item is not None else "",
                (
                    Mend(
                        "Leave those copies as the item is",
                        _without_entries(dress.copies, place, {e for _, e in bad}, item is None),
                    ),
                ),
            )


def _without_entries(table: Copies, place: int, entries: set[str], drop: bool) -> tuple[Change, ...]:
    """The table with some entries of a column emptied, or without the column."""
    from msgspec import structs

    if drop:
        columns = tuple(column for number, column in enumerate(table.columns) if number != place)
        rows = tuple(
            structs.replace(row, entries=tuple(e for number, e in enumerate(row.entries) if number != place))
            for row in table.rows
        )
        return (Change("dress.copies", Copies(columns, rows)),)
    rows = tuple(
        structs.replace(
            row, entries=tuple("" if number == place and e in entries else e for number, e in enumerate(row.entries))
        )
        for row in table.rows
    )
    return (Change("dress.copies.rows", rows),)


@CHECKS.add("dress.letter-missing", of=make_dress)
def find_rows_with_missing_letters(seen: DressSeen) -> Iterator[Finding]:
    """Rows of the copies with characters the typeface lacks, said once for each item."""
    by_item: dict[str, list[Dressed]] = {}
    for dressed in seen.plan.items:
        lettering = dressed.placed.lettering
        if dressed.copy.number and lettering is not None and lettering.missing:
            by_item.setdefault(dressed.item.id, []).append(dressed)
    for item_id, found in by_item.items():
        letters = sorted(
            {each for one in found for each in (one.placed.lettering.missing if one.placed.lettering else ())}
        )
        names = ", ".join(f"“{each.copy.name}”" for each in found[:3]) + (" …" if len(found) > 3 else "")
        rows = f"{len(found)} rows need" if len(found) > 1 else "A row needs"
        yield Finding(
            "dress.letter-missing",
            "stop",
            f"The typeface has no {', '.join(letters[:6])}",
            f"{rows} it: {names}.",
            "It is left out or comes as an empty box.",
            item_id,
        )
