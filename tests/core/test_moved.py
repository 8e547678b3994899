"""What is only moved is what it was: an edit works out anew what hangs on it and nothing more."""

from __future__ import annotations

import pytest
import shapely

from dechirer.core.decide.change import Change
from dechirer.core.dress.mark import rings_of
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.core.plan import Plan, Planner
from dechirer.core.shape.affine import Affine, mirror_x
from dechirer.demo import load_demo_job
from tests.dressing import art, dressed, item, square, step
from tests.helpers import codes


def moved(job: Job, id: str, mm: float) -> Job:
    """A job with one item moved across to so many mm."""
    return apply_changes(job, [Change(f"dress.items.{id}.place.x", parse_length(f"{mm} mm"))])


def test_a_piece_that_is_glued_on_elsewhere_is_the_same_piece_on_the_same_mats() -> None:
    planner, job = Planner(), load_demo_job("kites")
    one = planner.plan(moved(job, "greeting", 1.37))
    other = planner.plan(moved(job, "greeting", 2.91))
    assert one.stacked.slabs != other.stacked.slabs
    assert one.dress.pieces == other.dress.pieces
    assert [mat.layout for mat in one.run.mats] == [mat.layout for mat in other.run.mats]
    assert all(mat is again for mat, again in zip(one.run.mats, other.run.mats, strict=True))


def joint_of(plan: Plan, part: str) -> object:
    """The joint of a part."""
    return next(joint for joint in plan.making_up.joints if joint.part == part)


def test_only_the_joints_near_to_what_moved_are_looked_at_again() -> None:
    glued = item(id="tag", made="piece", width="20 mm", x="-20 mm", across="middle", y="20 mm", down="top")
    window = item(id="door", made="window", width="10 mm", x="-30 mm", across="middle", y="-15 mm", down="bottom")
    planner, job = Planner(), dressed(glued, window, arts=(square(20.0),))
    first = planner.plan(job)
    assert first.making_up.joints
    far = planner.plan(moved(job, "door", -25))
    assert joint_of(far, "tag") is joint_of(first, "tag")
    below = apply_changes(moved(job, "door", -20), [Change("dress.items.door.place.down", "top")])
    below = apply_changes(below, [Change("dress.items.door.place.y", parse_length("25 mm"))])
    under = planner.plan(below)
    assert joint_of(under, "tag") != joint_of(first, "tag")


def test_weak_places_go_with_their_piece() -> None:
    """Two squares joined by a web of 0.4 mm, 12 mm from the left and 5 mm from the top of the art: plain geometry."""
    ring = [(0, 0), (10, 0), (10, 4.8), (14, 4.8), (14, 0), (24, 0), (24, 10), (14, 10), (14, 5.2), (10, 5.2), (10, 10)]
    path = " L ".join(f"{x} {y}" for x, y in [*ring, (0, 10)])
    joined = art(f"M {path} Z", width=24.0, height=10.0)
    planner, place = Planner(), {"x": "0 mm", "across": "left", "y": "20 mm", "down": "top"}
    job = dressed(item(id="pair", width="24 mm", **place), arts=(joined,))
    for mm in (10, 31.5, 10):
        (weak,) = planner.plan(moved(job, "pair", mm)).dress.weak
        (web,) = weak.narrow
        assert web.kind == "web"
        assert web.at == pytest.approx((mm + 12, 25), abs=0.5)
        assert web.width == pytest.approx(0.4, abs=0.01)
        left, _, right, _ = shapely.Polygon(web.outline).bounds
        assert (left, right) == pytest.approx((mm + 10, mm + 14), abs=0.4)


@pytest.mark.parametrize("map", [Affine(), mirror_x(30.0), Affine(0, 1, -1, 0, 5, 0)])
@pytest.mark.parametrize("is_reversed", [False, True])
def test_rings_run_clockwise_however_they_come_to_lie(map: Affine, is_reversed: bool) -> None:
    ring, hole = [(0, 0), (10, 0), (10, 7), (0, 7)], [(2, 2), (2, 4), (5, 4)]
    if is_reversed:
        ring, hole = ring[::-1], hole[::-1]
    for path in rings_of(shapely.Polygon(ring, [hole]), map):
        assert shapely.is_ccw(shapely.LinearRing(path))  # by a library whose y is up
    outer, inner = rings_of(shapely.Polygon(ring, [hole]), map)
    assert shapely.Polygon(outer, [inner]).equals(shapely.Polygon(map.all(ring), [map.all(hole)]))


def test_an_item_of_which_nothing_is_left_is_no_ground_for_others() -> None:
    """A piece that its step leaves nothing of, and one that lies over it."""
    gone = item(id="gone", width="20 mm", paper="liner-paper", steps=(step("border", by="-30 mm"),))
    plan = Planner().plan(dressed(gone, item(id="over", width="10 mm", paper="liner-paper"), arts=(square(20.0),)))
    assert "dress.step-gone" in codes(plan)
