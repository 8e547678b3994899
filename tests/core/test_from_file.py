"""A file that is the card: files of unlike makes become pieces with panels and folds, and what is unclear is said.

Sizes, folds and counts are those the files were drawn with; what is cut is read back from the mats by another library.
"""

from __future__ import annotations

import io

import pytest
import svgelements
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.audit import audit
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, read_job_json, write_job_json
from dechirer.core.plan import Plan, make_plan
from dechirer.core.shape.divide import divide, span
from dechirer.formats.outputs.mat_svg import write_mat_svg
from tests.card_files import BAD, FILES, box, cuts, layer, read, scores, svg, taken
from tests.dressing import item
from tests.helpers import changed, codes, examples, finding, quick_job

HELD = {
    # closed size, panels, and its folds from the left or the top
    "side fold": ((100, 150), 2, [100]),
    "lines in nested groups, fold overshoots": ((100, 140), 2, [100]),
    "separate dashes": ((100, 150), 2, [100]),
    "dashed stroke that stops short": ((100, 150), 2, [100]),
    "no folds": ((100, 85), 1, []),
    "two papers, one on the other": ((100, 150), 2, [100]),
    "two pieces side by side": ((60, 150), 2, [60]),
    "three sections": ((40, 150), 2, [40]),
    "gate with a slot": ((120, 150), 3, [60, 180]),
    "window across the fold, flap": ((100, 150), 3, [100, 150]),
    "drawing of lines on layers": ((150, 110), 2, [110]),
    "perforated and drawn on": ((120, 100), 2, [100]),
}


def plan_of(name: str, **more: object) -> Plan:
    return make_plan(taken(*FILES[name], **more))


@pytest.mark.parametrize("name", list(FILES))
def test_a_file_becomes_the_card(name: str) -> None:
    (width, height), panels, folds = HELD[name]
    plan = plan_of(name)
    closed = plan.construct.closed
    assert (closed.width.value, closed.height.value) == pytest.approx((width, height), abs=0.02)
    assert len(plan.construct.tree.panels) == panels
    base = plan.dress.pieces[0]
    assert sorted(mark.at.value for mark in base.folds) == pytest.approx(folds, abs=0.02)
    assert plan.construct.tree.faces[0].name == "front"
    assert audit(plan, again=True) == ()
    assert "construct.file-size" not in codes(plan)
    assert read_job_json(write_job_json(plan.job)) == plan.job
    stops = [each.code for each in plan.findings if each.severity == "stop"]
    assert [code for code in stops if code != "run.tool-missing"] == []


@pytest.mark.parametrize("name", list(FILES))
def test_what_is_cut_is_what_was_drawn(name: str) -> None:
    """The mats' outlines, openings and folds, read back by another library, are as large as in the file."""
    plan = plan_of(name)
    for layout in plan.lay.layouts:
        drawn = svgelements.SVG.parse(io.StringIO(write_mat_svg(layout, plan).decode()), ppi=25.4)
        paths = {each.id: each for each in drawn.elements() if isinstance(each, svgelements.Path)}
        for placed in layout.placements:
            left, top, right, bottom = paths[f"{placed.id}-outline"].bbox()
            sides = sorted((right - left, bottom - top))
            assert sides == pytest.approx(sorted((placed.piece.width.value, placed.piece.height.value)), abs=0.012)


def test_a_fold_is_not_scored_across_an_opening() -> None:
    base = plan_of("window across the fold, flap").dress.pieces[0]
    score = next(line for line in base.lines if line.role == "fold" and abs(line.paths[0][0][0] - 100) < 0.1)
    spans = sorted((min(a[1], b[1]), max(a[1], b[1])) for a, b in score.paths)
    assert [pytest.approx(span, abs=0.05) for span in spans] == [(0, 60), (90, 150)]


def test_pen_lines_and_slots_stay_on_their_piece() -> None:
    plan = plan_of("perforated and drawn on")
    base = plan.dress.pieces[0]
    assert {line.operation for line in base.lines} == {"pen", "score", "cut"}  # the fold is marked as the base's are
    slot = next(line for line in plan_of("gate with a slot").dress.pieces[0].lines if line.role == "hole")
    xs, ys = zip(*slot.paths[0], strict=True)
    assert (min(xs), max(xs), min(ys), max(ys)) == pytest.approx((20, 23, 60, 90))


def test_a_gate_folds_both_doors_over_and_a_strip_goes_to_and_fro() -> None:
    gate = plan_of("gate with a slot")
    assert [hinge.sense for hinge in gate.construct.tree.hinges] == ["mountain", "mountain"]
    assert sorted(hinge.order for hinge in gate.construct.tree.hinges) == [1, 2]
    assert "construct.folds-through" not in codes(gate)
    strip = read("s.svg", FILES["side fold"][1])
    divided = divide(
        [(((0.0, 0.0), (160.0, 0.0), (160.0, 60.0), (0.0, 60.0)), True)],
        [((float(x), 0.0), (float(x), 60.0)) for x in (40, 80, 120)],
    )
    assert strip.groups
    assert len(divided.parts[0].panels) == 4


def test_a_layer_of_another_paper_is_a_piece_of_it() -> None:
    """The navy rectangle lies on the cream card: it is no hole in it, and is cut from the navy paper on hand."""
    job = quick_job("5x7in")
    papers = (*job.brief.papers[:1], *(p for p in job.brief.papers[1:]))
    assert papers
    plan = plan_of("two papers, one on the other")
    found = finding(plan, "construct.part-without-paper")
    assert found.element == "part-2"
    part = plan.dress.piece("part-2")
    assert part is not None
    assert (part.width.value, part.height.value) == pytest.approx((80, 110))
    assert not any(line.role == "hole" for line in plan.dress.pieces[0].lines)
    left_out = make_plan(apply_changes(plan.job, found.mends[1].changes))
    assert left_out.dress.piece("part-2") is None


def test_equal_outlines_are_one_kind_with_a_count() -> None:
    plan = plan_of("three sections", count=4)
    assert [(piece.id, piece.count) for piece in plan.dress.pieces] == [("base", 4)]
    found = finding(plan, "construct.file-several")
    joined = make_plan(apply_changes(plan.job, found.mends[1].changes))
    assert [(piece.id, piece.count) for piece in joined.dress.pieces] == [("base", 12)]


def test_the_size_is_settled_by_a_feature_and_all_scales_with_it() -> None:
    """The slot is really 36 mm high, not 30: everything is 1.2 times as large, and the stated size is told."""
    plan = plan_of("gate with a slot")
    art = plan.job.dress.art[0]
    larger = make_plan(apply_changes(plan.job, [Change(f"dress.art.{art.id}.scale", 36 / 30)]))
    assert larger.construct.closed.width.value == pytest.approx(144)
    assert sorted(mark.at.value for mark in larger.dress.pieces[0].folds) == pytest.approx([72, 216])
    found = finding(larger, "construct.file-size")
    back = make_plan(apply_changes(larger.job, found.mends[1].changes))
    assert back.construct.closed.width.value == pytest.approx(120)


def test_senses_order_and_front_are_the_makers() -> None:
    plan = plan_of("side fold")
    assert plan.dress.pieces[0].folds[0].sense == "mountain"
    turned = changed(plan.job, **{"construct__from_file__folds__fold-1__sense": "valley"})
    assert make_plan(turned).dress.pieces[0].folds[0].sense == "valley"
    other = make_plan(changed(plan.job, construct__from_file__front=1))
    assert other.construct.tree.face("front").panel == "panel-1"
    flat = make_plan(changed(plan.job, **{"construct__from_file__folds__fold-1__sense": "flat"}))
    assert flat.construct.closed.width.value == pytest.approx(200)


def test_the_faces_of_a_file_are_dressed_like_any_others() -> None:
    """A piece on its front makes it thicker; a window in it is cut; words inside lie on the inside."""
    job = taken(*FILES["side fold"])
    plan = make_plan(job)
    from tests.dressing import square

    items = (
        item("label", paper="liner-paper", width="30 mm"),
        item("hole", made="window", width="10 mm", down="top", y="5 mm"),
        item("hello", face="inside right", made="score", width="15 mm"),
    )
    job = changed(job, dress__art=(*job.dress.art, square()), dress__items=items)
    dressed = make_plan(job)
    assert dressed.dress.piece("label") is not None
    assert dressed.construct.closed.thickness.value > plan.construct.closed.thickness.value
    holes = [line for line in dressed.dress.pieces[0].lines if line.role == "hole"]
    assert len(holes) == 1
    xs = [x for x, _ in holes[0].paths[0]]
    assert (min(xs), max(xs)) == pytest.approx((145, 155))  # the front is the right half


@pytest.mark.parametrize("code", list(BAD))
def test_what_is_unclear_is_said_at_its_place(code: str) -> None:
    plan = make_plan(taken("x.svg", BAD[code]))
    found = finding(plan, code)
    assert "from the file's left" in found.reason or found.mends
    for mend in found.mends:
        after = make_plan(apply_changes(plan.job, mend.changes))
        assert code not in codes(after), mend.label


def test_an_open_outline_is_closed_by_the_makers_own_word() -> None:
    plan = make_plan(taken("x.svg", BAD["construct.file-open"]))
    found = finding(plan, "construct.file-open")
    assert "1.5 mm" in found.reason
    closed = make_plan(apply_changes(plan.job, found.mends[0].changes))
    assert closed.dress.pieces[0].width.value == pytest.approx(200)


def test_a_file_that_is_gone_is_said_and_nothing_is_lost() -> None:
    job = changed(taken(*FILES["side fold"]), dress__art=())
    plan = make_plan(job)
    assert finding(plan, "construct.file-missing").severity == "stop"
    assert plan.job.construct.from_file.art == "a"


@examples(40)
@given(
    st.lists(st.floats(0.08, 0.92), min_size=0, max_size=6, unique_by=lambda share: round(share, 1)),
    st.floats(60, 250),
    st.floats(40, 200),
    st.floats(-3, 3),
)
def test_parallel_folds_divide_into_one_panel_more_than_there_are_folds(
    shares: list[float], width: float, height: float, over: float
) -> None:
    """Wherever they lie, whether they run past the edges or stop a little short; and the panels' areas add up."""
    ring = ((0.0, 0.0), (width, 0.0), (width, height), (0.0, height))
    folds = [((share * width, -over), (share * width, height + over)) for share in shares]
    found = divide([(ring, True)], folds)
    (part,) = found.parts
    assert len(part.panels) == len(shares) + 1
    kept, ringed = span(part)
    assert len(kept) == len(shares)
    assert not ringed
    whole = sum(abs(_area(outline)) for outline, _ in part.panels)
    assert whole == pytest.approx(width * height, rel=1e-6)


def _area(ring: tuple[tuple[float, float], ...]) -> float:
    return 0.5 * sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(ring, (*ring[1:], ring[0]), strict=True))


def strip(*tabs: bool) -> Job:
    """Sections of three panels of 40 x 150 mm, with or without a tab of 12 mm."""
    paths, folds, x = [], [], 0.0
    for tab in tabs:
        paths.append(box(x, 0, 120 + (12 if tab else 0), 150))
        folds += [f"M {x + 40 * k} 0 V 150" for k in ((1, 2, 3) if tab else (1, 2))]
        x += 150
    job = taken("strip.svg", svg(cuts(*paths) + scores(*folds), x, 200))
    return changed(job, construct__from_file__joined=True)


def test_sections_are_joined_by_their_tabs_and_fold_to_and_fro() -> None:
    plan = make_plan(strip(True, True, False))
    assert [piece.id for piece in plan.dress.pieces] == ["base", "section-2", "section-3"]
    assert [piece.width.value for piece in plan.dress.pieces] == pytest.approx([132, 132, 120])
    assert len(plan.construct.tree.panels) == 9
    closed = plan.construct.closed
    assert (closed.width.value, closed.height.value) == pytest.approx((40, 150))
    paper = plan.brief.paper("card").thickness.value
    assert closed.thickness.value == pytest.approx(10 * paper)  # nine panels and a tab: the tabs lie at opposite edges
    assert audit(plan, again=True) == ()
    assert {face.name for face in plan.construct.tree.faces} >= {"front", "panel 9", "behind front"}


def test_sections_without_tabs_are_said_to_have_none() -> None:
    plan = make_plan(strip(False, False))
    assert finding(plan, "construct.section-tab").severity == "look"
    alone = make_plan(strip(True))
    found = finding(alone, "construct.sections-not-joined")
    assert "construct.sections-not-joined" not in codes(make_plan(apply_changes(alone.job, found.mends[0].changes)))


def test_sections_that_differ_only_in_what_is_drawn_stay_apart() -> None:
    pen = layer("pen", '<path d="M 10 20 H 30" fill="none" stroke="#1f4d2b" stroke-width="0.4"/>')
    job = taken("two.svg", svg(cuts(box(0, 0, 100, 80), box(120, 0, 100, 80)) + pen))
    assert [piece.id for piece in make_plan(job).dress.pieces] == ["base", "part-2"]


def test_a_file_smaller_than_a_card_may_be_is_taken_and_told() -> None:
    plan = make_plan(taken("tiny.svg", svg(cuts(box(0, 0, 30, 9)))))
    assert str(plan.job.brief.width) == "5 in"
    assert plan.dress.pieces[0].height.value == pytest.approx(9)
    assert "construct.file-size" in codes(plan)
