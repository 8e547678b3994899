"""`dechirer book`: the maker's book without a window: its entries, stock, what it teaches, out, in, and put back."""

from __future__ import annotations

import json
from datetime import date
from pathlib import Path

import click
from platformdirs import user_data_path

from dechirer.cli.saying import BadInput, say
from dechirer.core.keep.entries import KINDS, TITLES, Note, StockMoved, about_of, as_plain, entry_id
from dechirer.core.keep.learning import learn
from dechirer.core.keep.stock import after_count, on_shelf, shopping_list
from dechirer.core.words import count as counted
from dechirer.formats.book.exchange import read_exported, take_over_records, write_export
from dechirer.formats.book.schema import BookError
from dechirer.formats.book.store import NAME, Book, check_named
from dechirer.formats.job.atomic import write_atomically

json_option = click.option("--json", "as_json", is_flag=True, help="Print as JSON on standard output.")


class _Opened:
    """The book a command works on, opened when it is asked for."""

    def __init__(self, path: Path | None) -> None:
        self.path = path or user_data_path("dechirer") / NAME
        self.own = path is None

    def __enter__(self) -> Book:
        if not self.own:
            try:
                check_named(self.path)
            except BookError as error:
                raise BadInput(str(error)) from None
        self.book = Book(self.path)
        if self.own:
            take_over_records(self.book, self.path.parent)
        return self.book

    def __exit__(self, kind: object, error: object, trace: object) -> None:
        if self.book.said:
            say(self.book.said, err=True)
        self.book.close()
        if isinstance(error, BookError):
            raise BadInput(str(error)) from None
        if isinstance(error, OSError):
            raise BadInput(f"{error.filename or self.path}: {error.strerror or error}") from None


def _take_book(context: click.Context, _option: click.Parameter, path: Path | None) -> None:
    """Take the book that is named, before the command's name or behind it; the maker's own where none is."""
    if path is not None or context.obj is None:
        context.obj = _Opened(path)


book_option = click.option(
    "--book",
    type=click.Path(path_type=Path, dir_okay=False),
    expose_value=False,
    callback=_take_book,
    help="Another book than your own.",
)


@click.group("book")
@book_option
def book() -> None:
    """What was done, what there is, and what that teaches."""


@book.command("list")
@click.argument("words", nargs=-1)
@click.option("--kind", type=click.Choice(list(KINDS)), help="Only entries of one kind.")
@json_option
@book_option
@click.pass_obj
def list_entries(opened: _Opened, words: tuple[str, ...], kind: str | None, as_json: bool) -> None:
    """List entries, the newest first; those in which all WORDS are."""
    with opened as made:
        found = [each for each in made.find(" ".join(words)) if kind is None or type(each) is KINDS[kind]]
    if as_json:
        say(json.dumps([as_plain(each) for each in found], indent=1, ensure_ascii=False))
        return
    for each in found:
        plain = as_plain(each)
        say(f"{plain['made']}  {TITLES[plain['kind']]}: {about_of(plain)}")


@book.command()
@click.argument("about")
@click.argument("words")
@book_option
@click.pass_obj
def add(opened: _Opened, about: str, words: str) -> None:
    """Add a note ABOUT a job or a paper: its WORDS."""
    try:
        note = Note(entry_id("note", about, words), date.today().isoformat(), about, words)
    except ValueError as error:
        raise BadInput(str(error)) from None
    with opened as made:
        made.keep([note])


@book.command()
@click.argument("item", required=False)
@click.option("--bought", type=click.FloatRange(0, 1e7), help="So many came in.")
@click.option("--counted", type=click.FloatRange(0, 1e7), help="So many are there, counted now.")
@json_option
@book_option
@click.pass_obj
def stock(opened: _Opened, item: str | None, bought: float | None, counted: float | None, as_json: bool) -> None:
    """Say what there is; or take in or count an ITEM."""
    if (bought is not None or counted is not None) and not item:
        raise BadInput("which item was bought or counted?")
    with opened as made:
        if item and (bought is not None or counted is not None):
            day = date.today().isoformat()
            move = StockMoved(entry_id("stock", item, f"{made.count()}"), day, item, bought or 0.0, counted)
            made.keep([after_count(move, made.last_counted(item))])
        shelf = on_shelf(made.entries("stockmoved"))
    rows = [each for each in shelf.values() if item is None or each.item == item]
    if as_json:
        plain = [{"item": each.item, "there": each.amount, "counted": each.counted or None} for each in rows]
        say(json.dumps(plain, indent=1, ensure_ascii=False))
        return
    for each in rows:
        say(f"{each.item}: {each.amount:g}" + (f", counted {each.counted}" if each.counted else ""))


@book.command()
@click.argument("jobs", nargs=-1, required=True, type=click.Path(path_type=Path, dir_okay=False))
@click.option("--to", type=click.Path(path_type=Path, dir_okay=False), help="Write it as CSV to a file.")
@json_option
@book_option
@click.pass_obj
def shopping(opened: _Opened, jobs: tuple[Path, ...], to: Path | None, as_json: bool) -> None:
    """Say what is to be bought for some JOBS together, beside what the stock has."""
    from dechirer.core.needs import needs_of
    from dechirer.core.plan import make_plan
    from dechirer.formats.job.archive import ArchiveError, read_archive
    from dechirer.formats.shopping import write_shopping_list

    needs = []
    for path in jobs:
        try:
            plan = make_plan(read_archive(path))
        except (ArchiveError, OSError) as error:
            raise BadInput(str(error)) from None
        needs.append((plan.job.name, needs_of(plan)))
    with opened as made:
        shelf = on_shelf(made.entries("stockmoved"))
    rows = shopping_list(needs, shelf)
    if to is not None:
        try:
            write_atomically(to, write_shopping_list(rows))
        except OSError as error:
            raise BadInput(f"{to}: {error.strerror or error}") from None
        say(f"The list is in {to}", err=True)
    elif as_json:
        import msgspec

        say(json.dumps(msgspec.to_builtins(rows), indent=1, ensure_ascii=False))
    for row in rows if to is None and not as_json else ():
        there = "not counted" if row.there is None else f"{row.there:g} there"
        say(f"{row.item}: buy {row.buy:g} ({row.needed:g} needed, {there})")


@book.command()
@json_option
@book_option
@click.pass_obj
def learned(opened: _Opened, as_json: bool) -> None:
    """Say what the book teaches, each value with what it rests on."""
    with opened as made:
        found = learn(made.entries())
    if as_json:
        import msgspec

        say(json.dumps(msgspec.to_builtins(found), indent=1, ensure_ascii=False))
        return
    for each in found:
        say(f"{each.words}: {each.value:.3g} {each.unit} ({each.low:.3g} to {each.high:.3g}; {each.rests_on})")


@book.command()
@click.argument("to", type=click.Path(path_type=Path, dir_okay=False))
@book_option
@click.pass_obj
def export(opened: _Opened, to: Path) -> None:
    """Write every entry to a file: TO ends in .csv or .json."""
    if to.suffix.lower() not in (".csv", ".json", ".jsonl"):
        raise BadInput(f"{to.name}: its name ends in .csv or .json")
    with opened as made:
        write_atomically(to, write_export(made, to.suffix.lower() == ".csv"))
        count = made.count()
    say(f"{count} entries in {to}", err=True)


@book.command("import")
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
@book_option
@click.pass_obj
def import_(opened: _Opened, file: Path) -> None:
    """Take in the entries of FILE: an export as JSON or CSV, or another book, a damaged one too."""
    with opened as made:
        taken = read_exported(file)
        count = made.keep(taken.entries, taken.pictures)
    lost = f"; {taken.unreadable} could not be read" if taken.unreadable else ""
    say(f"{counted(count, 'entry', 'entries')} imported{lost}", err=True)


@book.command()
@click.argument("backup", type=click.Path(path_type=Path, dir_okay=False))
@book_option
@click.pass_obj
def restore(opened: _Opened, backup: Path) -> None:
    """Put a BACKUP in the place of the book; what was there is kept beside it."""
    with opened as made:
        aside = made.restore(backup)
        lost = made.count_unreadable()
        count = made.count() - lost
    unreadable = f"; {lost} could not be read" if lost else ""
    kept = f"; the replaced logbook is kept as {aside.name}" if aside is not None else ""
    say(f"{counted(count, 'entry', 'entries')} restored{unreadable}{kept}", err=True)


@book.command()
@click.argument("to", type=click.Path(path_type=Path, dir_okay=False))
@book_option
@click.pass_obj
def backup(opened: _Opened, to: Path) -> None:
    """Copy the book to a file, while it may be in use."""
    with opened as made:
        made.back_up(to)


@book.command()
@click.option("--seed", type=click.IntRange(0, 1_000_000), default=7, show_default=True)
@book_option
@click.pass_obj
def demo(opened: _Opened, seed: int) -> None:
    """Write two invented seasons into another book (--book), to look at."""
    if opened.own:
        raise BadInput("invented entries are not mixed with your own: say --book FILE")
    from dechirer.devices.seasons import write_seasons

    with opened as made:
        say(f"{made.keep(write_seasons(seed))} entries in {opened.path}", err=True)
