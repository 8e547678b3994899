"""What a check says: how bad it is, what is wrong, what it costs, and the mends on offer.

A *mend* is data, a tuple of `Change`s to the job, so that the desk can offer it as an undoable step and the
command line can print it. Checks live beside what they check and register for it in `CHECKS`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import Any, Literal, TypeVar

from msgspec import Struct

from dechirer.core.decide.change import Change
from dechirer.core.length import Length
from dechirer.core.stopping import checkpoint

Severity = Literal["stop", "look", "note"]
SEVERITIES: tuple[Severity, ...] = ("stop", "look", "note")
"""Worst first: a stop spoils the job, a look may, a note only informs."""


class Mend(Struct, frozen=True):
    """A change that resolves a finding. `label` is the text of its button.

    A fix either *restores* what was asked for (an item back on its face, a bridge widened to what holds), or *chooses*
    for the user (what lines are for, how an item is made, another card size or paper). Only the first kind is made
    without being asked for by itself. `kind` says which; without it, it follows from the changes.
    """

    label: str
    changes: tuple[Change, ...]
    kind: Literal["", "restores", "chooses"] = ""

    @property
    def restores(self) -> bool:
        """Whether it restores what was asked for, and so chooses nothing for the user."""
        return self.kind == "restores" if self.kind else all(map(_restores, self.changes))


CHOOSING = (
    "brief.width",
    "brief.height",
    "brief.count",
    ".count",
    ".scale",
    ".part",
    ".thick",
    ".holds",
    ".weight",
)
"""Fields with a number that is the user's to say: what the card is, and what things of the user's own are."""
RESTORING = (
    ".place",
    ".steps",
    ".words.joined",
    ".fit_in",
    "lay.loadings",
    "lay.pins",
    "fold.order",
    "fold.skipped",
    "run.settings",
    "press.bleed",
    "press.pieces",
)
"""Fields with something else than a number that say where and how, and not what is made."""
FREED = (".width", ".height", ".fit_in")
"""Sizes that are left to follow from another one where they are set to none."""


def _restores(change: Change) -> bool:
    if change.path.endswith(CHOOSING):
        return False
    if change.path.endswith(RESTORING) or (change.value is None and change.path.endswith(FREED)):
        return True
    return isinstance(change.value, int | float | Length) and not isinstance(change.value, bool)


class Finding(Struct, frozen=True):
    """One complaint of one check.

    Attributes:
        code: stable name of the complaint, such as `construct.liner-too-large`; what stands before the dot is the
            station whose verdict it counts towards.
        severity: `stop`, `look` or `note`.
        title: what is wrong, in a few words.
        reason: why, with the numbers.
        cost: what happens when it is left as it is.
        element: id of the piece, line or field it is about, for the drawing to point at.
        mends: changes that resolve it, best first.
        colour: that of the lines it is about, as they are in their file; empty where it is about none.
    """

    code: str
    severity: Severity
    title: str
    reason: str
    cost: str = ""
    element: str = ""
    mends: tuple[Mend, ...] = ()
    colour: str = ""

    @property
    def safe_fix(self) -> Mend | None:
        """The best fix, where it restores what was asked for; None where the user has to choose."""
        return self.mends[0] if self.mends and self.mends[0].restores else None

    @property
    def station(self) -> str:
        """The station whose verdict it counts towards."""
        return self.code.split(".", 1)[0]


Run = TypeVar("Run", bound=Callable[..., Iterable[Finding]])


class Check(Struct, frozen=True):
    """A registered check: its function, the codes of what it may complain of, and what it is a check of."""

    run: Callable[..., Iterable[Finding]]
    codes: tuple[str, ...]
    of: Any


class Checks:
    """All checks, each registered in its own file for what it checks: a builder, or a room's own function."""

    def __init__(self) -> None:
        self._checks: dict[Any, list[Check]] = {}

    def add(self, *codes: str, of: Any) -> Callable[[Run], Run]:
        """Decorator: register a check with the codes of its findings.

        Args:
            of: the function whose result is checked; `run` is called with it.
        """

        def register(run: Run) -> Run:
            mine = self._checks.setdefault(of, [])
            mine.append(Check(run, codes, of))
            # In the order of their files, whichever of them happened to be imported first.
            mine.sort(key=lambda check: (check.run.__module__, check.run.__code__.co_firstlineno))
            return run

        return register

    def run(self, of: Any, seen: Any) -> Iterator[Finding]:
        """The findings of every check of something, in the order of the files they stand in.

        Args:
            seen: what those checks look at.
        """
        for check in self._checks.get(of, ()):
            checkpoint()
            yield from check.run(seen)

    def __iter__(self) -> Iterator[Check]:
        """Every check that has been imported."""
        for found in self._checks.values():
            yield from found


CHECKS = Checks()


def sort_findings(found: Iterable[Finding]) -> tuple[Finding, ...]:
    """Order findings worst first, keeping the given order within a severity."""
    return tuple(sorted(found, key=lambda finding: SEVERITIES.index(finding.severity)))


def verdict_of(found: Iterable[Finding]) -> str:
    """The worst of some findings as a verdict: `stop`, `look` or `clear` (notes do not count)."""
    present = {finding.severity for finding in found}
    return "stop" if "stop" in present else "look" if "look" in present else "clear"
