"""Pictures, DXF, typefaces and tables from strangers."""

from __future__ import annotations

import io
import math
import struct
import zlib
from pathlib import Path

import ezdxf
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from dechirer.core.dress.drawn import draw_art
from dechirer.formats.art.collect import ArtError
from dechirer.formats.art.picture import read_picture, trace
from dechirer.formats.art.read import kind_of, read_art, read_bytes, read_font
from dechirer.formats.copies_csv import TableError, read_copies

FACES = Path(__file__).parents[2] / "src" / "dechirer" / "core" / "dress" / "words" / "faces"


def disc(side: int, x: float, y: float, radius: float, fine: int = 8) -> np.ndarray:
    """A disc drawn with soft edges by counting fine x fine points a pixel."""
    rows, columns = np.mgrid[0:side, 0:side]
    total = np.zeros((side, side))
    for a in (np.arange(fine) + 0.5) / fine:
        for b in (np.arange(fine) + 0.5) / fine:
            total += (columns + a - x) ** 2 + (rows + b - y) ** 2 <= radius * radius
    return (255 * total / fine**2).astype(np.uint8)


def png(mask: np.ndarray, colour: tuple[int, int, int] = (200, 90, 60), **more: object) -> bytes:
    """A picture of one colour with a mask as its transparency."""
    layers = [np.full_like(mask, part) for part in colour]
    out = io.BytesIO()
    Image.fromarray(np.dstack([*layers, mask])).save(out, "PNG", **more)
    return out.getvalue()


@pytest.mark.parametrize("radius", [20.0, 60.0, 150.0])
def test_a_traced_discs_radius_is_right_to_a_twentieth_of_a_pixel(radius: float) -> None:
    ((found,), _) = trace(disc(400, 200.3, 199.6, radius))
    assert math.sqrt(found.area / math.pi) == pytest.approx(radius, abs=0.05)
    assert (found.centroid.x, found.centroid.y) == pytest.approx((200.3, 199.6), abs=0.02)
    away = np.hypot(*(np.asarray(found.exterior.coords) - (200.3, 199.6)).T)
    assert np.abs(away - radius).max() < 0.2


def test_holes_and_several_items_come_apart_largest_first() -> None:
    mask = np.maximum(disc(400, 130, 130, 100) - disc(400, 130, 130, 40), disc(400, 320, 320, 50))
    art = read_picture(png(mask), "two.png", px_per_inch=254)
    assert [group.name for group in art.groups] == ["item 1", "item 2"]
    areas = [draw_art(art, 1.0).parts[number].areas[0] for number in (0, 1)]
    assert areas[0].area == pytest.approx(math.pi * (10**2 - 4**2), rel=0.01)  # 10 px a millimetre
    assert len(areas[0].interiors) == 1
    assert art.groups[0].colour == "#c85a3c"


@pytest.mark.parametrize(
    ("more", "settled", "doubt"),
    [
        ({"dpi": (300, 300)}, "300", "nobody chose"),
        ({}, "300", "does not say"),
    ],
)
def test_a_pictures_size_is_doubted(more: dict, settled: str, doubt: str) -> None:
    art = read_picture(png(disc(200, 100, 100, 90), **more), "a.png")
    assert settled in art.settled
    assert doubt in art.doubt
    assert art.width == pytest.approx(180 / 300 * 25.4, abs=0.05)


@pytest.mark.parametrize("quality", [60, 95])
def test_a_jpeg_on_a_plain_ground_is_traced(quality: int) -> None:
    mask = disc(300, 150, 150, 100).astype(float)[..., None] / 255
    colours = (mask * (60, 90, 200) + (1 - mask) * (250, 248, 240)).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(colours).save(out, "JPEG", quality=quality)
    art = read_picture(out.getvalue(), "a.jpg", px_per_inch=254)
    (area,) = draw_art(art, 1.0).areas
    assert math.sqrt(area.area / math.pi) == pytest.approx(10.0, abs=0.04)


def saved(image: Image.Image, form: str, **more: object) -> bytes:
    out = io.BytesIO()
    image.save(out, form, **more)
    return out.getvalue()


@pytest.mark.parametrize(
    ("form", "more"),
    [
        ("PNG", {}),
        ("WEBP", {"lossless": True}),
        ("TIFF", {}),
        ("TIFF", {"compression": "tiff_lzw"}),
        ("TIFF", {"compression": "tiff_deflate", "big_tiff": False}),
    ],
)
def test_a_picture_is_the_same_whatever_form_it_comes_in(form: str, more: dict) -> None:
    """A ring drawn by counting points, written by Pillow in each form, at 254 px to the inch: 10 px a millimetre."""
    mask = disc(300, 150, 150, 120) - disc(300, 150, 150, 60)
    image = Image.fromarray(np.dstack([np.full_like(mask, 90)] * 3 + [mask]))
    data = saved(image, form, **more)
    assert kind_of(data) == "picture"
    art = read_picture(data, f"a.{form.lower()}", px_per_inch=254)
    (area,) = draw_art(art, 1.0).areas
    assert area.area == pytest.approx(math.pi * (12**2 - 6**2), rel=2e-3)
    assert len(area.interiors) == 1


@pytest.mark.parametrize("unit", ["inch", "cm"])
def test_a_tiffs_own_size_is_read_in_inches_or_centimetres(unit: str) -> None:
    """TIFF 6.0: ResolutionUnit 2 is the inch, 3 the centimetre."""
    mask = disc(200, 100, 100, 90)
    image = Image.fromarray(np.dstack([np.full_like(mask, 90)] * 3 + [mask]))
    per_inch = 200.0
    asked = per_inch if unit == "inch" else per_inch / 2.54
    data = saved(image, "TIFF", resolution=asked, resolution_unit=unit)
    art = read_picture(data, "a.tif")
    assert art.width == pytest.approx(180 / per_inch * 25.4, abs=0.05)


@pytest.mark.parametrize("form", ["WEBP", "TIFF"])
def test_of_several_pictures_in_a_file_the_first_is_taken_and_it_is_said(form: str) -> None:
    frames = [
        Image.fromarray(np.dstack([np.full((200, 200), 90, np.uint8)] * 3 + [disc(200, 100, 100, radius)]))
        for radius in (80, 50, 30)
    ]
    more = {"lossless": True} if form == "WEBP" else {}
    data = saved(frames[0], form, save_all=True, append_images=frames[1:], **more)
    art = read_picture(data, "many", px_per_inch=254)
    assert art.width == pytest.approx(16.0, abs=0.02)
    assert any("2" in each and "further picture" in each for each in art.lost), art.lost


@pytest.mark.parametrize("form", ["WEBP", "TIFF"])
@pytest.mark.parametrize("share", [0.02, 0.3, 0.7, 0.97])
def test_cut_off_and_mixed_up_pictures_are_refused_in_words(form: str, share: float) -> None:
    mask = disc(200, 100, 100, 90)
    data = saved(Image.fromarray(np.dstack([mask] * 4)), form)
    cut = data[: int(share * len(data))]
    mixed = bytearray(data)
    for place in range(int(share * 100), len(mixed), 97):
        mixed[place] ^= 0x5A
    for broken in (cut, bytes(mixed)):
        try:
            read_art(broken, "a.bin", set())
        except ArtError as error:
            assert str(error).startswith("a.bin:")  # what is read in spite of it is read


def huge_png() -> bytes:
    """A PNG that says it has a billion pixels and holds none."""

    def chunk(kind: bytes, body: bytes) -> bytes:
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    head = struct.pack(">IIBBBBB", 40_000, 25_000, 8, 6, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"")) + chunk(b"IEND", b"")


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (huge_png(), "million"),
        (b"\x89PNG\r\n\x1a\n" + b"\x00" * 40, "picture"),
        (png(np.zeros((9, 9), np.uint8)), "nothing"),
        (png(np.full((90, 90), 255, np.uint8)), "nothing"),
        (png(disc(200, 100, 100, 90))[:300], "damaged"),
        (b"\xff\xd8\xff" + b"\x00" * 200, "picture"),
    ],
)
def test_broken_pictures_are_refused(data: bytes, said: str) -> None:
    with pytest.raises(ArtError, match=said):
        read_art(data, "a.png", set())


def test_a_photograph_is_taken_whole_to_be_printed() -> None:
    noise = np.random.default_rng(1).integers(0, 255, (90, 120, 3)).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(noise).save(out, "PNG")
    art = read_picture(out.getvalue(), "photo.png", px_per_inch=254.0)
    assert (art.width, art.height) == pytest.approx((12.0, 9.0), abs=1e-6)
    (group,) = art.groups
    assert (group.role, group.name) == ("print", "picture")
    assert art.pixels is not None
    kept = np.asarray(Image.open(io.BytesIO(art.pixels.data)).convert("RGB"))
    assert np.array_equal(kept, noise)
    assert (art.pixels.left, art.pixels.top, art.pixels.wide) == pytest.approx((0.0, 0.0, 0.1), abs=1e-9)


# --- DXF ---------------------------------------------------------------------------------------------------------


def dxf(units: int = 4) -> tuple[ezdxf.document.Drawing, object]:
    document = ezdxf.new(units=units)
    return document, document.modelspace()


def written(document: ezdxf.document.Drawing) -> bytes:
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def test_dxf_entities_are_read_at_true_size() -> None:
    document, space = dxf()
    document.layers.add("SCORE", color=5)
    document.layers.add("CUT")
    space.add_circle((30, 30), 10, dxfattribs={"layer": "CUT"})
    space.add_lwpolyline(
        [(0, 0, 0, 0, 1), (20, 0)], close=True, dxfattribs={"layer": "CUT"}
    )  # a half disc by its bulge
    space.add_line((0, -5), (60, -5), dxfattribs={"layer": "SCORE"})
    space.add_arc((50, 50), 10, 0, 90)
    space.add_spline([(0, 60), (20, 80), (40, 60)])
    space.add_ellipse((80, 20), (10, 0), 0.5)
    space.add_text("words")
    block = document.blocks.new("leaf")
    block.add_circle((0, 0), 3)
    space.add_blockref("leaf", (70, 70), dxfattribs={"layer": "CUT"})
    art = read_art(written(document), "a.dxf", set())
    roles = {group.name: group.role for group in art.groups}
    assert roles["SCORE"] == "score"
    assert roles["CUT"] == "cut"
    assert "text" in art.lost
    assert not art.doubt
    cut = [part for part in draw_art(art, 1.0).parts if part.group == "cut"]
    areas = sorted(area.area for part in cut for area in part.areas)
    assert areas == pytest.approx([math.pi * 9, math.pi * 50, math.pi * 100], rel=4e-3)
    assert (
        min(y for group in art.groups for y in [float(word) for word in group.paths[0].split() if word[0] in "-."]) < 0
    )


@pytest.mark.parametrize(
    ("units", "factor", "sure"), [(1, 25.4, True), (4, 1.0, True), (5, 10.0, True), (0, 1.0, False)]
)
def test_dxf_units(units: int, factor: float, sure: bool) -> None:
    document, space = dxf(units)
    space.add_lwpolyline([(0, 0), (3, 0), (3, 2)], close=True)
    art = read_art(written(document), "a.dxf", set())
    assert (art.width, art.height) == pytest.approx((3 * factor, 2 * factor), abs=1e-3)
    assert bool(art.doubt) != sure


@pytest.mark.parametrize(
    "data",
    [
        b"0\nSECTION\n2\nENTITIES\n0\nCIRCLE\n",
        b"0\nSECTION\n\xff\xfe\x00",
        b"SECTION " * 3000,
        b"AutoCAD Binary DXF\r\n\x1a\x00" + b"\x00" * 90,
    ],
)
def test_broken_dxf_is_refused(data: bytes) -> None:
    with pytest.raises(ArtError, match=r"^a\.dxf"):
        read_art(data, "a.dxf", set())


# --- typefaces ---------------------------------------------------------------------------------------------------


def test_a_typeface_is_kept_with_its_name() -> None:
    font = read_font((FACES / "lora.ttf").read_bytes(), "x.ttf", {"lora-regular"})
    assert font.name == "Lora Regular"
    assert font.id == "lora-regular-2"
    assert kind_of(font.data) == "font"


@given(st.integers(0, 132_000), st.binary(min_size=1, max_size=60))
def test_damaged_typefaces_are_refused_or_set(place: int, noise: bytes) -> None:
    whole = bytearray((FACES / "lora.ttf").read_bytes())
    whole[place : place + len(noise)] = noise
    try:
        read_font(bytes(whole), "x.ttf", set())
    except ArtError as error:
        assert str(error).startswith("x.ttf")


@pytest.mark.parametrize("data", [b"", b"\x00\x01\x00\x00", b"OTTO" + b"\x00" * 200, b"true love"])
def test_what_is_no_typeface_is_refused(data: bytes) -> None:
    with pytest.raises(ArtError):
        read_font(data, "x.ttf", set())


def test_files_that_are_too_large_missing_or_folders_are_refused(tmp_path: Path) -> None:
    with pytest.raises(ArtError, match="folder"):
        read_bytes(tmp_path)
    with pytest.raises(ArtError, match="opened"):
        read_bytes(tmp_path / "gone.svg")
    large = tmp_path / "large.svg"
    with large.open("wb") as handle:
        handle.truncate(200_000_000)
    with pytest.raises(ArtError, match="200 MB"):
        read_bytes(large)


# --- wordings ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
@pytest.mark.parametrize("separator", [",", ";", "\t"])
def test_tables_are_read_in_any_encoding_and_separator(encoding: str, separator: str) -> None:
    rows = [
        ["name", "role"],
        ["Zoë Pålsson", "kite mender"],
        ["Éloïse Garçon-Müller", "tea"],
        ["Jürgen", "café, and cake"],
    ]
    text = "\r\n".join(separator.join(f'"{cell}"' for cell in row) for row in rows)
    table = read_copies(text.encode(encoding), "names.csv")
    assert table.words == ("name", "role")
    assert table.rows[0].entries == ("Zoë Pålsson", "kite mender")
    assert table.rows[2].entries[1] == "café, and cake"


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "no rows"),
        (b"name\n", "no rows"),
        (b"a,a\n1,2\n", "same name"),
        (b"a,b\n1,2,3\n", "row 2"),
        (b"a,b\n" + b"x" * 400 + b",1\n", "400 letters"),
        (b"a\x00b\n\x00\n", "not text"),
        (b",".join(b"c%d" % n for n in range(30)) + b"\n1\n", "30 columns"),
        (b"a\n" + b"x\n" * 2500, "2500 rows"),
    ],
)
def test_tables_that_cannot_be_used_are_refused_with_the_row(data: bytes, said: str) -> None:
    with pytest.raises(TableError, match=said):
        read_copies(data, "names.csv")


@given(st.binary(max_size=300))
def test_any_bytes_are_a_table_or_are_refused(data: bytes) -> None:
    try:
        table = read_copies(data, "names.csv")
    except TableError as error:
        assert str(error).startswith("names.csv")
    else:
        assert table.rows
