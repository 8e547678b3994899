"""Locks found from how a card closes: measured on the locking gate, whose figures are known, turned and mirrored."""

from __future__ import annotations

import math

import pytest
import shapely

from dechirer.core.construct.drawn_locks import find_locks
from dechirer.core.construct.envelope_shapes import map_tree
from dechirer.core.plan import make_plan
from dechirer.core.shape.affine import Affine
from tests.helpers import changed, quick_job, typed

TURNS = {
    "as it is": Affine(),
    "turned by 90°": Affine(0.0, 1.0, -1.0, 0.0, 40.0, -12.0),
    "turned by 31°": Affine(math.cos(0.54), math.sin(0.54), -math.sin(0.54), math.cos(0.54)),
}


@pytest.mark.parametrize("move", TURNS.values(), ids=list(TURNS))
@pytest.mark.parametrize(("first", "shows", "layers"), [("left", "outside", 2), ("right", "inside", -2)])
@pytest.mark.parametrize("tongue", ["heart", "bar"])
def test_the_gates_own_lock_is_found(tongue: str, first: str, shows: str, layers: int, move: Affine) -> None:
    job = quick_job("4.5x5.5in", fold="lock-gate")
    plan = make_plan(
        changed(
            job,
            construct__lock_gate__tongue=tongue,
            construct__lock_gate__first=first,
            construct__lock_gate__head_shows=shows,
        )
    )
    tree = plan.construct.tree
    slot = next(line for line in plan.construct.pieces[0].lines if line.role == "slit").paths[0]
    (lock,) = find_locks(map_tree(tree, move), (move.all(slot),))
    assert (lock.panel, lock.slotted) == ("door-left", "door-right")
    assert lock.slot == pytest.approx(plan.figures["lock.slot"].value)
    assert lock.neck == pytest.approx(12.0, abs=1e-6)
    assert lock.head == pytest.approx(plan.figures["lock.head-across"].value, abs=0.05)
    assert lock.thread(tree).layers == layers
    parts = [shapely.Polygon(ring).area for ring in (lock.rest, lock.beyond)]
    assert sum(parts) == pytest.approx(shapely.Polygon(tree.panel("door-left").outline).area, rel=1e-6)


def test_a_door_that_lies_over_a_slot_is_no_tongue() -> None:
    job = typed(quick_job("4.5x5.5in", fold="lock-gate"), "construct.lock_gate.overlap", "20 mm")
    plan = make_plan(job)  # the slot lies under the other door, 12 mm from the edge
    slot = next(line for line in plan.construct.pieces[0].lines if line.role == "slit").paths[0]
    assert find_locks(plan.construct.tree, (slot,)) == ()


def test_a_crooked_cut_is_no_slot() -> None:
    plan = make_plan(quick_job("4.5x5.5in", fold="lock-gate"))
    (a, b) = next(line for line in plan.construct.pieces[0].lines if line.role == "slit").paths[0]
    bent = (a, (a[0] + 2.0, (a[1] + b[1]) / 2), b)
    assert find_locks(plan.construct.tree, (bent,)) == ()
