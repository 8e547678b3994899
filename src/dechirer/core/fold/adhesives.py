"""Adhesives by the trade's general words: how far they stay from edges, how they are counted, how long they take.

Two schools: wet glue can still be slid and has to be pressed; tape holds at once (common practice). Minutes and insets
are from memory.
"""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

Adhesive = Literal["wet", "tape", "spray", "dots", "foam", "self"]


class AdhesiveSpec(Struct, frozen=True):
    """One way of sticking.

    Attributes:
        title: its name as shown.
        inset: how far it stays from the edge of what is stuck, so that none shows or oozes out, mm.
        least: the narrowest place it holds on, mm.
        counted: in `g`, `mm`, `dots`, `squares`, or nothing.
        sets_min: how long a joint is pressed or left before it is worked on, minutes.
        how: what is done, in a few words.
        care: what it can do to whoever uses it; empty for nothing.
    """

    title: str
    inset: float
    least: float
    counted: str
    sets_min: float
    how: str
    care: str = ""


ADHESIVES: dict[Adhesive, AdhesiveSpec] = {
    "wet": AdhesiveSpec(
        "wet glue",
        3.0,
        3.0,
        "g",
        5.0,
        "thin, from the middle out; slide it into its place, then press it under a weight",
    ),
    "tape": AdhesiveSpec(
        "double-sided tape",
        1.5,
        6.0,
        "mm",
        0.0,
        "along the edges first; it holds at once, so set one edge down and roll the rest",
    ),
    "spray": AdhesiveSpec(
        "spray glue",
        0.0,
        3.0,
        "g",
        2.0,
        "a thin mist over the whole back, in a box",
        "Spray only outdoors or in a draught, away from flames; follow what its can says.",
    ),
    "dots": AdhesiveSpec("glue dots", 2.0, 3.0, "dots", 0.0, "one in the middle of each, pressed down"),
    "foam": AdhesiveSpec("foam squares", 0.0, 3.0, "squares", 0.0, "squares set in from the corners, then the sides"),
    "self": AdhesiveSpec("its own adhesive", 0.0, 3.0, "", 0.0, "film off, laid down from one edge, no air under it"),
}
PAPER_GLUES: tuple[Literal["wet", "tape", "spray"], ...] = ("wet", "tape", "spray")
ADHESIVE_TITLES = {id: spec.title for id, spec in ADHESIVES.items()}
GLUE_TITLES = {id: ADHESIVES[id].title for id in PAPER_GLUES}
TAPE_MM = 6.0
"""How broad double-sided tape is (common practice: 6 mm, 1/4 in)."""
WET_G_PER_M2 = 40.0
SPRAY_G_PER_M2 = 25.0
"""How much wet and spray glue a face takes (from memory)."""
DOT_MM = 10.0
"""What a glue dot takes up with the room round it (from memory)."""
