"""What the command line says, and how it says no."""

from __future__ import annotations

import click

from dechirer.core.decide.letters import clean

STOPPED, BAD_INPUT = 1, 2


def say(text: str, *, err: bool = False) -> None:
    """Print a line; names from files cannot steer the terminal."""
    click.echo(clean(text, "\ufffd"), err=err)


class BadInput(click.ClickException):
    """Input that cannot be used; the message names the option, file or field."""

    exit_code = BAD_INPUT

    def show(self, file: object = None) -> None:
        """Say it on the error stream."""
        say(f"dechirer: {self.message}", err=True)
