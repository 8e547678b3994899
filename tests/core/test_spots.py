"""Faces that can be dressed: which there are, what lies on them, where they may be used."""

from __future__ import annotations

import math

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.dress.spots import fit_rings, fold_side, region_of
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.core.shape.affine import Affine
from dechirer.demo import DEMOS, load_demo_job
from tests.helpers import add, quick_job


def spots(job: Job) -> tuple[Plan, dict]:
    plan = make_plan(job)
    return plan, {spot.id: spot for spot in plan.dress.spots}


def test_the_cards_faces_come_first_then_those_of_what_is_glued_in() -> None:
    job = apply_changes(quick_job("5x7in", liner="1/16"), add("layers", quick_job("5x7in", liner="1/16"), "front"))
    _, found = spots(job)
    assert list(found)[:4] == ["front", "inside left", "inside right", "back"]
    assert {"liner/inside right", "layer-1/front"} <= set(found)
    assert found["layer-1/front"].to_card is not None
    assert found["front"].covers[0][0] == "layer-1"


def test_an_envelopes_faces_can_be_dressed_too() -> None:
    job = quick_job("5x7in")
    _, found = spots(apply_changes(job, add("envelope", job)))
    assert any(name.startswith("envelope/") for name in found)


def test_an_opening_of_the_build_is_no_place_for_anything() -> None:
    job = quick_job("5x7in", liner="1/16")
    plan, found = spots(apply_changes(job, add("window", job)))
    front = found["front"]
    assert len(front.holes) == 1
    region = region_of(front, "panel", 5.0, plan.construct)
    assert region.area == pytest.approx(127 * 177.8 - shapely.Polygon(front.holes[0]).area, rel=1e-6)


@pytest.mark.parametrize(
    ("face", "across", "down"),
    [
        ("front", "left", ""),
        ("back", "right", ""),
        ("inside left", "right", ""),
        ("inside right", "left", ""),
    ],
)
def test_the_fold_of_a_side_fold_lies_where_a_reader_sees_it(face: str, across: str, down: str) -> None:
    _, found = spots(quick_job("5x7in"))
    assert fold_side(found[face], "across") == across
    assert fold_side(found[face], "down") == down


def test_the_fold_of_a_top_fold_lies_at_the_top_of_the_front() -> None:
    _, found = spots(quick_job("6x4in", fold="top-fold"))
    assert fold_side(found["front"], "down") == "top"
    assert fold_side(found["inside bottom"], "down") == "top"


@pytest.mark.parametrize("name", list(DEMOS))
def test_every_face_maps_onto_its_piece_without_stretching(name: str) -> None:
    plan, found = spots(load_demo_job(name))
    for spot in found.values():
        piece = plan.dress.piece(spot.piece) or plan.construct.piece(spot.piece)
        assert piece is not None, spot.id
        assert abs(abs(spot.to_piece.determinant) - 1) < 1e-9
        ground = shapely.Polygon(piece.outline).buffer(0.05)
        assert ground.covers(shapely.Polygon(spot.to_piece.all(spot.outline)).buffer(-0.01)), spot.id
        assert spot.to_piece.is_mirrored == (spot.side == "inside") or "/" in spot.id
        for within in ("panel", "visible", "safe"):
            region = region_of(spot, within, 3.0, plan.construct)
            assert region.area <= shapely.Polygon(spot.outline).area + 1e-6


@given(st.floats(-math.pi, math.pi), st.floats(-90, 90), st.floats(-90, 90), st.booleans())
def test_a_rigid_map_is_found_again_from_a_ring(turn: float, x: float, y: float, mirrored: bool) -> None:
    c, s = math.cos(turn), math.sin(turn)
    map = Affine(c, s, -s, c, x, y)
    if mirrored:
        map = Affine(a=-1.0).then(map)
    ring = ((0.0, 0.0), (9.0, 1.0), (11.0, 7.0), (2.0, 8.0))
    found = fit_rings(ring, map.all(ring))
    assert found is not None
    assert found.is_mirrored == mirrored
    assert all(math.dist(found(point), map(point)) < 1e-6 for point in ring)
    assert fit_rings(ring, tuple((2 * a, b) for a, b in map.all(ring))) is None
