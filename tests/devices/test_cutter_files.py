"""The simulated cutter's own reading of files: written by hand, by another library, and by strangers."""

from __future__ import annotations

import io
import math
from pathlib import Path

import ezdxf
import numpy as np
import pytest
import svgelements
from ezdxf.addons.drawing import Frontend, RenderContext, layout
from ezdxf.addons.drawing.svg import SVGBackend

from dechirer.devices.cutter_files import Counting, read_cutter_file, read_plotter, read_svg
from dechirer.devices.strokes import CutterFileError


def svg(body: str, size: str = 'width="100mm" height="80mm" viewBox="0 0 100 80"') -> str:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{body}</svg>'


def points_of(body: str, **more: str) -> list[list[float]]:
    return [stroke.points.round(6).tolist() for stroke in read_svg(svg(body, **more), "a.svg").strokes]


@pytest.mark.parametrize(
    ("data", "wanted"),
    [
        ("M 10 10 L 20 10 L 20 20 Z", [[10, 10], [20, 10], [20, 20]]),
        ("m 10 10 l 10 0 l 0 10 z", [[10, 10], [20, 10], [20, 20]]),
        ("M10,10h10v10H10V10", [[10, 10], [20, 10], [20, 20], [10, 20], [10, 10]]),
        ("M 10 10 20 10 20 20", [[10, 10], [20, 10], [20, 20]]),
        ("m1e1 1e1 10-0 0 10", [[10, 10], [20, 10], [20, 20]]),
    ],
)
def test_straight_paths(data: str, wanted: list[list[float]]) -> None:
    assert points_of(f'<path d="{data}"/>') == [wanted]


def test_frames_groups_and_transforms_are_followed() -> None:
    inner = '<g transform="translate(5 0)"><g transform="scale(2)"><path d="M 1 1 L 2 1"/></g></g>'
    assert points_of(inner) == [[[7, 2], [9, 2]]]
    assert points_of('<path transform="rotate(90 10 10)" d="M 10 10 L 20 10"/>') == [[[10, 10], [10, 20]]]
    assert points_of('<path transform="matrix(1 0 0 1 3 4)" d="M 0 0 L 1 0"/>') == [[[3, 4], [4, 4]]]
    inches = 'width="4in" height="2in" viewBox="0 0 4 2"'
    assert points_of('<line x1="1" y1="1" x2="2" y2="1"/>', size=inches) == [[[25.4, 25.4], [50.8, 25.4]]]
    pixels = 'width="96" height="96"'
    assert points_of('<polyline points="0,0 96,96"/>', size=pixels) == [[[0, 0], [25.4, 25.4]]]


@pytest.mark.parametrize(
    "data",
    [
        "M 10 10 C 20 0 40 0 50 10 S 80 20 90 10",
        "M 10 40 Q 30 10 50 40 T 90 40",
        "m 5 5 c 10 20 30 40 50 10 s 10 10 20 20",
        "M 0 0 C 0 55.2285 44.7715 100 100 100",
    ],
)
def test_curves_lie_where_another_library_has_them(data: str) -> None:
    ours = np.array(points_of(f'<path d="{data}"/>')[0])
    theirs = svgelements.Path(data)
    grid = np.array([[(p := theirs.point(t)).x, p.y] for t in np.linspace(0, 1, 400)])
    far = np.min(np.hypot(*(ours[:, None] - grid[None]).transpose(2, 0, 1)), axis=1)
    assert far.max() < 0.3  # the grid itself is that coarse
    import shapely

    line = shapely.LineString(ours)
    assert shapely.distance(shapely.points(grid), line).max() < 0.006


def test_a_circle_is_round() -> None:
    ring = np.array(points_of('<circle cx="50" cy="40" r="20"/>')[0])
    assert np.hypot(ring[:, 0] - 50, ring[:, 1] - 40) == pytest.approx(20)
    area = 0.5 * abs(np.dot(ring[:, 0], np.roll(ring[:, 1], 1)) - np.dot(ring[:, 1], np.roll(ring[:, 0], 1)))
    assert area == pytest.approx(math.pi * 400, rel=2e-3)


def test_operations_come_from_groups_and_what_is_hidden_is_not_run() -> None:
    body = (
        '<g id="base-1" data-piece="base"><g data-operation="score"><path d="M 1 1 L 2 2"/></g>'
        '<g data-operation="cut"><path d="M 3 3 L 4 4"/></g></g><g style="display: none"><path d="M 0 0 L 9 9"/></g>'
        "<title>no line</title>"
    )
    found = read_svg(svg(body), "a.svg").strokes
    assert [(each.operation, each.group) for each in found] == [("score", "base-1"), ("cut", "base-1")]


def test_a_drawing_of_another_library_is_run(tmp_path: Path) -> None:
    """ezdxf draws a square and a circle as SVG; the sizes are those that were drawn."""
    document = ezdxf.new("R2010")  # type: ignore[attr-defined]
    space = document.modelspace()
    space.add_lwpolyline([(0, 0), (60, 0), (60, 40), (0, 40)], close=True)
    space.add_circle((30, 20), 10)
    backend = SVGBackend()
    Frontend(RenderContext(document), backend).draw_layout(space)
    text = backend.get_string(layout.Page(60, 40, layout.Units.mm, layout.Margins.all(0)))
    path = tmp_path / "other.svg"
    path.write_text(text.replace("<rect", "<title").replace("</rect>", "</title>"))
    found = read_cutter_file(path)
    assert (found.width, found.height) == pytest.approx((60, 40))
    boxes = [np.ptp(stroke.points, axis=0) for stroke in found.strokes]
    assert any(box == pytest.approx((60, 40), abs=0.1) for box in boxes)
    assert any(box == pytest.approx((20, 20), abs=0.1) for box in boxes)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "is not an SVG"),
        ("<html/>", "begins with “html”"),
        (svg('<path d="M 0 0 A 5 5 0 0 1 9 9"/>'), "“A” is not understood"),
        (svg('<path d="L 0 0"/>'.replace("L 0 0", "5 5")), "does not begin with a move"),
        (svg('<path d="M 0 0 L 5"/>'), "ends in the middle"),
        (svg("<image/>"), "cannot run “image”"),
        (svg("<text>hello</text>"), "cannot run “text”"),
        (svg('<g data-operation="burn"><path d="M 0 0 L 1 1"/></g>'), "“burn” is not an operation"),
        (svg('<g transform="skewX(20)"><path d="M 0 0 L 1 1"/></g>'), "“skewX(20)” is not understood"),
        (svg("", size=""), "its width “” is not a mat size"),
        (svg("", size='width="nan" height="5"'), "is not a mat size"),
        ('<!DOCTYPE x [<!ENTITY a "b">]><svg>&a;</svg>', "is not an SVG"),
    ],
)
def test_what_cannot_be_run_is_refused_in_words(text: str, words: str) -> None:
    with pytest.raises(CutterFileError, match=words.replace("(", r"\(").replace(")", r"\)")):
        read_svg(text, "a.svg")


def test_a_plotter_file_written_by_hand() -> None:
    text = "IN;SP1;PU400,400;PD800,400,800,800;PU;SP2;PA;PU0,0;PR;PD40,0,0,40;PU;SP0;"
    found = read_plotter(text, "a.plt", Counting(height=100.0), ("score", "cut")).strokes
    assert [each.operation for each in found] == ["score", "cut"]
    assert found[0].points.tolist() == [[10, 90], [20, 90], [20, 80]]
    assert found[1].points.tolist() == [[0, 100], [1, 100], [1, 99]]
    ring = read_plotter("IN;SP9;PU0,0;PD40,0,40,40,0,40,0,0;", "a.plt", Counting(height=10.0), ()).strokes[0]
    assert (ring.closed, ring.operation, len(ring.points)) == (True, "9", 4)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("IN;PD5;", "half a place"),
        ("IN;CI400;", "“CI400” is no word"),
        ("G1 X5 Y5", "“G1” is no word"),
        ("IN;SP1;PU;", "nothing is drawn"),
    ],
)
def test_other_plotter_files_are_refused(text: str, words: str) -> None:
    with pytest.raises(CutterFileError, match=words):
        read_plotter(text, "a.plt", Counting(height=100.0), ())


def test_files_of_other_kinds_are_refused(tmp_path: Path) -> None:
    path = tmp_path / "mat.gcode"
    path.write_bytes(io.BytesIO(b"G0").getvalue())
    with pytest.raises(CutterFileError, match=r"only \.svg, \.dxf and \.plt"):
        read_cutter_file(path)
