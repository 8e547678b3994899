"""What is done with the lines of an import: guessed from names, dashes, ways of drawing and colours.

A guess comes with its reason, and the maker confirms or changes it. All rules are common practice.
"""

from __future__ import annotations

import re

from msgspec import Struct

from dechirer.core.brought import Role
from dechirer.core.memory import until_forgotten

HAIRLINE_MM = 0.4
"""A drawn line up to this width is taken for its centre line; a wider one is artwork and has an outline."""
FEW_COLOURS = 6
"""Up to this many fill colours each is a paper; more are a picture to be printed."""

_NAMES: tuple[tuple[Role, str], ...] = (
    ("kiss", r"kiss|peel"),
    ("perforate", r"perf"),
    ("score", r"scor|fold|creas|valley|mountain|rill"),
    ("foil", r"foil"),
    ("pen", r"\bpens?\b|draw|writ|sketch|doodle|pencil"),
    ("off", r"guide|margin|bleed|safe|template|\bref\b|reference|hidden"),
    ("print", r"print|picture|photo|texture|\bimage"),
    ("cut", r"\bcuts?\b|cut[-_ ]?(line|path|out)|\bdies?\b|blade|outline|contour|silhouette|window"),
)


class Looks(Struct, frozen=True):
    """How a group looks: its layer and class names, colour, line width (mm; 0: filled), whether it is dashed; how many
    fill colours the import has, and its line colours in order."""

    name: str
    colour: str
    stroke: float
    dashed: bool
    fills: int = 1
    line_colours: tuple[str, ...] = ()


@until_forgotten(2048)
def role_by_name(name: str) -> Role | None:
    """The role a layer's or class's name speaks of, or None."""
    if not name:
        return None
    words = re.sub(r"[_/.]+", " ", name.lower())
    return next((role for role, pattern in _NAMES if re.search(pattern, words)), None)


def guess_role(looks: Looks) -> tuple[Role, str]:
    """The role of a group and why.

    Returns:
        The role (`unassigned` when nothing speaks for one) and the reason in the maker's words.
    """
    named = role_by_name(looks.name)
    if named is not None:
        return named, f"its name says “{looks.name}”"[:200]
    if looks.dashed:
        return "score", "dashed lines are usually folds"
    if looks.stroke:
        first = looks.line_colours[0] if looks.line_colours else looks.colour
        if looks.fills == 0 and looks.colour == first:
            return "cut", "lines of the first colour"
        if looks.fills and looks.stroke > HAIRLINE_MM:
            return "pen", "lines drawn on areas"
        return "unassigned", "lines of a colour that nothing names"
    if looks.fills > FEW_COLOURS:
        return "print", f"one of {looks.fills} colours"
    return "cut", "a filled area"
