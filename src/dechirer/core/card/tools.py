"""The tools a cutting machine may take, by the general words of the trade."""

from __future__ import annotations

TOOLS: dict[str, str] = {
    "thin-card-blade": "Thin-card blade",
    "thick-card-blade": "Thick-card blade",
    "creasing-point": "Creasing point",
    "creasing-wheel": "Creasing wheel",
    "pen": "Pen",
    "hot-foil-tip": "Hot foil tip",
}
"""By id, with the name shown."""
EASILY_HELD = frozenset({"pen", "hot-foil-tip"})
"""Tools that clamp into a holder without parts of the machine's own."""
