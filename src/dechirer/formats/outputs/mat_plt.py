"""Mats in the published language of pen plotters (HP-GL: *HP 7475A Interfacing and Programming Manual*, 1983): a pen
number for each tool, 40 units to the mm or as the machine takes them, the order of the run."""

from __future__ import annotations

import itertools
import math
import re

from dechirer.core.brief.files import counted
from dechirer.core.brief.machine import Machine
from dechirer.core.lay.mat import MatLayout
from dechirer.core.plan import Plan
from dechirer.core.run.run import MatRun, ToolStep
from dechirer.core.run.tools import kind_of
from dechirer.core.shape.affine import Affine, Points
from dechirer.formats.knife import for_holder, with_overcut
from dechirer.formats.output import OUTPUTS, unless_skipped

BLADES = ("cut", "kiss", "perforate")


@OUTPUTS.add(
    "mats/{mat}.plt",
    wanted=unless_skipped("plt"),
    check=lambda content, layout, plan: read_back(content, layout, plan),
    each="mat",
    order=12,
    about="the same mat for pen plotters, in the order of the run",
)
def write_mat_plt(layout: MatLayout, plan: Plan) -> bytes:
    """One mat as HP-GL, counted as the machine takes it, else from the lower left corner with y upwards; pens are
    numbered as the passes are.

    Where the machine's profile says so, paths of blades are those of the holder, not of the blade's edge.
    """
    mat = plan.run.mat(layout.id)
    assert mat is not None
    return plot(mat, plan.job.brief.machine)


def read_back(content: bytes, layout: MatLayout, plan: Plan) -> str:
    """Why a plotter's file does not hold the run of a mat, stroke by stroke; empty where it does."""
    mat = plan.run.mat(layout.id)
    strokes = re.findall(rb"PU(-?\d+),(-?\d+);PD([-\d,]+);", content)
    if mat is None or len(strokes) != len(mat.steps):
        return f"it has {len(strokes)} strokes for {len(mat.steps) if mat else 0} steps"
    back, units = _map_of(mat, plan.job.brief.machine).inverse(), plan.job.brief.machine.files.per_mm
    for (x, y, _), step in zip(strokes, mat.steps, strict=True):
        first = back((int(x) / units, int(y) / units))
        if math.dist(first, step.path[0]) > 2 * plan.job.brief.machine.blade_offset + 0.05:
            return f"“{step.line}” begins {math.dist(first, step.path[0]):.2f} mm beside its place"
    return ""


def plot(mat: MatRun, machine: Machine) -> bytes:
    """The run of a mat as HP-GL."""
    map, words = _map_of(mat, machine), ["IN;"]
    order = [each.tool.kind for each in mat.passes]
    kinds = {line.id: kind_of(line) for placed in mat.layout.placements for line in placed.piece.run_lines}
    pen = 0
    for step in mat.steps:
        number = order.index(kinds[step.line]) + 1
        if number != pen:
            words.append(f"PU;SP{number};")
            pen = number
        words.append(_stroke(map.all(_path_of(step, machine)), machine.files.per_mm))
    words.append("PU;SP0;")
    return "\n".join([*words, ""]).encode("ascii")


def _path_of(step: ToolStep, machine: Machine) -> Points:
    """The path the holder takes for a step."""
    if step.operation not in BLADES or not machine.files_for_holder:
        return step.path
    closed = len(step.path) > 3 and step.path[0] == step.path[-1]
    path = with_overcut(step.path, closed, machine.overcut) if step.operation == "cut" else step.path
    return for_holder(path, machine.blade_offset)


def _map_of(mat: MatRun, machine: Machine) -> Affine:
    """From places on a mat to what is counted, mm."""
    return counted(machine.files, mat.layout.sheet.mat.width, mat.layout.sheet.mat.height)


def _stroke(path: Points, units: float) -> str:
    places = [f"{round(x * units)},{round(y * units)}" for x, y in path]
    thinned = [places[0], *(b for a, b in itertools.pairwise(places) if a != b)]
    return f"PU{thinned[0]};PD{','.join(thinned[1:] or thinned)};"
