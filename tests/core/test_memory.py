"""The memory of results: bounded by bytes, what was not asked for longest dropped first."""

from __future__ import annotations

import tracemalloc
from typing import Any

import pytest
import shapely
from msgspec import Struct

from dechirer.core.memory import MOST_UNWEIGHED, Memory, forget, until_forgotten, weigh
from dechirer.core.plan import Planner
from dechirer.demo import load_demo_job
from tests.helpers import typed


class Thing(Struct, frozen=True):
    """Something with parts."""

    points: tuple[tuple[float, float], ...]
    name: str


def thing(number: int, seed: int = 0) -> Thing:
    return Thing(tuple((float(each), each + seed + 0.5) for each in range(number)), f"thing {seed}")


def test_a_result_is_made_once_and_kept_while_it_is_light() -> None:
    memory, made = Memory(10**7), []

    def make(key: int) -> Thing:
        made.append(key)
        return thing(100, key)

    for key in (1, 2, 1, 2, 1):
        assert memory.recall(key, lambda key=key: make(key)).name == f"thing {key}"
    assert made == [1, 2]


def test_the_oldest_are_dropped_when_it_grows_too_heavy() -> None:
    one = weigh(thing(1000))
    memory = Memory(int(3.5 * one))
    for key in range(5):
        memory.recall(key, lambda key=key: thing(1000, key))
    memory.recall(2, lambda: pytest.fail("it is remembered"))
    memory.trim()
    assert len(memory) == 3
    assert memory.bytes <= 3.5 * one
    memory.recall(2, lambda: pytest.fail("it was asked for last"))
    again = []
    memory.recall(0, lambda: again.append(0))
    assert again == [0]


def test_one_that_is_too_heavy_by_itself_is_kept() -> None:
    memory = Memory(100)
    big = memory.recall("big", lambda: thing(1000))
    memory.trim()
    assert memory.recall("big", lambda: pytest.fail("it is remembered")) is big


def test_it_trims_itself_when_nobody_does() -> None:
    memory = Memory(10 * weigh(thing(1000)))
    for key in range(3 * MOST_UNWEIGHED):
        memory.recall(key, lambda key=key: thing(1000, key))
    assert len(memory) <= MOST_UNWEIGHED + 11


def test_what_fails_is_not_remembered() -> None:
    memory = Memory()
    with pytest.raises(ZeroDivisionError):
        memory.recall("x", lambda: 1 // 0)
    assert memory.recall("x", lambda: 3) == 3


@pytest.mark.parametrize(
    "make",
    [
        lambda: thing(20_000),
        lambda: [thing(50, each) for each in range(400)],
        lambda: {each: thing(50, each) for each in range(400)},
        lambda: tuple("word" * 40 + str(each) for each in range(5000)),
    ],
)
def test_weights_are_near_what_python_takes(make: Any) -> None:
    """Against tracemalloc, within a factor of two: what is dropped need not be exact, but may not be far out."""
    tracemalloc.start()
    made = make()
    taken = tracemalloc.get_traced_memory()[0]
    tracemalloc.stop()
    assert taken / 2 < weigh(made) < taken * 2


def test_geometries_count_their_points() -> None:
    ring = shapely.Point(0, 0).buffer(10, quad_segs=5000)
    assert weigh(ring) > 16 * shapely.get_num_coordinates(ring)


def test_a_planner_stays_within_its_bounds_over_many_edits() -> None:
    planner = Planner()
    planner.memory = Memory(3_000_000)
    job = load_demo_job("kites")
    for number in range(12):
        job = typed(job, "brief.width", f"{120 + number} mm")
        planner.plan(job)
        planner.memory.trim()
        assert planner.memory.bytes <= 3_000_000 or len(planner.memory) == 1


def test_what_is_kept_until_forgotten_is_made_once_and_then_anew() -> None:
    made: list[int] = []

    @until_forgotten(2)
    def double(number: int) -> int:
        """Twice a number."""
        made.append(number)
        return 2 * number

    assert [double(number) for number in (1, 2, 1, 2)] == [2, 4, 2, 4]
    assert made == [1, 2]
    double(3)
    double(1)
    assert made == [1, 2, 3, 1]  # the one not asked for longest went
    forget()
    double(1)
    assert made == [1, 2, 3, 1, 1]
    assert double.__doc__ == "Twice a number."
