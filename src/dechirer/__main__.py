"""`dechirer` alone or with a job file opens the window; with other arguments it is the command line."""

from __future__ import annotations

import os
import sys

TYPE_CHECKING = False  # spares the import of typing before the first paint
if TYPE_CHECKING:
    from pathlib import Path


def main() -> int:
    """Start the desk or the command line. Returns the exit code."""
    arguments = sys.argv[1:]
    if not arguments and "_DECHIRER_COMPLETE" not in os.environ:
        from dechirer.desk.start import has_display, run_desk

        if has_display():
            return run_desk()
        from dechirer.desk.headless import run_without_display

        return run_without_display()
    if arguments in (["--install"], ["--uninstall"]):
        from dechirer.cli import write_completion
        from dechirer.desk.installing import run

        return run(arguments[0], write_completion)
    jobs, book = _book_of(arguments)
    if arguments and len(jobs) <= 1 and all(each.endswith(".dechirer") for each in jobs):
        from pathlib import Path

        from dechirer.desk.start import has_display, run_desk

        if has_display():
            if book and (why := _why_no_book(Path(book))):
                print(f"dechirer: {why}", file=sys.stderr)
                return 2
            return run_desk(Path(jobs[0]) if jobs else None, Path(book) if book else None)
    from dechirer.cli import run_command_line

    return run_command_line(arguments)


def _book_of(arguments: list[str]) -> tuple[list[str], str]:
    """What was asked for without `--book FILE`, and that file; it is the window's where no command is named."""
    if "--book" not in arguments[:-1]:
        return arguments, ""
    place = arguments.index("--book")
    return arguments[:place] + arguments[place + 2 :], arguments[place + 1]


def _why_no_book(path: Path) -> str:
    from dechirer.formats.book.schema import BookError
    from dechirer.formats.book.store import check_named

    try:
        check_named(path)
    except BookError as error:
        return str(error)
    return ""


if __name__ == "__main__":
    sys.exit(main())
