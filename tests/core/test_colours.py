"""Colours against published values."""

from __future__ import annotations

import pytest

from dechirer.core.paper.colours import contrast, difference, lab_difference, name_colour, to_lab
from dechirer.core.paper.strength import web_it_holds

# Sharma, Wu, Dalal: The CIEDE2000 Color-Difference Formula, supplementary test data (2005); pairs from memory.
SHARMA = [
    ((50.0, 2.6772, -79.7751), (50.0, 0.0, -82.7485), 2.0425),
    ((50.0, 3.1571, -77.2803), (50.0, 0.0, -82.7485), 2.8615),
    ((50.0, -1.3802, -84.2814), (50.0, 0.0, -82.7485), 1.0000),
    ((50.0, 0.0, 0.0), (50.0, -1.0, 2.0), 2.3669),
    ((50.0, 2.49, -0.001), (50.0, -2.49, 0.0009), 7.1792),
    ((50.0, 2.5, 0.0), (73.0, 25.0, -18.0), 27.1492),
    ((50.0, 2.5, 0.0), (58.0, 24.0, 15.0), 19.4535),
    ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
    ((2.0776, 0.0795, -1.1350), (0.9033, -0.0636, -0.5514), 0.9082),
]


@pytest.mark.parametrize(("one", "other", "wanted"), SHARMA)
def test_ciede2000_gives_the_published_differences(one: tuple, other: tuple, wanted: float) -> None:
    assert lab_difference(one, other) == pytest.approx(wanted, abs=1e-4)
    assert lab_difference(other, one) == pytest.approx(wanted, abs=1e-4)


def test_white_and_black_in_lab() -> None:
    assert to_lab("#ffffff") == pytest.approx((100, 0, 0), abs=0.02)  # CIE 1976 L*a*b* of the white point
    assert to_lab("#000000") == pytest.approx((0, 0, 0), abs=1e-6)
    assert difference("#ffffff", "#000000") == pytest.approx(100, abs=0.05)
    assert contrast("#ffffff", "#000000") == pytest.approx(21)  # WCAG 2.2


def test_colours_have_names() -> None:
    assert name_colour("#7a3b66") == "plum"
    assert name_colour("#fefefe") == "white"
    assert name_colour("#e07fb1") == "pink"


def test_heavier_paper_holds_narrower_webs() -> None:
    assert web_it_holds(160) == pytest.approx(0.8)  # common practice
    assert web_it_holds(40) == web_it_holds(60) == 1.2
    assert web_it_holds(190) == pytest.approx(0.75)
    assert web_it_holds(400) == 0.6


@pytest.mark.parametrize(
    ("name", "colours"),
    [
        ("blue", ("#0000ff", "#0000cd", "#4169e1", "#1e3fae", "#2040c0", "#3366cc", "#1e90ff", "#1f77b4")),
        ("violet", ("#8000ff", "#4b0082", "#8a2be2", "#663399", "#6040a0", "#9400d3")),
        ("navy", ("#000080", "#191970", "#182c60")),
        ("red", ("#ff0000", "#dc143c", "#d02020")),
        ("green", ("#008000", "#228b22", "#2e8b40")),
    ],
)
def test_inks_are_called_what_makers_call_them(name: str, colours: tuple[str, ...]) -> None:
    """The named colours of CSS Color 4 among them: blue, mediumblue, royalblue, dodgerblue, indigo, blueviolet ..."""
    assert [name_colour(colour).split(" (")[0] for colour in colours] == [name] * len(colours)
