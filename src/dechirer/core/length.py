"""Lengths as makers write them: parsing, exact arithmetic, formatting.

A `Length` keeps the exact value (a fraction of a millimetre) together with what was typed, so that
"4 1/4 in" is still that when the job is opened again. Words used here:

- *unit*: `in`, `mm`, `cm`, `pt` (1/72 in) or `px` (1/96 in, CSS Values and Units, section 5.2).
- *bare number*: a number without a unit; the caller's `unit` decides what it means.

Limits: + - * / and parentheses; a space between a whole number and a fraction means "and" (`5 1/4`).
"""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Literal

from dechirer.core.memory import until_forgotten

MM_PER_INCH = Fraction(254, 10)
"""25.4 mm, exact: international yard and pound agreement, 1959."""

MM_PER_UNIT: dict[str, Fraction] = {
    "mm": Fraction(1),
    "cm": Fraction(10),
    "in": MM_PER_INCH,
    "pt": MM_PER_INCH / 72,
    "px": MM_PER_INCH / 96,
}
UNIT_SPELLINGS = {
    "mm": "mm",
    "millimetre": "mm",
    "millimetres": "mm",
    "millimeter": "mm",
    "millimeters": "mm",
    "cm": "cm",
    "centimetre": "cm",
    "centimetres": "cm",
    "centimeter": "cm",
    "centimeters": "cm",
    "in": "in",
    "inch": "in",
    "inches": "in",
    '"': "in",
    "″": "in",
    "”": "in",
    "pt": "pt",
    "px": "px",
}
_VULGAR = {
    "½": "1/2",
    "¼": "1/4",
    "¾": "3/4",
    "⅛": "1/8",
    "⅜": "3/8",
    "⅝": "5/8",
    "⅞": "7/8",
    "⅓": "1/3",
    "⅔": "2/3",
    "⅕": "1/5",
    "⅖": "2/5",
    "⅗": "3/5",
    "⅘": "4/5",
    "⅙": "1/6",
    "⅚": "5/6",
}
_SAME = {"×": "*", "−": "-", "–": "-", "⁄": "/", "÷": "/", "′′": '"', "''": '"', "’’": '"'}
"""Other signs for the same."""

SMALLEST_SHOWN_INCH = 32
"""Inches are shown to the nearest 1/32: the finest mark on a common rule."""

LARGEST_MM = 10_000.0
"""No card, sheet or mat is longer than ten metres; a larger number is a slip of the keyboard."""

Unit = Literal["in", "mm"]

HOW_TO_WRITE = "write a length such as 5 1/4 in or 133 mm"


class LengthError(ValueError):
    """A text that cannot be read as a length; the message says which part and what is allowed."""


class Length:
    """An exact length and the text it was typed as. Two lengths are equal when both are: 5 in typed anew as 127 mm is
    another decision, and what is remembered of the one does not speak of the other.

    A plain class and not a dataclass, because msgspec would write a dataclass as its fields; treat it as frozen.
    """

    __slots__ = ("exact_mm", "typed")

    def __init__(self, exact_mm: Fraction, typed: str) -> None:
        self.exact_mm = exact_mm
        self.typed = typed

    @property
    def mm(self) -> float:
        """The value in millimetres as a float."""
        return float(self.exact_mm)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Length) and self.exact_mm == other.exact_mm and self.typed == other.typed

    def __hash__(self) -> int:
        return hash(self.exact_mm)

    def __str__(self) -> str:
        return self.typed

    def __repr__(self) -> str:
        return f"Length({self.typed!r})"


_TOKEN = re.compile(r"\s*(?:(?P<number>\d+\.\d*|\.\d+|\d+)|(?P<word>[A-Za-z]+|[\"″”])|(?P<sign>[-+*/()×−]))")


_DASHED = re.compile(r"(\d+)-(\d+)/(\d+)(?=[^\d/]*$)")
"""`5-1/4`, and nothing else but a unit: a whole number and its fraction, as makers write it; not a difference."""
_PLAIN_NUMBER = re.compile(r"(\d+[.,]?\d*|\.\d+|\d+/\d+|\d+[ -]+\d+/\d+|\d* *[½¼¾⅛⅜⅝⅞⅓⅔⅕⅖⅗⅘⅙⅚])$")
"""A number that takes a unit behind it as it stands; anything longer is put in brackets first."""


class _Reader:
    """Recursive descent over the tokens of one expression; values are exact (fraction, is-length)."""

    def __init__(self, text: str, unit: str) -> None:
        self.text = text
        self.unit = unit
        self.tokens: list[tuple[str, str]] = []
        self.at = 0
        self.mixed = False  # a bare number was given the default unit beside a measured one
        plain = _DASHED.sub(r"\1 \2/\3", text) if _DASHED.match(text) else text
        for glyph, spelled in (*((glyph, f" {spelled}") for glyph, spelled in _VULGAR.items()), *_SAME.items()):
            plain = plain.replace(glyph, spelled)
        plain = re.sub(r"(?<=\d),(?=\d{1,2}(?!\d))", ".", plain)  # 5,25 is five and a quarter; 1,000 is not read
        plain = re.sub(r"(?<=[A-Za-z])\.(?=\s|$)", "", plain)  # in.
        end = len(plain.rstrip())
        place = 0
        while place < end:
            match = _TOKEN.match(plain, place)
            if match is None:
                raise LengthError(f"“{text}”: cannot read “{plain[place:].strip()[:12]}”; {HOW_TO_WRITE}")
            kind = match.lastgroup or ""
            self.tokens.append((kind, match.group(kind)))
            place = match.end()
        units = [UNIT_SPELLINGS.get(token.lower()) for kind, token in self.tokens if kind == "word"]
        self.own = units[0] if len(set(units)) == 1 else None
        """The one unit of the text: it serves the bare numbers too."""
        self.serves_all = len(units) == 1 and self.own is not None and self.tokens[-1][0] == "word"
        if self.serves_all:
            self.tokens.pop()

    def peek(self, ahead: int = 0) -> tuple[str, str]:
        place = self.at + ahead
        return self.tokens[place] if place < len(self.tokens) else ("end", "")

    def fail(self, why: str) -> LengthError:
        return LengthError(f"“{self.text}”: {why}")

    def whole(self) -> tuple[Fraction, bool]:
        value = self.sum()
        if self.peek()[0] != "end":
            raise self.fail(f"did not expect “{self.peek()[1]}” here")
        if self.serves_all and self.own is not None:
            return value[0] * MM_PER_UNIT[self.own], True
        return value

    def sum(self) -> tuple[Fraction, bool]:
        value, measured = self.product()
        while self.peek()[1] in ("+", "-"):
            sign = self.peek()[1]
            self.at += 1
            other, other_measured = self.product()
            # A bare number beside a measured one takes its unit: "10 in - 1/16" means inches both. Beside two units it
            # takes the job's.
            if measured != other_measured:
                scale = MM_PER_UNIT[self.own or self.unit]
                value, other = (value, other * scale) if measured else (value * scale, other)
                measured, self.mixed = True, self.mixed or self.own is None
            value = value + other if sign == "+" else value - other
        return value, measured

    def product(self) -> tuple[Fraction, bool]:
        value, measured = self.factor()
        while self.peek()[1] in ("*", "/"):
            sign = self.peek()[1]
            self.at += 1
            if sign == "/" and self.peek()[0] == "number" and self.is_fraction(1):
                raise self.fail("two numbers stand side by side; put one of them in brackets")
            other, other_measured = self.factor()
            if sign == "/":
                if other == 0:
                    raise self.fail("divides by zero")
                if other_measured and not measured:
                    raise self.fail("a number over a length is no length")
                value, measured = value / other, measured and not other_measured
            else:
                if measured and other_measured:
                    raise self.fail("a length times a length is an area, not a length")
                value, measured = value * other, measured or other_measured
        return value, measured

    def factor(self) -> tuple[Fraction, bool]:
        kind, token = self.peek()
        if token == "-":
            self.at += 1
            value, measured = self.factor()
            return -value, measured
        if token == "(":
            self.at += 1
            value, measured = self.sum()
            if self.peek()[1] != ")":
                raise self.fail("a bracket is not closed")
            self.at += 1
        elif kind == "number":
            value, measured = self.number(), False
        elif kind == "end":
            raise self.fail("a number is missing at the end")
        else:
            raise self.fail(f"expected a number, got “{token}”; {HOW_TO_WRITE}")
        kind, token = self.peek()
        if kind == "word":
            unit = UNIT_SPELLINGS.get(token.lower())
            if unit is None:
                raise self.fail(f"“{token}” is no unit; use in, mm, cm, pt or px")
            if measured:
                raise self.fail("has two units on one number")
            self.at += 1
            return value * MM_PER_UNIT[unit], True
        return value, measured

    def number(self) -> Fraction:
        """A number, a fraction `7/8`, or a whole number and a fraction `9 7/8`."""
        value = Fraction(self.peek()[1])
        self.at += 1
        if self.is_fraction(0) and "." not in self.tokens[self.at - 1][1]:
            value += self.fraction()
        elif self.peek()[1] == "/" and self.peek(1)[0] == "number" and self.peek(2)[0] == "word":
            # "7/8 in" is seven eighths of an inch, not seven divided by "8 in".
            if Fraction(self.peek(1)[1]) == 0:
                raise self.fail("divides by zero")
            value /= Fraction(self.peek(1)[1])
            self.at += 2
        return value

    def is_fraction(self, ahead: int) -> bool:
        return (
            self.peek(ahead)[0] == "number" and self.peek(ahead + 1)[1] == "/" and self.peek(ahead + 2)[0] == "number"
        )

    def fraction(self) -> Fraction:
        top, bottom = Fraction(self.peek()[1]), Fraction(self.peek(2)[1])
        if bottom == 0:
            raise self.fail("divides by zero")
        self.at += 3
        return top / bottom


@until_forgotten(2048)
def parse_length(text: str, *, unit: str = "mm") -> Length:
    """Read a length such as `5 1/4`, `133 mm`, `10/2 - 1/16`, `4.25"`.

    Args:
        text: what was typed.
        unit: the unit of bare numbers, `in` or `mm`.

    Returns:
        The exact length. Its `typed` text carries the unit, so that it reads the same anywhere.

    Raises:
        LengthError: the text is empty, has an unknown unit, divides by zero, or is beyond ten metres.
    """
    if unit not in MM_PER_UNIT:
        raise LengthError(f"unit “{unit}” is not one of {', '.join(MM_PER_UNIT)}")
    text = text.strip()
    if not text:
        raise LengthError(f"a length is missing; {HOW_TO_WRITE}")
    if len(text) > 120:
        raise LengthError("that is too long to be a length")
    reader = _Reader(text, unit)
    try:
        value, measured = reader.whole()
    except RecursionError:
        raise LengthError(f"“{text[:20]}…”: has too many brackets") from None
    typed = text
    if not measured:
        value *= MM_PER_UNIT[unit]
        typed = f"{text} {unit}" if _PLAIN_NUMBER.match(text) else f"({text}) {unit}"
    elif reader.mixed:
        # Its meaning hangs on the default unit, so keep the exact value instead of the words.
        whole, rest = divmod(abs(value / MM_PER_UNIT[unit]), 1)
        sign = "-" if value < 0 else ""
        typed = f"{sign}({whole} + {rest}) {unit}" if rest else f"{sign}{whole} {unit}"
    if abs(value) > LARGEST_MM:
        raise LengthError(f"“{text}”: is over {LARGEST_MM / 1000:.0f} metres; check the unit")
    return Length(value, typed)


def format_length(mm: float, unit: str = "in", *, with_unit: bool = True) -> str:
    """Write a length for people: inches as the nearest 1/32 in lowest terms, millimetres to 0.1.

    A value that is not on a 1/32 is marked with a leading `~`. Exactness is judged to 0.001 mm, a tenth of
    what any cutting machine places.
    """
    if unit == "mm":
        text = f"{mm:.1f}".removesuffix(".0")
        text = text.removeprefix("-") if text in ("-0", "0") else text
        if text == "0" and abs(mm) > 0.001:
            text = "~0"
        return f"{text} mm" if with_unit else text
    parts = Fraction(round(abs(mm) / 25.4 * SMALLEST_SHOWN_INCH), SMALLEST_SHOWN_INCH)
    inexact = abs(float(parts) * 25.4 - abs(mm)) > 0.001
    whole, rest = divmod(parts, 1)
    words = [str(whole)] if whole or not rest else []
    if rest:
        words.append(f"{rest.numerator}/{rest.denominator}")
    text = ("~" if inexact else "") + ("-" if mm < 0 and parts else "") + " ".join(words)
    return f"{text} in" if with_unit else text


def format_size(width_mm: float, height_mm: float, unit: str = "in") -> str:
    """Write `5 x 7 in`: both lengths, the unit once."""
    return f"{format_length(width_mm, unit, with_unit=False)} × {format_length(height_mm, unit)}"


def make_length(mm: float, units: str) -> Length:
    """A round length at or just under a value: a whole sixteenth of an inch, in lowest terms, or half a millimetre."""
    step = Fraction(254, 160) if units == "in" else Fraction(1, 2)
    parts = int(Fraction(mm).limit_denominator(10**6) / step + Fraction(1, 10**6))
    return _inches(Fraction(parts, 16)) if units == "in" else parse_length(f"{float(parts * step):g} mm")


def make_length_over(mm: float, units: str) -> Length:
    """A round length at or just above a value: see `make_length`."""
    found = make_length(mm, units)
    return found if found.mm >= mm else make_length(mm + (25.4 / 16 if units == "in" else 0.5), units)


def make_length_from(least: float, mm: float, units: str) -> Length:
    """A round length at or just under a value; the least one (mm) where the value or its rounding goes below it."""
    found = make_length(mm, units)
    return found if found.mm >= least else parse_length(f"{least:g} mm")


def _inches(value: Fraction) -> Length:
    """Inches as makers write them: a whole number and a fraction in lowest terms."""
    whole, rest = divmod(abs(value), 1)
    words = " ".join(str(part) for part in (whole, rest) if part) or "0"
    return parse_length(f"{'-' if value < 0 else ''}{words} in")


def exact_length(mm: float, units: str) -> Length:
    """A length within a hundredth of a millimetre of a value: a thirty-second of an inch where it is one."""
    if units == "in":
        parts = round(mm / 25.4 * 32)
        if abs(parts * 25.4 / 32 - mm) <= 0.01:
            return _inches(Fraction(parts, 32))
    return parse_length(f"{round(mm, 2):g} mm")


def fine_length(mm: float, units: str) -> Length:
    """A length as near to a value as makes no odds: a thirty-second of an inch where that is within 2 %, else a
    twentieth of a millimetre."""
    if units == "in" and mm:
        parts = round(mm / 25.4 * 32)
        if parts and abs(parts * 25.4 / 32 - mm) <= 0.02 * abs(mm):
            return _inches(Fraction(parts, 32))
    return parse_length(f"{round(mm * 20) / 20:g} mm")
