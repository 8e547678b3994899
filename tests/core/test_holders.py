"""Money holder, flap row, layer stack, peel-away: what sets their sizes, and what is cut."""

from __future__ import annotations

import itertools
import math

import pytest
import shapely
import shapely.affinity
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.brief.brief import make_brief
from dechirer.core.card.folding import fold, pressed
from dechirer.core.construct.attachments.stack import LayerStack, stack_levels
from dechirer.core.construct.card import make_card
from dechirer.core.construct.envelopes.bought import Bought
from dechirer.core.construct.kinds.flap_row import FlapRow, Motif, place_motifs
from dechirer.core.decide.change import take_off
from dechirer.core.decide.refusal import FieldError
from dechirer.core.decide.values import Size
from dechirer.core.job.edit import apply_changes, read_field, show_field
from dechirer.core.job.model import Job, JobError
from dechirer.core.length import make_length, parse_length
from dechirer.core.paper.banknotes import find_banknote, load_banknotes, roll_diameter
from dechirer.core.plan import make_plan
from dechirer.core.shape.outline import bounds
from tests.helpers import add, changed, codes, finding, mended, quick_job, typed

PLAIN = quick_job()
CARD = make_card(PLAIN.brief, PLAIN.construct.fold, make_brief(PLAIN.brief), "in", 6.0)


def money(size: str = "5x4in", **values: object) -> Job:
    job = quick_job(size, fold="money-holder")
    return changed(job, **{f"construct__money_holder__{name}": value for name, value in values.items()})


def test_the_roll_of_a_note() -> None:
    # Plain geometry: length L and thickness t on a core d0 roll to sqrt(d0^2 + 4 L t / pi): the strip's edge area is
    # the ring's. Checked by winding it turn by turn as well.
    assert roll_diameter(133, 0.11, 8) == pytest.approx(math.sqrt(64 + 4 * 133 * 0.11 / math.pi))
    left, radius = 133.0, 4.0
    while left > 0:
        left -= math.tau * (radius + 0.055)
        radius += 0.11
    assert 2 * radius == pytest.approx(roll_diameter(133, 0.11, 8), abs=0.25)


def test_banknotes_by_name_and_by_size() -> None:
    # From memory: US notes 6.14 x 2.61 in, 20 euro 133 x 72 mm.
    job = typed(money(), "construct.money_holder.note", "us dollar")
    note = job.construct.money_holder.note
    assert (note.width.mm / 25.4, note.height.mm / 25.4) == pytest.approx((6.14, 2.61), abs=1e-3)
    assert find_banknote(72, 133) is not None
    assert {each.name for each in load_banknotes()} >= {"5 euro", "10 euro", "20 euro", "50 euro", "US dollar"}
    assert typed(job, "construct.money_holder.note", "6 x 3 in").construct.money_holder.note.width.mm == pytest.approx(
        152.4
    )
    with pytest.raises(FieldError):
        read_field(job, "construct.money_holder.note", "a fiver")


def test_what_holds_the_note_does_not_scale_with_the_card() -> None:
    small, large = make_plan(money("5x4in")), make_plan(money("8x6in"))
    for key in ("money.hole", "money.strap", "money.spacing"):
        assert small.figures[key].value == large.figures[key].value
    holes = [
        next(line for line in plan.construct.pieces[0].lines if line.role == "hole").paths[0] for plan in (small, large)
    ]
    assert bounds(holes[0]).width == pytest.approx(bounds(holes[1]).width)
    assert bounds(holes[0]).width == pytest.approx(small.figures["money.roll"].value + 1.0)
    bigger = make_plan(typed(money("5x4in"), "construct.money_holder.note", "50 euro"))
    assert bigger.figures["money.spacing"].value == pytest.approx(77 - 20)


def test_straps_stand_up_with_their_holes_in_line() -> None:
    plan = make_plan(money())
    tree = plan.construct.tree
    poses = fold(tree, 1.0)
    centres = []
    for panel in tree.panels[1:]:
        hole = panel.holes[0]
        placed = [poses[panel.id]((*point, 0.0)) for point in hole]
        centres.append([sum(axis) / len(placed) for axis in zip(*placed, strict=True)])
        assert max(x for x, _, _ in placed) - min(x for x, _, _ in placed) < 0.4  # it stands: no extent along the roll
    assert centres[0][1:] == pytest.approx(centres[1][1:])  # one roll passes both
    assert abs(centres[0][0] - centres[1][0]) == pytest.approx(plan.figures["money.spacing"].value, abs=1.0)
    flat = fold(pressed(tree), 1.0)
    assert flat["strap-left"]((10.0, 20.0, 0.0)) == pytest.approx((10.0, 20.0, 0.0))
    assert plan.construct.closed.thickness.value > plan.figures["money.strap"].value


@pytest.mark.parametrize("sides", ["one", "both"])
def test_the_back_is_mirrored_only_where_its_paper_has_one_good_side(sides: str) -> None:
    job = money("4x5in", shape="tag", hanging=parse_length("5 mm"), holder="dome", dome=parse_length("60 mm"))
    job = changed(job, brief__papers__card__good_sides=sides)
    front, back = make_plan(job).construct.pieces
    mirrored = tuple((4 * 25.4 - x, y) for x, y in front.outline)
    expected = mirrored if sides == "one" else front.outline
    assert shapely.Polygon(back.outline).symmetric_difference(shapely.Polygon(expected)).area < 1e-6
    hang = [bounds(next(line for line in each.lines if "hanging" in line.id).paths[0]).middle for each in (front, back)]
    assert hang[1][0] == pytest.approx(4 * 25.4 - hang[0][0] if sides == "one" else hang[0][0])
    assert hang[0][1] == pytest.approx(hang[1][1])


def test_a_dome_keeps_its_glue_zone() -> None:
    # Common practice: 1/8 in round a dome stays free of glue.
    job = money("6x6in", holder="dome")
    plan = make_plan(job)
    assert plan.figures["money.glue-free"].value == pytest.approx(90 + 2 * (6 + 25.4 / 8))
    assert "construct.small-parts" in codes(plan)
    tight = typed(typed(job, "brief.width", "4 1/2"), "brief.height", "4 1/2")
    assert finding(make_plan(tight), "construct.glue-zone").severity == "stop"
    assert "construct.glue-zone" not in codes(mended(tight, "construct.glue-zone"))


def test_what_is_too_thick_for_a_flat_envelope_is_told_none() -> None:
    # USPS Domestic Mail Manual 101 (from memory): a large envelope is at most 3/4 in thick.
    deep = money("6x6in", holder="dome")
    assert make_plan(deep).construct.bought is None
    shallow = changed(deep, construct__money_holder__depth=parse_length("18 mm"))
    assert make_plan(shallow).construct.bought is not None
    own = changed(deep, construct__bought=Bought("C4", Size(parse_length("300 mm"), parse_length("300 mm"))))
    assert finding(make_plan(own), "construct.card-larger-than-envelope").severity == "stop"
    roomy = changed(own, construct__money_holder__depth=parse_length("18 mm"))
    assert "construct.card-larger-than-envelope" not in codes(make_plan(roomy))


def test_a_long_dome_has_round_ends_and_lies_along_the_roll() -> None:
    job = money("5x3in", holder="dome", dome=parse_length("36 mm"), dome_length=parse_length("90 mm"))
    plan = make_plan(job)
    assert not [each for each in plan.findings if each.severity == "stop"]
    hole = next(line for line in plan.construct.pieces[0].lines if line.id == "base-dome")
    # Worked geometry: a slot of 91 x 37 mm is a rectangle of 54 x 37 mm with two half discs.
    middle = 5 * 25.4 / 2, 3 * 25.4 / 2
    slot = shapely.LineString([(middle[0] - 27, middle[1]), (middle[0] + 27, middle[1])]).buffer(18.5, quad_segs=200)
    assert shapely.Polygon(hole.paths[0]).symmetric_difference(slot).area < 1.0
    assert shapely.Polygon(hole.paths[0]).bounds == pytest.approx(slot.bounds, abs=0.01)
    zone = 2 * (6 + 25.4 / 8)
    assert plan.figures["money.glue-free"].value == pytest.approx(36 + zone)
    assert plan.figures["money.glue-free-length"].value == pytest.approx(90 + zone)
    # 36 mm alone does not take a roll of 72 mm; 60 mm of length do not either, and the mend takes it.
    for short in ("0 mm", "60 mm"):
        wrong = changed(job, construct__money_holder__dome_length=parse_length(short))
        assert finding(make_plan(wrong), "construct.note-does-not-fit").severity == "stop"
        assert "construct.note-does-not-fit" not in codes(mended(wrong, "construct.note-does-not-fit"))
    narrow = typed(job, "brief.width", "4")
    assert finding(make_plan(narrow), "construct.glue-zone").severity == "stop"
    right = mended(narrow, "construct.glue-zone")
    assert "construct.glue-zone" not in codes(right)
    assert right.job.brief.height == job.brief.height  # high enough as it is


widths = st.lists(st.floats(5, 40), min_size=2, max_size=8)


@given(widths, st.floats(300, 500))
def test_a_row_is_spread_by_equal_gaps(sizes: list[float], length: float) -> None:
    motifs = tuple(
        Motif(f"m-{n}", "disc", make_length(size, "mm"), make_length(size, "mm")) for n, size in enumerate(sizes)
    )
    spots = place_motifs(FlapRow(motifs=motifs), length, 80.0, CARD)
    boxes = [bounds(spot.outline) for spot in spots]
    gaps = [second.left - first.right for first, second in itertools.pairwise(boxes)]
    assert gaps == pytest.approx([gaps[0]] * len(gaps), abs=0.02)
    assert boxes[0].left == pytest.approx(6.0, abs=0.01)
    assert boxes[-1].right == pytest.approx(length - 6.0, abs=0.01)


def test_flaps_are_open_lines_that_stop_at_their_strip() -> None:
    plan = make_plan(quick_job("9x2.8in", fold="flap-row"))
    base = plan.construct.pieces[0]
    row = plan.job.construct.flap_row
    flaps = [line for line in base.lines if line.role == "flap"]
    assert len(flaps) == 2 * sum(motif.cut == "flaps" for motif in row.motifs)
    spots = {spot.motif.id: spot for spot in place_motifs(row, 9 * 25.4, 2.8 * 25.4, CARD)}
    for line in flaps:
        assert not line.closed
        spot = spots["-".join(line.id.split("-")[1:3])]
        strip = shapely.box(spot.middle - 1.499, 0, spot.middle + 1.499, 80)
        assert not shapely.LineString(line.paths[0]).intersects(strip)
        assert abs(line.paths[0][0][0] - spot.middle) == pytest.approx(1.5)
        assert line.paths[0][0][0] == pytest.approx(line.paths[0][-1][0])
    holes = [line for line in base.lines if line.role == "hole"]
    assert len(holes) == 1
    assert holes[0].closed


def test_the_edge_follows_the_row_at_its_distance() -> None:
    plan = make_plan(quick_job("9x2.8in", fold="flap-row"))
    outline = shapely.Polygon(plan.construct.pieces[0].outline)
    spots = place_motifs(plan.job.construct.flap_row, 9 * 25.4, 2.8 * 25.4, CARD)
    for spot in spots:
        distance = shapely.Polygon(spot.outline).distance(outline.exterior)
        assert distance == pytest.approx(6.0, abs=0.03)
    box = bounds(plan.construct.pieces[0].outline)
    assert (box.width, box.height) == pytest.approx((9 * 25.4, 2.8 * 25.4), abs=1e-6)


def test_a_row_far_too_large_for_its_card_is_said_and_leaves_the_card_its_paper() -> None:
    job = quick_job("135x50.8mm", fold="flap-row")
    job = typed(job, "construct.flap_row.motifs.motif-2.height", "133 mm")
    plan = make_plan(typed(job, "construct.flap_row.motifs.motif-3.width", "9.83 in"))
    assert {"construct.motifs-too-close", "construct.row-too-high"} <= set(codes(plan))
    box = bounds(plan.construct.pieces[0].outline)
    assert (box.width, box.height) == pytest.approx((135, 50.8), abs=1e-6)


def test_motifs_go_and_the_last_one_stays() -> None:
    job = quick_job("9x2.8in", fold="flap-row")
    path = "construct.flap_row.motifs"
    for name in ("motif-1", "motif-2", "motif-3", "motif-4"):
        job = apply_changes(job, [take_off(job, f"{path}.{name}")])
    assert [motif.id for motif in job.construct.flap_row.motifs] == ["motif-5"]
    assert make_plan(job).construct.pieces
    with pytest.raises(JobError, match="motifs"):
        apply_changes(job, [take_off(job, f"{path}.motif-5")])


@pytest.mark.parametrize("shape", ["rectangle", "hexagon", "disc", "heart"])
def test_a_stack_steps_evenly_all_round(shape: str) -> None:
    stack = LayerStack(
        "front",
        parse_length("100 mm"),
        parse_length("90 mm"),
        "card",
        "card",
        shape=shape,  # type: ignore[arg-type]
        count=3,
        step=parse_length("8 mm"),
    )
    levels = stack_levels(stack, 127.0, 177.8, CARD)
    assert len(levels) == 3
    for lower, upper in itertools.pairwise(levels):
        inner, outer = shapely.Polygon(upper.outline), shapely.Polygon(lower.outline)
        assert outer.covers(inner)
        gaps = [shapely.Point(point).distance(outer.exterior) for point in upper.outline]
        assert min(gaps) == pytest.approx(8.0, abs=0.03)
        assert max(gaps) == pytest.approx(8.0, abs=0.03)
        border = shapely.Polygon(upper.border)
        assert inner.distance(border.exterior) == pytest.approx(2.0, abs=0.02)
    assert bounds(levels[0].outline).middle == pytest.approx((63.5, 88.9), abs=0.02)  # the card's centre


def test_a_stack_by_a_list_of_insets() -> None:
    job = apply_changes(quick_job(), add("stack", quick_job(), "front"))
    listed = typed(job, "construct.stack.insets", "0 mm; 5 mm; 20 mm; 30 mm")
    assert listed.construct.stack is not None
    assert listed.construct.stack.count == 4  # a list and its count agree
    plan = make_plan(listed)
    whole = plan.figures["stack.width"].value
    sizes = [plan.figures[f"stack-{number}.width"].value for number in (1, 2, 3, 4)]
    assert sizes == pytest.approx([whole, whole - 10, whole - 40, whole - 60])
    fewer = typed(listed, "construct.stack.count", "2")
    assert show_field(fewer, "construct.stack.insets") == "0 mm; 5 mm"
    assert typed(fewer, "construct.stack.insets", "").construct.stack.insets == ()  # type: ignore[union-attr]


def test_a_stack_is_as_thick_as_its_layers_and_foam() -> None:
    job = apply_changes(quick_job(), add("stack", quick_job(), "front"))
    for paper in ("card", "liner-paper"):
        job = typed(job, f"brief.papers.{paper}.thickness", "0.25 mm")
    assert make_plan(job).construct.closed.thickness.value == pytest.approx(2 * 0.25 + 6 * 0.25 + 2 * 2.0)


def test_peeling_cuts_the_front_only_by_half() -> None:
    job = apply_changes(quick_job(), add("peel", quick_job()))
    plan = make_plan(job)
    kiss = [line for line in plan.construct.pieces[0].lines if line.operation == "kiss"]
    assert [line.role for line in kiss] == ["peel"]
    assert bounds(kiss[0].paths[0]).width == pytest.approx(2.5 * 25.4)
    backer = plan.construct.piece("peel-backer")
    assert backer is not None
    assert backer.width.value == pytest.approx(2.5 * 25.4 + 12)
    # Common practice: inner cuts before outer ones; the blade that cuts also kiss cuts, at less pressure.
    (mat,) = [mat for mat in plan.run.mats if any(each.operation == "kiss" for each in mat.passes)]
    operations = [each.operation for each in mat.passes]
    assert operations.index("kiss") < operations.index("cut")
    assert {choice.tool for choice in plan.run.choices if choice.operation == "kiss"} == {"thin-card-blade"}


def test_the_lower_edge_of_a_topper_may_be_as_its_upper_one() -> None:
    """140 x 195 mm with both edges: the outline is the same turned over, and as high as was asked."""
    job = quick_job("195x140mm", fold="flap-row")
    plan = make_plan(changed(job, construct__flap_row__lower="as-upper"))
    piece = plan.construct.pieces[0]
    ring = shapely.Polygon(piece.outline)
    over = shapely.affinity.scale(ring, 1, -1, origin=(0, piece.height.value / 2))
    assert ring.symmetric_difference(over).area < 0.5
    assert piece.height.value == pytest.approx(140)
    assert ring.area < shapely.Polygon(make_plan(job).construct.pieces[0].outline).area


@pytest.mark.parametrize(("more", "both"), [(4.0, False), (6.0, True)])
def test_a_topper_too_low_for_both_edges_has_the_upper_one_alone(more: float, both: bool) -> None:
    """Between the two rows of motifs a strip of 5 mm holds."""
    row = quick_job("195x140mm", fold="flap-row").construct.flap_row
    height = 2 * (row.edge.mm + max(motif.height.mm for motif in row.motifs) / 2) + more
    job = quick_job(f"195x{height}mm", fold="flap-row")
    plain, as_upper = (
        shapely.Polygon(make_plan(each).construct.pieces[0].outline)
        for each in (job, changed(job, construct__flap_row__lower="as-upper"))
    )
    assert (plain.symmetric_difference(as_upper).area > 1.0) == both


def test_flaps_of_a_collar_have_facings_of_their_own() -> None:
    job = changed(quick_job("4.5x6in", fold="collar"), construct__collar__flap_facing="liner-paper")
    plan = make_plan(job)
    for side in ("left", "right"):
        facing, flap = plan.construct.piece(f"facing-{side}"), plan.construct.tree.panel(f"flap-{side}")
        assert facing is not None
        assert facing.paper == "liner-paper"
        wanted = shapely.Polygon(flap.outline).buffer(-2, join_style="mitre")
        assert shapely.Polygon(facing.outline).area == pytest.approx(wanted.area, rel=1e-3)
    closed = plan.construct.closed.thickness.value
    bare = make_plan(quick_job("4.5x6in", fold="collar")).construct.closed.thickness.value
    assert closed >= bare
    assert not plan.stops, codes(plan)
