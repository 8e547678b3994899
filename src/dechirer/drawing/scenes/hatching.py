"""Slanting strokes within an area."""

from __future__ import annotations

from dechirer.core.shape.affine import Points

HATCH_MM = 2.4
"""The strokes of a bleed stand this far apart."""
SHORT_MM = 1e-9


def hatch(area: tuple[Points, ...], apart: float = HATCH_MM) -> list[Points]:
    """Strokes at 45 degrees within an area of rings, so far apart across (mm). A place is within where it lies in an
    odd number of rings.

    Along a stroke x + y is the same: every edge is cut where a stroke crosses it, all at once, and what lies between
    two crossings is within, by turns. (Asked of a library stroke by stroke, a mat with art on it took seconds.)
    """
    import numpy as np

    rings = [np.asarray(ring, float) for ring in area if len(ring) > 2]
    if not rings:
        return []
    starts = np.vstack(rings)
    ends = np.vstack([np.roll(ring, -1, axis=0) for ring in rings])
    first, last = starts[:, 0] + starts[:, 1], ends[:, 0] + ends[:, 1]
    along, along_end = starts[:, 0] - starts[:, 1], ends[:, 0] - ends[:, 1]
    begin = float(rings[0][:, 0].min() + rings[0][:, 1].min())
    # An edge is crossed by the strokes from its lower end on and before its upper one, so that corners count once.
    from_stroke = np.ceil((np.minimum(first, last) - begin) / apart).astype(int)
    count = np.ceil((np.maximum(first, last) - begin) / apart).astype(int) - from_stroke
    edge = np.repeat(np.arange(len(starts)), count)
    stroke = from_stroke[edge] + np.arange(len(edge)) - np.repeat(np.cumsum(count) - count, count)
    level = begin + stroke * apart
    share = (level - first[edge]) / (last[edge] - first[edge])
    place = along[edge] + share * (along_end[edge] - along[edge])
    order = np.lexsort((place, stroke))
    level, place = level[order], place[order]
    x, y = ((level + place) / 2).tolist(), ((level - place) / 2).tolist()
    return [
        ((x[each], y[each]), (x[each + 1], y[each + 1]))
        for each in range(0, len(x) - 1, 2)
        if place[each + 1] - place[each] > SHORT_MM
    ]
