"""Concertina: panels folded to and fro, bottoms flush, in as many sections as the sheet asks for.

Outside up, the front panel lies at the left and the others follow to the right; mountain and valley alternate,
beginning with a mountain, so that the front covers the packet. Panels that fold inside are narrower by one thickness
of the paper, or the packet does not close square. A section ends in a glue tab that hides behind the next one.
"""

import itertools
import math
from collections.abc import Callable, Iterator
from typing import Annotated, Any, Literal

from msgspec import Meta, Struct

from dechirer.core.card.assembly import Made, Patch
from dechirer.core.card.making import derive
from dechirer.core.card.panels import Face, FoldSense, Hinge, Panel, PanelTree
from dechirer.core.card.piece import Measure, Piece
from dechirer.core.construct.art_outline import outermost, upper_edge
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.construct.standing import find_light_paper
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import FieldError, require
from dechirer.core.decide.values import Identifier, given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, parse_length
from dechirer.core.shape.affine import Affine, Points, translate

TAB_INSET_MM = 3.0
"""A tab is shorter than the panels at both ends by this, so that it hides."""
LEAST_TAB_MM = 8.0


class Concertina(Decisions, frozen=True):
    """Panels folded to and fro: how many, how wide the glue tab of a joined section is, and how much lower each
    panel is than the one behind it.

    `widths` gives each panel a width of its own (empty: as wide as the card, fold allowance included); `top` is what
    their upper edge looks like, and `rise` how far it goes up and down.
    """

    panels: Annotated[int, Field("Panels", 2, 40)] = 4
    widths: Annotated[tuple[Length, ...], Meta(max_length=40), Field("Own widths, a; b; c", 10, 600)] = ()
    step: Annotated[Length, Field("Each panel lower by", 0, 200)] = given("0 mm")
    top: Annotated[Literal["straight", "dunes", "waves", "roofs", "file"], Field("Tops")] = "straight"
    art: Annotated[
        Identifier | None,
        Field("File of the upper edge", takes="art", none="none yet", shows=lambda own: own.top == "file"),
    ] = None
    edge_of: Annotated[
        Literal["front", "all"],
        Field(
            "It is the edge of",
            choices={"front": "the front panel", "all": "every panel"},
            shows=lambda own: own.top == "file",
        ),
    ] = "front"
    rise: Annotated[Length, Field("The tops rise by", 0, 200, shows=lambda own: own.top != "straight")] = given("12 mm")
    tab: Annotated[Length, Field("Glue tab", 2, 60, drawn=True)] = given("12 mm")

    def agree(self) -> None:
        require(
            not self.widths or len(self.widths) == self.panels, f"widths: {len(self.widths)} for {self.panels} panels"
        )

    def typed(self, name: str, text: str, units: str) -> dict[str, Any]:
        """As for any decisions; the number of panels and the list of their widths follow each other.

        Raises:
            FieldError: as for any decisions.
        """
        found = Decisions.typed(self, name, text, units)
        if found.get("widths"):
            found["panels"] = len(found["widths"])
            if found["panels"] < 2:
                raise FieldError("Own widths: at least 2 panels")
        elif self.widths and found.get("panels", len(self.widths)) != len(self.widths):
            found["widths"] = (*self.widths, *(self.widths[-1:] * found["panels"]))[: found["panels"]]
        return found


def _make_equal(wanted: Concertina, _card: Card) -> tuple[Mend, ...]:
    """What makes the packet close square: panels without widths of their own."""
    return (Mend("Make all panels equal", (Change("construct.concertina.widths", ()),)),) if wanted.widths else ()


def sense_of(number: int) -> FoldSense:
    """The sense of the fold after the number-th panel (from 0): mountain first, then in turn."""
    return "mountain" if number % 2 == 0 else "valley"


def make_concertina_tree(
    widths: tuple[float, ...],
    heights: tuple[float, ...],
    top: str = "straight",
    rise: float = 0.0,
    edge: Callable[[int, float, float], Points] | None = None,
) -> PanelTree:
    """Panels side by side with flush bottoms (mm); the first is the front and the root.

    `top` and `rise` are the skyline of their upper edges; it is the same on both sides of every fold. `edge` gives it
    for a panel's number, how far it may rise and its width, where it comes from elsewhere.
    """
    edge = edge or (lambda number, rise, width: skyline(top, number, rise, width))
    tall = max(heights)
    lefts = [0.0, *itertools.accumulate(widths)]
    panels, hinges, faces = [], [], []
    for number, (width, height) in enumerate(zip(widths, heights, strict=True)):
        left, upper = lefts[number], tall - height
        name = "front" if number == 0 else f"panel {number + 1}"
        profile = edge(number, min(rise, height * 0.8), width)
        ring = (*((left + x, upper + y) for x, y in profile), (left + width, tall), (left, tall))
        panels.append(Panel(_id(number), name, ring))
        faces.append(Face(name, _id(number), "outside", width, height, translate(left, upper)))
        if number + 1 < len(widths):
            x = lefts[number + 1]
            beyond = edge(number + 1, min(rise, heights[number + 1] * 0.8), widths[number + 1])
            meet = max(upper + profile[-1][1], tall - heights[number + 1] + beyond[0][1])
            hinges.append(
                Hinge(
                    f"fold-{number + 1}",
                    _id(number),
                    _id(number + 1),
                    (x, meet),
                    (x, tall),
                    sense_of(number),
                    step="fold the packet together",
                )
            )
    for number in range(len(widths) - 1, -1, -1):
        left, upper = lefts[number], tall - heights[number]
        last_faces_back = number == len(widths) - 1 and number % 2 == 0
        name = "back" if last_faces_back else f"behind {panels[number].name}"
        flip = Affine(a=-1.0, e=left + widths[number], f=upper)
        faces.append(Face(name, _id(number), "inside", widths[number], heights[number], flip))
    return PanelTree(tuple(panels), tuple(hinges), tuple(faces))


_DUNE_ENDS = (0.75, 1.0, 0.55, 0.9, 0.65, 0.95, 0.5)
_DUNE_CRESTS = (0.36, 0.62, 0.45, 0.7, 0.3)
SKYLINE_STEPS = 24


def skyline(top: str, number: int, rise: float, width: float) -> Points:
    """The upper edge of the number-th panel (from 0), from left to right, y down from its highest place (mm).

    Every panel reaches its full height somewhere, and neighbours end at the same height at their fold.
    """
    if top in ("straight", "file") or rise <= 0:
        return (0.0, 0.0), (width, 0.0)
    if top == "roofs":
        return tuple((width * x, rise * y) for x, y in ((0, 1), (0.25, 0), (0.5, 0.7), (0.75, 0.15), (1, 1)))
    if top == "waves":
        return tuple(
            (width * step / SKYLINE_STEPS, rise * (0.5 + 0.5 * math.cos(math.tau * 2 * step / SKYLINE_STEPS)))
            for step in range(SKYLINE_STEPS + 1)
        )
    crest = _DUNE_CRESTS[number % len(_DUNE_CRESTS)]
    before, after = (_DUNE_ENDS[place % len(_DUNE_ENDS)] for place in (number, number + 1))
    found = []
    for x in sorted({crest, *(step / SKYLINE_STEPS for step in range(SKYLINE_STEPS + 1))}):
        share = x / crest if x <= crest else (1 - x) / (1 - crest)
        end = before if x <= crest else after
        found.append((width * x, rise * end * (0.5 + 0.5 * math.cos(math.pi * share))))
    return tuple(found)


def _id(number: int) -> str:
    return f"panel-{number + 1}"


class _Sizes(Struct, frozen=True):
    """Figures and measures that all sections share: widths and heights of the panels (mm), and what was typed."""

    inner: Figure
    panels: Figure
    tab: Figure
    step: Figure
    own: tuple[Figure, ...]
    widths: tuple[float, ...]
    heights: tuple[float, ...]


def _size(wanted: Concertina, card: Card) -> _Sizes:
    count, thickness = wanted.panels, card.thickness
    inner = derive(
        "concertina.inner",
        "inner panel width",
        card.width.value - thickness.value,
        "{finished width} − {" + thickness.name + "}",
        card.width,
        thickness,
        note="A panel that folds inside is narrower by one thickness, so that the packet closes square.",
    )
    own = tuple(
        Figure(f"concertina.width-{number}", f"width of panel {number}", width.mm, field="construct.concertina.widths")
        for number, width in enumerate(wanted.widths, start=1)
    )
    widths = tuple(each.value for each in own) or tuple(
        card.width.value if is_full(number, count) else inner.value for number in range(count)
    )
    heights = tuple(max(1.0, card.height.value - (count - 1 - number) * wanted.step.mm) for number in range(count))
    return _Sizes(
        inner,
        Figure("concertina.panels", "panels", float(count), "count", field="construct.concertina.panels"),
        Figure("concertina.tab", "glue tab", wanted.tab.mm, field="construct.concertina.tab"),
        Figure("concertina.step", "each lower by", wanted.step.mm, field="construct.concertina.step"),
        own,
        widths,
        heights,
    )


@CONSTRUCTIONS.add(
    "concertina", title="Concertina", group="panels", order=70, decisions=Concertina, to_close_square=_make_equal
)
def make_concertina(wanted: Concertina, card: Card) -> Made:
    """A concertina in sections."""
    sizes = _size(wanted, card)
    widths, tab = sizes.widths, sizes.tab.value
    tree = make_concertina_tree(widths, sizes.heights, wanted.top, wanted.rise.mm, _edge_of(wanted, card))
    groups = split_into_sections(widths, tab, card.longest_mm)
    pieces, parts, patches = [], {}, []
    for place, (first, last) in enumerate(groups):
        piece = _make_section(card, tree, sizes, (first, last), (place, len(groups)))
        pieces.append(piece)
        for number in range(first, last + 1):
            parts[_id(number)] = piece.id
        if place + 1 < len(groups):
            left = sum(widths[: last + 1])
            patches.append(Patch(piece.id, _id(last + 1), _tab_outline(left, tree.hinges[last], tab)))
    rise = Figure("concertina.rise", "tops rise by", wanted.rise.mm, field="construct.concertina.rise")
    figures = (sizes.panels, sizes.inner, sizes.tab, sizes.step, _whole_width(card, sizes), rise, *sizes.own)
    return Made(tree, tuple(pieces), parts, figures, tuple(patches))


def _edge_of(wanted: Concertina, card: Card) -> Callable[[int, float, float], Points] | None:
    """The upper edges that a file gives: its own upper edge, as wide as the panel and as high as the tops rise."""
    art = next((each for each in card.arts if each.id == wanted.art), None) if wanted.top == "file" else None
    if art is None:
        return None
    ring = card.recall(("outline of a file", art), lambda: outermost(art))

    def edge(number: int, rise: float, width: float) -> Points:
        if not ring or rise <= 0 or (number and wanted.edge_of == "front"):
            return (0.0, 0.0), (width, 0.0)
        profile = upper_edge(ring, width)
        deep = max(y for _, y in profile)
        # What lies on the other side of a fold is mirrored, so that neighbours meet.
        line = profile if number % 2 == 0 else tuple((width - x, y) for x, y in reversed(profile))
        return tuple((x, y * rise / deep) for x, y in line) if deep > 0 else ((0.0, 0.0), (width, 0.0))

    return edge


def _whole_width(card: Card, sizes: _Sizes) -> Figure:
    count = len(sizes.widths)
    full = sum(is_full(number, count) for number in range(count))
    words = f"{full} × " + "{finished width} + ({panels} − " + f"{full}) × " + "{inner panel width}"
    used: tuple[Figure, ...] = (card.width, sizes.panels, sizes.inner)
    if sizes.own:
        words, used = " + ".join("{" + each.name + "}" for each in sizes.own), sizes.own
    return derive("concertina.width", "whole width", sum(sizes.widths), words, *used)


def is_full(number: int, count: int) -> bool:
    """Whether the number-th of so many panels (from 0) is as wide as the card: the front, and the back where it ends at
    the front's own fold. With an odd count the last panel begins one thickness further in and has to be narrower."""
    return number == 0 or (number == count - 1 and count % 2 == 0)


def split_into_sections(widths: tuple[float, ...], tab: float, longest: float) -> list[tuple[int, int]]:
    """Panels (first, last) of each section: as few sections as fit `longest` mm with their tab, as even as can be.

    A panel that is longer than that by itself gets a section of its own; the lay says that it does not fit.
    """
    count = len(widths)
    for sections in range(1, count + 1):
        ends = [round(count * (place + 1) / sections) for place in range(sections)]
        starts = [0, *ends[:-1]]
        groups = [(first, last - 1) for first, last in zip(starts, ends, strict=True)]
        fits = all(
            sum(widths[first : last + 1]) + (tab if last + 1 < count else 0.0) <= longest + 1e-6
            for first, last in groups
        )
        if fits:
            return groups
    return [(number, number) for number in range(count)]


def _tab_outline(left: float, hinge: Hinge, tab: float) -> Points:
    """The tab beyond a fold at `left`, on the whole flat sheet."""
    top, tall = hinge.start[1], hinge.end[1]
    inset = min(TAB_INSET_MM, (tall - top) / 4)
    return (
        (left, top + inset / 2),
        (left + tab, top + inset + tab / 6),
        (left + tab, tall - inset - tab / 6),
        (
            left,
            tall - inset / 2,
        ),
    )


def _make_section(card: Card, tree: PanelTree, sizes: _Sizes, panels: tuple[int, int], place: tuple[int, int]) -> Piece:
    """One section: its first and last panel (from 0), and its place among how many."""
    (first, last), (number, sections) = panels, place
    id = "base" if sections == 1 else f"section-{number + 1}"
    name = "base" if sections == 1 else f"section {number + 1}"
    has_tab = number + 1 < sections
    part = _cut_section(tree, sizes, first, last, has_tab)
    span = sum(sizes.widths[first : last + 1])
    tallest, lowest = max(sizes.heights[first : last + 1]), max(sizes.heights)
    height = _section_height(card, sizes, last, (id, name), tallest)
    measures: tuple[Measure, ...] = ()
    if has_tab:
        y = lowest * 0.3
        measures = (Measure(sizes.tab, (span, y), (span + sizes.tab.value, y), "tab"),)
    return make_base(
        card,
        part,
        _ring(list(part.panels)),
        width=_section_width(card, sizes, (first, last), (id, name), has_tab),
        height=height,
        at=_place_folds(card, sizes, part, first, (id, name)),
        measures=measures,
        id=id,
        letter="ABCDEFGHIJKLMNOPQRSTUVWXYZ"[min(number, 25)],
        name=name,
    )


def _section_height(card: Card, sizes: _Sizes, last: int, named: tuple[str, str], tallest: float) -> Figure:
    """How high a section is: that of its last panel, the tallest."""
    id, name = named
    steps = len(sizes.heights) - 1 - last
    if not steps or not sizes.step.value:
        return derive(f"{id}.height", f"{name} height", tallest, "{finished height}", card.height)
    if abs(card.height.value - steps * sizes.step.value - tallest) > 1e-9:
        return Figure(f"{id}.height", f"{name} height", tallest, source="a panel is never lower than this")
    words = "{finished height} − " + f"{steps} × " + "{each lower by}"
    return derive(f"{id}.height", f"{name} height", tallest, words, card.height, sizes.step)


def _cut_section(tree: PanelTree, sizes: _Sizes, first: int, last: int, has_tab: bool) -> PanelTree:
    """The panels of a section on its own sheet, with its tab."""
    move = translate(-sum(sizes.widths[:first]), 0.0)
    panels = [Panel(each.id, each.name, move.all(each.outline)) for each in tree.panels[first : last + 1]]
    hinges = [
        Hinge(each.id, each.parent, each.child, move(each.start), move(each.end), each.sense, step=each.step)
        for each in tree.hinges[first:last]
    ]
    if has_tab:
        ring = move.all(_tab_outline(sum(sizes.widths[: last + 1]), tree.hinges[last], sizes.tab.value))
        panels.append(Panel("tab", "tab", ring))
        hinges.append(Hinge("fold-tab", _id(last), "tab", ring[0], ring[-1], sense_of(last), step="fold the tab"))
    faces = tuple(face for face in tree.faces if face.panel in {panel.id for panel in panels})
    return PanelTree(tuple(panels), tuple(hinges), faces)


def _add_widths(card: Card, sizes: _Sizes, first: int, last: int) -> tuple[str, tuple[Figure, ...]]:
    """The formula of how wide panels from first to last are together, and its inputs."""
    if sizes.own:
        used = sizes.own[first : last + 1]
        return " + ".join("{" + each.name + "}" for each in used), used
    full = sum(is_full(number, len(sizes.widths)) for number in range(first, last + 1))
    inners = last - first + 1 - full
    terms = (
        (f"{full} × " + "{finished width}", card.width, full),
        (f"{inners} × " + "{inner panel width}", sizes.inner, inners),
    )
    words = " + ".join(term for term, _, count in terms if count)
    return words, tuple(figure for _, figure, count in terms if count)


def _section_width(card: Card, sizes: _Sizes, panels: tuple[int, int], named: tuple[str, str], has_tab: bool) -> Figure:
    (first, last), (id, name) = panels, named
    words, used = _add_widths(card, sizes, first, last)
    span = sum(sizes.widths[first : last + 1])
    if has_tab:
        words, used, span = words + " + {glue tab}", (*used, sizes.tab), span + sizes.tab.value
    return derive(f"{id}.width", f"{name} width", span, words, *used)


def _place_folds(
    card: Card, sizes: _Sizes, part: PanelTree, first: int, named: tuple[str, str]
) -> dict[str, tuple[Figure, Figure]]:
    id, name = named
    at = {}
    for number, hinge in enumerate(part.hinges):
        words, used = _add_widths(card, sizes, first, first + number)
        title = f"{hinge.id.replace('-', ' ')} of {name}"
        along = Figure(
            f"{id}.{hinge.id}.edge",
            f"{hinge.id.replace('-', ' ')} from edge to edge",
            math.dist(hinge.start, hinge.end),
            source="where the panels' tops and the tab's insets leave it",
        )
        at[hinge.id] = (derive(f"{id}.{hinge.id}.at", title, hinge.start[0], words, *used), along)
    return at


def _ring(panels: list[Panel]) -> Points:
    """The outline of panels side by side: along their tops to the right, and back along the bottom."""
    tops: list[tuple[float, float]] = []
    bottoms: list[tuple[float, float]] = []
    for panel in panels:
        *upper, lower_right, lower_left = panel.outline
        for point in upper:
            if not tops or math.dist(point, tops[-1]) > 1e-9:
                tops.append(point)
        for point in (lower_left, lower_right):
            if not bottoms or math.dist(point, bottoms[-1]) > 1e-9:
                bottoms.append(point)
    ring = tops + bottoms[::-1]
    return tuple(_without_needless(ring))


def _without_needless(ring: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Points that lie on the straight line between their neighbours are left out."""
    kept = []
    for index, (x, y) in enumerate(ring):
        (px, py), (nx, ny) = ring[index - 1], ring[(index + 1) % len(ring)]
        if abs((x - px) * (ny - py) - (y - py) * (nx - px)) > 1e-9:
            kept.append((x, y))
    return kept


@CHECKS.add("construct.tab-narrow", "construct.tab-over-fold", "construct.steps-too-high", of=make_concertina)
def find_tabs_and_steps_that_fail(seen: Seen[Concertina]) -> Iterator[Finding]:
    """Tabs must hold, and panels must be there."""
    wanted, units = seen.own, seen.units
    width, height = seen.card.width.value, seen.card.height.value
    if len(seen.made.pieces) > 1 and wanted.tab.mm < LEAST_TAB_MM:
        yield Finding(
            "construct.tab-narrow",
            "look",
            "The glue tabs are narrow",
            f"They are {format_length(wanted.tab.mm, units)}; 10 to 12 mm is usual (common practice).",
            "The sections pull apart when the card is opened.",
            "section-1",
            (Mend("Make them 12 mm", (Change("construct.concertina.tab", parse_length("12 mm")),)),),
        )
    if wanted.tab.mm >= width:
        yield Finding(
            "construct.tab-over-fold",
            "stop",
            "A tab is as wide as a panel",
            f"A tab of {format_length(wanted.tab.mm, units)} behind a panel of "
            f"{format_length(width, units)} would be glued over the next fold.",
            "The fold is glued shut.",
            "section-1",
            (Mend("Make them 12 mm", (Change("construct.concertina.tab", parse_length("12 mm")),)),),
        )
    if (wanted.panels - 1) * wanted.step.mm >= height - 5:
        yield Finding(
            "construct.steps-too-high",
            "stop",
            "Nothing is left of the front panel",
            f"{wanted.panels - 1} steps of {format_length(wanted.step.mm, units)} take the whole height.",
            "The front panels cannot be cut.",
            "base",
            (Mend("Make all panels equal", (Change("construct.concertina.step", parse_length("0 mm")),)),),
        )


@CHECKS.add("construct.will-not-stand", of=make_concertina)
def find_paper_that_will_not_stand(seen: Seen[Concertina]) -> Iterator[Finding]:
    """A concertina stands by itself only in heavy paper."""
    yield from find_light_paper(seen.card)
