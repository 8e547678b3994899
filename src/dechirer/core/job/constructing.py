"""How a card is built: the models of folds, of each construction's parameters, and of what is glued on or in.

Every parameter has a default, so that turning to another construction and back loses nothing.
"""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta, Struct

from dechirer.core.job.values import Identifier, Name, Size, default_length, require, require_length
from dechirer.core.length import Length, parse_length

FoldKind = Literal["score", "perforate", "ticks", "unmarked"]
OutlineKind = Literal["rectangle", "disc", "hexagon", "octagon", "kite", "heart", "hut", "cloud", "gull", "tag", "bar"]
Side = Literal["left", "right"]


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
        require(self.dash.mm >= 0.2, f"dash must be at least 0.2 mm, got {self.dash}")
        require(self.land.mm >= 0, f"land must not be below zero, got {self.land}")


class Liner(Struct, frozen=True, forbid_unknown_fields=True):
    """A liner inside the card, smaller than the base by `reveal` on each side."""

    reveal: Length
    paper: Identifier
    fold: Fold = msgspec.field(default_factory=Fold)


class Gate(Struct, frozen=True, forbid_unknown_fields=True):
    """Two half doors that meet in the middle with a gap between them."""

    gap: Length = default_length("1 mm")

    def __post_init__(self) -> None:
        require(self.gap.mm >= 0, f"gap must not be below zero, got {self.gap}")


class HingedShape(Struct, frozen=True, forbid_unknown_fields=True):
    """A shape hinged on itself: its outline, how wide the hinge is, and a rim of repeats round it.

    `rim` is how many round repeats stand on the outline (0: none), `proud` how far they stand out.
    """

    shape: OutlineKind = "disc"
    hinge: Length = default_length("1 1/2 in")
    rim: Annotated[int, Meta(ge=0, le=200)] = 0
    proud: Length = default_length("4 mm")

    def __post_init__(self) -> None:
        require(self.hinge.mm > 0, f"hinge must be above zero, got {self.hinge}")
        require(0 < self.proud.mm <= 50, f"proud must be above 0 and up to 50 mm, got {self.proud}")
        require(self.rim == 0 or self.rim >= 3, f"rim must be 0 or at least 3 repeats, got {self.rim}")


class Concertina(Struct, frozen=True, forbid_unknown_fields=True):
    """Panels folded to and fro: how many, how wide the glue tab of a joined section is, and how much lower each
    panel is than the one behind it.

    `widths` gives each panel a width of its own (empty: as wide as the card, fold allowance included); `top` is what
    their upper edge looks like, and `rise` how far it goes up and down.
    """

    panels: Annotated[int, Meta(ge=2, le=40)] = 4
    tab: Length = default_length("12 mm")
    step: Length = default_length("0 mm")
    widths: Annotated[tuple[Length, ...], Meta(max_length=40)] = ()
    top: Literal["straight", "dunes", "waves", "roofs"] = "straight"
    rise: Length = default_length("12 mm")

    def __post_init__(self) -> None:
        require(
            not self.widths or len(self.widths) == self.panels, f"widths: {len(self.widths)} for {self.panels} panels"
        )
        for width in self.widths:
            require_length("widths", width, 10, 600)
        require_length("rise", self.rise, 0, 200)
        require(2 <= self.tab.mm <= 60, f"tab must be from 2 to 60 mm, got {self.tab}")
        require(self.step.mm >= 0, f"step must not be below zero, got {self.step}")


class Layer(Struct, frozen=True, forbid_unknown_fields=True):
    """A panel of paper on a face, smaller than it by an equal border all round; glued flat, or raised on foam."""

    id: Identifier
    face: Annotated[str, Meta(min_length=1, max_length=40)]
    border: Length
    paper: Identifier
    foam: Length = default_length("0 mm")

    def __post_init__(self) -> None:
        require(0 <= self.foam.mm <= 10, f"foam must be from 0 to 10 mm, got {self.foam}")


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
        require(0 <= self.margin.mm <= 100, f"margin must be from 0 to 100 mm, got {self.margin}")


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
        require(0 < self.catch.mm <= 100, f"catch must be above 0 and up to 100 mm, got {self.catch}")
        require(0 <= self.ease.mm <= 20, f"ease must be from 0 to 20 mm, got {self.ease}")


class PeelAway(Struct, frozen=True, forbid_unknown_fields=True):
    """A shape of the front to be peeled off an adhesive backer inside: only the front is cut, by a kiss cut.

    `drop` moves it down from the middle, `margin` is what the backer reaches past it on each side, `safe` how far it
    stays from the fold and the edges.
    """

    width: Length
    height: Length
    paper: Identifier
    shape: OutlineKind = "disc"
    drop: Length = default_length("0 mm")
    margin: Length = default_length("6 mm")
    safe: Length = default_length("10 mm")

    def __post_init__(self) -> None:
        Size(self.width, self.height)
        require_length("margin", self.margin, 0, 100)
        require_length("safe", self.safe, 0, 100)


class LayerStack(Struct, frozen=True, forbid_unknown_fields=True):
    """Layers of one outline, each smaller than the one below, in the middle of a face, with foam between them.

    Every layer is set in by `step` more than the one below, or by what `insets` lists, and lies on a border card that
    stands out by `border` all round.
    """

    face: Annotated[str, Meta(min_length=1, max_length=40)]
    width: Length
    height: Length
    paper: Identifier
    border_paper: Identifier
    shape: OutlineKind = "rectangle"
    count: Annotated[int, Meta(ge=1, le=8)] = 3
    step: Length = default_length("10 mm")
    insets: Annotated[tuple[Length, ...], Meta(max_length=8)] = ()
    border: Length = default_length("2 mm")
    foam: Length = default_length("2 mm")

    def __post_init__(self) -> None:
        Size(self.width, self.height)
        require_length("step", self.step, 0.5, 100)
        require_length("border", self.border, 0, 50)
        require_length("foam", self.foam, 0, 10)
        require(
            not self.insets or len(self.insets) == self.count, f"insets: {len(self.insets)} for {self.count} layers"
        )
        for inset in self.insets:
            require_length("insets", inset, 0, 300)


class LockGate(Struct, frozen=True, forbid_unknown_fields=True):
    """Two doors that meet or overlap, and a tongue of the left one that passes a slot in the right one.

    `neck` is how broad the tongue is in the slot and `head` how broad it is beyond; `set_in` is how far the slot lies
    from the right door's edge. `first` is the door that closes first; with its head `outside` the tongue comes up
    through the slot from below. `flap` is how deep a flap at the top edge is (0: none), and when it closes.
    """

    tongue: Literal["heart", "disc", "bar"] = "heart"
    neck: Length = default_length("12 mm")
    head: Length = default_length("32 mm")
    set_in: Length = default_length("12 mm")
    overlap: Length = default_length("4 mm")
    clearance: Length = default_length("1 mm")
    first: Side = "left"
    head_shows: Literal["outside", "inside"] = "outside"
    flap: Length = default_length("0 mm")
    flap_closes: Literal["first", "last"] = "last"

    def __post_init__(self) -> None:
        for name, length, least, most in (
            ("neck", self.neck, 2, 200),
            ("head", self.head, 2, 300),
            ("set_in", self.set_in, 1, 300),
            ("overlap", self.overlap, 0, 300),
            ("clearance", self.clearance, -20, 50),
            ("flap", self.flap, 0, 400),
        ):
            require_length(name, length, least, most)


class Collar(Struct, frozen=True, forbid_unknown_fields=True):
    """Two flaps along the top edge, and a strap between them that folds down over the front and passes a slit.

    `flap` is how deep the flaps are (0: none); `strap` how broad the strap is, `neck` how broad at its fold; `slit_at`
    how far below the top the slit lies, and `tuck` how far the strap goes in behind it. `facing` is the paper of a
    piece glued on the strap, smaller than it by `reveal` on each side.
    """

    flap: Length = default_length("30 mm")
    strap: Length = default_length("26 mm")
    neck: Length = default_length("20 mm")
    slit_at: Length = default_length("60 mm")
    tuck: Length = default_length("20 mm")
    clearance: Length = default_length("1 mm")
    facing: Identifier | None = None
    reveal: Length = default_length("2 mm")

    def __post_init__(self) -> None:
        for name, length, least, most in (
            ("flap", self.flap, 0, 300),
            ("strap", self.strap, 4, 300),
            ("neck", self.neck, 2, 300),
            ("slit_at", self.slit_at, 5, 500),
            ("tuck", self.tuck, 3, 200),
            ("clearance", self.clearance, -20, 50),
            ("reveal", self.reveal, 0, 50),
        ):
            require_length(name, length, least, most)


class MoneyHolder(Struct, frozen=True, forbid_unknown_fields=True):
    """A front and a back of one outline that hold a rolled banknote, by standing straps or in a clear dome.

    `thickness` is the note's own, `core` what it is rolled on. The straps have a hole for the roll with `clearance`
    and `wall` of paper round it. `dome` is the size of a bought dome's opening, `depth` its height, `rim` its flange,
    and `free` what round it stays free of glue. `hanging` is the diameter of a hole to hang it by (0: none).
    """

    note: Size = msgspec.field(default_factory=lambda: Size(parse_length("133 mm"), parse_length("72 mm")))
    thickness: Length = default_length("0.11 mm")
    core: Length = default_length("8 mm")
    holder: Literal["straps", "dome"] = "straps"
    clearance: Length = default_length("1 mm")
    wall: Length = default_length("5 mm")
    dome: Length = default_length("90 mm")
    depth: Length = default_length("20 mm")
    rim: Length = default_length("6 mm")
    free: Length = default_length("1/8 in")
    shape: Literal["rectangle", "disc", "tag"] = "rectangle"
    hanging: Length = default_length("0 mm")
    back_paper: Identifier | None = None

    def __post_init__(self) -> None:
        for name, length, least, most in (
            ("thickness", self.thickness, 0.01, 2),
            ("core", self.core, 1, 60),
            ("clearance", self.clearance, -5, 30),
            ("wall", self.wall, 1, 60),
            ("dome", self.dome, 5, 400),
            ("depth", self.depth, 1, 100),
            ("rim", self.rim, 1, 60),
            ("free", self.free, 0, 60),
            ("hanging", self.hanging, 0, 60),
        ):
            require_length(name, length, least, most)


class Motif(Struct, frozen=True, forbid_unknown_fields=True):
    """One motif of a row: its outline and size, cut out `whole` or cut as two lifting `flaps`."""

    id: Identifier
    shape: OutlineKind
    width: Length
    height: Length
    cut: Literal["whole", "flaps"] = "flaps"

    def __post_init__(self) -> None:
        Size(self.width, self.height)


def _make_motifs() -> tuple[Motif, ...]:
    rows = (
        ("gull", "20 mm", "14 mm"),
        ("kite", "26 mm", "34 mm"),
        ("disc", "10 mm", "10 mm"),
        ("kite", "32 mm", "42 mm"),
        ("gull", "24 mm", "17 mm"),
    )
    return tuple(
        Motif(
            f"motif-{number}",
            shape,
            parse_length(width),
            parse_length(height),  # type: ignore[arg-type]
            "whole" if shape == "disc" else "flaps",
        )
        for number, (shape, width, height) in enumerate(rows, start=1)
    )


class FlapRow(Struct, frozen=True, forbid_unknown_fields=True):
    """A row of motifs spread by equal gaps over the whole length of a topper whose upper edge follows them.

    `edge` is the paper left round the motifs; `strip` the uncut strip down the middle of a motif that its flaps hang
    on; `lift_deg` how far they are lifted.
    """

    motifs: Annotated[tuple[Motif, ...], Meta(min_length=1, max_length=24)] = msgspec.field(
        default_factory=_make_motifs
    )
    edge: Length = default_length("6 mm")
    strip: Length = default_length("3 mm")
    lift_deg: Annotated[int, Meta(ge=0, le=120)] = 50

    def __post_init__(self) -> None:
        ids = [motif.id for motif in self.motifs]
        require(len(set(ids)) == len(ids), "two motifs have the same id")
        require_length("edge", self.edge, 1, 100)
        require_length("strip", self.strip, 0.5, 100)


class Envelope(Struct, frozen=True, forbid_unknown_fields=True):
    """An envelope for the closed card: its style, its paper, and how much larger than the card it is.

    `inlay` is the paper of a piece glued inside it by its rim, `inlay_margin` smaller on each side.
    """

    paper: Identifier
    style: Literal["glued", "hexagon", "petal", "fold-over"] = "glued"
    ease: Length = default_length("1/4 in")
    fold: Fold = msgspec.field(default_factory=Fold)
    inlay: Identifier | None = None
    inlay_margin: Length = default_length("6 mm")

    def __post_init__(self) -> None:
        require(0 <= self.ease.mm <= 100, f"ease must be from 0 to 100 mm, got {self.ease}")
        require_length("inlay_margin", self.inlay_margin, 1, 60)


class Construct(Struct, frozen=True, forbid_unknown_fields=True):
    """How the card is built: its folds, what each construction asks for, and what is glued on or in.

    The parameters of every construction are kept, so that turning to another one and back loses nothing. `bought` is
    the standard envelope it shall go into.
    """

    fold: Fold = msgspec.field(default_factory=Fold)
    liner: Liner | None = None
    gate: Gate = msgspec.field(default_factory=Gate)
    hinged: HingedShape = msgspec.field(default_factory=HingedShape)
    concertina: Concertina = msgspec.field(default_factory=Concertina)
    lock: LockGate = msgspec.field(default_factory=LockGate)
    collar: Collar = msgspec.field(default_factory=Collar)
    money: MoneyHolder = msgspec.field(default_factory=MoneyHolder)
    row: FlapRow = msgspec.field(default_factory=FlapRow)
    layers: Annotated[tuple[Layer, ...], Meta(max_length=20)] = ()
    window: Window | None = None
    slits: CornerSlits | None = None
    peel: PeelAway | None = None
    stack: LayerStack | None = None
    envelope: Envelope | None = None
    bought: Name | None = None

    def __post_init__(self) -> None:
        ids = [layer.id for layer in self.layers]
        require(len(set(ids)) == len(ids), "two layers have the same id")

    def papers(self) -> tuple[tuple[str, str], ...]:
        """What is made of which paper, besides the base: (words, paper id)."""
        parts: list[tuple[str, str | None]] = [(f"layer {layer.id}", layer.paper) for layer in self.layers]
        parts += [
            (words, part.paper)
            for words, part in (
                ("the liner", self.liner),
                ("the window's backer", self.window),
                ("the insert", self.slits),
                ("the backer of what peels away", self.peel),
                ("the stack", self.stack),
                ("the envelope", self.envelope),
            )
            if part is not None
        ]
        parts += [("the strap's facing", self.collar.facing), ("the back of the holder", self.money.back_paper)]
        if self.stack is not None:
            parts.append(("the stack's border cards", self.stack.border_paper))
        if self.envelope is not None:
            parts.append(("the envelope's inlay", self.envelope.inlay))
        return tuple((words, paper) for words, paper in parts if paper is not None)
