"""Checks of a lock that comes from a file: its tongue passes its slot and does not slip back."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.construct.drawn_locks import find_locks
from dechirer.core.construct.kinds.from_file import FromFile, Read, make_from_file, slits_of
from dechirer.core.construct.kinds.lock_gate import HOLD_MM
from dechirer.core.construct.whole import Seen
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.length import format_length


@CHECKS.add("construct.strap-wider-than-slot", "construct.lock-slips", of=make_from_file)
def find_drawn_lock_that_fails(seen: Seen[FromFile]) -> Iterator[Finding]:
    """A file's tongue passes its slot, and its head is broader than the slot."""
    read: Read | None = seen.made.found
    if read is None or read.card is None:
        return
    units = seen.units
    for lock in find_locks(seen.made.tree, slits_of(read.card)):
        slot = format_length(lock.slot, units)
        if lock.neck > lock.slot + 1e-6:
            yield Finding(
                "construct.strap-wider-than-slot",
                "stop",
                "The file's tongue is wider than its slot",
                f"{format_length(lock.neck, units)} has to pass a slot of {slot}. Was its ratio changed?",
                "It creases, or tears the slot open.",
                "base",
            )
        elif lock.head < lock.slot + HOLD_MM:
            yield Finding(
                "construct.lock-slips",
                "stop",
                "The file's tongue slips through its slot",
                f"Beyond the slot it is {format_length(lock.head, units)} at its broadest, the slot is {slot} long; it "
                f"holds from {HOLD_MM:.0f} mm more. Make its head broader where it was drawn.",
                "The card does not stay closed.",
                "base",
            )
