"""How long a job takes at the machines, printing and drying included."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from msgspec import Struct, structs

from dechirer.core.brief.machine import Pace
from dechirer.core.brief.printer import Printer
from dechirer.core.card.operations import OPERATION, Operation
from dechirer.core.figure import Figure
from dechirer.core.lay.mat import MatLayout
from dechirer.core.learned import Learned, find_learned
from dechirer.core.press.decisions import Press
from dechirer.core.press.press import PressPlan

FILM_MINUTES = 1.5
"""Laying film over a page by hand and rubbing it down (from memory)."""
ALL_PASSES = "time.pass"
"""What books of earlier versions learned of the tool at work, whatever it does."""
NO_TIME = 1e-9
INK_DRY_S = 60.0
"""Ink is left so long before anything else runs over it (from memory)."""
BESIDES_S, BESIDES_MAT_S = 180.0, 15.0
"""What is done besides (getting ready, the first tools, taping foil, wiping the blade) is learned as so many times
this: for the run, and for each mat more. No plan reckons with it before that."""


class PassTime(Protocol):
    """A pass with how long it takes (s)."""

    @property
    def operation(self) -> Operation:
        """What is done."""

    @property
    def seconds(self) -> float:
        """Under way."""


class MatTime(Protocol):
    """A mat with how long the tool is under way on it."""

    @property
    def layout(self) -> MatLayout:
        """The mat."""

    @property
    def seconds(self) -> float:
        """Under way."""

    @property
    def passes(self) -> Sequence[PassTime]:
        """Its passes, one after the other."""


class PrintTimes(Struct, frozen=True):
    """How long a page takes at the printer, how long it dries (minutes), how many of each kind are printed besides,
    whether film is laid over them, and the pages that come onto no mat."""

    page: float
    dry: float
    spoiled: int
    film: bool
    bare: int = 0


def print_times(plan: PressPlan, press: Press, printer: Printer) -> PrintTimes:
    """What the printer's profile and Press say of it."""
    bare = sum(piece.count + press.spoiled for piece in plan.printed if piece.blank and not piece.run_lines)
    return PrintTimes(printer.page_minutes, press.dry_minutes, press.spoiled, press.film != "none", bare)


def total_minutes(
    mats: Sequence[MatTime],
    changes: int,
    pace: Pace,
    printing: PrintTimes | None = None,
    learned: tuple[Learned, ...] = (),
) -> Figure:
    """The time a job takes at the machines: tool at work, loading, changing tools, and where something is printed its
    pages, their drying and film; by the maker's own pace where that was learned."""
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
    moving = _moving_as_learned(moving, mats, learned)
    loading, changing = (
        as_learned(figure, learned, f"time.{kind}") for figure, kind in ((loading, "load"), (changing, "fit"))
    )
    inputs = (
        moving,
        loading,
        changing,
        *_waiting(mats),
        *_besides(count, learned),
        *(_at_the_printer(mats, printing) if printing is not None else ()),
    )
    return Figure(
        "run.minutes",
        "time at the machine" if printing is None else "time at the machines",
        sum(each.value for each in inputs),
        "minutes",
        formula=" + ".join("{" + each.name + "}" for each in inputs),
        inputs=inputs,
        note="An estimate from the machine's profile, without weeding and folding."
        + (" Corrected by your own pace, as the book has it." if learned else ""),
    )


def is_run_over(passes: Sequence[PassTime], place: int) -> bool:
    """Whether a pass lays ink that another one runs over, so that it has to dry first."""
    return passes[place].operation == "pen" and place + 1 < len(passes)


def _waiting(mats: Sequence[MatTime]) -> tuple[Figure, ...]:
    """Waiting for ink that something else runs over."""
    times = sum(
        mat.layout.repeats * sum(is_run_over(mat.passes, place) for place in range(len(mat.passes))) for mat in mats
    )
    if not times:
        return ()
    source = f"{times} times {INK_DRY_S:g} s, from memory"
    return (Figure("run.waiting", "drying of ink", times * INK_DRY_S / 60, "minutes", source=source),)


def besides_seconds(mats: int) -> float:
    """How long what no plan reckons with takes on the middle, for so many mats (s)."""
    return BESIDES_S + mats * BESIDES_MAT_S if mats else 0.0


def _besides(mats: int, learned: tuple[Learned, ...]) -> tuple[Figure, ...]:
    """What is done besides, where that was learned."""
    if find_learned(learned, "time.besides") is None:
        return ()
    source = f"{BESIDES_S:g} s and {mats} mats × {BESIDES_MAT_S:g} s, from memory"
    usual = Figure("run.besides", "done besides", besides_seconds(mats) / 60, "minutes", source=source)
    return (as_learned(usual, learned, "time.besides"),)


def _moving_as_learned(planned: Figure, mats: Sequence[MatTime], learned: tuple[Learned, ...]) -> Figure:
    """The time the tool is at work, each operation as it was learned to take; the ways between them as planned."""
    took: dict[Operation, float] = {}
    for mat in mats:
        for each in mat.passes:
            took[each.operation] = took.get(each.operation, 0.0) + mat.layout.repeats * each.seconds / 60
    parts = []
    for operation, minutes in took.items():
        name = f"time to {OPERATION[operation].verb}"
        part = Figure(f"{planned.key}.{operation}", name, minutes, "minutes", source=planned.source)
        own = as_learned(part, learned, f"time.{operation}")
        parts.append(own if own is not part else as_learned(part, learned, ALL_PASSES))
    if not any(part.inputs for part in parts):
        return planned
    ways = planned.value - sum(took.values())
    if ways > NO_TIME:
        parts.append(Figure(f"{planned.key}.ways", "ways between", ways, "minutes", source=planned.source))
    formula = " + ".join("{" + part.name + "}" for part in parts)
    total = sum(part.value for part in parts)
    return Figure(planned.key, planned.name, total, "minutes", formula=formula, inputs=tuple(parts))


def as_learned(planned: Figure, learned: tuple[Learned, ...], key: str) -> Figure:
    """A time as it was learned to be: so many times what is planned; the same where nothing was learned."""
    found = find_learned(learned, key)
    if found is None or not planned.value:
        return planned
    factor = Figure(f"{planned.key}.factor", "own pace", found.value, "plain", source=found.rests_on)
    before = structs.replace(planned, key=f"{planned.key}.planned", name=f"{planned.name}, planned")
    value, formula = planned.value * found.value, "{" + before.name + "} × {own pace}"
    return Figure(planned.key, planned.name, value, "minutes", formula=formula, inputs=(before, factor))


def _at_the_printer(mats: Sequence[MatTime], printing: PrintTimes) -> tuple[Figure, ...]:
    """Printing, drying and film."""
    printed = [mat.layout for mat in mats if mat.layout.sheet.printable is not None]
    pages = printing.bare + sum(layout.repeats + printing.spoiled for layout in printed)
    if not pages:
        return ()
    found = [
        Figure(
            "run.printing",
            "printing",
            pages * printing.page,
            "minutes",
            source=f"{pages} pages × {printing.page:g} min, from the printer's profile",
        ),
        Figure(
            "run.drying",
            "drying of the last page",
            printing.dry,
            "minutes",
            source=f"{printing.dry:g} min, set in Press; the others dry while it is printed",
        ),
    ]
    if printing.film:
        source = f"{pages} pages × {FILM_MINUTES:g} min, from memory"
        found.append(Figure("run.film", "laying film", pages * FILM_MINUTES, "minutes", source=source))
    return tuple(found)
