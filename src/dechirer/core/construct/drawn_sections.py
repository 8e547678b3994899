"""Sections of a drawing joined into one strip: each section's tab is glued behind the first panel of the next one.

A section is an outline whose folds stand upright and divide it into panels side by side. Its last panel is its tab
where it is much narrower than the others. Bottoms are flush, or the strip would not stand.
"""

from __future__ import annotations

from statistics import median

from msgspec import Struct

from dechirer.core.card.assembly import Patch
from dechirer.core.card.panels import Face, FoldSense, Hinge, Panel, PanelTree
from dechirer.core.construct.drawn_card import Kind
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.divide import Part
from dechirer.core.shape.outline import Box, bounds

TAB_SHARE = 0.6
"""A last panel narrower than this share of the others is a tab."""
LEAST_TAB_MM = 8.0
"""A narrower tab does not hold (common practice: 10 to 12 mm)."""
SAME_HEIGHT = 0.1
"""Outlines whose heights differ by no more than this share are sections of one strip."""
UPRIGHT_MM = 0.5


class Section(Struct, frozen=True):
    """One section: its part at the origin, its panels from left to right by their places, and whether the last of them
    is a tab."""

    kind: Kind
    part: Part
    order: tuple[int, ...]
    has_tab: bool

    @property
    def folds(self) -> tuple[tuple[tuple[float, float], tuple[float, float]], ...]:
        """Its folds from left to right: their ends."""
        ends = [(crease.start, crease.end) for crease in self.part.creases]
        return tuple(sorted(ends, key=lambda each: each[0][0]))

    @property
    def length(self) -> float:
        """How long it is without its tab, in mm."""
        return self.folds[-1][0][0] if self.has_tab else bounds(self.part.outline).width

    @property
    def height(self) -> float:
        """How high it is, in mm."""
        return bounds(self.part.outline).height


class Strip(Struct, frozen=True):
    """Sections joined: the card's tree, each section's own tree, its tabs, and which panels belong to which section."""

    tree: PanelTree
    sections: tuple[tuple[Section, PanelTree], ...]
    patches: tuple[Patch, ...]
    parts: dict[str, str]


def read_section(kind: Kind, part: Part) -> Section | None:
    """A part (at the origin) as a section; None where its panels do not lie side by side."""
    if len(part.creases) != len(part.panels) - 1 or not part.creases:
        return None
    if any(abs(crease.start[0] - crease.end[0]) > UPRIGHT_MM for crease in part.creases):
        return None
    order = sorted(range(len(part.panels)), key=lambda place: bounds(part.panels[place][0]).left)
    widths = [bounds(part.panels[place][0]).width for place in order]
    has_tab = len(widths) > 1 and widths[-1] < TAB_SHARE * median(widths[:-1])
    return Section(kind, part, tuple(order), has_tab)


def join_sections(sections: tuple[Section, ...]) -> Strip:
    """The strip of some sections in their order, the first panel of the first being the front and staying put."""
    tall = max(section.height for section in sections)
    panels: list[Panel] = []
    hinges: list[Hinge] = []
    patches: list[Patch] = []
    parts: dict[str, str] = {}
    made: list[tuple[Section, PanelTree]] = []
    left = 0.0
    for place, section in enumerate(sections):
        piece = piece_id(place)
        move = translate(left, tall - section.height)
        last = place + 1 == len(sections)
        body = section.order[:-1] if section.has_tab else section.order
        first = len(panels)
        own = [_panel(len(panels) + n, section, number) for n, number in enumerate(body)]
        if place:
            ends = sections[place - 1].folds[-1] if sections[place - 1].has_tab else None
            hinges.append(_joint(len(panels), left, tall, ends))
        within = _hinges(first, section, len(body))
        for panel in own:
            parts[panel.id] = piece
            panels.append(Panel(panel.id, panel.name, move.all(panel.outline), tuple(move.all(h) for h in panel.holes)))
        hinges += [_moved(hinge, move) for hinge in within]
        tab_panels, tab_hinges = _tab(section, first + len(body) - 1)
        if section.has_tab and last:
            panels.append(Panel("tab", "tab", move.all(tab_panels[0].outline)))
            hinges += [_moved(each, move) for each in tab_hinges]
            parts["tab"] = piece
        elif section.has_tab:
            patches.append(Patch(piece, f"panel-{len(panels) + 1}", move.all(tab_panels[0].outline)))
        tree = PanelTree((*own, *tab_panels), (*within, *tab_hinges), ())
        made.append((section, tree))
        left += section.length
    tree = PanelTree(tuple(panels), tuple(hinges), _faces(panels))
    own_faces = [
        (
            section,
            PanelTree(one.panels, one.hinges, tuple(f for f in tree.faces if f.panel in {p.id for p in one.panels})),
        )
        for section, one in made
    ]
    return Strip(tree, tuple(own_faces), tuple(patches), parts)


def piece_id(place: int) -> str:
    """The id of a section's piece by its place from 0."""
    return "base" if not place else f"section-{place + 1}"


def _panel(number: int, section: Section, place: int) -> Panel:
    outline, holes = section.part.panels[place]
    return Panel(f"panel-{number + 1}", "front" if not number else f"panel {number + 1}", outline, holes)


def _sense(number: int) -> FoldSense:
    """The sense of the fold after the number-th panel (from 0): mountain first, then in turn."""
    return "mountain" if number % 2 == 0 else "valley"


def _hinges(first: int, section: Section, count: int) -> list[Hinge]:
    """The folds between a section's own panels, the first of which is the card's panel of that number."""
    return [
        Hinge(
            f"fold-{first + n + 1}", f"panel-{first + n + 1}", f"panel-{first + n + 2}", start, end, _sense(first + n),
            step="fold the strip together",
        )
        for n, (start, end) in enumerate(section.folds[: count - 1])
    ]  # fmt: skip


def _joint(number: int, x: float, tall: float, tab: tuple[tuple[float, float], tuple[float, float]] | None) -> Hinge:
    """The fold where two sections meet: that of the tab, or the whole edge where they are taped."""
    top, low = 0.0, tall
    if tab is not None:
        high = abs(tab[0][1] - tab[1][1])
        top = tall - high
    return Hinge(
        f"fold-{number}",
        f"panel-{number}",
        f"panel-{number + 1}",
        (x, top),
        (x, low),
        _sense(number - 1),
        step="fold the strip together",
    )


def _tab(section: Section, number: int) -> tuple[list[Panel], list[Hinge]]:
    """A section's tab and its fold, on the section's own sheet."""
    if not section.has_tab:
        return [], []
    start, end = section.folds[-1]
    outline = section.part.panels[section.order[-1]][0]
    hinge = Hinge("fold-tab", f"panel-{number + 1}", "tab", start, end, _sense(number), step="fold the tab")
    return [Panel("tab", "tab", outline)], [hinge]


def _moved(hinge: Hinge, move: Affine) -> Hinge:
    return Hinge(
        hinge.id, hinge.parent, hinge.child, move(hinge.start), move(hinge.end), hinge.sense, hinge.closed_deg,
        hinge.order, hinge.step,
    )  # fmt: skip


def _faces(panels: list[Panel]) -> tuple[Face, ...]:
    """The outside of every panel from the front on, then the insides from the back on."""
    shown = [panel for panel in panels if panel.id != "tab"]
    boxes: list[tuple[Panel, Box]] = [(panel, bounds(panel.outline)) for panel in shown]
    outside = [
        Face(panel.name, panel.id, "outside", box.width, box.height, translate(box.left, box.top))
        for panel, box in boxes
    ]
    inside = [
        Face(
            f"behind {panel.name}", panel.id, "inside", box.width, box.height,
            Affine(-1.0, 0.0, 0.0, 1.0, box.right, box.top),
        )
        for panel, box in reversed(boxes)
    ]  # fmt: skip
    return (*outside, *inside)


def tab_of(section: Section) -> Points | None:
    """The outline of a section's tab; None where it has none."""
    return section.part.panels[section.order[-1]][0] if section.has_tab else None
