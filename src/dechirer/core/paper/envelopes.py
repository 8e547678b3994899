"""Envelopes one can buy: the standard ones, and which of them a closed card goes into."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.paper.standards import load_sizes

SPARE_MM = 2.0
"""Least room each way for a card to slide into a bought envelope, besides its thickness (common sizes leave 1/8 in)."""

MOST_THICK_MM = 19.05
"""What is thicker goes into no flat envelope: 3/4 in, the most of a large envelope in the USPS Domestic Mail Manual,
section 101 (from memory)."""


class BoughtEnvelope(Struct, frozen=True):
    """A standard envelope: its name and size in mm."""

    name: str
    width: float
    height: float


def find_least_inside(width: float, height: float, bulk: float) -> tuple[float, float] | None:
    """The shorter and the longer side of the smallest inside a closed card goes into (mm), with SPARE_MM and its
    thickness to spare each way; None for one thicker than MOST_THICK_MM."""
    if bulk > MOST_THICK_MM:
        return None
    short, long = sorted((width + bulk + SPARE_MM, height + bulk + SPARE_MM))
    return short, long


def find_bought_envelope(width: float, height: float, bulk: float) -> BoughtEnvelope | None:
    """The smallest standard envelope the closed card goes into, if any."""
    need = find_least_inside(width, height, bulk)
    if need is None:
        return None
    fits = []
    for size in load_sizes():
        inner = sorted((size.width_mm, size.height_mm))
        if size.kind == "envelope" and inner[0] >= need[0] and inner[1] >= need[1]:
            fits.append((inner[0] * inner[1], size.name, size.width_mm, size.height_mm))
    if not fits:
        return None
    _, name, wide, high = min(fits)
    return BoughtEnvelope(name.removesuffix(" envelope"), wide, high)


def find_named_envelope(name: str) -> BoughtEnvelope | None:
    """The standard envelope of that name, with or without the word envelope; or None."""
    wanted = name.lower().removesuffix(" envelope")
    for size in load_sizes():
        if size.kind == "envelope" and size.name.lower().removesuffix(" envelope") == wanted:
            return BoughtEnvelope(size.name.removesuffix(" envelope"), size.width_mm, size.height_mm)
    return None
