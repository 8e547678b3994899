"""Scans of cut calibration pages, drawn by Pillow alone, measured; and scans of something else, refused in words."""

from __future__ import annotations

import io
import json
from functools import cache
from pathlib import Path

import numpy as np
import pypdfium2
import pytest
import svgelements
from click.testing import CliRunner
from PIL import Image, ImageDraw

from dechirer.cli import command
from dechirer.core.decide.values import Size
from dechirer.core.length import parse_length
from dechirer.core.press.calibration import CalibrationPage, fit_places, make_calibration_page, middle_of
from dechirer.core.press.room import load_page
from dechirer.devices.printer import Faults, print_page
from dechirer.formats.pages.calibration import make_calibration_pdf, make_calibration_svg
from dechirer.formats.scans.finding import ScanError
from dechirer.formats.scans.measure import Scan, join_scans, measure_scan
from dechirer.formats.scans.opening import open_scan
from dechirer.formats.scans.reading import read_scans
from tests.helpers import quick_job
from tests.scans import draw_scan

MM_AWAY = 25.4 / 300 * 0.06
"""Single squares are drawn on a grid of a third of a pixel; this is what of that is left."""


@cache
def page(by_marks: bool = True) -> CalibrationPage:
    """The calibration page of a letter sheet on the shipped machine."""
    brief = quick_job().brief
    size = Size(parse_length("8.5 in"), parse_length("11 in"))
    return make_calibration_page(load_page(size, brief.machine, brief.printer, by_marks=by_marks), brief.machine.reader)


def worst_of_fit(scan: Scan, of: CalibrationPage) -> float:
    """How far the even map through a scan is from what is true of the drawn page, at its crosses, in micrometres."""
    found = fit_places(tuple(of.crosses[number] for number in scan.numbers), scan.off)
    middle, (wide, high) = middle_of(of.crosses), (of.sheet.width / 2, of.sheet.height / 2)
    worst = 0.0
    for x, y in of.crosses:
        right, down = found.at((x, y), middle)
        dx, dy = x - wide, y - high
        true = (0.35 + 0.003 * dx - 0.004 * dy, -0.2 - 0.002 * dy + 0.004 * dx)
        worst = max(worst, 1000 * float(np.hypot(right - true[0], down - true[1])))
    return worst


@pytest.mark.parametrize(
    ("most", "way"),
    [
        (10, {"skew_deg": 1.5}),
        (10, {"skew_deg": -3.0, "turned": True}),
        (25, {"skew_deg": 1.0, "ppi": 150}),
        (10, {"skew_deg": 2.0, "hair": True, "uneven": 0.2, "noise": 4.0}),
        (60, {"cutter": 0.05, "seed": 3}),
        (20, {"backing": 228}),
    ],
)
def test_print_and_cut_are_measured_to_micrometres(most: float, way: dict) -> None:
    grey, off = draw_scan(page(), **way)
    scan = measure_scan(grey, way.get("ppi", 300.0), page())
    assert scan.turned == way.get("turned", False)
    assert len(scan.numbers) >= 33
    assert worst_of_fit(scan, page()) < most
    pairs = zip(scan.numbers, scan.off, strict=True)
    away = [np.hypot(x - off[number][0], y - off[number][1]) for number, (x, y) in pairs]
    assert np.median(away) < 2 * MM_AWAY + 0.01


def test_a_scan_that_does_not_say_its_size_is_measured_as_well() -> None:
    grey, _ = draw_scan(page(), ppi=150)
    scan = measure_scan(grey, None, page())
    assert scan.px_per_inch == pytest.approx(150, rel=0.005)
    assert worst_of_fit(scan, page()) < 25


def test_a_page_without_marks_of_its_own_has_rings_to_be_found_by() -> None:
    by_edge = page(by_marks=False)
    assert not by_edge.read
    grey, _ = draw_scan(by_edge, ppi=200)
    assert worst_of_fit(measure_scan(grey, 200.0, by_edge), by_edge) < 20


def test_a_second_scan_turned_by_half_cancels_what_hangs_on_the_way_it_lay() -> None:
    """A shadow moves what is read the same way on the glass, so the other way on the page."""
    numbers = tuple(range(6))
    true = tuple((0.1 * number, -0.2) for number in numbers)
    one = Scan(numbers, tuple((x, y + 0.05) for x, y in true), (), 300.0, False)
    other = Scan((*numbers[:5],), tuple((x, y - 0.05) for x, y in true[:5]), ((5, "dust"),), 300.0, True)
    joined = join_scans([one, other])
    assert joined.numbers == numbers[:5]
    assert np.allclose(joined.off, true[:5])
    assert joined.missing == ((5, "dust"),)
    assert not joined.remarks
    assert "same way" in join_scans([one, one]).remarks[0]


def test_the_stated_spread_is_honest() -> None:
    """Of many pages with cutter errors, nine in ten or more truths lie within two standard errors."""
    random = np.random.default_rng(11)
    crosses, middle = page().crosses, middle_of(page().crosses)
    inside, count = 0, 0
    for _ in range(200):
        off = [
            (0.3 + 0.002 * (x - middle[0]) + random.normal(0, 0.05), 0.001 * (y - middle[1]) + random.normal(0, 0.05))
            for x, y in crosses
        ]
        found = fit_places(crosses, tuple(off))
        values = (found.right, found.down, found.wide, found.high, found.skew_deg)
        for value, true, error in zip(values, (0.3, 0.0, 0.2, 0.1, 0.0), found.errors, strict=True):
            inside += abs(value - true) <= 2 * error
            count += 1
    assert 0.9 <= inside / count <= 0.98


def test_the_printed_page_has_its_crosses_where_they_are_cut() -> None:
    """The PDF rendered by PDFium, its squares cut out of the picture by Pillow from the SVG's own numbers."""
    sheet = print_page(make_calibration_pdf(page(), "card"), Faults(shift_x=0.4, scale_y=0.001), px_per_inch=600)
    grey = Image.fromarray(sheet.picture).convert("L")
    svg = make_calibration_svg(page(), quick_job().brief.machine, "card").decode()
    paths = [part.split('"')[0] for part in svg.split(' d="')[1:]]
    assert len(paths) == len(page().crosses) == 35
    pen, per_mm = ImageDraw.Draw(grey), grey.width / sheet.width
    for path in paths:
        corners = [(each.end.x, each.end.y) for each in svgelements.Path(path)]
        pen.polygon([(x * per_mm, y * per_mm) for x, y in corners], fill=25)
    scan = measure_scan(np.asarray(grey), 600.0, page())
    found = fit_places(tuple(page().crosses[number] for number in scan.numbers), scan.off)
    # Pillow's corners lie on whole pixels.
    assert found.right == pytest.approx(0.4, abs=0.03)
    assert found.high == pytest.approx(0.1, abs=0.02)
    assert found.wide == pytest.approx(0.0, abs=0.02)


def saved(folder: Path, image: Image.Image, name: str, **more: object) -> Path:
    path = folder / name
    image.save(path, **more)  # type: ignore[arg-type]
    return path


def test_scans_come_in_many_forms(tmp_path: Path) -> None:
    grey, _ = draw_scan(page(), ppi=150)
    image = Image.fromarray(grey)
    deep = Image.fromarray(grey.astype(np.uint16) * 257)
    exif = Image.Exif()
    exif[0x0112] = 3
    files = [
        saved(tmp_path, image, "a.png", dpi=(150, 150)),
        saved(tmp_path, image.convert("CMYK"), "b.tif", dpi=(150, 150)),
        saved(tmp_path, image.quantize(64), "c.png"),
        saved(tmp_path, deep, "d.png", dpi=(150, 150)),
        saved(tmp_path, image.rotate(180), "e.jpg", quality=92, dpi=(150, 150), exif=exif),
        saved(tmp_path, image, "f.pdf", resolution=150.0),
    ]
    for path in files:
        told = read_scans([path], page())
        assert len(told.scan.numbers) >= 33, path.name
        assert told.measured.right == pytest.approx(0.35, abs=0.02), path.name
        assert told.scan.turned is False, path.name


def test_what_is_no_scan_of_the_page_is_refused_in_words(tmp_path: Path) -> None:
    grey, _ = draw_scan(page(), ppi=150)
    image = Image.fromarray(grey)
    random = np.random.default_rng(1)
    noise = Image.fromarray(random.integers(0, 255, grey.shape, dtype=np.uint8))
    whole = saved(tmp_path, image, "whole.png").read_bytes()
    (tmp_path / "short.png").write_bytes(whole[: len(whole) // 3])
    (tmp_path / "words.txt").write_text("no picture")
    (tmp_path / "nothing.png").write_bytes(b"")
    (tmp_path / "broken.pdf").write_bytes(b"%PDF-1.7 nothing")
    many = pypdfium2.PdfDocument.new()
    for _ in range(5):
        many.new_page(612, 792)
    many.save(str(tmp_path / "many.pdf"))
    refused = {
        "another": (saved(tmp_path, noise, "another.png"), "rings"),
        "bare": (saved(tmp_path, Image.new("L", image.size, 240), "bare.png"), "rings"),
        "uncut": (tmp_path / "uncut.pdf", "no cut edge"),
        "small": (saved(tmp_path, image.resize((200, 260)), "small.png"), "too few"),
        "short": (tmp_path / "short.png", "damaged"),
        "words": (tmp_path / "words.txt", "no PNG"),
        "nothing": (tmp_path / "nothing.png", "empty"),
        "broken": (tmp_path / "broken.pdf", "no PDF"),
        "many": (tmp_path / "many.pdf", "5 pages"),
        "folder": (tmp_path, "folder"),
    }
    (tmp_path / "uncut.pdf").write_bytes(make_calibration_pdf(page(), "card"))
    for path, word in refused.values():
        with pytest.raises(ScanError) as error:
            read_scans([path], page())
        assert word in str(error.value)
        assert str(error.value).startswith(path.name)


def test_an_enormous_picture_is_refused_before_it_is_decoded(tmp_path: Path) -> None:
    path = saved(tmp_path, Image.new("1", (16_000, 10_000)), "huge.png")
    with pytest.raises(ScanError, match="million are read"):
        open_scan(path)


def test_a_locked_page_says_so(tmp_path: Path) -> None:
    from reportlab.lib.pdfencrypt import StandardEncryption
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    canvas = Canvas(out, encrypt=StandardEncryption("secret"))
    canvas.drawString(10, 10, "x")
    canvas.save()
    (tmp_path / "locked.pdf").write_bytes(out.getvalue())
    with pytest.raises(ScanError, match="password"):
        open_scan(tmp_path / "locked.pdf")


def test_the_command_line_measures_a_scan(tmp_path: Path) -> None:
    grey, _ = draw_scan(page(), ppi=150)
    path = saved(tmp_path, Image.fromarray(grey), "scan.png", dpi=(150, 150))
    said = CliRunner().invoke(command, ["read", str(path), "--json"])
    assert said.exit_code == 0, said.output
    told = json.loads(said.output)
    assert told["measured"]["right_mm"] == pytest.approx(0.35, abs=0.02)
    assert len(told["places"]) >= 33
    words = CliRunner().invoke(command, ["read", str(path)])
    assert "the print lies right by 0.3" in words.output
    bad = CliRunner().invoke(command, ["read", str(tmp_path / "none.png")])
    assert bad.exit_code == 2
