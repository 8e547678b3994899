"""Paint of SVG: colours, variables, references to gradients; what is not understood is told and falls back as the
standard says."""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable, Iterable

from dechirer.core.memory import until_forgotten

PAINTS = frozenset({"fill", "stroke", "color", "stop-color"})
Say = Callable[[str], None]

_HEX = re.compile(r"#[0-9a-fA-F]{6}")
_VAR = re.compile(r"var\(\s*(--[^\s,)]+)\s*(?:,\s*(.*))?\)\s*$", re.DOTALL)
_URL = re.compile(r"url\(\s*['\"]?([^)'\"]*)['\"]?\s*\)\s*(.*)$", re.DOTALL)
DEEPEST = 8


def resolve_paint(text: str, variables: dict[str, str], say: Say) -> str | None:
    """A paint as `none`, `currentcolor`, `#rrggbb` or `url(#id) fallback`; None when it is not one.

    A paint that is not valid is as good as not given (CSS Cascade, invalid declarations); a variable that is not set
    stands for its fallback (CSS Custom Properties, section 3); of two colours, one for a colour profile, the plain one
    counts (SVG 1.1, section 11.2).
    """
    text = text.strip()
    if _HEX.fullmatch(text):
        return text.lower()
    for _ in range(DEEPEST):
        match = _VAR.match(text)
        if match is None:
            break
        name, fallback = match[1], match[2]
        found = variables.get(name, fallback)
        if found is None:
            say("a colour by a variable that is not set")
            return None
        text = found.strip()
    if text.startswith("url("):
        return text
    plain = re.sub(r"\s*(icc-color|device-[a-z]+)\(.*$", "", text, flags=re.DOTALL).strip() or text
    if plain != text:
        say("a colour for a colour profile (its plain colour is taken)")
    if plain.lower() in ("none", "currentcolor"):
        return plain.lower()
    colour = read_colour(plain)
    if colour is None:
        say("a colour that is not understood")
    return colour


def split_reference(text: str) -> tuple[str, str] | None:
    """The id of a `url(#id) fallback` and its fallback; None for another paint."""
    match = _URL.match(text)
    return (match[1].removeprefix("#"), match[2].strip()) if match else None


@until_forgotten(4096)
def read_colour(text: str) -> str | None:
    """A colour as `#rrggbb`, or `none` when it is wholly transparent; None when it is no colour."""
    if _HEX.fullmatch(text):
        return text.lower()
    import tinycss2.color3

    try:
        colour = tinycss2.color3.parse_color(text)
    except (RecursionError, ValueError):
        return None
    if colour is None:
        return None
    if isinstance(colour, str):
        return colour.lower()
    if colour.alpha == 0:
        return "none"
    return "#" + "".join(f"{round(max(0.0, min(1.0, part)) * 255):02x}" for part in colour[:3])


def mix_stops(stops: Iterable[tuple[float, str]]) -> str | None:
    """The mean colour along a gradient of (offset from 0 to 1, `#rrggbb`); None without stops."""
    ordered: list[tuple[float, tuple[int, ...]]] = []
    for offset, colour in stops:
        low = ordered[-1][0] if ordered else 0.0
        ordered.append((min(1.0, max(low, offset)), tuple(int(colour[at : at + 2], 16) for at in (1, 3, 5))))
    if not ordered:
        return None
    ends = [(0.0, ordered[0][1]), *ordered, (1.0, ordered[-1][1])]
    mean = [0.0, 0.0, 0.0]
    for (low, one), (high, other) in itertools.pairwise(ends):
        for part in range(3):
            mean[part] += (high - low) * (one[part] + other[part]) / 2
    return "#" + "".join(f"{round(part):02x}" for part in mean)
