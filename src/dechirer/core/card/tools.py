"""The tools a cutting machine may take, by the general words of the trade: their kinds, and how broad they work."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

ToolKind = Literal["blade", "point", "wheel", "pen", "foil"]


class ToolSpec(Struct, frozen=True):
    """One tool.

    Attributes:
        title, short: its name as shown, and beside others of its kind.
        kind: what it is.
        width: how broad the line is that it leaves, mm; 0 where that is no matter of the tool's, or a pen's own.
        bite: how much card it goes through in one pass, mm; 0 for what does not cut.
        fits_as: the tool in place of which it fits into any holder; empty for one that holders are told of.
    """

    title: str
    short: str
    kind: ToolKind
    width: float = 0.0
    bite: float = 0.0
    fits_as: str = ""


TOOLS: dict[str, ToolSpec] = {
    "thin-card-blade": ToolSpec("Thin-card blade", "thin card", "blade", bite=0.45),
    "thick-card-blade": ToolSpec("Thick-card blade", "thick card", "blade", bite=1.0),
    "creasing-point": ToolSpec("Creasing point", "point", "point"),
    "creasing-wheel": ToolSpec("Single creasing wheel", "wheel", "wheel"),
    "double-creasing-wheel": ToolSpec("Double creasing wheel", "double wheel", "wheel", fits_as="creasing-wheel"),
    "pen": ToolSpec("Pen", "pen", "pen"),
    "fine-foil-tip": ToolSpec("Fine hot foil tip", "fine", "foil", 0.5, fits_as="hot-foil-tip"),
    "hot-foil-tip": ToolSpec("Medium hot foil tip", "medium", "foil", 1.0),
    "bold-foil-tip": ToolSpec("Bold hot foil tip", "bold", "foil", 1.6, fits_as="hot-foil-tip"),
}
"""By id. Widths of foil tips and what a blade goes through are from memory."""
FOIL_TIPS: tuple[str, ...] = tuple(id for id, spec in TOOLS.items() if spec.kind == "foil")
"""The finest first."""
BLADES: tuple[str, ...] = tuple(id for id, spec in TOOLS.items() if spec.kind == "blade")
DOES: dict[str, tuple[str, ...]] = {
    "Cut": BLADES,
    "Crease": tuple(id for id, spec in TOOLS.items() if spec.kind in ("point", "wheel")),
    "Draw": ("pen",),
    "Foil": FOIL_TIPS,
}
"""Tools by what they do."""
HELD: dict[str, str] = {
    **{id: spec.title for id, spec in TOOLS.items() if not spec.fits_as},
    "creasing-wheel": "Creasing wheels",
    "hot-foil-tip": "Hot foil tips",
}
"""What a holder is told to take, in words."""
EASILY_HELD = frozenset({"pen", "foil"})
"""Kinds that clamp into a holder without parts of the machine's own."""
DOUBLE_WHEEL = "double-creasing-wheel"
FINE_MM, MEDIUM_MM, BOLD_MM = (TOOLS[id].width for id in FOIL_TIPS)
BROADER_SHARE = 1.25
"""A line up to this much broader than its tip still looks as it was drawn (from memory)."""


def tip_for(breadth: float) -> float:
    """The width of the foil tip for a line so broad, mm: fine for what is finely drawn, medium for figures (common
    practice), and for a line whose breadth is not told (0)."""
    if breadth <= 0:
        return MEDIUM_MM
    return min((TOOLS[id].width for id in FOIL_TIPS), key=lambda width: abs(width - breadth))
