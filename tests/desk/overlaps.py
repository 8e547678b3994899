"""Whether numbers and words lie on lines or on each other in a drawing as it is shown, by shapely alone."""

from __future__ import annotations

import itertools

import shapely

from dechirer.desk.painter import measure
from dechirer.desk.widgets.picture import Picture
from dechirer.drawing.dimension import shape_dimension
from dechirer.drawing.display import Dimension, Label, Shape

LETTERS_PX = 5.0
"""Half the height of the letters themselves."""


def find_overlaps(view: Picture) -> list[str]:
    """What lies on what, in words; empty when all is clear."""
    shown, viewport = view.shown, view.viewport_now
    if shown is None:
        return []
    words: list[tuple[str, shapely.Geometry]] = []
    lines: list[tuple[str, shapely.Geometry]] = []
    for item in shown.items:
        if isinstance(item, Shape):
            if item.form and not (item.form == "hair" and not item.closed):
                for path in item.paths:
                    points = [viewport.to_px(point) for point in ([*path, path[0]] if item.closed else path)]
                    if len(points) > 1:
                        lines.append((f"{item.form} of {item.element or 'something'}", shapely.LineString(points)))
        elif isinstance(item, Dimension) and not item.hidden:
            shaped = shape_dimension(item, viewport, measure(item.text, "strong"))
            half = measure(item.text, "strong") / 2, LETTERS_PX
            across, down = half if shaped.turn_deg == 0 else half[::-1]
            x, y = shaped.centre
            words.append((item.text, shapely.box(x - across, y - down, x + across, y + down)))
            for start, end in shaped.strokes:
                lines.append((f"the line of {item.text}", shapely.LineString([start, end])))
        elif isinstance(item, Label) and not item.hidden:
            x, y = viewport.to_px(item.at)
            x, y = x + item.shift_px[0], y + item.shift_px[1]
            wide = measure(item.text, item.style)
            left = {"start": 0.0, "middle": -wide / 2, "end": -wide}[item.anchor]
            box = shapely.box(left, -LETTERS_PX, left + wide, LETTERS_PX)
            turned = shapely.affinity.rotate(box, item.turn_deg, origin=(0, 0))
            words.append((item.text, shapely.affinity.translate(turned, x, y)))
    found = [f"“{one}” on “{other}”" for (one, a), (other, b) in itertools.combinations(words, 2) if a.intersects(b)]
    tree = shapely.STRtree([line for _, line in lines])
    for text, box in words:
        for index in tree.query(box, predicate="intersects"):
            found.append(f"“{text}” on {lines[index][0]}")
    window = shapely.box(0, 0, view.width(), view.height())
    found += [f"“{text}” past the edge" for text, box in words if not window.covers(box)]
    return found
