"""What random work says of memory at its end, and that watching it holds nothing."""

from __future__ import annotations

import threading
import time
import weakref

import pytest
from soak import watch
from soak.driver import Driver
from soak.run import ROUNDS_TOLD, WARM_S, tell_held


def test_memory_is_told_by_what_many_rounds_held_and_not_by_the_last_one() -> None:
    held = [(10.0 * number, 150.0 + number) for number in range(40)]
    held += [(WARM_S - 10 * ROUNDS_TOLD + 10 * number, 200.0) for number in range(ROUNDS_TOLD)]
    held += [(WARM_S + 10 * number, 210.0 if number % 5 else 260.0) for number in range(1, 60)]
    assert tell_held(held) == "200 MB after ten minutes, 210 at the end (+5 %)"


@pytest.mark.parametrize("held", [[], [(5.0, 150.0)], [(WARM_S, 150.0)]])
def test_before_ten_minutes_are_over_nothing_is_compared(held: list[tuple[float, float]]) -> None:
    assert tell_held(held) == "memory is compared after ten minutes"


def test_what_was_looked_at_is_let_go() -> None:
    """A frame holds all it works on; one that was kept held a closed window, and all the job's memory, for a round."""
    looker = watch._Looker(threading.get_ident())
    looker.start()

    def work() -> weakref.ref[Driver]:
        driver = object.__new__(Driver)
        until = time.monotonic() + 0.3
        looker.since = time.monotonic()
        while time.monotonic() < until:
            pass
        looker.since = None
        return weakref.ref(driver)

    held = work()
    time.sleep(5 * watch.LOOK_EVERY_S)
    assert "work" in looker.take_places()
    assert held() is None
