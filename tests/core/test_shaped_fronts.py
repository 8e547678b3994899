"""What is cut in a front that is no rectangle, or lies on it, stays within its shape or is said not to."""

from __future__ import annotations

import pytest
import shapely

from dechirer.core.audit import audit
from dechirer.core.card.panels import Face, Panel, PanelTree
from dechirer.core.construct.paper_left import largest_share, paper_left
from dechirer.core.decide.change import Change
from dechirer.core.decide.values import Size
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.core.plan import Plan, make_plan
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.outline import rectangle
from tests.helpers import attached, changed, codes, finding, mended, quick_job, typed

DIAMOND = ((50.0, 0.0), (100.0, 50.0), (50.0, 100.0), (0.0, 50.0))


def tree_of(outline: tuple[tuple[float, float], ...]) -> PanelTree:
    face = Face("front", "panel", "outside", 100.0, 100.0, Affine())
    return PanelTree((Panel("panel", "panel", outline),), (), (face,))


def in_row(kind: str, width: str, height: str) -> Job:
    """A row of flaps 134.9 x 76.2 mm with something in its front; its upper edge follows gulls and kites."""
    job = attached(quick_job("5 5/16x3in", fold="flap-row", units="in"), kind)
    return typed(typed(job, f"construct.{kind}.width", width), f"construct.{kind}.height", height)


def farthest_out(plan: Plan) -> float:
    """How far what is cut inside the base reaches out of its outline, in mm."""
    base = plan.whole.pieces[0]
    whole = shapely.Polygon(base.outline)
    lines = [
        shapely.segmentize(shapely.LineString((*path, path[0]) if line.closed else path), 0.2)
        for line in base.lines
        if line.role != "outline"
        for path in line.paths
    ]
    return max(shapely.distance(whole, shapely.points(shapely.get_coordinates(each))).max() for each in lines)


def test_paper_is_measured_to_the_shape_and_not_to_the_box_round_it() -> None:
    # Plain geometry: from a square's corner to the slanted edge (x + y = 150 at its nearest) it is over sqrt(2).
    shaped, plain = tree_of(DIAMOND), tree_of(rectangle(100.0, 100.0))
    hole = rectangle(20.0, 20.0, at=(40.0, 40.0))
    assert paper_left(plain, plain.faces[0], hole) == 40.0
    assert paper_left(shaped, shaped.faces[0], hole) == pytest.approx(30.0 / 2**0.5)
    past = rectangle(70.0, 70.0, at=(15.0, 15.0))
    assert paper_left(shaped, shaped.faces[0], past) == pytest.approx(-20.0 / 2**0.5)
    # Its ends lie in paper, its middle does not.
    bay = tree_of(((0.0, 0.0), (40.0, 0.0), (50.0, 60.0), (60.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0)))
    across = ((20.0, 30.0), (80.0, 30.0))
    assert paper_left(bay, bay.faces[0], across, closed=False) < -4.0


def test_the_largest_share_is_found() -> None:
    assert largest_share(lambda share: share <= 0.3) == pytest.approx(0.3)
    assert largest_share(lambda _: True) == 1.0
    assert largest_share(lambda _: False) == 0.0


@pytest.mark.parametrize(
    ("kind", "width", "height", "code"),
    [
        ("slits", "4 1/2", "2", "construct.slit-near-edge"),
        ("window", "4 1/2", "2", "construct.window-near-edge"),
        ("window", "2 1/2", "1 3/4", "construct.window-near-edge"),
        ("peel", "3 1/2", "1 7/8", "construct.backer-over-edge"),
    ],
)
def test_what_is_cut_past_a_shaped_edge_is_found_and_mended(kind: str, width: str, height: str, code: str) -> None:
    job = in_row(kind, width, height)
    plan = make_plan(job)
    assert farthest_out(plan) > 0.2
    found = finding(plan, code)
    assert found.severity == "stop"
    for number, mend in enumerate(found.mends):
        after = mended(job, code, number)
        assert code not in codes(after), mend.label
        assert farthest_out(after) < 1e-6
        assert not [fault for fault in audit(after) if "leaves its piece" in fault.words]


def test_a_backer_past_a_shaped_edge_is_found_and_the_margin_it_offers_fits() -> None:
    job = typed(in_row("window", "2 1/2", "3/4"), "construct.window.margin", "14 mm")
    found = finding(make_plan(job), "construct.backer-over-edge")
    assert found.mends[0].label.startswith("Use a margin of ")
    for number, mend in enumerate(found.mends):
        after = mended(job, "construct.backer-over-edge", number)
        assert "construct.backer-over-edge" not in codes(after), mend.label
        backer = next(slab for slab in after.construct.slabs if slab.piece == "backer")
        assert shapely.Polygon(after.whole.pieces[0].outline).buffer(1e-6).covers(shapely.Polygon(backer.outline))


def test_slits_past_the_upper_edge_of_a_row_were_cut_out_of_it() -> None:
    # Random work, seed 280248: nothing was said, and the slits ran 0.08 mm out of the topper.
    job = changed(in_row("slits", "3", "2 7/16"), construct__slits__style="scalloped")
    job = typed(typed(job, "construct.slits.ease", "1.9 mm"), "brief.height", "3 in")
    plan = make_plan(job)
    assert farthest_out(plan) > 0.0
    assert "runs past the edge" in finding(plan, "construct.slit-near-edge").title


def test_a_row_too_low_for_an_insert_is_offered_none() -> None:
    found = finding(make_plan(in_row("slits", "5 3/8", "1 11/16")), "construct.slit-near-edge")
    assert [mend.label for mend in found.mends][-1] == "No insert"


def sticks_out(plan: Plan, piece: str) -> float:
    """How far a piece that lies on the front reaches out of its panel, in mm, by what the card is folded from."""
    panel = plan.construct.tree.faces[0].panel
    whole = shapely.Polygon(plan.construct.tree.panel(panel).outline)
    rings = [slab.outline for slab in plan.construct.slabs if slab.panel == panel and slab.piece.startswith(piece)]
    return max(shapely.distance(whole, shapely.Point(at)) for ring in rings for at in ring)


@pytest.mark.parametrize(
    ("fold", "kind", "piece", "code"),
    [
        ("hinged-shape", "layers", "layer-1", "construct.layer-size"),
        ("hinged-shape", "pockets", "pocket-1", "construct.pocket-size"),
        ("hinged-shape", "stack", "stack-", "construct.layer-size"),
        ("flap-row", "layers", "layer-1", "construct.layer-size"),
        ("flap-row", "stack", "stack-", "construct.layer-size"),
    ],
)
@pytest.mark.parametrize("units", ["in", "mm"])
def test_what_lies_on_a_shape_and_sticks_out_of_it_is_said(
    fold: str, kind: str, piece: str, code: str, units: str
) -> None:
    job = attached(quick_job("6x5in", fold=fold, units=units), kind)
    if kind == "stack":
        job = changed(job, construct__stack__count=2)  # the third is set in by more than a smaller one holds
    plan = make_plan(job)
    found = finding(plan, code)
    assert "shows past the edge" in found.title
    assert sticks_out(plan, piece) > 1.0
    assert len(found.mends) == 2
    for number, mend in enumerate(found.mends):
        after = mended(job, code, number)
        assert code not in codes(after), mend.label
    after = mended(job, code)
    assert sticks_out(after, piece) <= 0.05
    assert max(each.width.value for each in after.construct.pieces if each.id.startswith(piece)) > 25.0


def test_an_insert_whose_corners_stick_out_of_a_disc_is_said() -> None:
    job = attached(quick_job("5x5in", fold="hinged-shape", units="in"), "slits")
    job = typed(typed(job, "construct.slits.width", "3 1/2"), "construct.slits.height", "3 1/2")
    plan = make_plan(job)
    found = finding(plan, "construct.slit-near-edge")
    assert "insert shows past the edge" in found.title
    after = make_plan(apply_changes(job, found.mends[0].changes))
    assert "construct.slit-near-edge" not in codes(after)
    assert sticks_out(plan, "insert") > 0.4
    assert sticks_out(after, "insert") <= 0.05


def test_a_layer_that_is_there_and_a_border_meant_in_all() -> None:
    job = attached(quick_job("6x5in", fold="hinged-shape", units="in"), "layers")
    whole = apply_changes(job, [Change("construct.layers.layer-1.counts", "total")])
    found = finding(make_plan(whole), "construct.layer-size")
    after = make_plan(apply_changes(whole, found.mends[0].changes))
    assert "construct.layer-size" not in codes(after)
    there = apply_changes(
        job, [Change("construct.layers.layer-1.at_hand", Size(parse_length("5 in"), parse_length("4 in")))]
    )
    found = finding(make_plan(there), "construct.layer-size")
    assert [mend.label for mend in found.mends] == ["Take the layer off"]


def test_what_is_larger_than_its_panel_is_said_once() -> None:
    job = attached(quick_job("6x5in", fold="hinged-shape", units="in"), "layers")
    size = Size(parse_length("9 in"), parse_length("4 in"))
    job = apply_changes(job, [Change("construct.layers.layer-1.at_hand", size)])
    assert codes(make_plan(job)).count("construct.layer-size") == 1


def test_a_backer_that_reaches_the_edge_and_not_past_it_is_right() -> None:
    # 5 in less a window of 3 in leaves 25.4 mm on each side; a margin of that, to the last rounding.
    for margin in ("1 in", "25.4 mm"):
        job = attached(quick_job("5x7in"), "window")
        job = typed(typed(job, "construct.window.width", "3 in"), "construct.window.margin", margin)
        assert "construct.backer-over-edge" not in codes(make_plan(job))
