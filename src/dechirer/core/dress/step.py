"""What a step of a recipe is, and the registry of their kinds.

A step is a function from what is drawn to what is drawn then, at the final size. Its measures are decisions of its own.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec import Struct

from dechirer.core.decide.decisions import Decisions, slots_of
from dechirer.core.decide.values import Identifier
from dechirer.core.length import Length
from dechirer.core.registry import Registry


class Step(Decisions, frozen=True, tag_field="kind"):
    """One step of a recipe; each kind adds its measures. Other items it asks for are named by its field `of`."""

    id: Identifier

    @property
    def kind(self) -> str:
        """The id of its kind."""
        tag = self.__struct_config__.tag
        assert isinstance(tag, str)
        return tag


class StepSpec(Struct, frozen=True):
    """A kind of step.

    Attributes:
        id: its name in the job; its decisions carry it as their tag.
        run: from what is drawn, the step's decisions and the other items of the face by id, to what is drawn then.
        title: the maker's word for it, and `about` what it does.
        group: under which heading it is offered.
        decisions: its measures.
        order: its place among those of its group; groups come in the order of their first.
        whole: it works on what is drawn, scored or printed as well, not on the outline alone.
        may_lose, may_break: losing parts, or falling into more, is said.
        words: the step in a few words, from its decisions and the names of items; by its measures for none.
        in_mm: what it begins with in a job in mm, where that differs.
        needs_other: it does nothing without another item.
    """

    id: str
    run: Callable[..., Any]
    title: str
    about: str
    group: str
    decisions: type[Step]
    order: int = 0
    whole: bool = False
    may_lose: bool = False
    may_break: bool = False
    words: Callable[[Any, dict[str, str]], str] | None = None
    in_mm: tuple[tuple[str, str], ...] = ()
    needs_other: bool = False


STEPS: Registry[StepSpec] = Registry("step", StepSpec, folders=("dechirer.core.dress.steps",))


def spec_of(step: Step) -> StepSpec:
    """What is known of a step's kind."""
    return STEPS[step.kind]


def step_groups() -> dict[str, tuple[StepSpec, ...]]:
    """The kinds of steps under their headings."""
    found: dict[str, tuple[StepSpec, ...]] = {}
    for spec in STEPS:
        found[spec.group] = (*found.get(spec.group, ()), spec)
    return found


def describe(step: Step, names: dict[str, str]) -> str:
    """A step in a few words: `border 2 mm`, `bridge 1 mm, 2 ties`.

    Args:
        names: the items' names by id.
    """
    spec = spec_of(step)
    if spec.words is not None:
        return f"{spec.title} {spec.words(step, names)}".strip()
    measures = [
        str(value) for name in slots_of(type(step)) if isinstance(value := getattr(step, name), Length) and value.mm
    ]
    return " ".join((spec.title, *measures))
