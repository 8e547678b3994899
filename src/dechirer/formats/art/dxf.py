"""Reads DXF into groups of paths in mm: lines, arcs, circles, ellipses, polylines with bulges, splines, inserts.

Layers become groups. Parsing is ezdxf's; entities are walked here. DXF has y running up; it is turned over.
"""

from __future__ import annotations

import io
import math
from typing import Any

from dechirer.core.dress.brought import Art
from dechirer.formats.art.collect import ArtError, Collector, Key, Segments, Sheet, make_art

MOST_BYTES = 60_000_000
MOST_ENTITIES = 100_000
UNITS: dict[int, tuple[str, float]] = {
    1: ("inches", 25.4),
    2: ("feet", 304.8),
    4: ("millimetres", 1.0),
    5: ("centimetres", 10.0),
    6: ("metres", 1000.0),
    13: ("microns", 0.001),
    14: ("decimetres", 100.0),
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
        walker.add(entity, 0)
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
        RecursionError,
    ) as error:
        raise ArtError(f"{name}: the DXF is damaged ({str(error)[:120]})") from None
    return document


class _Walker:
    def __init__(self, name: str, factor: float, document: Any) -> None:
        self.name, self.factor, self.document = name, factor, document
        self.collector = Collector(name)
        self.box = (math.inf, math.inf, -math.inf, -math.inf)
        self.count = 0

    def add(self, entity: Any, depth: int) -> None:
        """Take an entity, or what an insert holds. Raises ArtError when there are too many or nested too deep."""
        self.count += 1
        if self.count > MOST_ENTITIES:
            raise ArtError(f"{self.name}: has over {MOST_ENTITIES:,} entities")
        kind = entity.dxftype()
        if kind == "INSERT":
            if depth > 8:
                raise ArtError(f"{self.name}: blocks are nested deeper than 8")
            for child in entity.virtual_entities():
                self.add(child, depth + 1)
            return
        if kind in ("TEXT", "MTEXT", "ATTRIB", "DIMENSION", "HATCH", "IMAGE", "LEADER", "POINT", "VIEWPORT"):
            self.collector.lose(kind.lower())
            return
        if int(entity.dxf.get("invisible", 0)) or self._is_off(entity):
            return
        from ezdxf import path

        try:
            made = path.make_path(entity)
        except (TypeError, ValueError, ZeroDivisionError, ArithmeticError):
            self.collector.lose(kind.lower())
            return
        self._write(entity, made)

    def _is_off(self, entity: Any) -> bool:
        layers = self.document.layers
        name = entity.dxf.get("layer", "0")
        if name not in layers:
            return False
        layer = layers.get(name)
        return bool(layer.is_off() or layer.is_frozen())

    def _write(self, entity: Any, made: Any) -> None:
        out = Segments()
        f = self.factor

        def at(v: Any) -> tuple[float, float]:
            return v.x * f, -v.y * f

        closed = bool(made.is_closed)
        try:
            for part in made.sub_paths() if made.has_sub_paths else (made,):
                out.add("M", at(part.start))
                here = part.start
                for command in part.commands():
                    kind = command.type.name
                    if kind == "LINE_TO":
                        out.add("L", at(command.end))
                    elif kind == "CURVE3_TO":
                        one = here + (command.ctrl - here) * (2 / 3)
                        two = command.end + (command.ctrl - command.end) * (2 / 3)
                        out.add("C", at(one), at(two), at(command.end))
                    elif kind == "CURVE4_TO":
                        out.add("C", at(command.ctrl1), at(command.ctrl2), at(command.end))
                    here = command.end
                if closed or part.is_closed:
                    out.close()
        except ArtError as error:
            raise ArtError(f"{self.name}: a {entity.dxftype().lower()} on layer {entity.dxf.layer}: {error}") from None
        if len(out.parts) < 2:
            return
        a = self.box
        self.box = (min(a[0], out.left), min(a[1], out.top), max(a[2], out.right), max(a[3], out.bottom))
        layer = str(entity.dxf.get("layer", "0"))
        self.collector.add(
            Key("" if layer == "0" else layer, self._colour(entity), 0.1, dash=self._dash(entity)), out.text()
        )

    def _colour(self, entity: Any) -> str:
        from ezdxf import colors

        true = entity.dxf.get("true_color")
        if true is not None:
            return "#" + "".join(f"{part:02x}" for part in colors.int2rgb(int(true)))
        index = int(entity.dxf.get("color", 256))
        if index == 256:
            layers = self.document.layers
            name = entity.dxf.get("layer", "0")
            index = abs(int(layers.get(name).color)) if name in layers else 7
        if index in (0, 7) or not 1 <= index <= 255:
            return "#000000"
        return "#" + "".join(f"{part:02x}" for part in colors.aci2rgb(index))

    def _dash(self, entity: Any) -> tuple[float, ...]:
        line = str(entity.dxf.get("linetype", "BYLAYER")).upper()
        if line == "BYLAYER":
            layers = self.document.layers
            name = entity.dxf.get("layer", "0")
            line = str(layers.get(name).dxf.linetype).upper() if name in layers else "CONTINUOUS"
        return () if line in ("CONTINUOUS", "BYBLOCK", "BYLAYER") else (3.0, 2.0)
