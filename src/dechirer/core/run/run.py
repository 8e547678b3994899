"""From mats to the run: passes, tools, the order of mats with least tool changes, tool paths and minutes."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable
from functools import partial

from msgspec import Struct

from dechirer.core.brief.machine import Machine, Pace
from dechirer.core.card.operations import OPERATION, OPERATIONS, Operation
from dechirer.core.card.piece import Line
from dechirer.core.card.placed import Placement
from dechirer.core.figure import Figure
from dechirer.core.lay.lay import LayPlan, in_order, numbered
from dechirer.core.lay.mat import MatLayout
from dechirer.core.learned import Learned
from dechirer.core.memory import Memory, Same
from dechirer.core.run.decisions import Run
from dechirer.core.run.minutes import PrintTimes, total_minutes
from dechirer.core.run.order import MatNeed, MatOrder, order_mats
from dechirer.core.run.settings import setting_of
from dechirer.core.run.toolpath import Stroke, order_strokes, path_times, straight_time
from dechirer.core.run.tools import Kind, ToolChoice, kind_of, tool_options
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.outline import path_length
from dechirer.core.stations import Work
from dechirer.core.stopping import checkpoint

HOME: Point = (0.0, 0.0)
"""The carriage waits at the mat's top left corner."""

MANY_MATS = 40
"""From here on mats share the ways of what is alike on them: a pass after the first is ordered as if from HOME."""


class ToolStep(Struct, frozen=True):
    """One path of the tool: lifted to its start from the path before, then along it.

    `at_s` is when the work along it begins and `ends_s` when it ends, in seconds from the start of the mat.
    """

    operation: Operation
    placement: str
    line: str
    path: Points
    come_from: Point
    at_s: float
    ends_s: float


class Pass(Struct, frozen=True):
    """One operation on one mat: its tool and holder, how often it goes over the lines, and how long."""

    operation: Operation
    tool: ToolChoice
    times: int
    lines: int
    length_mm: float
    seconds: float


class MatRun(Struct, frozen=True):
    """The run of one layout: its passes in order, each step of the tool, and the seconds under way."""

    layout: MatLayout
    passes: tuple[Pass, ...]
    steps: tuple[ToolStep, ...]
    seconds: float


class RunPlan(Struct, frozen=True):
    """The whole run, mats in the order they are cut, and the lay with its mats in that order."""

    lay: LayPlan
    mats: tuple[MatRun, ...]
    choices: tuple[ToolChoice, ...]
    changes: Figure
    minutes: Figure

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the run."""
        return (self.changes, self.minutes, *self.minutes.inputs)

    @property
    def is_printed(self) -> bool:
        """Whether some of it goes through a printer first."""
        return any(each.key == "run.printing" for each in self.minutes.inputs)

    def mat(self, layout_id: str) -> MatRun | None:
        """The run of a layout, or None."""
        return next((each for each in self.mats if each.layout.id == layout_id), None)


def make_run(
    lay: LayPlan,
    run: Run,
    machine: Machine,
    printing: PrintTimes | None,
    learned: tuple[Learned, ...],
    work: Work,
) -> RunPlan:
    """Plan the run: try each combination of able tools and keep the one with least time spent changing them.

    Args:
        printing: how long pages take; None where nothing is printed.
        learned: the maker's own pace.
        work: asked between mats whether to stop; then the mats that follow are missing.
    """
    found, choices = find_order(lay, run, machine, work)
    changes, places = found.changes, found.places
    layouts = [lay.layouts[place] for place in places]
    lay = work.memory.recall(("mats in order", Same(lay), places), lambda: in_order(lay, numbered(layouts)))
    order = lay.layouts
    tools = {choice.kind: choice for choice in choices}
    mats = []
    stages: Stages = {}
    are_many = len(order) > MANY_MATS
    for layout in order:
        checkpoint(f"finding the tool's way on mat {layout.number}", "")
        args = (layout, tuple(tools.values()), _rules_for(layout, tools, run, machine.pace), machine.pace)
        make = partial(_run_mat, *args, stages, None if are_many else work.memory)
        mats.append(make() if are_many else work.memory.recall(("mat", *args), make))
    return RunPlan(
        lay,
        tuple(mats),
        choices,
        _count_changes(found, choices),
        total_minutes(mats, changes, machine.pace, printing, learned),
    )


def find_order(lay: LayPlan, run: Run, machine: Machine, work: Work) -> tuple[MatOrder, tuple[ToolChoice, ...]]:
    """The order of mats and the tools with least changes, of all able tools."""
    present = _order_kinds({kind for layout in lay.layouts for kind in _kinds(layout)})
    options = [tool_options(kind, run, machine) for kind in present]
    best: tuple[MatOrder, tuple[ToolChoice, ...]] | None = None
    kinds = [_order_kinds(_kinds(layout)) for layout in lay.layouts]
    asks = [(layout.repeats, frozenset(_befores(layout)), frozenset(_roles(layout))) for layout in lay.layouts]
    for combination in itertools.product(*options):
        tools = {choice.kind: choice for choice in combination}
        # The order hangs on the tools of the mats and on what is glued on before what, not on where anything lies.
        needs = tuple(MatNeed(tuple(tools[kind] for kind in own), *ask) for own, ask in zip(kinds, asks, strict=True))
        order_found = work.memory.recall(("order of mats", needs), lambda needs=needs: order_mats(needs))  # type: ignore[misc]
        if best is None or order_found.changes < best[0].changes:
            best = order_found, combination
    return best or (MatOrder((), 0, 0), ())


def _kinds(layout: MatLayout) -> set[Kind]:
    return {kind_of(line) for placed in layout.placements for line in placed.piece.run_lines}


def _order_kinds(kinds: set[Kind]) -> list[Kind]:
    return sorted(kinds, key=lambda kind: (OPERATIONS.index(kind.operation), *kind[1:]))


def _befores(layout: MatLayout) -> set[str]:
    """The roles of lines before which something of a mat is glued on."""
    return {placed.piece.before for placed in layout.placements} - {""}


def _roles(layout: MatLayout) -> set[str]:
    """The roles of the lines of a mat."""
    return {line.role for placed in layout.placements for line in placed.piece.run_lines}


Rules = tuple[tuple[int, float], ...]
"""For each kind of pass in its order: how often it goes over its lines, and how fast (mm/s)."""


def _rules_for(layout: MatLayout, tools: dict[Kind, ToolChoice], run: Run, pace: Pace) -> Rules:
    """How the passes of a mat are run: as the maker has set the tool for the paper, else as the run says."""
    found = []
    for kind in _order_kinds(_kinds(layout)):
        spec = OPERATION[kind.operation]
        usual = pace.score_mm_s if spec.pace == "score" else pace.cut_mm_s
        setting = setting_of(run.settings, layout.paper, tools[kind].tool)
        if setting is None:
            found.append((run.score_passes if spec.again else 1, usual))
        else:
            found.append((setting.passes, setting.speed or usual))
    return tuple(found)


Drawn = tuple[str, str, Points, float]
"""One path as it is drawn: its placement, its line, its points, and the seconds along it."""
Ways = tuple[tuple[int, tuple[Points, ...], tuple[float, ...]], ...]
"""The strokes of a pass in their order: each one's number, its paths as they are drawn, the seconds of each."""
Stages = dict[object, Ways]
"""The ways that were found for some strokes of a plan, by what they are."""


def _run_mat(
    layout: MatLayout, tools: tuple[ToolChoice, ...], rules: Rules, pace: Pace, stages: Stages, memory: Memory | None
) -> MatRun:
    """One of many mats, without a memory, is run as if each pass began at home, so that mats alike are run alike."""
    passes: list[Pass] = []
    steps: list[ToolStep] = []
    clock, here = 0.0, HOME
    by_kind = {choice.kind: choice for choice in tools}
    own = {line.id: line.times for placed in layout.placements for line in placed.piece.lines if line.times}
    lines: dict[Kind, list[tuple[Placement, Line]]] = {}
    for placed in layout.placements:
        for line in placed.piece.run_lines:
            lines.setdefault(kind_of(line), []).append((placed, line))
    for place, kind in enumerate(_order_kinds(set(lines))):
        spec = OPERATION[kind.operation]
        times, speed = rules[place]
        strokes = _Strokes(lines[kind], times % 2 == 0, speed, pace, stages, memory)
        paths = strokes.in_order(here, HOME if memory is None and passes else None)
        if not paths:
            continue
        began = clock
        length = 0.0
        for placement, line_id, path, seconds in paths:
            for _ in range(own.get(line_id, times) if spec.again else times):
                travel = straight_time(math.dist(here, path[0]), pace.travel_mm_s, pace.acceleration_mm_s2)
                start = clock + travel + 2 * pace.lift_s
                clock = start + seconds
                length += path_length(path)
                steps.append(ToolStep(kind.operation, placement, line_id, path, here, start, clock))
                here = path[-1]
                # Going back over a groove saves the way to its start; a closed line ends where it began.
                path = tuple(reversed(path))
        passes.append(Pass(kind.operation, by_kind[kind], times, len(paths), length, clock - began))
    return MatRun(layout, tuple(passes), tuple(steps), clock)


Piecewise = tuple[Placement, Line, int | None]
"""A line on a placed piece; of a closed one the number of one of its paths."""


def _paths_of(line: Line, part: int | None) -> tuple[Points, ...]:
    return line.paths if part is None else (line.paths[part],)


class _Strokes:
    """The strokes of one pass of a mat: inner lines, and outlines, which are cut after them; first of what lies in a
    window."""

    def __init__(
        self,
        lines: Iterable[tuple[Placement, Line]],
        returns: bool,
        speed: float,
        pace: Pace,
        stages: Stages,
        memory: Memory | None,
    ) -> None:
        self._returns, self._speed, self._pace, self._stages, self._memory = returns, speed, pace, stages, memory
        groups: dict[tuple[int, bool], list[Piecewise]] = {}
        for placed, line in lines:
            # What lies in a window of another piece is cut out before the window is.
            group = groups.setdefault((-placed.within, line.role == "outline"), [])
            # Closed paths are begun anywhere, each by itself; open ones of a line are one stroke.
            parts = range(len(line.paths)) if line.closed else (None,)
            group += [(placed, line, part) for part in parts]
        self._groups = [groups[key] for key in sorted(groups)]

    def in_order(self, here: Point, as_if: Point | None) -> list[Drawn]:
        """Every path as it is drawn, inner lines before any outline, beginning near a place; or as if from another."""
        found: list[Drawn] = []
        for lines in self._groups:
            for number, paths, seconds in self._find_ways(lines, as_if or here):
                placed, line, _ = lines[number]
                found += [(placed.id, line.id, path, time) for path, time in zip(paths, seconds, strict=True)]
                here = paths[-1][0] if self._returns and not line.closed else paths[-1][-1]
        return found

    def _find_ways(self, lines: list[Piecewise], start: Point) -> Ways:
        # Paths are told apart by identity: copies that share some share the object, and it lives as long as the mats.
        what = tuple((id(line.paths), part, line.closed, placed.to_sheet) for placed, line, part in lines)
        key = (what, start, self._returns, self._speed)
        if key not in self._stages:
            find = partial(self._order, lines, start)
            if self._memory is not None:
                drawn = tuple((_paths_of(line, part), line.closed, placed.to_sheet) for placed, line, part in lines)
                kept = ("ways", drawn, start, self._returns, self._speed, self._pace)
                self._stages[key] = self._memory.recall(kept, find)
            else:
                self._stages[key] = find()
        return self._stages[key]

    def _order(self, lines: list[Piecewise], start: Point) -> Ways:
        strokes = [
            Stroke(
                line.id,
                str(number),
                tuple(placed.to_sheet.all(path) for path in _paths_of(line, part)),
                line.closed,
                self._returns and not line.closed,
            )
            for number, (placed, line, part) in enumerate(lines)
        ]
        ordered = order_strokes(strokes, start)
        seconds = iter(path_times([path for _, paths in ordered for path in paths], self._speed, self._pace))
        return tuple(
            (int(stroke.placement), paths, tuple(itertools.islice(seconds, len(paths)))) for stroke, paths in ordered
        )


def _count_changes(found: MatOrder, choices: tuple[ToolChoice, ...]) -> Figure:
    fitted: dict[str, list[str]] = {}
    for choice in choices:
        names = fitted.setdefault(choice.holder, [])
        if choice.title not in names:
            names.append(choice.title)
    words = "; ".join(f"{holder}: {' then '.join(name.lower() for name in names)}" for holder, names in fitted.items())
    proof = (
        f"Proven least: every order of the {len(found.places)} mats was weighed."
        if found.is_proven and len(found.places) > 1
        else ""
        if found.is_proven
        else f"At least {found.least} are needed in any order."
    )
    return Figure(
        "run.changes",
        "tool changes",
        float(found.changes),
        "count",
        source=words or "no tool is needed",
        note=f"Fitting the first tool of each holder is set-up and not counted. {proof}",
    )
