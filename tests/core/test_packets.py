"""Concertinas with skylines and widths of their own; envelopes that fold over, with inlays; shapes from any outline."""

from __future__ import annotations

import pytest
import shapely
import shapely.affinity

from dechirer.core.card.folding import fold
from dechirer.core.construct.envelopes.bought import Bought
from dechirer.core.construct.kinds.concertina import skyline
from dechirer.core.construct.specs import ENVELOPES
from dechirer.core.decide.refusal import FieldError
from dechirer.core.job.edit import apply_changes, read_field
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.core.paper.envelopes import find_named_envelope
from dechirer.core.plan import Plan, make_plan
from dechirer.core.shape.outline import bounds
from tests.helpers import IN, add, attached, changed, codes, finding, mended, quick_job, typed


@pytest.mark.parametrize("top", ["dunes", "waves", "roofs"])
def test_skylines_meet_at_the_folds_and_reach_their_height(top: str) -> None:
    job = changed(quick_job("4x6in", fold="concertina"), construct__concertina__top=top)
    plan = make_plan(typed(job, "construct.concertina.panels", "6"))
    tree = plan.construct.tree
    for hinge in tree.hinges:
        left, right = tree.panel(hinge.parent).outline, tree.panel(hinge.child).outline
        assert hinge.start == pytest.approx(left[-3])  # its upper right corner
        assert hinge.start == pytest.approx(right[0])  # the next one's upper left
    assert bounds(tree.panels[0].outline).height == pytest.approx(6 * IN, abs=0.05)
    box = bounds([fold(tree, 1.0)[p.id]((*at, 0.0))[:2] for p in tree.panels for at in p.outline])
    assert box.height <= 6 * IN + 1e-6
    for piece in plan.construct.pieces:
        assert shapely.Polygon(piece.outline).is_valid
    for number in range(5):
        edge = skyline(top, number, 10.0, 100.0)
        assert 0 <= min(y for _, y in edge) < 0.2
        assert max(y for _, y in edge) <= 10.0


def test_bottoms_are_flush_with_steps_and_a_skyline() -> None:
    job = changed(quick_job("4x6in", fold="concertina"), construct__concertina__top="dunes")
    tree = make_plan(typed(job, "construct.concertina.step", "1/2")).construct.tree
    assert {round(bounds(panel.outline).bottom, 6) for panel in tree.panels} == {round(6 * IN, 6)}


def test_panels_of_their_own_widths() -> None:
    job = typed(quick_job("4x6in", fold="concertina"), "construct.concertina.widths", "4; 3 1/2; 3; 2 1/2 in")
    plan = make_plan(job)
    assert job.construct.concertina.panels == 4
    widths = [bounds(panel.outline).width / IN for panel in plan.construct.tree.panels]
    assert widths == pytest.approx([4, 3.5, 3, 2.5])
    assert plan.figures["concertina.width"].value == pytest.approx(13 * IN)
    assert "4 in (width of panel 1)" in plan.figures["concertina.width"].sentence()
    assert "construct.not-square" not in codes(plan)
    more = typed(job, "construct.concertina.panels", "5")
    assert len(more.construct.concertina.widths) == 5  # the last one again
    for bad in ("4; wide", "; ".join(["1 in"] * 41), "4; 1 mm"):
        with pytest.raises(FieldError):
            read_field(job, "construct.concertina.widths", bad)


def test_a_packet_that_sticks_out_is_said_and_mended() -> None:
    job = typed(quick_job("4x6in", fold="concertina"), "construct.concertina.widths", "4; 4 1/2; 4; 4")
    assert finding(make_plan(job), "construct.not-square").severity == "look"
    plan = mended(job, "construct.not-square")
    assert "construct.not-square" not in codes(plan)
    assert plan.job.construct.concertina.widths == ()


def envelope(size: str = "4.25x5.5in", **values: object) -> Job:
    job = apply_changes(quick_job(size, fold="flat"), add("envelope", quick_job(size)))
    return changed(job, **{f"construct__envelope__{name}": value for name, value in values.items()})


def test_a_fold_over_envelope() -> None:
    plan = make_plan(envelope(style="fold-over"))
    made = plan.construct.envelope
    assert made is not None
    high = min(plan.figures["envelope.inner-width"].value, plan.figures["envelope.inner-height"].value)
    flap, body = (bounds(made.tree.panel(name).outline) for name in ("bottom", "body"))
    assert flap.bottom - body.bottom == pytest.approx(high - 6)
    closed = fold(made.tree, 1.0)
    body = shapely.Polygon(made.tree.panel("body").outline)
    for name in ("left", "right", "bottom", "top"):
        ring = [closed[name]((*point, 0.0))[:2] for point in made.tree.panel(name).outline]
        assert body.buffer(0.001).covers(shapely.Polygon(ring)), name
    # Each flap lies on the ones folded before it.
    heights = [closed[name]((*made.tree.panel(name).outline[1], 0.0))[2] for name in ("left", "bottom", "top")]
    assert heights[0] > heights[1] > heights[2]
    assert plan.figures["envelope.overlap"].value > 0


@pytest.mark.parametrize("style", ENVELOPES.ids())
def test_an_inlay_keeps_its_margin_all_round(style: str) -> None:
    plan = make_plan(envelope("5x5in", style=style, inlay="card"))
    inlay, made = plan.construct.piece("inlay"), plan.construct.envelope
    assert inlay is not None
    assert made is not None
    host = shapely.union_all([shapely.Polygon(made.tree.panel(name).outline).buffer(1e-6) for name in ("body", "top")])
    parts = [shapely.Polygon(patch.outline).buffer(1e-6) for patch in made.patches]
    glued = shapely.union_all(parts)
    assert glued.distance(host.exterior) == pytest.approx(6.0, abs=0.02)
    assert inlay.area == pytest.approx(glued.area, rel=1e-3)
    assert inlay.folds[0].sense == "mountain"


@pytest.mark.parametrize(("closure", "gum"), [("gummed", 6.0), ("sticker", 1.0)])
@pytest.mark.parametrize("style", ENVELOPES.ids())
def test_the_largest_inlay_goes_in_and_leaves_the_gum_free(style: str, closure: str, gum: float) -> None:
    job = envelope("5x5in", style=style, inlay="card", inlay_size="largest", closure=closure)
    plan = make_plan(job)
    made = plan.construct.envelope
    assert made is not None
    hosts = {name: shapely.Polygon(made.tree.panel(name).outline) for name in ("body", "top")}
    rim = shapely.union_all([host.buffer(1e-6) for host in hosts.values()]).exterior
    parts = {patch.panel: shapely.Polygon(patch.outline) for patch in made.patches if patch.piece == "inlay"}
    assert parts["body"].distance(rim) == pytest.approx(1.0, abs=0.02)
    assert parts["top"].distance(rim) == pytest.approx(gum, abs=0.02)
    before = make_plan(changed(job, construct__envelope__inlay_size="margin"))
    smaller, larger = (each.construct.piece("inlay") for each in (before, plan))
    assert smaller is not None
    assert larger is not None
    assert larger.area > smaller.area
    # Some styles are larger than a sheet at this size; the larger inlay stops nothing.
    assert {each.code for each in plan.findings} <= {each.code for each in before.findings}


def test_which_styles_fit_is_said_where_one_does_not() -> None:
    job = changed(envelope("5x7in", style="fold-over"), lay__may_turn=False)
    plan = make_plan(job)
    found = finding(plan, "lay.piece-too-large")
    assert found.element == "envelope"
    assert any(mend.label == "Use glued side flaps" for mend in found.mends)
    assert "lay.piece-too-large" not in codes(mended(job, "lay.piece-too-large"))


def half_hexagon(size: str) -> Plan:
    """The envelope round a card without thickness to speak of, with a quarter of an inch of ease."""
    job = typed(envelope(size, style="hexagon"), "brief.papers.card.thickness", "0.02 mm")
    return make_plan(typed(job, "construct.envelope.ease", "1/4 in"))


def test_a_half_hexagon_envelope_is_the_same_for_a_card_upright_and_lying() -> None:
    # Plain geometry (trade figures): body 6.25 x 4.25 in, flaps 2.706 and 1.840, flat 9.93 x 9.66, overlap 1.16.
    for size in ("6x4in", "4x6in"):
        figures = half_hexagon(size).figures
        inches = {
            key: figures[f"envelope.{key}"].value / 25.4 for key in ("long", "short", "width", "height", "overlap")
        }
        assert inches == pytest.approx(
            {"long": 6.25, "short": 4.25, "width": 9.93, "height": 9.66, "overlap": 1.16}, abs=0.006
        )
        assert figures["envelope.flap-top"].value / 25.4 == pytest.approx(2.706, abs=0.002)
        assert figures["envelope.flap-side"].value / 25.4 == pytest.approx(1.840, abs=0.002)
        assert "construct.flaps-apart" not in codes(half_hexagon(size))
    gap = half_hexagon("5.25x5.25in")  # a body of 5.5 in each way leaves a gap of 0.74 in
    assert gap.figures["envelope.overlap"].value / 25.4 == pytest.approx(-0.74, abs=0.005)
    assert "construct.flaps-apart" in codes(gap)


def test_a_half_hexagon_envelope_for_a_large_card_goes_on_its_sheet_only_when_turned() -> None:
    plan = half_hexagon("5x7in")
    wide, high = (plan.figures[f"envelope.{side}"].value / 25.4 for side in ("width", "height"))
    assert (wide, high) == pytest.approx((11.80, 11.53), abs=0.006)
    assert "lay.turned-to-fit" in codes(plan)
    assert not plan.lay.unplaced
    assert "hexagon" in plan.construct.envelope_fits


def test_which_styles_fit_is_told_of_the_envelopes_own_sheet() -> None:
    job = envelope("5x7in")
    small = typed(job, f"brief.papers.{job.construct.envelope.paper}.sheet", "6 x 12 in")
    assert make_plan(job).construct.envelope_fits
    assert make_plan(small).construct.envelope_fits == ()


def test_bought_envelopes_by_name() -> None:
    # ISO 269: C6 is 114 x 162 mm. From memory: the North American A2 is 4.375 x 5.75 in.
    c6, a2 = find_named_envelope("C6"), find_named_envelope("us a2")
    assert c6 is not None
    assert (c6.width, c6.height) == (114, 162)
    assert a2 is not None
    assert (a2.width / IN, a2.height / IN) == pytest.approx((4.375, 5.75))
    # From memory: an ISO A6 card (148 mm) does not go into an American A2 envelope (about 146 mm).
    job = changed(typed(quick_job(), "brief.width", "a6"), construct__bought=Bought("US A2"))
    assert finding(make_plan(job), "construct.card-larger-than-envelope").severity == "stop"
    assert "construct.card-larger-than-envelope" not in codes(make_plan(changed(job, construct__bought=Bought("C6"))))
    added = apply_changes(job, add("bought", job))
    assert added.construct.bought == Bought("C6")


def test_a_thick_card_is_too_thick_for_an_envelope_it_would_go_into_flat() -> None:
    job = changed(quick_job("4.25x5.5in"), construct__bought=Bought("US A2"))
    assert "construct.card-larger-than-envelope" not in codes(make_plan(job))
    thick = typed(job, "brief.papers.card.thickness", "2 mm")
    assert "mm thick" in finding(make_plan(thick), "construct.card-larger-than-envelope").reason


@pytest.mark.parametrize("shape", ["kite", "heart", "hut", "cloud"])
def test_other_outlines_hinge_on_themselves(shape: str) -> None:
    job = changed(quick_job("5x5in", fold="hinged-shape"), construct__hinged_shape__shape=shape)
    plan = make_plan(typed(job, "construct.hinged_shape.hinge", "1 1/2"))
    base = plan.construct.pieces[0]
    ring = shapely.Polygon(base.outline)
    assert ring.is_valid
    box = bounds(base.outline)
    middle = (box.top + box.bottom) / 2
    flipped = shapely.affinity.scale(ring, yfact=-1, origin=(0, middle))
    assert ring.symmetric_difference(flipped).area < 1e-2 * ring.area  # the same above and below the hinge
    if shape in ("kite", "heart"):
        mark = base.folds[0]
        assert abs(mark.end[0] - mark.start[0]) == pytest.approx(1.5 * IN, abs=0.05)


def test_a_bought_envelope_of_the_makers_own_size() -> None:
    job = changed(quick_job("5x7in"), construct__bought=Bought("C6"))
    assert "construct.card-larger-than-envelope" in codes(make_plan(job))
    roomy = typed(job, "construct.bought.size", "5 1/4 x 7 1/4 in")
    assert "construct.card-larger-than-envelope" not in codes(make_plan(roomy))
    assert "construct.card-larger-than-envelope" not in codes(
        make_plan(typed(job, "construct.bought.size", "190x140mm"))
    )
    tight = typed(job, "construct.bought.size", "5 x 7 in")
    assert "your own envelope" in finding(make_plan(tight), "construct.card-larger-than-envelope").title
    assert mended(tight, "construct.card-larger-than-envelope").job.construct.bought == Bought("US A7")


def test_a_ribbon_goes_once_round_the_short_way_with_a_bow() -> None:
    job = changed(envelope("4x6in"), construct__envelope__closure="ribbon")
    plan = make_plan(job)
    thick = plan.construct.closed.thickness.value
    # Plain geometry: round a body of 4 in, ease and thickness, as thick as the card; 450 mm for the bow.
    body = 4 * 25.4 + 6.35 + thick
    assert plan.figures["envelope.ribbon"].value == pytest.approx(2 * body + 2 * thick + 450)
    assert "envelope.ribbon" not in make_plan(changed(job, construct__envelope__closure="gummed")).figures


def test_a_compact_envelope_of_a_thick_square_card_goes_on_a_sheet_of_12_in_turned() -> None:
    """Body 5.25 in + 1/4 in + its bulk: upright its flaps reach over 2 bodies; standing on its corner it is about
    sqrt(2) (body + 20 mm) wide (plain geometry), less its blunt tips."""
    job = attached(quick_job("5.25x5.25in", fold="top-fold"), "stack", "envelope")
    job = changed(job, construct__envelope__style="compact")
    job = changed(job, construct__stack__width=parse_length("4.5 in"), construct__stack__height=parse_length("4.5 in"))
    plan = make_plan(job)
    body = plan.figures["envelope.long"].value
    assert body == pytest.approx(5.25 * IN + 6.35 + plan.construct.closed.thickness.value)
    assert plan.figures["envelope.overlap"].value == pytest.approx(20)
    assert plan.figures["envelope.height"].value == pytest.approx(2 * body + 20)
    assert "construct.flaps-apart" not in codes(plan)
    assert [code for code in codes(plan) if code == "lay.piece-too-large"] == []
    placed = next(p for layout in plan.lay.layouts for p in layout.placements if p.piece.id == "envelope")
    assert max(placed.box.width, placed.box.height) < 2**0.5 * (body + 20)
    assert plan.lay.turned[0][0] == "envelope"
