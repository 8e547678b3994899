"""Findings name what they are about and nothing beside it, and their mends change that alone."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from dechirer.core.brief.machine import load_machines
from dechirer.core.brought import ArtGroup
from dechirer.core.card.piece import Line
from dechirer.core.construct.checks.papers import find_narrow_strips
from dechirer.core.construct.seen import CardSeen
from dechirer.core.construct.station import CARD
from dechirer.core.dress.decisions import Column, Copies, Row
from dechirer.core.length import parse_length
from dechirer.core.plan import make_plan
from tests.dressing import art, box_path, dressed, item, square, stroked
from tests.helpers import changed, codes, finding, mended, quick_job, typed
from tests.jobs.made_printed import job_8_four_labels


def test_only_groups_without_a_role_are_named_and_given_one() -> None:
    groups = (
        ArtGroup("a", "left", "unassigned", (box_path(9, 9), box_path(9, 9, 20))),
        ArtGroup("b", "right", "cut", (box_path(20, 20, 0, 20),)),
    )
    job = dressed(item(made="art"), arts=(art(groups=groups, width=40, height=40),))
    found = finding(make_plan(job), "dress.unassigned")
    assert "“left”" in found.title
    assert found.reason.startswith("2 lines")
    assert "right" not in f"{found.title} {found.reason}"
    for mend in found.mends:
        assert {change.path for change in mend.changes} == {"dress.art.art.groups.a.role"}


def test_a_column_for_an_item_that_is_gone_is_taken_out_with_its_entries_and_no_other() -> None:
    columns = (Column("name"), Column("picture", carries="gone"), Column("town"))
    rows = (Row(("Ann", "", "Hythe")), Row(("Bo", "", "Rye")))
    job = dressed(item(), job=quick_job("5x7in", count=2), copies=Copies(columns, rows))
    after = mended(job, "dress.stand-in-unknown").job.dress.copies
    assert [column.name for column in after.columns] == ["name", "town"]
    assert [row.entries for row in after.rows] == [("Ann", "Hythe"), ("Bo", "Rye")]


def test_the_room_to_print_on_a_small_sheet_is_what_the_printer_and_the_marks_leave_of_it() -> None:
    plan = make_plan(typed(job_8_four_labels(), "brief.papers.label.sheet", "148 x 210 mm"))
    strip = load_machines()["heron-12"].reader.strip  # type: ignore[union-attr]
    for side, whole in (("width", 148.0), ("height", 210.0)):
        room = plan.figures[f"press.label.room.{side}"]
        sheet, bare, marks = room.inputs
        assert (sheet.value, marks.value) == (whole, strip)
        assert room.value == pytest.approx(whole - bare.value - 2 * strip)


@pytest.mark.parametrize(
    ("operation", "role", "told"), [("cut", "slit", True), ("score", "fold", False), ("cut", "tick", False)]
)
def test_a_strip_is_what_is_left_between_cuts_and_not_between_scores_or_ticks(
    operation: str, role: str, told: bool
) -> None:
    plan = make_plan(changed(dressed(item(made="window"), arts=(square(),)), dress__items=()))
    piece = plan.construct.pieces[0]
    across = tuple(
        Line(f"l-{n}", "line", operation, (((30.0, 40.0 + n), (60.0, 40.0 + n)),), role=role)  # type: ignore[arg-type]
        for n in range(2)
    )
    other = Line("far", "line", "cut", (((30.0, 90.0), (60.0, 90.0)),), role="slit")
    made = replace(plan.construct, pieces=(replace(piece, lines=(*across, other, *piece.lines[-1:])),))
    seen = CardSeen(plan.job.brief, plan.job.construct, plan.brief, plan.part(CARD), made, "mm")
    assert bool(list(find_narrow_strips(seen))) == told


@pytest.mark.parametrize("operation", ["pen", "score"])
def test_a_line_without_an_area_that_runs_over_an_opening_is_found_by_its_length(operation: str) -> None:
    hole = item("hole", made="window", art="hole", width="30 mm")
    wave = item("wave", made=operation, art="stroke", width="20 mm")
    job = dressed(hole, wave, arts=(square(id="hole"), stroked(0.1)))
    assert finding(make_plan(job), "dress.over-opening").element == "wave"
    aside = dressed(
        hole, replace(wave, place=replace(wave.place, down="top", y=parse_length("4 mm"))), arts=job.dress.art
    )
    assert "dress.over-opening" not in codes(make_plan(aside))
