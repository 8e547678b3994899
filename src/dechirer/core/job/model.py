"""The models of a job: frozen, validated, versioned values. `docs/job-format.md` describes the file.

A length is kept as it was typed ("4 1/4 in"), so it stays exact and readable. Ids are short lower-case words
with hyphens. Nothing here is derived: what follows from a decision is computed by the stations.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal, get_args

import msgspec
from msgspec import Meta, Struct

from dechirer.core.job.constructing import Construct, FoldKind
from dechirer.core.job.dressing import Dress
from dechirer.core.job.machine import TOOLS, Machine
from dechirer.core.job.upgrade import upgrade_job
from dechirer.core.job.values import Colour, Count, Identifier, Name, Size, default_length, require
from dechirer.core.length import Length, LengthError, parse_length
from dechirer.core.paper.weight import parse_weight

FORMAT_VERSION = 2
"""Version of the job file this code writes. Older ones are brought up to it; newer ones are refused."""

Construction = Literal[
    "side-fold",
    "top-fold",
    "flat",
    "gate",
    "lock-gate",
    "hinged-shape",
    "concertina",
    "collar",
    "money-holder",
    "flap-row",
]
Face = Literal["outside-up", "inside-up"]
Units = Literal["in", "mm"]

CONSTRUCTIONS: tuple[Construction, ...] = get_args(Construction)
FOLD_KINDS: tuple[FoldKind, ...] = get_args(FoldKind)


class Paper(Struct, frozen=True, forbid_unknown_fields=True):
    """A paper the maker has: name, colour, stated weight, sheet size, and what is left of it.

    `holds` is the narrowest web of it that does not tear, when the maker has found it by trial.
    """

    id: Identifier
    name: Name
    colour: Colour
    weight: str
    sheet: Size
    thickness: Length | None = None
    on_hand: Annotated[int, Meta(ge=0)] | None = None
    good_sides: Literal["both", "one"] = "both"
    holds: Length | None = None

    def __post_init__(self) -> None:
        parse_weight(self.weight)
        if self.holds is not None:
            require(0.05 <= self.holds.mm <= 20, f"holds must be from 0.05 to 20 mm, got {self.holds}")
        if self.thickness is not None:
            require(0 < self.thickness.mm <= 5, f"thickness must be above 0 and up to 5 mm, got {self.thickness}")


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
        require(len(set(ids)) == len(ids), "two papers have the same id")
        require(self.base_paper in ids, f"base_paper “{self.base_paper}” is not one of {', '.join(ids)}")


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
        require(abs(self.x) < 10_000 and abs(self.y) < 10_000, "a pin lies beyond ten metres")


class Lay(Struct, frozen=True, forbid_unknown_fields=True):
    """How pieces are placed on sheets."""

    margin: Length = default_length("1/8 in")
    spacing: Length = default_length("1/8 in")
    may_turn: bool = True
    loadings: tuple[Loading, ...] = ()
    pins: Annotated[tuple[Pin, ...], Meta(max_length=2000)] = ()

    def __post_init__(self) -> None:
        for name, length in (("margin", self.margin), ("spacing", self.spacing)):
            require(0 <= length.mm <= 100, f"{name} must be from 0 to 100 mm, got {length}")


class Run(Struct, frozen=True, forbid_unknown_fields=True):
    """The tools the maker owns, and how folds are scored."""

    tools: tuple[str, ...] = ("thin-card-blade", "creasing-point")
    score_with: Literal["best", "creasing-point", "creasing-wheel"] = "best"
    score_passes: Annotated[int, Meta(ge=1, le=4)] = 1

    def __post_init__(self) -> None:
        for tool in self.tools:
            require(tool in TOOLS, f"tool “{tool}” is not one of {', '.join(TOOLS)}")


class Job(Struct, frozen=True, forbid_unknown_fields=True):
    """A whole job. `format` is the version of this model."""

    name: Name
    brief: Brief
    about: Annotated[str, Meta(max_length=200)] = ""
    units: Units = "in"
    construct: Construct = msgspec.field(default_factory=Construct)
    dress: Dress = msgspec.field(default_factory=Dress)
    lay: Lay = msgspec.field(default_factory=Lay)
    run: Run = Run()
    format: Annotated[int, Meta(ge=1)] = FORMAT_VERSION

    def __post_init__(self) -> None:
        ids = [paper.id for paper in self.brief.papers]
        for what, paper_id in (*self.construct.papers(), *self.dress.papers()):
            require(paper_id in ids, f"{what}: paper “{paper_id}” is not one of {', '.join(ids)}")
        for loading in self.lay.loadings:
            require(loading.paper in ids, f"a loading names paper “{loading.paper}”, which is not in the job")
        loaded = [loading.paper for loading in self.lay.loadings]
        require(len(set(loaded)) == len(loaded), "two loadings name the same paper")


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
    return msgspec.to_builtins(job, enc_hook=encode_hook, builtin_types=(bytes,))


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


def write_job_compact(job: Job) -> bytes:
    """The job as JSON in one line: quicker, for what nobody reads."""
    return msgspec.json.encode(job, enc_hook=encode_hook)


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
    version = plain.get("format", 1)
    if isinstance(version, int) and version > FORMAT_VERSION:
        raise JobError(
            f"field format: the job was written by a newer Dechirer (format {version}; "
            f"this one reads up to {FORMAT_VERSION})"
        )
    if isinstance(version, int) and version < FORMAT_VERSION:
        plain = upgrade_job(plain, version, FORMAT_VERSION)
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
