"""From brief and build decisions to the flat pieces and the folded card."""

from __future__ import annotations

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.build.constructions import KINDS, ConstructionKind
from dechirer.core.build.foldline import make_fold_lines
from dechirer.core.build.panels import PanelTree
from dechirer.core.build.piece import FoldMark, Line, Piece
from dechirer.core.figure import Figure
from dechirer.core.job.model import Brief, Build, Fold
from dechirer.core.length import format_length, format_size
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import bounds


class Slab(Struct, frozen=True):
    """A part of the folded card: an outline that moves with a panel of the base, between two heights (mm).

    `outline` lies on the base's flat sheet; z from `bottom` to `top`, 0 being the base's inside.
    """

    piece: str
    paper: str
    panel: str
    outline: Points
    bottom: float
    top: float


class BuildPlan(Struct, frozen=True):
    """Every flat piece, and the card they fold into."""

    kind: ConstructionKind
    pieces: tuple[Piece, ...]
    slabs: tuple[Slab, ...]
    tree: PanelTree
    axis_z: float
    closed_thickness: Figure
    piece_count: Figure
    extra: tuple[Figure, ...]

    def piece(self, piece_id: str) -> Piece | None:
        """The piece of that id, or None."""
        return next((piece for piece in self.pieces if piece.id == piece_id), None)

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the build."""
        found = [self.closed_thickness, self.piece_count, *self.extra]
        for piece in self.pieces:
            found += [piece.width, piece.height]
            for mark in piece.folds:
                found += [mark.at, mark.length, *mark.settings]
        return tuple(found)


def make_build(brief: Brief, build: Build, facts: BriefPlan, units: str = "in") -> BuildPlan:
    """Compute the pieces and the folded card.

    A liner that would have no size left, or is asked for on a flat card, gives no piece; the checks say so.
    """
    kind = KINDS[brief.construction]
    base_width = _times(kind.across, facts.width, "base.width", "base width")
    base_height = _times(kind.down, facts.height, "base.height", "base height")
    tree = kind.make_tree(brief.width.mm, brief.height.mm)
    base = _make_piece(
        "base", "A", tree, brief.base_paper, brief.count, build.fold, base_width, base_height, facts, kind
    )
    pieces, slabs = [base], []
    base_thickness = facts.paper(brief.base_paper).thickness
    for panel in tree.panels:
        slabs.append(Slab("base", brief.base_paper, panel.id, panel.outline, 0.0, base_thickness.value))
    layers = [base_thickness]
    axis_z = 0.0
    extra: list[Figure] = []
    if build.liner is not None and kind.is_folded:
        reveal = Figure("liner.reveal", "reveal", build.liner.reveal.mm, field="build.liner.reveal")
        extra.append(reveal)
        liner = _make_liner(brief, build, facts, kind, base, reveal, units)
        if liner is not None:
            thickness = facts.paper(build.liner.paper).thickness
            axis_z = -thickness.value
            layers.append(thickness)
            pieces.append(liner)
            for panel in liner.tree.panels:
                outline = tuple((x + reveal.value, y + reveal.value) for x, y in panel.outline)
                slabs.append(Slab("liner", build.liner.paper, panel.id, outline, axis_z, 0.0))
    return BuildPlan(
        kind, tuple(pieces), tuple(slabs), tree, axis_z, _closed_thickness(kind, layers),
        _count_pieces(pieces, facts.count), tuple(extra),
    )  # fmt: skip


def _times(number: int, typed: Figure, key: str, name: str) -> Figure:
    if number == 1:
        return Figure(key, name, typed.value, formula="{" + typed.name + "}", inputs=(typed,))
    return Figure(
        key, name, number * typed.value, formula=f"{number} × " + "{" + typed.name + "}", inputs=(typed,),
        note=f"{number} panels side by side, joined at the fold." if "width" in key
        else f"{number} panels one above the other, joined at the fold.",
    )  # fmt: skip


def _make_piece(
    id: str, letter: str, tree: PanelTree, paper: str, count: int, fold: Fold, width: Figure, height: Figure,
    facts: BriefPlan, kind: ConstructionKind,
) -> Piece:  # fmt: skip
    box = bounds([point for panel in tree.panels for point in panel.outline])
    outline = ((box.left, box.top), (box.right, box.top), (box.right, box.bottom), (box.left, box.bottom))
    lines: list[Line] = []
    marks: list[FoldMark] = []
    for hinge in tree.hinges:
        lines += make_fold_lines(fold, hinge.start, hinge.end, id=f"{id}-{hinge.id}", sense=hinge.sense)
        marks.append(_make_mark(id, hinge.id, hinge.start, hinge.end, hinge.sense, fold, width, height, kind))
    lines.append(Line(f"{id}-outline", "outline", "cut", (outline,), closed=True))
    return Piece(id, letter, id, paper, count, tree, outline, tuple(lines), tuple(marks), width, height)


def _make_mark(
    id: str, hinge: str, start: tuple[float, float], end: tuple[float, float], sense: str, fold: Fold,
    width: Figure, height: Figure, kind: ConstructionKind,
) -> FoldMark:  # fmt: skip
    across, along = (width, height) if kind.across > 1 else (height, width)
    at = Figure(
        f"{id}.{hinge}.at", f"{id} fold", across.value / 2, formula="{" + across.name + "} ÷ 2", inputs=(across,),
        note="The fold lies at the piece's own centre.",
    )  # fmt: skip
    ends = Figure(f"{id}.{hinge}.ends", "short of the edge", fold.ends.mm, field=_fold_field(id, "ends"))
    length = Figure(
        f"{id}.{hinge}.length",
        f"{id} fold length",
        along.value - 2 * fold.ends.mm,
        formula="{" + along.name + "}" + (" − 2 × {" + ends.name + "}" if fold.ends.mm else ""),
        inputs=(along, ends) if fold.ends.mm else (along,),
    )
    dash = Figure(f"{id}.{hinge}.dash", "perforation dash", fold.dash.mm, field=_fold_field(id, "dash"))
    land = Figure(f"{id}.{hinge}.land", "perforation land", fold.land.mm, field=_fold_field(id, "land"))
    settings = (ends, dash, land) if fold.kind == "perforate" else (ends,)
    return FoldMark(hinge, start, end, fold.kind, sense, at, length, settings)


def _fold_field(piece: str, name: str) -> str:
    return f"build.fold.{name}" if piece == "base" else f"build.{piece}.fold.{name}"


def _make_liner(
    brief: Brief, build: Build, facts: BriefPlan, kind: ConstructionKind, base: Piece, reveal: Figure, units: str
) -> Piece | None:
    assert build.liner is not None
    width = _less_reveal(base.width, reveal, "liner.width", "liner width", units)
    height = _less_reveal(base.height, reveal, "liner.height", "liner height", units)
    if min(width.value, height.value) < 1.0:
        return None
    doubled = 2 * reveal.value
    shown = format_size(base.width.value - 2 * doubled, base.height.value - 2 * doubled, units)
    total = format_length(doubled, units)
    note = (
        f"{total} less in all, {reveal.text(units)} on each side. "
        f"For a border of {total} all round, type {total} a side: {shown}."
    )
    width, height = structs.replace(width, note=note), structs.replace(height, note=note)
    tree = kind.make_tree(width.value / kind.across, height.value / kind.down)
    return _make_piece("liner", "B", tree, build.liner.paper, brief.count, build.liner.fold, width, height, facts, kind)


def _less_reveal(base: Figure, reveal: Figure, key: str, name: str, units: str) -> Figure:
    return Figure(
        key, name, base.value - 2 * reveal.value,
        formula="{" + base.name + "} − 2 × {" + reveal.name + "}", inputs=(base, reveal),
    )  # fmt: skip


def _closed_thickness(kind: ConstructionKind, layers: list[Figure]) -> Figure:
    panels = kind.across * kind.down
    names: list[Figure] = []
    for layer in layers:
        if layer.key not in {known.key for known in names}:
            names.append(layer)
    formula = " + ".join(
        (f"{panels * sum(1 for each in layers if each.key == name.key)} × " + "{" + name.name + "}") for name in names
    )
    return Figure(
        "card.thickness", "closed thickness", panels * sum(layer.value for layer in layers), formula=formula,
        inputs=tuple(names), note=f"{panels * len(layers)} layers pressed flat, before glue.",
    )  # fmt: skip


def _count_pieces(pieces: list[Piece], copies: Figure) -> Figure:
    kinds = len(pieces)
    words = "kind of piece" if kinds == 1 else "kinds of piece"
    return Figure(
        "build.pieces", "pieces", float(kinds * copies.value), "count",
        formula=f"{kinds} {words} × " + "{" + copies.name + "}", inputs=(copies,),
    )  # fmt: skip
