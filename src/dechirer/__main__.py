"""`dechirer` alone or with a job file opens the window; with other arguments it is the command line."""

from __future__ import annotations

import os
import sys


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
    if len(arguments) == 1 and arguments[0].endswith(".dechirer"):
        from pathlib import Path

        from dechirer.desk.start import has_display, run_desk

        if has_display():
            return run_desk(Path(arguments[0]))
    from dechirer.cli import run_command_line

    return run_command_line(arguments)


if __name__ == "__main__":
    sys.exit(main())
