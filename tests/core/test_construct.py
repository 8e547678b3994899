from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.card.fold import Fold
from dechirer.core.card.foldline import make_fold_lines, perforation_starts
from dechirer.core.card.piece import turn_over
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.core.plan import make_plan
from dechirer.core.shape.affine import mirror_x
from dechirer.core.shape.outline import bounds
from tests.helpers import IN, attached, changed, codes, finding, mended, quick_job, sizes_in, typed


def test_five_by_seven_side_fold() -> None:
    # Plain geometry: folded w x h opens to 2w x h with a score of length h at w.
    plan = make_plan(quick_job("5x7in", liner="1/16"))
    assert sizes_in(plan) == {"base": pytest.approx((10, 7)), "liner": pytest.approx((9.875, 6.875))}
    base, liner = plan.construct.pieces
    assert base.folds[0].at.value == pytest.approx(5 * IN)
    assert base.folds[0].length.value == pytest.approx(7 * IN)
    assert liner.folds[0].at.value == pytest.approx(9.875 / 2 * IN)
    score = next(line for line in base.lines if line.operation == "score")
    assert score.paths == (((5 * IN, 0.0), (5 * IN, pytest.approx(7 * IN))),)


def test_an_eighth_a_side_and_the_note_on_totals() -> None:
    plan = make_plan(quick_job("5x7in", liner="1/8"))
    assert sizes_in(plan)["liner"] == pytest.approx((9.75, 6.75))
    note = make_plan(quick_job("5x7in", liner="1/16")).figures["liner.width"].note
    assert "1/8 in less in all" in note
    assert "9 3/4 × 6 3/4 in" in note


def test_six_by_four_top_fold() -> None:
    base = make_plan(quick_job("6x4in", fold="top-fold")).construct.pieces[0]
    assert (base.width.value, base.height.value) == pytest.approx((6 * IN, 8 * IN))
    assert base.folds[0].at.value == pytest.approx(4 * IN)
    assert base.folds[0].length.value == pytest.approx(6 * IN)
    score = next(line for line in base.lines if line.operation == "score")
    assert score.paths == (((0.0, 4 * IN), (pytest.approx(6 * IN), 4 * IN)),)


def test_a_flat_card_has_no_fold_and_no_liner() -> None:
    job = quick_job("5x7in", fold="flat", liner="1/16")
    plan = make_plan(job)
    assert sizes_in(plan) == {"base": pytest.approx((5, 7))}
    assert not plan.construct.pieces[0].folds
    assert codes(plan).count("construct.liner-on-flat-card") == 1
    assert "liner" in sizes_in(mended(job, "construct.liner-on-flat-card", 1))


def test_the_working_of_the_liner_goes_down_to_what_was_typed() -> None:
    figure = make_plan(quick_job("5x7in", liner="1/16")).figures["liner.width"]
    assert figure.sentence("in") == "10 in (base width) − 2 × 1/16 in (reveal)"
    text = figure.explain("in")
    assert "finished width = 5 in = typed in Brief" in text
    assert "reveal = 1/16 in = typed in Construct" in text
    typed_in = [each.field for _, each in figure.walk() if not each.inputs]
    assert typed_in == ["brief.width", "construct.liner.reveal"]


@given(
    st.floats(20, 400),
    st.floats(20, 400),
    st.sampled_from(["side-fold", "top-fold", "flat"]),
    st.floats(0.1, 9),
    st.sampled_from(["score", "perforate", "ticks", "unmarked"]),
)
def test_every_line_stays_on_its_piece(width: float, height: float, fold: str, reveal: float, kind: str) -> None:
    job = quick_job(f"{width:.3f} x {height:.3f} mm", fold=fold, liner=f"{reveal:.3f} mm")
    plan = make_plan(changed(job, construct__fold__kind=kind, construct__liner__fold__kind=kind))
    for piece in plan.construct.pieces:
        box = bounds(piece.outline)
        for line in piece.lines:
            for path in line.paths:
                assert box.holds(bounds(path), slack=1e-6)
    assert sum(panel_area(panel.outline) for panel in plan.construct.tree.panels) == pytest.approx(
        plan.construct.pieces[0].area
    )


def panel_area(outline: tuple[tuple[float, float], ...]) -> float:
    import shapely

    return float(shapely.Polygon(outline).area)


@given(st.floats(8, 600), st.floats(0, 20), st.floats(0.3, 12), st.floats(0.1, 12))
def test_perforations_are_centred_with_a_land_at_both_ends(
    length: float, ends: float, dash: float, land: float
) -> None:
    starts = perforation_starts(length, ends, dash, land)
    if not starts:
        assert length - 2 * ends < dash + 2 * land + 1e-6
        return
    first, last = starts[0], starts[-1] + dash
    assert first - ends == pytest.approx(length - ends - last, abs=1e-6)  # centred
    assert first - ends >= land - 1e-6  # a whole land at each end (common practice)
    assert first - ends < land + (dash + land) / 2 + 1e-6  # and no dash could be added


def test_turned_over_twice_is_the_piece_and_once_swaps_mountain_and_valley() -> None:
    piece = make_plan(quick_job("5x7in")).construct.pieces[0]
    over = turn_over(piece)
    assert (piece.folds[0].sense, over.folds[0].sense) == ("mountain", "valley")
    again = turn_over(over)
    assert again.lines == piece.lines
    assert mirror_x(254.0)((0.0, 3.0)) == (254.0, 3.0)


@pytest.mark.parametrize(
    ("reveal", "code"),
    [("0", "construct.liner-not-smaller"), ("-1/8", "construct.liner-not-smaller"), ("4", "construct.liner-vanished")],
)
def test_a_liner_that_cannot_be(reveal: str, code: str) -> None:
    job = typed(quick_job("5x7in", liner="1/16"), "construct.liner.reveal", reveal)
    assert finding(make_plan(job), code).severity == "stop"
    assert sizes_in(mended(job, code))["liner"] == pytest.approx((9.875, 6.875))


def test_a_fold_line_that_runs_out_of_the_edge() -> None:
    job = typed(quick_job("5x7in"), "construct.fold.ends", "-1/8")
    found = finding(make_plan(job), "construct.fold-past-edge")
    assert "1/8 in past the edge" in found.reason
    assert "construct.fold-past-edge" not in codes(mended(job, "construct.fold-past-edge"))


@pytest.mark.parametrize(
    ("land", "dash", "code"),
    [
        ("0", "5", "construct.perforation-without-land"),
        ("0.2", "2", "construct.dash-at-edge"),
        ("5", "50", "construct.perforation-without-dash"),
    ],
)
def test_perforations_that_fail(land: str, dash: str, code: str) -> None:
    size = "44.6 x 44.6 mm" if code == "construct.dash-at-edge" else "30 x 40 mm"
    job = changed(quick_job(size), construct__fold__kind="perforate")
    job = typed(typed(job, "construct.fold.land", f"{land} mm"), "construct.fold.dash", f"{dash} mm")
    assert code in codes(make_plan(job))
    assert code not in codes(mended(job, code))


def test_a_blank_that_folds_to_another_size() -> None:
    # A blank 5.5 x 8 folds to 5.5 x 4, not to 6 x 4 (plain arithmetic).
    job = typed(quick_job("6x4in", fold="top-fold"), "brief.blank", "5.5 x 8")
    found = finding(make_plan(job), "brief.blank-disagrees")
    assert "folds to 5 1/2 × 4 in, not 6 × 4 in" in found.title
    assert sizes_in(mended(job, "brief.blank-disagrees"))["base"] == pytest.approx((5.5, 8))
    assert "brief.blank-disagrees" not in codes(mended(job, "brief.blank-disagrees", 1))
    assert "brief.blank-disagrees" not in codes(make_plan(typed(quick_job("5x7in"), "brief.blank", "10 x 7")))


def test_an_iso_size_in_an_inch_job_names_its_american_namesake() -> None:
    job = typed(quick_job("5x7in"), "brief.width", "a6")
    assert finding(make_plan(job), "brief.american-namesake").severity == "note"
    assert sizes_in(mended(job, "brief.american-namesake"))["base"] == pytest.approx((9, 6.25))
    assert "brief.american-namesake" not in codes(make_plan(changed(job, units="mm")))


# --- folds marked one by one ---------------------------------------------------------------------------------------


def marked(job: Job, fold: str, kind: str, **more: object) -> Job:
    return changed(job, **{f"construct__folds__{fold}__kind": kind}, **more)


@pytest.mark.parametrize("kind", ["score", "perforate", "ticks", "unmarked"])
def test_one_fold_is_marked_otherwise_than_the_others(kind: str) -> None:
    """On a gate's left fold; the right one, and the lengths of both, stay as they are."""
    plain = make_plan(quick_job("5x7in", fold="gate")).construct.pieces[0]
    piece = make_plan(marked(quick_job("5x7in", fold="gate"), "base-fold-left", kind)).construct.pieces[0]
    assert {mark.hinge: mark.kind for mark in piece.folds} == {"fold-left": kind, "fold-right": "score"}
    found = {line.id: (line.operation, line.role) for line in piece.lines}
    wanted = {
        "score": ("score", "fold"),
        "perforate": ("perforate", "fold"),
        "ticks": ("cut", "tick"),
        "unmarked": None,
    }
    assert found.get("base-fold-left") == wanted[kind]
    assert found["base-fold-right"] == ("score", "fold")
    assert [mark.at.value for mark in piece.folds] == [mark.at.value for mark in plain.folds]


def test_a_fold_of_the_envelope_is_marked_by_itself() -> None:
    job = marked(attached(quick_job("5x7in"), "envelope"), "envelope-fold-top", "perforate")
    envelope = make_plan(job).construct.piece("envelope")
    assert envelope is not None
    assert [mark.hinge for mark in envelope.folds if mark.kind == "perforate"] == ["fold-top"]


def test_a_fold_perforated_by_itself_is_checked_for_tearing_and_mended() -> None:
    job = changed(
        marked(quick_job("5x7in", fold="gate"), "base-fold-left", "perforate"),
        construct__fold__land=parse_length("0 mm"),
    )
    found = finding(make_plan(job), "construct.perforation-without-land")
    mend = next(mend for mend in found.mends if mend.label == "Score it instead")
    after = make_plan(apply_changes(job, mend.changes))
    assert "construct.perforation-without-land" not in codes(after)


def test_a_fold_is_scored_as_often_as_it_says() -> None:
    """Three grooves on one fold of two: four times the length of a fold in all, read off the tool's path."""
    job = changed(quick_job("5x7in", fold="gate"), **{"construct__folds__base-fold-left__times": 3})
    mat = make_plan(job).run.mats[0]
    runs = [step for step in mat.steps if step.operation == "score"]
    assert sorted(step.line for step in runs) == ["base-fold-left"] * 3 + ["base-fold-right"]


# --- each side, or in all -----------------------------------------------------------------------------------------


def test_a_reveal_in_all_is_half_of_it_on_each_side() -> None:
    """1/8 in in all is 1/16 a side: a liner of 9 7/8 x 6 7/8 in (trade figures), as 1/16 on each side gives."""
    job = changed(quick_job("5x7in", liner="1/8"), construct__liner__counts="total")
    liner = make_plan(job).construct.piece("liner")
    assert liner is not None
    assert (liner.width.value / IN, liner.height.value / IN) == pytest.approx((9.875, 6.875))
    assert "reveal in all" in liner.width.explain("in")
    job = attached(quick_job("5x7in"), "layers")
    each = make_plan(job).construct.piece("layer-1")
    total = make_plan(changed(job, **{"construct__layers__layer-1__counts": "total"})).construct.piece("layer-1")
    assert each is not None
    assert total is not None
    border = job.construct.layers[0].border.mm
    assert total.width.value - each.width.value == pytest.approx(border)


@pytest.mark.parametrize(
    ("length", "ends", "tick"), [(100.0, 0.0, 2.0), (100.0, 4.0, 2.0), (9.0, 3.0, 1.5), (3.0, 0.0, 1.5)]
)
def test_fold_ticks_lie_at_both_ends_and_never_meet(length: float, ends: float, tick: float) -> None:
    fold = Fold(kind="ticks", ends=parse_length(f"{ends} mm"))
    (line,) = make_fold_lines(fold, (0.0, 0.0), (length, 0.0), id="f", sense="valley")
    spans = [sorted(x for x, _ in path) for path in line.paths]
    assert spans == [pytest.approx([ends, ends + tick]), pytest.approx([length - ends - tick, length - ends])]
