"""Gate held by its flap: halves that pass a slot, lie over the flap, and can be folded in the order that is said."""

from __future__ import annotations

import io
import math

import pytest
import shapely
import svgelements

from dechirer.core.audit import audit
from dechirer.core.card.folding import fold, fold_steps
from dechirer.core.card.hidden import find_collision
from dechirer.core.construct.kinds.flap_lock import HEADS
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.formats.outputs.mat_svg import write_mat_svg
from tests.helpers import changed, codes, finding, mended, quick_job, typed

T = 0.3
"""The paper's thickness in these tests (mm)."""


def held(**values: str) -> Job:
    """A card of 4 1/2 x 5 1/2 in held by its flap, with fields of its lock set."""
    job = typed(quick_job("4.5x5.5in", fold="flap-lock"), "brief.papers.card.thickness", f"{T} mm")
    for name, value in values.items():
        job = typed(job, f"construct.flap_lock.{name}", value)
    return job


def placed(plan: Plan, panel: str, closed: float = 1.0) -> shapely.Polygon:
    """A panel seen along z at an opening, with its holes."""
    pose = fold(plan.construct.tree, closed)[panel]
    part = plan.construct.tree.panel(panel)
    rings = [[pose((*point, 0.0))[:2] for point in ring] for ring in (part.outline, *part.holes)]
    return shapely.Polygon(rings[0], rings[1:])


def heights(plan: Plan, panel: str) -> tuple[float, float]:
    pose = fold(plan.construct.tree, 1.0)[panel]
    slab = next(each for each in plan.construct.slabs if each.panel == panel)
    low, high = sorted(pose((*slab.outline[0], z))[2] for z in (slab.bottom, slab.top))
    return low, high


def test_closed_the_halves_lie_on_the_flap_and_that_on_the_doors() -> None:
    # Outward is below zero: back 0 to t, then doors, flap and halves, a thickness each.
    plan = make_plan(held())
    for place, panels in enumerate((("door-left", "door-right"), ("flap",), ("half-left", "half-right"))):
        for panel in panels:
            assert heights(plan, panel) == pytest.approx((-(place + 1) * T, -place * T)), panel


@pytest.mark.parametrize("head", HEADS)
def test_the_halves_make_up_the_whole_head_over_the_slot(head: str) -> None:
    plan = make_plan(changed(held(), construct__flap_lock__head=head))
    left, right = placed(plan, "half-left"), placed(plan, "half-right")
    whole = left.union(right)
    width, height = whole.bounds[2] - whole.bounds[0], whole.bounds[3] - whole.bounds[1]
    assert width == pytest.approx(36.0 + 1.0, abs=0.02)  # both halves and the gap between the doors
    assert height == pytest.approx(36.0 * HEADS[head], abs=0.02)
    assert left.area == pytest.approx(right.area, rel=1e-6)
    assert left.intersection(right).area < 1e-6
    flap = placed(plan, "flap")
    slot = shapely.Polygon(flap.interiors[0])
    assert slot.centroid.x == pytest.approx(whole.centroid.x, abs=1e-6)
    # What of the halves lies over the flap beside the slot holds it down.
    assert left.intersection(flap).area > 0.8 * left.area
    assert set(codes(plan)) <= {"run.single-score"}


@pytest.mark.parametrize("head", HEADS)
def test_the_slot_is_as_long_as_what_passes_it_while_the_flap_turns(head: str) -> None:
    plan = make_plan(changed(held(), construct__flap_lock__head=head))
    tree = plan.construct.tree
    half, flap = tree.panel("half-left"), tree.panel("flap")
    fold_y, edge = 54.0, min(x for x, _ in half.outline)
    passes = [math.hypot(x - edge, y - fold_y) for x, y in half.outline]
    slot = [fold_y - y for _, y in flap.holes[0]]
    assert min(slot) == pytest.approx(min(passes) - (1.0 + T) / 2)
    assert max(slot) == pytest.approx(max(passes) + (1.0 + T) / 2)
    assert plan.figures["flap-lock.slot"].value == pytest.approx(max(passes) - min(passes) + 1.0 + T)
    assert plan.figures["flap-lock.slot-breadth"].value == pytest.approx(1.0 + 2 * T)


@pytest.mark.parametrize(("width", "taper"), [("4.5 in", 6.0), ("20 mm", 5.0)])
def test_the_flap_tapers_by_six_millimetres_or_a_quarter_of_a_narrow_card(width: str, taper: float) -> None:
    flap = make_plan(typed(held(), "brief.width", width)).construct.tree.panel("flap")
    (left, foot), (inner, top), (outer, _), (right, _) = flap.outline
    assert (inner - left, right - outer) == pytest.approx((taper, taper))
    assert foot > top


def test_the_slot_is_cut_at_its_size() -> None:
    """Read back from the mat by svgelements; 96 px are an inch (CSS Values and Units, section 5.2)."""
    plan = make_plan(held())
    layout = plan.lay.layouts[0]
    svg = svgelements.SVG.parse(io.StringIO(write_mat_svg(layout, plan).decode()), ppi=96)
    slot = next(
        each for each in svg.elements() if str(each.id).endswith("-slot") and isinstance(each, svgelements.Path)
    )
    left, top, right, bottom = (value * 25.4 / 96 for value in slot.bbox())
    # The nearest point of the heart is its notch on the middle line, the farthest its tip.
    high = 36.0 * HEADS["heart"]
    tip, notch = 26.0 + high / 2, 26.0 + high / 2 - plan.figures["flap-lock.chord"].value
    sides = sorted((right - left, bottom - top))
    assert sides[0] == pytest.approx(1.0 + 2 * T, abs=0.01)
    assert sides[1] >= tip - notch + 1.0 + T
    assert sides[1] == pytest.approx(tip - plan.figures["flap-lock.near"].value + 1.0 + T, abs=0.01)


def test_it_folds_in_five_steps_without_running_into_itself() -> None:
    plan = make_plan(held())
    tree, slabs = plan.construct.tree, plan.construct.slabs
    assert fold_steps(tree) == (
        "fold both halves up",
        "close the left door",
        "close the right door",
        "top flap down, the halves through its slot",
        "fold both halves back over the flap",
    )
    for sample in range(301):
        assert find_collision(tree, slabs, sample / 300) is None
    standing = fold(tree, 1 / 5)["half-left"].turn((0.0, 0.0, 1.0))
    assert standing[2] == pytest.approx(0.0, abs=1e-9)  # half way: on edge


def test_a_flap_whose_slot_is_too_short_meets_the_halves() -> None:
    plan = make_plan(held(clearance="-2 mm"))
    assert finding(plan, "construct.strap-wider-than-slot").severity == "stop"
    assert finding(plan, "construct.folds-through").severity == "stop"  # the folding model sees it too
    assert not set(codes(mended(held(clearance="-2 mm"), "construct.strap-wider-than-slot"))) & {
        "construct.strap-wider-than-slot",
        "construct.folds-through",
    }


def test_the_halves_hang_on_their_necks_alone() -> None:
    plan = make_plan(held())
    piece = plan.construct.pieces[0]
    slits = shapely.union_all(
        [shapely.LineString(path) for line in piece.lines if line.role == "slit" for path in line.paths]
    )
    marks = {mark.hinge: mark for mark in piece.folds}
    for side in ("left", "right"):
        mark = marks[f"fold-half-{side}"]
        assert math.dist(mark.start, mark.end) == pytest.approx(14.0)
        assert mark.sense == "valley"
        cut = sum(path.length for path in shapely.get_parts(slits) if abs(path.centroid.x - mark.start[0]) < 1e-6)
        assert cut + 14.0 == pytest.approx(plan.figures["flap-lock.chord"].value)


@pytest.mark.parametrize(
    ("values", "code"),
    [
        ({"flap": "44 mm"}, "construct.flap-too-shallow"),
        ({"down": "20 mm"}, "construct.flap-too-shallow"),
        ({"flap": "44 mm", "down": "16 mm"}, "construct.flap-too-shallow"),
        ({"breadth": "14 mm", "neck": "7 mm"}, "construct.halves-narrow"),
        ({"neck": "26 mm"}, "construct.neck-too-long"),
        ({"neck": "4 mm"}, "construct.neck-narrow"),
        ({"breadth": "130 mm", "down": "80 mm", "flap": "150 mm"}, "construct.not-square"),
    ],
)
def test_what_fails_is_found_and_its_mend_mends(values: dict[str, str], code: str) -> None:
    job = held(**values)
    assert code in codes(make_plan(job))
    assert code not in codes(mended(job, code))


@pytest.mark.parametrize(
    ("size", "values"),
    [("5x1in", {}), ("4x1.5in", {"breadth": "60 mm", "down": "30 mm", "flap": "70 mm"})],
)
def test_a_half_that_reaches_past_the_card_is_told_and_its_base_is_as_large_as_it_is(
    size: str, values: dict[str, str]
) -> None:
    """Found by seed 20006 of bin/soak: the working of the base's height did not count what hangs below the card."""
    job = quick_job(size, fold="flap-lock")
    for name, value in values.items():
        job = typed(job, f"construct.flap_lock.{name}", value)
    plan = make_plan(job)
    outline = shapely.Polygon(plan.construct.pieces[0].outline)
    assert plan.figures["base.height"].value == pytest.approx(outline.bounds[3] - outline.bounds[1])
    assert audit(plan, again=True) == ()
    assert "construct.not-square" in codes(plan)
