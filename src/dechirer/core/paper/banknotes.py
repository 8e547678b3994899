"""Sizes of banknotes by name, and how thick a rolled one is."""

from __future__ import annotations

import json
import math
from functools import lru_cache
from pathlib import Path

from msgspec import Struct


class Banknote(Struct, frozen=True):
    """A banknote: its name, length and height in mm. From memory; the central bank's own figures count."""

    name: str
    length_mm: float
    height_mm: float


@lru_cache(maxsize=1)
def load_banknotes() -> tuple[Banknote, ...]:
    """The banknotes that ship with the package."""
    text = Path(__file__).with_name("banknotes.json").read_text(encoding="utf-8")
    return tuple(Banknote(row["name"], row["length"], row["height"]) for row in json.loads(text)["notes"])


def find_banknote(length: float, height: float) -> Banknote | None:
    """The note of that size in mm, either way round, or None."""
    wanted = sorted((length, height))
    for note in load_banknotes():
        if all(abs(a - b) < 0.05 for a, b in zip(wanted, sorted((note.length_mm, note.height_mm)), strict=True)):
            return note
    return None


def find_banknote_by_name(name: str) -> Banknote | None:
    """The note of that name, such as `20 euro`, or None."""
    wanted = " ".join(name.lower().split())
    return next((note for note in load_banknotes() if note.name.lower() == wanted), None)


def roll_diameter(length: float, thickness: float, core: float) -> float:
    """Diameter of a strip rolled on a core, all in mm: sqrt(core^2 + 4 length thickness / pi).

    The strip's edge area length x thickness is the ring between the core and the roll (plain geometry).
    """
    return math.sqrt(core * core + 4 * length * thickness / math.pi)
