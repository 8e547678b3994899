"""Fixes do no harm: which of them choose for the user, what "Fix all" leaves, and cut lines that part a card."""

from __future__ import annotations

import pytest
import shapely

from dechirer.core.decide.change import Change
from dechirer.core.finding import Mend
from dechirer.core.fixing import count_pieces, find_harm, fix_all
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.core.plan import Plan, Planner, make_plan
from dechirer.core.shape.severed import find_bodies, find_parting
from dechirer.core.starting import take_card
from dechirer.formats.art.read import read_art
from tests.card_files import box, svg
from tests.core.test_mends import JOBS
from tests.dressing import dressed, item
from tests.helpers import quick_job
from tests.jobs.wandering import wander

SAMPLE = list(JOBS)[::5]
OUTLINE = f'<path d="{box(20, 20, 254, 170)}" fill="none" stroke="#d02020" stroke-width="0.2"/>'


def card(*lines: str, colour: str = "#3a3a3a") -> Job:
    """A card file of one outline, 254 x 170 mm, and lines of another colour."""
    inner = "".join(f'<path d="{line}" fill="none" stroke="{colour}" stroke-width="0.2"/>' for line in lines)
    art = read_art(svg(OUTLINE + inner), "card.svg", set())
    return apply_changes(quick_job(), take_card(quick_job(), art))


def of_code(plan: Plan, code: str) -> list:  # type: ignore[type-arg]
    return [each for each in plan.findings if each.code == code]


@pytest.mark.parametrize(
    ("path", "value", "restores"),
    [
        ("dress.items.kite.place", "centre", True),
        ("construct.window.margin", parse_length("5 mm"), True),
        ("dress.items.kite.made", "guide", False),
        ("dress.art.kite.groups.line.role", "cut", False),
        ("brief.width", parse_length("5 in"), False),
        ("brief.papers.card.weight", "110 lb cover", False),
        ("construct.window", None, False),
    ],
)
def test_what_a_fix_changes_tells_whether_it_chooses(path: str, value: object, restores: bool) -> None:
    assert Mend("x", (Change(path, value),)).restores is restores
    assert Mend("x", (Change(path, value),), "chooses").restores is False


@pytest.mark.parametrize("code", list(JOBS))
def test_a_fix_that_chooses_nothing_does_nothing_else(code: str) -> None:
    job, planner = JOBS[code](), Planner()
    plan = planner.plan(job)
    found = next(each for each in plan.findings if each.code == code)
    for fix in found.mends:
        after = planner.plan(apply_changes(job, fix.changes))
        assert find_harm(plan, after, found, may_change_pieces=not fix.restores) == "", fix.label


@pytest.mark.parametrize("code", SAMPLE)
def test_fix_all_does_no_harm(code: str) -> None:
    planner = Planner()
    plan = planner.plan(JOBS[code]())
    fixed, _ = fix_all(plan, planner)
    assert find_harm(plan, fixed, may_change_pieces=True) == ""
    assert not [each for each in fixed.findings if each.code.endswith(".severed") and plan.stops == 0]


@pytest.mark.parametrize("seed", range(910_000, 910_008))
def test_fixes_of_random_jobs_do_no_harm(seed: int) -> None:
    """`bin/bench fixes` tries 500 of them."""
    job, planner = wander(seed), Planner()
    plan = planner.plan(job)
    fixed, _ = fix_all(plan, planner)
    assert find_harm(plan, fixed, may_change_pieces=True) == ""
    assert set(count_pieces(plan)) <= set(count_pieces(fixed)) | {each.element for each in plan.findings}


# --- lines without a role -------------------------------------------------------------------------------------------


def test_lines_from_edge_to_edge_are_taken_for_folds_first() -> None:
    plan = make_plan(card("M 147 20 V 190"))
    (found,) = of_code(plan, "construct.file-unassigned")
    assert found.mends[0].label == "Score them"
    assert found.colour == "#3a3a3a"
    assert found.safe_fix is None
    folded = make_plan(apply_changes(plan.job, found.mends[0].changes))
    assert len(folded.whole.pieces[0].folds) == 1
    assert not folded.stops


def test_other_lines_are_taken_for_cuts_first_and_each_group_is_asked_for() -> None:
    job = card(box(100, 60, 40, 30))
    (found,) = of_code(make_plan(job), "construct.file-unassigned")
    assert found.mends[0].label == "Cut them"
    inner = '<path d="M 147 20 V 190" fill="none" stroke="#3a3a3a" stroke-width="0.2"/>'
    other = f'<path d="{box(60, 60, 40, 30)}" fill="none" stroke="#a0a000" stroke-width="0.2"/>'
    art = read_art(svg(OUTLINE + inner + other), "card.svg", set())
    plan = make_plan(apply_changes(quick_job(), take_card(quick_job(), art)))
    found_all = of_code(plan, "construct.file-unassigned")
    assert [each.colour for each in found_all] == ["#3a3a3a", "#a0a000"]
    assert len({each.element for each in found_all}) == 2
    for each in found_all:
        assert all(len(fix.changes) == 1 for fix in each.mends)


def test_fix_all_leaves_undecided_lines_to_the_user() -> None:
    planner = Planner()
    plan = planner.plan(card("M 147 20 V 190"))
    fixed, _ = fix_all(plan, planner)
    assert of_code(fixed, "construct.file-unassigned")
    assert [group.role for group in fixed.job.dress.art[0].groups] == ["cut", "unassigned"]


# --- severed --------------------------------------------------------------------------------------------------------


def test_a_cut_from_edge_to_edge_of_a_file_is_a_problem_with_a_fix() -> None:
    job = card("M 147 20 V 190")
    group = job.dress.art[0].groups[1].id
    cut = apply_changes(job, [Change(f"dress.art.{job.dress.art[0].id}.groups.{group}.role", "cut")])
    plan = make_plan(cut)
    (found,) = of_code(plan, "construct.severed")
    assert found.severity == "stop"
    assert "into 2 parts" in found.title
    (fix,) = found.mends
    assert not fix.restores
    after = make_plan(apply_changes(cut, fix.changes))
    assert not of_code(after, "construct.severed")
    assert len(after.whole.pieces[0].folds) == 1


def test_one_group_of_outlines_and_folds_is_split() -> None:
    """Everything in one colour: the outline stays cut, and the line from edge to edge is scored."""
    job = card("M 147 20 V 190", box(60, 60, 40, 30), colour="#d02020")
    plan = make_plan(job)
    (found,) = of_code(plan, "construct.severed")
    after = make_plan(apply_changes(job, found.mends[0].changes))
    assert not of_code(after, "construct.severed")
    (base,) = after.whole.pieces
    assert len(base.folds) == 1
    assert sum(line.role == "hole" for line in base.lines) == 1


def test_cut_art_on_a_face_that_parts_the_card_is_a_problem() -> None:
    strip = item(made="window", art="art", width="300 mm", height="4 mm")
    plan = make_plan(dressed(strip, job=quick_job("5x7in")))
    codes = {each.code for each in plan.findings if each.severity == "stop"}
    assert codes & {"dress.severed", "construct.severed", "dress.off-face", "dress.across-fold"}


@pytest.mark.parametrize(
    ("holes", "slits", "bodies"),
    [
        ((), (((10, 0), (10, 50)),), 2),
        ((), (((10, 0.04), (10, 49.97)),), 2),  # no paper holds across 0.05 mm
        ((), (((10, 0), (10, 45)),), 1),
        ((), (((10, 0), (10, 30), (40, 30), (40, 0)),), 2),
        ((((10, 10), (40, 10), (40, 40), (10, 40)),), (), 1),
        ((((40, -5), (60, -5), (60, 55), (40, 55)),), (), 2),
        ((((40, 10), (60, 10), (60, 40), (40, 40)),), (((50, 0), (50, 10)), ((50, 40), (50, 50))), 2),
        ((), (((10, 0), (10, 50)), ((60, 0), (60, 50))), 3),
    ],
)
def test_bodies_of_a_cut_outline(holes: tuple, slits: tuple, bodies: int) -> None:  # type: ignore[type-arg]
    """Against shapely's own split: a 100 x 50 mm sheet."""
    outline = ((0.0, 0.0), (100.0, 0.0), (100.0, 50.0), (0.0, 50.0))
    found = find_bodies(outline, holes, slits)
    assert len(found) == bodies
    whole = shapely.difference(shapely.box(0, 0, 100, 50), shapely.union_all([shapely.Polygon(each) for each in holes]))
    assert sum(each.area for each in found) == pytest.approx(whole.area, abs=0.01)
    assert bool(find_parting(outline, holes, slits)) == (bodies > 1 and bool(slits))
