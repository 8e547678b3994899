"""Where the numbers and words of a picture stand, so that none lies on a line or on another: chosen among candidates.

Numbers come first, in the order of the picture; each takes the cheapest of its places that is free of lines, of what
was placed before and of the window's edge. A number may go farther out, slide along its line, stand beyond an end, or
be led to from afar by a thin line; a name may move a little. What finds no place is hidden, and shown while it is
pointed at or picked.
"""

from __future__ import annotations

import copy
import math
from collections.abc import Callable, Iterator, Sequence
from typing import Any

from msgspec import Struct, structs

from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.outline import Box, clip_share
from dechirer.drawing.dimension import DimensionShape, shape_dimension
from dechirer.drawing.display import Dimension, Display, Item, Label, Shape
from dechirer.drawing.viewport import Viewport

Measure = Callable[[str, str], float]
"""The width in px of a text in a style."""

CELL_PX = 2.0
OUTWARDS = (0.0, 22.0, 44.0, 66.0, 88.0, 110.0)
SLIDES = (0.0, 26.0, -26.0, 52.0, -52.0, 80.0, -80.0, 110.0, -110.0)
RINGS = (34.0, 56.0, 82.0, 112.0, 148.0)
WAYS = 16
LED_FROM_PX = 26.0
"""A word that stands farther from its place than this is led to by a line."""
SWAPPED, LED = 14.0, 70.0
"""What it costs to stand at the other end or on the other side, and to be led to."""
NEAR_EDGE_PX = 2.0
MOST_ROUNDS = 3
"""So often everything is placed anew, what found no room first."""
MOST_WAYS = 6000
"""Once so many places were tried nothing is placed anew: 50 ms of a picture that is being painted."""
BESIDE_PX = 4.0
"""So much is kept free beside words."""
HALF_LABEL_PX = 8.0
NAME_STEPS = (0.0, 10.0, 20.0, 32.0, 46.0)


class _Way(Struct, frozen=True):
    """A way to draw some items: as they then are, and the boxes of their words."""

    items: tuple[Dimension | Label, ...]
    boxes: tuple[Box, ...]


def place_words(
    display: Display, viewport: Viewport, width: float, height: float, measure: Measure, *, taken: tuple[Box, ...] = ()
) -> Display:
    """The picture with its numbers and names moved clear of lines and of each other; what has no place is hidden.

    Args:
        width, height: of the window, in px.
        taken: what else lies in the window, in px.
    """
    if not any(isinstance(item, Dimension | Label) for item in display.items):
        return display
    ground = _Ground(display, viewport, width, height, taken)
    order = list(_in_turn(display.items))
    best: dict[int, Item] = {}
    fewest, tried = math.inf, 0
    known = {tuple(turn): _Ways(_some_of(display.items, turn), viewport, measure) for turn in order}
    for _ in range(MOST_ROUNDS):
        placed, left, ways = _place_all(order, known, ground.fresh(), viewport, measure)
        tried += ways
        missing = [turn for turn in order if tuple(turn) in left]
        # A number that is missing costs more than any names.
        cost = sum(100 if any(getattr(display.items[n], "figure", "") for n in turn) else 1 for turn in missing)
        if cost < fewest:
            best, fewest = placed, cost
        if cost < 100 or tried > MOST_WAYS:
            break
        order = [*missing, *(turn for turn in order if turn not in missing)]  # what found no room chooses first
    return structs.replace(display, items=tuple(best.get(number, each) for number, each in enumerate(display.items)))


class _Ways:
    """The ways to draw some items, each with what it costs; what was made of them in one round is there in the next."""

    def __init__(self, items: list[Dimension | Label], viewport: Viewport, measure: Measure) -> None:
        self.items, self._viewport, self._measure = items, viewport, measure
        self._coming = _ways_of(items)
        self._costs: list[tuple[float, tuple[Dimension | Label, ...]]] = []
        self._made: dict[int, _Way] = {}

    def costs(self) -> Iterator[tuple[int, float]]:
        """The number of each way and what it costs."""
        for number, (cost, _) in enumerate(self._costs):
            yield number, cost
        for found in self._coming:
            self._costs.append(found)
            yield len(self._costs) - 1, found[0]

    def way(self, number: int) -> _Way:
        """A way with the boxes of its words."""
        found = self._made.get(number)
        if found is None:
            moved = self._costs[number][1]
            boxes = tuple(box_of(item, self._viewport, self._measure) for item in moved)
            found = self._made[number] = _Way(moved, boxes)
        return found


def _some_of(items: Sequence[Item], turn: list[int]) -> list[Dimension | Label]:
    return [each for index in turn if isinstance(each := items[index], Dimension | Label)]


def _place_all(
    order: list[list[int]], known: dict[tuple[int, ...], _Ways], ground: _Ground, viewport: Viewport, measure: Measure
) -> tuple[dict[int, Item], set[tuple[int, ...]], int]:
    """Everything placed in an order; what found no room; and how many places were tried."""
    placed: dict[int, Item] = {}
    tried = 0
    left: set[tuple[int, ...]] = set()
    for indices in order:
        ways = known[tuple(indices)]
        best, least = None, math.inf
        for number, cost in ways.costs():
            tried += 1
            if cost >= least:
                continue
            way = ways.way(number)
            if all(ground.is_free(box) for box in way.boxes) and not ground.is_crossed(way, viewport, measure):
                best, least = way, cost
            if least == 0.0:
                break
        if best is None:
            left.add(tuple(indices))
            placed.update(zip(indices, (structs.replace(item, hidden=True) for item in ways.items), strict=True))
        else:
            placed.update(zip(indices, best.items, strict=True))
            ground.take(best, viewport, measure)
    return placed, left, tried


def box_of(item: Dimension | Label, viewport: Viewport, measure: Measure) -> Box:
    """The box of a number or name in px."""
    if isinstance(item, Dimension):
        return _number_box(shape_dimension(item, viewport, measure(item.text, "strong")))
    x, y = viewport.to_px(item.at)
    x, y = x + item.shift_px[0], y + item.shift_px[1]
    wide = measure(item.text, item.style)
    left = {"start": 0.0, "middle": -wide / 2, "end": -wide}[item.anchor]
    if item.turn_deg == 0:
        return Box(x + left, y - HALF_LABEL_PX, x + left + wide, y + HALF_LABEL_PX)
    turn = math.radians(item.turn_deg)
    corners = [
        (x + dx * math.cos(turn) - dy * math.sin(turn), y + dx * math.sin(turn) + dy * math.cos(turn))
        for dx in (left, left + wide)
        for dy in (-HALF_LABEL_PX, HALF_LABEL_PX)
    ]
    xs, ys = [px for px, _ in corners], [py for _, py in corners]
    return Box(min(xs), min(ys), max(xs), max(ys))


def _number_box(shaped: DimensionShape) -> Box:
    wide, high = (shaped.width, shaped.height) if shaped.turn_deg == 0 else (shaped.height, shaped.width)
    x, y = shaped.centre
    # The ground behind a number reaches a little farther than its digits do.
    return Box(x - wide / 2 + 3, y - high / 2 + 2, x + wide / 2 - 3, y + high / 2 - 2)


class _Ground:
    """What is taken: a raster of the picture's lines, and the boxes of what was placed."""

    def __init__(
        self, display: Display, viewport: Viewport, width: float, height: float, taken: tuple[Box, ...]
    ) -> None:
        import numpy as np

        self.width, self.height = width, height
        self._lines = np.zeros((int(height / CELL_PX) + 2, int(width / CELL_PX) + 2), dtype=bool)
        self._taken = taken
        self._boxes: list[Box] = []
        self._draw_all(_lines_of(display), viewport)

    def fresh(self) -> _Ground:
        """The same picture with nothing placed on it."""
        other = copy.copy(self)
        other._lines, other._boxes = self._lines.copy(), []
        return other

    def _draw_all(self, paths: list[Points], viewport: Viewport) -> None:
        """Many paths, in mm, at one time."""
        import numpy as np

        if not paths:
            return
        ends = np.array([point for path in paths for point in path])
        ends = ends * viewport.scale + (viewport.left_px, viewport.top_px)
        last = np.cumsum([len(path) for path in paths]) - 1
        goes_on = np.ones(len(ends), dtype=bool)
        goes_on[last] = False  # from the end of one path no line leads to the next
        begins = np.flatnonzero(goes_on)
        self._draw(ends[begins], ends[begins + 1] - ends[begins])

    def _draw(self, begins: Any, steps: Any) -> None:
        """Straight lines, in px: where they begin and how they go, each of shape (n, 2)."""
        import numpy as np

        begins, steps = self._within(begins, steps)
        if not len(begins):
            return
        counts = np.ceil(np.hypot(steps[:, 0], steps[:, 1]) / CELL_PX).astype(int) + 1
        index = np.repeat(np.arange(len(steps)), counts)
        first = np.repeat(np.cumsum(counts) - counts, counts)
        share = (np.arange(len(index)) - first) / np.maximum(counts[index] - 1, 1)
        self._mark(begins[index] + share[:, None] * steps[index])

    def _within(self, begins: Any, steps: Any) -> tuple[Any, Any]:
        """The parts of straight lines that lie in the window (Liang and Barsky, all lines at one time)."""
        import numpy as np

        low, high = np.zeros(len(begins)), np.ones(len(begins))
        for axis, most in ((0, self.width), (1, self.height)):
            step, origin = steps[:, axis], begins[:, axis]
            flat = np.abs(step) < 1e-12
            safe = np.where(flat, 1.0, step)
            one, other = (0.0 - origin) / safe, (most - origin) / safe
            outside = flat & ((origin < 0.0) | (origin > most))
            low = np.maximum(low, np.where(flat, 0.0, np.minimum(one, other)))
            high = np.where(outside, -1.0, np.minimum(high, np.where(flat, 1.0, np.maximum(one, other))))
        kept = low <= high
        begins, steps, low, high = begins[kept], steps[kept], low[kept, None], high[kept, None]
        return begins + steps * low, steps * (high - low)

    def _mark(self, places: Any) -> None:
        columns, rows = (places[:, 0] / CELL_PX).astype(int), (places[:, 1] / CELL_PX).astype(int)
        high, wide = self._lines.shape
        inside = (places[:, 0] >= 0) & (places[:, 1] >= 0) & (columns < wide) & (rows < high)
        self._lines[rows[inside], columns[inside]] = True

    def is_free(self, box: Box) -> bool:
        """Whether words may stand there."""
        edge = NEAR_EDGE_PX
        if box.left < edge or box.top < edge or box.right > self.width - edge or box.bottom > self.height - edge:
            return False
        if any(box.overlaps(other) for other in (*self._taken, *self._boxes)):
            return False
        left, right = int(box.left / CELL_PX), int(box.right / CELL_PX) + 1
        top, bottom = int(box.top / CELL_PX), int(box.bottom / CELL_PX) + 1
        return not bool(self._lines[top:bottom, left:right].any())

    def is_crossed(self, way: _Way, viewport: Viewport, measure: Measure) -> bool:
        """Whether a line of its own would pass under words that stand already."""
        lines: list[tuple[Point, Point]] = []
        for item, box in zip(way.items, way.boxes, strict=True):
            if isinstance(item, Dimension):
                shaped = shape_dimension(item, viewport, measure(item.text, "strong"))
                lines += shaped.strokes if shaped.lead is None else (*shaped.strokes, shaped.lead)
            elif item.led:
                lines.append((viewport.to_px(item.at), box.middle))
        own = way.boxes if any(getattr(item, "led_px", None) for item in way.items) else ()
        return any(
            clip_share(*line, other) is not None
            for line in lines
            for other in (*self._boxes, *own)
            if line[1] != other.middle
        )

    def take(self, way: _Way, viewport: Viewport, measure: Measure) -> None:
        """What stands there is in the way of what comes after it: its words, and its own lines."""
        import numpy as np

        self._boxes += [Box(box.left - BESIDE_PX, box.top, box.right + BESIDE_PX, box.bottom) for box in way.boxes]
        for item in way.items:
            if isinstance(item, Dimension):
                shaped = shape_dimension(item, viewport, measure(item.text, "strong"))
                lines = np.array([*shaped.strokes, *shaped.slashes])
                self._draw(lines[:, 0], lines[:, 1] - lines[:, 0])


def _lines_of(display: Display) -> list[Points]:
    """The lines that are drawn in a picture, in mm; not the stripes of papers."""
    found: list[Points] = []
    for item in display.items:
        if isinstance(item, Shape) and item.form and not (item.form == "hair" and not item.closed):
            paths = [path for path in item.paths if len(path) > 1]
            found += [(*path, path[0]) for path in paths] if item.closed else paths
    return found


def _in_turn(items: Sequence[Item]) -> Iterator[list[int]]:
    """The places of what is to be placed, in turn: numbers of fixed lines, numbers in words, those that may move, then
    names; words that hang on one point keep together."""
    rows: dict[tuple[Point, str, float], list[int]] = {}
    for number, item in enumerate(items):
        if isinstance(item, Label) and not item.yields:
            rows.setdefault((item.at, item.anchor, item.turn_deg), []).append(number)
    fixed = [[n] for n, item in enumerate(items) if isinstance(item, Dimension) and not item.may_move]
    moving = [[n] for n, item in enumerate(items) if isinstance(item, Dimension) and item.may_move]
    told = [row for row in rows.values() if any(getattr(items[n], "figure", "") for n in row)]
    named = [row for row in rows.values() if row not in told]
    yielding = [[n] for n, item in enumerate(items) if isinstance(item, Label) and item.yields]
    yield from fixed
    yield from told
    yield from moving
    yield from named
    yield from yielding


def _ways_of(items: list[Dimension | Label]) -> Iterator[tuple[float, tuple[Dimension | Label, ...]]]:
    """The ways to draw some items, each with what it costs."""
    first = items[0]
    if isinstance(first, Dimension):
        yield from ((cost, (moved,)) for cost, moved in _dimension_ways(first))
    else:
        yield from _label_ways([item for item in items if isinstance(item, Label)])


def _dimension_ways(item: Dimension) -> Iterator[tuple[float, Dimension]]:
    sign = 1.0 if item.shift_px >= 0 else -1.0
    for out in OUTWARDS:
        for slide in SLIDES:
            cost = out + 0.4 * abs(slide)
            yield cost, structs.replace(item, shift_px=item.shift_px + sign * out, slide_px=slide)
            if item.may_move:
                yield SWAPPED + cost, structs.replace(item, shift_px=-item.shift_px - sign * out, slide_px=slide)
        turned = structs.replace(item, start=item.end, end=item.start, shift_px=-item.shift_px - sign * out)
        yield SWAPPED + out, turned
    for far in RINGS:
        for number in range(WAYS):
            turn = math.tau * number / WAYS
            yield LED + far, structs.replace(item, led_px=(far * math.cos(turn), far * math.sin(turn)))


def _label_ways(items: list[Label]) -> Iterator[tuple[float, tuple[Label, ...]]]:
    """Together, in rings about where they hang; numbers as far as they can be led to."""
    told = any(item.figure for item in items)
    for far in NAME_STEPS + (RINGS if told else ()):
        led = told and far > LED_FROM_PX
        for number in range(WAYS if far else 1):
            turn = math.tau * number / WAYS + math.pi / 2
            dx, dy = far * math.cos(turn), far * math.sin(turn)
            moved = tuple(
                structs.replace(item, shift_px=(item.shift_px[0] + dx, item.shift_px[1] + dy), led=led, moved=far > 0)
                for item in items
            )
            yield far + (LED if led else 0.0), moved
