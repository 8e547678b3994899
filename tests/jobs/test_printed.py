"""The printed whole jobs: their figures, their pages read back from the files, and what must be caught in each."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

import numpy as np
import pypdfium2
import pytest
import shapely

from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.lay.decisions import set_loading
from dechirer.core.plan import Plan, make_plan
from dechirer.core.press.pages import Page
from dechirer.core.press.station import PAGES, PRESS
from dechirer.devices.rehearsal import print_and_read
from dechirer.formats.outputs.press_page import write_page_pdf
from tests.helpers import changed, codes, finding, typed
from tests.jobs.made import types
from tests.jobs.made_printed import (
    INKS,
    PRINTED_GOOD,
    job_6_printed_inside_window_above,
    job_8_four_labels,
    job_10_eight_printed,
    job_12_moth,
    job_16_three_crops,
)

IN = 25.4
PX_PER_MM = 600 / IN


@cache
def plan_of(name: str) -> Plan:
    return make_plan(PRINTED_GOOD[name]())


def pages_of(plan: Plan) -> tuple[Page, ...]:
    return plan.part(PAGES).pages


def render(plan: Plan, page: Page) -> np.ndarray:
    document = pypdfium2.PdfDocument(write_page_pdf((page, page.face), plan))
    found = np.asarray(document[0].render(scale=600 / 72 * (1 - 1e-6)).to_pil().convert("RGB"))
    document.close()
    return found


def ink_box(seen: np.ndarray, box: tuple[float, ...], below: int = 200) -> tuple[float, ...]:
    """What is darker than that in a box of a page, as left, top, right, bottom in mm."""
    left, top, right, bottom = (max(0, round(each * PX_PER_MM)) for each in box)
    rows, columns = np.nonzero(seen[top:bottom, left:right].min(axis=2) < below)
    assert len(rows), "no ink"
    edges = columns.min() + left, rows.min() + top, columns.max() + 1 + left, rows.max() + 1 + top
    return tuple(each / PX_PER_MM for each in edges)


@pytest.mark.parametrize("name", list(PRINTED_GOOD))
def test_nothing_stops_and_every_sheet_is_read_and_fits(name: str) -> None:
    plan = plan_of(name)
    assert not [each.title for each in plan.findings if each.severity == "stop"]
    assert pages_of(plan)
    for page in pages_of(plan):
        for seed in (page.number, 40 + page.number):
            found = print_and_read(plan, page, seed)
            assert found.reading is not None
            assert found.reading.map is not None, found.reading.refused
            assert found.typical < 0.13
            assert found.worst < 0.4
            bleeds = [plan.part(PRESS).bleed_of(placed.piece.id) for placed in page.placements]
            assert not any(bleeds) or found.worst < min(each for each in bleeds if each)


@pytest.mark.parametrize("name", list(PRINTED_GOOD))
def test_ink_lies_on_the_page_where_the_piece_is_cut(name: str) -> None:
    """Every print of every copy, by its box, from the page rendered at 600 pixels to the inch."""
    plan = plan_of(name)
    for page in pages_of(plan):
        seen = render(plan, page)
        for placed in page.placements:
            parts = [part for part in placed.prints() if part.raster is None]
            for part in parts:
                shapes = [shapely.Polygon(outer, holes) for outer, *holes in (*part.rings, *part.bleed)]
                want = shapely.union_all([each.buffer(0) for each in shapes]).bounds
                if max(int(part.colour[at : at + 2], 16) for at in (1, 3, 5)) > 250:
                    continue
                others = [each for each in parts if each is not part]
                if others:  # one ink over another: its box is not to be told
                    continue
                around = (want[0] - 1, want[1] - 1, want[2] + 1, want[3] + 1)
                assert ink_box(seen, around) == pytest.approx(want, abs=0.07), part.name


def test_6_inside_up_mirrored_window_one_sheet_and_no_bleed() -> None:
    plan = plan_of("6 printed")
    (page,) = pages_of(plan)
    assert (page.face, page.times, page.back) == ("inside-up", 1, False)
    evidence = plan.part(PRESS).evidence_of("base")
    assert evidence is not None
    assert (evidence.bleed, evidence.share) == (0.0, 0.0)
    figure = plan.figures["press.bleed.base"]
    assert figure.source == "none: every edge that is cut is bare paper"
    base = next(placed for placed in page.placements if placed.piece.id == "base")
    assert {line.operation for line in base.lines()} == {"score", "cut"}
    assert plan.figures["base.fold.at"].value == pytest.approx(4 * IN)
    # Seen from the inside, the message stands in the lower half and the window in the upper.
    (message,) = base.prints()
    low = shapely.MultiPolygon([shapely.Polygon(area[0]) for area in message.rings]).bounds
    window = next(line for line in base.lines() if line.role == "window").paths[0]
    fold = base.box.top + 4 * IN
    halves = {low[1] > fold, low[3] > fold}, {y > fold for _, y in window}
    assert [len(each) for each in halves] == [1, 1]
    assert halves[0] != halves[1]
    printing = {each.key for each in plan.run.minutes.inputs}
    assert {"run.printing", "run.drying"} <= printing


def test_8_four_labels_each_with_its_own_ink_on_borders_that_are_cut() -> None:
    plan = plan_of("8 printed")
    pieces = {piece.id: piece for piece in plan.dress.pieces}
    labels = [piece for id, piece in pieces.items() if id.startswith("label")]
    borders = [piece for id, piece in pieces.items() if id.startswith("border")]
    assert (len(labels), len(borders)) == (4, 4)
    assert [piece.count for piece in (*labels, *borders)] == [1] * 8
    assert all(not piece.prints and piece.paper == "navy" for piece in borders)
    for piece in borders:
        assert piece.width.value == pytest.approx(50 + 2 * IN / 8, abs=0.01)
    found = set()
    for page in pages_of(plan):
        seen = render(plan, page)
        for placed in page.placements:
            box = placed.box
            # Its bleed is its own black rim, its middle its own colour: none of a neighbour's.
            x, y = (round((a + b) / 2 * PX_PER_MM) for a, b in ((box.left, box.right), (box.top, box.bottom)))
            found.add("#" + "".join(f"{each:02x}" for each in seen[y, x].tolist()))
            beside = seen[y, round((box.left - 1.0) * PX_PER_MM)]
            assert beside.max() < 40, "the rim's own black goes on past the cut"
    assert found == set(INKS)
    # On foam: 2 mm and two papers over two thicknesses of the base.
    thick = {paper: plan.brief.paper(paper).thickness.value for paper in ("heavy", "navy", "label")}
    wanted = 2 * thick["heavy"] + thick["navy"] + thick["label"] + 2.0
    assert plan.construct.closed.thickness.value == pytest.approx(wanted)


def test_10_eight_pages_of_two_kinds_one_to_a_page() -> None:
    plan = plan_of("10 printed")
    assert [page.times for page in pages_of(plan)] == [7, 1]
    assert plan.figures["press.pages"].value == 8
    assert [len(page.placements) for page in pages_of(plan)] == [1, 1]
    assert len({layout.id for layout in plan.lay.layouts}) == 2
    spare = make_plan(changed(job_10_eight_printed(), press__spoiled=1))
    assert spare.figures["press.pages"].value == 10
    boxes = []
    for page in pages_of(plan):
        (placed,) = page.placements
        assert (placed.box.width, placed.box.height) == pytest.approx((5.5 * IN, 8 * IN), abs=0.01)
        boxes.append(
            ink_box(render(plan, page), (placed.box.left, placed.box.top, placed.box.right, placed.box.bottom))
        )
    assert abs((boxes[0][2] - boxes[0][0]) - (boxes[1][2] - boxes[1][0])) > 2, "the eighth says something else"


def test_12_the_back_mates_with_the_front_and_the_size_of_the_note_is_fixed() -> None:
    plan = plan_of("12 printed")
    pieces = {piece.id: piece for piece in plan.dress.pieces}
    assert pieces["moth"].width.value == pieces["moth-back"].width.value == pytest.approx(34.0, abs=0.01)
    assert pieces["moth"].prints
    assert not pieces["moth-back"].prints
    assert "construct.holder-thick" in codes(plan)


def test_16_crops_are_concentric_and_their_pixels_enough() -> None:
    plan = plan_of("16 printed")
    pieces = {piece.id: piece for piece in plan.dress.pieces}
    assert pieces["large"].width.value == pytest.approx(4.9 * IN, abs=0.01)
    assert pieces["under"].width.value == pytest.approx(5.2 * IN, abs=0.01)
    middles = []
    for name in ("large", "middle", "small"):
        (part,) = pieces[name].prints
        assert part.raster is not None
        assert part.raster.px_per_inch > 300
        size = pieces[name].width.value
        middles.append(part.raster.to.inverse()((size / 2, size / 2)))
    assert np.ptp(np.array(middles), axis=0).max() < 1.5, "one place of the picture lies in the middle of all three"
    film = next(each for each in plan.run.minutes.inputs if each.key == "run.film")
    assert film.value == pytest.approx(1.5 * plan.figures["press.pages"].value)


def loaded(job: Job, face: str) -> Job:
    return apply_changes(job, [set_loading(job.lay, "sheet", face=face)])


CAUGHT: dict[str, tuple[Callable[[], Job], str]] = {
    "6 words over the fold": (lambda: job_6_printed_inside_window_above("-4 mm"), "dress.ink-across-fold"),
    "6 panel too large": (
        lambda: types(job_6_printed_inside_window_above(), construct__window__margin="1 1/4 in"),
        "construct.backer-over-edge",
    ),
    "6 glossy": (
        lambda: changed(job_6_printed_inside_window_above(), brief__papers__sheet__finish="glossy"),
        "press.marks-unread",
    ),
    "6 face down": (lambda: loaded(job_6_printed_inside_window_above(), "outside-up"), "press.face-down"),
    "6 tool not there": (
        lambda: changed(job_6_printed_inside_window_above(), run__tools=("creasing-point",)),
        "run.tool-missing",
    ),
    "8 few pixels": (lambda: job_8_four_labels("80 mm", 800), "press.few-pixels"),
    "10 the eighth too long": (
        lambda: job_10_eight_printed((*["us"] * 7, "Aunt Wilhelmina of the lower saltmarsh"), "12 mm"),
        "dress.words-cut-off",
    ),
    "10 copies and pages": (
        lambda: changed(job_10_eight_printed(), brief__count=6),
        "dress.copies-count",
    ),
    "12 resized": (lambda: job_12_moth(resized=True), "dress.mates-differ"),
    "12 ink over straps": (lambda: job_12_moth(over_straps=True), "dress.words-over-cuts"),
    "16 film on marks": (lambda: job_16_three_crops("whole"), "press.film-over-marks"),
    "16 few pixels": (lambda: job_16_three_crops(px=700), "press.few-pixels"),
}


@pytest.mark.parametrize("name", list(CAUGHT))
def test_what_must_be_caught_is_caught_and_mended(name: str) -> None:
    make, code = CAUGHT[name]
    job = make()
    found = finding(make_plan(job), code)
    assert found.reason
    for mend in found.mends[:1]:
        after = make_plan(apply_changes(job, mend.changes))
        assert (code, found.element) not in [(each.code, each.element) for each in after.findings]


def test_stated_as_4_by_6_its_blank_disagrees() -> None:
    """Somebody calls the card 4 x 6: the flat size typed for its blank is then not that of the card."""
    job = typed(job_10_eight_printed(), "brief.blank", "4 x 6 in")
    assert "brief.blank-disagrees" in codes(make_plan(job))
