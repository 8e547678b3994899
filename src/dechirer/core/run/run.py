"""From mats to the run: passes, tools, the order of mats with least tool changes, tool paths and minutes."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from msgspec import Struct

from dechirer.core.brief.machine import Machine, Pace
from dechirer.core.card.operations import OPERATION, OPERATIONS, Operation
from dechirer.core.figure import Figure
from dechirer.core.lay.lay import LayPlan, MatLayout
from dechirer.core.run.decisions import Run
from dechirer.core.run.toolpath import Stroke, order_strokes, path_time, straight_time
from dechirer.core.run.tools import ToolChoice, tool_options
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.outline import path_length
from dechirer.core.stations import Work

HOME: Point = (0.0, 0.0)
"""The carriage waits at the mat's top left corner."""

MOST_MATS_TO_PERMUTE = 6
"""Up to this many layouts every order is tried; beyond it the nearest next one is taken."""


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
    """The whole run, mats in the order they are cut."""

    mats: tuple[MatRun, ...]
    choices: tuple[ToolChoice, ...]
    changes: Figure
    minutes: Figure

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the run."""
        return (self.changes, self.minutes, *self.minutes.inputs)

    def mat(self, layout_id: str) -> MatRun | None:
        """The run of a layout, or None."""
        return next((each for each in self.mats if each.layout.id == layout_id), None)


def make_run(lay: LayPlan, run: Run, machine: Machine, work: Work) -> RunPlan:
    """Plan the run: try each combination of able tools and keep the one with least time spent changing them.

    Args:
        work: asked between mats whether to stop; then the mats that follow are missing.
    """
    present = _order_kinds({kind for layout in lay.layouts for kind in _kinds(layout)})
    options = [tool_options(operation, run, machine, colour) for operation, colour in present]
    best: tuple[int, tuple[ToolChoice, ...], list[MatLayout]] | None = None
    for combination in itertools.product(*options):
        tools = {(choice.operation, choice.colour): choice for choice in combination}
        order, changes = _order_mats(lay.layouts, tools)
        if best is None or changes < best[0]:
            best = changes, combination, order
    nothing: tuple[int, tuple[ToolChoice, ...], list[MatLayout]] = (0, (), [])
    changes, choices, order = best or nothing
    tools = {(choice.operation, choice.colour): choice for choice in choices}
    mats = []
    for layout in order:
        if work.cancelled():
            break
        args = (layout, tuple(tools.values()), run.score_passes, machine.pace)
        mats.append(work.memory.recall(("mat", *args), lambda args=args: _run_mat(*args)))  # type: ignore[misc]
    return RunPlan(tuple(mats), choices, _count_changes(changes, choices), _total_minutes(mats, changes, machine.pace))


Kind = tuple[Operation, str]
"""An operation, and the colour of its ink or foil where it has one: each is a pass of its own."""


def _kinds(layout: MatLayout) -> set[Kind]:
    return {(line.operation, line.colour) for placed in layout.placements for line in placed.piece.run_lines}


def _order_kinds(kinds: set[Kind]) -> list[Kind]:
    return sorted(kinds, key=lambda kind: (OPERATIONS.index(kind[0]), kind[1]))


def _tools_of(layout: MatLayout, tools: dict[Kind, ToolChoice]) -> list[ToolChoice]:
    return [tools[kind] for kind in _order_kinds(_kinds(layout))]


def count_changes(layouts: Sequence[MatLayout], tools: dict[str, list[ToolChoice]]) -> int:
    """Tools fitted in place of another over all mats in this order; the first fit of a holder is set-up.

    Args:
        tools: for each layout by id, its tools in running order.
    """
    fitted: dict[str, tuple[str, str]] = {}
    total = 0
    for layout in layouts:
        line = tools[layout.id]
        # The state repeats from the second time on, so two rounds tell all of them.
        rounds = []
        for _ in range(min(2, layout.repeats)):
            here = 0
            for choice in line:
                old = fitted.get(choice.holder)
                here += old is not None and old != choice.fitted
                fitted[choice.holder] = choice.fitted
            rounds.append(here)
        total += rounds[0] + (layout.repeats - 1) * rounds[-1] if rounds else 0
    return total


def _order_mats(layouts: Sequence[MatLayout], choices: dict[Kind, ToolChoice]) -> tuple[list[MatLayout], int]:
    tools = {layout.id: _tools_of(layout, choices) for layout in layouts}
    if len(layouts) <= MOST_MATS_TO_PERMUTE:
        orders = [order for order in itertools.permutations(layouts) if _may_follow(order)] or [tuple(layouts)]
        best = min(orders, key=lambda order: count_changes(order, tools), default=())
        return list(best), count_changes(best, tools)
    left = list(layouts)
    order: list[MatLayout] = []
    while left:
        ready = [each for each in left if not any(_must_precede(other, each) for other in left)] or left
        layout = min(ready, key=lambda each: count_changes([*order[-1:], each], tools))
        left.remove(layout)
        order.append(layout)
    return order, count_changes(order, tools)


def _may_follow(order: Sequence[MatLayout]) -> bool:
    """Whether everything that is glued on before a later cut lies on an earlier mat."""
    return not any(_must_precede(later, earlier) for earlier, later in itertools.combinations(order, 2))


def _must_precede(one: MatLayout, other: MatLayout) -> bool:
    """Whether something of one mat is glued on before what is cut on the other."""
    roles = {placed.piece.before for placed in one.placements} - {""}
    return one is not other and any(line.role in roles for put in other.placements for line in put.piece.run_lines)


def _run_mat(layout: MatLayout, tools: tuple[ToolChoice, ...], score_passes: int, pace: Pace) -> MatRun:
    passes: list[Pass] = []
    steps: list[ToolStep] = []
    clock, here = 0.0, HOME
    by_kind = {(choice.operation, choice.colour): choice for choice in tools}
    for operation, colour in _order_kinds(_kinds(layout)):
        spec = OPERATION[operation]
        speed = pace.score_mm_s if spec.pace == "score" else pace.cut_mm_s
        usual = score_passes if spec.again else 1
        own = {line.id: line.times for placed in layout.placements for line in placed.piece.lines if line.times}
        times = usual
        paths = _paths_in_order(layout, (operation, colour), here, returns=times % 2 == 0)
        if not paths:
            continue
        began = clock
        length = 0.0
        for placement, line, path in paths:
            for _ in range(own.get(line, usual) if spec.again else 1):
                travel = straight_time(math.dist(here, path[0]), pace.travel_mm_s, pace.acceleration_mm_s2)
                start = clock + travel + 2 * pace.lift_s
                clock = start + path_time(path, speed, pace)
                length += path_length(path)
                steps.append(ToolStep(operation, placement, line, path, here, start, clock))
                here = path[-1]
                # Going back over a groove saves the way to its start; a closed line ends where it began.
                path = tuple(reversed(path))
        passes.append(Pass(operation, by_kind[(operation, colour)], times, len(paths), length, clock - began))
    return MatRun(layout, tuple(passes), tuple(steps), clock)


def _paths_in_order(layout: MatLayout, kind: Kind, start: Point, *, returns: bool) -> list[tuple[str, str, Points]]:
    """Every path of an operation and colour as (placement, line, path), inner lines before any outline; the tool comes
    back along each when it `returns`."""
    inner: list[Stroke] = []
    outer: list[Stroke] = []
    for placed in layout.placements:
        for line in placed.lines():
            if (line.operation, line.colour) == kind:
                stroke = Stroke(line.id, placed.id, line.paths, line.closed, returns and not line.closed)
                (outer if line.role == "outline" else inner).append(stroke)
    found: list[tuple[str, str, Points]] = []
    here = start
    for strokes in (inner, outer):
        for stroke, paths in order_strokes(strokes, here):
            found += [(stroke.placement, stroke.line, path) for path in paths]
            here = paths[-1][0] if stroke.returns else paths[-1][-1]
    return found


def _count_changes(changes: int, choices: tuple[ToolChoice, ...]) -> Figure:
    fitted: dict[str, list[str]] = {}
    for choice in choices:
        names = fitted.setdefault(choice.holder, [])
        if choice.title not in names:
            names.append(choice.title)
    words = "; ".join(f"{holder}: {' then '.join(name.lower() for name in names)}" for holder, names in fitted.items())
    return Figure(
        "run.changes",
        "tool changes",
        float(changes),
        "count",
        source=words or "no tool is needed",
        note="Fitting the first tool of each holder is set-up and not counted.",
    )


def _total_minutes(mats: Sequence[MatRun], changes: int, pace: Pace) -> Figure:
    count = sum(mat.layout.repeats for mat in mats)
    moving = Figure(
        "run.moving",
        "tool at work",
        sum(mat.layout.repeats * mat.seconds for mat in mats) / 60,
        "minutes",
        source="the length of each line at the machine's speed and acceleration",
    )
    loading = Figure(
        "run.loading",
        "loading mats",
        count * pace.load_mat_s / 60,
        "minutes",
        source=f"{count} mats × {pace.load_mat_s:g} s, from the machine's profile",
    )
    changing = Figure(
        "run.changing",
        "changing tools",
        changes * pace.change_tool_s / 60,
        "minutes",
        source=f"{changes} changes × {pace.change_tool_s:g} s, from the machine's profile",
    )
    inputs = (moving, loading, changing)
    return Figure(
        "run.minutes",
        "time at the machine",
        sum(each.value for each in inputs),
        "minutes",
        formula=" + ".join("{" + each.name + "}" for each in inputs),
        inputs=inputs,
        note="An estimate from the machine's profile, without weeding and folding.",
    )
