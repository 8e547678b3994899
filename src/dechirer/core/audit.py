"""The audit of a plan: what must hold of every plan, whatever rooms made it, looked at once more from the outside.

It asks no room whether it was right: it measures the lines, counts the pieces and works the formulas out anew. What it
finds is a fault of ours or of a file's; it stops the job and names the place.
"""

from __future__ import annotations

import itertools
import math
import re
from collections import Counter
from collections.abc import Iterator
from typing import Any

from msgspec import Struct, structs

from dechirer.core.card.piece import FoldMark, Line, Piece
from dechirer.core.figure import Figure, fill_formula
from dechirer.core.finding import Finding
from dechirer.core.formula import FormulaError, work_out
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.wanted import wanted as wanted_pieces
from dechirer.core.plan import Plan, make_plan
from dechirer.core.shape.outline import Box

MOST_TOLD = 20
SAME_MM = 0.05
"""A line that is this much out of place is where it should be."""
FIGURE_SHARE = 1e-6
NEVER_BELOW = ("weight", "minutes", "count", "share", "area")
SPILLED = re.compile(r"\b(nan|inf)\b|\d[eE][-+]\d|\{")
"""What no text may hold: a number that is none, a power of ten, a name that was to be filled in."""


class Fault(Struct, frozen=True):
    """What is wrong with a plan: where, what, and the element to point at."""

    place: str
    words: str
    element: str = ""

    def finding(self) -> Finding:
        """As a finding that stops the job."""
        return Finding(
            "run.audit", "stop", self.place, self.words, "What comes out would not be what is shown.", self.element
        )


def audit(plan: Plan, *, again: bool = False) -> tuple[Fault, ...]:
    """Every fault of a plan.

    Args:
        again: make the plan once more from nothing, and compare.
    """
    checks = [_lines(plan), _counts(plan), _folds(plan), _figures(plan), _numbers(plan), _texts(plan)]
    if again:
        checks.append(_compare(plan, make_plan(plan.job)))
    return tuple(itertools.chain.from_iterable(checks))


def audited(plan: Plan, *, again: bool = False) -> Plan:
    """The plan with what the audit finds among its findings. A plan that stops already is told about that first."""
    if plan.stops:
        return plan
    faults = tuple(fault.finding() for fault in audit(plan, again=again)[:MOST_TOLD])
    return structs.replace(plan, findings=(*faults, *plan.findings)) if faults else plan


# --- lines and pieces ---------------------------------------------------------------------------------------------


def _lines(plan: Plan) -> Iterator[Fault]:
    """Every line is run inside its piece and inside what the machine reaches of its sheet, on every copy."""
    inside: dict[int, str] = {}
    for layout in plan.lay.layouts:
        reach = _reach(layout)
        for placed in layout.placements:
            where = f"Mat {layout.number}, {placed.id.replace('-', ' ')}"
            if id(placed.piece) not in inside:
                inside[id(placed.piece)] = _astray(placed.piece)
            if inside[id(placed.piece)]:
                yield Fault(where, inside[id(placed.piece)], f"{layout.id}/{placed.id}")
            for line in placed.lines():
                over = max((_beyond(path, reach) for path in line.paths), default=0.0)
                if over > SAME_MM and not _runs_out(line):
                    words = f"“{line.name}” is run {over:.2f} mm outside what the machine reaches"
                    yield Fault(where, words, f"{layout.id}/{placed.id}")


def _reach(layout: MatLayout) -> tuple[Box, ...]:
    return layout.sheet.cut_areas


def _beyond(path: tuple[tuple[float, float], ...], areas: tuple[Box, ...]) -> float:
    """How far a path reaches out of the area it lies in most."""
    return min(_out_of(path, box) for box in areas)


def _out_of(path: tuple[tuple[float, float], ...], box: Box) -> float:
    return max((max(box.left - x, x - box.right, box.top - y, y - box.bottom) for x, y in path), default=0.0)


def _runs_out(line: Line) -> bool:
    """Whether a line may run out of its piece: a fold's that was asked to."""
    return line.role in ("fold", "tick")


def _astray(piece: Piece) -> str:
    """Which line leaves its piece and by how much, in words; empty for none."""
    import shapely

    if len(piece.outline) < 3:
        return "it has no outline"
    whole = shapely.Polygon(piece.outline)
    if not whole.is_valid:
        return "its outline crosses itself"
    room: Any = whole.buffer(SAME_MM)
    shapely.prepare(room)
    for line in piece.run_lines:
        if _runs_out(line) or line.role == "outline":
            continue
        for path in line.paths:
            drawn = shapely.LineString(path) if len(path) > 1 else shapely.Point(path[0])
            if not shapely.covers(room, drawn):
                over = shapely.distance(shapely.points(path), whole).max()
                return f"“{line.name}” leaves its piece by {over:.2f} mm"
    return ""


def _counts(plan: Plan) -> Iterator[Fault]:
    """Every piece lies on the mats as often as it is wanted, but for what is told as not fitting anywhere."""
    laid: Counter[str] = Counter()
    for layout in plan.lay.layouts:
        for placed in layout.placements:
            laid[placed.piece.id] += layout.repeats
    left = dict(plan.lay.unplaced)
    asked = wanted_pieces((*plan.whole.pieces, *plan.lay.guest_pieces), plan.job.lay)
    wanted = {piece.id: piece.count if piece.run_lines else 0 for piece in asked}
    for id, count in wanted.items():
        if laid[id] + left.get(id, 0) != count:
            yield Fault(f"Piece {id}", f"it is cut {laid[id]} times and wanted {count} times", id)
    for id in laid.keys() - wanted.keys():
        yield Fault(f"Piece {id}", "it is cut and not wanted", id)
    cut = Counter(mat.layout.id for mat in plan.run.mats)
    for layout in plan.lay.layouts:
        if cut[layout.id] != 1:
            yield Fault(f"Mat {layout.number}", f"it is in the run {cut[layout.id]} times", layout.id)


def _folds(plan: Plan) -> Iterator[Fault]:
    """Every fold lies where the lists say, and is marked there."""
    for piece in plan.whole.pieces:
        for mark in piece.folds:
            level = mark.start[1] if mark.edge == "top" else mark.start[0]
            slanted = abs(mark.start[0] - mark.end[0]) > SAME_MM and abs(mark.start[1] - mark.end[1]) > SAME_MM
            if not slanted and abs(level - mark.at.value) > SAME_MM:
                words = f"it is told at {mark.at.value:.2f} mm from the {mark.edge} and lies at {level:.2f} mm"
                yield Fault(f"Fold {mark.hinge} of {piece.name}", words, piece.id)
            # Across an opening a fold is not scored: it is as long as from its first end to its last.
            scored = [
                max(math.dist(line.paths[0][0], path[-1]) for path in line.paths)
                for line in piece.lines
                if line.role == "fold" and line.operation == "score" and line.id == f"{piece.id}-{mark.hinge}"
            ]
            if scored and abs(scored[0] - mark.length.value) > SAME_MM:
                words = f"it is told to be {mark.length.value:.2f} mm long and is scored over {scored[0]:.2f} mm"
                yield Fault(f"Fold {mark.hinge} of {piece.name}", words, piece.id)
        for line in piece.lines:
            if line.role not in ("fold", "tick") or not piece.folds:
                continue
            off = max(min(_off_mark(point, mark) for mark in piece.folds) for path in line.paths for point in path)
            if off > SAME_MM:
                yield Fault(f"“{line.name}” of {piece.name}", f"it lies {off:.2f} mm beside every fold", piece.id)


def _off_mark(point: tuple[float, float], mark: FoldMark) -> float:
    """How far a point lies from the line a fold is on."""
    (x0, y0), (x1, y1) = mark.start, mark.end
    long = math.dist(mark.start, mark.end)
    if long < SAME_MM:
        return math.dist(point, mark.start)
    return abs((point[0] - x0) * (y1 - y0) - (point[1] - y0) * (x1 - x0)) / long


# --- figures and words --------------------------------------------------------------------------------------------


def _figures(plan: Plan) -> Iterator[Fault]:
    """Every formula gives its value, worked out anew from its inputs."""
    seen: set[int] = set()
    for figure in plan.figures.values():
        for _, each in figure.walk():
            if id(each) in seen:
                continue
            seen.add(id(each))
            why = _explain(each)
            if why:
                yield Fault(f"Figure {each.name}", why, each.key)


def _explain(figure: Figure) -> str:
    if not math.isfinite(figure.value):
        return "it is not a number"
    if figure.kind in NEVER_BELOW and figure.value < 0:
        return f"it is below nought: {figure.value:g}"
    if not figure.formula:
        return ""
    try:
        value = work_out(figure)
    except FormulaError as error:
        return str(error)
    if figure.kind == "count":
        value = math.ceil(value - FIGURE_SHARE)
    if abs(value - figure.value) > FIGURE_SHARE * max(1.0, abs(figure.value)):
        return f"its working gives {value:.4f}, and it says {figure.value:.4f}"
    return ""


def _numbers(plan: Plan) -> Iterator[Fault]:
    """No piece without a size, no line at a place that is none."""
    for piece in plan.whole.pieces:
        if not (piece.width.value > 0 and piece.height.value > 0):
            yield Fault(f"Piece {piece.name}", "it has no size", piece.id)
        points = [point for line in piece.lines for path in line.paths for point in path]
        if not all(math.isfinite(x) and math.isfinite(y) for x, y in points):
            yield Fault(f"Piece {piece.name}", "a line of it lies nowhere", piece.id)
        left, right = min(x for x, _ in piece.outline), max(x for x, _ in piece.outline)
        top, bottom = min(y for _, y in piece.outline), max(y for _, y in piece.outline)
        for side, told, drawn in (("width", piece.width, right - left), ("height", piece.height, bottom - top)):
            if abs(told.value - drawn) > SAME_MM:
                words = f"its {side} is told as {told.value:.2f} mm and drawn {drawn:.2f} mm"
                yield Fault(f"Piece {piece.name}", words, piece.id)


def _texts(plan: Plan) -> Iterator[Fault]:
    """No text holds a number that is none, or a name that was not filled in."""
    units = plan.job.units
    for figure in (each for each in plan.figures.values() if math.isfinite(each.value)):
        # Names are the maker's, who may call a paper "{" or "nan".
        bare = {given.name: given.both(units) for given in figure.inputs}
        worked = fill_formula(figure.formula, bare)
        for text in (figure.text(units), worked):
            if SPILLED.search(text):
                yield Fault(f"Figure {figure.name}", f"it is written “{text}”", figure.key)
    job = plan.job
    named = {job.name, *(paper.name for paper in job.brief.papers), *(item.name for item in job.dress.items)}
    names = re.compile("|".join(re.escape(name) for name in sorted(named, key=len, reverse=True)) or r"(?!)")
    for finding in plan.findings:
        if SPILLED.search(_without_quotes(names.sub("", f"{finding.title} {finding.reason}"))):
            yield Fault(f"“{finding.title}”", f"it is written “{finding.reason}”", finding.element)


def _without_quotes(text: str) -> str:
    """A text without what a maker wrote into it: names and words stand in quotation marks or curly brackets."""
    return re.sub(r"“[^”]*”|\{[^{}]*\}|[\w.#-]+\.(svg|dxf|png|jpe?g|csv)", "", text)


# --- from nothing -------------------------------------------------------------------------------------------------


def _compare(plan: Plan, fresh: Plan) -> Iterator[Fault]:
    """A plan that grew edit by edit is the plan made from nothing."""
    for one, other in itertools.zip_longest(plan.whole.pieces, fresh.whole.pieces):
        if one != other:
            name = (one or other).name
            yield Fault(f"Piece {name}", "made anew from nothing it is another", (one or other).id)
    for layout, again in itertools.zip_longest(plan.lay.layouts, fresh.lay.layouts):
        if layout != again:
            yield Fault(f"Mat {(layout or again).number}", "made anew from nothing it is another", (layout or again).id)
    if [each.code for each in plan.findings] != [each.code for each in fresh.findings]:
        yield Fault("The checks", "made anew from nothing they find something else")
    for key, figure in fresh.figures.items():
        if key not in plan.figures or plan.figures[key] != figure:
            yield Fault(f"Figure {figure.name}", "made anew from nothing it is another", key)
