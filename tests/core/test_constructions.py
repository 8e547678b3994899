"""Gate, hinged shape and concertina; layers, windows and backers: sizes by plain geometry, and their checks."""

from __future__ import annotations

import math

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.build.concertina import split_into_sections
from dechirer.core.build.outlines import chord_at, find_hinge_height, unit_outline, with_rim
from dechirer.core.job.attach import add_layer, add_window
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.job.papers import add_paper, remove_paper, why_kept
from dechirer.core.offers import make_offers
from dechirer.core.plan import Plan, make_plan
from dechirer.core.shape.outline import bounds
from tests.helpers import IN, changed, codes, finding, mended, quick_job, typed


def test_a_gate_has_two_half_doors_that_meet_a_gap_apart() -> None:
    job = typed(quick_job("5x7in", fold="gate"), "build.gate.gap", "1/8")
    plan = make_plan(job)
    assert plan.figures["gate.door"].value == pytest.approx((5 - 1 / 8) / 2 * IN)
    assert plan.figures["base.width"].value == pytest.approx((10 - 1 / 8) * IN)
    assert [mark.at.value / IN for mark in plan.build.pieces[0].folds] == pytest.approx([7.4375, 2.4375])
    narrow = typed(quick_job("40 x 90 mm", fold="gate"), "build.gate.gap", "10 mm")
    assert "build.door-narrow" in codes(make_plan(narrow))


def test_a_gate_takes_its_liner_on_the_middle_panel() -> None:
    liner = make_plan(quick_job("5x7in", fold="gate", liner="1/16")).build.piece("liner")
    assert liner is not None
    assert (liner.width.value / IN, liner.height.value / IN) == pytest.approx((4.875, 6.875))
    assert not liner.folds


def test_a_hinged_disc() -> None:
    # Plain geometry: D = 5.25, hinge 1.5: centres sqrt(D^2 - h^2) apart, overlap 0.219, flat 10.281.
    plan = make_plan(typed(quick_job("5.25x5.25in", fold="hinged-shape"), "build.hinged.hinge", "1.5"))
    apart = math.sqrt(5.25**2 - 1.5**2)
    assert plan.figures["hinged.overlap"].value / IN == pytest.approx(5.25 - apart, abs=5e-4)
    assert plan.figures["hinged.overlap"].value / IN == pytest.approx(0.219, abs=1e-3)
    assert plan.figures["base.height"].value / IN == pytest.approx(10.281, abs=1e-3)
    assert plan.figures["hinged.folded"].value / IN == pytest.approx((5.25 + apart) / 2, abs=5e-4)
    fold = plan.build.tree.hinges[0]
    assert math.dist(fold.start, fold.end) / IN == pytest.approx(1.5, abs=2e-3)
    score = next(line for line in plan.build.pieces[0].lines if line.operation == "score")
    outline = shapely.Polygon(plan.build.pieces[0].outline)
    assert outline.is_valid
    assert outline.buffer(1e-3).covers(shapely.LineString(score.paths[0]))
    # Two circles less what they share, the lens of two circular segments.
    radius, lens = 5.25 / 2 * IN, 0.0
    half = math.acos(apart / 5.25)
    lens = 2 * (radius**2 * half - radius * math.sin(half) * radius * math.cos(half))
    assert outline.area == pytest.approx(2 * math.pi * radius**2 - lens, rel=2e-4)


@pytest.mark.parametrize("shape", ["disc", "hexagon", "octagon"])
@given(width=st.floats(40, 200), height=st.floats(40, 200), share=st.floats(0.1, 0.9))
def test_a_shape_is_hinged_where_it_is_as_wide_as_asked(shape: str, width: float, height: float, share: float) -> None:
    outline = unit_outline(shape, width, height)
    box = bounds(outline)
    assert (box.width, box.height) == pytest.approx((width, height), rel=1e-6)
    level = find_hinge_height(outline, share * width)
    assert level is not None
    at_edge = abs(level - height) < 1e-6
    assert at_edge or chord_at(outline, level) == pytest.approx(share * width, abs=0.05)
    assert find_hinge_height(outline, width * 1.5) is None


@given(st.integers(8, 60), st.floats(1, 8))
def test_a_rim_closes_evenly_and_stands_proud_by_what_was_asked(repeats: int, proud: float) -> None:
    disc = unit_outline("disc", 120.0, 120.0)
    rim = shapely.Polygon(with_rim(disc, repeats, proud))
    assert rim.is_valid
    centre = shapely.Point(60, 60)
    reach = [math.dist(point, (60, 60)) for point in rim.exterior.coords]
    radius = max(proud, math.pi * 120 / repeats / 2 * 1.02)
    if radius < 60:  # larger repeats than the disc itself are no rim
        assert max(reach) == pytest.approx(60 + proud, abs=0.05)
    # Even all round: turned by one repeat it is the same outline.
    turned = shapely.affinity.rotate(rim, 360 / repeats, origin=centre)
    assert rim.symmetric_difference(turned).area < 0.01 * rim.area


def test_hinges_too_narrow_and_too_wide() -> None:
    job = quick_job("5.25x5.25in", fold="hinged-shape")
    narrow = typed(job, "build.hinged.hinge", "1/2")
    assert finding(make_plan(narrow), "build.hinge-narrow").severity == "look"
    assert "build.hinge-narrow" not in codes(mended(narrow, "build.hinge-narrow"))
    wide = typed(job, "build.hinged.hinge", "7")
    assert finding(make_plan(wide), "build.hinge-too-wide").severity == "stop"
    assert "build.hinge-too-wide" not in codes(mended(wide, "build.hinge-too-wide"))


def concertina(panels: int, size: str = "4x6in", **more: object) -> Plan:
    job = typed(quick_job(size, fold="concertina", **more), "build.concertina.panels", str(panels))
    return make_plan(job)


@pytest.mark.parametrize("panels", [2, 3, 4, 7, 12])
def test_a_concertina_closes_square_whatever_its_length(panels: int) -> None:
    plan = concertina(panels)
    assert not {"build.not-square", "build.not-flat"} & set(codes(plan))
    thickness = plan.figures["paper.card.thickness"].value
    assert plan.build.closed_thickness.value >= panels * thickness - 1e-9
    widths = [bounds(panel.outline).width for panel in plan.build.tree.panels]
    # Plain geometry: what folds inside is narrower by about one thickness.
    assert widths[0] == pytest.approx(4 * IN)
    assert widths[1:-1] == pytest.approx([4 * IN - thickness] * (panels - 2))
    assert widths[-1] == pytest.approx(4 * IN if panels % 2 == 0 else 4 * IN - thickness)
    assert [hinge.sense for hinge in plan.build.tree.hinges] == (["mountain", "valley"] * panels)[: panels - 1]


def test_sections_are_joined_by_tabs_that_hide_behind_the_next() -> None:
    plan = concertina(6)
    assert [piece.id for piece in plan.build.pieces] == ["section-1", "section-2", "section-3"]
    assert plan.verdict("lay") != "stop"
    for number, piece in enumerate(plan.build.pieces, start=1):
        assert (piece.tree.panels[-1].id == "tab") == (number < 3)
        assert bounds(piece.outline).width <= 11.5 * IN  # common practice: what a 12 in mat cuts
        assert shapely.Polygon(piece.outline).is_valid
    tabs = [slab for slab in plan.build.slabs if slab.top <= 0]
    assert [slab.panel for slab in tabs] == ["panel-3", "panel-5"]
    for slab in tabs:  # behind its panel and inside it
        assert bounds(plan.build.tree.panel(slab.panel).outline).holds(bounds(slab.outline))


@given(st.integers(2, 40), st.floats(20, 300), st.floats(2, 20), st.floats(60, 600))
def test_sections_hold_every_panel_once_and_fit(count: int, width: float, tab: float, longest: float) -> None:
    groups = split_into_sections((width,) * count, tab, longest)
    assert [number for first, last in groups for number in range(first, last + 1)] == list(range(count))
    for first, last in groups:
        length = (last - first + 1) * width + (tab if last + 1 < count else 0)
        assert length <= longest + 1e-6 or last == first
    lengths = [last - first for first, last in groups]
    assert max(lengths) - min(lengths) <= 1


def test_stepped_panels_stand_flush_and_rise_to_the_back() -> None:
    plan = make_plan(typed(concertina(4).job, "build.concertina.step", "1/2"))
    boxes = [bounds(panel.outline) for panel in plan.build.tree.panels]
    assert [box.height / IN for box in boxes] == pytest.approx([4.5, 5.0, 5.5, 6.0])
    assert len({round(box.bottom, 6) for box in boxes}) == 1
    steep = typed(plan.job, "build.concertina.step", "2")
    assert "build.steps-too-high" in codes(make_plan(steep))
    assert "build.steps-too-high" not in codes(mended(steep, "build.steps-too-high"))


def test_tabs_that_do_not_hold_and_paper_that_does_not_stand() -> None:
    job = concertina(6).job
    slim = typed(job, "build.concertina.tab", "4 mm")
    assert "build.tab-narrow" in codes(make_plan(slim))
    assert "build.tab-narrow" not in codes(mended(slim, "build.tab-narrow"))
    fat = typed(quick_job("40 x 90 mm", fold="concertina"), "build.concertina.tab", "50 mm")
    assert "build.tab-over-fold" in codes(make_plan(fat))
    assert "build.will-not-stand" in codes(concertina(4, weight="80 lb text"))
    assert "build.will-not-stand" not in codes(concertina(4, weight="110 lb cover"))


def with_layer(job: Job, face: str = "front") -> Job:
    return apply_changes(job, add_layer(job, face))


def test_a_layer_leaves_equal_borders() -> None:
    # Plain arithmetic: a 4.65 picture on a 5 square leaves 0.175 on each side.
    job = typed(with_layer(quick_job("5x5in")), "build.layers.layer-1.border", "0.175")
    layer = make_plan(job).build.piece("layer-1")
    assert layer is not None
    assert (layer.width.value / IN, layer.height.value / IN) == pytest.approx((4.65, 4.65))
    two = with_layer(job)
    assert [piece.id for piece in make_plan(two).build.pieces] == ["base", "layer-1", "layer-2"]
    tops = [slab.top for slab in make_plan(two).build.slabs if slab.panel == "front"]
    assert tops == sorted(tops)
    assert len(set(tops)) == 3  # each on the one below


@pytest.mark.parametrize(("border", "severity"), [("-1/8", "stop"), ("3", "stop")])
def test_a_layer_larger_than_its_panel_or_gone(border: str, severity: str) -> None:
    job = typed(with_layer(quick_job("5x5in")), "build.layers.layer-1.border", border)
    assert finding(make_plan(job), "build.layer-size").severity == severity
    assert "build.layer-size" not in codes(mended(job, "build.layer-size"))
    assert "build.layer-size" not in codes(mended(job, "build.layer-size", 1))


def test_a_layer_on_a_face_another_construction_lacks_is_kept_and_said() -> None:
    job = changed(with_layer(quick_job("5x7in"), "inside left"), brief__construction="gate")
    assert "build.layer-without-face" not in codes(make_plan(job))  # a gate has an inside left as well
    top = changed(job, brief__construction="top-fold")
    assert finding(make_plan(top), "build.layer-without-face").severity == "look"
    assert "build.layer-without-face" not in codes(mended(top, "build.layer-without-face"))


def test_a_window_has_a_backer_behind_it() -> None:
    job = quick_job("5x7in")
    job = apply_changes(job, add_window(job))
    plan = make_plan(job)
    backer = plan.build.piece("backer")
    assert backer is not None
    # Common practice: window bounds and a glue margin of 3 to 6 mm on each side.
    assert backer.width.value == pytest.approx(2.5 * IN + 10)
    assert backer.height.value == pytest.approx(3.5 * IN + 10)
    lines = plan.build.pieces[0].lines
    assert [line.role for line in lines] == ["fold", "window", "outline"]
    hole = bounds(lines[1].paths[0])
    assert (hole.left + hole.right) / 2 == pytest.approx(7.5 * IN)  # the middle of the front, the right half
    cuts = [step.line for step in plan.run.mats[0].steps if step.operation == "cut"]
    assert cuts.index("base-window") < cuts.index("base-outline")


@pytest.mark.parametrize(
    ("path", "text", "code"),
    [
        ("build.window.width", "4.8 in", "build.window-near-edge"),
        ("build.window.drop", "3 in", "build.window-near-edge"),
        ("build.window.margin", "2 in", "build.backer-over-edge"),
    ],
)
def test_a_window_that_leaves_no_frame(path: str, text: str, code: str) -> None:
    job = quick_job("5x7in")
    job = typed(apply_changes(job, add_window(job)), path, text)
    assert code in codes(make_plan(job))
    if path != "build.window.drop":
        assert code not in codes(mended(job, code))


def test_offers_say_what_each_construction_would_cost() -> None:
    offers = {offer.kind: offer for offer in make_offers(quick_job("5x7in", count=4))}
    assert set(offers) == {"side-fold", "top-fold", "flat", "gate", "hinged-shape", "concertina"}
    assert (offers["side-fold"].width, offers["side-fold"].height) == pytest.approx((254.0, 177.8))
    assert (offers["side-fold"].sheets, offers["flat"].sheets) == (4, 2)
    assert not offers["top-fold"].fits  # 14 in is longer than the mat
    assert make_offers(quick_job(), cancelled=lambda: True) == ()


def test_papers_come_and_go() -> None:
    job = with_layer(quick_job("5x7in", liner="1/16"))
    more = apply_changes(job, add_paper(job, "card"))
    assert more.brief.papers[-1].name == "card 2"
    assert more.brief.base_paper == "card-2"
    assert why_kept(more, "liner-paper") == "The liner is made of it."
    assert why_kept(more, "card-2") == ""
    fewer = apply_changes(more, remove_paper(more, "card-2"))
    assert fewer.brief.base_paper == "card"
    assert why_kept(quick_job(), "card") == ""
