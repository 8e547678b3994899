"""What was brought in: art with its groups of lines, and the maker's own typefaces.

Art is kept as outlines in mm (SVG path data: M, L, C and Z, absolute), so that a job is whole without the file it
came from. What is made of it (offsets, joins, cut lines) is derived at the size it is used.
"""

from typing import Annotated, Literal, get_args

import msgspec
from msgspec import Meta

from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require, require_own_ids
from dechirer.core.decide.values import Colour, Identifier, Name

Role = Literal["cut", "kiss", "score", "perforate", "pen", "foil", "print", "off", "unassigned"]
"""What is done with a group of lines; `off` leaves it out, `unassigned` waits for the maker."""
ROLES: tuple[Role, ...] = get_args(Role)
MOST_ART_BYTES = 12_000_000
MOST_FONT_BYTES = 8_000_000
MOST_PICTURE_BYTES = 16_000_000

LicenceKind = Literal["unknown", "own", "free", "bought", "personal"]
LICENCE_WORDS: tuple[tuple[LicenceKind, str], ...] = (
    ("unknown", "not noted"),
    ("own", "my own work"),
    ("free", "free for any use"),
    ("bought", "bought, may be sold"),
    ("personal", "personal use only"),
)
"""How art and typefaces may be used, in the words of a choice."""

Measured = Annotated[float, Meta(ge=0, le=20_000)]


class ArtGroup(Decisions, frozen=True):
    """Lines of an import that belong together: same layer or class, same colour, same way of drawing.

    `stroke` is the width of a drawn line in mm (0: the paths are filled areas); `caps` and `corners` how its ends and
    corners look; `dash` its lengths of line and gap in mm; `rule` which fill rule the areas follow.
    """

    id: Identifier
    name: Name
    role: Role
    paths: Annotated[tuple[str, ...], Meta(max_length=200_000)]
    colour: Colour = "#000000"
    stroke: Measured = 0.0
    caps: Literal["flat", "round", "square"] = "flat"
    corners: Literal["round", "mitre", "bevel"] = "mitre"
    rule: Literal["nonzero", "evenodd"] = "nonzero"
    dash: Annotated[tuple[Measured, ...], Meta(max_length=16)] = ()
    reason: Annotated[str, Meta(max_length=200)] = ""


class Pixels(Decisions, frozen=True):
    """The pixels of a picture: `data` is a PNG or JPEG file of `width` x `height` px, upright.

    In the art they belong to, the top left corner of the grid lies at `left`, `top`, and each pixel is `wide` x `high`
    large (mm). `said` tells what was done to them.
    """

    data: Annotated[bytes, Meta(min_length=12, max_length=MOST_PICTURE_BYTES)]
    width: Annotated[int, Meta(ge=1, le=30_000)]
    height: Annotated[int, Meta(ge=1, le=30_000)]
    left: Annotated[float, Meta(ge=-20_000, le=20_000)]
    top: Annotated[float, Meta(ge=-20_000, le=20_000)]
    wide: Annotated[float, Meta(gt=0, le=100)]
    high: Annotated[float, Meta(gt=0, le=100)]
    said: Annotated[str, Meta(max_length=200)] = ""


class Art(Decisions, frozen=True):
    """One import: its groups, its size in mm as it was settled, and how.

    A picture keeps its `pixels` beside the outlines that were traced of it.

    `width` and `height` are those of the ink; `scale` is what the maker has corrected it by; `settled` says where the
    size comes from and `doubt` what speaks against it. `licence` is the maker's note on how the file may be used; a
    `locked` file is not scaled before it is unlocked.
    """

    id: Identifier
    name: Annotated[Name, Field("Name", 1, 120)]
    width: Annotated[float, Meta(gt=0, le=20_000)]
    height: Annotated[float, Meta(ge=0, le=20_000)]
    groups: Annotated[tuple[ArtGroup, ...], Meta(min_length=1, max_length=400)]
    settled: Annotated[str, Meta(max_length=200)] = ""
    doubt: Annotated[str, Meta(max_length=300)] = ""
    scale: Annotated[float, Meta(gt=1e-4, le=1e4)] = 1.0
    licence: LicenceKind = "unknown"
    locked: bool = False
    source: Annotated[str, Meta(max_length=200)] = ""
    lost: Annotated[tuple[str, ...], Meta(max_length=50)] = ()
    pixels: Pixels | None = None

    def agree(self) -> None:
        require_own_ids("groups of the art", self.groups)
        weight = sum(len(path) for group in self.groups for path in group.paths)
        require(weight <= MOST_ART_BYTES, f"the art has {weight / 1e6:.0f} MB of outlines, more than a job takes")


NOISE = "nothing, but"
"""How what a tracer says of noise begins."""


def without_small(art: Art, least_mm: float) -> Art | None:
    """The art without the outlines that are less than so long and so wide (mm, as it was settled), and without what was
    said of noise; None when none would be left, or none would go."""
    groups, gone = [], 0
    for group in art.groups:
        kept = tuple(path for path in group.paths if extent_of(path) * art.scale >= least_mm)
        gone += len(group.paths) - len(kept)
        if kept:
            groups.append(msgspec.structs.replace(group, paths=kept))
    if not groups or not gone:
        return None
    lost = tuple(each for each in art.lost if not each.startswith(NOISE))
    return msgspec.structs.replace(art, groups=tuple(groups), lost=lost)


def extent_of(path: str) -> float:
    """The longer side of the box round a path's points, in mm."""
    numbers = [float(word) for word in path.split() if word not in "MLCZ"]
    across, down = numbers[::2], numbers[1::2]
    return max(max(across) - min(across), max(down) - min(down)) if numbers else 0.0


class FontFile(Decisions, frozen=True):
    """A typeface of the maker's, kept in the job. `data` is the font file itself."""

    id: Identifier
    name: Name
    data: Annotated[bytes, Meta(min_length=12, max_length=MOST_FONT_BYTES)]
    licence: LicenceKind = "unknown"
    source: Annotated[str, Meta(max_length=200)] = ""
