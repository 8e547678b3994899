"""The card as it will be: closed size, thickness, weight and envelope with all that is glued on and put in.

Every value is reckoned here by hand from the papers' figures and plain geometry; nothing is asked of the stack itself.
"""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec import structs

from dechirer.core.card.stack import find_thickest_stack
from dechirer.core.decide.change import Change
from dechirer.core.decide.values import Size
from dechirer.core.dress.at_hand import list_things, place_thing
from dechirer.core.dress.decisions import Column, Copies, Row, table_of
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.core.plan import Plan, make_plan
from dechirer.drawing.scenes.solid import draw_folded
from dechirer.drawing.solid.eye import FRONT
from dechirer.drawing.solid.model import Folded
from tests.dressing import art, dressed, item, square, words
from tests.helpers import attached, changed, codes, examples, finding, quick_job

PAPER = {"paper": "liner-paper"}


def thickness(plan: Plan) -> float:
    return plan.construct.closed.thickness.value


def of_paper(plan: Plan, paper: str) -> float:
    return plan.brief.paper(paper).thickness.value


def bare(job: Job) -> float:
    return thickness(make_plan(changed(job, dress__items=())))


def test_a_piece_adds_its_paper_and_its_foam() -> None:
    job = dressed(item(**PAPER))
    flat, raised = make_plan(job), make_plan(changed(job, dress__items=(item(foam="2 mm", **PAPER),)))
    own = of_paper(flat, "liner-paper")
    assert thickness(flat) == pytest.approx(bare(job) + own)
    assert thickness(raised) == pytest.approx(bare(job) + own + 2.0)
    assert "foam under thing" in raised.construct.closed.thickness.formula


def test_what_lies_beside_something_adds_nothing_and_what_lies_on_it_does() -> None:
    one = item("one", **PAPER, across="left", x="10 mm")
    beside = item("two", **PAPER, across="right", x="10 mm")
    above = item("three", **PAPER, across="left", x="15 mm")
    job = dressed(one)
    own = of_paper(make_plan(job), "liner-paper")
    assert thickness(make_plan(changed(job, dress__items=(one, beside)))) == pytest.approx(bare(job) + own)
    assert thickness(make_plan(changed(job, dress__items=(one, above)))) == pytest.approx(bare(job) + 2 * own)


def test_a_piece_on_the_front_and_one_inside_lie_over_each_other_when_the_card_is_closed() -> None:
    """The middle of the inside right panel is behind the middle of the front."""
    job = dressed(item("one", **PAPER), job=quick_job("5x7in"))
    both = changed(job, dress__items=(item("one", **PAPER), item("two", face="inside right", **PAPER)))
    own = of_paper(make_plan(job), "liner-paper")
    assert thickness(make_plan(both)) == pytest.approx(bare(job) + 2 * own)


def test_what_stands_proud_makes_the_closed_card_larger_by_it() -> None:
    job = dressed(item(width="20 mm", across="right", x="-4 mm", **PAPER), job=quick_job("5x7in"))
    plan = make_plan(job)
    assert plan.construct.closed.width.value == pytest.approx(127 + 4)
    assert plan.construct.closed.height.value == pytest.approx(177.8)


def test_the_envelope_is_made_for_the_card_with_its_foam() -> None:
    """Inner size = card + ease (1/4 in) + thickness each way: trade figures, common practice."""
    job = dressed(item(foam="3 mm", **PAPER), job=attached(quick_job("5x7in"), "envelope"))
    plan = make_plan(job)
    assert plan.construct.value("envelope.inner-width") == pytest.approx(127 + 6.35 + thickness(plan))
    flat = make_plan(changed(job, dress__items=(item(**PAPER),)))
    assert plan.construct.value("envelope.inner-height") - flat.construct.value(
        "envelope.inner-height"
    ) == pytest.approx(3.0)


def test_a_bought_envelope_is_checked_against_the_card_with_its_foam() -> None:
    """An A2 envelope (4.375 x 5.75 in, from memory) takes a 4.25 x 5.5 in card flat, but not on 3 mm of foam."""
    job = changed(attached(quick_job("4.25x5.5in"), "bought"), construct__bought__name="US A2")
    flat = dressed(item(**PAPER), job=job)
    assert "construct.card-larger-than-envelope" not in codes(make_plan(flat))
    raised = make_plan(changed(flat, dress__items=(item(foam="3 mm", **PAPER),)))
    assert "mm thick" in finding(raised, "construct.card-larger-than-envelope").reason


def test_the_thickest_copy_counts() -> None:
    """Four copies: the words of the fourth reach over the piece beside them and lie on it."""
    stays = item("stays", **PAPER, width="20 mm", across="right", x="5 mm")
    names = item("names", words=words("{name}", face="lora", size="9 mm"), across="left", x="5 mm", **PAPER)
    rows = table_of(("name",), (("I",), ("I",), ("I",), ("Wilhelmina on the marsh",)))
    job = dressed(names, stays, job=quick_job("5x7in", count=4), copies=rows)
    short = changed(job, dress__copies=table_of(("name",), (("I",),) * 4))
    own = of_paper(make_plan(job), "liner-paper")
    assert thickness(make_plan(short)) == pytest.approx(bare(job) + own)
    assert thickness(make_plan(job)) == pytest.approx(bare(job) + 2 * own)


def test_weight_is_paper_by_area() -> None:
    """A 5 x 7 in side fold is 10 x 7 in of its paper: 25.4^2 x 70 mm2 by its grammage (ISO 536)."""
    plan = make_plan(quick_job("5x7in"))
    gsm = plan.brief.paper("card").grammage.value
    assert plan.construct.closed.weight.value == pytest.approx(70 * 25.4**2 * gsm / 1e6)
    piece = make_plan(dressed(item(**PAPER), job=quick_job("5x7in")))
    more = 20 * 20 * piece.brief.paper("liner-paper").grammage.value / 1e6
    assert piece.construct.closed.weight.value == pytest.approx(plan.construct.closed.weight.value + more)


def test_a_gift_card_is_put_in_counted_and_not_cut() -> None:
    """ISO/IEC 7810, ID-1: 85.60 x 53.98 x 0.76 mm."""
    job = quick_job("5x7in", count=6)
    spot = next(spot for spot in make_plan(job).dress.spots if spot.id == "inside right")
    plan = make_plan(apply_changes(job, place_thing(job, "gift-card", spot)))
    (thing,) = plan.dress.at_hand
    assert (thing.width, thing.height, thing.thickness, thing.count) == (85.6, 54.0, 0.76, 6)
    assert thing.loose
    assert [piece.id for piece in plan.dress.pieces] == ["base"]
    assert thickness(plan) == pytest.approx(bare(job) + 0.76)
    assert plan.construct.closed.weight.value == pytest.approx(make_plan(job).construct.closed.weight.value + 5.0)


@pytest.mark.parametrize("thing", list(list_things()))
def test_everything_at_hand_goes_on_a_card_without_a_stop(thing: str) -> None:
    job = quick_job("6.5x5in", fold="top-fold")
    face = "inside bottom" if list_things()[thing].made == "held" else "front"
    spot = next(spot for spot in make_plan(job).dress.spots if spot.id == face)
    plan = make_plan(apply_changes(job, place_thing(job, thing, spot)))
    assert not plan.stops, codes(plan)
    assert "dress.ratio-changed" not in codes(plan)


def test_a_foil_panel_at_hand_is_checked_against_its_window_and_not_cut() -> None:
    """4.5 in square, 1/4 in glue all round: an opening of 4 in square goes, one of 4 1/8 in does not."""
    foil = Size(parse_length("4.5 in"), parse_length("4.5 in"))
    window = item(made="window", width="4 in", margin="1/4 in", backer_size=foil, **PAPER)
    plan = make_plan(dressed(window, job=quick_job("5x7in", count=3)))
    assert "dress.backer-narrow" not in codes(plan)
    assert not any("backer" in piece.id for piece in plan.dress.pieces)
    (thing,) = plan.dress.at_hand
    assert (thing.width, thing.height, thing.count) == pytest.approx((114.3, 114.3, 3))
    wide = item(made="window", width="4 1/8 in", margin="1/4 in", backer_size=foil, **PAPER)
    found = finding(make_plan(dressed(wide, job=quick_job("5x7in"))), "dress.backer-narrow")
    assert found.mends[0].label == "Cut one that is large enough"


def test_a_rectangular_backer_of_a_round_opening() -> None:
    ring = art(
        "M 10 0 C 15.523 0 20 4.477 20 10 C 20 15.523 15.523 20 10 20 C 4.477 20 0 15.523 0 10 C 0 4.477 4.477 0 10 0 Z"
    )
    job = dressed(item(made="window", backer="rectangle", margin="5 mm", **PAPER), arts=(ring,))
    piece = make_plan(job).dress.piece("thing-backer")
    assert piece is not None
    assert (piece.width.value, piece.height.value) == pytest.approx((30.0, 30.0), abs=0.02)
    assert len(piece.outline) == 4


@pytest.mark.parametrize(
    ("glued", "face", "host", "outward"),
    [
        ("layers", "layer-1/front", "layer-1", True),
        ("pockets", "pocket-1/front", "pocket-1", True),
        ("stack", "stack-2/front", "stack-2", True),
        ("liner", "liner/inside left", "liner", False),
    ],
)
def test_the_backer_of_a_window_in_what_is_glued_on_lies_under_that_and_the_sheet_stays(
    glued: str, face: str, host: str, outward: bool
) -> None:
    """Found by random work: the sheet was moved, and the card had no level to fold about."""
    plain = attached(quick_job("5x7in"), glued)
    job = dressed(item(face=face, made="window", width="20 mm", **PAPER), job=plain)
    plan, before = make_plan(job), make_plan(plain)
    sheets = len(plan.construct.tree.panels)
    assert [(each.bottom, each.top) for each in plan.stacked.slabs[:sheets]] == [
        (each.bottom, each.top) for each in before.stacked.slabs[:sheets]
    ]
    (backer,) = [each for each in plan.stacked.slabs if each.piece == "thing-backer"]
    (own,) = [each for each in plan.stacked.slabs if each.piece == host and each.panel == backer.panel]
    (was,) = [each for each in before.stacked.slabs if each.piece == host and each.panel == backer.panel]
    paper = backer.top - backer.bottom
    if outward:
        assert (backer.bottom, backer.top) == pytest.approx((was.bottom, own.bottom))
        assert own.bottom - was.bottom == pytest.approx(paper)
    else:
        assert (backer.bottom, backer.top) == pytest.approx((own.top, was.top))
        assert was.top - own.top == pytest.approx(paper)
    assert thickness(plan) == pytest.approx(thickness(before) + paper)
    for closed in (0.0, 0.4, 1.0):
        assert draw_folded(Folded(plan, closed), FRONT).items


def test_a_layer_at_hand_is_not_cut_and_counts() -> None:
    job = attached(quick_job("5x7in", count=2), "layers")
    panel = Size(parse_length("100 mm"), parse_length("140 mm"))
    plan = make_plan(apply_changes(job, [Change("construct.layers.layer-1.at_hand", panel)]))
    assert plan.dress.piece("layer-1") is None
    assert plan.dress.at_hand[0].count == 2
    assert thickness(plan) == pytest.approx(thickness(make_plan(job)))


@examples(25)
@given(st.lists(st.tuples(st.floats(0, 80), st.floats(0, 120), st.floats(0, 3)), min_size=1, max_size=6))
def test_thickness_is_that_of_the_highest_place_whatever_is_glued_on(spots: list[tuple[float, float, float]]) -> None:
    """Rectangles of 30 x 30 mm dropped on the front one after the other, each resting on the highest below it."""
    things = tuple(
        item(
            f"t{number}",
            width="30 mm",
            height="30 mm",
            across="left",
            x=f"{x:.3f} mm",
            down="top",
            y=f"{y:.3f} mm",
            foam=f"{foam:.3f} mm",
            **PAPER,
        )
        for number, (x, y, foam) in enumerate(spots)
    )
    job = dressed(*things, arts=(square(),), job=quick_job("5x7in"))
    plan = make_plan(job)
    own = of_paper(plan, "liner-paper")
    tops: list[tuple[float, float, float]] = []
    for x, y, foam in ((round(a, 3), round(b, 3), round(c, 3)) for a, b, c in spots):
        under = [top for left, up, top in tops if abs(left - x) < 30 - 1e-3 and abs(up - y) < 30 - 1e-3]
        near = any(29.85 < abs(left - x) < 30.15 or 29.85 < abs(up - y) < 30.15 for left, up, _ in tops)
        if near:
            return  # slivers narrower than 0.1 mm do not count
        tops.append((x, y, max(under, default=0.0) + foam + own))
    solid = bare(job)
    # A place may be high because of what is beside it under the same sheet, with air below: papers pressed flat count.
    assert thickness(plan) <= solid + max(top for _, _, top in tops) + 1e-6
    assert thickness(plan) >= solid + max(round(foam, 3) for _, _, foam in spots) + own - 1e-6


def test_what_only_a_later_copy_has_is_reckoned_with() -> None:
    """The first card goes without the label on its foam, the second has it: the envelope is for the second."""
    label = item("label", foam="2 mm", **PAPER)
    table = Copies((Column("label", "label"),), (Row(("-",), 1), Row(("",), 1)))
    job = dressed(label, job=quick_job("5x7in", count=2), copies=table)
    plan = make_plan(job)
    own = of_paper(plan, "liner-paper")
    assert thickness(plan) == pytest.approx(bare(job) + 2 + own)
    found = plan.dress.piece("label")
    assert found is not None
    assert found.count == 1
    assert plan.as_copy(1).stacked.slabs != plan.stacked.slabs


def test_a_slab_of_which_nothing_is_left_takes_no_room() -> None:
    """Found by seed 20028 of bin/soak: a flap that is taken away whole has an outline without points."""
    construct = make_plan(quick_job("5x7in")).construct
    before = find_thickest_stack(construct.tree, construct.slabs)
    gone = structs.replace(construct.slabs[0], outline=())
    assert find_thickest_stack(construct.tree, (*construct.slabs, gone)) == before
