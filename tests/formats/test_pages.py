"""Pages at true size, read back with other libraries: rendered by PDFium, measured with NumPy and Pillow."""

from __future__ import annotations

import io

import numpy as np
import pypdfium2
import pytest
import shapely
from PIL import Image

from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.core.press.pages import Page
from dechirer.core.press.station import PAGES, PRESS
from dechirer.formats.export import export_plan
from dechirer.formats.output import OUTPUTS
from dechirer.formats.outputs.press_page import write_page_pdf, write_page_png
from tests.core.test_prints import COLOURS, four_squares, photo
from tests.dressing import dressed, item, square, step, words
from tests.helpers import changed, quick_job, sheets_of

PX_PER_INCH = 600
PX_PER_MM = PX_PER_INCH / 25.4


def pages_of(plan: Plan) -> tuple[Page, ...]:
    return plan.part(PAGES).pages


def render(plan: Plan, number: int = 0, side: str = "") -> np.ndarray:
    """A page as red, green and blue at 600 px to the inch, as PDFium draws it."""
    page = pages_of(plan)[number]
    document = pypdfium2.PdfDocument(write_page_pdf((page, side or page.face), plan))
    found = np.asarray(document[0].render(scale=PX_PER_INCH / 72 * (1 - 1e-6)).to_pil().convert("RGB"))
    document.close()
    return found


def box_of_colour(seen: np.ndarray, colour: str, within: tuple[float, float, float, float]) -> tuple[float, ...]:
    """Left, top, right, bottom of a colour in a box of a page, in mm."""
    left, top, right, bottom = (round(each * PX_PER_MM) for each in within)
    part = seen[top:bottom, left:right].astype(int)
    wanted = np.array([int(colour[place : place + 2], 16) for place in (1, 3, 5)])
    rows, columns = np.nonzero(np.abs(part - wanted).max(axis=2) < 40)
    assert len(rows)
    edges = (columns.min() + left, rows.min() + top, columns.max() + 1 + left, rows.max() + 1 + top)
    return tuple(each / PX_PER_MM for each in edges)


def top_fold(*items: object, count: int = 8, **more: object) -> Job:
    """A card of 5.5 x 4 in from 5.5 x 8, folded at the top, from letter sheets."""
    card = changed(quick_job("5.5x4in", fold="top-fold"), brief__count=count)
    return sheets_of(dressed(*items, job=card, **more), "8.5 in", "11 in")  # type: ignore[arg-type]


def test_the_page_is_as_large_as_the_sheet_and_is_not_scaled() -> None:
    plan = make_plan(top_fold(item("out", made="print", art="photo", width="40 mm"), arts=(photo(),)))
    (page,) = pages_of(plan)
    data = write_page_pdf((page, page.face), plan)
    document = pypdfium2.PdfDocument(data)
    assert len(document) == 1
    assert document[0].get_mediabox() == pytest.approx((0, 0, 8.5 * 72, 11 * 72), abs=1e-3)
    assert b"/PrintScaling /None" in data
    picture = Image.open(io.BytesIO(write_page_png((page, page.face), plan)))
    assert picture.size == (2550, 3300)
    assert picture.info["dpi"] == pytest.approx((300, 300), abs=0.01)


def test_eight_copies_are_eight_pages_of_two_kinds() -> None:
    from dechirer.core.dress.decisions import Column, Copies, Row

    table = Copies((Column("who"),), (Row(("aunt",), 7), Row(("uncle",), 1)))
    wish = item("wish", made="print", words=words("For my {who}", size="8 mm"))
    plan = make_plan(top_fold(wish, copies=table))
    assert [page.times for page in pages_of(plan)] == [7, 1]
    assert plan.part(PAGES).count.value == 8
    assert [len(page.placements) for page in pages_of(plan)] == [1, 1]
    # The pages are the mats: one layout, never two.
    for page in pages_of(plan):
        layout = next(each for each in plan.lay.layouts if each.id == page.mat)
        assert layout.number == page.number
        assert layout.placements is page.placements


def test_room_to_print_on_a_letter_sheet() -> None:
    """The shipped machine's reader sees 160 x 230 mm: 28 mm at each side of a letter sheet, 24 at each end."""
    plan = make_plan(top_fold(item("out", made="print", art="photo", width="40 mm"), arts=(photo(),)))
    (page,) = pages_of(plan)
    room = page.sheet.room
    assert (room.left, 215.9 - room.right) == pytest.approx((27.95, 27.95), abs=0.01)
    assert (room.top, 279.4 - room.bottom) == pytest.approx((24.7, 24.7), abs=0.01)
    # 6 x 8 in goes with 3.8 mm to spare at each side; 10 x 7 in does not go.
    assert (room.width - 6 * 25.4) / 2 == pytest.approx(3.8, abs=0.01)
    assert max(room.width, room.height) < 10 * 25.4


def test_ink_of_every_copy_lies_in_its_place_in_the_frame_of_the_marks() -> None:
    """Rendered back, red squares and the rings are measured; what the plan says lies within 0.05 mm of that."""
    job = top_fold(
        item("red", made="print", art="art", width="20 mm", colour="#d02020", across="left", x="31 mm"),
        count=2,
    )
    plan = make_plan(job)
    seen = render(plan)
    page = pages_of(plan)[0]
    marks = page.sheet.registration
    assert marks is not None
    centres = []
    for x, y in marks.places:
        left, top, right, bottom = box_of_colour(seen, "#000000", (x - 4.9, y - 4.9, x + 4.9, y + 4.9))
        assert (right - left, bottom - top) == pytest.approx((8.0, 8.0), abs=0.06)
        centres.append(((left + right) / 2, (top + bottom) / 2))
    assert np.abs(np.array(centres) - np.array(marks.places)).max() < 0.05
    for placed in page.placements:
        (part,) = placed.prints()
        want = shapely.Polygon(part.rings[0][0]).bounds
        found = box_of_colour(seen, "#d02020", (want[0] - 3, want[1] - 3, want[2] + 3, want[3] + 3))
        assert found == pytest.approx(want, abs=0.05)


def test_the_bar_measures_a_hundred_millimetres() -> None:
    plan = make_plan(top_fold(item("red", made="print", art="art", width="20 mm", colour="#d02020")))
    seen = render(plan)
    dark = (seen.max(axis=2) < 60).astype(np.int8)
    longest = 0
    for row in dark:
        edges = np.flatnonzero(np.diff(np.concatenate([[0], row, [0]])))
        if len(edges):
            longest = max(longest, int((edges[1::2] - edges[::2]).max()))
    assert longest / PX_PER_MM == pytest.approx(100.0, abs=0.05)


def test_no_line_that_is_run_is_printed_and_nothing_lies_in_the_marks_zones() -> None:
    plan = make_plan(top_fold(item("red", made="print", art="art", width="20 mm", colour="#d02020")))
    seen, page = render(plan), pages_of(plan)[0]
    bare = seen.copy()
    marks = page.sheet.registration
    assert marks is not None
    for x, y in marks.places:
        for radius, inside in ((4.95, True), (4.05, False)):
            box = [round((each) * PX_PER_MM) for each in (x - radius, y - radius, x + radius, y + radius)]
            part = bare[box[1] : box[3], box[0] : box[2]]
            if inside:
                ring = part.copy()
            part[...] = 255
        down, across = np.indices(ring.shape[:2])
        away = np.hypot(down / PX_PER_MM - 4.95, across / PX_PER_MM - 4.95)
        assert ring[(away > 4.1) & (away < 4.9)].min() > 240, "a mark's quiet zone is bare"
    (placed,) = page.placements[:1]
    box = placed.box
    red = box_of_colour(bare, "#d02020", (box.left, box.top, box.right, box.bottom))
    left, top, right, bottom = (round(each * PX_PER_MM) for each in red)
    bare[top - 2 : bottom + 2, left - 2 : right + 2] = 255
    inner = [round(each * PX_PER_MM) for each in (box.left - 0.5, box.top - 0.5, box.right + 0.5, box.bottom + 0.5)]
    assert bare[inner[1] : inner[3], inner[0] : inner[2]].min() > 250, "no cut, no score, no white body"


def test_four_labels_are_printed_each_with_its_own_ink_and_carried_into_its_bleed() -> None:
    job = top_fold(item(art="art", printed=True, width="60 mm"), arts=(four_squares(),), count=1)
    plan = make_plan(job)
    seen = render(plan)
    (page,) = pages_of(plan)
    labels = [placed for placed in page.placements if placed.piece.id.startswith("thing")]
    assert len(labels) == 4
    found = set()
    for placed in labels:
        box = placed.box
        # 20 mm squares; bleed of 2 mm is their own colour, and no neighbour's lies in it.
        inner = seen[
            round((box.top - 1.9) * PX_PER_MM) : round((box.bottom + 1.9) * PX_PER_MM),
            round((box.left - 1.9) * PX_PER_MM) : round((box.right + 1.9) * PX_PER_MM),
        ].reshape(-1, 3)
        values, counts = np.unique(inner // 8, axis=0, return_counts=True)
        common = values[counts > 0.01 * counts.sum()].tolist()
        assert [0, 0, 0] in common
        assert len(common) == 2, "black and its own colour, no white rim, no neighbour"
        found.add(tuple(max(common)))
    first = min((placed.box for placed in labels), key=lambda box: box.left)
    beside = seen[round((first.top + first.bottom) / 2 * PX_PER_MM), round((first.left - 2.3) * PX_PER_MM)]
    assert beside.min() > 240, "past the bleed the sheet is bare"
    assert found == {tuple(int(each[place : place + 2], 16) // 8 for place in (1, 3, 5)) for each in COLOURS}
    assert {plan.part(PRESS).bleed_of(placed.piece.id) for placed in labels} == {2.0}


def test_bare_edges_have_no_bleed_and_the_choice_is_the_makers() -> None:
    inside = item("red", made="print", art="art", width="20 mm", colour="#d02020")
    plan = make_plan(top_fold(inside))
    press = plan.part(PRESS)
    assert press.bleed_of("base") == 0
    assert press.evidence_of("base").share == 0  # type: ignore[union-attr]
    always = make_plan(changed(top_fold(inside), press__bleed="always")).part(PRESS)
    assert always.bleed_of("base") == 2.0
    edge = item("red", made="print", art="art", width="20 mm", colour="#d02020", across="left", x="0 mm")
    assert make_plan(top_fold(edge)).part(PRESS).bleed_of("base") == 2.0
    never = make_plan(changed(top_fold(edge), press__bleed="never")).part(PRESS)
    assert never.bleed_of("base") == 0
    # Cut by the sheet's edge the fit is worse, and the bleed wider.
    by_edge = make_plan(changed(top_fold(edge), press__cut_by="edge")).part(PRESS)
    assert by_edge.bleed_of("base") == pytest.approx(2 * by_edge.papers[0].budgets.unread.mm, abs=1e-9) or (
        by_edge.bleed_of("base") == 2.0
    )
    assert by_edge.papers[0].budgets.used.mm > 5 * press.papers[0].budgets.used.mm


def test_a_picture_that_goes_on_bleeds_with_its_own_pixels() -> None:
    rows = (
        item("picture", made="guide", art="photo", width="60 mm"),
        item("frame", made="guide", art="art", width="20 mm"),
        item("label", of="picture", printed=True, steps=(step("crop", of="frame"),)),
    )
    plan = make_plan(top_fold(*rows, arts=(photo(600, 300), square(10.0)), count=1))
    seen, (page,) = render(plan), pages_of(plan)
    (placed,) = [each for each in page.placements if each.piece.id == "label"]
    y = round((placed.box.top + 10) * PX_PER_MM)
    across = [seen[y, round((placed.box.left + at) * PX_PER_MM)][0] for at in (-1.5, 0.5, 10.0, 19.5, 21.5)]
    # Red grows by 255 over 60 mm, in the bleed as well.
    steps = np.diff(np.array(across, dtype=float)) / np.diff([-1.5, 0.5, 10.0, 19.5, 21.5])
    assert steps == pytest.approx([255 / 60] * 4, abs=1.0)


INKS = {"red": (0xD0, 0x20, 0x20), "blue": (0x20, 0x20, 0xD0)}


def test_both_sides_of_a_sheet_are_two_pages_that_lie_on_each_other() -> None:
    job = top_fold(
        item("out", made="print", art="art", width="20 mm", colour="#d02020", across="left", x="31 mm"),
        item("in", face="inside bottom", made="print", art="art", width="20 mm", colour="#2020d0"),
        count=1,
    )
    plan = make_plan(job)
    (page,) = pages_of(plan)
    assert page.back
    front, back = render(plan), render(plan, side="inside-up")
    (placed,) = page.placements
    inner = next(part for part in placed.piece.prints if part.item == "in").moved(placed.to_sheet)
    left, top, right, bottom = shapely.Polygon(inner.rings[0][0]).bounds
    found = box_of_colour(back, "#2020d0", (0, 0, 215, 279))
    # Turned about its upright middle.
    assert found == pytest.approx((215.9 - right, top, 215.9 - left, bottom), abs=0.05)
    with pytest.raises(AssertionError):
        box_of_colour(front, "#2020d0", (0, 0, 215, 279))
    # Of the two files each has the ink of its own side, and its name says which it is.
    (spec,) = [spec for spec in OUTPUTS if spec.id == "press/{page}.pdf"]
    colours = {}
    for file in spec.files(plan):
        path = file.path
        pixels = pypdfium2.PdfDocument(file.write())[0].render(scale=1).to_numpy().reshape(-1, 3)[:, ::-1].astype(int)
        near = {name: np.abs(pixels - value).sum(axis=1).min() < 40 for name, value in INKS.items()}
        colours[path] = {name for name, is_there in near.items() if is_there}
    assert colours == {f"press/{page.id}.pdf": {"red"}, f"press/{page.id}-back.pdf": {"blue"}}


def test_every_page_is_exported_and_pages_of_before_go(tmp_path: object) -> None:
    from pathlib import Path

    folder = Path(str(tmp_path))
    job = top_fold(item("red", made="print", art="art", width="20 mm", colour="#d02020"))
    export_plan(make_plan(job), folder)
    assert sorted(path.name for path in (folder / "press").iterdir()) == ["page-1.pdf", "page-1.png"]
    export_plan(make_plan(top_fold()), folder)
    assert list((folder / "press").iterdir()) == []
