"""Values at the edge of what is told: a hair on either side decides."""

from __future__ import annotations

import math

import pytest
import shapely

from dechirer.core.brought import ArtGroup
from dechirer.core.construct.kinds.flap_lock import LEAST_DOOR_MM
from dechirer.core.decide.values import Size
from dechirer.core.dress.drawn import Drawn, Part
from dechirer.core.dress.edits import palette_of
from dechirer.core.dress.recipe import cook
from dechirer.core.dress.tidying import NODE_MM, tidy
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.lay.decisions import set_loading
from dechirer.core.length import format_length, parse_length
from dechirer.core.plan import make_plan
from tests.dressing import art, box_path, dressed, item, step
from tests.helpers import codes, finding, quick_job, typed


@pytest.mark.parametrize(("off", "shown"), [(0.0, "1/32 in"), (0.0009, "1/32 in"), (0.0011, "~1/32 in")])
def test_a_length_off_its_thirty_second_by_more_than_a_thousandth_is_marked(off: float, shown: str) -> None:
    assert format_length(25.4 / 32 + off, "in") == shown
    assert format_length(25.4 / 32 - off, "in") == shown


@pytest.mark.parametrize(
    ("by", "to", "size"),
    [
        ("40 mm", "0 mm", (40, 20)),
        ("40 mm", "10 mm", (20, 10)),
        ("40 mm", "30 mm", (40, 20)),
        ("5 mm", "90 mm", (5, 2.5)),
    ],
)
def test_what_is_fitted_keeps_its_ratio_and_goes_into_both_sides(by: str, to: str, size: tuple[float, float]) -> None:
    drawn = Drawn((Part("cut", "#000000", (shapely.box(3, 7, 103, 57),)),))
    left, top, right, bottom = cook(drawn, (step("fit", by=by, to=to),), {}).box()
    assert (right - left, bottom - top) == pytest.approx(size)
    assert ((left + right) / 2, (top + bottom) / 2) == pytest.approx((53, 32))  # about its own middle


def test_nothing_is_fitted_without_a_width() -> None:
    upright = Drawn((Part("cut", "#000000", (), (shapely.LineString([(5, 0), (5, 9)]),)),))
    assert cook(upright, (step("fit", by="40 mm", to="0 mm"),), {}).box() == (5, 0, 5, 9)


def test_colours_of_groups_that_are_left_out_are_not_at_hand() -> None:
    groups = (
        ArtGroup("one", "one", "cut", (box_path(9, 9),), colour="#112233"),
        ArtGroup("two", "two", "off", (box_path(9, 9, 20),), colour="#445566"),
    )
    job = dressed(item(made="art", art="art"), arts=(art(id="art", groups=groups),))
    assert "#112233" in palette_of(job)
    assert "#445566" not in palette_of(job)
    assert len(set(palette_of(job))) == len(palette_of(job))


@pytest.mark.parametrize(
    ("sheet", "differs"), [("12 x 12.01 in", False), ("12 x 12.03 in", True), ("11.97 x 12 in", True)]
)
def test_a_sheet_differs_from_half_a_millimetre_on(sheet: str, differs: bool) -> None:
    job = quick_job("4x4in")
    assert ("lay.sheet-differs" in codes(make_plan(loaded(job, sheet)))) == differs


def loaded(job: Job, sheet: str) -> Job:
    """A job whose card is loaded as another sheet: `12 x 12.01 in`."""
    wide, high = sheet.removesuffix(" in").split(" x ")
    size = Size(parse_length(f"{wide} in"), parse_length(f"{high} in"))
    return apply_changes(job, [set_loading(job.lay, "card", sheet=size)])


def test_a_sheet_lies_either_way() -> None:
    job = typed(quick_job("4x4in"), "brief.papers.card.sheet", "8.5 x 11 in")
    assert "lay.sheet-differs" not in codes(make_plan(loaded(job, "11 x 8.5 in")))


def test_doors_too_narrow_to_fold_are_mended_to_the_least_that_fold() -> None:
    job = quick_job("3x5in", fold="flap-lock")
    for width in ("60 mm", "50 mm", "45 mm", "40 mm"):
        narrow = typed(job, "brief.width", width)
        if "construct.door-narrow" in codes(make_plan(narrow)):
            break
    found = finding(make_plan(narrow), "construct.door-narrow")
    mended = make_plan(apply_changes(narrow, found.mends[0].changes))
    assert "construct.door-narrow" not in codes(mended)
    assert mended.figures["flap-lock.door"].value == pytest.approx(LEAST_DOOR_MM, abs=1.6)  # to a sixteenth of an inch
    assert mended.figures["flap-lock.door"].value >= LEAST_DOOR_MM - 1e-9


@pytest.mark.parametrize(
    ("other", "told"),
    [
        ({"made": "piece", "paper": "liner-paper"}, True),
        ({"made": "piece", "paper": "liner-paper", "face": "back"}, False),
        ({"made": "window"}, False),
        ({"made": "guide"}, False),
    ],
)
def test_only_a_piece_glued_on_the_same_face_hides_what_is_drawn(other: dict, told: bool) -> None:
    plan = make_plan(dressed(item("ink", made="pen", colour="#000000"), item("other", **other)))
    assert ("dress.under-piece" in codes(plan)) == told


def test_open_lines_lose_needless_nodes_and_stay_where_they_were() -> None:
    wave = shapely.LineString([(0.02 * x, 5 * math.sin(0.02 * x / 4)) for x in range(3000)])
    done, _ = tidy(Drawn((Part("pen", "#000000", (), (wave,)),)), 0.05)
    (line,) = done.lines
    assert len(line.coords) < len(wave.coords) / 5
    assert shapely.hausdorff_distance(line, wave) <= NODE_MM / 2 + 1e-9
