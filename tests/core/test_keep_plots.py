"""The points of the book's plots: as many as can be told apart, and stock as it was counted."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.keep.entries import RunDone, StockMoved
from dechirer.core.keep.plotting import MOST, Dot, dots_of, thinned
from dechirer.devices.seasons import write_seasons
from tests.helpers import examples


def test_stock_goes_as_it_was_counted_and_moved() -> None:
    moves = [
        StockMoved("a", "2026-05-01", "card", 100.0),
        StockMoved("b", "2026-05-02", "card", -30.0),
        StockMoved("c", "2026-05-03", "card", counted=64.0),
        StockMoved("d", "2026-05-03", "other", 5.0),
        StockMoved("e", "2026-05-04", "card", -4.0),
    ]
    (dots,) = dots_of("stock", moves, "card").values()
    assert [dot.y for dot in dots] == [100.0, 70.0, 64.0, 60.0]
    assert [dot.id for dot in dots] == ["a", "b", "c", "e"]


def test_ten_thousand_runs_are_shown_as_what_can_be_told_apart() -> None:
    season = [each for each in write_seasons(3, runs=400) if isinstance(each, RunDone)]
    runs = [RunDone(f"r-{n}", each.made, each.job, each.machine, 1, 1, each.planned, each.minutes + n % 7 / 10)
            for n, each in enumerate(season * 25)]  # fmt: skip
    (dots,) = dots_of("minutes", runs).values()
    assert 100 < len(dots) <= MOST + 1
    assert {round(dot.x) for dot in dots} == {round(each.planned) for each in runs}


@given(st.lists(st.tuples(st.floats(-1e3, 1e3), st.floats(-1e3, 1e3)), min_size=1, max_size=60), st.integers(1, 80))
@examples(40)
def test_thinning_keeps_the_ends_and_adds_nothing(places: list[tuple[float, float]], times: int) -> None:
    ordered = sorted(places)
    dots = [Dot(x, y, "rundone", f"r-{n}-{k}", "") for k in range(times) for n, (x, y) in enumerate(ordered)]
    dots.sort(key=lambda dot: dot.x)
    kept = thinned(dots)
    assert len(kept) <= MOST + 1
    assert set(kept) <= set(dots)
    assert {dot.x for dot in (kept[0], kept[-1])} <= {dot.x for dot in dots}
    if len(dots) <= MOST:
        assert kept == dots
    assert abs(kept[-1].x - dots[-1].x) <= 2000 / 100
