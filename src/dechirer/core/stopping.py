"""Stopping: long work asks at its checkpoints whether it shall go on, and says what it is at.

The asking is kept for the thread that does the work, so that a loop deep in the geometry need not be handed it by all
who call it. Outside of `may_be_stopped` a checkpoint does nothing.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager

_local = threading.local()


class Stopped(Exception):  # noqa: N818 - it is no error: somebody has asked for it
    """The work was told to stop."""


@contextmanager
def may_be_stopped(
    cancelled: Callable[[], bool], doing: Callable[[str, str | None], None] = lambda _what, _item: None
) -> Iterator[None]:
    """Let the checkpoints of this thread ask `cancelled`, and tell `doing` what they are at and of which item."""
    before = getattr(_local, "asked", None)
    _local.asked = (cancelled, doing)
    try:
        yield
    finally:
        _local.asked = before


def asked_now() -> Callable[[], bool]:
    """What this thread's checkpoints ask now, for work within the work that has checkpoints of its own."""
    asked = getattr(_local, "asked", None)
    found: Callable[[], bool] = asked[0] if asked is not None else lambda: False
    return found


def checkpoint(doing: str = "", item: str | None = None) -> None:
    """Go on, unless the work was told to stop.

    Args:
        doing: what begins here, in words for the maker.
        item: the id of the item it is done for; empty for none, None for the one that was told last.

    Raises:
        Stopped: it was.
    """
    asked = getattr(_local, "asked", None)
    if asked is None:
        return
    cancelled, tell = asked
    if cancelled():
        raise Stopped
    if doing:
        tell(doing, item)
