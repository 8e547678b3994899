"""The models of a job: frozen, validated, versioned values. `docs/job-format.md` describes the file.

A length is kept as it was typed ("4 1/4 in"), so it stays exact and readable. Ids are short lower-case words
with hyphens. Nothing here is derived: what follows from a decision is computed by the stations.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal, get_args

import msgspec
from msgspec import Meta, Struct

from dechirer.core.job.machine import TOOLS, Machine
from dechirer.core.length import Length, LengthError, parse_length
from dechirer.core.paper.weight import parse_weight

FORMAT_VERSION = 1
"""Version of the job file this code writes. Older ones are brought up to it; newer ones are refused."""

Identifier = Annotated[str, Meta(pattern=r"^[a-z][a-z0-9-]{0,40}$")]
Name = Annotated[str, Meta(min_length=1, max_length=120)]
Colour = Annotated[str, Meta(pattern=r"^#[0-9a-fA-F]{6}$")]
Count = Annotated[int, Meta(ge=1, le=10_000)]

Construction = Literal["side-fold", "top-fold", "flat", "gate", "hinged-shape", "concertina"]
OutlineKind = Literal["disc", "hexagon", "octagon"]
FoldKind = Literal["score", "perforate", "ticks", "unmarked"]
Face = Literal["outside-up", "inside-up"]
Units = Literal["in", "mm"]

CONSTRUCTIONS: tuple[Construction, ...] = get_args(Construction)
FOLD_KINDS: tuple[FoldKind, ...] = get_args(FoldKind)

LARGEST_CARD_MM = 1000.0


def default_length(text: str) -> Any:
    """A default for a length field; by a factory, because a schema cannot hold a default that is not JSON."""
    return msgspec.field(default_factory=lambda: parse_length(text))


def _require(condition: bool, message: str) -> None:
    if not condition:
        raise ValueError(message)


class Size(Struct, frozen=True, forbid_unknown_fields=True):
    """A width and a height, both above zero and under a metre."""

    width: Length
    height: Length

    def __post_init__(self) -> None:
        for name, length in (("width", self.width), ("height", self.height)):
            _require(length.mm > 0, f"{name} must be above zero, got {length}")
            _require(length.mm <= LARGEST_CARD_MM, f"{name} must be at most a metre, got {length}")


class Paper(Struct, frozen=True, forbid_unknown_fields=True):
    """A paper the maker has: name, colour, stated weight, sheet size, and what is left of it."""

    id: Identifier
    name: Name
    colour: Colour
    weight: str
    sheet: Size
    thickness: Length | None = None
    on_hand: Annotated[int, Meta(ge=0)] | None = None

    def __post_init__(self) -> None:
        parse_weight(self.weight)
        if self.thickness is not None:
            _require(0 < self.thickness.mm <= 5, f"thickness must be above 0 and up to 5 mm, got {self.thickness}")


class Brief(Struct, frozen=True, forbid_unknown_fields=True):
    """What the finished card is, how many, on which papers and which machine.

    `blank` is a flat size the maker has stated for the base, when it is bought or already cut.
    """

    construction: Construction
    width: Length
    height: Length
    count: Count
    papers: Annotated[tuple[Paper, ...], Meta(min_length=1, max_length=60)]
    base_paper: Identifier
    machine: Machine
    blank: Size | None = None

    def __post_init__(self) -> None:
        Size(self.width, self.height)
        ids = [paper.id for paper in self.papers]
        _require(len(set(ids)) == len(ids), "two papers have the same id")
        _require(self.base_paper in ids, f"base_paper “{self.base_paper}” is not one of {', '.join(ids)}")


class Fold(Struct, frozen=True, forbid_unknown_fields=True):
    """How a fold is marked, and where its line ends.

    `ends` is how far the line stops short of the edge at each end; below zero it runs out of the edge.
    `dash` and `land` are the cut and the uncut part of a perforation.
    """

    kind: FoldKind = "score"
    ends: Length = default_length("0 mm")
    dash: Length = default_length("5 mm")
    land: Length = default_length("5 mm")

    def __post_init__(self) -> None:
        _require(self.dash.mm >= 0.2, f"dash must be at least 0.2 mm, got {self.dash}")
        _require(self.land.mm >= 0, f"land must not be below zero, got {self.land}")


class Liner(Struct, frozen=True, forbid_unknown_fields=True):
    """A liner inside the card, smaller than the base by `reveal` on each side."""

    reveal: Length
    paper: Identifier
    fold: Fold = msgspec.field(default_factory=Fold)


class Gate(Struct, frozen=True, forbid_unknown_fields=True):
    """Two half doors that meet in the middle with a gap between them."""

    gap: Length = default_length("1 mm")

    def __post_init__(self) -> None:
        _require(self.gap.mm >= 0, f"gap must not be below zero, got {self.gap}")


class HingedShape(Struct, frozen=True, forbid_unknown_fields=True):
    """A shape hinged on itself: its outline, how wide the hinge is, and a rim of repeats round it.

    `rim` is how many round repeats stand on the outline (0: none), `proud` how far they stand out.
    """

    shape: OutlineKind = "disc"
    hinge: Length = default_length("1 1/2 in")
    rim: Annotated[int, Meta(ge=0, le=200)] = 0
    proud: Length = default_length("4 mm")

    def __post_init__(self) -> None:
        _require(self.hinge.mm > 0, f"hinge must be above zero, got {self.hinge}")
        _require(0 < self.proud.mm <= 50, f"proud must be above 0 and up to 50 mm, got {self.proud}")
        _require(self.rim == 0 or self.rim >= 3, f"rim must be 0 or at least 3 repeats, got {self.rim}")


class Concertina(Struct, frozen=True, forbid_unknown_fields=True):
    """Panels folded to and fro: how many, how wide the glue tab of a joined section is, and how much lower each
    panel is than the one behind it."""

    panels: Annotated[int, Meta(ge=2, le=40)] = 4
    tab: Length = default_length("12 mm")
    step: Length = default_length("0 mm")

    def __post_init__(self) -> None:
        _require(2 <= self.tab.mm <= 60, f"tab must be from 2 to 60 mm, got {self.tab}")
        _require(self.step.mm >= 0, f"step must not be below zero, got {self.step}")


class Layer(Struct, frozen=True, forbid_unknown_fields=True):
    """A panel of paper on a face, smaller than it by an equal border all round; glued flat, or raised on foam."""

    id: Identifier
    face: Annotated[str, Meta(min_length=1, max_length=40)]
    border: Length
    paper: Identifier
    foam: Length = default_length("0 mm")

    def __post_init__(self) -> None:
        _require(0 <= self.foam.mm <= 10, f"foam must be from 0 to 10 mm, got {self.foam}")


class Window(Struct, frozen=True, forbid_unknown_fields=True):
    """A rectangular opening in the middle of the front, and a backer glued behind it.

    `drop` moves it down from the middle (up when below zero); `margin` is the glue margin on each side.
    """

    width: Length
    height: Length
    paper: Identifier
    drop: Length = default_length("0 mm")
    margin: Length = default_length("5 mm")

    def __post_init__(self) -> None:
        Size(self.width, self.height)
        _require(0 <= self.margin.mm <= 100, f"margin must be from 0 to 100 mm, got {self.margin}")


class CornerSlits(Struct, frozen=True, forbid_unknown_fields=True):
    """An insert held on the front by a slit across each of its corners.

    `catch` is how far along the insert's edges the slits cross them; `ease` how much longer each slit is at both ends.
    """

    width: Length
    height: Length
    paper: Identifier
    style: Literal["straight", "scalloped"] = "straight"
    catch: Length = default_length("12 mm")
    ease: Length = default_length("1 mm")

    def __post_init__(self) -> None:
        Size(self.width, self.height)
        _require(0 < self.catch.mm <= 100, f"catch must be above 0 and up to 100 mm, got {self.catch}")
        _require(0 <= self.ease.mm <= 20, f"ease must be from 0 to 20 mm, got {self.ease}")


class Envelope(Struct, frozen=True, forbid_unknown_fields=True):
    """An envelope for the closed card: its style, its paper, and how much larger than the card it is."""

    paper: Identifier
    style: Literal["glued", "hexagon", "petal"] = "glued"
    ease: Length = default_length("1/4 in")
    fold: Fold = msgspec.field(default_factory=Fold)

    def __post_init__(self) -> None:
        _require(0 <= self.ease.mm <= 100, f"ease must be from 0 to 100 mm, got {self.ease}")


class Build(Struct, frozen=True, forbid_unknown_fields=True):
    """How the card is built: its folds, what each construction asks for, and what is glued on or in.

    The parameters of every construction are kept, so that turning to another one and back loses nothing.
    """

    fold: Fold = msgspec.field(default_factory=Fold)
    liner: Liner | None = None
    gate: Gate = msgspec.field(default_factory=Gate)
    hinged: HingedShape = msgspec.field(default_factory=HingedShape)
    concertina: Concertina = msgspec.field(default_factory=Concertina)
    layers: Annotated[tuple[Layer, ...], Meta(max_length=20)] = ()
    window: Window | None = None
    slits: CornerSlits | None = None
    envelope: Envelope | None = None

    def __post_init__(self) -> None:
        ids = [layer.id for layer in self.layers]
        _require(len(set(ids)) == len(ids), "two layers have the same id")


class Loading(Struct, frozen=True, forbid_unknown_fields=True):
    """How a paper is loaded: the sheet size set at the machine when it differs, and the face up."""

    paper: Identifier
    sheet: Size | None = None
    face: Face = "outside-up"


class Pin(Struct, frozen=True, forbid_unknown_fields=True):
    """A piece the maker put down by hand: on the `mat`-th layout of its paper (from 0), in mm from the
    sheet's top left corner, turned by 0 or 90 degrees."""

    paper: Identifier
    mat: Annotated[int, Meta(ge=0, le=9999)]
    piece: Identifier
    x: float
    y: float
    turned: bool = False

    def __post_init__(self) -> None:
        _require(abs(self.x) < 10_000 and abs(self.y) < 10_000, "a pin lies beyond ten metres")


class Lay(Struct, frozen=True, forbid_unknown_fields=True):
    """How pieces are placed on sheets."""

    margin: Length = default_length("1/8 in")
    spacing: Length = default_length("1/8 in")
    may_turn: bool = True
    loadings: tuple[Loading, ...] = ()
    pins: Annotated[tuple[Pin, ...], Meta(max_length=2000)] = ()

    def __post_init__(self) -> None:
        for name, length in (("margin", self.margin), ("spacing", self.spacing)):
            _require(0 <= length.mm <= 100, f"{name} must be from 0 to 100 mm, got {length}")


class Run(Struct, frozen=True, forbid_unknown_fields=True):
    """The tools the maker owns, and how folds are scored."""

    tools: tuple[str, ...] = ("fine-blade", "scoring-stylus")
    score_with: Literal["best", "scoring-stylus", "scoring-wheel"] = "best"
    score_passes: Annotated[int, Meta(ge=1, le=4)] = 1

    def __post_init__(self) -> None:
        for tool in self.tools:
            _require(tool in TOOLS, f"tool “{tool}” is not one of {', '.join(TOOLS)}")


class Job(Struct, frozen=True, forbid_unknown_fields=True):
    """A whole job. `format` is the version of this model."""

    name: Name
    brief: Brief
    about: Annotated[str, Meta(max_length=200)] = ""
    units: Units = "in"
    build: Build = msgspec.field(default_factory=Build)
    lay: Lay = msgspec.field(default_factory=Lay)
    run: Run = Run()
    format: Annotated[int, Meta(ge=1)] = FORMAT_VERSION

    def __post_init__(self) -> None:
        ids = [paper.id for paper in self.brief.papers]
        liner = self.build.liner
        if liner is not None:
            _require(liner.paper in ids, f"the liner's paper “{liner.paper}” is not one of {', '.join(ids)}")
        made_of = [(f"layer {layer.id}", layer.paper) for layer in self.build.layers]
        if self.build.window is not None:
            made_of.append(("the window's backer", self.build.window.paper))
        if self.build.slits is not None:
            made_of.append(("the insert", self.build.slits.paper))
        if self.build.envelope is not None:
            made_of.append(("the envelope", self.build.envelope.paper))
        for what, paper_id in made_of:
            _require(paper_id in ids, f"{what}: paper “{paper_id}” is not one of {', '.join(ids)}")
        for loading in self.lay.loadings:
            _require(loading.paper in ids, f"a loading names paper “{loading.paper}”, which is not in the job")
        loaded = [loading.paper for loading in self.lay.loadings]
        _require(len(set(loaded)) == len(loaded), "two loadings name the same paper")


class JobError(ValueError):
    """A job that cannot be read or made; the message names the field."""


def decode_hook(kind: type, value: Any) -> Any:
    """Turn a written length into a `Length`.

    Raises:
        LengthError: no text, no unit, or no length; msgspec adds the field's path.
    """
    if kind is Length:
        if not isinstance(value, str):
            raise LengthError(f'a length is written as text with its unit, such as "133 mm"; got {value!r}')
        length = parse_length(value)
        if length.typed != value.strip():
            raise LengthError(f"“{value}” has no unit")
        return length
    raise TypeError(f"no way to read a {kind.__name__}")


def encode_hook(value: Any) -> Any:
    """Write a `Length` as it was typed. Raises TypeError for anything else."""
    if isinstance(value, Length):
        return value.typed
    raise TypeError(f"no way to write a {type(value).__name__}")


def to_plain(job: Job) -> Any:
    """The job as plain lists and dictionaries."""
    return msgspec.to_builtins(job, enc_hook=encode_hook)


def from_plain(plain: Any) -> Job:
    """Make a job from plain data.

    Raises:
        JobError: names the field and what is wrong with it.
    """
    try:
        return msgspec.convert(plain, Job, dec_hook=decode_hook)
    except msgspec.ValidationError as error:
        raise JobError(_plainly(error)) from None


def write_job_json(job: Job) -> bytes:
    """The job as indented JSON in UTF-8."""
    return msgspec.json.format(msgspec.json.encode(job, enc_hook=encode_hook), indent=2) + b"\n"


def read_job_json(text: bytes) -> Job:
    """Read a job from JSON.

    Raises:
        JobError: not JSON, a newer format, or a field that is missing, unknown or out of range.
    """
    try:
        plain = msgspec.json.decode(text)
    except (msgspec.DecodeError, RecursionError) as error:
        raise JobError(f"not a job: {error}") from None
    if not isinstance(plain, dict):
        raise JobError("not a job: expected an object")
    version = plain.get("format")
    if isinstance(version, int) and version > FORMAT_VERSION:
        raise JobError(
            f"field format: the job was written by a newer Dechirer (format {version}; "
            f"this one reads up to {FORMAT_VERSION})"
        )
    return from_plain(plain)


def make_schema() -> dict[str, Any]:
    """The JSON Schema of the job file, from the models (published as `docs/job.schema.json`).

    Raises:
        TypeError: a model has a type the schema does not know; a fault of ours.
    """

    def schema_hook(kind: type) -> dict[str, Any]:
        if kind is Length:
            return {
                "type": "string",
                "maxLength": 120,
                "description": "A length with its unit: 5 1/4 in, 133 mm",
            }
        raise TypeError(f"no schema for a {kind.__name__}")

    return msgspec.json.schema(Job, schema_hook=schema_hook)


def _plainly(error: msgspec.ValidationError) -> str:
    """msgspec's message with the field first: `brief.width: …`."""
    message = str(error)
    what, found, place = message.rpartition(" - at `$")
    if not found:
        return message
    return f"field {place.rstrip('`').lstrip('.') or 'job'}: {what}"
