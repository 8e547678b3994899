"""`dechirer` alone opens the window; with arguments it is the command line."""

from __future__ import annotations

import sys


def main() -> int:
    """Start the desk or the command line. Returns the exit code."""
    arguments = sys.argv[1:]
    if not arguments:
        from dechirer.desk.start import has_display, run_desk

        if has_display():
            return run_desk()
        from dechirer.desk.headless import run_without_display

        return run_without_display()
    from dechirer.cli import run_command_line

    return run_command_line(arguments)


if __name__ == "__main__":
    sys.exit(main())
