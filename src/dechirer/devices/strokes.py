"""Strokes of a file that a machine runs, whatever kind of file they come from."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from msgspec import Struct

FLAT_MM = 0.005
"""A curve is followed by chords that stray less."""
OPERATIONS = ("pen", "score", "foil", "perforate", "kiss", "cut")
"""What a stroke may be, as our files name it; a pen plotter's file has numbers in their place."""


class CutterFileError(ValueError):
    """A file the machine cannot run; the message names the file and the place."""


class Stroke(Struct, frozen=True):
    """One line that is run: its operation, the group it is in (a piece), its points in mm from the mat's upper left
    corner, (n, 2), and whether it comes back to its start."""

    operation: str
    group: str
    points: Any
    closed: bool


class CutterFile(Struct, frozen=True):
    """What a file holds: the mat's size in mm (0 where it does not say), and its strokes in order."""

    name: str
    width: float
    height: float
    strokes: tuple[Stroke, ...]


def flatten_cubic(controls: list[Any], flat: float) -> list[tuple[float, float]]:
    """Chords along a cubic curve; the number of them by how far its arms bend (Wang's bound)."""
    p = np.array(controls, float)
    bend = max(np.hypot(*(p[0] - 2 * p[1] + p[2])), np.hypot(*(p[1] - 2 * p[2] + p[3])))
    count = min(400, max(1, math.ceil(math.sqrt(0.75 * bend / max(flat, 1e-9)))))
    t = np.linspace(0, 1, count + 1)[1:, None]
    curve = (1 - t) ** 3 * p[0] + 3 * (1 - t) ** 2 * t * p[1] + 3 * (1 - t) * t**2 * p[2] + t**3 * p[3]
    return [(float(x), float(y)) for x, y in curve]
