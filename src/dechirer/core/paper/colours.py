"""Colours of papers and inks: how different they look, how well words read on them, and what people call them."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from typing import Protocol, TypeVar

from dechirer.core.memory import until_forgotten

Lab = tuple[float, float, float]

NAMES: dict[str, str] = {
    "#ffffff": "white",
    "#000000": "black",
    "#808080": "grey",
    "#c0c0c0": "light grey",
    "#404040": "dark grey",
    "#d02020": "red",
    "#7a1f1f": "dark red",
    "#f08030": "orange",
    "#f0c020": "yellow",
    "#fff4d0": "cream",
    "#8b5a2b": "brown",
    "#d8b48c": "sand",
    "#2e8b40": "green",
    "#1f4d2b": "dark green",
    "#a8d8a0": "pale green",
    "#6b8e4e": "moss",
    "#20a0a0": "teal",
    "#2060c0": "blue",
    "#0000ff": "blue",  # screens' own blues lie near violet by hue, and are called blue by everyone
    "#2038b0": "blue",
    "#4169e1": "blue",
    "#1e90ff": "blue",
    "#8030d0": "violet",
    "#4b0082": "violet",
    "#182c60": "navy",
    "#000080": "navy",
    "#a0c8f0": "sky blue",
    "#6040a0": "violet",
    "#7a3b66": "plum",
    "#e080b0": "pink",
    "#f8d0dc": "pale pink",
    "#c8a030": "gold",
}
"""Plain names for colours; a colour is called by the nearest."""


@until_forgotten(1024)
def to_lab(colour: str) -> Lab:
    """A colour `#rrggbb` as CIE L*a*b* under D65 (IEC 61966-2-1 for sRGB, ISO/CIE 11664-4 for L*a*b*)."""
    parts = [int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)]
    r, g, b = (part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts)
    xyz = (
        (0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047,
        0.2126729 * r + 0.7151522 * g + 0.0721750 * b,
        (0.0193339 * r + 0.1191920 * g + 0.9503041 * b) / 1.08883,
    )
    fx, fy, fz = (t ** (1 / 3) if t > (6 / 29) ** 3 else t / (3 * (6 / 29) ** 2) + 4 / 29 for t in xyz)
    return 116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)


class HasColour(Protocol):
    """Whatever has a colour, such as a paper."""

    @property
    def colour(self) -> str:
        """`#rrggbb`."""


Coloured = TypeVar("Coloured", bound=HasColour)
ALIKE = 8.0
"""Papers nearer than this (CIEDE2000) cannot be told apart at arm's length (common practice)."""


def lab_difference(one: Lab, other: Lab) -> float:
    """The CIEDE2000 difference of two colours (ISO/CIE 11664-6), parametric factors 1. About 1 is just seen."""
    (l1, a1, b1), (l2, a2, b2) = one, other
    c_mean = (math.hypot(a1, b1) + math.hypot(a2, b2)) / 2
    g = 0.5 * (1 - math.sqrt(c_mean**7 / (c_mean**7 + 25**7)))
    a1, a2 = a1 * (1 + g), a2 * (1 + g)
    c1, c2 = math.hypot(a1, b1), math.hypot(a2, b2)
    h1, h2 = (math.degrees(math.atan2(b, a)) % 360 if a or b else 0.0 for a, b in ((a1, b1), (a2, b2)))
    dl, dc = l2 - l1, c2 - c1
    dh = 0.0
    if c1 * c2:
        dh = h2 - h1
        dh += 360 if dh < -180 else -360 if dh > 180 else 0
    big_dh = 2 * math.sqrt(c1 * c2) * math.sin(math.radians(dh / 2))
    l_mean, c_bar = (l1 + l2) / 2, (c1 + c2) / 2
    if not c1 * c2:
        h_mean = h1 + h2
    elif abs(h1 - h2) <= 180:
        h_mean = (h1 + h2) / 2
    else:
        h_mean = (h1 + h2 + 360) / 2 if h1 + h2 < 360 else (h1 + h2 - 360) / 2
    t = (
        1
        - 0.17 * math.cos(math.radians(h_mean - 30))
        + 0.24 * math.cos(math.radians(2 * h_mean))
        + 0.32 * math.cos(math.radians(3 * h_mean + 6))
        - 0.20 * math.cos(math.radians(4 * h_mean - 63))
    )
    turn = 30 * math.exp(-(((h_mean - 275) / 25) ** 2))
    rc = 2 * math.sqrt(c_bar**7 / (c_bar**7 + 25**7))
    sl = 1 + 0.015 * (l_mean - 50) ** 2 / math.sqrt(20 + (l_mean - 50) ** 2)
    sc, sh = 1 + 0.045 * c_bar, 1 + 0.015 * c_bar * t
    rt = -math.sin(math.radians(2 * turn)) * rc
    return math.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (big_dh / sh) ** 2 + rt * (dc / sc) * (big_dh / sh))


@until_forgotten(4096)
def difference(one: str, other: str) -> float:
    """The CIEDE2000 difference of two colours `#rrggbb`."""
    return lab_difference(to_lab(one), to_lab(other))


@until_forgotten(1024)
def name_colour(colour: str) -> str:
    """What a colour is called: the nearest of NAMES; with its number when it is far from all of them."""
    nearest = min(NAMES, key=lambda known: difference(known, colour))
    return NAMES[nearest] if difference(nearest, colour) < 25 else f"{NAMES[nearest]} ({colour})"


def colour_called(words: str) -> str | None:
    """The colour of a plain name, or of `#rrggbb`; None for what is neither."""
    text = words.strip().lower()
    if re.fullmatch(r"#[0-9a-f]{6}", text):
        return text
    return next((colour for colour, name in NAMES.items() if name == text), None)


def luminance(colour: str) -> float:
    """Relative luminance of `#rrggbb`, from 0 to 1 (WCAG 2.2, "relative luminance")."""
    parts = [int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)]
    linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(first: str, second: str) -> float:
    """Contrast of two colours, from 1 to 21 (WCAG 2.2, "contrast ratio")."""
    light, dark = sorted((luminance(first), luminance(second)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def told_apart(papers: Iterable[Coloured], ground: str) -> list[Coloured]:
    """Those of some papers whose colour can be told from a ground, the most different first."""
    apart = [(difference(paper.colour, ground), paper) for paper in papers]
    return [paper for far, paper in sorted(apart, key=lambda each: -each[0]) if far >= ALIKE]
