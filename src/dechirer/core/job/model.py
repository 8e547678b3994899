"""The job: what the maker decided, the sum of every room's decisions. `docs/job-format.md` describes the file.

A length is kept as it was typed ("4 1/4 in"), so it stays exact and readable. Ids are short lower-case words
with hyphens. Nothing here is derived: what follows from a decision is computed by the stations.
"""

from collections.abc import Iterator
from typing import TYPE_CHECKING, Annotated, Any, Literal

import msgspec
from msgspec import Meta

from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.coding import decode_hook, encode_hook, plainly
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.papers import papers_in
from dechirer.core.decide.refusal import at_field, require
from dechirer.core.decide.values import Name
from dechirer.core.job.strict import NotStrictError, read_strictly
from dechirer.core.job.upgrade import upgrade_job
from dechirer.core.stations import STATIONS

if TYPE_CHECKING:
    from dechirer.core.brief.decisions import Brief
    from dechirer.core.construct.decisions import Construct
    from dechirer.core.dress.decisions import Dress
    from dechirer.core.fold.decisions import MakingUp
    from dechirer.core.keep.decisions import Keep
    from dechirer.core.lay.decisions import Lay
    from dechirer.core.press.decisions import Press
    from dechirer.core.run.decisions import Run

FORMAT_VERSION = 3
"""Version of the job file this code writes. Older ones are brought up to it; newer ones are refused."""

Units = Literal["in", "mm"]


class _Job(Decisions, frozen=True, kw_only=True):
    """What every job has besides the decisions of its rooms. `format` is the version of this model; `id` tells this
    job from others of its name, and is given when it is first saved or exported."""

    name: Annotated[Name, Field("Name of the job", 1, 120)]
    about: Annotated[str, Meta(max_length=200), Field("What it is", 0, 200)] = ""
    units: Units = "in"
    format: Annotated[int, Meta(ge=1)] = FORMAT_VERSION
    id: Annotated[str, Meta(max_length=64, pattern="^[0-9a-f]*$")] = ""

    def agree(self) -> None:
        brief = getattr(self, "brief")  # noqa: B009 - a field of the sum
        require(
            brief.construction in CONSTRUCTIONS,
            at_field("brief.construction", f"“{brief.construction}” is not one of {', '.join(CONSTRUCTIONS.ids())}"),
        )
        ids = [paper.id for paper in brief.papers]
        for spec in STATIONS:
            for path, paper in papers_in(getattr(self, spec.id), spec.id):
                require(paper in ids, at_field(path, f"paper “{paper}” is not one of {', '.join(ids)}"))


def _fields() -> Iterator[Any]:
    for spec in STATIONS:
        kind: Any = Annotated[spec.decisions, Field(spec.title)]
        try:
            spec.decisions()
        except TypeError:  # there are decisions the maker has to make
            yield spec.id, kind
        else:
            yield spec.id, kind, msgspec.field(default_factory=spec.decisions)


if TYPE_CHECKING:

    class Job(_Job, frozen=True, kw_only=True):
        """A whole job: what is said of it, and each room's decisions under the room's name."""

        brief: Brief
        construct: Construct
        dress: Dress
        press: Press
        lay: Lay
        run: Run
        fold: MakingUp
        keep: Keep

else:
    Job = msgspec.defstruct("Job", list(_fields()), bases=(_Job,), module=__name__, frozen=True, kw_only=True)


class JobError(ValueError):
    """A job that cannot be read or made; the message names the field."""


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
        raise JobError(plainly(error)) from None


def write_job_json(job: Job) -> bytes:
    """The job as indented JSON in UTF-8."""
    return msgspec.json.format(msgspec.json.encode(job, enc_hook=encode_hook), indent=2) + b"\n"


def write_job_compact(job: Job) -> bytes:
    """The job as JSON in one line: quicker, for what nobody reads."""
    return msgspec.json.encode(job, enc_hook=encode_hook)


def read_job_json(text: bytes) -> Job:
    """Read a job from JSON; one of an older format is brought up to this one, and what is no letter is left out.

    Raises:
        JobError: not JSON, a newer format, or a field that is missing, unknown or out of range.
    """
    return read_job_told(text)[0]


def read_job_told(text: bytes) -> tuple[Job, int]:
    """As `read_job_json`, with how many texts had something in them that is no letter, which was left out.

    Raises:
        JobError: as there.
    """
    try:
        plain, cleaned = read_strictly(text)
    except NotStrictError as error:
        raise JobError(f"not a job: {error}") from None
    if not isinstance(plain, dict):
        raise JobError("not a job: expected an object")
    version = plain.get("format", 1)
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise JobError("field format: a whole number from 1 is wanted")
    if version > FORMAT_VERSION:
        raise JobError(
            f"field format: the job was written by a newer Dechirer (format {version}; "
            f"this one reads up to {FORMAT_VERSION})"
        )
    if version < FORMAT_VERSION:
        plain = upgrade_job(plain, version, FORMAT_VERSION)
    return from_plain(plain), cleaned
