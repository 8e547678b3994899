"""Making up: joints, steps, kit list, thickness and schedule against worked geometry and an independent reckoning."""

from __future__ import annotations

import random
from collections.abc import Callable

import numpy as np
import pytest
import shapely

from dechirer.core.card.folding import fold
from dechirer.core.card.hidden import find_collision
from dechirer.core.construct.attached import FOAM_INSET_MM
from dechirer.core.fold.adhesives import ADHESIVES
from dechirer.core.fold.bulk import find_bulk
from dechirer.core.fold.decisions import Trinket
from dechirer.core.fold.joints import FOLD_MM, PAD_APART_MM, Joint, place_pads
from dechirer.core.fold.making import used_parts
from dechirer.core.fold.step import missing_before
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import DEMOS, load_demo_job
from tests.dressing import art, box_path, dressed, item
from tests.helpers import attached, changed, quick_job, typed
from tests.jobs.made import GOOD
from tests.jobs.made_printed import PRINTED_GOOD

PAPER = {"paper": "liner-paper"}
JOBS: dict[str, Callable[[], Job]] = {
    **GOOD,
    **PRINTED_GOOD,
    **{f"demo {name}": lambda name=name: load_demo_job(name) for name in DEMOS},  # type: ignore[misc]
}


def joint_of(plan: Plan, id: str) -> Joint:
    found = plan.making_up.joint(id)
    assert found is not None, [joint.id for joint in plan.making_up.joints]
    return found


def area_of(joint: Joint) -> object:
    return shapely.union_all([shapely.Polygon(rings[0], rings[1:]) for rings in joint.zone])


@pytest.mark.parametrize("name", list(JOBS))
def test_each_part_is_put_in_once_in_an_order_that_can_be_done(name: str) -> None:
    plan = make_plan(JOBS[name]())
    making = plan.making_up
    assert missing_before(making.steps) == []
    for ids in (making.proposed, making.joints, making.kit):
        named = [each.id for each in ids]  # type: ignore[attr-defined]
        assert len(named) == len(set(named))
    used = used_parts(making.steps)
    assert len(used) == len(set(used))
    # Whatever lies in the stack beside the card's own sheet is stuck or put in by some step.
    own = set(plan.construct.made.parts.values())
    stuck = {
        slab.piece for slab in plan.stacked.slabs if slab.piece not in own and slab.piece != "foam" and slab.outline
    }
    assert stuck <= set(used)
    for step in making.steps:
        if step.stage == "fold" and "slot" not in step.words and "slit" not in step.words:
            for share in (0.25, 0.75):
                closed = step.before + share * (step.after - step.before)
                base = [slab for slab in plan.stacked.slabs if slab.bottom == 0.0]
                assert find_collision(plan.stacked.tree, base, closed) is None


def test_the_dressed_demo_has_liner_backer_layers_and_letters_once_each() -> None:
    plan = make_plan(load_demo_job("kites"))
    used = used_parts(plan.making_up.steps)
    assert {"liner", "gulls-backer", "kite-border", "sail", "frame", "dunes", "greeting", "greeting-shadow"} <= set(
        used
    )
    words = [step.words for step in plan.making_up.steps]
    assert words.index("Glue the kite border on the outside of the front") < words.index(
        "Glue the kite sail on the kite border"
    )
    backer = next(place for place, step in enumerate(plan.making_up.steps) if step.id == "glue-gulls-backer")
    second = next(place for place, step in enumerate(plan.making_up.steps) if step.joint == "liner-on-front")
    assert backer < second  # what the liner covers is stuck before it


def test_a_liner_takes_glue_on_its_area_less_the_clearance() -> None:
    """By hand: each half of a liner of 9 7/8 x 6 7/8 in, 3 mm in on three sides, and off the fold."""
    plan = make_plan(quick_job("5x7in", liner="1/16"))
    half = 9.875 / 2 * 25.4 - ADHESIVES["wet"].inset - (FOLD_MM + ADHESIVES["wet"].inset), 6.875 * 25.4 - 6.0
    for panel in ("back", "front"):
        assert joint_of(plan, f"liner-on-{panel}").area == pytest.approx(half[0] * half[1], rel=0.01)


def test_tape_runs_round_and_wet_glue_is_weighed() -> None:
    job = dressed(item(width="40 mm", **PAPER))
    wet = joint_of(make_plan(job), "thing")
    inner = 40 - 2 * 3.0
    assert wet.area == pytest.approx(inner**2, rel=1e-3)
    assert wet.grams == pytest.approx(inner**2 * 40e-6, rel=1e-3)  # 40 g/m2, from memory
    tape = joint_of(make_plan(changed(job, fold__paper_glue="tape")), "thing")
    # 1.5 mm in, and the tape's middle 3 mm more: four sides of 40 - 9 mm.
    assert tape.tape == pytest.approx(4 * (40 - 2 * 1.5 - 6), rel=1e-3)
    assert tape.grams == 0.0


def test_foam_squares_lie_inset_in_the_corners_and_no_place_is_far_from_one() -> None:
    plan = make_plan(dressed(item(width="90 mm", foam="2 mm", **PAPER)))
    joint = joint_of(plan, "thing")
    outline = shapely.Polygon(joint.outlines[0])
    pad = plan.job.fold.pad.mm
    squares = [shapely.box(x - pad / 2, y - pad / 2, x + pad / 2, y + pad / 2) for x, y in joint.squares]
    inner = outline.buffer(-FOAM_INSET_MM, join_style="mitre").buffer(0.02)
    assert all(inner.covers(square) for square in squares)
    assert all(not one.overlaps(other) for one in squares for other in squares if one is not other)
    assert len(squares) == 9  # the corners, their middles and the middle of 90 mm
    corners = np.array(outline.exterior.coords[:-1])
    for corner in corners:
        assert min(np.hypot(*(np.array(place) - corner)) for place in joint.squares) < 1.5 * (FOAM_INSET_MM + pad / 2)


def test_a_round_layer_has_squares_all_round() -> None:
    disc = shapely.Point(0, 0).buffer(36.0)
    places = np.array(place_pads(disc, 12.0))
    assert len(places) >= 4
    assert all(disc.covers(shapely.box(x - 6, y - 6, x + 6, y + 6)) for x, y in places)
    assert np.hypot(*places.mean(0)) < 6.0
    grid = np.array([(x, y) for x in range(-30, 31, 6) for y in range(-30, 31, 6) if np.hypot(x, y) < 30])
    far = np.hypot(*(grid[:, None] - places[None]).transpose(2, 0, 1)).min(1)
    assert far.max() <= PAD_APART_MM / 2 + 6.0


def test_glue_stays_an_eighth_of_an_inch_off_a_domes_flange_and_off_a_pockets_inside() -> None:
    """1/8 in round a dome (common practice)."""
    job = PRINTED_GOOD["12 printed"]()
    plan = make_plan(changed(job, construct__money_holder__holder="dome"))
    zone, own = area_of(joint_of(plan, "back")), plan.job.construct.money_holder
    middle = shapely.Point(plan.job.brief.width.mm / 2, plan.job.brief.height.mm / 2)
    flange = own.dome.mm / 2 + own.rim.mm
    assert shapely.distance(zone, middle) >= flange + 3.175 - 0.05
    pocket = make_plan(attached(quick_job("5x7in"), "pockets"))
    made = pocket.job.construct.pockets[0]
    joint = joint_of(pocket, made.id)
    inside = shapely.Polygon(joint.outlines[0]).buffer(-made.rim.mm, join_style="mitre")
    assert area_of(joint).intersection(inside).area < 1.0  # type: ignore[attr-defined]
    assert "the pocket's inside" in joint.free_of


def test_an_adhesive_chosen_for_one_joint_changes_zone_count_and_waiting() -> None:
    from dechirer.core.fold.decisions import StuckBy

    job = dressed(item("one", width="40 mm", **PAPER), item("two", width="40 mm", down="top", y="10 mm", **PAPER))
    plan = make_plan(changed(job, fold__stuck=(StuckBy("one", "tape"),)))
    one, two = joint_of(plan, "one"), joint_of(plan, "two")
    assert (one.adhesive, two.adhesive) == ("tape", "wet")
    assert one.area > two.area
    waits = {step.joint: step.sets_min for step in plan.making_up.steps}
    assert (waits["one"], waits["two"]) == (0.0, 5.0)
    kit = {row.id: row for row in plan.making_up.kit}
    assert kit["tape"].each >= one.tape
    assert kit["wet"].unit == "g"


@pytest.mark.parametrize("adhesive", ["tape", "dots", "wet", "spray"])
def test_adhesives_are_counted_for_one_card_and_for_all(adhesive: str) -> None:
    from dechirer.core.fold.decisions import StuckBy

    job = dressed(item("one", width="40 mm", **PAPER), job=quick_job("5x7in", count=8))
    (row,) = [
        row
        for row in make_plan(changed(job, fold__stuck=(StuckBy("one", adhesive),))).making_up.kit
        if row.kind == "adhesive"
    ]
    assert row.id == adhesive
    assert row.total == pytest.approx(8 * row.each, rel=0.1)  # each of the two is rounded to what can be measured


def test_loose_middles_that_are_kept_have_a_step_behind_their_backer() -> None:
    ring = f"{box_path(40, 40)} M 10 10 L 10 30 L 30 30 L 30 10 Z"
    job = dressed(
        item(made="window", art="ring", islands="keep", paper="liner-paper"),
        arts=(art(ring, id="ring", width=40, height=40),),
    )
    steps = make_plan(job).making_up.steps
    ids = [step.id for step in steps]
    assert ids.index("glue-thing-backer") < ids.index("middles-thing")
    assert "1 loose middle" in steps[ids.index("middles-thing")].words


# --- thickness --------------------------------------------------------------------------------------------------


def height_at(plan: Plan, x: float, y: float) -> float:
    """How thick the closed card is at a place: slabs turned one by one, and asked whether they lie there."""
    poses = fold(plan.stacked.tree, 1.0)
    total = 0.0
    for slab in plan.stacked.slabs:
        pose = poses[slab.panel]
        outline, *holes = [[pose((*point, slab.bottom))[:2] for point in ring] for ring in (slab.outline, *slab.holes)]
        here = shapely.Point(x, y)
        if shapely.Polygon(outline).covers(here) and not any(shapely.Polygon(hole).contains(here) for hole in holes):
            total += slab.top - slab.bottom
    return total


@pytest.mark.parametrize("seed", range(50))
def test_the_field_of_thickness_is_the_sum_of_what_lies_there(seed: int) -> None:
    pick = random.Random(seed)
    items = []
    for number in range(pick.randint(1, 4)):
        items.append(
            item(
                f"part-{number}",
                face=pick.choice(["front", "inside right"]),
                width=f"{pick.randint(10, 60)} mm",
                x=f"{pick.randint(-25, 25)} mm",
                y=f"{pick.randint(-40, 40)} mm",
                foam=pick.choice(["0 mm", "2 mm"]),
                **PAPER,
            )
        )
    plan = make_plan(dressed(*items))
    bulk = find_bulk(plan.stacked.tree, plan.stacked.slabs)
    assert bulk.most == pytest.approx(plan.construct.closed.thickness.value, abs=1e-6)
    assert height_at(plan, *bulk.highest) == pytest.approx(bulk.most, abs=1e-6)
    for cell in bulk.cells[:6]:
        inner = shapely.Polygon(cell.rings[0], cell.rings[1:]).buffer(-0.3)  # off the slivers beside an edge
        if inner.is_empty:
            continue
        inside = inner.representative_point()
        assert height_at(plan, inside.x, inside.y) == pytest.approx(cell.height, abs=1e-3)


def test_a_card_that_is_thick_at_one_side_rocks() -> None:
    level = make_plan(dressed(item(width="60 mm", foam="3 mm", **PAPER)))
    assert not level.find_bulk().rocks
    aside = make_plan(dressed(item(width="20 mm", foam="3 mm", across="left", x="4 mm", **PAPER)))
    assert aside.find_bulk().rocks


# --- kit list and schedule --------------------------------------------------------------------------------------


def test_the_kit_counts_pieces_spares_and_what_is_put_on_besides() -> None:
    job = dressed(item(spares=3, width="6 mm", **PAPER), job=quick_job("5x7in", count=4, liner="1/16"))
    job = changed(job, fold__trinkets=(Trinket("gem", "gem", 5, on_hand=7),))
    rows = {row.id: row for row in make_plan(job).making_up.kit}
    thing = rows["piece-thing"]
    assert (thing.each, thing.total, thing.spare, thing.tiny) == (1, 7, 3, True)
    gem = rows["put-on-gem"]
    assert (gem.each, gem.total, gem.there, gem.lacking) == (5, 20, 7, 13)
    assert rows["piece-base"].total == 4
    assert rows["envelope"].total == 4


def test_a_line_of_work_dries_while_others_are_worked_on() -> None:
    """By hand: one card waits for every joint; in a line only what the others do not fill is waited for."""
    job = quick_job("5x7in", count=12, liner="1/16")
    schedule = make_plan(job).making_up.schedule
    steps = make_plan(job).making_up.steps
    alone = sum((step.setup_s + step.hands_s) / 60 + step.sets_min for step in steps)
    assert schedule.each == pytest.approx(12 * alone, rel=1e-6)
    assert schedule.way == "line"
    work = sum(step.setup_s + 12 * step.hands_s for step in steps) / 60
    assert work <= schedule.line < schedule.each
    two = make_plan(changed(job, fold__hands=2)).making_up.schedule
    assert two.line < schedule.line
    assert schedule.minutes.value == pytest.approx(sum(part.value for part in schedule.minutes.inputs))


def test_a_day_it_is_wanted_gives_a_day_to_begin() -> None:
    job = typed(quick_job("5x7in", count=12), "brief.due", "2026-05-02")
    schedule = make_plan(job).making_up.schedule
    assert schedule.days == 1
    assert schedule.start_by == "2026-05-01"
    assert schedule.late == 0
    slow = make_plan(changed(typed(job, "fold.begins", "2026-05-01"), brief__count=400)).making_up.schedule
    assert slow.late == slow.days - 1 > 0


@pytest.mark.parametrize("text", ["tomorrow", "2026-13-01", "2026-02-30", "02.05.2026"])
def test_a_day_that_is_none_is_refused(text: str) -> None:
    from dechirer.core.decide.refusal import FieldError
    from dechirer.core.job.model import JobError

    with pytest.raises((FieldError, JobError), match=r"is no day|at most"):
        typed(quick_job(), "brief.due", text)


def test_weeding_peels_from_the_corner_farthest_from_what_is_narrow() -> None:
    plan = make_plan(load_demo_job("kites"))
    maps = {each.mat: each for each in plan.making_up.weeding}
    assert set(maps) == {mat.layout.id for mat in plan.run.mats}
    drops = sum(len(each.drops) for each in maps.values())
    rings = sum(
        len(line.paths)
        for mat in plan.run.mats
        for placed in mat.layout.placements
        for line in placed.piece.run_lines
        if line.closed and line.operation == "cut" and line.role != "outline"
    )
    assert drops + sum(len(each.middles) for each in maps.values()) == rings
