from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.length import LengthError, format_length, make_length, parse_length
from dechirer.core.paper.standards import find_american_namesake, find_size, parse_size


@pytest.mark.parametrize(
    ("text", "unit", "inches"),
    [
        ("5 1/4", "in", "21/4"),
        ("5.25", "in", "21/4"),
        ("7/8 in", "mm", "7/8"),
        ('4 1/4"', "mm", "17/4"),
        ("1½ in", "mm", "3/2"),
        ("10/2 - 1/16", "in", "79/16"),
        ("10 in - 2 x 1/16 in".replace(" x ", " * "), "mm", "79/8"),
        ("(4 + 1) * 2", "in", "10"),
        ("2 × 5 in − 1/8 in", "mm", "79/8"),
        ("5 inches", "mm", "5"),
        ("72 pt", "mm", "1"),
        ("96px", "mm", "1"),
        ("-1/8 in", "mm", "-1/8"),
        ("10 in / 2", "mm", "5"),
        ("5 in + 1/4", "in", "21/4"),
    ],
)
def test_spellings_are_exact(text: str, unit: str, inches: str) -> None:
    # 25.4 mm to the inch, exact: international yard and pound agreement, 1959.
    assert parse_length(text, unit=unit).exact_mm == Fraction(inches) * Fraction(254, 10)


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("", "missing"),
        ("five", "number"),
        ("5 furlongs", "furlongs"),
        ("5 in in", "did not expect"),
        ("5 +", "missing at the end"),
        ("1/0", "zero"),
        ("1/0 in", "zero"),
        ("5 1/0", "zero"),
        ("1/0. in", "zero"),
        ("1 / (2 - 2)", "zero"),
        ("3 in * 2 in", "area"),
        ("(5", "bracket"),
        ("5 5", "did not expect"),
        ("99999 in", "metres"),
        ("5 $ 3", "cannot read"),
        ("(" * 100 + "1", "brackets|bracket|missing"),
        ("1" * 200, "too long"),
    ],
)
def test_what_cannot_be_read_is_said(text: str, part: str) -> None:
    with pytest.raises(LengthError, match=part):
        parse_length(text, unit="in")


@given(st.text(alphabet='0123456789./ +-*()inm½x"', max_size=40), st.sampled_from(["in", "mm"]))
def test_any_text_is_read_or_refused_and_reads_back_the_same(text: str, unit: str) -> None:
    try:
        length = parse_length(text, unit=unit)
    except LengthError:
        return
    # What is kept must mean the same whatever unit bare numbers have when it is read again.
    for other in ("in", "mm"):
        assert parse_length(length.typed, unit=other).exact_mm == length.exact_mm


@given(st.integers(0, 32 * 40))
def test_every_thirty_second_is_shown_exactly(parts: int) -> None:
    shown = format_length(parts / 32 * 25.4, "in")
    assert not shown.startswith("~")
    assert parse_length(shown).exact_mm == Fraction(parts, 32) * Fraction(254, 10)


@pytest.mark.parametrize(
    ("mm", "unit", "shown"),
    [
        (133, "in", "~5 1/4 in"),
        (127, "in", "5 in"),
        (250.825, "in", "9 7/8 in"),
        (1.5875, "in", "1/16 in"),
        (0, "in", "0 in"),
        (-3.175, "in", "-1/8 in"),
        (127, "mm", "127 mm"),
        (250.825, "mm", "250.8 mm"),
        (-0.01, "mm", "~0 mm"),
    ],
)
def test_shown_for_people(mm: float, unit: str, shown: str) -> None:
    assert format_length(mm, unit) == shown


@pytest.mark.parametrize(
    ("text", "width", "height"),
    [
        ("5x7in", 127, 177.8),
        ("5 x 7", 127, 177.8),
        ("105 x 148 mm", 105, 148),
        ("4 1/4 × 5 1/2 in", 107.95, 139.7),
        ("A6", 105, 148),  # ISO 216
        ("iso a5", 148, 210),  # ISO 216
        ("A4", 210, 297),  # ISO 216
        ("A7", 74, 105),  # ISO 216
        ("C6", 114, 162),  # ISO 269
        ("DL", 110, 220),  # ISO 269
        ("US A6", 114.3, 158.75),  # from memory
        ("us a7", 127, 177.8),  # from memory
    ],
)
def test_sizes(text: str, width: float, height: float) -> None:
    got = parse_size(text, unit="in")
    assert [each.mm for each in got] == pytest.approx([width, height])


def test_the_american_namesake_of_an_iso_size_is_another_size() -> None:
    namesake, iso = find_american_namesake("A6"), find_size("A6")
    assert namesake is not None
    assert iso is not None
    assert (namesake.width_mm, iso.width_mm) == (114.3, 105)
    assert find_american_namesake("C6") is None


@pytest.mark.parametrize("text", ["5", "5 x", "x 7", "A99", "5 x 7 x 9"])
def test_what_is_no_size(text: str) -> None:
    with pytest.raises(LengthError):
        parse_size(text, unit="in")


@pytest.mark.parametrize(
    ("text", "unit", "inches"),
    [
        ("(10-1)/2 in", "mm", 4.5),
        ("8 1/2 / 2 in", "mm", 4.25),
        ("10/2-1/16 in", "mm", 4.9375),
        ('5-1/4"', "mm", 5.25),
        ("5-1/4", "in", 5.25),
        ("5 - 1/4", "in", 4.75),
        ("10 in - 1/16", "mm", 9.9375),
        ("5,25", "in", 5.25),
        ("5⁄8", "in", 0.625),
        ("3 ⅖", "in", 3.4),
        ("2⅚ in", "mm", 2 + 5 / 6),
        ("5''", "mm", 5),
        ("5′′", "mm", 5),
        ("3in.", "mm", 3),
        ("9 / (2 1/4) in", "mm", 4),
        ("2 in * 3", "mm", 6),
    ],
)
def test_lengths_are_read_as_makers_write_them(text: str, unit: str, inches: float) -> None:
    """By hand; a unit at the end serves all before it, and what was typed reads the same in any job."""
    length = parse_length(text, unit=unit)
    assert length.mm / 25.4 == pytest.approx(inches, abs=1e-12)
    for other in ("in", "mm"):
        assert parse_length(length.typed, unit=other) == length


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("1/2 1/4", "side by side"),
        ("8 / 2 1/4 in", "side by side"),
        ("1 mm + 3 / (2 in)", "over a length"),
        ("1,000", "cannot read"),
        ("3 in in", "two units|did not expect|expected"),
    ],
)
def test_what_could_be_read_in_two_ways_is_refused(text: str, why: str) -> None:
    with pytest.raises(LengthError, match=why):
        parse_length(text, unit="in")


@pytest.mark.parametrize(
    ("text", "unit", "mm"),
    [
        ("105mm x 148", "in", (105, 148)),
        ("5 in x 7", "mm", (127, 177.8)),
        ("5x7in", "mm", (127, 177.8)),
        ('5" x 7', "mm", (127, 177.8)),
        ("4 1/4 by 5 1/2 in.", "mm", (107.95, 139.7)),
        ("5in x 148mm", "in", (127, 148)),
        ("300px x 200px", "in", (79.375, 52.91666667)),
        ("5 x 7", "in", (127, 177.8)),
    ],
)
def test_one_unit_of_a_size_serves_both(text: str, unit: str, mm: tuple[float, float]) -> None:
    assert tuple(each.mm for each in parse_size(text, unit=unit)) == pytest.approx(mm)


def test_round_lengths_stand_in_lowest_terms_and_next_to_nothing_is_marked() -> None:
    assert str(make_length(76.2, "in")) == "3 in"
    assert str(make_length(77, "in")) == "3 in"
    assert str(make_length(1.6, "in")) == "1/16 in"
    assert format_length(0.03, "mm") == "~0 mm"
    assert format_length(-0.0, "mm") == "0 mm"
