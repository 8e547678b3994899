"""Cutting machines: the profile a job is planned for. The shipped ones are invented; makers edit their own."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from typing import Annotated

import msgspec
from msgspec import Meta, Struct

Positive = Annotated[float, Meta(gt=0)]
NotNegative = Annotated[float, Meta(ge=0)]

TOOLS: dict[str, str] = {
    "thin-card-blade": "Thin-card blade",
    "thick-card-blade": "Thick-card blade",
    "creasing-point": "Creasing point",
    "creasing-wheel": "Creasing wheel",
    "pen": "Pen",
    "hot-foil-tip": "Hot foil tip",
}
"""Tools a machine may take, by id, with the name shown."""


class Holder(Struct, frozen=True, forbid_unknown_fields=True):
    """A place on the carriage: its name and the tools that fit it."""

    name: str
    takes: tuple[str, ...]

    def __post_init__(self) -> None:
        unknown = [tool for tool in self.takes if tool not in TOOLS]
        if unknown:
            raise ValueError(f"tool “{unknown[0]}” is not one of {', '.join(TOOLS)}")


class Pace(Struct, frozen=True, forbid_unknown_fields=True):
    """The speed and acceleration model of a machine; times are estimates built from these.

    A straight line is run with constant acceleration up to the speed and down again (a trapezoid), and the
    carriage stops at corners sharper than `corner_deg`.
    """

    cut_mm_s: Positive
    score_mm_s: Positive
    travel_mm_s: Positive
    acceleration_mm_s2: Positive
    lift_s: NotNegative
    corner_deg: Annotated[float, Meta(gt=0, le=180)]
    load_mat_s: NotNegative
    change_tool_s: NotNegative


class Reader(Struct, frozen=True, forbid_unknown_fields=True):
    """What the machine's mark reader can see: the largest printed area it registers, in mm."""

    width: Positive
    height: Positive


class Machine(Struct, frozen=True, forbid_unknown_fields=True):
    """A machine profile. Lengths in mm.

    `mat_*` is the tacky mat; `cut_*` the area the carriage reaches, which starts `cut_left`, `cut_top` in
    from the mat's corner. The mat's top edge goes in first.
    """

    name: str
    mat_width: Positive
    mat_height: Positive
    cut_width: Positive
    cut_height: Positive
    cut_left: NotNegative
    cut_top: NotNegative
    holders: Annotated[tuple[Holder, ...], Meta(min_length=1)]
    pace: Pace
    reader: Reader | None = None

    def __post_init__(self) -> None:
        if self.cut_left + self.cut_width > self.mat_width + 1e-6:
            raise ValueError("the cut area is wider than the mat")
        if self.cut_top + self.cut_height > self.mat_height + 1e-6:
            raise ValueError("the cut area is longer than the mat")
        if max(self.mat_width, self.mat_height) > 3000:
            raise ValueError("a mat over 3 metres is a slip of the keyboard")


@lru_cache(maxsize=1)
def load_machines() -> dict[str, Machine]:
    """The machine profiles that ship with Dechirer, by id."""
    text = Path(__file__).with_name("machines.json").read_bytes()
    return msgspec.json.decode(text, type=dict[str, Machine])


def find_holder(machine: Machine, tool: str) -> Holder | None:
    """The holder of a machine that takes a tool, or None."""
    return next((holder for holder in machine.holders if tool in holder.takes), None)
