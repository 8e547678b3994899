"""What the maker decides in Lay: margins, how each paper is loaded, what was put down by hand."""

from typing import Annotated, Any, Literal

import msgspec
from msgspec import Meta

from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require, require_own_ids
from dechirer.core.decide.values import Identifier, Name, Size, given
from dechirer.core.length import Length
from dechirer.core.press.records import CornerTrial

FaceUp = Literal["as-drawn", "outside-up", "inside-up"]
FACES = {"as-drawn": "as it is drawn on", "outside-up": "outside up", "inside-up": "inside up"}


Lies = Literal["fewest", "corner", "further-in"]
LIES = {
    "fewest": "where fewest sheets are needed",
    "corner": "in the mat's corner",
    "further-in": "further in, in reach",
}


class Loading(Decisions, frozen=True):
    """How a paper is loaded: the sheet size set at the machine when it differs, the face up, where the sheet lies, and
    on which of the machine's mats (None: its own, or for folded blanks one whose slots take them), how many pieces go
    on one at most.

    `as-drawn` loads each mat with the side up that its pieces are drawn, foiled or kiss-cut on.
    """

    paper: Identifier
    sheet: Annotated[Size | None, Field("Sheet set at the machine", 20, 1000, hint="as on hand")] = None
    face: Annotated[FaceUp, Field("Face up", choices=FACES)] = "as-drawn"
    lies: Annotated[Lies, Field("Sheet lies", choices=LIES)] = "fewest"
    mat: Annotated[Identifier | None, Field("Mat", hidden=True)] = None
    most: Annotated[int | None, Field("Pieces to a sheet, at most", 1, 2000, hint="as many as fit")] = None


class Pin(Decisions, frozen=True):
    """A piece the maker put down by hand: on the `mat`-th layout of its paper (from 0), in mm from the
    mat's top left corner, turned by 0 or 90 degrees, and
    by a half turn besides, and by an `angle` in degrees."""

    paper: Identifier
    mat: Annotated[int, Meta(ge=0, le=9999)]
    piece: Identifier
    x: float
    y: float
    turned: bool = False
    half: bool = False
    angle: Annotated[float, Meta(ge=-360, le=360)] = 0.0

    def agree(self) -> None:
        require(abs(self.x) < 10_000 and abs(self.y) < 10_000, "a pin lies beyond ten metres")


class Locked(Decisions, frozen=True):
    """A layout of a paper (the `mat`-th, from 0) that holds what is pinned on it and nothing else."""

    paper: Identifier
    mat: Annotated[int, Meta(ge=0, le=9999)]


class Lain(Decisions, frozen=True):
    """Where a piece lies on a sheet of a closer layout: in mm from the mat's top left corner, in quarter turns."""

    piece: Identifier
    x: float
    y: float
    turn: Annotated[int, Meta(ge=0, le=3)] = 0

    def agree(self) -> None:
        require(abs(self.x) < 10_000 and abs(self.y) < 10_000, "a piece lies beyond ten metres")


class Closer(Decisions, frozen=True):
    """A closer layout of a paper with one side up that was looked for and found, its sheets, and the seal of what it is
    for."""

    paper: Identifier
    face: Literal["outside-up", "inside-up"]
    seal: Annotated[str, Meta(pattern=r"^[0-9a-f]{8}$")]
    sheets: Annotated[tuple[tuple[Lain, ...], ...], Meta(max_length=2000)]


class Recut(Decisions, frozen=True):
    """A piece that was spoiled, and how many of it are cut again."""

    piece: Identifier
    count: Annotated[int, Field("Cut again", 1, 2000)] = 1


MOST_GUESTS, MOST_JOB_LETTERS = 12, 12_000_000


class PaperPair(Decisions, frozen=True):
    """A paper of another job by its id there, and the paper of this one it is cut from."""

    id: Identifier
    ours: Annotated[Identifier, Field("Cut from", takes="paper")]


class Guest(Decisions, frozen=True):
    """Another job that is laid with this one: its name, the job itself as it was then, whole, which papers it shares,
    and the letter that stands before those of its pieces."""

    id: Identifier
    name: Name
    job: Annotated[str, Meta(min_length=2, max_length=MOST_JOB_LETTERS)]
    papers: Annotated[tuple[PaperPair, ...], Meta(max_length=60)] = ()
    letter: Annotated[str, Meta(pattern=r"^[a-z]$")] = "b"


class Lay(Decisions, frozen=True):
    """How pieces are placed on sheets."""

    margin: Annotated[Length, Field("Margin round the sheet", 0, 100)] = given("1/8 in")
    spacing: Annotated[Length, Field("Space between pieces", 0, 100)] = given("1/8 in")
    may_turn: Annotated[bool, Field("Pieces may be turned")] = True
    along_grain: Annotated[bool, Field("Folds along the grain")] = False
    # A paper has a loading of its own only once something about it was changed.
    loadings: Annotated[tuple[Loading, ...], Field("How each paper is loaded", hidden=True, entry=Loading)] = ()
    pins: Annotated[tuple[Pin, ...], Meta(max_length=2000)] = ()
    locked: Annotated[tuple[Locked, ...], Meta(max_length=2000), Field("Mats kept as they are", hidden=True)] = ()
    recut: Annotated[tuple[Recut, ...], Meta(max_length=400), Field("Cut again", hidden=True)] = ()
    guests: Annotated[tuple[Guest, ...], Meta(max_length=MOST_GUESTS), Field("Laid with", hidden=True)] = ()
    trials: Annotated[tuple[CornerTrial, ...], Meta(max_length=24), Field("Trial cuts", hidden=True)] = ()
    closer: Annotated[tuple[Closer, ...], Meta(max_length=120), Field("Closer layouts", hidden=True)] = ()

    def agree(self) -> None:
        loaded = [loading.paper for loading in self.loadings]
        require(len(set(loaded)) == len(loaded), "two loadings name the same paper")
        require_own_ids("guests", self.guests)


def laid_alone(lay: Lay) -> Lay:
    """The rules of a lay without what was done by hand, looked for, or asked to be laid with it: for trying out."""
    return msgspec.structs.replace(lay, pins=(), locked=(), recut=(), guests=(), closer=())


def set_loading(lay: Lay, paper: str, **fields: Any) -> Change:
    """The change that sets fields of a paper's loading, making the loading when there is none yet."""
    existing = next((entry for entry in lay.loadings if entry.paper == paper), Loading(paper))
    others = tuple(entry for entry in lay.loadings if entry.paper != paper)
    return Change("lay.loadings", (*others, msgspec.structs.replace(existing, **fields)))


def keep_trial(lay: Lay, trial: CornerTrial) -> Change:
    """The change that puts a trial cut into the job, in the place of an older one of its machine and mat."""
    others = tuple(each for each in lay.trials if (each.machine, each.mat) != (trial.machine, trial.mat))
    return Change("lay.trials", (*others, trial)[-24:])
