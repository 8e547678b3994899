"""Concertina: panels folded to and fro, bottoms flush, in as many sections as the sheet asks for.

Outside up, the front panel lies at the left and the others follow to the right; mountain and valley alternate,
beginning with a mountain, so that the front covers the packet. Panels that fold inside are narrower by one thickness
of the paper, or the packet does not close square. A section ends in a glue tab that hides behind the next one.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from dechirer.core.construct.making import derive, make_piece
from dechirer.core.construct.panels import Face, FoldSense, Hinge, Panel, PanelTree
from dechirer.core.construct.piece import Measure, Piece
from dechirer.core.construct.setting import Made, Patch, Setting
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding, Mend
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import format_length, parse_length
from dechirer.core.paper.weight import parse_weight
from dechirer.core.shape.affine import Affine, Points, translate

TAB_INSET_MM = 3.0
"""A tab is shorter than the panels at both ends by this, so that it hides."""
LEAST_TAB_MM = 8.0
LEAST_STANDING_GSM = 250.0
"""What must stand wants about 110 lb cover, 290 to 300 g/m2 (common practice); under this it sags."""


def sense_of(number: int) -> FoldSense:
    """The sense of the fold after the number-th panel (from 0): mountain first, then in turn."""
    return "mountain" if number % 2 == 0 else "valley"


def make_concertina_tree(
    widths: tuple[float, ...], heights: tuple[float, ...], top: str = "straight", rise: float = 0.0
) -> PanelTree:
    """Panels side by side with flush bottoms (mm); the first is the front and the root.

    `top` and `rise` are the skyline of their upper edges; it is the same on both sides of every fold.
    """
    tall = max(heights)
    lefts = [0.0, *itertools.accumulate(widths)]
    panels, hinges, faces = [], [], []
    for number, (width, height) in enumerate(zip(widths, heights, strict=True)):
        left, upper = lefts[number], tall - height
        name = "front" if number == 0 else f"panel {number + 1}"
        profile = skyline(top, number, min(rise, height * 0.8), width)
        ring = (*((left + x, upper + y) for x, y in profile), (left + width, tall), (left, tall))
        panels.append(Panel(_id(number), name, ring))
        faces.append(Face(name, _id(number), "outside", width, height, translate(left, upper)))
        if number + 1 < len(widths):
            x = lefts[number + 1]
            beyond = skyline(top, number + 1, min(rise, heights[number + 1] * 0.8), widths[number + 1])
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
    if top == "straight" or rise <= 0:
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
    for step in range(SKYLINE_STEPS + 1):
        x = step / SKYLINE_STEPS
        share = x / crest if x <= crest else (1 - x) / (1 - crest)
        end = before if x <= crest else after
        found.append((width * x, rise * end * (0.5 + 0.5 * math.cos(math.pi * share))))
    return tuple(found)


def _id(number: int) -> str:
    return f"panel-{number + 1}"


def make_concertina(setting: Setting) -> Made:
    """A concertina in sections."""
    wanted, facts = setting.construct.concertina, setting.facts
    count = wanted.panels
    thickness = facts.paper(setting.brief.base_paper).thickness
    inner = derive(
        "concertina.inner",
        "inner panel width",
        facts.width.value - thickness.value,
        "{finished width} − {" + thickness.name + "}",
        facts.width,
        thickness,
        note="A panel that folds inside is narrower by one thickness, so that the packet closes square.",
    )
    panels = Figure("concertina.panels", "panels", float(count), "count", field="construct.concertina.panels")
    tab = Figure("concertina.tab", "glue tab", wanted.tab.mm, field="construct.concertina.tab")
    step = Figure("concertina.step", "each lower by", wanted.step.mm, field="construct.concertina.step")
    own = tuple(
        Figure(f"concertina.width-{number}", f"width of panel {number}", width.mm, field="construct.concertina.widths")
        for number, width in enumerate(wanted.widths, start=1)
    )
    widths = tuple(each.value for each in own) or tuple(
        facts.width.value if is_full(number, count) else inner.value for number in range(count)
    )
    heights = tuple(max(1.0, facts.height.value - (count - 1 - number) * step.value) for number in range(count))
    tree = make_concertina_tree(widths, heights, wanted.top, wanted.rise.mm)
    groups = split_into_sections(widths, tab.value, setting.longest_mm)
    pieces, parts, patches = [], {}, []
    for place, (first, last) in enumerate(groups):
        has_tab = place + 1 < len(groups)
        piece = _make_section(setting, tree, widths, heights, first, last, place, len(groups), has_tab, inner, tab, own)
        pieces.append(piece)
        for number in range(first, last + 1):
            parts[_id(number)] = piece.id
        if has_tab:
            left = sum(widths[: last + 1])
            patches.append(Patch(piece.id, _id(last + 1), _tab_outline(left, tree.hinges[last], tab.value)))
    full = sum(is_full(number, count) for number in range(count))
    words = f"{full} × " + "{finished width} + ({panels} − " + f"{full}) × " + "{inner panel width}"
    used: tuple[Figure, ...] = (facts.width, panels, inner)
    if own:
        words, used = " + ".join("{" + each.name + "}" for each in own), own
    total = derive("concertina.width", "whole width", sum(widths), words, *used)
    rise = Figure("concertina.rise", "tops rise by", wanted.rise.mm, field="construct.concertina.rise")
    return Made(tree, tuple(pieces), parts, (panels, inner, tab, step, total, rise, *own), tuple(patches))


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


def _make_section(
    setting: Setting,
    card: PanelTree,
    widths: tuple[float, ...],
    heights: tuple[float, ...],
    first: int,
    last: int,
    place: int,
    sections: int,
    has_tab: bool,
    inner: Figure,
    tab: Figure,
    own: tuple[Figure, ...],
) -> Piece:
    id = "base" if sections == 1 else f"section-{place + 1}"
    name = "base" if sections == 1 else f"section {place + 1}"
    move = translate(-sum(widths[:first]), 0.0)
    panels = [Panel(each.id, each.name, move.all(each.outline)) for each in card.panels[first : last + 1]]
    hinges = [
        Hinge(each.id, each.parent, each.child, move(each.start), move(each.end), each.sense, step=each.step)
        for each in card.hinges[first:last]
    ]
    span = sum(widths[first : last + 1])
    if has_tab:
        ring = move.all(_tab_outline(sum(widths[: last + 1]), card.hinges[last], tab.value))
        panels.append(Panel("tab", "tab", ring))
        hinges.append(Hinge("fold-tab", _id(last), "tab", ring[0], ring[-1], sense_of(last), step="fold the tab"))
    faces = tuple(face for face in card.faces if face.panel in {panel.id for panel in panels})
    tree = PanelTree(tuple(panels), tuple(hinges), faces)
    lowest = max(heights)
    tallest = max(heights[first : last + 1])
    drop = lowest - tallest
    outline = tuple((x, y) for x, y in _ring(panels))
    full = sum(is_full(number, len(widths)) for number in range(first, last + 1))
    inners = last - first + 1 - full
    words = " + ".join(
        part
        for part in (
            f"{full} × " + "{finished width}" if full else "",
            f"{inners} × " + "{inner panel width}" if inners else "",
            "{glue tab}" if has_tab else "",
        )
        if part
    )
    sources = ((setting.facts.width, full), (inner, inners), (tab, has_tab))
    used = tuple(figure for figure, count in sources if count)
    if own:
        used = (*own[first : last + 1], *((tab,) if has_tab else ()))
        words = " + ".join("{" + each.name + "}" for each in used)
    width = derive(f"{id}.width", f"{name} width", span + (tab.value if has_tab else 0.0), words, *used)
    height = derive(
        f"{id}.height",
        f"{name} height",
        tallest,
        "{finished height}" if drop < 1e-9 else "{finished height} less the steps in front",
        setting.facts.height,
    )
    at = {}
    for number, hinge in enumerate(hinges, start=1):
        where = derive(
            f"{id}.{hinge.id}.at",
            f"{hinge.id.replace('-', ' ')} of {name}",
            hinge.start[0],
            f"{number} panel{'s' if number > 1 else ''} of " + "{finished width} or {inner panel width}",
            setting.facts.width,
            inner,
        )
        along = derive(
            f"{id}.{hinge.id}.edge",
            f"{hinge.id.replace('-', ' ')} from edge to edge",
            math.dist(hinge.start, hinge.end),
            "{finished height} less steps and insets",
            setting.facts.height,
        )
        at[hinge.id] = (where, along)
    measures: tuple[Measure, ...] = ()
    if has_tab:
        y = max(heights) * 0.3
        measures = (Measure(tab, (span, y), (span + tab.value, y), "tab"),)
    return make_piece(
        id,
        "ABCDEFGHIJKLMNOPQRSTUVWXYZ"[min(place, 25)],
        name,
        tree,
        outline,
        paper=setting.brief.base_paper,
        count=setting.brief.count,
        fold=setting.construct.fold,
        field="construct.fold",
        width=width,
        height=height,
        at=at,
        measures=measures,
    )


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


def check_concertina(job: Job, made: Made) -> Iterator[Finding]:
    """Tabs must hold, panels must be there, and the paper must be able to stand."""
    wanted = job.construct.concertina
    if len(made.pieces) > 1 and wanted.tab.mm < LEAST_TAB_MM:
        yield Finding(
            "construct.tab-narrow",
            "look",
            "construct",
            "The glue tabs are narrow",
            f"They are {format_length(wanted.tab.mm, job.units)}; 10 to 12 mm is usual (common practice).",
            "The sections pull apart when the card is opened.",
            "section-1",
            (Mend("Make them 12 mm", (Change("construct.concertina.tab", parse_length("12 mm")),)),),
        )
    if wanted.tab.mm >= job.brief.width.mm:
        yield Finding(
            "construct.tab-over-fold",
            "stop",
            "construct",
            "A tab is as wide as a panel",
            f"A tab of {format_length(wanted.tab.mm, job.units)} behind a panel of "
            f"{format_length(job.brief.width.mm, job.units)} would be glued over the next fold.",
            "The fold is glued shut.",
            "section-1",
            (Mend("Make them 12 mm", (Change("construct.concertina.tab", parse_length("12 mm")),)),),
        )
    if (wanted.panels - 1) * wanted.step.mm >= job.brief.height.mm - 5:
        yield Finding(
            "construct.steps-too-high",
            "stop",
            "construct",
            "Nothing is left of the front panel",
            f"{wanted.panels - 1} steps of {format_length(wanted.step.mm, job.units)} take the whole height.",
            "The front panels cannot be cut.",
            "base",
            (Mend("Make all panels equal", (Change("construct.concertina.step", parse_length("0 mm")),)),),
        )

    yield from _check_standing(job)


def _check_standing(job: Job) -> Iterator[Finding]:
    """A concertina stands by itself only in heavy paper."""
    paper = next(each for each in job.brief.papers if each.id == job.brief.base_paper)
    grammage = parse_weight(paper.weight).gsm
    if grammage is not None and grammage < LEAST_STANDING_GSM:
        yield Finding(
            "construct.will-not-stand",
            "look",
            "construct",
            "This paper is light for a card that stands",
            f"It weighs {grammage:.0f} g/m²; concertinas want 110 lb cover, about 290 to 300 g/m² (common practice).",
            "The panels sag when the card is put up.",
            "brief.base_paper",
        )
