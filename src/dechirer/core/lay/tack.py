"""Which tack a sheet wants, and why (common practice). Makers differ; a worn mat of one grade serves as the next."""

from __future__ import annotations

from msgspec import Struct

PAPER_GSM, HEAVY_GSM = 150.0, 260.0
"""Below the first a sheet is paper, from the second on heavy card."""


class Tack(Struct, frozen=True):
    """A grade of mat, and why."""

    name: str
    why: str


def tack_for(grams: float, *, printed: bool) -> Tack:
    """The tack for a sheet of that weight in g/m2; 0 is unknown."""
    if grams <= 0 and not printed:
        return Tack("standard", "its weight is not known")
    if printed:
        return Tack("light", "it is printed, and ink and surface come off on a stronger one")
    if grams < PAPER_GSM:
        return Tack("light", f"paper of {grams:.0f} g/m² tears when it is taken from a stronger one")
    if grams >= HEAVY_GSM:
        return Tack("strong", f"card of {grams:.0f} g/m² shifts on a lighter one")
    return Tack("standard", f"card of {grams:.0f} g/m²")
