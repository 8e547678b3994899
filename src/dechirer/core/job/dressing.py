"""The models of Dress: art brought in, words, the recipes of outlines, and where each lies on a face as it is seen.

Art is kept as outlines in mm (SVG path data: M, L, C and Z, absolute), so that a job is whole without the file it
came from. What is made of it (offsets, joins, cut lines) is derived at the size it is used.
"""

from __future__ import annotations

from typing import Annotated, Literal, get_args

import msgspec
from msgspec import Meta, Struct

from dechirer.core.job.values import Colour, Identifier, Name, default_length, require, require_length
from dechirer.core.length import Length

Role = Literal["cut", "kiss", "score", "perforate", "pen", "foil", "print", "off", "unassigned"]
"""What is done with a group of lines; `off` leaves it out, `unassigned` waits for the maker."""
Made = Literal["art", "window", "kiss", "score", "perforate", "pen", "foil", "print", "piece", "guide"]
"""What an item becomes: `art` gives each group its own role, `piece` a piece of its own, `guide` only an outline for
other items to start from."""
StepKind = Literal[
    "border",
    "join",
    "merge",
    "cut",
    "relief",
    "bridge",
    "fill",
    "outermost",
    "item",
    "mirror",
    "repeat",
    "spread",
    "round",
    "tidy",
    "fit",
    "lift",
]
ROLES: tuple[Role, ...] = get_args(Role)
MADE: tuple[Made, ...] = get_args(Made)
STEP_KINDS: tuple[StepKind, ...] = get_args(StepKind)
MOST_ART_BYTES = 12_000_000
MOST_FONT_BYTES = 8_000_000

Measured = Annotated[float, Meta(ge=0, le=20_000)]


class ArtGroup(Struct, frozen=True, forbid_unknown_fields=True):
    """Lines of an import that belong together: same layer or class, same colour, same way of drawing.

    `stroke` is the width of a drawn line in mm (0: the paths are filled areas); `caps` and `corners` how its ends and
    corners look; `dash` its lengths of line and gap in mm; `rule` which fill rule the areas follow.
    """

    id: Identifier
    name: Name
    role: Role
    paths: Annotated[tuple[str, ...], Meta(max_length=20_000)]
    colour: Colour = "#000000"
    stroke: Measured = 0.0
    caps: Literal["flat", "round", "square"] = "flat"
    corners: Literal["round", "mitre", "bevel"] = "mitre"
    rule: Literal["nonzero", "evenodd"] = "nonzero"
    dash: Annotated[tuple[Measured, ...], Meta(max_length=16)] = ()
    reason: Annotated[str, Meta(max_length=200)] = ""


class Art(Struct, frozen=True, forbid_unknown_fields=True):
    """One import: its groups, its size in mm as it was settled, and how.

    `width` and `height` are those of the ink; `scale` is what the maker has corrected it by; `settled` says where the
    size comes from and `doubt` what speaks against it. `licence` is the maker's note on how the file may be used.
    """

    id: Identifier
    name: Name
    width: Annotated[float, Meta(gt=0, le=20_000)]
    height: Annotated[float, Meta(ge=0, le=20_000)]
    groups: Annotated[tuple[ArtGroup, ...], Meta(min_length=1, max_length=400)]
    settled: Annotated[str, Meta(max_length=200)] = ""
    doubt: Annotated[str, Meta(max_length=300)] = ""
    scale: Annotated[float, Meta(gt=1e-4, le=1e4)] = 1.0
    licence: Literal["unknown", "own", "free", "personal", "bought"] = "unknown"
    source: Annotated[str, Meta(max_length=200)] = ""
    lost: Annotated[tuple[str, ...], Meta(max_length=50)] = ()

    def __post_init__(self) -> None:
        ids = [group.id for group in self.groups]
        require(len(set(ids)) == len(ids), "two groups of the art have the same id")
        weight = sum(len(path) for group in self.groups for path in group.paths)
        require(weight <= MOST_ART_BYTES, f"the art has {weight / 1e6:.0f} MB of outlines, more than a job takes")


class FontFile(Struct, frozen=True, forbid_unknown_fields=True):
    """A typeface of the maker's, kept in the job. `data` is the font file itself."""

    id: Identifier
    name: Name
    data: Annotated[bytes, Meta(min_length=12, max_length=MOST_FONT_BYTES)]
    licence: Literal["unknown", "own", "free", "personal", "bought"] = "unknown"


class Words(Struct, frozen=True, forbid_unknown_fields=True):
    """Words to be set: a typeface, its size (em), and what they are fitted into by their ink.

    `{name}` stands for a column of the wordings. `fit`: `size` sets them at `size`; `band` fills `width` x `height`;
    `circle` a circle of diameter `width`; `shape` the largest they can be in the outline of the item `shape`; `arc`
    sets them at `size` along a circle of diameter `width`. `joined` moves neighbouring letters together until they
    overlap by `overlap`. `features` are OpenType features such as `swsh` or `ss01`, off when they begin with `-`.
    """

    text: Annotated[str, Meta(min_length=1, max_length=2000)]
    face: Identifier = "dancing"
    size: Length = default_length("18 mm")
    fit: Literal["size", "band", "circle", "shape", "arc"] = "size"
    width: Length = default_length("80 mm")
    height: Length = default_length("20 mm")
    shape: Identifier | None = None
    align: Literal["middle", "left", "right"] = "middle"
    rows: Length = default_length("3 mm")
    spacing: Length = default_length("0 mm")
    joined: bool = False
    overlap: Length = default_length("0.4 mm")
    features: Annotated[tuple[str, ...], Meta(max_length=20)] = ()

    def __post_init__(self) -> None:
        require(self.text.strip() != "", "the words are empty")
        require_length("size", self.size, 1, 600)
        require_length("width", self.width, 2, 1000)
        require_length("height", self.height, 1, 1000)
        require_length("rows", self.rows, -100, 300)
        require_length("spacing", self.spacing, -30, 100)
        require_length("overlap", self.overlap, 0, 20)
        for feature in self.features:
            bare = feature.removeprefix("-")
            require(len(bare) == 4 and bare.isalnum() and bare.isascii(), f"“{feature}” is not an OpenType feature")


class Step(Struct, frozen=True, forbid_unknown_fields=True):
    """One step of a recipe. Which measures a kind uses is told by `core.dress.steps.STEPS`.

    `by` is its length (border, web, tie, radius, overall length, width to fit), `to` a second one (height to fit);
    `count` how many; `of` another item of the same face.
    """

    id: Identifier
    kind: StepKind
    by: Length = default_length("2 mm")
    to: Length = default_length("0 mm")
    count: Annotated[int, Meta(ge=0, le=400)] = 2
    of: Identifier | None = None
    edges: Literal["outer", "all"] = "outer"
    corners: Literal["round", "mitre"] = "round"
    each: bool = False
    side: Literal["left", "right", "top", "bottom"] = "top"
    keep: Literal["frame", "parts"] = "frame"

    def __post_init__(self) -> None:
        require_length("by", self.by, -200, 2000)
        require_length("to", self.to, 0, 2000)


class Place(Struct, frozen=True, forbid_unknown_fields=True):
    """Where an item lies on its face as seen, by relations that hold when the card changes.

    `within` is the region it is placed in: the whole panel, what of it is seen when the card is closed, or what lies
    inside the safe zone. `across` and `down` say what is kept: `x` and `y` are distances from that side, or from the
    middle. `fold` and `edge` mean the side that is a fold or is not.
    """

    within: Literal["panel", "visible", "safe"] = "panel"
    across: Literal["middle", "left", "right", "fold", "edge"] = "middle"
    down: Literal["middle", "top", "bottom", "fold", "edge"] = "middle"
    x: Length = default_length("0 mm")
    y: Length = default_length("0 mm")
    turn_deg: Annotated[float, Meta(ge=-360, le=360)] = 0.0
    mirrored: bool = False

    def __post_init__(self) -> None:
        for name, length in (("x", self.x), ("y", self.y)):
            require_length(name, length, -2000, 2000)


class Item(Struct, frozen=True, forbid_unknown_fields=True):
    """One thing on a face: what it is drawn from (art, words, or another item), its recipe, its place, what it becomes.

    `width` and `height` set its size (empty: the art's own size, or one from the other); `fit_in` scales it into its
    region less that distance instead. `paper` is what a piece is cut from, or a window's backer. `islands` says what
    becomes of a window's loose middles.
    """

    id: Identifier
    name: Name
    face: Annotated[str, Meta(min_length=1, max_length=80)]
    made: Made = "art"
    art: Identifier | None = None
    words: Words | None = None
    of: Identifier | None = None
    steps: Annotated[tuple[Step, ...], Meta(max_length=40)] = ()
    place: Place = msgspec.field(default_factory=Place)
    width: Length | None = None
    height: Length | None = None
    fit_in: Length | None = None
    paper: Identifier | None = None
    colour: Colour | None = None
    margin: Length = default_length("5 mm")
    islands: Literal["drop", "keep"] = "drop"

    def __post_init__(self) -> None:
        given = sum(each is not None for each in (self.art, self.words, self.of))
        require(given == 1, f"item {self.id}: it is drawn from one of art, words or another item")
        require(self.of != self.id, f"item {self.id} is drawn from itself")
        ids = [step.id for step in self.steps]
        require(len(set(ids)) == len(ids), f"item {self.id}: two steps have the same id")
        for name, length in (("width", self.width), ("height", self.height)):
            if length is not None:
                require_length(name, length, 1, 2000)
        require_length("margin", self.margin, 0, 100)
        if self.fit_in is not None:
            require_length("fit_in", self.fit_in, -100, 300)

    def needs(self) -> set[str]:
        """The items it is made of or asks for: its source, those of its steps, the one its words fill."""
        others = [self.of, *(step.of for step in self.steps), self.words.shape if self.words else None]
        return {other for other in others if other}


class Wordings(Struct, frozen=True, forbid_unknown_fields=True):
    """A table of words that differ from copy to copy: its columns and one row a copy."""

    columns: Annotated[tuple[Annotated[str, Meta(min_length=1, max_length=40)], ...], Meta(max_length=20)] = ()
    rows: Annotated[tuple[tuple[Annotated[str, Meta(max_length=300)], ...], ...], Meta(max_length=2000)] = ()

    def __post_init__(self) -> None:
        require(len(set(self.columns)) == len(self.columns), "two columns of the wordings have the same name")
        for number, row in enumerate(self.rows, start=1):
            require(
                len(row) == len(self.columns),
                f"wordings, row {number}: {len(row)} entries for {len(self.columns)} columns",
            )


class Dress(Struct, frozen=True, forbid_unknown_fields=True):
    """Everything on the faces: the art and typefaces brought in, the items, the table of wordings.

    `safe` is how far anything stays from a face's edges and folds; `for_sale` whether copies are sold.
    """

    art: Annotated[tuple[Art, ...], Meta(max_length=60)] = ()
    fonts: Annotated[tuple[FontFile, ...], Meta(max_length=12)] = ()
    items: Annotated[tuple[Item, ...], Meta(max_length=200)] = ()
    wordings: Wordings = Wordings()
    safe: Length = default_length("5 mm")
    pen_tip: Length = default_length("0.4 mm")
    for_sale: bool = False

    def __post_init__(self) -> None:
        require_length("safe", self.safe, 0, 100)
        require_length("pen_tip", self.pen_tip, 0.05, 5)
        for what, parts in (("imports", self.art), ("typefaces", self.fonts), ("items", self.items)):
            ids = [part.id for part in parts]
            require(len(set(ids)) == len(ids), f"two {what} have the same id")
        known = {art.id for art in self.art}
        items = {item.id for item in self.items}
        for item in self.items:
            require(item.art is None or item.art in known, f"item {item.id}: the job has no art “{item.art}”")
            for other in sorted(item.needs()):
                require(other in items, f"item {item.id}: there is no item “{other}”")
                require(other != item.id, f"item {item.id} is drawn from itself")
        require(not self._loops(), f"items go round in a circle: {', '.join(self._loops())}")

    def _loops(self) -> list[str]:
        """Items that depend on themselves by way of others."""
        left = {item.id: item.needs() for item in self.items}
        while True:
            ready = [name for name, needs in left.items() if not needs & left.keys()]
            if not ready:
                return sorted(left)
            for name in ready:
                del left[name]

    def item(self, item_id: str) -> Item | None:
        """The item of that id, or None."""
        return next((item for item in self.items if item.id == item_id), None)

    def papers(self) -> tuple[tuple[str, str], ...]:
        """What is made of which paper: (words, paper id)."""
        return tuple((f"item {item.id}", item.paper) for item in self.items if item.paper is not None)
