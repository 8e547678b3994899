"""What is left of a sheet: the largest rectangle that can be cut from it and used again."""

from __future__ import annotations

from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.packing import carve
from dechirer.core.shape.outline import Box

LEAST_MM = 50.0
"""Smaller ones are waste."""


def find_offcut(layout: MatLayout, gap: float) -> Box | None:
    """The largest empty rectangle of a sheet, on the mat, a gap (mm) away from every piece; None where nothing of use
    is left. It reaches the sheet's own edges, past what the machine reaches."""
    frees = [layout.sheet.box]
    for placed in layout.placements:
        box = placed.box
        frees = carve(frees, Box(box.left - gap, box.top - gap, box.right + gap, box.bottom + gap))
    useful = [free for free in frees if min(free.width, free.height) >= LEAST_MM]
    return max(useful, key=lambda free: (round(free.width * free.height, 3), -free.top, -free.left), default=None)
