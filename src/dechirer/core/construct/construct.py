"""From brief and construct decisions to the flat pieces and the folded card."""

from __future__ import annotations

from collections import Counter

from msgspec import Struct

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.construct.attached import Attached
from dechirer.core.construct.constructions import KINDS, ConstructionKind
from dechirer.core.construct.envelope_checks import BoughtEnvelope, find_bought_envelope
from dechirer.core.construct.folding import fold, pressed
from dechirer.core.construct.panels import PanelTree
from dechirer.core.construct.piece import Piece
from dechirer.core.construct.setting import FOAM, Made, Setting, Slab
from dechirer.core.figure import Figure
from dechirer.core.job.constructing import Construct
from dechirer.core.job.model import Brief
from dechirer.core.shape.outline import Box, bounds, is_inside


class ConstructPlan(Struct, frozen=True):
    """Every flat piece, and the card they fold into."""

    kind: ConstructionKind
    made: Made
    pieces: tuple[Piece, ...]
    slabs: tuple[Slab, ...]
    tree: PanelTree
    closed_thickness: Figure
    piece_count: Figure
    extra: tuple[Figure, ...]
    envelope: Made | None = None
    bought: BoughtEnvelope | None = None
    layers: int = 0
    envelope_slabs: tuple[Slab, ...] = ()

    @property
    def is_folded(self) -> bool:
        """Whether the card has a fold at all."""
        return bool(self.tree.hinges)

    def piece(self, piece_id: str) -> Piece | None:
        """The piece of that id, or None."""
        return next((piece for piece in self.pieces if piece.id == piece_id), None)

    def figure(self, key: str) -> Figure | None:
        """The figure of that key among what constructions and attachments add, or None."""
        return next((figure for figure in self.extra if figure.key == key), None)

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the construct."""
        found = [self.closed_thickness, self.piece_count, *self.extra]
        for piece in self.pieces:
            found += [piece.width, piece.height, *(measure.figure for measure in piece.measures)]
            for mark in piece.folds:
                found += [mark.at, mark.length, *mark.settings]
        return tuple(found)


def make_construct(
    brief: Brief, construct: Construct, facts: BriefPlan, units: str = "in", margin_mm: float = 3.175
) -> ConstructPlan:
    """Compute the pieces and the folded card.

    A liner that would have no size left, or is asked for on a card that takes none, gives no piece; so does a layer on
    a face the card does not have. The checks say so.
    """
    kind = KINDS[brief.construction]
    setting = Setting(brief, construct, facts, units, find_longest(brief, margin_mm))
    made = kind.make(setting)
    attached = Attached(setting, made)
    if construct.window is not None:
        attached.add_window(construct.window)
    if construct.liner is not None and kind.liner:
        attached.add_liner(kind.liner)
    for layer in construct.layers:
        attached.add_layer(layer)
    if construct.slits is not None:
        attached.add_slits(construct.slits)
    if construct.peel is not None:
        from dechirer.core.construct.peel import add_peel

        add_peel(attached, construct.peel)
    if construct.stack is not None:
        from dechirer.core.construct.layer_stack import add_stack

        add_stack(attached, construct.stack)
    tree = attached.assembler.finish()
    slabs = tuple(attached.assembler.slabs)
    envelope: Made | None = None
    envelope_slabs: tuple[Slab, ...] = ()
    if construct.envelope is not None:
        envelope, envelope_slabs = attached.add_envelope(construct.envelope, tree)
    stack = find_thickest_stack(tree, slabs)
    thickness = _closed_thickness(facts, stack, attached.figures, made.bulk)
    box = find_closed_box(tree)
    return ConstructPlan(
        kind,
        made,
        tuple(attached.pieces),
        slabs,
        tree,
        thickness,
        _count_pieces(attached.pieces, facts.count),
        tuple(attached.figures),
        envelope,
        find_bought_envelope(box.width, box.height, thickness.value),
        len(stack),
        envelope_slabs,
    )


def find_longest(brief: Brief, margin_mm: float) -> float:
    """The longest straight piece the machine cuts from the base's sheet, in mm."""
    sheet = next(paper.sheet for paper in brief.papers if paper.id == brief.base_paper)
    machine = brief.machine
    across = min(machine.cut_left + machine.cut_width, sheet.width.mm - margin_mm) - max(machine.cut_left, margin_mm)
    down = min(machine.cut_top + machine.cut_height, sheet.height.mm - margin_mm) - max(machine.cut_top, margin_mm)
    return max(across, down)


def find_closed_box(tree: PanelTree) -> Box:
    """The box round the closed card as it is put away, in mm."""
    poses = fold(pressed(tree), 1.0)
    return bounds([poses[panel.id]((x, y, 0.0))[:2] for panel in tree.panels for x, y in panel.outline])


def _closed_thickness(facts: BriefPlan, stack: list[Slab], figures: list[Figure], bulk: Figure | None) -> Figure:
    """The thickest place of the closed card: its layers by paper, the foam between them, and what it holds."""
    counts = Counter(slab.paper for slab in stack)
    found = {figure.key: figure for figure in figures}
    inputs = tuple(
        found[f"{paper.removeprefix(FOAM)}.foam"] if paper.startswith(FOAM) else facts.paper(paper).thickness
        for paper in counts
    )
    formula = " + ".join(
        f"{number} × " + "{" + given.name + "}" for given, number in zip(inputs, counts.values(), strict=True)
    )
    total = sum(slab.top - slab.bottom for slab in stack)
    if bulk is not None:
        total, inputs, formula = total + bulk.value, (*inputs, bulk), formula + " + {" + bulk.name + "}"
    return Figure(
        "card.thickness",
        "closed thickness",
        total,
        formula=formula,
        inputs=inputs,
        note=f"{len(stack)} layers pressed flat at the thickest place, before glue.",
    )


def find_thickest_stack(tree: PanelTree, slabs: tuple[Slab, ...]) -> list[Slab]:
    """The slabs that lie over each other at the thickest place of the closed card.

    Looked for at points inside each slab near its corners and in its middle, where any stack of such layers is met.
    """
    poses = fold(pressed(tree), 1.0)
    placed = [tuple(poses[slab.panel]((x, y, slab.bottom)) for x, y in slab.outline) for slab in slabs]
    rings = [tuple((x, y) for x, y, _ in ring) for ring in placed]
    boxes = [bounds(ring) for ring in rings]
    best: list[Slab] = []
    for box in boxes:
        for share_x in (0.03, 0.5, 0.97):
            for share_y in (0.03, 0.5, 0.97):
                point = (box.left + share_x * box.width, box.top + share_y * box.height)
                stack = [
                    slab
                    for slab, other, around in zip(slabs, rings, boxes, strict=True)
                    if around.has(point) and is_inside(other, point)
                ]
                if _height(stack) > _height(best) + 1e-9:
                    best = stack
    return best


def _height(stack: list[Slab]) -> float:
    return sum(slab.top - slab.bottom for slab in stack)


def _count_pieces(pieces: list[Piece], copies: Figure) -> Figure:
    kinds = len(pieces)
    words = "kind of piece" if kinds == 1 else "kinds of piece"
    return Figure(
        "construct.pieces",
        "pieces",
        float(kinds * copies.value),
        "count",
        formula=f"{kinds} {words} × " + "{" + copies.name + "}",
        inputs=(copies,),
    )
