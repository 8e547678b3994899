"""Locking gate and collar card: slots from necks, orders that are possible, what holds."""

from __future__ import annotations

import pytest
import shapely

from dechirer.core.card.fold import Fold
from dechirer.core.card.folding import fold, fold_steps
from dechirer.core.card.hidden import find_collision
from dechirer.core.construct.checks.closing import FOLD_SAMPLES
from dechirer.core.construct.kinds.collar import paper_left
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.core.plan import Plan, make_plan
from tests.dressing import dressed, item
from tests.helpers import changed, codes, finding, mended, quick_job, typed


def lock(**values: object) -> Job:
    """A locking gate of 4 1/2 x 5 1/2 in with fields of its lock set."""
    job = typed(quick_job("4.5x5.5in", fold="lock-gate"), "brief.papers.card.thickness", "0.3 mm")
    return changed(job, **{f"construct__lock_gate__{name}": value for name, value in values.items()})


def collar(**values: object) -> Job:
    job = typed(quick_job("4.5x6in", fold="collar"), "brief.papers.card.thickness", "0.3 mm")
    return changed(job, **{f"construct__collar__{name}": value for name, value in values.items()})


def closed_height(plan: Plan, piece: str, panel: str, *, thread: bool = False) -> tuple[float, float]:
    """Between which heights a panel's slab lies in the closed card; with `thread`, its part that passes a slot."""
    poses = fold(plan.construct.tree, 1.0)
    slabs = [each for each in plan.construct.slabs if (each.piece, each.panel) == (piece, panel)]
    slab = next(each for each in slabs if (each.bottom != 0.0) == thread)
    ends = [poses[panel]((*slab.outline[0], z))[2] for z in (slab.bottom, slab.top)]
    return min(ends), max(ends)


def test_the_slot_is_the_neck_with_clearance_and_thickness() -> None:
    # Common practice: slot = tongue neck + clearance (about 1 mm + thickness): 12 + 1 + 0.3 mm.
    plan = make_plan(lock())
    assert plan.figures["lock.slot"].value == pytest.approx(13.3)
    slot = next(line for line in plan.construct.pieces[0].lines if line.role == "slit")
    (x0, y0), (x1, y1) = slot.paths[0]
    assert x0 == x1 == pytest.approx(12.0)
    assert y1 - y0 == pytest.approx(13.3)
    assert (y0 + y1) / 2 == pytest.approx(5.5 * 25.4 / 2)
    wider = make_plan(typed(lock(), "construct.lock_gate.neck", "15 mm"))
    assert wider.figures["lock.slot"].value == pytest.approx(16.3)


def test_doors_cover_the_front_and_their_overlap() -> None:
    plan = make_plan(lock())
    assert 2 * plan.figures["lock.door"].value == pytest.approx(4.5 * 25.4 + 4)
    poses = fold(plan.construct.tree, 1.0)
    rings = {
        name: shapely.Polygon([poses[name]((*point, 0.0))[:2] for point in plan.construct.tree.panel(name).outline])
        for name in ("back", "door-left", "door-right")
    }
    assert rings["back"].buffer(0.001).covers(rings["door-left"].union(rings["door-right"]))
    doors = rings["door-left"].union(rings["door-right"])
    assert doors.area == pytest.approx(rings["back"].area, rel=1e-6)


def test_the_neck_lies_in_the_slot_when_the_card_is_closed() -> None:
    plan = make_plan(lock())
    poses, tree = fold(plan.construct.tree, 1.0), plan.construct.tree
    slot = next(line for line in plan.construct.pieces[0].lines if line.role == "slit").paths[0]
    placed = [poses["door-right"]((*point, 0.0))[:2] for point in slot]
    tongue = shapely.Polygon([poses["door-left"]((*point, 0.0))[:2] for point in tree.panel("door-left").outline])
    inside = shapely.LineString(placed).intersection(tongue)
    assert inside.length == pytest.approx(12.0, abs=0.01)  # the neck's breadth and no more: the head is beyond
    assert inside.centroid.distance(shapely.LineString(placed).centroid) < 1e-6


@pytest.mark.parametrize(("first", "shows"), [("left", "outside"), ("right", "inside")])
def test_the_head_lies_on_its_side_of_the_slotted_door(first: str, shows: str) -> None:
    plan = make_plan(lock(first=first, head_shows=shows))
    assert "construct.order-impossible" not in codes(plan)
    head, door = closed_height(plan, "base", "door-left", thread=True), closed_height(plan, "base", "door-right")
    back = closed_height(plan, "base", "back")
    if shows == "outside":  # away from the back, which fills 0 to t
        assert head[1] <= door[0] + 1e-9
    else:
        assert door[1] <= head[0] + 1e-9
        assert head[1] <= back[0] + 1e-9


@pytest.mark.parametrize(("first", "shows"), [("right", "outside"), ("left", "inside")])
def test_an_order_that_cannot_be_folded_is_refused_with_two_ways_out(first: str, shows: str) -> None:
    job = lock(first=first, head_shows=shows)
    assert finding(make_plan(job), "construct.order-impossible").severity == "stop"
    for number in (0, 1):
        assert "construct.order-impossible" not in codes(mended(job, "construct.order-impossible", number))


@pytest.mark.parametrize("closes", ["first", "last"])
def test_a_top_flap_folds_in_its_turn(closes: str) -> None:
    plan = make_plan(lock(flap=parse_length("1 in"), flap_closes=closes))
    steps = fold_steps(plan.construct.tree)
    assert len(steps) == 3
    assert ("top flap" in steps[0]) == (closes == "first")
    assert plan.figures["base.height"].value == pytest.approx(6.5 * 25.4)
    flap, left = closed_height(plan, "base", "flap"), closed_height(plan, "base", "door-left")
    assert (flap[0] >= left[1] - 1e-9) == (closes == "first")
    face = plan.construct.tree.face("flap")
    assert face.to_flat.turn_deg == pytest.approx(180)  # read upside down on the sheet, as it folds down over the top


@pytest.mark.parametrize("kind", CONSTRUCTIONS.ids())
def test_nothing_runs_through_anything_while_folding(kind: str) -> None:
    construct = make_plan(quick_job("5x7in", fold=kind)).construct
    steps = max(1, len(fold_steps(construct.tree)))
    for sample in range(FOLD_SAMPLES * steps * 2 + 1):
        assert find_collision(construct.tree, construct.slabs, sample / (FOLD_SAMPLES * steps * 2)) is None


def test_the_strap_reaches_its_slit_and_goes_behind_the_front() -> None:
    plan = make_plan(collar())
    assert plan.figures["collar.slit"].value == pytest.approx(26 + 1 + 0.3)
    assert plan.figures["base.height"].value == pytest.approx(6 * 25.4 + 80)
    strap, front = closed_height(plan, "base", "strap"), closed_height(plan, "base", "front")
    end = closed_height(plan, "base", "strap", thread=True)
    assert strap[1] <= front[0] + 1e-9  # over the front, seen from the front
    assert end[0] >= front[1] - 1e-9  # and behind it beyond the slit
    poses = fold(plan.construct.tree, 1.0)
    slit = next(line for line in plan.construct.pieces[0].lines if line.role == "slit").paths[0]
    placed = [poses["front"]((*point, 0.0))[:2] for point in slit]
    cut = next(each for each in plan.construct.slabs if each.panel == "strap" and each.bottom != 0.0)
    edge = [poses["strap"]((*point, 0.0))[1] for point in cut.outline]
    assert min(edge) == pytest.approx(placed[0][1])


def test_a_facing_is_the_strap_less_its_reveal() -> None:
    job = collar(facing="liner-paper")
    plan = make_plan(typed(job, "brief.papers.liner-paper.thickness", "0.2 mm"))
    facing = plan.construct.piece("facing")
    assert facing is not None
    assert facing.paper == "liner-paper"
    assert facing.width.value == pytest.approx(26 - 4)
    assert plan.figures["collar.slit"].value == pytest.approx(26 + 1 + 0.3 + 0.2)
    strap = shapely.Polygon(plan.construct.tree.panel("strap").outline)
    expected = strap.buffer(-2.0, join_style="mitre")
    assert facing.area == pytest.approx(expected.area, rel=1e-6)


def test_collar_flaps_and_words_on_the_strap() -> None:
    plan = make_plan(collar())
    assert fold_steps(plan.construct.tree)[0] == "close the front"
    assert {panel.id for panel in plan.construct.tree.panels} == {"back", "front", "flap-left", "flap-right", "strap"}
    none = make_plan(collar(flap=parse_length("0 mm")))
    assert {panel.id for panel in none.construct.tree.panels} == {"back", "front", "strap"}


def test_a_perforated_neck_tears() -> None:
    # Common practice: perforated necks tear. 20 mm with one dash of 5 mm leaves 15 mm.
    fold_line = Fold(kind="perforate")
    assert paper_left(fold_line, 20.0) == pytest.approx(15.0)
    assert paper_left(Fold(), 20.0) == 20.0
    job = changed(collar(), construct__fold__kind="perforate")
    assert finding(make_plan(job), "construct.neck-narrow").severity == "look"
    assert "construct.neck-narrow" not in codes(mended(job, "construct.neck-narrow"))
    assert "construct.neck-narrow" not in codes(make_plan(collar()))


def test_what_is_in_the_middle_of_a_door_is_in_the_middle_of_the_door_and_not_of_its_tongue() -> None:
    job = quick_job("105x150mm", fold="lock-gate")
    plan = make_plan(dressed(item(face="front left", made="pen", width="20 mm"), job=job))
    left, _, right, _ = plan.dress.items[0].placed.drawn.box()
    assert (left + right) / 2 == pytest.approx(plan.figures["lock.door"].value / 2, abs=1e-6)
    far = make_plan(dressed(item(face="front left", made="window", width="20 mm", x="30 mm"), job=job))
    assert "nan" not in " ".join(each.reason for each in far.findings)


def test_a_heart_holds_by_what_is_broadest_across_the_slot() -> None:
    plan = make_plan(quick_job("105x150mm", fold="lock-gate"))
    broad = plan.figures["lock.head-across"].value
    tongue = plan.construct.tree.panel("door-left").outline
    turned = shapely.Polygon(tongue)
    _, top, right, bottom = turned.bounds
    edge = 2 * plan.figures["lock.door"].value + plan.figures["brief.width"].value
    slices = [
        shapely.LineString([(x, top - 1), (x, bottom + 1)]).intersection(turned).bounds
        for x in (edge + 0.5 + (right - edge - 0.6) * step / 400 for step in range(400))
    ]
    assert broad == pytest.approx(max(b - t for _, t, _, b in slices), abs=0.15)
    assert broad < 32.0  # the head typed, from edge to edge
    assert plan.figures["base.width"].value == pytest.approx(plan.construct.pieces[0].width.value)


def test_a_strap_broader_where_it_passes_its_slit_is_a_stop() -> None:
    job = changed(quick_job("105x150mm", fold="collar"), construct__collar__neck=parse_length("80 mm"))
    job = changed(job, construct__collar__slit_at=parse_length("5 mm"))
    assert "construct.strap-wider-than-slot" in codes(make_plan(job))
    assert "construct.strap-wider-than-slot" not in codes(mended(job, "construct.strap-wider-than-slot"))
