"""Zoom, scale and ruler, without a window."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.shape.outline import Box
from dechirer.drawing.display import Display, Shape
from dechirer.drawing.ruler import snap
from dechirer.drawing.viewport import MOST_PX_PER_MM, Viewport, Zoom, describe_scale, fit_viewport, zoom_onto

BOX = Box(0.0, 0.0, 200.0, 100.0)
WIDE, HIGH = 800.0, 600.0
FITTED = fit_viewport(BOX, WIDE, HIGH, (60.0, 40.0, 20.0, 80.0))


@given(st.lists(st.tuples(st.floats(0.3, 3.0), st.floats(0.0, WIDE), st.floats(0.0, HIGH)), min_size=1, max_size=8))
def test_what_lies_under_the_pointer_stays_there(steps: list[tuple[float, float, float]]) -> None:
    zoom = Zoom()
    for by, x, y in steps:
        before = zoom.viewport(FITTED, WIDE, HIGH).to_mm((x, y))
        zoom = zoom.magnified(by, (x, y), FITTED, WIDE, HIGH)
        now = zoom.viewport(FITTED, WIDE, HIGH)
        assert FITTED.scale - 1e-9 <= now.scale <= MOST_PX_PER_MM + 1e-9
        if not zoom.is_fitted:
            assert now.to_px(before) == pytest.approx((x, y), abs=1e-6)
        else:
            assert now == FITTED


def test_a_magnified_picture_is_moved_and_never_lost() -> None:
    zoom = Zoom().magnified(4.0, (400.0, 300.0), FITTED, WIDE, HIGH)
    before = zoom.viewport(FITTED, WIDE, HIGH).to_px((50.0, 50.0))
    after = zoom.moved(30.0, -20.0, FITTED, BOX).viewport(FITTED, WIDE, HIGH).to_px((50.0, 50.0))
    assert after == pytest.approx((before[0] + 30.0, before[1] - 20.0))
    far = zoom.moved(1e6, 1e6, FITTED, BOX)
    assert BOX.has(far.viewport(FITTED, WIDE, HIGH).to_mm((WIDE / 2, HIGH / 2)))
    assert Zoom().moved(30.0, 0.0, FITTED, BOX) == Zoom()


def test_an_item_fills_the_window() -> None:
    item = Box(20.0, 30.0, 30.0, 34.0)
    now = zoom_onto(item, FITTED, WIDE, HIGH).viewport(FITTED, WIDE, HIGH)
    left, top = now.to_px((item.left, item.top))
    right, bottom = now.to_px((item.right, item.bottom))
    assert (left, right) == pytest.approx((24.0, 776.0))  # as wide as the window, less its room
    assert 0 < top < bottom < HIGH
    assert zoom_onto(BOX.grown(500), FITTED, WIDE, HIGH) == Zoom()  # larger than the picture: as it fits


@pytest.mark.parametrize(
    ("scale", "words"), [(4.0, "1 : 1"), (4.05, "1 : 1"), (8.0, "2 : 1"), (2.0, "1 : 2"), (50.0, "12 : 1"), (0.0, "")]
)
def test_a_scale_is_said_as_makers_write_it(scale: float, words: str) -> None:
    assert describe_scale(scale, 4.0) == words


ROUND = tuple((60 + 20 * math.cos(turn / 30), 50 + 20 * math.sin(turn / 30)) for turn in range(188))
DISPLAY = Display((Shape((((0, 0), (40, 0), (40, 30), (0, 30)),), form="cut"), Shape((ROUND,), form="cut")), BOX)
NEAR = Viewport(5.0, 0.0, 0.0)


@pytest.mark.parametrize(
    ("at", "to", "found"),
    [
        ((39.0, 1.2), "corner", (40.0, 0.0)),
        ((20.0, 0.9), "line", (20.0, 0.0)),
        ((20.0, 15.0), "", (20.0, 15.0)),
        ((60.0, 70.9), "line", (60.0, 70.0)),  # a curve has no corners
        ((0.4, 12.0), "line", (0.0, 12.0)),  # the side that closes the outline
    ],
)
def test_the_ruler_is_drawn_to_corners_and_lines(at: tuple[float, float], to: str, found: tuple[float, float]) -> None:
    place = snap(DISPLAY, NEAR, NEAR.to_px(at))
    assert place.to == to
    assert place.at == pytest.approx(found, abs=0.05)


def test_farther_away_on_the_screen_less_is_near() -> None:
    assert snap(DISPLAY, Viewport(40.0, 0.0, 0.0), (39.0 * 40, 1.2 * 40)).to == ""
