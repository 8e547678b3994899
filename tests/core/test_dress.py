"""Faces dressed as they are seen: where things land on the flat, what they become, and that relations hold."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from scipy.spatial.transform import Rotation

from dechirer.core.brought import ArtGroup
from dechirer.core.card.folding import fold
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import slots_of
from dechirer.core.dress.apart import take_apart
from dechirer.core.dress.decisions import Column, Copies, Row, table_of
from dechirer.core.dress.edits import place_made_of
from dechirer.core.dress.spots import fit_rings
from dechirer.core.dress.step import STEPS
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, JobError, read_job_json, write_job_json
from dechirer.core.length import parse_length
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import load_demo_job
from tests.dressing import art, box_path, dressed, item, square, step, words
from tests.helpers import IN, changed, codes, examples, finding, quick_job, typed


def placed(plan: Plan, id: str = "thing") -> tuple[float, float, float, float]:
    found = plan.dress.item(id)
    assert found is not None
    return found.placed.drawn.box()


def piece(plan: Plan, id: str):
    found = plan.dress.piece(id)
    assert found is not None, [each.id for each in plan.dress.pieces]
    return found


# --- sizes and borders -------------------------------------------------------------------------------------------


def test_a_border_stays_an_eighth_when_the_figure_is_halved() -> None:
    border = step("border", by="1/8 in", corners="mitre")
    for width in ("40 mm", "20 mm"):
        plan = make_plan(dressed(item(width=width, paper="liner-paper", steps=(border,))))
        wide = float(width.split()[0])
        assert piece(plan, "thing").width.value == pytest.approx(wide + 2 * IN / 8, abs=1e-3)
        assert "2 × 1/8 in (border 1)" in piece(plan, "thing").width.sentence("in")


def test_a_border_card_follows_the_figure_it_is_made_of() -> None:
    job = dressed(item("sail", paper="liner-paper"))
    job = apply_changes(job, place_made_of(job, job.dress.items[0], "border"))
    assert [each.id for each in job.dress.items] == ["sail-border", "sail"]  # behind it
    for change in ((), (Change("dress.items.sail.width", typed_length("1 in")),)):
        job = apply_changes(job, change)
        plan = make_plan(job)
        inner, outer = placed(plan, "sail"), placed(plan, "sail-border")
        for a, b, sign in zip(inner, outer, (1, 1, -1, -1), strict=True):
            assert sign * (a - b) == pytest.approx(IN / 8, abs=0.011)


def typed_length(text: str):
    from dechirer.core.length import parse_length

    return parse_length(text)


def test_art_fitted_into_its_region_touches_by_its_outline_with_its_border_on() -> None:
    border = step("border", by="3 mm")
    plan = make_plan(dressed(item(fit_in="5 mm", steps=(border,), paper="liner-paper")))
    left, _top, right, _bottom = placed(plan)
    assert (left, right) == pytest.approx((5, 5 * IN - 5), abs=0.05)
    disc = (
        "M 0 10 C 0 4.4771525 4.4771525 0 10 0 C 15.5228475 0 20 4.4771525 20 10 "
        "C 20 15.5228475 15.5228475 20 10 20 C 4.4771525 20 0 15.5228475 0 10 Z"
    )
    plan = make_plan(dressed(item(fit_in="0 mm", paper="liner-paper"), arts=(art(disc),)))
    left, top, right, bottom = placed(plan)
    assert (right - left, bottom - top) == pytest.approx((5 * IN, 5 * IN), abs=0.05)


def test_a_straight_line_fitted_into_its_region_is_as_long_as_that_is_wide() -> None:
    line = ArtGroup("line", "line", "pen", ("M 0 0 L 20 0",), stroke=0.5)
    plan = make_plan(dressed(item(made="pen", fit_in="5 mm"), arts=(art(groups=(line,), height=0.5),)))
    left, top, right, bottom = placed(plan)
    assert (left, right) == pytest.approx((5, 5 * IN - 5), abs=0.05)
    assert top == pytest.approx(bottom)
    assert 5 < top < 7 * IN - 5


# --- relations ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("place", "left", "top"),
    [
        ({}, (5 * IN - 20) / 2, (7 * IN - 20) / 2),
        ({"across": "left", "x": "7 mm", "down": "top", "y": "9 mm"}, 7, 9),
        ({"across": "right", "x": "7 mm", "down": "bottom", "y": "9 mm"}, 5 * IN - 27, 7 * IN - 29),
        ({"across": "fold", "x": "6 mm"}, 6, (7 * IN - 20) / 2),  # the front's fold is at its left
        ({"across": "edge", "x": "6 mm"}, 5 * IN - 26, (7 * IN - 20) / 2),
        ({"within": "safe", "across": "left", "x": "0 mm"}, 5, (7 * IN - 20) / 2),
    ],
)
def test_items_lie_where_their_relations_put_them(place: dict, left: float, top: float) -> None:
    plan = make_plan(dressed(item(**place, paper="liner-paper")))
    assert placed(plan)[:2] == pytest.approx((left, top), abs=1e-6)


@given(st.sampled_from(["left", "right", "middle", "fold", "edge"]), st.floats(60, 200), st.floats(60, 200))
@examples(25)
def test_relations_hold_when_the_card_changes(across: str, width: float, height: float) -> None:
    job = dressed(item(across=across, x="4 mm", down="bottom", y="6 mm", paper="liner-paper"))
    job = typed(typed(job, "brief.width", f"{width:.1f} mm"), "brief.height", f"{height:.1f} mm")
    left, _, right, bottom = placed(make_plan(job))
    wide, high = float(f"{width:.1f}"), float(f"{height:.1f}")
    assert high - bottom == pytest.approx(6, abs=1e-6)
    wanted = {
        "left": left,
        "fold": left,
        "right": wide - right,
        "edge": wide - right,
        "middle": (left + right - wide) / 2,
    }[across]
    assert wanted == pytest.approx(4, abs=1e-6)


def test_typing_a_distance_keeps_the_item_to_that_side() -> None:
    job = typed(dressed(item(paper="liner-paper")), "dress.items.thing.place.left", "12 mm")
    assert job.dress.items[0].place.across == "left"
    assert placed(make_plan(job))[0] == pytest.approx(12)


def test_an_item_is_placed_in_what_is_seen_of_a_panel_behind_a_skyline() -> None:
    dunes = load_demo_job("dunes")
    faces = [spot.id for spot in make_plan(dunes).dress.spots if "/" not in spot.id]
    for face in faces:
        one = make_plan(dressed(item(face=face, made="print", width="4 mm", within="visible"), job=dunes))
        hidden = [each for each in one.findings if each.code == "dress.hidden"]
        assert not hidden, face


# --- faces and the flat ------------------------------------------------------------------------------------------

LETTER = art("M 0 0 L 12 0 L 12 3 L 3 3 L 3 8 L 9 8 L 9 11 L 3 11 L 3 20 L 0 20 Z", width=12, height=20)
"""An F: neither turned nor mirrored ones look like it."""


@pytest.mark.parametrize("construction", ["side-fold", "top-fold", "gate", "concertina"])
def test_words_read_upright_in_the_folded_card_from_outside(construction: str) -> None:
    """The front's own points are carried by rotations of scipy's, not by our transforms, to where a reader stands."""
    job = quick_job("100x120mm", fold=construction)
    plan = make_plan(dressed(item(made="pen"), job=job, arts=(LETTER,)))
    spot = plan.dress.spot(plan.construct.tree.faces[0].name)
    assert spot is not None
    shown = make_plan(dressed(item(face=spot.id, made="pen"), job=job, arts=(LETTER,)))
    lines = [line for line in piece(shown, spot.piece).lines if line.operation == "pen"]
    (ring,) = lines[0].paths
    tree = shown.construct.tree
    panel, own = tree.panel(spot.panel), piece(shown, spot.piece).tree.panel(spot.panel)
    shift = np.subtract(panel.outline[0], own.outline[0])
    at = np.column_stack([np.asarray(ring) + shift, np.zeros(len(ring))])
    chain = []
    here = spot.panel
    while here != tree.root.id:
        hinge = next(each for each in tree.hinges if each.child == here)
        chain.append(hinge)
        here = hinge.parent
    for hinge in chain:
        start = np.array([*hinge.start, 0.0])
        axis = np.array([*hinge.end, 0.0]) - start
        axis /= np.linalg.norm(axis)
        # A mountain turns the child away from whoever looks at the outside (z up, y down: a left-handed space).
        inward = np.cross(axis, [0, 0, 1.0])
        side = np.sign(np.dot(np.mean([(*p, 0) for p in tree.panel(hinge.child).outline], axis=0) - start, inward))
        way = 1 if hinge.sense == "mountain" else -1
        turn = Rotation.from_rotvec(axis * math.radians(hinge.closed_deg) * way * side)
        at = turn.apply(at - start) + start
    # The front lies outside towards the reader: seen from below the table when it has turned over.
    turned_over = sum(hinge.closed_deg == 180 for hinge in chain) % 2 == 1
    seen = at[:, :2] * ((-1, 1) if turned_over else (1, 1))
    wanted = np.asarray(LETTER_RING)
    fitted = fit_rings(tuple(map(tuple, wanted)), order_like(seen, wanted))
    assert fitted is not None
    assert not fitted.is_mirrored
    assert round(fitted.turn_deg) % 360 in ((0,) if construction != "top-fold" else (0, 180))


LETTER_RING = [(0, 0), (12, 0), (12, 3), (3, 3), (3, 8), (9, 8), (9, 11), (3, 11), (3, 20), (0, 20)]


def order_like(ring: np.ndarray, wanted: np.ndarray):
    """The ring started and run so that its corners go with the wanted ones, if a rigid move can do that."""
    points = [tuple(point) for point in ring.tolist()]
    for way in (points, points[::-1]):
        for first in range(len(way)):
            turned = tuple(way[first:] + way[:first])
            found = fit_rings(tuple(map(tuple, wanted.tolist())), turned)
            if found is not None:
                return turned
    raise AssertionError("no rigid move takes one to the other")


@pytest.mark.parametrize("name", ["invitations", "dunes", "gate", "lock", "collar", "helpers", "stack"])
def test_every_face_of_every_construction_can_be_dressed_and_undressed(name: str) -> None:
    base = load_demo_job(name)
    plan = make_plan(base)
    assert len(plan.dress.spots) >= len(plan.construct.tree.faces) - 1
    for spot in plan.dress.spots:
        mark = item(face=spot.id, made="pen", width="6 mm")
        job = changed(base, dress=dressed(mark, arts=(replace(LETTER, width=12.0),)).dress)
        shown = make_plan(job)
        lines = [line for each in shown.dress.pieces for line in each.lines if line.operation == "pen"]
        assert len(lines) == 1, spot.id
        back = spot.to_piece.inverse()
        (ring,) = lines[0].paths
        seen = [back(point) for point in ring]
        box = placed(shown)
        assert (min(x for x, _ in seen), min(y for _, y in seen)) == pytest.approx(box[:2], abs=1e-6)
        same = spot.to_piece.then(back)
        assert (same.a, same.b, same.c, same.d, same.e, same.f) == pytest.approx((1, 0, 0, 1, 0, 0), abs=1e-9)


def test_marks_on_the_folded_card_lie_on_their_panel() -> None:
    plan = make_plan(load_demo_job("kites"))
    poses = fold(plan.construct.tree, 0.5)
    for mark in plan.dress.marks:
        spot = plan.dress.spot(mark.spot)
        assert spot is not None
        if spot.to_card is None:
            continue
        slab = plan.dress.slabs[spot.slab]
        assert slab.panel in poses
        ground = shapely.Polygon(slab.outline).buffer(0.1)
        for rings in mark.rough:
            assert ground.covers(shapely.Polygon([spot.to_card(point) for point in rings[0]])), mark.item


def test_where_a_thing_lies_is_typed_or_told_in_words() -> None:
    figures = make_plan(dressed(item(across="left", x="7 mm", down="middle", y="2 mm"))).figures
    left, top = figures["thing.left"], figures["thing.top"]
    assert (left.field, left.source) == ("dress.items.thing.place.left", "")
    assert (top.field, top.source) == (None, "kept 2 mm off the middle")
    right = make_plan(dressed(item(across="right", x="7 mm"))).figures["thing.left"]
    assert (right.field, right.source) == (None, "kept 7 mm from the right")


@pytest.mark.parametrize("size", ["24x120mm", "120x24mm", "24x24mm"])
def test_on_a_face_without_a_safe_zone_things_are_placed_on_all_of_it(size: str) -> None:
    job = dressed(item(width="4 mm", within="safe"), job=quick_job(size, fold="flat"))
    found = make_plan(typed(job, "dress.safe", "15 mm")).dress.item("thing")
    assert found is not None
    wide, high = (float(each) for each in size.removesuffix("mm").split("x"))
    assert found.placed.region == pytest.approx((0, 0, wide, high))


# --- what things become ------------------------------------------------------------------------------------------


def test_a_window_cuts_its_face_and_gets_its_backer() -> None:
    plan = make_plan(dressed(item(made="window", paper="liner-paper", margin="4 mm")))
    (hole,) = [line for line in piece(plan, "base").lines if line.role == "hole"]
    assert hole.operation == "cut"
    assert shapely.Polygon(hole.paths[0]).area == pytest.approx(400)
    backer = piece(plan, "thing-backer")
    assert backer.width.value == pytest.approx(28)
    assert backer.paper == "liner-paper"
    slab = plan.dress.slabs[plan.dress.spot("front").slab]  # type: ignore[union-attr]
    assert len(slab.holes) == 1


def test_a_backer_stays_off_the_fold() -> None:
    plan = make_plan(dressed(item(made="window", paper="liner-paper", margin="10 mm", across="fold", x="6 mm")))
    assert piece(plan, "thing-backer").width.value == pytest.approx(20 + 10 + 5.5)


def test_a_window_off_its_panel_has_no_backer_there_and_the_plan_says_that_it_is_off() -> None:
    plan = make_plan(dressed(item(made="window", paper="liner-paper", margin="2 mm", across="left", x="600 mm")))
    assert plan.dress.piece("thing-backer") is None
    assert all(math.isfinite(each.width.value) for each in plan.dress.pieces)
    assert "dress.off-face" in codes(plan)


@pytest.mark.parametrize(
    ("made", "operation"),
    [
        ("pen", "pen"),
        ("foil", "foil"),
        ("kiss", "kiss"),
        ("score", "score"),
        ("perforate", "perforate"),
    ],
)
def test_lines_get_their_operation_and_run_in_order(made: str, operation: str) -> None:
    plan = make_plan(dressed(item(made=made, colour="#aa2200")))
    assert operation in {line.operation for line in piece(plan, "base").lines}
    order = [step.operation for step in plan.run.mats[0].passes]
    wanted = ["pen", "score", "foil", "perforate", "kiss", "cut"]
    assert order == sorted(order, key=wanted.index)


def test_two_inks_are_two_pens_and_a_tool_change() -> None:
    red = item("red", made="pen", colour="#aa2200")
    one = make_plan(dressed(red, item("too", made="pen", colour="#aa2200", down="top", y="20 mm")))
    two = make_plan(dressed(red, item("blue", made="pen", colour="#2244aa", down="top", y="20 mm")))
    assert two.run.changes.value == one.run.changes.value + 1
    assert len([choice for choice in two.run.choices if choice.operation == "pen"]) == 2
    pens = {choice.title for choice in two.run.choices if choice.operation == "pen"}
    assert pens == {"0.4 mm pen, red", "0.4 mm pen, blue"}


def test_printed_areas_are_kept_off_the_mats() -> None:
    plan = make_plan(dressed(item(made="print")))
    assert [mark.form for mark in plan.dress.marks] == ["print"]
    plain = make_plan(dressed())
    assert [len(each.lines) for each in plan.dress.pieces] == [len(each.lines) for each in plain.dress.pieces]


def test_what_lifts_is_cut_open_and_its_hinge_scored_first() -> None:
    lift = step("lift", by="10 mm", side="top")
    plan = make_plan(dressed(item(made="window", steps=(lift,))))
    roles = [(line.role, line.operation) for line in piece(plan, "base").lines]
    assert ("flap", "cut") in roles
    assert roles.index(("flap", "cut")) < roles.index(("outline", "cut"))
    assert not plan.dress.slabs[plan.dress.spot("front").slab].holes  # type: ignore[union-attr]
    (hinge,) = [line for line in piece(plan, "base").lines if line.name.endswith("hinge")]
    assert hinge.operation == "score"


def test_a_piece_keeps_what_is_drawn_on_it_and_the_face_what_reaches_past() -> None:
    plan = make_plan(load_demo_job("kites"))
    tail = [line for line in piece(plan, "base").lines if "sail" in line.id]
    assert tail
    assert all(line.operation == "pen" for line in tail)
    assert not [line for line in piece(plan, "sail").lines if line.operation == "pen"]  # the tail hangs below the sail


def test_an_item_is_taken_apart_into_its_outlines() -> None:
    two = art(box_path(10, 10), box_path(8, 8, 20, 0), width=28, height=10)
    job = dressed(item(paper="liner-paper"), arts=(two,))
    before = make_plan(job)
    assert {each.id for each in before.dress.pieces} >= {"thing-1", "thing-2"}
    after = make_plan(apply_changes(job, take_apart(job, make_plan(job).dress.items[0])))
    assert [each.item.name for each in after.dress.items] == ["thing 1", "thing 2"]
    sizes = sorted(each.width.value for each in after.dress.pieces if each.id.startswith("thing"))
    assert sizes == pytest.approx([8, 10])


def test_groups_with_roles_of_their_own_become_what_they_say() -> None:
    from dechirer.core.brought import ArtGroup

    groups = (
        ArtGroup("out", "out", "cut", (box_path(20, 20),)),
        ArtGroup("fold", "fold", "score", ("M 0 10 L 20 10",), stroke=0.2),
        ArtGroup("ink", "ink", "pen", ("M 5 5 L 15 5",), "#aa2200", 0.3),
        ArtGroup("no", "no", "off", (box_path(2, 2),)),
    )
    plan = make_plan(dressed(item(made="art"), arts=(art(groups=groups),)))
    found = {(line.operation, line.role, line.colour) for line in piece(plan, "base").lines if "thing" in line.id}
    assert found == {("cut", "hole", ""), ("score", "art", ""), ("pen", "art", "#aa2200")}


@pytest.mark.parametrize(
    ("role", "stroke", "area"),
    [("cut", 2.0, 0.0), ("cut", 0.2, 0.0), ("foil", 2.0, 0.0), ("print", 2.0, 40.0), ("print", 0.2, 4.0)],
)
def test_lines_are_run_along_their_middle_and_printed_as_broad_as_they_are(
    role: str, stroke: float, area: float
) -> None:
    line = ArtGroup("line", "line", role, ("M 0 0 L 20 0",), stroke=stroke)  # type: ignore[arg-type]
    plan = make_plan(dressed(item(made="art"), arts=(art(groups=(line,), height=0.0),)))
    drawn = plan.dress.item("thing").placed.drawn  # type: ignore[union-attr]
    assert sum(each.area for each in drawn.areas) == pytest.approx(area)
    assert bool(drawn.lines) == (area == 0)


@pytest.mark.parametrize("made", ["window", "art", "kiss", "foil"])
@pytest.mark.parametrize("width", ["20 mm", "50 mm", "75 mm", "400 mm"])
def test_whether_a_line_is_a_hairline_does_not_depend_on_its_size(made: str, width: str) -> None:
    """A 1 pt line (0.353 mm) round a window is cut once, at any size; it was cut twice from 57 mm on."""
    ring = ArtGroup("ring", "ring", "cut", ("M 0 0 L 50 0 L 50 50 L 0 50 Z",), stroke=25.4 / 72)
    thing = item(made=made, width=width)
    plan = make_plan(dressed(thing, arts=(art(groups=(ring,), width=50.0, height=50.0),)))
    drawn = plan.dress.item("thing").placed.drawn  # type: ignore[union-attr]
    rings = sum(1 + len(each.interiors) for each in drawn.areas) + len(drawn.lines)
    assert rings == 1
    left, top, right, bottom = drawn.box()
    assert (right - left, bottom - top) == pytest.approx((parse_length(width).mm,) * 2)


def test_a_closed_hairline_is_printed_and_foiled_as_a_line() -> None:
    """Not as the area inside it."""
    ring = ArtGroup("ring", "ring", "print", ("M 0 0 L 40 0 L 40 40 L 0 40 Z",), stroke=0.3)
    plan = make_plan(dressed(item(made="art"), arts=(art(groups=(ring,), width=40.0, height=40.0),)))
    drawn = plan.dress.item("thing").placed.drawn  # type: ignore[union-attr]
    assert sum(each.area for each in drawn.areas) == pytest.approx(4 * 40 * 0.3, rel=0.02)
    foiled = dressed(item(made="foil"), arts=(art(groups=(ring,), width=40.0, height=40.0),))
    drawn = make_plan(foiled).dress.item("thing").placed.drawn  # type: ignore[union-attr]
    assert not drawn.areas
    assert sum(each.length for each in drawn.lines) == pytest.approx(160)


# --- copies ------------------------------------------------------------------------------------------------------


def named(count: int, *names: str) -> Job:
    place = item(made="pen", words=words("Dear {name}", face="line-plain", size="6 mm"))
    return dressed(
        place,
        job=quick_job("3x4in", fold="flat", count=count),
        copies=table_of(("name",), tuple((each,) for each in names)),
    )


def test_copies_have_words_of_their_own_and_are_counted() -> None:
    plan = make_plan(named(4, "Ada", "Bo"))
    pieces = [each for each in plan.dress.pieces if each.id.startswith("base")]
    assert [(each.name.split(", ")[1], each.count) for each in pieces] == [("Ada", 2), ("Bo", 2)]
    assert plan.whole.piece_count.value == 4
    ada, bo = (sum(len(line.paths) for line in each.lines if line.operation == "pen") for each in pieces)
    assert ada != bo
    assert sum(layout.repeats * len(layout.placements) for layout in plan.lay.layouts) == 4


def test_too_few_wordings_leave_blanks_and_too_many_are_said() -> None:
    plan = make_plan(named(5, "Ada", "Bo"))
    counts = {each.name.split(", ")[1]: each.count for each in plan.dress.pieces}
    assert counts == {"Ada": 1, "Bo": 1, "blank": 3}
    assert "3 copies" in finding(plan, "dress.copies-count").title
    assert "3 rows for 1" in finding(make_plan(named(1, "A", "B", "C")), "dress.copies-count").title


def test_equal_rows_come_together_and_counts_add_up() -> None:
    """Seven alike and one other, whatever their order: two kinds, one of seven."""
    plan = make_plan(named(8, *["friends"] * 3, "Wilma", *["friends"] * 4))
    assert [(copy.name, copy.count, copy.row) for copy in plan.dress.copies] == [("friends", 7, 0), ("Wilma", 1, 3)]
    counted = changed(named(8, "a", "b"), dress__copies=Copies((Column("name"),), (Row(("a",), 7), Row(("b",), 1))))
    assert [piece.count for piece in make_plan(counted).dress.pieces] == [7, 1]
    assert "dress.copies-count" not in codes(make_plan(counted))
    wrong = changed(counted, brief__count=9)
    found = finding(make_plan(wrong), "dress.copies-count")
    assert found.severity == "stop"
    assert found.mends[0].label == "Make 8 copies"
    rest = changed(counted, dress__copies=Copies((Column("name"),), (Row(("a",), 5), Row(("b",)))))
    assert [piece.count for piece in make_plan(rest).dress.pieces] == [5, 3]


def test_what_all_copies_share_is_cut_for_every_one_of_them() -> None:
    """Four cards of four wordings want four of what does not differ, not one."""
    job = named(4, "A", "B", "C", "D")
    job = changed(job, dress__items=(*job.dress.items, item("shared", width="9 mm", paper="liner-paper")))
    plan = make_plan(job)
    shared = plan.dress.piece("shared")
    assert shared is not None
    assert shared.count == 4


def test_what_stands_in_a_place_takes_it_over_with_its_joins() -> None:
    """A pair of ears for another: placed, sized, cut out of and joined as the first; one that is not there is said."""
    ears = art(box_path(10, 5), id="ears", width=10.0, height=5.0)
    tall = art(box_path(10, 20), id="tall", width=10.0, height=20.0)
    head = item("head", width="30 mm", steps=(step("join", of="ear"),), paper="liner-paper", down="top", y="40 mm")
    ear = item("ear", art="ears", made="guide", width="12 mm", down="bottom", y="135.8 mm")
    table = Copies((Column("ear", "ear"),), (Row(("",), 2), Row(("tall",), 1), Row(("-",), 1)))
    job = dressed(ear, head, job=quick_job("5x7in", count=4), arts=(ears, tall), copies=table)
    plan = make_plan(job)
    heights = {piece.id: piece.height.value for piece in plan.dress.pieces if piece.id.startswith("head")}
    # The ear is 12 mm wide and ends 42 mm down: 6 mm high, or 24 mm; the head is 30 mm square from 40 mm down.
    assert heights == {"head": pytest.approx(34), "head-2": pytest.approx(52), "head-3": pytest.approx(30)}
    assert not plan.stops, codes(plan)
    gone = changed(job, dress__copies=Copies((Column("ear", "ear"),), (Row(("none such",), 4),)))
    found = finding(make_plan(gone), "dress.stand-in-unknown")
    assert "none such" in found.title
    assert "dress.stand-in-unknown" not in codes(make_plan(apply_changes(gone, found.mends[0].changes)))


def test_what_stands_in_a_place_may_itself_be_made_of_a_later_item() -> None:
    """A border of something that comes after the item it stands for is drawn all the same."""
    late = item("late", made="guide", width="10 mm", down="bottom", y="5 mm")
    framed = item("framed", made="guide", of="late", steps=(step("border", by="3 mm"),))
    sign = item("sign", width="8 mm", paper="liner-paper")
    table = Copies((Column("sign", "sign"),), (Row(("",), 1), Row(("framed",), 1)))
    plan = make_plan(dressed(sign, framed, late, job=quick_job("5x7in", count=2), copies=table))
    second = plan.dress.piece("sign-2")
    assert second is not None
    assert second.width.value == pytest.approx(8, abs=0.05)  # its size rule is the first one's
    assert not plan.stops, codes(plan)


def test_what_is_made_of_words_that_differ_differs_too() -> None:
    name = item(
        "name",
        made="piece",
        words=words("{name}", face="pacifico", joined=True, size="20 mm"),
        steps=(step("join"),),
        paper="liner-paper",
    )
    back = item("back", of="name", steps=(step("border", by="2 mm"),))
    job = dressed(
        back, name, job=quick_job("5x7in", liner="1/16", count=2), copies=table_of(("name",), (("ae",), ("mu",)))
    )
    plan = make_plan(job)
    widths = {each.id: each.width.value for each in plan.dress.pieces}
    assert widths["back-1"] != pytest.approx(widths["back-2"])
    assert widths["back-1"] == pytest.approx(widths["name-1"] + 4, abs=0.05)
    assert len([each for each in plan.dress.pieces if each.id.startswith("base")]) == 1  # nothing differs on it


# --- the job -----------------------------------------------------------------------------------------------------


def test_a_dressed_job_is_written_and_read_again() -> None:
    from dechirer.core.dress.words.typefaces import FOLDER
    from dechirer.formats.art.read import read_font

    font = read_font((FOLDER / "lora.ttf").read_bytes(), "mine.ttf", set())
    job = dressed(item(words=words("Own", face=font.id), paper="liner-paper"), fonts=(font,))
    again = read_job_json(write_job_json(job))
    assert again == job
    assert again.dress.fonts[0].data == font.data
    assert make_plan(again).dress.pieces[0].id == "base"
    assert changed(again, dress__safe=typed_length("3 mm")).dress.fonts[0].data is not None


@pytest.mark.parametrize(
    "broken",
    [
        {"items": (item(art="nothing"),)},
        {"items": (item(), item())},
        {"art": (square(), square())},
    ],
)
def test_dress_that_does_not_hold_together_is_refused(broken: dict) -> None:
    plain = replace(dressed().dress)
    with pytest.raises(ValueError, match=r"art|same id"):
        replace(plain, **broken)


def test_items_made_of_each_other_are_refused() -> None:
    job = dressed(item("one"), item("two", of="one"))
    circle = (item("one", of="two"), item("two", of="one"))
    with pytest.raises(JobError, match="circle"):
        apply_changes(job, [Change("dress.items", circle)])


def test_broken_paths_give_nothing_and_say_so() -> None:
    plan = make_plan(dressed(item(), arts=(art("M 0 0 L x y"),)))
    assert "path" in finding(plan, "dress.nothing").reason


@given(
    st.floats(-400, 400),
    st.floats(1, 60),
    st.sampled_from(["border", "round", "relief", "bridge", "lift", "tidy", "fit"]),
)
@examples(60)
def test_any_measure_of_any_step_can_be_planned(by: float, width: float, kind: str) -> None:
    field = slots_of(STEPS[kind].decisions)["by"].field
    by = max(field.least or 0.0, min(by, field.most or 0.0))
    recipe = (step("border", by="2 mm"), step(kind, id="second", by=f"{by:.2f} mm"))
    plan = make_plan(dressed(item(width=f"{width:.2f} mm", steps=recipe, made="window")))
    assert plan.dress.item("thing") is not None


def test_an_ink_that_is_taken_back_is_not_remembered() -> None:
    job = dressed(item(made="print"))
    plain = [mark.colour for mark in make_plan(job).dress.marks]
    red = apply_changes(job, [Change("dress.items.thing.colour", "#aa2200")])
    assert [mark.colour for mark in make_plan(red).dress.marks] == ["#aa2200"]
    cleared = apply_changes(red, [Change("dress.items.thing.colour", None), Change("dress.items.thing.width", None)])
    assert [mark.colour for mark in make_plan(cleared).dress.marks] == plain


def test_an_item_whose_outline_words_fill_can_be_taken_apart() -> None:
    two = art(box_path(40, 20), box_path(8, 8, 60, 0), width=68, height=20)
    filled = item("words", made="print", words=words("in it", fit="shape", shape="thing"))
    job = dressed(item(paper="liner-paper"), filled, arts=(two,))
    after = apply_changes(job, take_apart(job, make_plan(job).dress.items[0]))
    assert after.dress.item("thing").made == "guide"  # type: ignore[union-attr]
    assert make_plan(after).dress.item("words") is not None
