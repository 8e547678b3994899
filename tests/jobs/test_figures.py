"""The whole jobs' figures, and what must be caught in each: no stop on the right job, a finding on each wrong one."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable

import pytest
from msgspec.structs import replace

from dechirer.core.card.folding import fold
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.core.run.decisions import keep_setting
from dechirer.core.run.settings import Setting
from tests.card_files import lock_file
from tests.dressing import item, step, words
from tests.helpers import attached, changed, codes, finding, mended
from tests.jobs import made
from tests.jobs.made import types

IN = 25.4


def inches(plan: Plan, key: str) -> float:
    return plan.figures[key].value / IN


def size_of(plan: Plan, piece: str) -> tuple[float, float]:
    found = plan.whole.piece(piece)
    assert found is not None, piece
    return found.width.value / IN, found.height.value / IN


# --- right ------------------------------------------------------------------------------------------------------


def test_1_blanks_are_loaded_by_themselves_and_only_slit_and_drawn() -> None:
    plan = make_plan(made.job_1_slit_cards())
    blank = next(layout for layout in plan.lay.layouts if layout.is_blank)
    assert (blank.repeats, blank.sheet.width, blank.sheet.height) == pytest.approx((1, 4.25 * IN, 5.5 * IN))
    assert len(blank.placements) == 4
    assert {each.operation for mat in plan.run.mats if mat.layout is blank for each in mat.passes} == {"pen", "cut"}
    slits = [line for line in plan.whole.pieces[0].lines if line.role == "slit"]
    assert len(slits[0].paths) == 4


def test_1_two_sizes_are_two_loads_of_one_run() -> None:
    plan = make_plan(made.job_1_both_sizes())
    loads = [layout for layout in plan.lay.layouts if layout.is_blank]
    assert [(each.sheet.mat.id, len(each.placements), each.repeats) for each in loads] == [("four-cards", 4, 1)] * 2
    assert {round(each.sheet.width / IN, 2) for each in loads} == {4.25, 5.0}
    assert plan.run.changes.value <= 1
    assert plan.run.minutes.value / 8 < 8
    rows = [row for layout in loads for row in plan.slots_of(layout)]
    small = [row.design.split(", ")[-1] for row in rows if "5 x 7" not in row.design]
    assert sorted(small) == ["Dune", "Gull", "Wren", "Wren"]


def test_2_liner_and_foil() -> None:
    plan = make_plan(made.job_2_window_with_foil_behind())
    assert size_of(plan, "base") == pytest.approx((10, 7))
    assert size_of(plan, "liner") == pytest.approx((9.875, 6.875))
    fold = plan.whole.piece("liner").folds[0]  # type: ignore[union-attr]
    assert fold.at.value / IN == pytest.approx(9.875 / 2)
    assert fold.length.value / IN == pytest.approx(6.875)
    assert size_of(make_plan(made.job_2_window_with_foil_behind("1/8")), "liner") == pytest.approx((9.75, 6.75))
    # The foil is at hand, 4.5 in square: not cut, counted, and it leaves 1/4 in of glue round a ring of 60 mm.
    assert plan.dress.piece("ring-backer") is None
    foil = next(thing for thing in plan.dress.at_hand if thing.id == "ring-backer")
    assert (foil.width, foil.height, foil.count) == pytest.approx((114.3, 114.3, 1))
    inside = next(piece for piece in plan.dress.pieces if piece.id == "liner")
    assert any(line.operation == "pen" for line in inside.lines)
    assert [slab.piece for slab in plan.dress.slabs].count("base") == 3  # front, back, and the middle that is set back
    assert "lay.wrong-side" not in codes(plan)  # card and liner are one paper, and each is drawn on its right side


def test_3_disc() -> None:
    # Plain geometry (trade figures): flat 10.281 high, closed 5.141; petals upright 2 x body, turned 1.707 x.
    plan = make_plan(made.job_3_disc_hinged_at_its_top())
    assert inches(plan, "base.height") == pytest.approx(10.281, abs=1e-3)
    assert inches(plan, "card.closed-height") == pytest.approx(5.141, abs=1e-3)
    body = plan.figures["envelope.long"].value
    assert body == pytest.approx(5.25 * IN + 6.35 + plan.construct.closed.thickness.value, abs=1e-6)
    # Two layers over each other, 2 and 1 mm of foam, on two thicknesses of the base.
    papers = {paper: plan.brief.paper(paper).thickness.value for paper in ("heavy", "navy", "foil")}
    wanted = 2 * papers["heavy"] + papers["navy"] + papers["foil"] + 3.0
    assert plan.construct.closed.thickness.value == pytest.approx(wanted)
    share = 1 + math.sqrt(2) / 2 if 2 * body > 11.5 * IN else 2.0
    assert plan.figures["envelope.width"].value == pytest.approx(share * body, abs=1e-6)


@pytest.mark.parametrize("width", ["3 3/4 in", "2 1/2 in"])
def test_4_border_and_backing_stay_as_wide_at_any_size(width: str) -> None:
    plan = make_plan(made.job_4_figure_cut_as_a_frame(width))
    inner = plan.figures["frame.ink-width"].value
    frame, backing = plan.dress.piece("frame"), plan.dress.piece("backing")
    assert frame is not None
    assert backing is not None
    assert frame.width.value == pytest.approx(inner + 2, abs=0.03)
    assert backing.width.value == pytest.approx(inner + 4, abs=0.03)


def test_5_backer_first_and_clear_of_the_fold() -> None:
    plan = make_plan(made.job_5_peel_away())
    order = [{placed.piece.id for placed in mat.layout.placements} for mat in plan.run.mats]
    assert order.index({"peel-backer"}) < order.index({"base"})
    assert {each.operation for mat in plan.run.mats if mat.layout.is_blank for each in mat.passes} == {"pen", "kiss"}


def test_5_in_the_corner_the_design_is_turned_by_half_round_the_middle_of_the_front() -> None:
    plan = make_plan(made.job_5_peel_away(mat="main"))
    placed = next(layout.placements[0] for layout in plan.lay.layouts if layout.is_blank)
    front = plan.construct.tree.faces[0]
    middle = placed.to_sheet(front.to_flat((front.width / 2, front.height / 2)))
    assert middle == pytest.approx((2.125 * IN, 2.75 * IN))  # trade.md, plain geometry
    assert placed.half
    small = make_plan(made.job_5_peel_away("wren-card"))
    assert {each.sheet.mat.id for each in small.lay.layouts if each.is_blank} == {"one-card"}


def test_6_window_above_the_fold_is_mirrored_on_a_sheet_that_lies_inside_up() -> None:
    plan = make_plan(made.job_6_window_above())
    base = plan.whole.pieces[0]
    assert (base.width.value / IN, base.height.value / IN) == pytest.approx((6, 8))
    assert base.folds[0].at.value / IN == pytest.approx(4)
    assert base.folds[0].length.value / IN == pytest.approx(6)
    assert size_of(plan, "backer") == pytest.approx((3.5, 2.5))
    window = next(line for line in base.lines if line.role == "window").paths[0]
    assert min(y for _, y in window) > 4 * IN  # outside up the front is the lower panel


def test_7_folds_of_the_envelope_are_told_where_they_lie() -> None:
    plan = make_plan(made.job_7_foiled_card_and_envelope())
    envelope = plan.whole.piece("envelope")
    assert envelope is not None
    for mark in envelope.folds:
        level = mark.start[1] if mark.edge == "top" else mark.start[0]
        assert mark.at.value == pytest.approx(level, abs=1e-6)
    foil = [each for mat in plan.run.mats for each in mat.passes if each.operation == "foil"]
    assert foil


def test_8_each_label_has_a_border_of_its_own() -> None:
    plan = make_plan(made.job_8_labels_on_borders())
    for number in (1, 2):
        label, border = plan.dress.piece(f"label-{number}"), plan.dress.piece(f"border-label-{number}")
        assert label is not None
        assert border is not None
        assert border.width.value == pytest.approx(label.width.value + 2 * IN / 8, abs=0.03)
        assert (label.paper, border.paper) == ("foil", "navy")
    flat = make_plan(made.start("5x7in", "side-fold"))
    papers = {paper: plan.brief.paper(paper).thickness.value for paper in ("navy", "foil")}
    thick = flat.construct.closed.thickness.value + 2.0 + papers["navy"] + papers["foil"]
    assert plan.construct.closed.thickness.value == pytest.approx(thick)  # label on border on foam
    wide = sum(plan.dress.piece(f"label-{n}").width.value for n in (1, 2))  # type: ignore[union-attr]
    assert wide == pytest.approx(4 * IN * 70 / 90, abs=0.02)  # 40 and 30 of 90, of 4 in


def test_10_seven_and_one() -> None:
    plan = make_plan(made.job_10_eight_cards_one_worded_otherwise())
    counts = sorted(piece.count for piece in plan.dress.pieces)
    assert sum(counts) == 8
    assert sum(layout.repeats * len(layout.placements) for layout in plan.lay.layouts) == 8


@pytest.mark.parametrize(("version", "larger"), [("scored", 1.0), ("dashed", 1.02)])
def test_11_each_version_is_sized_by_its_square(version: str, larger: float) -> None:
    """The square is 2 3/4 in in both; the outlines differ by 2 %. The doors fold over the middle, the lock's last."""
    plan = make_plan(made.job_11_locking_gate_from_a_file(version))
    scale = 2.75 * IN / 60
    base = plan.dress.pieces[0]
    hole = next(line for line in base.lines if line.role == "hole")
    xs = [x for x, _ in hole.paths[0]]
    assert max(xs) - min(xs) == pytest.approx(2.75 * IN, abs=0.02)
    assert base.width.value == pytest.approx(224 * larger * scale, abs=0.6)  # the tongue's tip is round
    assert base.height.value == pytest.approx(120 * larger * scale, abs=0.02)
    assert sorted(mark.at.value for mark in base.folds) == pytest.approx(
        [50 * larger * scale, 150 * larger * scale], abs=0.05
    )
    assert plan.construct.closed.height.value == pytest.approx(120 * larger * scale, abs=0.02)
    assert [line.role for line in base.lines].count("slit") == 1
    assert base.count == 2
    # The door with the slot closes first; the other's tongue passes it, so that its head lies behind that door.
    slotted, *tongue = (
        sorted(fold(plan.construct.tree, 1.0)[panel]((0.0, 0.0, z))[2] for z in (slab.bottom, slab.top))
        for panel in ("panel-1", "panel-3")
        for slab in plan.construct.slabs
        if slab.panel == panel
    )
    below, head = tongue
    assert below[1] <= slotted[0] + 1e-9
    assert head[0] >= slotted[1] - 1e-9


def test_17_three_sections_are_one_strip_scaled_together() -> None:
    plan = make_plan(made.job_17_concertina_from_a_file())
    sections = [piece for piece in plan.dress.pieces if piece.id in ("base", "section-2", "section-3")]
    assert [size_of(plan, piece.id) for piece in sections] == [pytest.approx((291.4 / IN, 8.5), abs=0.001)] * 3
    # Strings: one, two and three lines of the pen, each on its own section.
    assert [sum(len(line.paths) for line in piece.lines if line.operation == "pen") for piece in sections] == [1, 2, 3]
    closed = plan.construct.closed
    assert (inches(plan, "card.closed-width"), inches(plan, "card.closed-height")) == pytest.approx(
        (5.5, 8.5), abs=1e-3
    )
    # Six panels and two tabs over each other, the letters on their foam.
    heavy, navy = (plan.brief.paper(paper).thickness.value for paper in ("heavy", "navy"))
    assert closed.thickness.value >= 6 * heavy + 1.5 + navy - 1e-6
    assert "construct.card-larger-than-envelope" not in codes(plan)
    senses = [hinge.sense for hinge in plan.construct.tree.hinges]
    assert all(one != other for one, other in itertools.pairwise(senses))


@pytest.mark.parametrize("size", ["6x4in", "4x6in"])
def test_13_the_same_envelope_upright_and_lying(size: str) -> None:
    # Plain geometry (trade figures): body 6.25 x 4.25, flaps 2.706 and 1.840, flat 9.93 x 9.66, overlap 1.16.
    plan = make_plan(made.job_13_envelope_alone(size))
    found = [inches(plan, f"envelope.{key}") for key in ("width", "height", "overlap", "flap-top", "flap-side")]
    assert found == pytest.approx([9.93, 9.66, 1.16, 2.706, 1.840], abs=0.006)


def test_14_the_shadow_stays_as_wide_when_the_words_shrink() -> None:
    job = made.job_14_collar_with_strap()
    for width in ("60 mm", "40 mm"):
        plan = make_plan(changed(job, **{"dress__items__word__width": made.parse_length(width)}))
        word, shadow = plan.dress.item("word"), plan.dress.item("shadow")
        assert word is not None
        assert shadow is not None
        inner, outer = word.placed.drawn.box(), shadow.placed.drawn.box()
        assert (outer[2] - outer[0]) - (inner[2] - inner[0]) == pytest.approx(4.8, abs=0.03)
    slit = make_plan(job).figures["collar.slit"].value
    assert slit >= job.construct.collar.strap.mm + job.construct.collar.clearance.mm


def test_15_equal_gaps() -> None:
    # Plain geometry: (188 - 2 x 6 - 122) / 7 between motifs of 19, 13, 16, 13 twice.
    plan = make_plan(made.job_15_edge_topper())
    assert plan.figures["row.gap"].value == pytest.approx((188 - 2 * 6 - 122) / 7)


def test_16_concentric_layers_and_the_height_of_foam() -> None:
    plan = make_plan(made.job_16_stack_on_foam())
    assert [size_of(plan, f"stack-{n}")[0] for n in (1, 2, 3)] == pytest.approx([4.9, 3.9, 2.9])
    assert size_of(plan, "stack-1-border")[0] == pytest.approx(5.2)
    assert plan.construct.closed.thickness.value > 3 * 2
    assert inches(plan, "envelope.long") * IN == pytest.approx(
        5.25 * IN + 6.35 + plan.construct.closed.thickness.value, abs=1e-6
    )


# --- wrong ------------------------------------------------------------------------------------------------------

WRONG: dict[str, tuple[Callable[[], Job], str]] = {
    "1: a large design on a small blank": (
        lambda: types(made.job_1_slit_cards(), brief__width="5 in", brief__height="7 in"),
        "brief.blank-disagrees",
    ),
    "1: an insert of the card's colour": (
        lambda: changed(made.job_1_slit_cards(), construct__slits__paper="card"),
        "construct.colours-alike",
    ),
    "1: loops that catch": (
        lambda: types(made.job_1_slit_cards(), construct__slits__ease="0.2 mm"),
        "construct.slit-catch",
    ),
    "2: too little glue round the window": (
        lambda: apply_changes(
            made.job_2_window_with_foil_behind(), [Change("dress.items.ring.width", made.parse_length("4.2 in"))]
        ),
        "dress.backer-narrow",
    ),
    "8: foam over the envelope's ease": (
        lambda: changed(
            attached(made.job_8_labels_on_borders(), "bought"),
            construct__bought__name="US A7",
            **{"dress__items__border-label-1__foam": made.parse_length("6 mm")},
        ),
        "construct.card-larger-than-envelope",
    ),
    "11: a head too narrow to hold": (
        lambda: made.job_11_locking_gate_from_a_file("scored", lock_file(1.0, "scored", broad=12.0)),
        "construct.lock-slips",
    ),
    "11: a slot shorter than the neck": (
        lambda: made.job_11_locking_gate_from_a_file(
            "scored", lock_file(1.0, "scored").replace(b"M 6 53.0 V 67.0", b"M 6 54.5 V 65.5")
        ),
        "construct.strap-wider-than-slot",
    ),
    "11: the size of the other version": (
        lambda: changed(
            changed(made.job_11_locking_gate_from_a_file(), dress__art__lock__locked=False),
            dress__art__lock__scale=1.25,
        ),
        "construct.file-size",
    ),
    "14: ticks are checked fold by fold": (
        lambda: types(
            changed(made.job_14_collar_with_strap(), **{"construct__folds__base-fold-strap__kind": "ticks"}),
            construct__collar__neck="9 mm",
        ),
        "construct.neck-narrow",
    ),
    "17: stock too light to stand": (
        lambda: types(made.job_17_concertina_from_a_file(), brief__papers__heavy__weight="65 lb cover"),
        "construct.will-not-stand",
    ),
    "17: an envelope without room for the bulk": (
        lambda: made.job_17_concertina_from_a_file("8.7 in"),
        "construct.card-larger-than-envelope",
    ),
    "17: a section without its tab": (
        lambda: changed(
            made.job_17_concertina_from_a_file(),
            dress__art__strings__groups=tuple(
                replace(group, role="off") if group.name == "score" else group
                for group in made.job_17_concertina_from_a_file().dress.art[0].groups
            ),
        ),
        "construct.sections-not-joined",
    ),
    "17: a line left unassigned": (
        lambda: changed(
            made.job_17_concertina_from_a_file(),
            dress__art__strings__groups=tuple(
                replace(group, role="unassigned") if group.role == "pen" else group
                for group in made.job_17_concertina_from_a_file().dress.art[0].groups
            ),
        ),
        "construct.file-unassigned",
    ),
    "17: letters over a fold": (
        lambda: changed(
            made.job_17_concertina_from_a_file(),
            dress__items__letters__place=item(across="left", x="-15 mm").place,
        ),
        "dress.across-fold",
    ),
    "3: petals on a card that is not square": (
        lambda: types(made.job_3_disc_hinged_at_its_top(), brief__height="4 in"),
        "construct.petals-not-square",
    ),
    "4: details too fine": (
        lambda: changed(made.job_4_figure_cut_as_a_frame("4 mm"), dress__items__frame__steps=()),
        "dress.web-narrow",
    ),
    "4: an envelope of the other A2": (
        lambda: changed(attached(made.start("105x148mm", "side-fold"), "bought"), construct__bought__name="US A2"),
        "construct.card-larger-than-envelope",
    ),
    "5: a kiss cut with nothing behind": (
        lambda: made.dress(
            made.start("4x5in", "side-fold"),
            item("sun", made="kiss", width="30 mm"),
            arts=(replace(made.RING, id="art"),),
        ),
        "dress.kiss-without-backer",
    ),
    "5: details too small to peel": (
        lambda: types(made.job_5_peel_away(), construct__peel__width="5 mm", construct__peel__height="5 mm"),
        "construct.peel-fine",
    ),
    "6: words across the fold": (
        lambda: made.dress(
            made.job_6_window_above(),
            item("hi", made="pen", words=words("Hello there", size="12 mm"), across="middle", down="fold", y="-5 mm"),
        ),
        "dress.across-fold",
    ),
    "6: a panel too small for its glue": (
        lambda: types(made.job_6_window_above(), construct__window__height="3.51 in"),
        "construct.backer-over-edge",
    ),
    "7: a tip that is not owned": (
        lambda: changed(made.job_7_foiled_card_and_envelope(), run__tools=("thin-card-blade", "creasing-point", "pen")),
        "run.tool-missing",
    ),
    "9: a tab too narrow": (
        lambda: types(made.job_9_concertina_scene(), construct__concertina__tab="4 mm"),
        "construct.tab-narrow",
    ),
    "9: an opening beyond the inlay": (
        lambda: changed(
            made.job_9_concertina_scene(),
            dress__items__opening__place=item(across="left", x="2 mm", down="top", y="2 mm").place,
        ),
        "dress.beyond-inlay",
    ),
    "9: a stock too light to stand": (
        lambda: types(made.job_9_concertina_scene(), brief__papers__heavy__weight="20 lb bond"),
        "construct.will-not-stand",
    ),
    "10: the stated size": (
        lambda: types(made.job_10_eight_cards_one_worded_otherwise(), brief__blank="8 x 6 in"),
        "brief.blank-disagrees",
    ),
    "10: the eighth word too long": (
        lambda: made.job_10_eight_cards_one_worded_otherwise(
            (*["us"] * 7, "the assistant harbourmaster of the northern quay")
        ),
        "dress.off-face",
    ),
    "12: ink over the straps": (
        lambda: made.dress(
            made.job_12_money_holder(), item("amount", made="window", words=words("50", face="lora", size="40 mm"))
        ),
        "dress.cuts-into",
    ),
    "13: a square card": (lambda: made.job_13_envelope_alone("5.25x5.25in"), "construct.flaps-apart"),
    "14: words over the fold": (
        lambda: changed(
            made.job_14_collar_with_strap(), dress__items__word__place=item(across="fold", x="-12 mm").place
        ),
        "dress.across-fold",
    ),
    "14: a strap that tears at its ticks": (
        lambda: types(
            changed(made.job_14_collar_with_strap(), construct__fold__kind="ticks"), construct__collar__neck="9 mm"
        ),
        "construct.neck-narrow",
    ),
    "14: a strap wider than its slit": (
        lambda: types(made.job_14_collar_with_strap(), construct__collar__clearance="-2 mm"),
        "construct.strap-wider-than-slot",
    ),
    "15: 13 mm too small to lift": (
        lambda: changed(made.job_15_edge_topper(), **{"construct__flap_row__motifs__motif-2__cut": "flaps"}),
        "construct.flap-small",
    ),
    "15: strips too thin": (
        lambda: types(made.job_15_edge_topper(), construct__flap_row__strip="1 mm"),
        "construct.flap-strip-narrow",
    ),
    "16: a block as large as the front": (
        lambda: types(made.job_16_stack_on_foam(), construct__stack__width="5.4 in", construct__stack__height="5.4 in"),
        "construct.layer-size",
    ),
}


def test_7_without_a_foil_tip_it_is_drawn_instead() -> None:
    job = changed(made.job_7_foiled_card_and_envelope(), run__tools=("thin-card-blade", "creasing-point", "pen"))
    found = finding(make_plan(job), "run.tool-missing")
    mend = next(each for each in found.mends if each.label == "Draw it with a pen instead")
    after = make_plan(apply_changes(job, mend.changes))
    assert "run.tool-missing" not in codes(after)
    operations = {each.operation for mat in after.run.mats for each in mat.passes}
    assert "pen" in operations
    assert "foil" not in operations


def test_5_its_depth_is_asked_for_until_it_was_tried() -> None:
    job = made.job_5_peel_away()
    assert "run.kiss-untested" in codes(make_plan(job))
    tried = apply_changes(job, [keep_setting(job.run, Setting("card", "thin-card-blade", 1, 0.22))])
    assert "run.kiss-untested" not in codes(make_plan(tried))


@pytest.mark.parametrize("name", list(WRONG))
def test_what_must_be_caught_is_caught_and_mended(name: str) -> None:
    make, code = WRONG[name]
    job = make()
    found = finding(make_plan(job), code)
    assert found.severity in ("stop", "look")
    if found.mends:
        after = mended(job, code)
        assert (code, found.element) not in {(each.code, each.element) for each in after.findings}


def test_a_border_is_lost_by_no_scaling() -> None:
    """15: a border is made at the final size, whatever the size."""
    for width in ("20 mm", "60 mm"):
        job = made.dress(
            made.start("5x7in", "side-fold"),
            item("leaf", made="piece", width=width, steps=(step("border", by="1.5 mm"),), paper="navy"),
            arts=(replace(made.RING, id="art"),),
        )
        piece = make_plan(job).dress.piece("leaf")
        assert piece is not None
        assert piece.width.value == pytest.approx(float(width.split()[0]) + 3, abs=0.02)
