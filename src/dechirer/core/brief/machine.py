"""Cutting machines: the profile a job is planned for. The shipped ones are invented; makers edit their own."""

from functools import lru_cache
from pathlib import Path
from typing import Annotated

import msgspec
from msgspec import Meta

from dechirer.core.brief.files import FilesTaken
from dechirer.core.card.mat import Mat
from dechirer.core.card.tools import TOOLS
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require, require_own_ids
from dechirer.core.decide.values import Identifier
from dechirer.core.decide.values import made as made_of
from dechirer.core.shape.outline import Box


class Holder(Decisions, frozen=True):
    """A place on the carriage: its name and the tools that fit it."""

    name: str
    takes: tuple[str, ...]

    def agree(self) -> None:
        unknown = [tool for tool in self.takes if tool not in TOOLS]
        if unknown:
            raise ValueError(f"tool “{unknown[0]}” is not one of {', '.join(TOOLS)}")


class Pace(Decisions, frozen=True):
    """The speed and acceleration model of a machine; times are estimates built from these.

    A straight line is run with constant acceleration up to the speed and down again (a trapezoid), and the
    carriage stops at corners sharper than `corner_deg`.
    """

    cut_mm_s: Annotated[float, Field("Cutting, mm/s", 0.1, 5000)]
    score_mm_s: Annotated[float, Field("Scoring, mm/s", 0.1, 5000)]
    travel_mm_s: Annotated[float, Field("Travel, mm/s", 0.1, 5000)]
    acceleration_mm_s2: Annotated[float, Field("Acceleration, mm/s²", 1, 100_000)]
    lift_s: Annotated[float, Field("Lifting the tool, s", 0, 3600)]
    corner_deg: Annotated[float, Field("Stops at corners over, degrees", 1, 180)]
    load_mat_s: Annotated[float, Field("Loading a mat, s", 0, 3600)]
    change_tool_s: Annotated[float, Field("Changing a tool, s", 0, 3600)]


class Reader(Decisions, frozen=True):
    """What the machine's mark reader can see: the largest printed area it registers, and the marks it looks for; mm.

    A mark is a ring between the radii `ring_inside` and `ring`, with `quiet` bare round it; one has a `dot` of that
    radius. Marks stand `apart` outside the printed area, centre to edge. `read_to` is how well a mark is read.
    """

    width: Annotated[float, Field("Area width", 20, 3000, takes="mm")]
    height: Annotated[float, Field("Area length", 20, 3000, takes="mm")]
    ring: Annotated[float, Field("Mark radius", 1, 20, takes="mm")] = 4.0
    ring_inside: Annotated[float, Field("Mark radius inside", 0.5, 19, takes="mm")] = 2.6
    dot: Annotated[float, Field("Dot of the first mark", 0.2, 10, takes="mm")] = 1.0
    quiet: Annotated[float, Field("Bare round a mark", 0.5, 20, takes="mm")] = 1.0
    apart: Annotated[float, Field("Marks stand outside by", 3, 60, takes="mm")] = 8.0
    read_to: Annotated[float, Field("Reads marks to", 0, 2, takes="mm")] = 0.01

    def agree(self) -> None:
        require(self.dot + 0.2 < self.ring_inside < self.ring - 0.2, "a mark is a ring, with room for the dot in it")
        require(self.apart >= self.ring + self.quiet, "the marks would stand in the printed area")

    @property
    def strip(self) -> float:
        """How wide a strip the marks and what is bare round them take at each side."""
        return self.apart + self.ring + self.quiet


class Slot(Decisions, frozen=True):
    """Where the front of a blank lies on a mat with slots: the corner it is pushed to, and the largest front; mm."""

    left: Annotated[float, Field("From the left", 0, 3000, takes="mm")]
    top: Annotated[float, Field("From the top", 0, 3000, takes="mm")]
    width: Annotated[float, Field("Widest front", 20, 1000, takes="mm")]
    height: Annotated[float, Field("Highest front", 20, 1000, takes="mm")]


class OtherMat(Decisions, frozen=True):
    """A mat besides the machine's own: a longer or a smaller one, or one with slots for folded blanks. Lengths in mm,
    as those of the machine; `under` is how far the back of a blank goes under it at least."""

    id: Identifier
    name: Annotated[str, Field("Name of the mat", 1, 80)]
    width: Annotated[float, Field("Mat width", 20, 3000, takes="mm")]
    height: Annotated[float, Field("Mat length", 20, 3000, takes="mm")]
    cut_width: Annotated[float, Field("Cut width", 20, 3000, takes="mm")]
    cut_height: Annotated[float, Field("Cut length", 20, 3000, takes="mm")]
    cut_left: Annotated[float, Field("Cut area starts from the left", 0, 500, takes="mm")]
    cut_top: Annotated[float, Field("Cut area starts from the top", 0, 500, takes="mm")]
    slots: Annotated[tuple[Slot, ...], Meta(max_length=12)] = ()
    under: Annotated[float, Field("Blanks go under by", 0, 300, takes="mm", shows=lambda own: bool(own.slots))] = 0.0

    def agree(self) -> None:
        require(self.cut_left + self.cut_width <= self.width + 1e-6, f"mat {self.name}: it is cut wider than it is")
        require(self.cut_top + self.cut_height <= self.height + 1e-6, f"mat {self.name}: it is cut longer than it is")
        for number, slot in enumerate(self.slots, start=1):
            inside = slot.left + slot.width <= self.width + 1e-6 and slot.top + slot.height <= self.height + 1e-6
            require(inside, f"mat {self.name}: slot {number} reaches past the mat")
        boxes = [_slot_box(slot) for slot in self.slots]
        for number, one in enumerate(boxes):
            apart = all(not one.overlaps(other) for other in boxes[number + 1 :])
            require(apart, f"mat {self.name}: two slots lie on each other")

    @property
    def as_mat(self) -> Mat:
        """As the rooms know it."""
        reach = Box(self.cut_left, self.cut_top, self.cut_left + self.cut_width, self.cut_top + self.cut_height)
        slots = tuple(_slot_box(slot) for slot in self.slots)
        return Mat(self.id, self.name, self.width, self.height, reach, slots, self.under)


def _slot_box(slot: Slot) -> Box:
    return Box(slot.left, slot.top, slot.left + slot.width, slot.top + slot.height)


MAIN_MAT = "main"
"""The id of the mat that a machine has of its own."""


class Machine(Decisions, frozen=True):
    """A machine profile. Lengths in mm; `mats` are those it takes besides its own.

    `mat_*` is the tacky mat; `cut_*` the area the carriage reaches, which starts `cut_left`, `cut_top` in
    from the mat's corner. The mat's top edge goes in first. `cuts_to` is how far its carriage is typically off,
    `laid_to` how far a sheet that is laid in the corner by hand (one standard deviation, each way).
    The blade's edge trails its holder by `blade_offset` and takes `kerf` away; most machines allow for that themselves,
    for others the plotter file does.
    """

    name: Annotated[str, Field("Machine name", 1, 120)]
    mat_width: Annotated[float, Field("Mat width", 20, 3000, takes="mm")]
    mat_height: Annotated[float, Field("Mat length", 20, 3000, takes="mm")]
    cut_width: Annotated[float, Field("Cut width", 20, 3000, takes="mm")]
    cut_height: Annotated[float, Field("Cut length", 20, 3000, takes="mm")]
    cut_left: Annotated[float, Field("Cut area starts from the left", 0, 500, takes="mm")]
    cut_top: Annotated[float, Field("Cut area starts from the top", 0, 500, takes="mm")]
    holders: Annotated[tuple[Holder, ...], Meta(min_length=1)]
    pace: Annotated[Pace, Field("Pace, for the time estimate")]
    reader: Annotated[Reader | None, Field("Mark reader")] = None
    cuts_to: Annotated[float, Field("Cuts to", 0, 5, takes="mm")] = 0.05
    laid_to: Annotated[float, Field("Sheets are laid to", 0, 20, takes="mm")] = 0.5
    blade_offset: Annotated[float, Field("Blade trails its holder by", 0, 2, takes="mm")] = 0.25
    kerf: Annotated[float, Field("Blade takes away", 0, 1, takes="mm")] = 0.0
    overcut: Annotated[float, Field("Closed cuts run on by", 0, 5, takes="mm")] = 0.0
    files_for_holder: Annotated[bool, Field("Plotter files allow for the blade")] = False
    files: Annotated[FilesTaken, Field("How it takes files")] = made_of(FilesTaken)
    mats: Annotated[tuple[OtherMat, ...], Meta(max_length=12), Field("Other mats", hidden=True)] = ()

    def agree(self) -> None:
        require(self.cut_left + self.cut_width <= self.mat_width + 1e-6, "the cut area is wider than the mat")
        require(self.cut_top + self.cut_height <= self.mat_height + 1e-6, "the cut area is longer than the mat")
        require_own_ids("mats", self.mats)
        require(all(mat.id != MAIN_MAT for mat in self.mats), f"a mat cannot be called “{MAIN_MAT}”")

    @property
    def reach(self) -> Box:
        """What the carriage reaches, on the mat."""
        return Box(self.cut_left, self.cut_top, self.cut_left + self.cut_width, self.cut_top + self.cut_height)

    @property
    def main_mat(self) -> Mat:
        """The mat that comes with it."""
        return Mat(MAIN_MAT, "its own mat", self.mat_width, self.mat_height, self.reach)

    @property
    def all_mats(self) -> tuple[Mat, ...]:
        """Every mat it takes, its own first."""
        return (self.main_mat, *(mat.as_mat for mat in self.mats))

    def mat(self, mat_id: str | None) -> Mat:
        """The mat of that id; its own one where it has none of that id."""
        return next((mat for mat in self.all_mats if mat.id == mat_id), self.main_mat)


@lru_cache(maxsize=1)
def load_machines() -> dict[str, Machine]:
    """The machine profiles that ship with Dechirer, by id."""
    text = Path(__file__).with_name("machines.json").read_bytes()
    return msgspec.json.decode(text, type=dict[str, Machine])


def find_holder(machine: Machine, tool: str) -> Holder | None:
    """The holder of a machine that takes a tool, or None."""
    held = TOOLS[tool].fits_as or tool
    return next((holder for holder in machine.holders if held in holder.takes), None)
