"""Every check of what is printed is provoked once, says what a maker needs, and its mends put it right; and the good
job is left alone."""

from __future__ import annotations

import math
from collections.abc import Callable
from datetime import date

import numpy as np
import pypdfium2
import pytest
from msgspec.structs import replace
from PIL import Image

from dechirer.core.brought import ArtGroup
from dechirer.core.dress.addressed import ADDRESS_SIDE, BLANKS, address_envelope, stamp_place
from dechirer.core.dress.decisions import Column, Copies, Row
from dechirer.core.finding import SEVERITIES
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.lay.decisions import Pin, set_loading
from dechirer.core.plan import make_plan
from dechirer.core.press.records import Calibration
from dechirer.core.press.station import PAGES, PRESS
from dechirer.formats.outputs.press_page import write_page_pdf
from tests.core.test_prints import photo, picture_of
from tests.dressing import art, box_path, dressed, item, square, words
from tests.helpers import attached, changed, codes, finding, quick_job, sheets_of, typed


def card(*items: object, size: str = "5.5x4in", count: int = 1, fold: str = "top-fold", **more: object) -> Job:
    """A card folded at its top from letter sheets, with things on it."""
    job = changed(quick_job(size, fold=fold), brief__count=count)
    return sheets_of(dressed(*items, job=job, **more), "8.5 in", "11 in")  # type: ignore[arg-type]


def large_photo(id: str = "photo") -> object:
    across, down = np.meshgrid(np.linspace(0, 255, 1400), np.linspace(0, 255, 900))
    pixels = np.stack([across, down, np.full_like(across, 90.0)], axis=2).astype(np.uint8)
    return picture_of(Image.fromarray(pixels), id, px_per_inch=300)


def red(**more: object) -> object:
    values = {"made": "print", "art": "art", "width": "20 mm", "colour": "#d02020", **more}
    return item("red", **values)  # type: ignore[arg-type]


def to_the_edge(**more: object) -> object:
    return red(across="left", x="0 mm", **more)


def framed(near: str) -> Job:
    """A frame of 1 mm round a front, so far from its edge."""
    frame = ArtGroup("frame", "frame", "print", (f"{box_path(100, 70)} {box_path(98, 68, 1, 1)}",), rule="evenodd")
    return card(
        item("frame", made="print", art="art", fit_in=near, colour="#203060"),
        size="100 x 70 mm",
        fold="flat",
        arts=(art(groups=(frame,), width=100.0, height=70.0),),
    )


def pinned() -> Job:
    thing = item(art="art", made="piece", printed=True, width="40 mm", colour="#d02020")
    job = card(thing, arts=(square(),), count=2)
    return changed(job, lay__pins=(Pin("card", 1, "thing", 30, 100), Pin("card", 1, "thing", 72.5, 100)))


def off_face(**more: object) -> Job:
    return card(red(**more))


def measured(paper: str, made: str = "2020-02-29") -> Calibration:
    """What was measured of a paper at the shipped printer and machine."""
    return Calibration("c-1", made, paper, "Desk printer", "Heron 12", "marks", right=0.03, spread=0.04, places=35)


def enveloped(*items: object) -> Job:
    """A card in an envelope of its own, with things on that."""
    return dressed(*items, job=attached(quick_job("5x7in"), "envelope"))  # type: ignore[arg-type]


def addressed() -> Job:
    """An envelope that was addressed, before anything was typed into the table."""
    job = enveloped()
    spot = make_plan(job).dress.spot(ADDRESS_SIDE)
    assert spot is not None
    return apply_changes(job, address_envelope(job, spot))


GOOD: dict[str, Callable[[], Job]] = {
    "a photograph in the middle": lambda: card(
        item("out", made="print", art="photo", width="40 mm"), arts=(large_photo(),)
    ),
    "ink to the edge": lambda: card(to_the_edge()),
    "words": lambda: card(item("wish", made="print", words=words("For you", size="8 mm"), colour="#203060")),
    "a frame well inside": lambda: framed("6 mm"),
    "two labels": lambda: changed(pinned(), lay__pins=()),
}
"""Jobs without anything to be found in what is printed."""

CATALOGUE: dict[str, Callable[[], Job]] = {
    "brief.print-too-large": lambda: card(red(), size="10x7in", fold="flat"),
    "press.sheet-too-wide": lambda: typed(card(red()), "brief.papers.card.sheet", "12 x 12"),
    "press.no-reader": lambda: changed(card(red()), brief__machine__reader=None),
    "press.marks-unread": lambda: changed(card(red(colour="#ffe040")), brief__papers__card__colour="#202428"),
    "press.face-down": lambda: apply_changes(card(red()), [set_loading(card().lay, "card", face="inside-up")]),
    "press.both-sides": lambda: card(red(), item("blue", made="print", art="art", face="inside bottom", width="9 mm")),
    "press.no-bleed": lambda: changed(card(to_the_edge()), press__bleed="never"),
    "press.rim-uneven": lambda: changed(framed("1.5 mm"), press__cut_by="edge"),
    "press.few-pixels": lambda: card(item("out", made="print", art="photo", width="60 mm"), arts=(photo(),)),
    "press.ink-like-paper": lambda: changed(card(red()), brief__papers__card__colour="#d02020"),
    "press.film-over-marks": lambda: changed(card(red()), press__film="whole"),
    "press.never-calibrated": lambda: card(red()),
    "press.calibrated-otherwise": lambda: changed(card(red()), press__calibrations=(measured("another card"),)),
    "press.calibration-old": lambda: changed(card(red()), press__calibrations=(measured("card"),)),
    "dress.ink-beside-face": lambda: off_face(across="left", x="-40 mm"),
    "dress.ink-across-fold": lambda: off_face(down="top", y="-3 mm"),
    "dress.words-cut-off": lambda: card(item("wish", made="print", words=words("For all of you", size="30 mm"))),
    "dress.words-over-cuts": lambda: sheets_of(
        dressed(
            item("sum", made="print", words=words("50 notes", size="14 mm")),
            job=quick_job("5x4in", fold="money-holder"),
        ),
        "8.5 in",
        "11 in",
    ),
    "press.blank-margin": lambda: typed(card(red(width="139 mm")), "brief.blank", "5.5 x 8 in"),
    "dress.over-stamp": lambda: enveloped(
        item("post", ADDRESS_SIDE, made="pen", words=words("Post", size="6 mm"), down="top", y="8 mm", across="right")
    ),
    "dress.address-missing": addressed,
    "lay.bleed-meets": pinned,
}

NO_MEND = {"dress.address-missing", "press.never-calibrated", "press.calibrated-otherwise", "press.calibration-old"}
"""What only the maker can put right: a page to be printed, cut and scanned."""


@pytest.mark.parametrize("name", list(GOOD))
def test_a_good_job_is_left_alone(name: str) -> None:
    found = codes(make_plan(GOOD[name]()))
    assert not (set(found) - {"press.never-calibrated"}) & set(CATALOGUE), found


@pytest.mark.parametrize("code", list(CATALOGUE))
def test_a_finding_says_what_is_wrong_and_why(code: str) -> None:
    found = finding(make_plan(CATALOGUE[code]()), code)
    assert found.severity in SEVERITIES
    assert found.title
    assert not found.title.endswith(".")
    assert found.reason.endswith((".", "?"))
    assert found.cost.endswith(".")
    assert found.element
    assert "None" not in found.title + found.reason + found.cost
    assert bool(found.mends) == (code not in NO_MEND)
    for mend in found.mends:
        assert 2 < len(mend.label) < 48


@pytest.mark.parametrize("code", [code for code in CATALOGUE if code not in NO_MEND])
def test_every_mend_puts_it_right(code: str) -> None:
    job = CATALOGUE[code]()
    found = finding(make_plan(job), code)
    for mend in found.mends:
        after = make_plan(apply_changes(job, mend.changes))
        left = [each.reason for each in after.findings if (each.code, each.element) == (code, found.element)]
        assert not left, mend.label


def test_what_is_wrong_in_one_copy_alone_is_found() -> None:
    """The third guest's photograph has too few pixels; and the wording of copy three runs over its fold."""
    table = Copies((Column("who"), Column("out", "out")), (Row(("a", "photo")), Row(("b", "photo")), Row(("c", "few"))))
    job = card(
        item("out", made="print", art="photo", width="50 mm", height="32 mm"),
        arts=(large_photo(), photo(id="few")),
        copies=table,
        count=3,
    )
    assert finding(make_plan(job), "press.few-pixels").severity == "stop"
    names = Copies((Column("who"),), (Row(("Ann",)), Row(("Bo",)), Row(("Bartholomew and Wilhelmina",))))
    long = item("wish", made="print", words=words("{who}", size="9 mm"), colour="#203060", turn_deg=90)
    assert "dress.ink-across-fold" in codes(make_plan(card(long, copies=names, count=3)))


def test_what_was_measured_is_what_the_bleed_goes_by() -> None:
    """The budget is the root of squares of what was measured, worked out here by hand."""
    job = card(to_the_edge())
    paper = job.brief.papers[0].name
    today = date.today().isoformat()
    good = changed(job, press__calibrations=(measured(paper, today),))
    plan = make_plan(good)
    assert not [code for code in codes(plan) if "calibrat" in code]
    budget = plan.part(PRESS).papers[0].budgets.used
    assert budget.mm == pytest.approx(math.sqrt(0.03**2 / 2 + 0.04**2), abs=1e-6)
    wide = replace(measured(paper, today), right=1.5, spread=0.4)
    plan = make_plan(changed(job, press__calibrations=(wide,)))
    assert plan.part(PRESS).bleed_of("base") == pytest.approx(2 * math.sqrt(1.5**2 / 2 + 0.4**2), abs=1e-6)
    askew = replace(measured(paper, today), right=0.0, spread=0.0, wide=0.2, skew_deg=0.1)
    room = plan.part(PRESS).papers[0].sheet.room
    turn = math.radians(0.1) * math.hypot(room.width, room.height) / 2 / math.sqrt(2)
    size = 0.002 * room.width / 2 / math.sqrt(2)
    plan = make_plan(changed(job, press__calibrations=(askew,)))
    assert plan.part(PRESS).papers[0].budgets.used.mm == pytest.approx(math.hypot(turn, size), abs=1e-6)


def test_an_envelope_is_addressed_from_the_table_and_each_differs() -> None:
    job = addressed()
    assert job.dress.copies.words == BLANKS
    rows = tuple(Row((name, "3 Marsh Lane", "Saltmarsh"), 1) for name in ("Ann", "Bo"))
    job = changed(job, brief__count=2, dress__copies=replace(job.dress.copies, rows=rows))
    plan = make_plan(job)
    assert not {"dress.address-missing", "dress.over-stamp", "dress.off-face"} & set(codes(plan))
    envelopes = [piece for piece in plan.dress.pieces if piece.id.startswith("envelope")]
    assert [piece.count for piece in envelopes] == [1, 1]
    assert all(any(line.operation == "pen" for line in piece.lines) for piece in envelopes)
    spot = plan.dress.spot(ADDRESS_SIDE)
    assert spot is not None
    kept = stamp_place(spot)
    assert kept is not None
    assert (kept.right - kept.left, kept.bottom - kept.top) == (74.0, 40.0)
    # Printed instead, each envelope has its own page.
    printed = changed(job, dress__items__address__made="print", dress__items__sender__made="print")
    kinds = [piece for piece in make_plan(printed).dress.pieces if piece.prints]
    assert [piece.count for piece in kinds] == [1, 1]


def test_a_bought_blank_is_printed_by_itself_and_nothing_beside_its_ink() -> None:
    """Nothing is cut of it: a page and no mat. With a window it comes onto its mat, cut by its edge."""
    job = typed(card(red(), count=3), "brief.blank", "5.5 x 8 in")
    plan = make_plan(job)
    (page,) = plan.part(PAGES).pages
    assert (page.mat, page.times, plan.lay.layouts) == ("", 3, ())
    assert (page.sheet.width, page.sheet.height) == pytest.approx((139.7, 203.2))
    assert page.sheet.registration is None
    assert "comes onto no mat" in page.whither
    parts = {each.key: each.value for each in plan.run.minutes.inputs}
    assert parts["run.printing"] == 3 * job.brief.printer.page_minutes
    document = pypdfium2.PdfDocument(write_page_pdf((page, page.face), plan))
    seen = np.asarray(document[0].render(scale=4 * (1 - 1e-6)).to_pil().convert("RGB")).astype(int)
    document.close()
    ink = seen.min(axis=2) < 240
    assert ink.any()
    assert not ((seen.max(axis=2) < 60) & ink).any(), "no bar, no words, no marks in black"
    cut = typed(
        card(red(), item("hole", made="window", art="art", width="9 mm", y="40 mm")), "brief.blank", "5.5 x 8 in"
    )
    plan = make_plan(cut)
    (page,) = plan.part(PAGES).pages
    assert page.mat == plan.lay.layouts[0].id
    assert plan.lay.layouts[0].sheet.registration is None


def test_what_would_fit_is_said_and_fits() -> None:
    """A base of 10 x 7 in does not go on a letter sheet with its marks; the largest card that does is offered."""
    job = CATALOGUE["brief.print-too-large"]()
    found = finding(make_plan(job), "brief.print-too-large")
    labels = [mend.label for mend in found.mends]
    assert any(label.startswith("Make the card") for label in labels)
    assert any("apart" in label for label in labels)
    smaller = next(mend for mend in found.mends if mend.label.startswith("Make the card"))
    after = make_plan(apply_changes(job, smaller.changes))
    assert not after.stops
    # 160 x 230 mm are registered: 10 x 7 in go in as 9.05 in wide at most, and no sixteenth more.
    assert after.job.brief.width.mm == pytest.approx(143 / 16 * 25.4)  # 7 in becomes at most 160 mm
