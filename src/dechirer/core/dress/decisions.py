"""What the maker decides in Dress: words, the items with their recipes, and where each lies on a face as it is seen."""

from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal, Union, get_args

from msgspec import Meta, Struct

from dechirer.core.brought import Art, FontFile, Role
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require, require_own_ids
from dechirer.core.decide.values import Colour, Identifier, Name, Size, given
from dechirer.core.decide.values import made as made_of
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.length import Length

Made = Literal[
    "art", "window", "piece", "pen", "print", "foil", "kiss", "score", "perforate", "hand", "stuck", "held", "guide"
]
"""What an item becomes: `art` gives each group its own role, `piece` a piece of its own; `hand` is written or stamped
by hand when the card is made; `stuck` is something at hand that is stuck on (a gem, a ribbon), `held` something put
into the card (a note, a gift card); `guide` is only an outline for other items to start from."""
MADE: tuple[Made, ...] = get_args(Made)


class Way(Struct, frozen=True):
    """A way an item is made: what it is called, in a line and in one word, and what its groups become (None: what each
    says itself). `keeps` says that what is drawn or printed on it stays so; `inked` that it wants an ink."""

    title: str
    short: str
    role: Role | None
    keeps: bool = False
    inked: bool = False


WAYS: dict[Made, Way] = {
    "art": Way("as its groups say", "by groups", None),
    "window": Way("cut out of the face", "window", "cut", keeps=True),
    "piece": Way("a piece of its own", "piece", "cut", keeps=True),
    "pen": Way("drawn", "drawn", "pen", inked=True),
    "print": Way("printed", "printed", "print", inked=True),
    "foil": Way("foiled", "foiled", "foil", inked=True),
    "kiss": Way("kiss-cut", "kiss-cut", "kiss", keeps=True),
    "score": Way("scored", "scored", "score"),
    "perforate": Way("perforated", "perforated", "perforate"),
    "hand": Way("written or stamped by hand", "by hand", "print", inked=True),
    "stuck": Way("something at hand, stuck on", "stuck on", "cut", keeps=True),
    "held": Way("something put into the card", "put in", "cut", keeps=True),
    "guide": Way("only a guide", "guide", "cut", keeps=True),
}

AT_HAND: tuple[Made, ...] = ("stuck", "held")
"""What is no paper of the job and is not cut."""

if TYPE_CHECKING:
    AnyStep = Step
else:
    AnyStep = Union[tuple(spec.decisions for spec in STEPS)]  # noqa: UP007 - the kinds are found, not written


class Words(Decisions, frozen=True):
    """Words to be set: a typeface, its size (em), and what they are fitted into by their ink.

    `{name}` stands for a column of the copies. `fit`: `size` sets them at `size`; `band` fills `width` x `height`;
    `circle` a circle of diameter `width`; `shape` the largest they can be in the outline of the item `shape`; `arc`
    sets them at `size` along a circle of diameter `width`. `joined` moves neighbouring letters together until they
    overlap by `overlap`. `features` are OpenType features such as `swsh` or `ss01`, off when they begin with `-`.
    """

    text: Annotated[str, Field("Words", 1, 2000)]
    face: Identifier = "dancing"
    size: Annotated[Length, Field("Size of the letters", 1, 600, shows=lambda own: own.fit in ("size", "arc"))] = given(
        "18 mm"
    )
    fit: Literal["size", "band", "circle", "shape", "arc"] = "size"
    width: Annotated[
        Length, Field("Width to fill", 2, 1000, shows=lambda own: own.fit in ("band", "circle", "arc"))
    ] = given("80 mm")
    height: Annotated[Length, Field("Height to fill", 1, 1000, shows=lambda own: own.fit == "band")] = given("20 mm")
    shape: Identifier | None = None
    align: Literal["middle", "left", "right"] = "middle"
    rows: Annotated[Length, Field("Space between rows", -100, 300)] = given("3 mm")
    spacing: Annotated[Length, Field("Space between letters", -30, 100)] = given("0 mm")
    joined: bool = False
    overlap: Annotated[Length, Field("Letters overlap by", 0, 20, shows=lambda own: own.joined)] = given("0.4 mm")
    features: Annotated[tuple[str, ...], Meta(max_length=20)] = ()

    def agree(self) -> None:
        require(self.text.strip() != "", "the words are empty")
        for feature in self.features:
            bare = feature.removeprefix("-")
            require(len(bare) == 4 and bare.isalnum() and bare.isascii(), f"“{feature}” is not an OpenType feature")


class Place(Decisions, frozen=True):
    """Where an item lies on its face as seen, by relations that hold when the card changes.

    `within` is the region it is placed in: the whole panel, what of it is seen when the card is closed, or what lies
    inside the safe zone. `across` and `down` say what is kept: `x` and `y` are distances from that side, or from the
    middle. `fold` and `edge` mean the side that is a fold or is not.
    """

    also: ClassVar[dict[str, Field]] = {
        side: Field(f"From the {side}", -2000, 2000) for side in ("left", "right", "top", "bottom")
    }

    within: Annotated[
        Literal["panel", "visible", "safe"],
        Field(
            "Placed in",
            choices={"panel": "the whole face", "visible": "what is seen closed", "safe": "the safe zone"},
        ),
    ] = "panel"
    across: Annotated[
        Literal["middle", "left", "right", "fold", "edge"],
        Field(
            "Across",
            choices={"middle": "middle", "left": "left", "right": "right", "fold": "fold", "edge": "open edge"},
        ),
    ] = "middle"
    x: Annotated[Length, Field("by", -2000, 2000)] = given("0 mm")
    down: Annotated[
        Literal["middle", "top", "bottom", "fold", "edge"],
        Field(
            "Down",
            choices={"middle": "middle", "top": "top", "bottom": "bottom", "fold": "fold", "edge": "open edge"},
        ),
    ] = "middle"
    y: Annotated[Length, Field("by", -2000, 2000)] = given("0 mm")
    turn_deg: Annotated[float, Field("Turned, degrees", -360, 360)] = 0.0
    mirrored: Annotated[bool, Field("Mirrored")] = False

    def typed(self, name: str, text: str, units: str) -> dict[str, Any]:
        """As for any decisions; a distance from a side also keeps the item to that side from now on."""
        found = Decisions.typed(self, name, text, units)
        if name not in self.also:
            return found
        kept, by = ("across", "x") if name in ("left", "right") else ("down", "y")
        return {kept: name, by: found[name]}

    def shown(self, name: str, units: str) -> str:
        """As for any decisions; a distance only from the side the item is kept to."""
        if name not in self.also:
            return Decisions.shown(self, name, units)
        kept, by = ("across", "x") if name in ("left", "right") else ("down", "y")
        return str(getattr(self, by)) if getattr(self, kept) == name else ""


FACE = "face"
"""What an item is made of when it is made of the outline of its face."""


def _is_backed(own: "Item") -> bool:
    """Whether it is a window with a backer."""
    return own.made == "window" and own.paper is not None


def _is_fitted(own: "Item") -> bool:
    """Whether words are as large as what they fill."""
    return own.words is not None and own.words.fit != "size"


def _sizes_itself(own: "Item") -> bool:
    """Whether an item has a size of its own, and not that of what its words fill or of another item."""
    return not _is_fitted(own) and own.same_as is None


class Item(Decisions, frozen=True):
    """One thing on a face: what it is drawn from (art, words, or another item), its recipe, its place, what it becomes.

    `width` and `height` set its size (empty: the art's own size, or one from the other); `fit_in` scales it into its
    region less that distance instead. `group` takes one group of its art, `part` one of its outlines, the largest being
    1: size and place are then that outline's. `paper` is what a piece is cut from, or a window's backer. `islands` says
    what becomes of a window's loose middles.

    A piece may be `printed` in its own colours before it is cut out. It, or what is stuck on, may lie on foam.
    `at_hand` is a piece that is there already in its size; `thick` and
    `grams` are of something at hand that is no paper of the job. A backer follows its opening, or is a rectangle; one
    that is at hand is a rectangle of its own size. The outline of a `mate` has to be the same, as both lie on each
    other; what is `locked` is not scaled before it is unlocked. An item is placed in the box of its `anchor` where it
    has one; of each piece there are `spares` more. With `same_as` it is as wide as another item is on its face, before
    the recipe of either. Items of one `together` are picked and moved as one. What is drawn or foiled by another pen
    or tip than usual has its width as `tip`.
    """

    id: Identifier
    name: Annotated[Name, Field("Name", 1, 120)]
    face: Annotated[str, Meta(min_length=1, max_length=80)]
    made: Made = "art"
    art: Identifier | None = None
    words: Words | None = None
    of: Identifier | None = None
    steps: Annotated[tuple[AnyStep, ...], Meta(max_length=40)] = ()
    place: Annotated[Place, Field("Place")] = made_of(Place)
    width: Annotated[Length | None, Field("Width", 1, 2000, hint="own", shows=_sizes_itself)] = None
    height: Annotated[
        Length | None,
        Field("Height", 1, 2000, hint="own", shows=lambda own: own.art is not None and own.same_as is None),
    ] = None
    fit_in: Annotated[
        Length | None,
        Field("Fitted, less", -100, 300, hint="no", shows=lambda own: own.of is None and _sizes_itself(own)),
    ] = None
    same_as: Annotated[
        Identifier | None,
        Field("Same size as", takes="item", none="nothing", shows=lambda own: own.of is None and not _is_fitted(own)),
    ] = None
    group: Annotated[
        Identifier | None, Field("Only group", takes="group", none="all", shows=lambda own: own.art is not None)
    ] = None
    anchor: Annotated[Identifier | None, Field("Placed on", takes="item", none="the face")] = None
    part: Annotated[int | None, Field("Only outline number", 1, 400, hint="all", none="all")] = None
    paper: Annotated[Identifier | None, Field("Paper", takes="paper", none="none")] = None
    colour: Colour | None = None
    margin: Annotated[
        Length,
        Field("Backer margin", 0, 100, shows=_is_backed),
    ] = given("5 mm")
    backer: Annotated[
        Literal["contour", "rectangle"],
        Field(
            "Backer",
            choices={"contour": "along the opening", "rectangle": "a rectangle"},
            shows=lambda own: _is_backed(own) and own.backer_size is None,
        ),
    ] = "contour"
    backer_size: Annotated[Size | None, Field("Backer at hand", 5, 1000, hint="none: cut one", shows=_is_backed)] = None
    foam: Annotated[Length, Field("On foam of", 0, 10, shows=lambda own: own.made in ("piece", "stuck"))] = given(
        "0 mm"
    )
    spares: Annotated[int, Field("Spares in all", 0, 200, shows=lambda own: own.made == "piece")] = 0
    mate: Annotated[
        Identifier | None,
        Field("Mates with", takes="item", none="nothing", shows=lambda own: own.made in ("piece", "window")),
    ] = None
    locked: Annotated[bool, Field("Size is locked", shows=lambda own: own.of is None)] = False
    printed: Annotated[bool, Field("Printed in its colours", shows=lambda own: own.made == "piece")] = False
    at_hand: Annotated[bool, Field("At hand: not cut", shows=lambda own: own.made == "piece")] = False
    thick: Annotated[Length, Field("How thick", 0.01, 60, shows=lambda own: own.made in AT_HAND)] = given("2 mm")
    grams: Annotated[float, Field("Each weighs, g", 0, 500, shows=lambda own: own.made in AT_HAND)] = 0.0
    tip: Annotated[
        Length | None,
        Field("Its own tip", 0.05, 5, hint="as usual", shows=lambda own: own.made in ("art", "pen", "foil")),
    ] = None
    islands: Literal["drop", "keep"] = "drop"
    together: Identifier | None = None

    def agree(self) -> None:
        sources = sum(each is not None for each in (self.art, self.words, self.of))
        require(sources == 1, f"item {self.id}: it is drawn from one of art, words or another item")
        require(self.of != self.id, f"item {self.id} is drawn from itself")
        require(self.id != FACE, f"an item cannot be called “{FACE}”: that is the face itself")
        require_own_ids(f"steps of item {self.id}", self.steps)

    def needs(self) -> set[str]:
        """The items it is made of or asks for: its source, its anchor, the one it is as large as, those of its steps,
        the one its words fill."""
        others = [
            self.of,
            self.anchor,
            self.same_as,
            *(getattr(step, "of", None) for step in self.steps),
            self.words.shape if self.words else None,
        ]
        return {other for other in others if other and other != FACE}


WITHOUT = "-"
"""The entry of a copy that is without the item of its column."""
Entry = Annotated[str, Meta(max_length=300)]


class Column(Decisions, frozen=True):
    """A column of the table of copies: words for the blank of its name, or what stands in the place of the item it
    carries: an art or another item by its id, nothing for the item itself, `-` for a copy without it.

    One that `sets` something says for each copy: of which `paper` a `piece` of the card is (by its id), in which colour
    its `pen` lines are drawn, which `slot` of a card mat it goes into, from 1."""

    name: Annotated[str, Meta(min_length=1, max_length=40)]
    carries: Identifier | None = None
    sets: Literal["", "paper", "pen", "slot"] = ""
    piece: Identifier | None = None

    @property
    def is_words(self) -> bool:
        """Whether its entries are filled into words."""
        return self.carries is None and not self.sets


class Row(Decisions, frozen=True):
    """A row of the table of copies: an entry for each column, and how many are made (0: a share of what is left)."""

    entries: Annotated[tuple[Entry, ...], Meta(max_length=20)]
    count: Annotated[int, Meta(ge=0, le=2000)] = 0


class Copies(Decisions, frozen=True):
    """A table of what differs from copy to copy."""

    columns: Annotated[tuple[Column, ...], Meta(max_length=20)] = ()
    rows: Annotated[tuple[Row, ...], Meta(max_length=2000)] = ()

    def agree(self) -> None:
        names = [column.name for column in self.columns]
        require(len(set(names)) == len(names), "two columns of the copies have the same name")
        carried = [column.carries for column in self.columns if column.carries is not None]
        require(len(set(carried)) == len(carried), "two columns of the copies stand for the same item")
        for number, row in enumerate(self.rows, start=1):
            require(
                len(row.entries) == len(self.columns),
                f"copies, row {number}: {len(row.entries)} entries for {len(self.columns)} columns",
            )

    @property
    def words(self) -> tuple[str, ...]:
        """The names of the columns of words."""
        return tuple(column.name for column in self.columns if column.is_words)


def table_of(columns: tuple[str, ...], rows: tuple[tuple[str, ...], ...]) -> Copies:
    """A table of words alone."""
    return Copies(tuple(Column(name) for name in columns), tuple(Row(row) for row in rows))


class Dress(Decisions, frozen=True):
    """Everything on the faces: the art and typefaces brought in, the items, the table of copies.

    `palette` are colours that are kept to be used again; `safe` is how far anything stays from a face's edges and
    folds; `for_sale` whether copies are sold.
    """

    art: Annotated[tuple[Art, ...], Meta(max_length=60)] = ()
    fonts: Annotated[tuple[FontFile, ...], Meta(max_length=12)] = ()
    items: Annotated[tuple[Item, ...], Meta(max_length=200)] = ()
    copies: Copies = Copies()
    palette: Annotated[tuple[Colour, ...], Meta(max_length=40)] = ()
    safe: Annotated[Length, Field("Safe zone", 0, 100)] = given("5 mm")
    pen_tip: Annotated[Length, Field("Tip of the pen", 0.05, 5)] = given("0.4 mm")
    for_sale: Annotated[bool, Field("Copies are sold")] = False

    def agree(self) -> None:
        for what, parts in (("imports", self.art), ("typefaces", self.fonts), ("items", self.items)):
            require_own_ids(what, parts)
        known = {art.id for art in self.art}
        items = {item.id for item in self.items}
        for item in self.items:
            require(item.art is None or item.art in known, f"item {item.id}: the job has no art “{item.art}”")
            for other in sorted(item.needs()):
                require(other in items, f"item {item.id}: there is no item “{other}”")
                require(other != item.id, f"item {item.id} is drawn from itself")
            require(item.mate is None or item.mate in items, f"item {item.id}: there is no item “{item.mate}”")
            require(item.mate != item.id, f"item {item.id} cannot mate with itself")
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
