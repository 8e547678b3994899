"""Outlines of masks: places between pixels, saddles, ways round, against plain geometry."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.shape.contour import find_rings


def signed(ring: np.ndarray) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()) / 2


def test_a_block_of_pixels_is_outlined_half_way_to_its_neighbours() -> None:
    mask = np.zeros((8, 9), np.uint8)
    mask[2:5, 3:7] = 255
    (ring,) = find_rings(mask)
    box = shapely.Polygon(ring).bounds
    assert box == pytest.approx((3, 2, 7, 5), abs=0.01)  # pixel centres lie at halves
    assert signed(ring) < 0  # counter-clockwise, y down


def test_holes_run_the_other_way() -> None:
    mask = np.zeros((12, 12), np.uint8)
    mask[2:10, 2:10] = 255
    mask[5:7, 5:7] = 0
    ways = sorted(round(signed(ring)) for ring in find_rings(mask))
    assert len(ways) == 2
    assert ways[0] < 0 < ways[1]


@pytest.mark.parametrize(("strength", "rings"), [(255, 1), (100, 2)])
def test_two_pixels_that_touch_at_a_corner_join_when_their_middle_is_inside(strength: int, rings: int) -> None:
    mask = np.zeros((6, 6), np.uint8)
    mask[2, 2] = mask[3, 3] = 255
    mask[2, 3] = mask[3, 2] = strength // 2 if strength == 255 else 0
    assert len(find_rings(mask)) == rings


@given(st.integers(0, 10_000))
def test_every_ring_closes_and_separates_what_is_above_from_what_is_not(seed: int) -> None:
    random = np.random.default_rng(seed)
    mask = np.zeros((14, 17), np.uint8)
    mask[1:-1, 1:-1] = random.integers(0, 256, (12, 15))
    rings = find_rings(mask)
    turns = np.zeros(mask.shape, int)
    rows, columns = np.mgrid[0 : mask.shape[0], 0 : mask.shape[1]]
    for ring in rings:
        assert np.abs(np.diff(np.vstack([ring, ring[:1]]), axis=0)).max() <= 1.0 + 1e-9  # square by square
        inside = shapely.contains_xy(shapely.Polygon(ring), columns + 0.5, rows + 0.5) if len(ring) > 2 else False
        turns += np.where(inside, 1 if signed(ring) < 0 else -1, 0)
    assert ((turns > 0) == (mask > 127.5)).all()


def test_an_empty_and_a_full_mask_have_no_outline() -> None:
    assert find_rings(np.zeros((5, 5), np.uint8)) == []
    assert find_rings(np.full((5, 5), 255, np.uint8)) == []
