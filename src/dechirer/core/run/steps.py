"""The run as steps at the machines, one after the other: preparing, loading, fitting, passes, and what is held between.

The same steps stand on the run sheet and are worked from while cutting. Held steps are common practice; how long ink
dries before it is run over is from memory.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Literal

from msgspec import Struct

from dechirer.core.card.operations import OPERATION
from dechirer.core.figure import format_minutes
from dechirer.core.lay.mat import MatLayout
from dechirer.core.length import format_size
from dechirer.core.run.minutes import INK_DRY_S, is_run_over
from dechirer.core.run.run import MatRun, Pass
from dechirer.core.shape.outline import Box, bounds

StepKind = Literal["prepare", "load", "fit", "read", "pass", "hold", "look", "unload", "make"]
ON_THE_MAT = ("load", "read", "look", "unload")
TAPE_MM = 10.0
"""The foil sheet reaches past the design by so much on each side, to be taped (common practice)."""
CLEAN_EVERY = 12
"""So many mats are cut before the blade is wiped (from memory)."""


class MachineStep(Struct, frozen=True):
    """One step: what is done in a few words, more to it, how long it is waited for or runs (s; 0 where that is open),
    the mat with the number of the time it is cut, from 1 (no mat for what is prepared), and the operation of a pass."""

    kind: StepKind
    words: str
    more: str = ""
    seconds: float = 0.0
    mat: str = ""
    time: int = 0
    timed: str = ""

    @property
    def timed_as(self) -> str:
        """What its time is learned as: a pass by its operation, a mat from its loading to its unloading, and what no
        plan reckons with as done besides."""
        if self.kind in ON_THE_MAT:
            return "load"
        if self.kind == "prepare" or (self.kind == "hold" and not self.seconds):
            return "besides"
        return self.timed or self.kind


class Printing(Struct, frozen=True):
    """What is known of a printed mat's page: how long it dries (min), and whether film is laid over it."""

    dry: float
    film: bool


def foil_sheet(layout: MatLayout, colour: str) -> Box | None:
    """The sheet of foil that covers what is foiled in a colour on a mat, by whatever tips, taped at its edges; None
    where nothing is."""
    boxes = [
        bounds(path)
        for placed in layout.placements
        for line in placed.lines()
        if (line.operation, line.colour) == ("foil", colour)
        for path in line.paths
        if path
    ]
    if not boxes:
        return None
    left, top = min(box.left for box in boxes), min(box.top for box in boxes)
    right, bottom = max(box.right for box in boxes), max(box.bottom for box in boxes)
    return Box(left, top, right, bottom).grown(TAPE_MM)


def prepare(mats: Sequence[MatRun], machine: str, papers: dict[str, str]) -> Iterator[MachineStep]:
    """What is got ready before the first mat.

    Args:
        papers: names of papers by their ids.
    """
    yield MachineStep("prepare", f"The {machine}, on a level table", "room before and behind it, its lid open")
    kinds = dict.fromkeys(mat.layout.sheet.mat.name for mat in mats)
    if kinds:
        names = "; ".join(kinds)
        yield MachineStep("prepare", f"Mats: {names}", "film off and laid aside, tacky face clean")
    tools = dict.fromkeys((each.tool.title, each.tool.holder) for mat in mats for each in mat.passes)
    for title, holder in tools:
        yield MachineStep("prepare", title, f"for the {holder}")
    sheets: dict[str, int] = {}
    for mat in mats:
        for placed in mat.layout.placements if mat.layout.is_blank else ():
            sheets[placed.piece.paper] = sheets.get(placed.piece.paper, 0) + mat.layout.repeats
        if not mat.layout.is_blank:
            sheets[mat.layout.paper] = sheets.get(mat.layout.paper, 0) + mat.layout.repeats
    for paper, count in sheets.items():
        yield MachineStep("prepare", f"{count} × {papers.get(paper, paper)}", "counted, and one more to try on")


def walk_run(
    mats: Sequence[MatRun], machine: str, papers: dict[str, str], printing: dict[str, Printing], units: str
) -> tuple[MachineStep, ...]:
    """Every step of a run, each time each mat is cut.

    Args:
        printing: of mats whose sheet is printed first, by the mat's id.
    """
    steps = list(prepare(mats, machine, papers))
    fitted: dict[str, tuple[str, str, float]] = {}
    cut = 0
    for mat in mats:
        for time in range(1, mat.layout.repeats + 1):
            cut += 1
            steps += _one_mat(mat, time, papers, printing.get(mat.layout.id), units, fitted)
            if cut % CLEAN_EVERY == 0 and any(each.operation in ("cut", "kiss") for each in mat.passes):
                steps.append(
                    MachineStep(
                        "hold", "Wipe the blade", "fluff on its tip drags; mind the edge", 0.0, mat.layout.id, time
                    )
                )
    return tuple(steps)


def _one_mat(
    mat: MatRun,
    time: int,
    papers: dict[str, str],
    printed: Printing | None,
    units: str,
    fitted: dict[str, tuple[str, str, float]],
) -> Iterator[MachineStep]:
    layout, times = mat.layout, f", time {time} of {mat.layout.repeats}" if mat.layout.repeats > 1 else ""
    own = (layout.id, time)
    if printed is not None and printed.dry:
        words = "Let the print dry"
        yield MachineStep(
            "hold", words, "until it does not smear; fingers and roller off the marks", 60 * printed.dry, *own
        )
    if printed is not None and printed.film:
        yield MachineStep(
            "hold", "Lay the film over", "inside the marks, from one edge, the air pressed out", 0.0, *own
        )
    size = format_size(layout.sheet.width, layout.sheet.height, units)
    if layout.sheet.slots:
        what = f"{len(layout.placements)} blanks of {size} in their slots"
        more = "backs under the mat, hard over and up to the line, outside up; see the table of slots"
    else:
        name = papers.get(layout.paper, layout.paper)
        what = f"{'a blank of ' if layout.is_blank else ''}{name}, {size}"
        up = "outside up" if layout.face == "outside-up" else "inside up"
        more = f"{up}, in first: {layout.sheet.first_edge}; rolled down, star rollers clear"
    yield MachineStep("load", f"Mat {layout.number}{times}: {what}", more, 0.0, *own)
    if layout.sheet.registration is not None:
        yield MachineStep("read", "Let the machine read the marks", "it asks again where it finds none", 0.0, *own)
    for place, each in enumerate(mat.passes):
        if fitted.get(each.tool.holder) != each.tool.fitted:
            timed = "" if each.tool.holder in fitted else "besides"
            fitted[each.tool.holder] = each.tool.fitted
            words = f"{each.tool.title} into the {each.tool.holder}"
            yield MachineStep("fit", words, "clean, pushed home, clamped", 0.0, *own, timed)
        yield from _one_pass(mat, each, place, units, own)
    yield MachineStep("look", "Look before unloading", "; ".join(dict.fromkeys(_failures(mat))), 0.0, *own)
    how = "each straight off" if layout.is_blank else "the mat from the paper, turned over and rolled back"
    yield MachineStep("unload", f"Take off mat {layout.number}", how, 0.0, *own)


def _one_pass(mat: MatRun, each: Pass, place: int, units: str, own: tuple[str, int]) -> Iterator[MachineStep]:
    if each.operation == "foil":
        sheet = foil_sheet(mat.layout, each.tool.colour)
        if sheet is not None:
            size = format_size(math.ceil(sheet.width), math.ceil(sheet.height), units)
            yield MachineStep(
                "hold",
                f"Tape foil over it, {size}",
                "bright side up, smooth, taped at its edges; nothing unloaded",
                0.0,
                *own,
            )
    again = f", {each.times} times over" if each.times > 1 else ""
    words = f"{OPERATION[each.operation].verb.capitalize()}: {each.tool.title.lower()}{again}"
    yield MachineStep("pass", words, f"about {format_minutes(each.seconds / 60)}", each.seconds, *own, each.operation)
    if each.operation == "foil":
        yield MachineStep("hold", "Peel the foil off, tape first", "slowly; the tip stays hot for minutes", 0.0, *own)
    if is_run_over(mat.passes, place):
        yield MachineStep("hold", "Let the ink dry", "what runs over it next would smear it", INK_DRY_S, *own)


def _failures(mat: MatRun) -> Iterator[str]:
    """What goes wrong most, by what is run on a mat."""
    for each in mat.passes:
        if each.operation == "kiss":
            yield "a scratch on the backer and no more: lift a corner of what peels"
        elif each.operation == "cut":
            yield "cut through everywhere: lift a corner with a pick, slits and small holes first"
        elif each.operation == "score":
            yield "a groove on every fold, no tear"
        elif each.operation == "foil":
            yield "foil closed on every line"
        elif each.operation == "pen":
            yield "no line skipped, nothing smeared"
        elif each.operation == "perforate":
            yield "lands left between the dashes"
    yield "if something is missing, run that pass again: the place is not lost yet"
