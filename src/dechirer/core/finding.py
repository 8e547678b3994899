"""What a check says: how bad it is, what is wrong, what it costs, and the mends on offer.

A *mend* is data, a tuple of `Change`s to the job, so that the desk can offer it as an undoable step and the
command line can print it. Checks live beside what they check; each station keeps them in a `CheckList`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Generic, Literal, TypeVar

from msgspec import Struct

from dechirer.core.job.edit import Change

Severity = Literal["stop", "look", "note"]
SEVERITIES: tuple[Severity, ...] = ("stop", "look", "note")
"""Worst first: a stop spoils the job, a look may, a note only informs."""


class Mend(Struct, frozen=True):
    """A change that puts a finding right. `label` is the text of its button."""

    label: str
    changes: tuple[Change, ...]


class Finding(Struct, frozen=True):
    """One complaint of one check.

    Attributes:
        code: stable name of the check, such as `construct.liner-too-large`.
        severity: `stop`, `look` or `note`.
        station: the station whose verdict it counts towards.
        title: what is wrong, in a few words.
        reason: why, with the numbers.
        cost: what happens when it is left as it is.
        element: id of the piece, line or field it is about, for the drawing to point at.
        mends: changes that put it right, best first.
    """

    code: str
    severity: Severity
    station: str
    title: str
    reason: str
    cost: str = ""
    element: str = ""
    mends: tuple[Mend, ...] = ()


Context = TypeVar("Context")
Check = Callable[[Context], Iterable[Finding]]


class CheckList(Generic[Context]):
    """The registered checks of one station, in the order they were written."""

    def __init__(self, station: str) -> None:
        self.station = station
        self.checks: list[Check[Context]] = []

    def register(self, check: Check[Context]) -> Check[Context]:
        """Decorator: add a check to the station's preflight list."""
        self.checks.append(check)
        return check

    def run(self, context: Context) -> tuple[Finding, ...]:
        """Run every check; return all findings, worst first, otherwise in the order of the checks."""
        found = [finding for check in self.checks for finding in check(context)]
        return sort_findings(found)


def sort_findings(found: Iterable[Finding]) -> tuple[Finding, ...]:
    """Order findings worst first, keeping the given order within a severity."""
    return tuple(sorted(found, key=lambda finding: SEVERITIES.index(finding.severity)))


def verdict_of(found: Iterable[Finding]) -> str:
    """The worst of some findings as a verdict: `stop`, `look` or `clear` (notes do not count)."""
    present = {finding.severity for finding in found}
    return "stop" if "stop" in present else "look" if "look" in present else "clear"
