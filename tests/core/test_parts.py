"""Items of several outlines: taken apart each is as large and where it was, with what is drawn on it and no more."""

from __future__ import annotations

import io

import pypdf
import pytest
import shapely
from msgspec import structs

from dechirer.core.brought import ArtGroup
from dechirer.core.dress.apart import take_apart
from dechirer.core.dress.decisions import Place
from dechirer.core.dress.gather import gather
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.core.plan import Plan, make_plan
from dechirer.core.press.station import PRESS
from dechirer.formats.outputs.run_sheet import write_run_sheet
from tests.dressing import art, box_path, dressed, item, step
from tests.helpers import changed, codes, finding, mended, quick_job

PAPER = {"paper": "liner-paper"}
BOXES = (box_path(20, 12), box_path(10, 10, 30, 1), box_path(10, 10, 50, 1))
SCORES = tuple(f"M {x} 6 L {x + long} 6" for x, long in ((0, 20), (30, 10), (50, 10)))
THREE = art(
    groups=(ArtGroup("out", "out", "cut", BOXES), ArtGroup("fold", "fold", "score", SCORES, stroke=0.2)),
    width=60.0,
    height=12.0,
)
"""A box and two equal smaller ones to its right, each with a fold across it."""


def sheet(**more: object) -> Job:
    return dressed(item(**{**PAPER, **more}), arts=(THREE,), job=quick_job("6x6in", fold="flat"))


def boxes_on_face(plan: Plan) -> list[tuple[float, ...]]:
    """What each outline covers on the face, from left to right."""
    areas = [area for each in plan.dress.items for area in each.placed.drawn.areas]
    return sorted(tuple(round(value, 2) for value in area.bounds) for area in areas)


@pytest.mark.parametrize("more", [{}, {"width": "90 mm"}, {"turn_deg": 30.0}, {"mirrored": True, "x": "7 mm"}])
def test_each_part_is_as_large_and_where_it_was(more: dict[str, object]) -> None:
    job = sheet(**more)
    before = make_plan(job)
    after = make_plan(apply_changes(job, take_apart(job, before.dress.items[0])))
    assert boxes_on_face(after) == [pytest.approx(each, abs=0.011) for each in boxes_on_face(before)]
    scale = 1.5 if "width" in more else 1.0
    sizes = [(each.width.value, each.height.value) for each in after.dress.items]
    if "turn_deg" not in more:
        assert sizes == [
            pytest.approx((side * scale, high * scale), abs=1e-3) for side, high in ((20, 12), *[(10, 10)] * 2)
        ]
    assert "dress.size-of-whole" not in codes(after)


@pytest.mark.parametrize(
    "more",
    [
        {},
        {"width": "90 mm"},
        {"turn_deg": 30.0},
        {"mirrored": True, "turn_deg": 90.0},
        {"height": "30 mm"},
        {"within": "safe"},
    ],
)
@pytest.mark.parametrize("round_", [0, 2])
def test_scattered_parts_are_gathered_as_the_file_has_them(more: dict[str, object], round_: int) -> None:
    job = sheet(**more)
    before = make_plan(job)
    parts = apply_changes(job, take_apart(job, before.dress.items[0]))
    ids = [each.id for each in parts.dress.items]
    scattered = parts
    for place, each in enumerate(ids):
        if place != round_:
            lies = structs.replace(Place(), x=parse_length(f"{place * 13} mm"), y=parse_length(f"{-place * 9} mm"))
            scattered = changed(scattered, **{f"dress__items__{each}__place": lies})
            scattered = changed(scattered, **{f"dress__items__{each}__width": parse_length("5 mm")})
    plan = make_plan(scattered)
    assert boxes_on_face(plan) != boxes_on_face(before)
    after = make_plan(apply_changes(scattered, gather(scattered, plan.dress.items[round_])))
    assert boxes_on_face(after) == [pytest.approx(each, abs=0.011) for each in boxes_on_face(before)]


def test_gathering_takes_the_scale_and_leaves_what_is_locked_or_of_no_file() -> None:
    job = sheet()
    parts = apply_changes(job, take_apart(job, make_plan(job).dress.items[0]))
    first, second, third = (each.id for each in parts.dress.items)
    larger = changed(parts, **{f"dress__items__{first}__width": parse_length("40 mm")})
    larger = changed(larger, **{f"dress__items__{third}__locked": True})
    plan = make_plan(apply_changes(larger, gather(larger, make_plan(larger).dress.items[0])))
    widths = {each.item.id: each.width.value for each in plan.dress.items}
    assert widths == pytest.approx({first: 40, second: 20, third: 10}, abs=1e-3)
    boxes = {each.item.id: each.placed.source for each in plan.dress.items}
    assert boxes[second][0] - boxes[first][0] == pytest.approx(2 * 30, abs=2e-3)
    assert boxes[second][1] - boxes[first][1] == pytest.approx(2 * 1, abs=2e-3)
    alone = sheet()
    assert gather(alone, make_plan(alone).dress.items[0]) == ()


def test_a_size_typed_for_a_part_is_the_parts_own() -> None:
    plan = make_plan(sheet(part=2, width="30 mm"))
    piece = plan.dress.piece("thing")
    assert piece is not None
    assert (piece.width.value, piece.height.value) == pytest.approx((30, 30), abs=0.01)


@pytest.mark.parametrize("how", ["part", "step"])
def test_a_part_keeps_its_own_folds_and_leaves_the_others(how: str) -> None:
    one = sheet(part=1) if how == "part" else sheet(steps=(step("item", count=1),))
    plan = make_plan(one)
    base, own = plan.dress.piece("base") or plan.dress.pieces[0], plan.dress.piece("thing")
    assert own is not None
    assert not [line for line in base.lines if "thing" in line.id]
    assert [line.operation for line in own.lines].count("score") == 1


def test_a_size_typed_for_the_whole_is_told_and_can_be_kept() -> None:
    job = sheet(width="90 mm", steps=(step("item", count=1),))
    plan = make_plan(job)
    assert "30 mm" in finding(plan, "dress.size-of-whole").reason or "1" in finding(plan, "dress.size-of-whole").reason
    after = mended(job, "dress.size-of-whole")
    assert boxes_on_face(after) == [pytest.approx(each, abs=0.01) for each in boxes_on_face(plan)]
    assert after.dress.items[0].width.value == pytest.approx(30, abs=0.01)


def test_a_number_there_is_no_outline_for_is_said() -> None:
    assert "dress.step-few" in codes(make_plan(sheet(part=9)))


@pytest.mark.parametrize(("over", "on_face"), [(0.02, 0), (0.25, 0), (3.0, 2)])
def test_a_score_that_runs_a_little_past_its_outline_stays_on_its_piece(over: float, on_face: int) -> None:
    groups = (
        ArtGroup("out", "out", "cut", (box_path(40, 20),)),
        ArtGroup("fold", "fold", "score", (f"M {-over} 10 L {40 + over} 10",), stroke=0.2),
    )
    plan = make_plan(dressed(item(**PAPER), arts=(art(groups=groups, width=40.0, height=20.0),)))
    own = plan.dress.piece("thing")
    assert own is not None
    scores = [line for line in own.lines if line.operation == "score"]
    assert [shapely.LineString(path).length for line in scores for path in line.paths] == [pytest.approx(40, abs=1e-3)]
    beside = [path for line in plan.dress.pieces[0].lines if "thing" in line.id for path in line.paths]
    assert len(beside) == on_face


def test_a_window_of_a_picture_in_many_colours_is_cut() -> None:
    groups = tuple(
        ArtGroup(f"g{n}", f"g{n}", "print", (box_path(10, 20, 10 * n, 0),), f"#{n}{n}0000") for n in range(8)
    )
    many = art(groups=groups, width=80.0, height=20.0)
    plan = make_plan(dressed(item(made="window", steps=(step("join"),)), arts=(many,)))
    cut = [line for line in plan.dress.pieces[0].lines if "thing" in line.id]
    assert [line.operation for line in cut] == ["cut"]
    box = shapely.LineString(cut[0].paths[0]).bounds
    assert (box[2] - box[0], box[3] - box[1]) == pytest.approx((80, 20), abs=0.01)


def test_middles_that_are_kept_are_seen_in_the_folded_card() -> None:
    ring = ArtGroup("ring", "ring", "cut", (f"{box_path(40, 30)} {box_path(20, 12, 10, 9)}",), rule="evenodd")
    shown = art(groups=(ring,), width=40.0, height=30.0)
    lost, kept = (
        make_plan(dressed(item(made="window", islands=how), arts=(shown,))).dress.slabs for how in ("drop", "keep")
    )
    assert len(kept) == len(lost) + 1
    box = shapely.Polygon(kept[-1].outline).bounds
    assert (box[2] - box[0], box[3] - box[1]) == pytest.approx((20, 12), abs=0.01)


def test_something_over_the_top_edge_is_not_across_the_fold_beside_it() -> None:
    plan = make_plan(dressed(item(made="window", down="top", y="-6 mm", across="fold")))
    assert "dress.off-face" in codes(plan)
    assert "dress.across-fold" not in codes(plan)


def test_lines_that_meet_end_to_end_leave_no_gap() -> None:
    sides = ("M 0 0 L 20 0", "M 20 0 L 20 20", "M 20 20 L 0 20", "M 0 20 L 0 0")
    square = art(groups=(ArtGroup("lines", "lines", "cut", sides, stroke=0.2),))
    job = dressed(item(**PAPER), arts=(square,))
    assert "the widest gap is 0.0 mm" in finding(make_plan(job), "dress.open-path").reason
    plan = mended(job, "dress.open-path")
    own = plan.dress.piece("thing")
    assert own is not None
    assert (own.width.value, own.height.value) == pytest.approx((20, 20), abs=0.05)


@pytest.mark.parametrize(("place", "code"), [({}, ""), ({"across": "fold", "x": "-8 mm"}, "dress.across-fold")])
def test_what_is_written_by_hand_is_checked_and_listed_and_run_by_no_tool(place: dict[str, str], code: str) -> None:
    plan = make_plan(dressed(item(made="hand", words="Yours truly", **place), job=quick_job("5x7in")))
    assert {line.operation for piece in plan.dress.pieces for line in piece.lines} == {"score", "cut"}
    assert "dress.by-hand" in codes(plan)
    assert not plan.part(PRESS).printed
    assert [each.code for each in plan.findings if each.severity == "stop"] == ([code] if code else [])
    pages = pypdf.PdfReader(io.BytesIO(write_run_sheet(plan))).pages
    text = " ".join("".join(page.extract_text() for page in pages).split())
    assert "By hand" in text
    assert "Yours truly" in text


# --- groups, anchors, counts --------------------------------------------------------------------------------------


def test_groups_of_one_import_go_to_their_own_faces() -> None:
    """Front and back of one file, each group on its own face, at the one size that was settled."""
    front = ArtGroup("front", "front", "cut", (box_path(40, 30),))
    back = ArtGroup("back", "back", "cut", (box_path(20, 10, 60, 0),))
    drawing = art(groups=(front, back), id="both", width=80.0, height=30.0)
    job = dressed(
        item("one", art="both", group="front", paper="liner-paper"),
        item("two", face="inside right", art="both", group="back", paper="liner-paper"),
        job=quick_job("5x7in"),
        arts=(drawing,),
    )
    plan = make_plan(job)
    sizes = {piece.id: (piece.width.value, piece.height.value) for piece in plan.dress.pieces[1:]}
    assert sizes == {"one": pytest.approx((40, 30)), "two": pytest.approx((20, 10))}
    scaled = make_plan(changed(job, dress__art__both__scale=1.5))
    assert scaled.dress.piece("two").width.value == pytest.approx(30)  # type: ignore[union-attr]


def test_an_item_is_placed_by_another_and_goes_with_it() -> None:
    base = item("base-thing", width="40 mm", height="20 mm", across="left", x="10 mm", paper="liner-paper")
    mark = item("mark", made="pen", width="6 mm", anchor="base-thing", across="right", x="2 mm")
    for x in ("10 mm", "25 mm"):
        moved = structs.replace(base, place=item(across="left", x=x).place)
        plan = make_plan(dressed(moved, mark, job=quick_job("5x7in")))
        left, _, right, _ = plan.dress.item("base-thing").placed.drawn.box()  # type: ignore[union-attr]
        its = plan.dress.item("mark").placed.drawn.box()  # type: ignore[union-attr]
        assert its[2] == pytest.approx(right - 2)
        assert right - left == pytest.approx(40)


def test_equal_outlines_are_one_piece_with_a_count_and_spares() -> None:
    """Eight equal squares and one other on each of three cards, and five spares."""
    row = art(*(box_path(8, 8, 10 * n, 0) for n in range(8)), box_path(12, 8, 82, 0), id="row", width=94.0, height=8.0)
    job = dressed(item("row", art="row", paper="liner-paper", spares=5), job=quick_job("5x7in", count=3), arts=(row,))
    plan = make_plan(job)
    counts = {piece.id: piece.count for piece in plan.dress.pieces}
    assert counts == {"base": 3, "row-1": 8 * 3 + 5, "row-2": 3 + 5}
    assert sum(layout.repeats * len(layout.placements) for layout in plan.lay.layouts) == 3 + 29 + 8


def test_an_item_that_has_gone_since_it_was_drawn_is_not_taken_apart() -> None:
    """Found by soak: an undo came between the drawing and the hand."""
    before = make_plan(sheet())
    assert take_apart(dressed(), before.dress.items[0]) == ()
