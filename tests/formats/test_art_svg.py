"""SVG from anywhere, rendered and compared with an independent renderer; true sizes; hostile files."""

from __future__ import annotations

import io

import numpy as np
import pytest
import resvg_py
import shapely
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from dechirer.core.brought import Art
from dechirer.core.dress.drawn import draw_art
from dechirer.formats.art.collect import ArtError
from dechirer.formats.art.read import read_art
from dechirer.formats.art.svg import read_svg
from tests.helpers import examples

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
SIDE = 400
SIZE_MM = 100.0


def svg(inside: str, root: str = 'width="100mm" height="100mm" viewBox="0 0 100 100"') -> str:
    return f"{HEAD}{root}>{inside}</svg>"


def painted(text: str) -> np.ndarray:
    """What the independent renderer paints, as booleans."""
    data = bytes(resvg_py.svg_to_bytes(svg_string=text, width=SIDE, dpi=96))
    return np.asarray(Image.open(io.BytesIO(data)))[:, :, 3] > 127


def repainted(art: Art, size: float = SIZE_MM) -> np.ndarray:
    """What we read, as flattened polygons painted by the same renderer."""
    paths = []
    for area in draw_art(art, 1.0, role="print").areas:
        oriented = shapely.geometry.polygon.orient(area)
        rings = (oriented.exterior, *oriented.interiors)
        paths.append("".join("M" + "L".join(f"{x:.4f} {y:.4f}" for x, y in ring.coords[:-1]) + "Z" for ring in rings))
    inside = "".join(f'<path d="{path}"/>' for path in paths)
    return painted(f'{HEAD}width="{SIDE}" height="{SIDE}" viewBox="0 0 {size} {size}">{inside}</svg>')


PROBES: dict[str, str] = {
    "rect": '<rect x="10" y="20" width="50" height="30"/>',
    "rounded rect": '<rect x="10" y="20" width="50" height="30" rx="9"/>',
    "rect with two radii": '<rect x="10" y="20" width="60" height="40" rx="30" ry="8"/>',
    "circle": '<circle cx="40" cy="50" r="30"/>',
    "ellipse": '<ellipse cx="50" cy="50" rx="40" ry="15"/>',
    "polygon": '<polygon points="10,10 90,20 50,90"/>',
    "polyline is filled": '<polyline points="10,10 90,20 50,90"/>',
    "line": '<line x1="10" y1="10" x2="80" y2="60" stroke="black" stroke-width="6"/>',
    "cubic": '<path d="M10 80 C 40 10, 65 10, 95 80 S 20 20 10 80"/>',
    "quadratic": '<path d="M10 80 Q 52 -20 95 80 T 10 60 Z"/>',
    "arcs": '<path d="M20 50 A 30 20 30 1 1 80 50 A 30 20 -30 0 1 20 50 Z"/>',
    "arc too small": '<path d="M20 50 A 5 5 0 0 1 80 50 Z"/>',
    "arc flags without spaces": '<path d="M20 50a30 30 0 1160 0z"/>',
    "relative": '<path d="m10 10 h50 v40 h-30 l-10 20 z m30 60 l20 0 0 20z"/>',
    "implicit lines": '<path d="M10 10 60 10 60 60"/>',
    "evenodd": '<path fill-rule="evenodd" d="M10 10H90V90H10Z M30 30H70V70H30Z"/>',
    "nonzero same way": '<path d="M10 10H90V90H10Z M30 30H70V70H30Z"/>',
    "nonzero other way": '<path d="M10 10H90V90H10Z M30 30V70H70V30Z"/>',
    "star": '<path fill-rule="evenodd" d="M50 5 L79 95 L3 39 H97 L21 95 Z"/>',
    "translate and scale": '<g transform="translate(20 10) scale(.5)"><rect width="100" height="60"/></g>',
    "rotate about a point": '<rect x="30" y="30" width="40" height="20" transform="rotate(35 50 40)"/>',
    "skew": '<rect x="20" y="20" width="40" height="30" transform="skewX(20) skewY(-5)"/>',
    "matrix": '<circle cx="20" cy="20" r="15" transform="matrix(1.5 .3 -.4 1.2 20 5)"/>',
    "nested groups": '<g transform="scale(2)"><g transform="translate(10)"><g><circle cx="15" cy="20" r="8"/></g></g></g>',
    "use": '<defs><circle id="a" r="12"/></defs><use href="#a" x="30" y="40"/><use xlink:href="#a" x="70" y="60"/>',
    "use of a group": '<g id="a"><rect width="20" height="20"/></g><use href="#a" transform="translate(50 50) rotate(20)"/>',
    "symbol": '<symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5"/></symbol>'
    '<use href="#s" x="20" y="20" width="60" height="40"/>',
    "nested svg": '<svg x="20" y="10" width="50" height="80" viewBox="0 0 10 10"><rect width="10" height="10"/></svg>',
    "css class": "<style>.k{fill:none;stroke:#000;stroke-width:8}</style><circle class='k' cx='50' cy='50' r='30'/>",
    "css id and element": "<style>rect{display:none} #b{display:inline}</style><rect width='40' height='40'/>"
    "<rect id='b' x='50' y='50' width='40' height='40'/>",
    "inline style wins": '<style>.a{fill:none}</style><rect class="a" style="fill:#000" width="40" height="40"/>',
    "fill none inherited": '<g fill="none" stroke="black" stroke-width="4"><rect x="20" y="20" width="50" height="50"/></g>',
    "round caps": '<path d="M20 20 L80 30 L30 80" fill="none" stroke="#000" stroke-width="12" stroke-linecap="round" '
    'stroke-linejoin="round"/>',
    "square caps and bevel": '<path d="M20 20 L80 30 L30 80" fill="none" stroke="#000" stroke-width="12" '
    'stroke-linecap="square" stroke-linejoin="bevel"/>',
    "closed stroke": '<path d="M20 20H80V80H20Z" fill="none" stroke="#000" stroke-width="10"/>',
    "dashes": '<path d="M10 50H90" stroke="#000" stroke-width="10" stroke-dasharray="15 5"/>',
    "stroke squeezed": '<g transform="scale(2 .5)"><path d="M10 40 L35 160" stroke="#000" stroke-width="8"/></g>',
    "stroke scaled": '<g transform="scale(3)"><path d="M5 5 L28 25" stroke="#000" stroke-width="3"/></g>',
    "clip": '<clipPath id="c"><circle cx="50" cy="50" r="25"/></clipPath><rect clip-path="url(#c)" width="50" height="100"/>',
    "clip in units of its shape": '<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".5"/></clipPath><rect x="20" y="30" width="60" height="40" clip-path="url(#c)"/>',
    "clip on a group": '<clipPath id="c"><rect x="20" y="20" width="40" height="40"/></clipPath>'
    '<g clip-path="url(#c)"><circle cx="50" cy="50" r="30"/></g>',
    "hidden and gone": '<rect width="30" height="30" visibility="hidden"/><rect x="40" width="30" height="30" '
    'display="none"/><circle cx="50" cy="70" r="20"/>',
    "percent": '<rect x="10%" y="20%" width="50%" height="30%"/>',
    "units": '<rect x="1cm" y="10mm" width=".5in" height="72pt" transform="scale(.2)"/>',
    "current colour": '<g color="#123456"><rect fill="currentColor" x="20" y="20" width="30" height="40"/></g>',
    "gradient": '<linearGradient id="g"><stop stop-color="#f00"/></linearGradient><rect fill="url(#g)" width="60" height="50"/>',
    "path error": '<path d="M10 10 L60 10 L60 60 L 20 x"/>',
    "exponents": '<path d="M1e1 1e1 L9.0e1 10 50,.9E2Z"/>',
}


@pytest.mark.parametrize("name", list(PROBES))
def test_what_is_read_is_what_is_rendered(name: str) -> None:
    text = svg(PROBES[name])
    ours, theirs = repainted(read_svg(text.encode(), f"{name}.svg")), painted(text)
    union = np.logical_or(ours, theirs).sum()
    assert union > 300
    assert np.logical_and(ours, theirs).sum() / union > 0.992


@pytest.mark.parametrize(
    "root",
    [
        'width="100mm" height="100mm" viewBox="0 0 200 200"',
        'width="100mm" height="100mm" viewBox="-20 10 50 50"',
        'width="100mm" height="100mm" viewBox="0 0 200 100"',
        'width="100mm" height="100mm" viewBox="0 0 200 100" preserveAspectRatio="xMinYMax meet"',
        'width="100mm" height="100mm" viewBox="0 0 200 100" preserveAspectRatio="none"',
        'width="100mm" height="100mm"',
    ],
)
def test_view_boxes_are_fitted_as_the_renderer_fits_them(root: str) -> None:
    text = svg('<circle cx="20" cy="40" r="15"/><rect x="5" y="50" width="30" height="10"/>', root)
    ours, theirs = repainted(read_svg(text.encode(), "a.svg")), painted(text)
    assert np.logical_and(ours, theirs).sum() / np.logical_or(ours, theirs).sum() > 0.985


# --- true size and roles -----------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("root", "width", "sure"),
    [
        ('width="50mm" height="50mm" viewBox="0 0 10 10"', 50.0, True),
        ('width="2in" height="2in" viewBox="0 0 10 10"', 50.8, True),
        ('width="96" height="96" viewBox="0 0 10 10"', 25.4, False),  # CSS: 96 px to the inch
        ('width="96px" height="96px" viewBox="0 0 10 10"', 25.4, False),
        ('viewBox="0 0 10 10"', 10 * 25.4 / 96, False),
    ],
)
def test_the_size_is_settled_and_the_doubt_is_said(root: str, width: float, sure: bool) -> None:
    text = svg('<rect width="10" height="10"/>', root).encode()
    art = read_svg(text, "a.svg")
    assert (art.width, art.height) == pytest.approx((width, width), abs=1e-3)
    assert bool(art.doubt) != sure
    if not sure:
        assert read_svg(text, "a.svg", px_per_inch=72).width == pytest.approx(width * 96 / 72, abs=1e-3)


def test_every_line_gets_a_role_with_its_reason() -> None:
    art = read_svg(
        svg(
            '<g id="score lines"><path d="M0 0H9" stroke="red"/></g><g class="perf"><path d="M0 1H9" stroke="#00f"/></g>'
            '<path id="x" d="M0 2H9" stroke="#0f0" stroke-dasharray="2 1"/><rect width="5" height="5"/>'
            '<g id="Foil"><g><g><circle r="3"/></g></g></g><g stroke-width=".2"><path d="M0 3H9" stroke="#888"/><path d="M0 4H9" stroke="#aaa"/></g>'
        ).encode(),
        "a.svg",
    )
    roles = [group.role for group in art.groups]
    assert roles == ["score", "perforate", "score", "cut", "foil", "unassigned", "unassigned"]
    assert all(group.reason for group in art.groups)


def test_what_cannot_be_cut_is_left_out_by_name() -> None:
    art = read_svg(
        svg(
            '<text>hi</text><image href="data:,x"/><rect width="9" height="9" mask="url(#m)"/><use href="other.svg#a"/>'
        ).encode(),
        "a.svg",
    )
    said = "; ".join(art.lost)
    for word in ("text", "picture", "mask", "another file"):
        assert word in said


def test_fonts_of_editors_and_comments_do_no_harm() -> None:
    text = '<?xml version="1.0"?><!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "x.dtd"><!-- hello -->' + svg(
        '<metadata><a xmlns="u:x"/></metadata><rect width="9" height="9"/>'
    )
    assert len(read_svg(text.encode(), "a.svg").groups) == 1


# --- files from strangers ----------------------------------------------------------------------------------------

BOMB = (
    '<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa">'
    + "".join(f'<!ENTITY {chr(98 + n)} "{("&" + chr(97 + n) + ";") * 10}">' for n in range(9))
    + "]><svg xmlns='http://www.w3.org/2000/svg'><title>&j;</title></svg>"
)
OUTSIDE = (
    '<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]>'
    "<svg xmlns='http://www.w3.org/2000/svg'><title>&x;</title></svg>"
)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (BOMB.encode(), "entities"),
        (OUTSIDE.encode(), "entities"),
        (b"", "is empty"),
        (b"<svg", "line 1"),
        (b"<html/>", "not “svg”"),
        (svg("").encode(), "no outlines"),
        (svg("<text>x</text>").encode(), "text"),
        (svg("<g>" * 5000 + "<rect width='1' height='1'/>" + "</g>" * 5000).encode(), "deeper"),
        (svg('<g id="a"><use href="#a"/></g>').encode(), "deeper"),
        (svg('<path d="M0 0L1e300 1e300"/>').encode(), "a point lies at"),
        (svg('<rect width="1e9" height="1e9"/>').encode(), "a point lies at"),
        (svg('<path d="M0 0L4e5 4e5" stroke="red"/>').encode(), "m across"),
        (
            svg(
                '<g transform="scale(1e308)"><g transform="scale(1e308)"><rect width="1" height="1"/></g></g>'
            ).encode(),
            "finite",
        ),
        (svg('<path d="M5 5"/>').encode(), "no outlines"),
        (b"\x00\x01\x02 not a file of ours", "is not SVG"),
    ],
)
def test_hostile_files_are_refused_with_a_reason(data: bytes, said: str) -> None:
    with pytest.raises(ArtError, match=r"^bad\.svg") as caught:
        read_art(data, "bad.svg", set())
    assert said in str(caught.value)


def test_shapes_used_within_uses_do_not_multiply_without_end() -> None:
    inside = '<defs><rect id="a0" width="1" height="1"/>'
    for number in range(1, 12):
        inside += f'<g id="a{number}">' + f'<use href="#a{number - 1}"/>' * 10 + "</g>"
    with pytest.raises(ArtError, match="times"):
        read_svg(svg(inside + '</defs><use href="#a11"/>').encode(), "a.svg")


def test_a_path_that_crosses_itself_is_read() -> None:
    art = read_svg(svg('<path d="M0 0 L50 50 L50 0 L0 50 Z"/>').encode(), "a.svg")
    assert sum(area.area for area in draw_art(art, 1.0).areas) == pytest.approx(1250)


@examples(300)
@given(st.text(alphabet="MmLlHhVvCcSsQqTtAaZz 0123456789.-+e,\n", max_size=80))
def test_any_path_data_is_read_or_refused(d: str) -> None:
    text = svg(f'<path d="{d}" stroke="#000" stroke-width="0.5"/>')
    try:
        art = read_svg(text.encode(), "a.svg")
    except ArtError as error:
        assert str(error).startswith("a.svg")
    else:
        draw_art(art, 1.0, role="print")


@examples(300)
@given(st.data())
def test_any_bytes_are_read_or_refused(data: st.DataObject) -> None:
    whole = bytearray(svg('<g transform="scale(2)"><path d="M1 1 C2 2 3 3 4 1z"/><use href="#a"/></g>').encode())
    for _ in range(data.draw(st.integers(1, 6))):
        place = data.draw(st.integers(0, len(whole) - 1))
        whole[place] = data.draw(st.integers(0, 255))
    try:
        art = read_art(bytes(whole), "a.svg", set())
    except ArtError as error:
        assert str(error).startswith("a.svg")
    else:
        draw_art(art, 1.0, role="print")
