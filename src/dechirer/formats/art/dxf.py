"""Reads DXF into groups of paths in mm: lines, arcs, circles, ellipses, polylines with bulges, splines, inserts.

Layers become groups. Parsing is ezdxf's; entities are walked here. DXF has y running up; it is turned over.
"""

from __future__ import annotations

import io
import logging
import math
from typing import Any

from msgspec import Struct, structs

from dechirer.core.brought import Art
from dechirer.core.shape.affine import Point
from dechirer.formats.art.collect import FAR_AWAY_MM, ArtError, Collector, Key, Sheet, make_art
from dechirer.formats.art.stretches import Stretch, join_ends

MOST_BYTES = 60_000_000
MOST_ENTITIES = 100_000
LINE_MM = 0.1
MEET_MM = 0.02
"""Ends this near each other meet: drawing programs round what they write to about a hundredth."""
BY_BLOCK, BY_LAYER = 0, 256
LEFT_OUT = frozenset(
    [
        "TEXT",
        "MTEXT",
        "ATTRIB",
        "ATTDEF",
        "DIMENSION",
        "HATCH",
        "IMAGE",
        "LEADER",
        "POINT",
        "VIEWPORT",
        "WIPEOUT",
        "XLINE",
        "RAY",
    ]
)
UNITS: dict[int, tuple[str, float]] = {
    1: ("inches", 25.4),
    2: ("feet", 304.8),
    3: ("miles", 1_609_344.0),
    4: ("millimetres", 1.0),
    5: ("centimetres", 10.0),
    6: ("metres", 1000.0),
    7: ("kilometres", 1_000_000.0),
    8: ("microinches", 2.54e-5),
    9: ("mils", 0.0254),
    10: ("yards", 914.4),
    11: ("angstroms", 1e-7),
    12: ("nanometres", 1e-6),
    13: ("microns", 0.001),
    14: ("decimetres", 100.0),
    15: ("decametres", 10_000.0),
    16: ("hectometres", 100_000.0),
}
"""$INSUNITS of the DXF reference: the unit's name and its size in mm."""


def read_dxf(data: bytes, name: str, id: str = "art", *, mm_per_unit: float | None = None) -> Art:
    """Read a DXF.

    Args:
        mm_per_unit: what one unit is, when the maker knows better than the file.

    Raises:
        ArtError: not a DXF, damaged, too large, or nothing to cut in it.
    """
    if len(data) > MOST_BYTES:
        raise ArtError(f"{name}: is {len(data) / 1e6:.0f} MB; up to {MOST_BYTES / 1e6:.0f} MB is read")
    document = _parse(data, name)
    unit = UNITS.get(int(document.header.get("$INSUNITS", 0) or 0))
    factor = mm_per_unit or (unit[1] if unit else 1.0)
    if mm_per_unit:
        settled, doubt = f"by you: one unit is {mm_per_unit:g} mm", ""
    elif unit:
        settled, doubt = f"by the file: its units are {unit[0]}", ""
    else:
        settled = "as if its units were millimetres"
        doubt = "the file does not say its unit; drawings are also made in inches"
    walker = _Walker(name, factor, document)
    for entity in document.modelspace():
        walker.add(entity, TOP, 0)
    walker.finish()
    box = walker.box
    sheet = Sheet(walker.collector.groups(), settled, doubt, walker.collector.losses())
    return make_art(id, name, sheet, box)


def _parse(data: bytes, name: str) -> Any:
    from ezdxf import recover
    from ezdxf.lldxf.const import DXFError

    if data[:22] == b"AutoCAD Binary DXF\r\n\x1a\x00":
        raise ArtError(f"{name}: is a binary DXF; save it as text")
    if b"SECTION" not in data[:20_000]:
        raise ArtError(f"{name}: is not a DXF")
    # What the parser mends on the way is nobody's concern: one line says what became of the file.
    logging.getLogger("ezdxf").setLevel(logging.CRITICAL + 1)
    try:
        document, _ = recover.read(io.BytesIO(data))
    except (
        DXFError,
        OSError,
        ValueError,
        TypeError,
        KeyError,
        IndexError,
        AttributeError,
        AssertionError,
        RecursionError,
    ) as error:
        why = f" ({str(error)[:120]})" if isinstance(error, (DXFError, OSError)) else ""
        raise ArtError(f"{name}: the DXF is damaged{why}") from None
    return document


class Block(Struct, frozen=True):
    """What an insert gives to what its block holds: the layer of what lies on layer 0, and its own colour and dashes
    (DXF reference: layer 0 and BYBLOCK)."""

    layer: str = "0"
    colour: str = "#000000"
    dash: tuple[float, ...] = ()


TOP = Block()


class _Walker:
    def __init__(self, name: str, factor: float, document: Any) -> None:
        self.name, self.factor, self.document = name, factor, document
        self.collector = Collector(name)
        self.box = (math.inf, math.inf, -math.inf, -math.inf)
        self.count = 0
        self.origin: tuple[float, float] | None = None
        self.found: dict[Key, list[Stretch]] = {}

    def add(self, entity: Any, above: Block, depth: int) -> None:
        """Take an entity, or what an insert holds. Raises ArtError when there are too many or nested too deep."""
        self.count += 1
        self.collector.budget.spend()
        if self.count > MOST_ENTITIES:
            raise ArtError(f"{self.name}: has over {MOST_ENTITIES:,} entities")
        kind = entity.dxftype()
        if kind in LEFT_OUT:
            self.collector.lose(kind.lower())
            return
        layer = self._layer(entity, above)
        if self._is_hidden(entity) or self._is_off(layer):
            return
        if kind == "INSERT":
            if depth > 8:
                raise ArtError(f"{self.name}: blocks are nested deeper than 8")
            inside = Block(layer, self._colour(entity, layer, above), self._dash(entity, layer, above))
            for insert in entity.multi_insert() if entity.mcount > 1 else (entity,):
                for child in insert.virtual_entities():
                    self.add(child, inside, depth + 1)
            return
        from ezdxf import path

        try:
            made = path.make_path(entity)
        except (TypeError, ValueError, ZeroDivisionError, ArithmeticError):
            self.collector.lose(kind.lower())
            return
        key = Key("" if layer == "0" else layer, self._colour(entity, layer, above), LINE_MM)
        self._write(entity, structs.replace(key, dash=self._dash(entity, layer, above)), made)

    def finish(self) -> None:
        """Hand over what was found: lines and arcs that meet end to end as one outline."""
        for key, stretches in self.found.items():
            for stretch in join_ends(stretches, MEET_MM, self.collector.budget):
                out = stretch.write()
                a = self.box
                self.box = (min(a[0], out.left), min(a[1], out.top), max(a[2], out.right), max(a[3], out.bottom))
                self.collector.add(key, out.text())

    def _layer(self, entity: Any, above: Block) -> str:
        own = str(entity.dxf.get("layer", "0"))
        return above.layer if own == "0" else own

    def _is_hidden(self, entity: Any) -> bool:
        return bool(entity.dxf.is_supported("invisible") and int(entity.dxf.get("invisible", 0)))

    def _is_off(self, name: str) -> bool:
        """Whether a layer is off, frozen or not plotted: what is on it is not meant to be made."""
        layers = self.document.layers
        if name not in layers:
            return False
        layer = layers.get(name)
        return bool(layer.is_off() or layer.is_frozen() or not int(layer.dxf.get("plot", 1)))

    def _write(self, entity: Any, key: Key, made: Any) -> None:
        f = self.factor
        if self.origin is None:
            # Survey drawings lie kilometres from their origin; the page begins with what is drawn first.
            far = max(abs(made.start.x), abs(made.start.y)) * f > FAR_AWAY_MM
            self.origin = (made.start.x, made.start.y) if far else (0.0, 0.0)
        left, top = self.origin

        def at(v: Any) -> Point:
            return (v.x - left) * f, (top - v.y) * f

        closed = bool(made.is_closed)
        try:
            for part in made.sub_paths() if made.has_sub_paths else (made,):
                stretch, here = Stretch(at(part.start)), part.start
                for command in part.commands():
                    kind = command.type.name
                    if kind == "LINE_TO":
                        stretch.add(at(command.end))
                    elif kind == "CURVE3_TO":
                        one = here + (command.ctrl - here) * (2 / 3)
                        two = command.end + (command.ctrl - command.end) * (2 / 3)
                        stretch.add(at(one), at(two), at(command.end))
                    elif kind == "CURVE4_TO":
                        stretch.add(at(command.ctrl1), at(command.ctrl2), at(command.end))
                    here = command.end
                stretch.closed = closed or part.is_closed
                if stretch.steps:
                    stretch.write()  # says at once when a point is no place on earth
                    self.found.setdefault(key, []).append(stretch)
        except ArtError as error:
            raise ArtError(f"{self.name}: a {entity.dxftype().lower()} on layer {entity.dxf.layer}: {error}") from None

    def _colour(self, entity: Any, layer: str, above: Block) -> str:
        from ezdxf import colors

        true = entity.dxf.get("true_color")
        if true is not None:
            return "#" + "".join(f"{part:02x}" for part in colors.int2rgb(int(true)))
        index = int(entity.dxf.get("color", BY_LAYER))
        if index == BY_BLOCK:
            return above.colour
        if index == BY_LAYER:
            layers = self.document.layers
            index = abs(int(layers.get(layer).color)) if layer in layers else 7
        if index in (0, 7) or not 1 <= index <= 255:
            return "#000000"
        return "#" + "".join(f"{part:02x}" for part in colors.aci2rgb(index))

    def _dash(self, entity: Any, layer: str, above: Block) -> tuple[float, ...]:
        line = str(entity.dxf.get("linetype", "BYLAYER")).upper()
        if line == "BYBLOCK":
            return above.dash
        if line == "BYLAYER":
            layers = self.document.layers
            line = str(layers.get(layer).dxf.linetype).upper() if layer in layers else "CONTINUOUS"
        return () if line in ("CONTINUOUS", "BYBLOCK", "BYLAYER") else (3.0, 2.0)
