"""What was typed is what is cut: art is read, typed to a size, exported, and the mats read back by svgelements.

Sizes are plain geometry; curves of a mat are fitted within 0.015 mm, but cut at a line's extremes, so that its sides
are met within 0.01 mm.
"""

from __future__ import annotations

import io
import math
from itertools import pairwise
from pathlib import Path

import pytest
import svgelements
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.plan import make_plan
from dechirer.formats.art.collect import bezier_range
from dechirer.formats.art.svg import read_svg
from dechirer.formats.export import export_plan
from tests.dressing import art, dressed, item, words
from tests.helpers import quick_job, typed

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="50mm" height="50mm" viewBox="0 0 50 50">'
ARCH = "M 30 0 C -10 0 -10 40 30 40 Z"  # 30 x 40: its left extreme is at x = 0; the control points make 40 x 40
CIRCLE = '<circle cx="25" cy="25" r="10" transform="rotate(45 25 25)"/>'
SHAPES = {
    "arch": (f'<path d="{ARCH}"/>', 30.0, 40.0),
    "turned circle": (CIRCLE, 20.0, 20.0),
    "dome": ('<path d="M0 30 C 0 -10 40 -10 40 30 Z"/>', 40.0, 30.0),
    "quadratic": ('<path d="M0 20 Q 10 -20 20 20 Z"/>', 20.0, 20.0),
    "turned square": ('<rect x="20" y="20" width="10" height="10" transform="rotate(45 25 25)"/>', *(200**0.5,) * 2),
}


def cut_box(tmp_path: Path, job: object, piece: str = "thing") -> tuple[float, float]:
    """Width and height in mm of a piece on the exported mats."""
    export_plan(make_plan(job), tmp_path)  # type: ignore[arg-type]
    for path in sorted(tmp_path.rglob("mat-*.svg")):
        svg = svgelements.SVG.parse(io.StringIO(path.read_text()), ppi=25.4)
        for group in svg.select(lambda each: isinstance(each, svgelements.Group) and each.values.get("data-piece")):
            if group.values["data-piece"] == piece:
                left, top, right, bottom = group.bbox()
                return right - left, bottom - top
    raise AssertionError(f"no {piece} on a mat")


@pytest.mark.parametrize("name", list(SHAPES))
def test_art_is_as_large_as_its_curves_not_as_their_control_points(name: str) -> None:
    body, width, height = SHAPES[name]
    found = read_svg(f"{HEAD}{body}</svg>".encode(), "file.svg")
    assert (found.width, found.height) == pytest.approx((width, height), abs=1e-3)


@pytest.mark.parametrize("width", ["30 mm", "2 in", "7 mm"])
@pytest.mark.parametrize("name", list(SHAPES))
def test_what_was_typed_is_what_is_cut(tmp_path: Path, name: str, width: str) -> None:
    body, *_ = SHAPES[name]
    found = read_svg(f"{HEAD}{body}</svg>".encode(), "file.svg")
    job = dressed(item(paper="liner-paper", width=width), arts=(found,))
    wanted = {"30 mm": 30.0, "2 in": 50.8, "7 mm": 7.0}[width]
    assert cut_box(tmp_path, job)[0] == pytest.approx(wanted, abs=0.01)
    figure = make_plan(job).figures["thing.ink-width"]
    assert figure.value == pytest.approx(wanted, abs=1e-6)
    assert figure.field == "dress.items.thing.width"


def test_a_height_alone_and_both_sides_are_met(tmp_path: Path) -> None:
    found = read_svg(f"{HEAD}{SHAPES['arch'][0]}</svg>".encode(), "file.svg")
    tall = dressed(item(paper="liner-paper", height="20 mm"), arts=(found,))
    assert cut_box(tmp_path / "tall", tall) == pytest.approx((15, 20), abs=0.01)
    both = dressed(item(paper="liner-paper", height="20 mm", width="40 mm"), arts=(found,))
    assert cut_box(tmp_path / "both", both) == pytest.approx((40, 20), abs=0.01)


def test_art_that_was_kept_with_another_size_is_cut_as_typed(tmp_path: Path) -> None:
    """Jobs of before carry the size of the control points."""
    job = dressed(item(paper="liner-paper", width="30 mm"), arts=(art(ARCH, width=40.0, height=40.0),))
    assert cut_box(tmp_path, job) == pytest.approx((30, 40), abs=0.01)


@pytest.mark.parametrize("joined", [False, True])
@pytest.mark.parametrize(("side", "wanted"), [("width", 60.0), ("height", 14.0)])
def test_words_are_as_wide_or_as_high_as_was_typed(tmp_path: Path, joined: bool, side: str, wanted: float) -> None:
    text = words("Kite", face="pacifico", size="30 mm", joined=joined)
    job = dressed(item(paper="liner-paper", words=text, **{side: f"{wanted} mm"}))
    made = make_plan(job).dress.item("thing")
    assert made is not None
    left, top, right, bottom = made.placed.source
    assert {"width": right - left, "height": bottom - top}[side] == pytest.approx(wanted, abs=0.01)


@pytest.mark.parametrize(("text", "side"), [("|", "width"), ("-", "height"), ("l", "width")])
def test_a_size_typed_for_a_single_stroke_is_no_fault(text: str, side: str) -> None:
    """An upright stroke of a pen has no width to be made larger."""
    job = dressed(item(made="pen", words=words(text, face="line-plain"), **{side: "20 mm"}))
    made = make_plan(job).dress.item("thing")
    assert made is not None
    assert not made.placed.drawn.is_empty


def test_an_item_made_of_another_is_as_high_as_was_typed(tmp_path: Path) -> None:
    job = dressed(item(paper="liner-paper"), item("twin", of="thing", paper="liner-paper", height="8 mm"))
    assert cut_box(tmp_path, job, "twin") == pytest.approx((8, 8), abs=0.01)


@pytest.mark.parametrize(
    ("root", "wide", "high"),
    [
        ('width="300mm" viewBox="0 0 30 10"', 300, 100),
        ('height="100mm" viewBox="0 0 30 10"', 300, 100),
        ('style="width:300mm" viewBox="0 0 30 10"', 300, 100),
        ('width="7mm" style="fill:red; width : 300mm;" viewBox="0 0 30 10"', 300, 100),
        ('width="100%" height="100mm" viewBox="0 0 30 10"', 300, 100),
        ('width="auto" height="5cm" viewBox="0 0 30 10"', 150, 50),
        ('width="300mm" height="300mm" viewBox="0 0 30 10"', 300, 100),
        ('viewBox="0 0 30 10"', 30 * 25.4 / 96, 10 * 25.4 / 96),
        ('width="100%" height="100%" viewBox="0 0 30 10"', 30 * 25.4 / 96, 10 * 25.4 / 96),
    ],
)
def test_one_side_of_the_file_gives_the_other(root: str, wide: float, high: float) -> None:
    """By the view box's ratio, as CSS Images 3 has it (default sizing); px are 1/96 in (CSS Values 4)."""
    text = f'<svg xmlns="http://www.w3.org/2000/svg" {root}><rect width="30" height="10"/></svg>'
    found = read_svg(text.encode(), "file.svg")
    assert (found.width, found.height) == pytest.approx((wide, high))
    assert ("mm" in found.settled or "cm" in found.settled) is ("mm" in root or "cm" in root)


@given(*(st.floats(-50, 50) for _ in range(4)))
def test_the_range_of_a_curve_holds_all_of_it_and_no_more(a: float, b: float, c: float, d: float) -> None:
    """Against 2,000 points of it, by de Casteljau."""
    low, high = bezier_range(a, b, c, d)

    def at(t: float) -> float:
        row = [a, b, c, d]
        while len(row) > 1:
            row = [x + (y - x) * t for x, y in pairwise(row)]
        return row[0]

    seen = [at(step / 2000) for step in range(2001)]
    assert low - 1e-9 <= min(seen)
    assert max(seen) <= high + 1e-9
    assert math.isclose(low, min(seen), abs_tol=2e-4 * 150)
    assert math.isclose(high, max(seen), abs_tol=2e-4 * 150)


@given(st.sampled_from(sorted(SHAPES)), st.floats(4, 110), st.sampled_from(["width", "height"]))
def test_any_size_of_any_shape_is_met_by_the_plan(name: str, mm: float, side: str) -> None:
    found = read_svg(f"{HEAD}{SHAPES[name][0]}</svg>".encode(), "file.svg")
    job = dressed(item(made="pen", width="10 mm"), arts=(found,), job=quick_job("5x7in"))
    job = typed(job, "dress.items.thing.width", "")
    job = typed(job, f"dress.items.thing.{side}", f"{mm:.3f} mm")
    made = make_plan(job).dress.item("thing")
    assert made is not None
    left, top, right, bottom = made.placed.source
    assert {"width": right - left, "height": bottom - top}[side] == pytest.approx(round(mm, 3), abs=1e-6)
