from __future__ import annotations

import json
from collections import Counter
from pathlib import Path

import pypdf
import pytest
import shapely
import svgelements
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from dechirer.core.audit import audit
from dechirer.core.card.placed import make_placement
from dechirer.core.decide.values import Size
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.lay.decisions import Pin, Recut, set_loading
from dechirer.core.lay.offcuts import find_offcut
from dechirer.core.lay.packing import Demand, fill_sheet
from dechirer.core.lay.pinning import explain_obstacle, move_placement, pin_layout, snap_to, unpin_layout
from dechirer.core.lay.tack import tack_for
from dechirer.core.lay.wanted import spoil, whole_again
from dechirer.core.length import parse_length
from dechirer.core.plan import Plan, make_plan
from dechirer.core.press.station import PAGES
from dechirer.core.shape.outline import Box
from dechirer.formats.export import export_plan
from tests.helpers import IN, changed, codes, finding, mended, quick_job, sheets_of, typed


def assert_sound(plan: Plan) -> None:
    """Every piece placed as often as wanted, inside the room, apart by the spacing, judged by shapely."""
    spacing = plan.job.lay.spacing.mm
    placed: Counter[str] = Counter(dict(plan.lay.unplaced))
    for layout in plan.lay.layouts:
        room = layout.sheet.room
        shapes = [shapely.Polygon(each.outline) for each in layout.placements]
        for each in shapes:
            assert shapely.box(room.left, room.top, room.right, room.bottom).buffer(1e-6).covers(each)
        for index, one in enumerate(shapes):
            for other in shapes[index + 1 :]:
                assert one.distance(other) >= spacing - 1e-6
        for each in layout.placements:
            assert each.piece.paper == layout.paper
            placed[each.piece.id] += layout.repeats
    assert placed == Counter({piece.id: piece.count for piece in plan.construct.pieces})


@pytest.mark.parametrize(("size", "per_sheet"), [("5x7in", 1), ("4.25x5.5in", 2)])
def test_how_many_fit_a_twelve_inch_sheet(size: str, per_sheet: int) -> None:
    # A 10 x 7 blank once, 8.5 x 5.5 twice on a cut area of 11.5 in (common practice, and arithmetic).
    plan = make_plan(quick_job(size, count=12))
    assert [len(layout.placements) for layout in plan.lay.layouts] == [per_sheet]
    assert plan.lay.mats.value == 12 / per_sheet
    assert_sound(plan)


@given(
    st.integers(20, 140),
    st.integers(20, 140),
    st.sampled_from(["side-fold", "top-fold", "flat"]),
    st.integers(1, 60),
    st.sampled_from(["12x12in", "8.5x11in", "A4"]),
    st.booleans(),
    st.floats(0, 12),
)
def test_any_job_is_placed_soundly(
    width: int, height: int, fold: str, count: int, sheet: str, turn: bool, spacing: float
) -> None:
    from dechirer.core.paper.standards import parse_size

    job = quick_job(f"{width} x {height} mm", fold=fold, liner="1/16", count=count, sheet=parse_size(sheet))
    job = typed(changed(job, lay__may_turn=turn), "lay.spacing", f"{spacing:.2f} mm")
    plan = make_plan(job)
    assert_sound(plan)
    if not turn:
        assert not any(each.turned for layout in plan.lay.layouts for each in layout.placements)


def test_turning_pays_on_a_mixed_sheet() -> None:
    # 10 upright or 10 turned rows of 40 x 60 on 200 x 220 give 15; three rows of one and two of the other give 18.
    room = Box(0.0, 0.0, 200.0, 220.0)
    demand = [Demand("a", 40.0, 60.0, 99)]
    assert len(fill_sheet(demand, room, (), may_turn=False)) == 15
    assert len(fill_sheet(demand, room, (), may_turn=True)) >= 17


def test_papers_are_kept_apart_and_several_sheets_are_used(demo_plan: Plan) -> None:
    assert [(layout.paper, layout.repeats) for layout in demo_plan.lay.layouts] == [("sea-grey", 12), ("chalk", 12)]
    assert demo_plan.lay.sheet_count.value == 24
    assert demo_plan.lay.share.value == pytest.approx((70 + 9.875 * 6.875) / 288)


def test_one_paper_for_all_shares_sheets() -> None:
    plan = make_plan(changed(quick_job("2x2in", liner="1/8", count=4), construct__liner__paper="card"))
    (layout,) = plan.lay.layouts
    assert {each.piece.id for each in layout.placements} == {"base", "liner"}
    assert_sound(plan)


def test_a_long_job_counts_equal_mats_instead_of_repeating_them() -> None:
    plan = make_plan(quick_job("4.25x5.5in", liner="1/16", count=501))
    assert [layout.repeats for layout in plan.lay.layouts] == [250, 1, 250, 1]
    assert plan.lay.mats.value == 502


def test_inside_up_mirrors_the_sheet_and_says_so() -> None:
    job = quick_job("5x7in")
    over = make_plan(apply_changes(job, [set_loading(job.lay, "card", face="inside-up")]))
    (layout,) = over.lay.layouts
    assert layout.face == "inside-up"
    assert next(layout.placements[0].lines()).sense == "valley"


def test_pinned_pieces_stay_and_the_rest_keeps_clear() -> None:
    job = quick_job("3x3in", fold="flat", count=10)
    (layout, *_) = make_plan(job).lay.layouts
    target = layout.placements[-1]
    moved = move_placement(layout, target.id, 200.0, 190.0)
    assert explain_obstacle(layout, moved, job.lay.spacing.mm, "in") == ""
    pinned = apply_changes(job, [pin_layout(job.lay, layout, moved)])
    plan = make_plan(pinned)
    assert_sound(plan)
    boxes = [(each.box.left, each.box.top) for each in plan.lay.layouts[0].placements if each.pinned]
    assert (200.0, 190.0) in boxes
    assert make_plan(apply_changes(pinned, [unpin_layout(pinned.lay, plan.lay.layouts[0])])).lay == make_plan(job).lay


def test_collisions_are_refused_in_words() -> None:
    job = quick_job("3x3in", fold="flat", count=10)
    (layout, *_) = make_plan(job).lay.layouts
    first, second = layout.placements[:2]
    on_top = move_placement(layout, first.id, second.box.left + 5, second.box.top + 5)
    assert "would lie on base 2" in explain_obstacle(layout, on_top, 3.0, "in")
    outside = move_placement(layout, first.id, -10.0, first.box.top)
    assert "outside what the machine reaches" in explain_obstacle(layout, outside, 3.0, "in")
    near = move_placement(layout, second.id, first.box.right + 0.5, first.box.top)
    assert "closer than" in explain_obstacle(layout, near, 3.175, "in")
    assert snap_to(layout, near, 3.175, 4.0) == pytest.approx((first.box.right + 3.175, first.box.top))


def test_a_piece_clicks_to_the_middle_between_its_neighbours() -> None:
    layout = make_plan(quick_job("2x3in", fold="flat", count=3)).lay.layouts[0]
    first, second, third = layout.placements
    apart = make_placement(third.id, third.piece, first.box.left + 200.0, first.box.top, turned=False, pinned=True)
    wide = replace(layout, placements=(first, second, apart))
    moved = move_placement(wide, second.id, first.box.left + 98.0, first.box.top)
    x, y = snap_to(wide, moved, 3.175, 4.0)
    assert x - first.box.right == pytest.approx(apart.box.left - (x + second.box.width))
    assert (x, y) == pytest.approx((first.box.left + 100.0, first.box.top))
    far = move_placement(wide, second.id, first.box.left + 90.0, first.box.top)
    assert snap_to(wide, far, 3.175, 4.0)[0] == pytest.approx(first.box.left + 90.0)


def test_pins_that_came_to_lie_badly_are_found_and_mended() -> None:
    job = changed(
        quick_job("3x3in", count=2),
        lay__pins=(
            Pin("card", 0, "base", 10.0, 10.0),
            Pin("card", 0, "base", 20.0, 250.0),
        ),
    )
    assert "lay.piece-off-sheet" in codes(make_plan(job))
    assert_sound(mended(job, "lay.piece-off-sheet"))
    close = changed(job, lay__pins=(Pin("card", 0, "base", 10.0, 10.0), Pin("card", 0, "base", 20.0, 20.0)))
    assert finding(make_plan(close), "lay.pieces-overlap").severity == "stop"
    touching = changed(job, lay__pins=(Pin("card", 0, "base", 10.0, 10.0), Pin("card", 0, "base", 10.0, 87.0)))
    assert finding(make_plan(touching), "lay.pieces-too-close").severity == "look"


@pytest.mark.parametrize("number", [0, 1])
def test_a_blank_too_large_for_its_sheet_has_mends_that_work(number: int) -> None:
    from dechirer.core.paper.standards import parse_size

    job = quick_job("5x7in", sheet=parse_size("8.5x9in"))
    plan = mended(job, "lay.piece-too-large", number)
    assert "lay.piece-too-large" not in codes(plan)
    assert plan.lay.mats.value == 1
    if number == 1:  # the largest of the same proportions, turned, to a sixteenth: 8 5/8 in are reached
        assert plan.construct.pieces[0].width.value == pytest.approx(2 * (4 + 5 / 16) * IN)


def test_a_piece_that_only_fits_turned_says_so() -> None:
    from dechirer.core.paper.standards import parse_size

    job = changed(quick_job("3x10in", fold="flat", sheet=parse_size("11x5in")), lay__may_turn=False)
    found = finding(make_plan(job), "lay.piece-too-large")
    assert found.mends[0].label == "Allow turning"
    assert "lay.piece-too-large" not in codes(mended(job, "lay.piece-too-large"))


@pytest.mark.parametrize("number", [0, 1])
def test_a_sheet_set_that_is_not_on_hand(number: int) -> None:
    job = typed(quick_job("3x3in"), "lay.loadings.card.sheet", "8.5 x 11 in")
    assert finding(make_plan(job), "lay.sheet-differs").severity == "stop"
    assert "lay.sheet-differs" not in codes(mended(job, "lay.sheet-differs", number))


def test_stock_that_runs_out_and_sheets_to_be_trimmed() -> None:
    job = typed(quick_job("5x7in", count=12), "brief.papers.card.on_hand", "9")
    assert "3 sheets short" in finding(make_plan(job), "lay.too-few-sheets").title
    long = typed(quick_job("5x7in"), "brief.papers.card.sheet", "12 x 24 in")
    assert "12 × 12 in" in finding(make_plan(long), "lay.sheet-larger-than-mat").title


def test_a_sheet_larger_than_the_mat_serves_several_mats() -> None:
    """Four 11 in squares from 12 x 24 in sheets on a 12 in mat are two sheets, and five are three."""
    for count, sheets in ((1, 1), (2, 1), (4, 2), (5, 3)):
        job = quick_job("11x11in", fold="flat", count=count)
        (card, *others) = job.brief.papers
        long = replace(card, sheet=Size(parse_length("12 in"), parse_length("24 in")))
        plan = make_plan(changed(job, brief__papers=(long, *others)))
        assert plan.lay.mats.value == count
        assert plan.figures["lay.sheets"].value == sheets
        figure = plan.figures[f"lay.sheets.{card.id}"]
        assert "÷ 2" in figure.formula
        assert "Rounded up" in figure.note


# --- where the sheet lies ---------------------------------------------------------------------------------------


def place_cards(count: int = 48, **more: object) -> Job:
    """Place cards of 3.5 x 2 in folded at their top, from letter sheets."""
    return sheets_of(changed(quick_job("3.5x2in", fold="top-fold"), brief__count=count, **more), "8.5 in", "11 in")


def sheets_needed(job: Job) -> int:
    return sum(layout.repeats for layout in make_plan(job).lay.layouts)


def test_a_sheet_lies_where_fewest_are_needed() -> None:
    """48 place cards: in the corner the margin of the reach and that of the sheet are both lost, and 12 sheets taken.

    3.5 x 4 in flat with 1/8 in between and round: 2 across (7 1/8 of 8 1/4) and 2 down (8 1/8), or turned 3 down.
    """
    plan = make_plan(place_cards())
    (layout,) = plan.lay.layouts
    assert (layout.repeats, len(layout.placements)) == (8, 6)
    assert (layout.sheet.left, layout.sheet.top) == pytest.approx((3.175, 3.175))
    assert audit(plan, again=True) == ()
    sheet = shapely.box(layout.sheet.left, layout.sheet.top, layout.sheet.box.right, layout.sheet.box.bottom)
    for placed in layout.placements:
        assert shapely.buffer(shapely.Polygon(placed.outline), 3.175 - 1e-6).within(sheet.buffer(1e-6))
    corner = apply_changes(place_cards(), [set_loading(place_cards().lay, "card", lies="corner")])
    assert sheets_needed(corner) == 12
    assert make_plan(corner).lay.layouts[0].sheet.left == 0
    # Where nothing is gained it stays in the corner, unless the maker wants it further in.
    few = place_cards(2)
    assert make_plan(few).lay.layouts[0].sheet.left == 0
    moved = apply_changes(few, [set_loading(few.lay, "card", lies="further-in")])
    assert make_plan(moved).lay.layouts[0].sheet.left == pytest.approx(3.175)


def test_24_pieces_from_a4_take_4_sheets() -> None:
    """99 x 94.5 mm at 1/8 in spacing and margin: 2 across and 3 down (201.2 of 203.7, 289.9 of 290.7 mm)."""
    job = sheets_of(changed(quick_job("99x94.5mm", fold="flat"), brief__count=24), "210 mm", "297 mm")
    assert sheets_needed(job) == 4


def test_files_and_run_sheet_say_where_the_sheet_lies(tmp_path: Path) -> None:
    plan = make_plan(place_cards())
    export_plan(plan, tmp_path)
    mat = json.loads((tmp_path / "plan.json").read_text())["mats"][0]
    assert mat["sheet_at_mm"] == pytest.approx([3.175, 3.175])
    words = pypdf.PdfReader(tmp_path / "run-sheet.pdf").pages[1].extract_text()
    assert "1/8 in from the mat's left edge and 1/8 in from its top edge" in words
    # What is cut lies on the sheet, a margin inside it: read back by svgelements, in mm on the mat.
    svg = svgelements.SVG.parse(str(tmp_path / "mats/mat-1.svg"), ppi=25.4)
    boxes = [each.bbox() for each in svg.elements() if isinstance(each, svgelements.Path)]
    assert min(box[0] for box in boxes) == pytest.approx(6.35, abs=0.01)
    assert max(box[2] for box in boxes) <= 3.175 + 215.9 - 3.175 + 0.01


# --- what is left, and the tack -----------------------------------------------------------------------------------


def test_the_largest_rectangle_left_is_named_and_free() -> None:
    """One piece of 3 x 3 in near the corner of a 12 x 12 in sheet: what is left is as high as the sheet, and as wide as
    what lies right of the piece and its gap."""
    plan = make_plan(changed(quick_job("3x3in", fold="flat"), brief__count=1))
    (layout,) = plan.lay.layouts
    gap = plan.job.lay.spacing.mm
    left = find_offcut(layout, gap)
    assert left is not None
    right = layout.placements[0].box.right + gap
    assert sorted((left.width, left.height)) == pytest.approx(sorted((12 * IN - right, 12 * IN)))
    for other in make_plan(changed(quick_job("5x7in", liner="1/16"), brief__count=3)).lay.layouts:
        found = find_offcut(other, gap)
        if found is None:
            continue
        assert other.sheet.box.holds(found, slack=1e-6)
        free = shapely.box(found.left, found.top, found.right, found.bottom)
        assert all(free.distance(shapely.Polygon(placed.outline)) >= gap - 1e-6 for placed in other.placements)


@pytest.mark.parametrize(
    ("grams", "printed", "name"),
    [
        (90, False, "light"),
        (149.9, False, "light"),
        (150, False, "standard"),
        (176, False, "standard"),
        (259.9, False, "standard"),
        (260, False, "strong"),
        (298, False, "strong"),
        (298, True, "light"),
        (0, False, "standard"),
    ],
)
def test_tack_follows_the_stock(grams: float, printed: bool, name: str) -> None:
    """Light for paper and printed sheets, standard for card, strong for heavy card (common practice)."""
    tack = tack_for(grams, printed=printed)
    assert tack.name == name
    assert tack.why


# --- cutting again what was spoiled -------------------------------------------------------------------------------


def test_what_was_spoiled_alone_is_laid_printed_and_run(tmp_path: Path) -> None:
    job = changed(quick_job("5x7in", liner="1/16", count=6), lay__recut=())
    whole = make_plan(job)
    once = apply_changes(job, [spoil(job.lay, "liner")])
    twice = apply_changes(once, [spoil(once.lay, "liner")])
    plan = make_plan(twice)
    laid = Counter({placed.piece.id: 0 for layout in plan.lay.layouts for placed in layout.placements})
    for layout in plan.lay.layouts:
        for placed in layout.placements:
            laid[placed.piece.id] += layout.repeats
    assert laid == {"liner": 2}
    assert plan.run.minutes.value < whole.run.minutes.value
    assert audit(plan, again=True) == ()
    assert len([path for path in export_plan(plan, tmp_path) if path.suffix == ".svg"]) == len(plan.lay.layouts)
    assert "2 × liner" in finding(plan, "lay.recut").title
    assert make_plan(apply_changes(twice, [whole_again()])).lay == whole.lay
    # A piece that is gone meanwhile is nothing to be cut: the whole job is laid.
    gone = changed(job, lay__recut=(Recut("nothing", 3),))
    assert make_plan(gone).lay.layouts == whole.lay.layouts
    assert "lay.recut" not in codes(make_plan(gone))


def test_a_spoiled_print_has_its_page_again() -> None:
    from tests.core.test_press_catalogue import card, red

    job = card(red(), count=5)
    plan = make_plan(apply_changes(job, [spoil(job.lay, "base")]))
    (page,) = plan.part(PAGES).pages
    assert page.times == 1


def test_heavy_card_folded_across_its_grain_is_found_and_paper_is_not() -> None:
    """A side fold of 4 x 6 in from 9 x 11 in sheets: its fold runs up the sheet when the piece is not turned."""
    job = typed(quick_job("4x6in", weight="110 lb cover"), "brief.papers.card.sheet", "9 x 11 in")
    plan = make_plan(job)
    placed = plan.lay.layouts[0].placements[0]
    along = "long" if not placed.turned else "short"
    across = "short" if along == "long" else "long"
    assert "lay.fold-across-grain" not in codes(make_plan(changed(job, brief__papers__card__grain=along)))
    assert "lay.fold-across-grain" in codes(make_plan(changed(job, brief__papers__card__grain=across)))
    thin = changed(job, brief__papers__card__grain=across, brief__papers__card__weight="60 lb text")
    assert "lay.fold-across-grain" not in codes(make_plan(thin))
