"""Pieces in windows of others, offcuts as stock, bounds by scales, sheets that are cut in two, pieces to a sheet."""

from __future__ import annotations

import itertools
import random

import pytest
import shapely
from msgspec.structs import replace

from dechirer.core.audit import audit
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.lay.bound import least_by_scales
from dechirer.core.lay.closer import as_closer, how_near, keep_closer, least_sheets
from dechirer.core.lay.decisions import set_loading
from dechirer.core.lay.holes import waste_of
from dechirer.core.lay.lay import asks_for
from dechirer.core.lay.nesting import worker
from dechirer.core.lay.packing import Demand, fill_sheet
from dechirer.core.lay.pinning import explain_obstacle, pin_layout
from dechirer.core.lay.stock import Stock, add_size, drop_size, offcuts_left, on_smaller
from dechirer.core.lay.wanted import spoil
from dechirer.core.plan import Plan, make_plan
from dechirer.core.press.station import PRESS
from dechirer.core.shape.outline import Box
from tests.core.test_together import joined, laid
from tests.helpers import attached, changed, codes, finding, quick_job, sheets_of, typed


def size(width: str, height: str) -> object:
    from dechirer.core.decide.values import Size
    from dechirer.core.length import parse_length

    return Size(parse_length(width), parse_length(height))


# --- windows ----------------------------------------------------------------------------------------------------


def windows_and_tags(tags: int = 8) -> Job:
    """Two cards with large windows, and small cards that fit into those."""
    job = attached(quick_job("5x7in", count=2), "window")
    job = typed(typed(job, "construct.window.width", "4 in"), "construct.window.height", "5 in")
    return joined(job, changed(quick_job("3x4in", fold="flat", count=tags), name="Tags"))


def closer(job: Job, rounds: int = 200) -> Job:
    plan = make_plan(job)
    pieces = (*plan.part(PRESS).pieces, *plan.lay.guest_pieces)
    ask = next(each for each in asks_for(pieces, job.brief.papers, job.lay, job.brief.machine) if each.paper == "card")
    *_, best = worker.look_for(ask, rounds)
    return apply_changes(job, [Change("lay.closer", keep_closer(job.lay, as_closer(ask, worker.sheets_of(best))))])


def card_sheets(plan: Plan) -> int:
    return sum(layout.repeats for layout in plan.lay.layouts if layout.paper == "card")


def test_small_pieces_lie_in_windows_and_are_cut_before_them() -> None:
    job = windows_and_tags()
    plan = make_plan(closer(job))
    assert (card_sheets(make_plan(job)), card_sheets(plan)) == (3, 2)
    assert not audit(plan, again=True)
    assert laid(plan) == laid(make_plan(job))
    for mat in (each for each in plan.run.mats if each.layout.paper == "card"):
        inside = {placed.id for placed in mat.layout.placements if placed.within}
        assert len(inside) == 1
        # Asked of shapely: all of it lies in the window, a space away from it; nothing else touches.
        host = next(placed for placed in mat.layout.placements if placed.piece.id == "base")
        window = shapely.Polygon(host.to_sheet.all(waste_of(host.piece)[0]))
        small = next(shapely.Polygon(placed.outline) for placed in mat.layout.placements if placed.within)
        assert window.contains(small)
        assert shapely.distance(window.exterior, small) >= job.lay.spacing.mm - 0.01
        cuts = [step for step in mat.steps if step.operation == "cut"]
        last_inside = max(place for place, step in enumerate(cuts) if step.placement in inside)
        window_cut = next(place for place, step in enumerate(cuts) if step.line.endswith("window"))
        assert last_inside < window_cut
    layout = plan.lay.layouts[0]
    nested = next(placed for placed in layout.placements if placed.within)
    assert explain_obstacle(layout, nested, job.lay.spacing.mm, "in") == ""
    pinned = make_plan(apply_changes(job, [pin_layout(job.lay, layout, nested)]))
    assert "lay.pieces-overlap" not in codes(pinned)
    assert any(placed.within for placed in pinned.lay.layouts[0].placements)


def test_what_falls_out_and_is_kept_takes_nothing() -> None:
    job = windows_and_tags()
    base = make_plan(job).whole.pieces[0]
    assert len(waste_of(base)) == 1
    window = next(line for line in base.lines if line.role == "window")
    kept = tuple(replace(line, kept=True) if line is window else line for line in base.lines)
    assert waste_of(replace(base, lines=kept)) == ()
    middle = ((180.0, 60.0), (190.0, 60.0), (190.0, 70.0), (180.0, 70.0))
    ring = (*base.lines, replace(window, id="island", paths=(middle,)))
    assert [path for path in waste_of(replace(base, lines=ring)) if path is window.paths[0]] == []


# --- bounds -----------------------------------------------------------------------------------------------------


def test_more_than_half_a_side_each_way_lies_alone() -> None:
    assert least_by_scales([(60.0, 60.0, 5)], 100.0, 100.0, may_turn=True) == 5
    assert least_by_scales([(40.0, 40.0, 5)], 100.0, 100.0, may_turn=True) == 2  # four go on one: plain geometry
    assert least_by_scales([(50.0, 100.0, 4)], 100.0, 100.0, may_turn=True) == 2
    assert least_by_scales([], 100.0, 100.0, may_turn=True) == 1


@pytest.mark.parametrize("seed", range(40))
def test_a_bound_is_never_above_what_can_be_done(seed: int) -> None:
    draw = random.Random(seed)
    kinds = [(draw.uniform(15, 95), draw.uniform(15, 95), draw.randint(1, 3)) for _ in range(draw.randint(1, 5))]
    left = [Demand(str(number), w, h, count) for number, (w, h, count) in enumerate(kinds)]
    sheets = 0
    while any(demand.count for demand in left):
        spots = fill_sheet(left, Box(0, 0, 100, 100), (), may_turn=True)
        gone = [spot.piece for spot in spots]
        left = [replace(demand, count=demand.count - gone.count(demand.piece)) for demand in left]
        sheets += 1
    assert least_by_scales(kinds, 100.0, 100.0, may_turn=True) <= sheets


def test_large_cards_are_known_to_need_a_sheet_each() -> None:
    """Material alone would say three sheets of four; two that are over half a sheet each way cannot share one."""
    job = sheets_of(quick_job("6.2x6.2in", fold="flat", count=4), "12 in", "12 in")
    plan = make_plan(job)
    (ask,) = asks_for(plan.part(PRESS).pieces, job.brief.papers, job.lay, job.brief.machine)
    assert least_sheets(ask) == card_sheets(plan) == 4
    (near,) = how_near(plan.lay.layouts, job.brief.papers, job.lay, job.brief.machine)
    assert (near.sheets, near.least, near.why) == (4, 4, "by how few go beside each other")
    assert "conservative scales" in near.working


def test_the_least_by_area_is_told_with_what_it_comes_from() -> None:
    """By hand: squares of 3 in and the 11 1/2 in that the machine reaches, both with a gap of 1/8 in."""
    job = quick_job("3x3in", fold="flat", count=16)
    plan = make_plan(job)
    (near,) = how_near(plan.lay.layouts, job.brief.papers, job.lay, job.brief.machine)
    assert near.taken == pytest.approx(16 * 3.125**2 / 11.625**2)
    assert (near.sheets, near.least, near.why) == (2, 2, "the pieces take 1.2")


# --- offcuts and sheets -----------------------------------------------------------------------------------------


def test_the_last_pieces_go_on_the_smallest_offcut_that_holds_them() -> None:
    job = quick_job("3x3in", fold="flat", count=10)
    assert [len(each.placements) for each in make_plan(job).lay.layouts] == [9, 1]
    for offcut in (size("10 in", "8 in"), size("4 in", "5 in"), size("3 in", "3 in")):
        job = apply_changes(job, [add_size(job.brief.papers[0], "offcuts", offcut)])  # type: ignore[arg-type]
    plan = make_plan(job)
    last = plan.lay.layouts[-1]
    assert last.sheet.offcut
    assert (last.sheet.width, last.sheet.height) == pytest.approx((101.6, 127.0))
    assert [(each.name, each.value) for each in plan.lay.sheets] == [("sheets of card", 1.0)]
    assert not audit(plan, again=True)
    without = make_plan(apply_changes(job, [drop_size(job.brief.papers[0], "offcuts", job.brief.papers[0].offcuts[1])]))
    assert without.lay.layouts[-1].sheet.width == pytest.approx(254.0)


def test_what_was_spoiled_is_cut_again_from_an_offcut() -> None:
    job = quick_job("3x3in", fold="flat", count=9)
    job = apply_changes(job, [add_size(job.brief.papers[0], "offcuts", size("5 in", "6 in"))])  # type: ignore[arg-type]
    assert not any(layout.sheet.offcut for layout in make_plan(job).lay.layouts), "nine fill a sheet"
    plan = make_plan(apply_changes(job, [spoil(job.lay, "base")]))
    (layout,) = plan.lay.layouts
    assert (layout.sheet.offcut, len(layout.placements)) == (True, 1)
    assert finding(plan, "lay.recut")


def test_an_offcut_is_used_once_whichever_sides_of_its_paper_lie_up() -> None:
    plan = make_plan(quick_job("3x3in", fold="flat", count=1))
    at_hand = (size("4 in", "3.5 in"), size("5 in", "6 in"))
    stock = Stock(at_hand, (), plan.lay.layouts[0].sheet.mat)  # type: ignore[arg-type]
    (first,) = on_smaller(plan.lay.layouts, stock, plan.job.lay)
    left = offcuts_left(stock.offcuts, [first])
    assert (first.sheet.offcut, left) == (True, at_hand[1:])
    (again,) = on_smaller(plan.lay.layouts, replace(stock, offcuts=left), plan.job.lay)
    assert offcuts_left(left, [again]) == ()


def test_what_follows_the_grain_is_not_laid_on_an_offcut_whose_grain_nobody_knows() -> None:
    job = changed(quick_job("3x3in", count=1), brief__papers__card__grain="long")
    job = apply_changes(job, [add_size(job.brief.papers[0], "offcuts", size("7 in", "4 in"))])  # type: ignore[arg-type]
    plan = make_plan(changed(job, brief__papers__card__weight="110 lb cover"))
    assert plan.lay.layouts[0].sheet.offcut
    assert "lay.fold-across-grain" not in codes(plan)
    assert not make_plan(changed(job, lay__along_grain=True)).lay.layouts[0].sheet.offcut


def test_an_offcut_smaller_than_its_margins_is_passed_over() -> None:
    job = typed(quick_job("3x3in", fold="flat", count=1), "lay.margin", "1 in")
    job = apply_changes(job, [add_size(job.brief.papers[0], "offcuts", size("1.5 in", "1.5 in"))])  # type: ignore[arg-type]
    assert not any(layout.sheet.offcut for layout in make_plan(job).lay.layouts)


@pytest.mark.parametrize(
    ("count", "taken"),
    [
        (6, [("8.5 x 11", 6)]),
        (9, [("12 x 12", 9)]),
        (10, [("8.5 x 11", 6), ("8.5 x 11", 4)]),
        (15, [("12 x 12", 9), ("8.5 x 11", 6)]),
    ],
)
def test_of_several_sheet_sizes_those_are_taken_that_spend_least_paper(count: int, taken: list[object]) -> None:
    """By hand: 144 and 93.5 sq in a sheet, nine and six squares of 3 in on one with 1/8 in between."""
    job = quick_job("3x3in", fold="flat", count=count)
    job = apply_changes(job, [add_size(job.brief.papers[0], "other_sheets", size("8.5 in", "11 in"))])  # type: ignore[arg-type]
    plan = make_plan(job)
    mats = [(sorted((each.sheet.width, each.sheet.height)), len(each.placements)) for each in plan.lay.layouts]
    sides = {"12 x 12": [304.8, 304.8], "8.5 x 11": [215.9, 279.4]}
    assert mats == [(pytest.approx(sides[name]), pieces) for name, pieces in taken]  # type: ignore[index, misc]
    assert sum(figure.value for figure in plan.lay.sheets) == len(taken)
    assert not audit(plan, again=True)
    assert "lay.sheet-differs" not in codes(plan)
    stated = apply_changes(job, [set_loading(job.lay, "card", sheet=size("8.5 in", "11 in"))])
    assert "lay.sheet-differs" not in codes(make_plan(stated))
    assert {round(each.sheet.width * each.sheet.height) for each in make_plan(stated).lay.layouts} == {60322}


def test_a_piece_goes_on_the_larger_sheet_where_the_paper_s_own_is_too_small() -> None:
    job = sheets_of(quick_job("11x11in", fold="flat", count=1), "8.5 in", "11 in")
    assert "lay.piece-too-large" in codes(make_plan(job))
    job = apply_changes(job, [add_size(job.brief.papers[0], "other_sheets", size("12 in", "12 in"))])  # type: ignore[arg-type]
    plan = make_plan(job)
    assert "lay.piece-too-large" not in codes(plan)
    assert [each.name for each in plan.lay.sheets] == ["sheets of card, 12 in x 12 in"]


def test_four_squares_of_eleven_inches_take_two_long_sheets_that_are_cut_in_two() -> None:
    job = sheets_of(quick_job("11x11in", fold="flat", count=4), "12 in", "24 in")
    plan = make_plan(job)
    assert [(each.name, each.value) for each in plan.lay.sheets] == [("sheets of card", 2.0)]
    assert sum(layout.repeats for layout in plan.lay.layouts) == 4
    assert "12 × 12 in" in finding(plan, "lay.sheet-larger-than-mat").title
    long = apply_changes(job, [set_loading(job.lay, "card", mat="long")])
    mats = make_plan(long).lay.layouts
    assert [(len(each.placements), each.repeats, each.sheet.mat.id) for each in mats] == [(2, 2, "long")]


def test_so_many_pieces_to_a_sheet_as_are_wanted() -> None:
    job = quick_job("3x3in", fold="flat", count=10)
    for most, sheets in ((1, 10), (4, 3), (100, 2)):
        some = apply_changes(job, [set_loading(job.lay, "card", most=most)])
        plan = make_plan(some)
        assert card_sheets(plan) == sheets
        assert max(len(each.placements) for each in plan.lay.layouts) <= most


@pytest.mark.parametrize(("spacing", "margin"), list(itertools.product(("0 mm", "1/8 in"), ("0 mm", "1/4 in"))))
def test_without_spacing_or_margin_nothing_overlaps(spacing: str, margin: str) -> None:
    job = typed(typed(quick_job("3x3in", fold="flat", count=20), "lay.spacing", spacing), "lay.margin", margin)
    for layout in make_plan(job).lay.layouts:
        whole = shapely.union_all([shapely.Polygon(placed.outline) for placed in layout.placements])
        assert whole.area == pytest.approx(76.2**2 * len(layout.placements), rel=1e-6)
