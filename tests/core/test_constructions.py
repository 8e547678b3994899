"""Gate, hinged shape and concertina; layers, windows and backers: sizes by plain geometry, and their checks."""

from __future__ import annotations

import math

import pytest
import shapely
import shapely.affinity
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.card.folding import fold
from dechirer.core.construct.kinds.concertina import split_into_sections
from dechirer.core.construct.rim import chord_at, find_hinge_height, with_rim
from dechirer.core.construct.specs import ATTACHMENTS, CONSTRUCTIONS, Start
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.job.papers import add_paper, remove_paper, why_kept
from dechirer.core.offers import make_offers
from dechirer.core.plan import Plan, make_plan
from dechirer.core.shape.outline import bounds
from dechirer.core.shape.silhouettes import unit_outline
from dechirer.demo import DEMOS, load_demo_job
from tests.helpers import IN, add, changed, codes, finding, mended, quick_job, typed


def test_a_gate_has_two_half_doors_that_meet_a_gap_apart() -> None:
    job = typed(quick_job("5x7in", fold="gate"), "construct.gate.gap", "1/8")
    plan = make_plan(job)
    assert plan.figures["gate.door"].value == pytest.approx((5 - 1 / 8) / 2 * IN)
    assert plan.figures["base.width"].value == pytest.approx((10 - 1 / 8) * IN)
    assert [mark.at.value / IN for mark in plan.construct.pieces[0].folds] == pytest.approx([7.4375, 2.4375])
    narrow = typed(quick_job("40 x 90 mm", fold="gate"), "construct.gate.gap", "10 mm")
    assert "construct.door-narrow" in codes(make_plan(narrow))


def test_a_gate_takes_its_liner_on_the_middle_panel() -> None:
    liner = make_plan(quick_job("5x7in", fold="gate", liner="1/16")).construct.piece("liner")
    assert liner is not None
    assert (liner.width.value / IN, liner.height.value / IN) == pytest.approx((4.875, 6.875))
    assert not liner.folds


@pytest.mark.parametrize(
    ("shape", "rim", "asked", "cut"),
    [
        ("hexagon", 0, 33.3, None),
        ("hut", 0, 40.0, None),
        ("disc", 17, 33.3, None),
        ("disc", 24, 40.0, None),
        ("disc", 0, 33.3, 33.3),
    ],
)
def test_the_hinge_that_is_told_is_cut(shape: str, rim: int, asked: float, cut: float | None) -> None:
    job = typed(quick_job("105x105mm", fold="hinged-shape"), "construct.hinged_shape.hinge", f"{asked} mm")
    job = changed(job, construct__hinged_shape__shape=shape, construct__hinged_shape__rim=rim)
    plan = make_plan(job)
    base = plan.construct.pieces[0]
    line = base.tree.hinges[0].start[1]
    rings = shapely.LineString([(-500, line), (500, line)]).intersection(shapely.Polygon(base.outline))
    told = plan.figures["hinged.hinge"].value
    assert rings.bounds[2] - rings.bounds[0] == pytest.approx(told, abs=0.02)
    box = bounds(base.outline)
    assert plan.figures["base.width"].value == pytest.approx(box.width, abs=0.01)
    assert plan.figures["base.height"].value == pytest.approx(box.height, abs=0.01)
    assert plan.figures["card.closed-height"].value == pytest.approx(box.height / 2, abs=0.01)
    if cut is not None:
        assert told == pytest.approx(cut)
        assert "construct.hinge-not-asked" not in codes(plan)
    else:
        assert told > asked + 0.5
        assert "construct.hinge-not-asked" not in codes(mended(job, "construct.hinge-not-asked"))


def test_a_hinged_disc() -> None:
    # Plain geometry: D = 5.25, hinge 1.5: centres sqrt(D^2 - h^2) apart, overlap 0.219, flat 10.281.
    plan = make_plan(typed(quick_job("5.25x5.25in", fold="hinged-shape"), "construct.hinged_shape.hinge", "1.5"))
    apart = math.sqrt(5.25**2 - 1.5**2)
    assert plan.figures["hinged.overlap"].value / IN == pytest.approx(5.25 - apart, abs=5e-4)
    assert plan.figures["hinged.overlap"].value / IN == pytest.approx(0.219, abs=1e-3)
    assert plan.figures["base.height"].value / IN == pytest.approx(10.281, abs=1e-3)
    assert plan.figures["hinged.folded"].value / IN == pytest.approx((5.25 + apart) / 2, abs=5e-4)
    fold = plan.construct.tree.hinges[0]
    assert math.dist(fold.start, fold.end) / IN == pytest.approx(1.5, abs=2e-3)
    score = next(line for line in plan.construct.pieces[0].lines if line.operation == "score")
    outline = shapely.Polygon(plan.construct.pieces[0].outline)
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


@given(
    shape=st.sampled_from(["disc", "hexagon", "octagon"]),
    width=st.floats(25, 300),
    height=st.floats(25, 300),
    repeats=st.integers(3, 120),
    proud=st.floats(0.5, 30),
)
def test_a_rim_of_any_outline_holds_it_and_stands_proud_by_no_more_than_asked(
    shape: str, width: float, height: float, repeats: int, proud: float
) -> None:
    """Found by random work: few repeats on a narrow shape left no room for their centres."""
    outline = unit_outline(shape, width, height)
    plain, rim = shapely.Polygon(outline), shapely.Polygon(with_rim(outline, repeats, proud))
    assert rim.is_valid
    assert rim.buffer(1e-6).covers(plain)
    assert plain.buffer(proud + 0.1, quad_segs=64).covers(rim)


def test_hinges_too_narrow_and_too_wide() -> None:
    job = quick_job("5.25x5.25in", fold="hinged-shape")
    narrow = typed(job, "construct.hinged_shape.hinge", "1/2")
    assert finding(make_plan(narrow), "construct.hinge-narrow").severity == "look"
    assert "construct.hinge-narrow" not in codes(mended(narrow, "construct.hinge-narrow"))
    wide = typed(job, "construct.hinged_shape.hinge", "7")
    assert finding(make_plan(wide), "construct.hinge-too-wide").severity == "stop"
    assert "construct.hinge-too-wide" not in codes(mended(wide, "construct.hinge-too-wide"))


def concertina(panels: int, size: str = "4x6in", **more: object) -> Plan:
    job = typed(quick_job(size, fold="concertina", **more), "construct.concertina.panels", str(panels))
    return make_plan(job)


@pytest.mark.parametrize("panels", [2, 3, 4, 7, 12])
def test_a_concertina_closes_square_whatever_its_length(panels: int) -> None:
    plan = concertina(panels)
    assert not {"construct.not-square", "construct.not-flat"} & set(codes(plan))
    thickness = plan.figures["paper.card.thickness"].value
    assert plan.construct.closed.thickness.value >= panels * thickness - 1e-9
    widths = [bounds(panel.outline).width for panel in plan.construct.tree.panels]
    # Plain geometry: what folds inside is narrower by about one thickness.
    assert widths[0] == pytest.approx(4 * IN)
    assert widths[1:-1] == pytest.approx([4 * IN - thickness] * (panels - 2))
    assert widths[-1] == pytest.approx(4 * IN if panels % 2 == 0 else 4 * IN - thickness)
    assert [hinge.sense for hinge in plan.construct.tree.hinges] == (["mountain", "valley"] * panels)[: panels - 1]


def test_sections_are_joined_by_tabs_that_hide_behind_the_next() -> None:
    plan = concertina(6)
    assert [piece.id for piece in plan.construct.pieces] == ["section-1", "section-2", "section-3"]
    assert plan.verdict("lay") != "stop"
    for number, piece in enumerate(plan.construct.pieces, start=1):
        assert (piece.tree.panels[-1].id == "tab") == (number < 3)
        assert bounds(piece.outline).width <= 11.5 * IN  # common practice: what a 12 in mat cuts
        assert shapely.Polygon(piece.outline).is_valid
    tabs = [slab for slab in plan.construct.slabs if slab.top <= 0]
    assert [slab.panel for slab in tabs] == ["panel-3", "panel-5"]
    for slab in tabs:  # behind its panel and inside it
        assert bounds(plan.construct.tree.panel(slab.panel).outline).holds(bounds(slab.outline))


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
    plan = make_plan(typed(concertina(4).job, "construct.concertina.step", "1/2"))
    boxes = [bounds(panel.outline) for panel in plan.construct.tree.panels]
    assert [box.height / IN for box in boxes] == pytest.approx([4.5, 5.0, 5.5, 6.0])
    assert len({round(box.bottom, 6) for box in boxes}) == 1
    steep = typed(plan.job, "construct.concertina.step", "2")
    assert "construct.steps-too-high" in codes(make_plan(steep))
    assert "construct.steps-too-high" not in codes(mended(steep, "construct.steps-too-high"))


def test_tabs_that_do_not_hold_and_paper_that_does_not_stand() -> None:
    job = concertina(6).job
    slim = typed(job, "construct.concertina.tab", "4 mm")
    assert "construct.tab-narrow" in codes(make_plan(slim))
    assert "construct.tab-narrow" not in codes(mended(slim, "construct.tab-narrow"))
    fat = typed(quick_job("40 x 90 mm", fold="concertina"), "construct.concertina.tab", "50 mm")
    assert "construct.tab-over-fold" in codes(make_plan(fat))
    assert "construct.will-not-stand" in codes(concertina(4, weight="80 lb text"))
    assert "construct.will-not-stand" not in codes(concertina(4, weight="110 lb cover"))


def with_layer(job: Job, face: str = "front") -> Job:
    return apply_changes(job, add("layers", job, face))


def test_a_layer_leaves_equal_borders() -> None:
    # Plain arithmetic: a 4.65 picture on a 5 square leaves 0.175 on each side.
    job = typed(with_layer(quick_job("5x5in")), "construct.layers.layer-1.border", "0.175")
    layer = make_plan(job).construct.piece("layer-1")
    assert layer is not None
    assert (layer.width.value / IN, layer.height.value / IN) == pytest.approx((4.65, 4.65))
    two = with_layer(job)
    assert [piece.id for piece in make_plan(two).construct.pieces] == ["base", "layer-1", "layer-2"]
    tops = [slab.top for slab in make_plan(two).construct.slabs if slab.panel == "front"]
    assert tops == sorted(tops)
    assert len(set(tops)) == 3  # each on the one below


@pytest.mark.parametrize(("border", "severity"), [("-1/8", "stop"), ("3", "stop")])
def test_a_layer_larger_than_its_panel_or_gone(border: str, severity: str) -> None:
    job = typed(with_layer(quick_job("5x5in")), "construct.layers.layer-1.border", border)
    assert finding(make_plan(job), "construct.layer-size").severity == severity
    assert "construct.layer-size" not in codes(mended(job, "construct.layer-size"))
    assert "construct.layer-size" not in codes(mended(job, "construct.layer-size", 1))


def test_a_layer_on_a_face_another_construction_lacks_is_kept_and_said() -> None:
    job = changed(with_layer(quick_job("5x7in"), "inside left"), brief__construction="gate")
    assert "construct.layer-without-face" not in codes(make_plan(job))  # a gate has an inside left as well
    top = changed(job, brief__construction="top-fold")
    assert finding(make_plan(top), "construct.layer-without-face").severity == "look"
    assert "construct.layer-without-face" not in codes(mended(top, "construct.layer-without-face"))


def test_a_window_has_a_backer_behind_it() -> None:
    job = quick_job("5x7in")
    job = apply_changes(job, add("window", job))
    plan = make_plan(job)
    backer = plan.construct.piece("backer")
    assert backer is not None
    # Common practice: window bounds and a glue margin of 3 to 6 mm on each side.
    assert backer.width.value == pytest.approx(2.5 * IN + 10)
    assert backer.height.value == pytest.approx(3.5 * IN + 10)
    lines = plan.construct.pieces[0].lines
    assert [line.role for line in lines] == ["fold", "window", "outline"]
    hole = bounds(lines[1].paths[0])
    assert (hole.left + hole.right) / 2 == pytest.approx(7.5 * IN)  # the middle of the front, the right half
    cuts = [step.line for step in plan.run.mats[0].steps if step.operation == "cut"]
    assert cuts.index("base-window") < cuts.index("base-outline")


@pytest.mark.parametrize(
    ("path", "text", "code"),
    [
        ("construct.window.width", "4.8 in", "construct.window-near-edge"),
        ("construct.window.drop", "3 in", "construct.window-near-edge"),
        ("construct.window.margin", "2 in", "construct.backer-over-edge"),
    ],
)
def test_a_window_that_leaves_no_frame(path: str, text: str, code: str) -> None:
    job = quick_job("5x7in")
    job = typed(apply_changes(job, add("window", job)), path, text)
    assert code in codes(make_plan(job))
    if path != "construct.window.drop":
        assert code not in codes(mended(job, code))


def test_offers_say_what_each_construction_would_cost() -> None:
    offers = {offer.kind: offer for offer in make_offers(quick_job("5x7in", count=4))}
    assert set(offers) == set(CONSTRUCTIONS.ids())
    assert (offers["side-fold"].width, offers["side-fold"].height) == pytest.approx((254.0, 177.8))
    assert (offers["side-fold"].sheets, offers["flat"].sheets) == (4, 2)
    assert not offers["top-fold"].fits  # 14 in is longer than the mat
    assert make_offers(quick_job(), cancelled=lambda: True) == ()


def test_papers_come_and_go() -> None:
    job = with_layer(quick_job("5x7in", liner="1/16"))
    more = apply_changes(job, add_paper(job, "card"))
    assert more.brief.papers[-1].name == "card 2"
    assert more.brief.base_paper == "card"  # a paper on hand is not yet the card's
    more = changed(more, brief__base_paper="card-2")
    assert why_kept(more, "liner-paper") == "Liner is made of it."
    assert why_kept(more, "card-2") == ""
    fewer = apply_changes(more, remove_paper(more, "card-2"))
    assert fewer.brief.base_paper == "card"
    assert why_kept(quick_job(), "card") == ""


def thin(job: Job) -> Job:
    """The job on paper so thin that the card's bulk does not count."""
    for paper in job.brief.papers:
        job = typed(job, f"brief.papers.{paper.id}.thickness", "0.01 mm")
    return job


def with_envelope(job: Job, style: str) -> Job:
    return changed(apply_changes(job, add("envelope", job)), construct__envelope__style=style)


def test_hexagon_flaps() -> None:
    # Plain geometry: card 6 x 4, body 6.25 x 4.25, flaps 2.706 and 1.840, flat 9.93 x 9.66, flaps overlap 1.16.
    plan = make_plan(with_envelope(thin(quick_job("6x4in", fold="flat")), "hexagon"))
    figures = {key: plan.figures[f"envelope.{key}"].value / IN for key in ("inner-width", "width", "height", "overlap")}
    assert figures["inner-width"] == pytest.approx(6.25, abs=2e-3)
    assert (figures["width"], figures["height"]) == pytest.approx((9.93, 9.66), abs=6e-3)
    assert figures["overlap"] == pytest.approx(1.16, abs=6e-3)
    for flap, depth in (("top", 2.706), ("left", 1.840)):
        box = bounds(plan.construct.envelope.tree.panel(flap).outline)  # type: ignore[union-attr]
        assert min(box.width, box.height) / IN == pytest.approx(depth, abs=2e-3)


def test_hexagon_flaps_of_a_square_do_not_meet() -> None:
    # Plain geometry: opposite flaps meet only if 0.866 x width >= height; a body of 5.5 leaves 0.74.
    job = with_envelope(thin(quick_job("5.25x5.25in", fold="flat")), "hexagon")
    plan = make_plan(job)
    assert plan.figures["envelope.overlap"].value / IN == pytest.approx(-0.74, abs=5e-3)
    assert finding(plan, "construct.flaps-apart").severity == "stop"
    assert "construct.flaps-apart" not in codes(mended(job, "construct.flaps-apart"))


def test_a_five_by_seven_hexagon_envelope_is_too_large_for_a_twelve_inch_mat_unless_turned() -> None:
    # Plain geometry: upright 11.80 x 11.53 in, and a 12 x 12 mat cuts about 11.5 x 11.5; turned by 45 degrees it fits.
    job = with_envelope(thin(quick_job("5x7in", fold="flat")), "hexagon")
    turned = make_plan(job)
    assert turned.lay.turned == (("envelope", pytest.approx(45.0)),)
    assert not turned.lay.unplaced
    plan = make_plan(changed(job, lay__may_turn=False))
    flat = plan.figures["envelope.width"].value / IN, plan.figures["envelope.height"].value / IN
    assert sorted(flat) == pytest.approx([11.53, 11.80], abs=1e-2)
    assert "lay.piece-too-large" in codes(plan)


def test_petals_turn_to_fit() -> None:
    # Plain geometry: S = 5.75: upright 2 S = 11.5, turned by 45 degrees 1.707 S = 9.82.
    job = with_envelope(thin(quick_job("5.5x5.5in", fold="flat")), "petal")
    upright = make_plan(changed(job, construct__envelope__ease=parse("0.249 in")))
    assert upright.figures["envelope.width"].value / IN == pytest.approx(11.5, abs=5e-3)
    turned = make_plan(changed(job, construct__envelope__ease=parse("0.2505 in")))
    assert turned.figures["envelope.width"].value / IN == pytest.approx(9.82, abs=5e-3)
    assert "lay.piece-too-large" not in codes(turned)
    oblong = make_plan(with_envelope(quick_job("4x6in"), "petal"))
    assert "construct.petals-not-square" in codes(oblong)


def parse(text: str) -> object:
    from dechirer.core.length import parse_length

    return parse_length(text)


@pytest.mark.parametrize("style", ["glued", "hexagon", "petal"])
def test_an_envelope_closes_over_its_body(style: str) -> None:
    plan = make_plan(with_envelope(quick_job("4x4in"), style))
    assert plan.construct.envelope is not None
    tree = plan.construct.envelope.tree
    poses = fold(tree, 1.0)
    body = shapely.Polygon([poses["body"]((x, y, 0.0))[:2] for x, y in tree.panel("body").outline])
    for panel in tree.panels:
        closed = shapely.Polygon([poses[panel.id]((x, y, 0.0))[:2] for x, y in panel.outline])
        assert body.buffer(0.001).covers(closed), panel.id
    outline = shapely.Polygon(plan.construct.envelope.pieces[0].outline)
    assert outline.is_valid
    assert outline.area == pytest.approx(sum(shapely.Polygon(p.outline).area for p in tree.panels), rel=1e-6)


def test_the_envelope_grows_with_the_card_s_bulk() -> None:
    flat = make_plan(with_envelope(quick_job("5x7in", liner="1/16"), "glued"))
    bulk = flat.construct.closed.thickness.value
    # Plain geometry: a block of thickness T needs T more each way besides the ease of 1/4 in.
    assert flat.figures["envelope.inner-width"].value == pytest.approx(5.25 * IN + bulk)


@pytest.mark.parametrize(("size", "name"), [("5x7in", "US A7"), ("A6", "C6"), ("4.25x5.5in", "US A2")])
def test_the_bought_envelope_a_card_goes_into(size: str, name: str) -> None:
    # ISO 269 and North American sizes (the latter from memory).
    bought = make_plan(quick_job(size)).construct.bought
    assert bought is not None
    assert bought.name == name


def test_an_iso_card_does_not_go_into_the_american_envelope_of_that_size() -> None:
    # An ISO A6 card (148 mm) does not go into an American A2 envelope (about 146 mm).
    bought = make_plan(quick_job("A6")).construct.bought
    assert bought is not None
    assert bought.name != "US A2"
    assert make_plan(quick_job("9x9in")).construct.bought is None


def with_slits(job: Job) -> Job:
    return apply_changes(job, add("slits", job))


@pytest.mark.parametrize("style", ["straight", "scalloped"])
def test_slits_cross_each_corner_of_the_insert(style: str) -> None:
    plan = make_plan(changed(with_slits(quick_job("5x7in")), construct__slits__style=style))
    line = next(line for line in plan.construct.pieces[0].lines if line.role == "slit")
    assert len(line.paths) == 4
    catch = 12.0
    # The insert's rectangle on the right half of the sheet, in the middle of the front.
    tall = 4 + 3 / 16  # six tenths of 7 in, rounded down to a sixteenth
    insert = shapely.box(6 * IN, (3.5 - tall / 2) * IN, 9 * IN, (3.5 + tall / 2) * IN)
    for path in line.paths:
        slit = shapely.LineString(path)
        crossings = shapely.intersection(slit, insert.exterior)
        assert crossings.geom_type == "MultiPoint"
        assert len(crossings.geoms) == 2
        corner = min((shapely.Point(p) for p in insert.exterior.coords), key=slit.distance)
        for crossing in crossings.geoms:
            assert crossing.distance(corner) == pytest.approx(catch, abs=0.02)
        # Plain geometry: a 45 degree cut over legs of 12 mm is 12 sqrt 2 long, and 1 mm longer at each end.
        assert slit.length == pytest.approx(plan.figures["slits.length"].value, abs=0.02)
        if style == "straight":
            assert slit.length == pytest.approx(catch * math.sqrt(2) + 2)
        assert misplaced(slit, insert, corner) == pytest.approx(plan.figures["slits.tolerance"].value, abs=0.03)
    insert_piece = plan.construct.piece("insert")
    assert insert_piece is not None
    assert (insert_piece.width.value / IN, insert_piece.height.value / IN) == pytest.approx((3.0, 4.1875), abs=0.02)


def misplaced(slit: shapely.LineString, insert: shapely.Polygon, corner: shapely.Point) -> float:
    """How far a slit may be moved along or across itself until it no longer crosses both of the insert's edges."""
    inward = insert.centroid.x - corner.x, insert.centroid.y - corner.y
    signs = math.copysign(1, inward[0]) / math.sqrt(2), math.copysign(1, inward[1]) / math.sqrt(2)
    most = []
    for dx, dy in (signs, (-signs[0], -signs[1]), (signs[0], -signs[1]), (-signs[0], signs[1])):
        low, high = 0.0, 30.0
        for _ in range(40):
            middle = (low + high) / 2
            moved = shapely.affinity.translate(slit, dx * middle, dy * middle)
            met = shapely.intersection(moved, insert.exterior)
            low, high = (middle, high) if met.geom_type == "MultiPoint" else (low, middle)
        most.append(low)
    return min(most)


@pytest.mark.parametrize("style", ["straight", "scalloped"])
@pytest.mark.parametrize("lies", ["on-front", "behind-front"])
def test_an_insert_and_its_corners_lie_on_different_sides_of_the_front(style: str, lies: str) -> None:
    job = changed(with_slits(quick_job("5x7in")), construct__slits__style=style, construct__slits__lies=lies)
    plan = make_plan(job)
    slabs = [slab for slab in plan.construct.slabs if slab.piece == "insert"]
    middle, corners = slabs[0], slabs[1:]
    assert len(corners) == 4
    outside = [slab.bottom > 0 for slab in slabs]
    assert outside == [lies == "on-front", *[lies == "behind-front"] * 4]
    whole = shapely.union_all([shapely.Polygon(slab.outline) for slab in (middle, *corners)])
    assert whole.area == pytest.approx(job.construct.slits.width.mm * job.construct.slits.height.mm)
    # Two layers of the front and back, and one of the insert, over most of the card; three where corners lie.
    assert plan.construct.closed.layers == 3


@pytest.mark.parametrize(
    ("path", "text", "code"),
    [
        ("construct.slits.width", "4.9", "construct.slit-near-edge"),
        ("construct.slits.catch", "1.2 mm", "construct.slit-catch"),
        ("construct.slits.ease", "0.5 mm", "construct.slit-catch"),
        ("construct.slits.catch", "60 mm", "construct.slits-meet"),
    ],
)
def test_slits_that_fail(path: str, text: str, code: str) -> None:
    job = typed(with_slits(quick_job("5x7in")), path, text)
    assert code in codes(make_plan(job))
    assert code not in codes(mended(job, code))


@pytest.mark.parametrize("name", list(DEMOS))
def test_every_demo_can_be_cut(name: str) -> None:
    plan = make_plan(load_demo_job(name))
    assert plan.stops == 0
    assert not plan.lay.unplaced


def test_foam_raises_a_layer_and_the_envelope_grows_with_it() -> None:
    # Common practice: foam 1 to 3 mm thick, set in from the edges.
    flat = with_envelope(with_layer(quick_job("5x7in")), "glued")
    raised = typed(flat, "construct.layers.layer-1.foam", "2 mm")
    before, after = make_plan(flat), make_plan(raised)
    assert after.construct.closed.thickness.value == pytest.approx(before.construct.closed.thickness.value + 2)
    assert "1 × 2 mm (foam under layer-1)" in after.construct.closed.thickness.sentence("mm")
    assert after.figures["envelope.inner-width"].value == pytest.approx(
        before.figures["envelope.inner-width"].value + 2
    )
    layer = next(slab for slab in after.construct.slabs if slab.piece == "layer-1")
    foam = next(slab for slab in after.construct.slabs if slab.piece == "foam")
    assert foam.top == pytest.approx(layer.bottom)
    assert bounds(layer.outline).grown(-3.9).holds(bounds(foam.outline))
    assert [piece.id for piece in after.construct.pieces] == ["base", "layer-1", "envelope"]  # foam is not cut


def test_a_thick_stack_goes_into_no_thin_envelope_and_the_post_is_named() -> None:
    job = quick_job("5x7in")
    for _ in range(3):
        job = with_layer(job)
    for number in (1, 2, 3):
        job = typed(job, f"construct.layers.layer-{number}.foam", "3 mm")
    plan = make_plan(with_envelope(job, "glued"))
    assert plan.construct.closed.thickness.value > 9
    assert "mm thick" in finding(plan, "construct.postage").reason
    assert plan.construct.bought is None or plan.construct.bought.name != "US A7"


@pytest.mark.parametrize("units", ["in", "mm"])
@given(st.floats(20.0, 620.0), st.floats(20.0, 620.0))
def test_what_is_glued_on_begins_with_sizes_it_may_have(units: str, width: float, height: float) -> None:
    job = quick_job("5x7in")
    used = frozenset({job.brief.base_paper})
    for spec in ATTACHMENTS:
        start = Start("front", width, height, width, height, job.brief.papers, job.brief.base_paper, used, units)
        spec.start(start)  # a size out of bounds is refused where it is made
