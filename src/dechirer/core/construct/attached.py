"""What is glued in or on: the liner, layers with an equal border, a window's backer."""

from __future__ import annotations

import math

from msgspec import structs

from dechirer.core.construct.folded_card import half_of, make_side_fold_tree, make_top_fold_tree
from dechirer.core.construct.folding import fold, pressed
from dechirer.core.construct.making import derive, make_flat_piece, make_piece
from dechirer.core.construct.panels import Face, PanelTree, Side
from dechirer.core.construct.piece import Line, Measure, Piece
from dechirer.core.construct.setting import FOAM, Assembler, Made, Setting, Slab
from dechirer.core.figure import Figure
from dechirer.core.job.constructing import CornerSlits, Envelope, Layer, Window
from dechirer.core.length import format_length, format_size
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import bounds, rectangle

FOAM_INSET_MM = 4.0
"""Foam is set in from the layer's edges, so that it does not show (common practice)."""
LEAST_MM = 1.0
"""A piece smaller than this is not there."""


class Attached:
    """Adds pieces to a card one after the other and keeps the pieces, slabs and figures that come of it."""

    def __init__(self, setting: Setting, made: Made) -> None:
        self.setting, self.made = setting, made
        self.pieces: list[Piece] = list(made.pieces)
        self.figures: list[Figure] = list(made.figures)
        self.assembler = Assembler(made, setting.facts, setting.brief.base_paper)

    def letter(self) -> str:
        """The next piece's letter."""
        return "ABCDEFGHIJKLMNOPQRSTUVWXYZ"[min(len(self.pieces), 25)]

    def add(self, piece: Piece) -> None:
        """Keep a piece."""
        self.pieces.append(piece)

    def measure_on_base(self, panel: str, measure: Measure) -> None:
        """Draw a parameter on the base piece that has a panel; the measure is in the card's flat coordinates."""
        owner = self.made.parts[panel]
        for index, piece in enumerate(self.pieces):
            if piece.id == owner:
                shift = _shift(piece, self.made, panel)
                moved = structs.replace(
                    measure,
                    start=_move(measure.start, shift),
                    end=_move(measure.end, shift),
                    guide=tuple(_move(point, shift) for point in measure.guide),
                )
                self.pieces[index] = structs.replace(piece, measures=(*piece.measures, moved))

    def add_line(self, panel: str, line: Line) -> None:
        """Give the base piece that has a panel a line before its outline; the line lies on the card's flat sheet."""
        owner = self.made.parts[panel]
        for index, piece in enumerate(self.pieces):
            if piece.id == owner:
                shift = _shift(piece, self.made, panel)
                own = tuple(tuple(_move(point, shift) for point in path) for path in line.paths)
                moved = structs.replace(line, id=f"{piece.id}-{line.id}", paths=own)
                self.pieces[index] = structs.replace(piece, lines=(*piece.lines[:-1], moved, piece.lines[-1]))

    # --- liner -----------------------------------------------------------------------------------------------

    def add_liner(self, kind: str) -> None:
        """A liner smaller than what it lies in by the reveal on each side; nothing when it would have no size."""
        liner = self.setting.construct.liner
        assert liner is not None
        reveal = Figure("liner.reveal", "reveal", liner.reveal.mm, field="construct.liner.reveal")
        self.figures.append(reveal)
        base = self.made.pieces[0]
        whole = (base.width, base.height) if kind == "spread" else (self.setting.facts.width, self.setting.facts.height)
        width, height = (
            self._less(each, reveal, f"liner.{side}", f"liner {side}")
            for side, each in zip(("width", "height"), whole, strict=True)
        )
        if min(width.value, height.value) < LEAST_MM:
            return
        width, height = self._note_total(width, height, whole, reveal)
        thickness = self.setting.facts.paper(liner.paper).thickness.value
        count = self.setting.brief.count
        r = reveal.value
        if kind == "spread":
            side = self.setting.brief.construction == "side-fold"
            tree = (
                make_side_fold_tree(width.value / 2, height.value)
                if side
                else make_top_fold_tree(width.value, height.value / 2)
            )
            across, along = (width, height) if side else (height, width)
            piece = make_piece(
                "liner",
                self.letter(),
                "liner",
                tree,
                rectangle(width.value, height.value),
                paper=liner.paper,
                count=count,
                fold=liner.fold,
                field="construct.liner.fold",
                width=width,
                height=height,
                at={"fold": (half_of(across, "liner.fold.at", "liner fold"), along)},
            )
            for panel in tree.panels:
                ring = tuple((x + r, y + r) for x, y in panel.outline)
                self.assembler.put("liner", liner.paper, panel.id, "inside", ring, thickness)
            host, panel_id = bounds(base.outline), "front"
        else:
            piece = make_flat_piece(
                "liner", self.letter(), "liner", paper=liner.paper, count=count, width=width, height=height
            )
            root = self.made.tree.root
            host, panel_id = bounds(root.outline), root.id
            ring = rectangle(width.value, height.value, at=(host.left + r, host.top + r))
            self.assembler.put("liner", liner.paper, root.id, "inside", ring, thickness)
        self.add(piece)
        guide = rectangle(width.value, height.value, at=(host.left + r, host.top + r))
        right, y = host.left + whole[0].value, host.top + whole[1].value * 0.8
        self.measure_on_base(panel_id, Measure(reveal, (right - r, y), (right, y), "reveal", 0.0, guide))

    def _less(self, whole: Figure, border: Figure, key: str, name: str) -> Figure:
        formula = "{" + whole.name + "} − 2 × {" + border.name + "}"
        return derive(key, name, whole.value - 2 * border.value, formula, whole, border)

    def _note_total(
        self, width: Figure, height: Figure, whole: tuple[Figure, Figure], border: Figure
    ) -> tuple[Figure, Figure]:
        """Say the total beside the per-side measure: mixing them up is the commonest slip."""
        units, doubled = self.setting.units, 2 * border.value
        total = format_length(doubled, units)
        shown = format_size(whole[0].value - 2 * doubled, whole[1].value - 2 * doubled, units)
        note = f"{total} less in all, {border.text(units)} on each side. "
        note += f"For a border of {total} all round, type {total} a side: {shown}."
        return structs.replace(width, note=note), structs.replace(height, note=note)

    # --- layers ----------------------------------------------------------------------------------------------

    def add_layer(self, layer: Layer) -> None:
        """A layer on a face; nothing when the card has no such face or the border leaves nothing of it."""
        face = next((each for each in self.made.tree.faces if each.name == layer.face), None)
        if face is None:
            return
        path = f"construct.layers.{layer.id}.border"
        border = Figure(f"{layer.id}.border", f"border of {layer.id}", layer.border.mm, field=path)
        self.figures.append(border)
        wide = Figure(f"{layer.id}.face-width", f"width of {face.name}", face.width, source="the card's panel")
        high = Figure(f"{layer.id}.face-height", f"height of {face.name}", face.height, source="the card's panel")
        width = self._less(wide, border, f"{layer.id}.width", f"{layer.id} width")
        height = self._less(high, border, f"{layer.id}.height", f"{layer.id} height")
        if min(width.value, height.value) < LEAST_MM:
            return
        width, height = self._note_total(width, height, (wide, high), border)
        name = f"layer on {face.name}"
        piece = make_flat_piece(
            layer.id,
            self.letter(),
            name,
            paper=layer.paper,
            count=self.setting.brief.count,
            width=width,
            height=height,
        )
        ring = face.to_flat.all(rectangle(width.value, height.value, at=(border.value, border.value)))
        thickness = self.setting.facts.paper(layer.paper).thickness.value
        if layer.foam.mm > 0:
            path = f"construct.layers.{layer.id}.foam"
            foam = Figure(f"{layer.id}.foam", f"foam under {layer.id}", layer.foam.mm, field=path)
            self.figures.append(foam)
            inset = border.value + min(FOAM_INSET_MM, width.value / 4, height.value / 4)
            pad = rectangle(face.width - 2 * inset, face.height - 2 * inset, at=(inset, inset))
            self.assembler.put("foam", FOAM + layer.id, face.panel, face.side, face.to_flat.all(pad), foam.value)
        self.assembler.put(layer.id, layer.paper, face.panel, face.side, ring, thickness)
        self.add(piece)
        box = bounds(face.to_flat.all(rectangle(face.width, face.height)))
        # One below the other where several layers lie on a face, so that each border can be read and typed into.
        below = sum(other.face == layer.face for other in self.setting.construct.layers[: self._place_of(layer)])
        y = box.top + box.height * (0.45 + 0.09 * below)
        measure = Measure(border, (box.left, y), (box.left + border.value, y), "border", 0.0, ring)
        self.measure_on_base(face.panel, measure)

    def _place_of(self, layer: Layer) -> int:
        return self.setting.construct.layers.index(layer)

    # --- window ----------------------------------------------------------------------------------------------

    def add_window(self, window: Window) -> None:
        """An opening in the middle of the front, and its backer behind."""
        face = self.made.tree.faces[0]
        width = Figure("window.width", "window width", window.width.mm, field="construct.window.width")
        height = Figure("window.height", "window height", window.height.mm, field="construct.window.height")
        margin = Figure("window.margin", "glue margin", window.margin.mm, field="construct.window.margin")
        drop = Figure("window.drop", "below the middle by", window.drop.mm, field="construct.window.drop")
        self.figures += [width, height, margin, drop]
        hole = face.to_flat.all(window_outline(face, window))
        self.add_line(face.panel, Line("window", "window", "cut", (hole,), closed=True, role="window"))
        self.assembler.cut_hole(face.panel, hole)
        across = self.more(width, margin, "backer.width", "backer width")
        down = self.more(height, margin, "backer.height", "backer height")
        box = bounds(window_outline(face, window))
        around = rectangle(across.value, down.value, at=(box.left - margin.value, box.top - margin.value))
        thickness = self.setting.facts.paper(window.paper).thickness.value
        inside: Side = "inside" if face.side == "outside" else "outside"
        self.assembler.put("backer", window.paper, face.panel, inside, face.to_flat.all(around), thickness)
        m = margin.value
        guide = rectangle(width.value, height.value, at=(m, m))
        measure = Measure(
            margin, (across.value - m, down.value / 2), (across.value, down.value / 2), "margin", 0.0, guide
        )
        self.add(
            make_flat_piece(
                "backer",
                self.letter(),
                "window backer",
                paper=window.paper,
                count=self.setting.brief.count,
                width=across,
                height=down,
                measures=(measure,),
            )
        )
        seen = bounds(hole)
        level = seen.bottom - seen.height * 0.15
        self.measure_on_base(face.panel, Measure(width, (seen.left, level), (seen.right, level), "", 0.0))
        beside = seen.left + seen.width * 0.15
        self.measure_on_base(face.panel, Measure(height, (beside, seen.bottom), (beside, seen.top), "", 0.0))

    # --- an insert held by corner slits ----------------------------------------------------------------------

    def add_slits(self, slits: CornerSlits) -> None:
        """Four slits in the front and the insert they hold."""
        face = self.made.tree.faces[0]
        fields = {name: f"construct.slits.{name}" for name in ("width", "height", "catch", "ease")}
        width = Figure("insert.width", "insert width", slits.width.mm, field=fields["width"])
        height = Figure("insert.height", "insert height", slits.height.mm, field=fields["height"])
        catch = Figure("slits.catch", "catch", slits.catch.mm, field=fields["catch"])
        ease = Figure("slits.ease", "ease", slits.ease.mm, field=fields["ease"])
        length = derive(
            "slits.length",
            "slit length",
            math.sqrt(2) * catch.value + 2 * ease.value,
            "√2 × {catch} + 2 × {ease}",
            catch,
            ease,
            note="Across the corner at 45 degrees, from edge to edge of the insert and a little beyond.",
        )
        tolerance = derive(
            "slits.tolerance",
            "tolerance",
            catch.value / math.sqrt(2),
            "{catch} ÷ √2",
            catch,
            note="How far the slits may be misplaced before a corner slips out: compare it with your machine's error.",
        )
        self.figures += [width, height, catch, ease, length, tolerance]
        paths = tuple(face.to_flat.all(path) for path in slit_paths(face, slits))
        self.add_line(face.panel, Line("slits", "corner slits", "cut", paths, role="slit"))
        thickness = self.setting.facts.paper(slits.paper).thickness.value
        shown = face.to_flat.all(_visible_insert(face, slits))
        self.assembler.put("insert", slits.paper, face.panel, face.side, shown, thickness)
        self.add(
            make_flat_piece(
                "insert",
                self.letter(),
                "insert",
                paper=slits.paper,
                count=self.setting.brief.count,
                width=width,
                height=height,
            )
        )
        left, top = (face.width - width.value) / 2, (face.height - height.value) / 2
        corner, crossing = face.to_flat.all(((left, top + height.value), (left + catch.value, top + height.value)))
        guide = face.to_flat.all(rectangle(width.value, height.value, at=(left, top)))
        self.measure_on_base(face.panel, Measure(catch, corner, crossing, "catch", 0.0, guide))

    # --- envelope --------------------------------------------------------------------------------------------

    def add_envelope(self, envelope: Envelope, tree: PanelTree) -> tuple[Made, tuple[Slab, ...]]:
        """An envelope round the closed card as it is now; the made envelope and its slabs, to be folded on its own."""
        from dechirer.core.construct.envelope import make_envelope

        poses = fold(pressed(tree), 1.0)
        points = [
            poses[slab.panel]((x, y, z))
            for slab in self.assembler.slabs
            for x, y in slab.outline
            for z in (slab.bottom, slab.top)
        ]
        box = bounds([(x, y) for x, y, _ in points])
        bulk = max(z for _, _, z in points) - min(z for _, _, z in points)
        bulk += self.made.bulk.value if self.made.bulk is not None else 0.0
        made = make_envelope(self.setting, envelope, box.width, box.height, bulk, self.letter())
        for piece in made.pieces:
            self.add(piece)
        self.figures += made.figures
        assembler = Assembler(made, self.setting.facts, envelope.paper)
        return structs.replace(made, tree=assembler.finish()), tuple(assembler.slabs)

    def more(self, inner: Figure, margin: Figure, key: str, name: str) -> Figure:
        """A size larger by a margin on both sides."""
        formula = "{" + inner.name + "} + 2 × {" + margin.name + "}"
        return derive(key, name, inner.value + 2 * margin.value, formula, inner, margin)


def window_outline(face: Face, window: Window) -> Points:
    """The window on its face as seen: in the middle, lower by its drop."""
    left = (face.width - window.width.mm) / 2
    top = (face.height - window.height.mm) / 2 + window.drop.mm
    return rectangle(window.width.mm, window.height.mm, at=(left, top))


def slit_paths(face: Face, slits: CornerSlits) -> tuple[Points, ...]:
    """The four slits on the face as seen, each across a corner of the insert in its middle.

    A straight slit lies on x + y = catch, measured from the corner; a scalloped one is the arc of a circle over the
    same ends that bulges towards the corner by a fifth of its length.
    """
    left, top = (face.width - slits.width.mm) / 2, (face.height - slits.height.mm) / 2
    right, bottom = left + slits.width.mm, top + slits.height.mm
    catch, over = slits.catch.mm, slits.ease.mm / math.sqrt(2)
    paths = []
    for x, y, sx, sy in ((left, top, 1, 1), (right, top, -1, 1), (right, bottom, -1, -1), (left, bottom, 1, -1)):
        start = (x + sx * (catch + over), y - sy * over)
        end = (x - sx * over, y + sy * (catch + over))
        paths.append((start, end) if slits.style == "straight" else _arc(start, end, (x, y)))
    return tuple(paths)


def _arc(start: tuple[float, float], end: tuple[float, float], towards: tuple[float, float]) -> Points:
    """An arc from start to end that bulges towards a point by a fifth of the chord, flattened at 0.01 mm."""
    chord = math.dist(start, end)
    rise = chord / 5
    radius = (chord * chord / 4 + rise * rise) / (2 * rise)
    middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    reach = math.dist(middle, towards) or 1.0
    ux, uy = (towards[0] - middle[0]) / reach, (towards[1] - middle[1]) / reach
    centre = (middle[0] - ux * (radius - rise), middle[1] - uy * (radius - rise))
    first = math.atan2(start[1] - centre[1], start[0] - centre[0])
    sweep = math.remainder(math.atan2(end[1] - centre[1], end[0] - centre[0]) - first, math.tau)
    steps = max(8, math.ceil(abs(sweep) / (2 * math.acos(1 - 0.01 / max(radius, 0.02)))))
    return tuple(
        (
            centre[0] + radius * math.cos(first + sweep * step / steps),
            centre[1] + radius * math.sin(first + sweep * step / steps),
        )
        for step in range(steps + 1)
    )


def _visible_insert(face: Face, slits: CornerSlits) -> Points:
    """What shows of the insert: its corners are tucked behind the front."""
    left, top = (face.width - slits.width.mm) / 2, (face.height - slits.height.mm) / 2
    right, bottom = left + slits.width.mm, top + slits.height.mm
    c = min(slits.catch.mm, slits.width.mm / 2 - 0.1, slits.height.mm / 2 - 0.1)
    return (
        (left + c, top),
        (right - c, top),
        (right, top + c),
        (right, bottom - c),
        (right - c, bottom),
        (left + c, bottom),
        (left, bottom - c),
        (left, top + c),
    )


def _shift(piece: Piece, made: Made, panel: str) -> tuple[float, float]:
    """From the card's flat sheet to the piece's own coordinates."""
    card, own = made.tree.panel(panel).outline[0], piece.tree.panel(panel).outline[0]
    return own[0] - card[0], own[1] - card[1]


def _move(point: tuple[float, float], shift: tuple[float, float]) -> tuple[float, float]:
    return point[0] + shift[0], point[1] + shift[1]
