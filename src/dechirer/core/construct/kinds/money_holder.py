"""Money holder: a front and a back of one outline that hold a rolled banknote, which sets the size of what holds it.

Straps are cut from the front, stand up at 90 degrees and have a hole each for the roll; or a clear bought dome sits in
a hole of the front, its flange between the two layers. Nothing of that scales with the card, as the note does not.
The back is cut as it is seen from behind, so it is mirrored when its paper has one good side.
"""

from typing import Annotated, Literal

import msgspec

from dechirer.core.card.assembly import Bare, Made, Patch
from dechirer.core.card.fold import Fold
from dechirer.core.card.making import derive, make_piece
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.card.piece import Line, Measure, Piece
from dechirer.core.construct.art_outline import outline_of
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, Size, given
from dechirer.core.figure import Figure
from dechirer.core.length import Length, parse_length
from dechirer.core.paper.banknotes import find_banknote, roll_diameter
from dechirer.core.shape.affine import Affine, Point, Points
from dechirer.core.shape.outline import rectangle
from dechirer.core.shape.silhouettes import arc, circle, oblong

PAST_MM = 10.0
"""How far the roll reaches past each strap, so that it does not slip out (common practice, no published figure)."""
FRAME_MM = 6.0
"""Paper left round what is cut out of the front."""
BETWEEN_MM = 4.0
"""Paper left between two straps that are cut towards each other."""
HANG_MM = 6.0


def _in_straps(own: "MoneyHolder") -> bool:
    return own.holder == "straps"


def _in_a_dome(own: "MoneyHolder") -> bool:
    return own.holder == "dome"


def _make_note() -> Size:
    return Size(parse_length("133 mm"), parse_length("72 mm"))


class MoneyHolder(Decisions, frozen=True):
    """A front and a back of one outline that hold a rolled banknote, by standing straps or in a clear dome.

    `thickness` is the note's own, `core` what it is rolled on. The straps have a hole for the roll with `clearance`
    and `wall` of paper round it. `dome` is the size of a bought dome's opening, `dome_length` its length along the roll
    where it is long with round ends (0, or no more than `dome`: round), `depth` its height, `rim` its flange, and
    `free` what round it stays free of glue. `hanging` is the diameter of a hole to hang it by (0: none).
    """

    note: Annotated[Size, Field("Note", 20, 300, takes="note")] = msgspec.field(default_factory=_make_note)
    thickness: Annotated[Length, Field("Thickness of the note", 0.01, 2)] = given("0.11 mm")
    holder: Annotated[
        Literal["straps", "dome"], Field("Held by", choices={"straps": "standing straps", "dome": "a clear dome"})
    ] = "straps"
    shape: Annotated[Literal["rectangle", "disc", "tag", "file"], Field("Shape")] = "rectangle"
    art: Annotated[
        Identifier | None,
        Field("File of the outline", takes="art", none="none yet", shows=lambda own: own.shape == "file"),
    ] = None
    core: Annotated[Length, Field("The note is rolled on", 1, 60, shows=_in_straps)] = given("8 mm")
    clearance: Annotated[Length, Field("Clearance of the hole", -5, 30)] = given("1 mm")
    wall: Annotated[Length, Field("Paper round the hole", 1, 60, drawn=True)] = given("5 mm")
    dome: Annotated[Length, Field("Opening of the dome", 5, 400, drawn=True)] = given("90 mm")
    dome_length: Annotated[Length, Field("Length of a long dome (0: round)", 0, 400, shows=_in_a_dome)] = given("0 mm")
    depth: Annotated[Length, Field("Depth of the dome", 1, 100, shows=_in_a_dome)] = given("20 mm")
    rim: Annotated[Length, Field("Flange of the dome", 1, 60, shows=_in_a_dome)] = given("6 mm")
    free: Annotated[Length, Field("Free of glue round the flange", 0, 60, shows=_in_a_dome)] = given("1/8 in")
    hanging: Annotated[Length, Field("Hanging hole (0: none)", 0, 60)] = given("0 mm")
    back_paper: Annotated[Identifier | None, Field("Back", takes="paper", none="as the front")] = None


class MoneySizes:
    """What the note makes of the holder: figures that straps, dome and checks share (mm)."""

    def __init__(self, wanted: MoneyHolder) -> None:
        sides = sorted((wanted.note.width.mm, wanted.note.height.mm))
        known = find_banknote(*sides)
        name = f"{known.name} note, from memory: the central bank's own figures count" if known else ""
        self.length = Figure(
            "money.note-length", "note length", sides[1], field="construct.money_holder.note", note=name
        )
        self.height = Figure("money.note-height", "note height", sides[0], field="construct.money_holder.note")
        given = {
            key: Figure(f"money.{key}", words, getattr(wanted, key).mm, field=f"construct.money_holder.{key}")
            for key, words in (
                ("thickness", "note thickness"),
                ("core", "core"),
                ("clearance", "clearance"),
                ("wall", "wall"),
                ("dome", "dome"),
                ("dome_length", "dome length"),
                ("depth", "dome depth"),
                ("rim", "flange"),
                ("free", "free of glue"),
                ("hanging", "hanging hole"),
            )
        }
        self.given = given
        self.roll = derive(
            "money.roll",
            "roll diameter",
            roll_diameter(sides[1], wanted.thickness.mm, wanted.core.mm),
            "√({core}² + 4 × {note length} × {note thickness} ÷ π)",
            given["core"],
            self.length,
            given["thickness"],
            note=f"The note rolled along its length; the roll is {sides[0]:.0f} mm long.",
        )
        self.hole = derive(
            "money.hole",
            "hole for the roll",
            self.roll.value + wanted.clearance.mm,
            "{roll diameter} + {clearance}",
            self.roll,
            given["clearance"],
        )
        self.strap = derive(
            "money.strap",
            "strap",
            max(1.0, self.hole.value) + 2 * wanted.wall.mm,
            "{hole for the roll} + 2 × {wall}",
            self.hole,
            given["wall"],
            note="As broad as it is high.",
        )
        self._size_straps()
        self._size_dome(wanted)

    def _size_straps(self) -> None:
        """How far apart the straps stand, and whether they are cut towards each other."""
        past = Figure("money.past", "roll past each strap", PAST_MM, source="common practice")
        self.spacing = derive(
            "money.spacing",
            "straps apart",
            self.height.value - 2 * PAST_MM,
            "{note height} − 2 × {roll past each strap}",
            self.height,
            past,
        )
        self.inward = self.spacing.value >= 2 * self.strap.value + BETWEEN_MM

    def _size_dome(self, wanted: MoneyHolder) -> None:
        """The hole a bought dome sits in, and what stays free of glue round it; along a long one besides: its ends are
        round, so flange and what is free go round them alike."""
        self.long = wanted.dome_length.mm > wanted.dome.mm
        self.opening = self._open_for("dome", "opening", "hole for the dome")
        note = "The flange lies between the layers; round it a strip stays free of glue."
        self.glue_free = self._keep_free_of_glue("dome", "glue-free", "no glue within", note)
        self.opening_length, self.free_length = self.opening, self.glue_free
        if self.long:
            self.opening_length = self._open_for("dome_length", "opening-length", "length of the dome's hole")
            self.free_length = self._keep_free_of_glue("dome_length", "glue-free-length", "no glue along")

    def _open_for(self, side: str, key: str, name: str) -> Figure:
        dome, clearance = self.given[side], self.given["clearance"]
        formula = f"{{{dome.name}}} + {{clearance}}"
        return derive(f"money.{key}", name, dome.value + clearance.value, formula, dome, clearance)

    def _keep_free_of_glue(self, side: str, key: str, name: str, note: str = "") -> Figure:
        dome, rim, free = self.given[side], self.given["rim"], self.given["free"]
        value = dome.value + 2 * (rim.value + free.value)
        formula = f"{{{dome.name}}} + 2 × ({{flange}} + {{free of glue}})"
        return derive(f"money.{key}", name, value, formula, dome, rim, free, note=note)

    def glue_zone(self, middle: Point) -> Points:
        """What stays free of glue round the dome (mm)."""
        return oblong(middle, self.free_length.value, self.glue_free.value)


def strap_outline(hinge: Point, size: float, direction: float) -> Points:
    """A strap lying flat: from its hinge (its middle) towards +x or -x, with a round end (mm)."""
    x, y = hinge
    half = size / 2
    if direction > 0:
        return ((x, y - half), *arc((x + half, y), half, -90, 90), (x, y + half))
    return ((x, y + half), *arc((x - half, y), half, 90, 270), (x, y - half))


class _Cuts:
    """What is cut out of the front or stands up from it, as it is gathered."""

    def __init__(self) -> None:
        self.lines: list[Line] = []
        self.panels: list[Panel] = []
        self.hinges: list[Hinge] = []
        self.holes: list[Points] = []
        self.measures: list[Measure] = []

    def hole(self, id: str, name: str, ring: Points) -> None:
        """Cut a ring out of the front."""
        self.lines.append(Line(id, name, "cut", (ring,), closed=True, role="hole"))
        self.holes.append(ring)


def _cut_straps(cuts: _Cuts, sizes: MoneySizes, middle: Point) -> None:
    strap, spacing = sizes.strap.value, sizes.spacing.value
    for side, sign in (("left", -1.0), ("right", 1.0)):
        hinge = (middle[0] + sign * spacing / 2, middle[1])
        direction = -sign if sizes.inward else sign
        ring = strap_outline(hinge, strap, direction)
        hole = circle((hinge[0] + direction * strap / 2, hinge[1]), max(0.5, sizes.hole.value / 2))
        cuts.panels.append(Panel(f"strap-{side}", f"{side} strap", ring, (hole,)))
        cuts.hinges.append(
            Hinge(
                f"fold-{side}",
                "front",
                f"strap-{side}",
                ring[0],
                ring[-1],
                "valley",
                closed_deg=90.0,
                step="stand the straps up",
                lifts=True,
            )
        )
        cuts.lines += [
            Line(f"base-hole-{side}", f"hole of the {side} strap", "cut", (hole,), closed=True, role="hole"),
            Line(f"base-strap-{side}", f"{side} strap", "cut", (ring,), role="flap"),
        ]
        cuts.holes.append(ring)
    apart = middle[0] - spacing / 2, middle[0] + spacing / 2
    low = middle[1] + strap * 0.75
    cuts.measures.append(Measure(sizes.spacing, (apart[0], low), (apart[1], low), "apart", 0.0))
    wall = sizes.given["wall"]
    end = apart[0] + (strap if sizes.inward else -strap)
    inner = end - wall.value if sizes.inward else end + wall.value
    cuts.measures.append(Measure(wall, (inner, middle[1]), (end, middle[1]), "wall", 0.0))


def _cut_dome(cuts: _Cuts, sizes: MoneySizes, middle: Point) -> None:
    x, y = middle
    cuts.hole("base-dome", "hole for the dome", oblong(middle, sizes.opening_length.value, sizes.opening.value))
    dome = sizes.given["dome"]
    half = dome.value / 2
    if not sizes.long:
        cuts.measures.append(Measure(dome, (x - half, y), (x + half, y), "dome", 0.0))
        return
    along, above = sizes.given["dome_length"].value / 2, y - half - FRAME_MM
    cuts.measures += [
        Measure(dome, (x, y - half), (x, y + half), "dome", 0.0),
        Measure(sizes.given["dome_length"], (x - along, above), (x + along, above), "dome length", 0.0),
    ]


@CONSTRUCTIONS.add("money-holder", title="Money holder", group="locks", order=90, decisions=MoneyHolder)
def make_money_holder(wanted: MoneyHolder, card: Card) -> Made:
    """Front and back of a money holder."""
    wide, high = card.width.value, card.height.value
    sizes, cuts = MoneySizes(wanted), _Cuts()
    outline = outline_of(card, wanted.shape, wanted.art, wide, high)
    held = _cut_straps if wanted.holder == "straps" else _cut_dome
    held(cuts, sizes, (wide / 2, high / 2))
    if wanted.hanging.mm > 0:
        cuts.hole("base-hanging", "hanging hole", circle(hanging_place(wanted, wide), wanted.hanging.mm / 2))
    faces = (
        Face("front", "front", "outside", wide, high, Affine()),
        Face("inside", "front", "inside", wide, high, Affine(a=-1.0, e=wide)),
    )
    front = Panel("front", "front", outline, tuple(cuts.holes))
    tree = PanelTree((front, *cuts.panels), tuple(cuts.hinges), faces)
    width = derive("base.width", "base width", wide, "{finished width}", card.width)
    height = derive("base.height", "base height", high, "{finished height}", card.height)
    at = {
        hinge.id: (
            Figure(
                f"base.{hinge.id}.at",
                f"{hinge.id.removeprefix('fold-')} strap's fold",
                hinge.start[0],
                formula="{finished width} ÷ 2 " + ("−" if hinge.start[0] < wide / 2 else "+") + " {straps apart} ÷ 2",
                inputs=(card.width, sizes.spacing),
            ),
            sizes.strap,
        )
        for hinge in cuts.hinges
    }
    base = make_base(
        card,
        tree,
        outline,
        width=width,
        height=height,
        at=at,
        inner=tuple(cuts.lines),
        measures=tuple(cuts.measures),
        name="front",
    )
    back, patch = _make_back(wanted, card, outline, (width, height), sizes)
    bulk = sizes.strap if wanted.holder == "straps" else sizes.given["depth"]
    figures = [sizes.roll, sizes.hole, sizes.strap, sizes.spacing, *sizes.given.values()]
    if wanted.holder == "dome":
        figures += [sizes.opening, sizes.glue_free]
    if wanted.holder == "dome" and sizes.long:
        figures += [sizes.opening_length, sizes.free_length]
    parts = {panel.id: "base" for panel in tree.panels}
    middle = wide / 2, high / 2
    if wanted.holder == "dome":
        kept = Bare("front", sizes.glue_zone(middle), "the dome's flange and a rim round it")
    else:
        reach = sizes.spacing.value + 2 * sizes.strap.value
        way = rectangle(reach, sizes.strap.value, at=(middle[0] - reach / 2, middle[1] - sizes.strap.value / 2))
        kept = Bare("front", way, "the note and its straps")
    return Made(tree, (base, back), parts, tuple(figures), (patch,), bulk=bulk, bare=(kept,))


def hanging_place(wanted: MoneyHolder, width: float) -> Point:
    """The middle of the hanging hole on the front: under the top edge, beside the cut corner of a tag."""
    x = width * 0.36 if wanted.shape == "tag" else width / 2
    return x, HANG_MM + wanted.hanging.mm / 2


def _make_back(
    wanted: MoneyHolder, card: Card, outline: Points, size: tuple[Figure, Figure], sizes: MoneySizes
) -> tuple[Piece, Patch]:
    """The back, cut as seen from behind, and where it is glued."""
    width, height = size
    paper = wanted.back_paper or card.paper
    mirrored = card.facts.paper(paper).paper.good_sides == "one"
    flip = Affine(a=-1.0, e=width.value) if mirrored else Affine()
    ring = flip.all(outline)
    ring = tuple(reversed(ring)) if mirrored else ring
    lines, holes = [], []
    if wanted.hanging.mm > 0:
        hang = circle(hanging_place(wanted, width.value), wanted.hanging.mm / 2)
        lines.append(Line("back-hanging", "hanging hole", "cut", (flip.all(hang),), closed=True, role="hole"))
        holes.append(hang)
    note = "Cut as seen from behind, so mirrored: its paper has one good side." if mirrored else ""
    own = [
        derive(f"back.{side}", f"back {side}", each.value, "{" + each.name + "}", each, note=note)
        for side, each in (("width", width), ("height", height))
    ]
    panel = Panel("back-layer", "back", ring, tuple(flip.all(hole) for hole in holes))
    tree = PanelTree((panel,), (), (Face("back", "back-layer", "outside", width.value, height.value, Affine()),))
    measures = []
    if wanted.holder == "dome":
        x, y = width.value / 2, height.value / 2
        half, zone = sizes.free_length.value / 2, sizes.glue_zone((x, y))
        measures.append(Measure(sizes.free_length, (x - half, y), (x + half, y), "no glue within", 0.0, zone))
    piece = make_piece(
        "back",
        "B",
        "back",
        tree,
        ring,
        paper=paper,
        count=card.count,
        fold=Fold(kind="unmarked"),
        field="",
        width=own[0],
        height=own[1],
        at={},
        inner=tuple(lines),
        measures=tuple(measures),
    )
    return piece, Patch("back", "front", outline, paper, "inside", tuple(holes))
