"""What a cutting machine reads: strokes of a file, by an interpreter of its own.

It shares nothing with what writes the files. It understands what our files hold and what a maker's hand or another
program commonly makes of them; whatever else a file holds is refused in words, not guessed.
"""

from __future__ import annotations

import math
import re
import xml.etree.ElementTree as ET
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring
from msgspec import Struct

from dechirer.devices.dxf_files import read_dxf
from dechirer.devices.strokes import FLAT_MM, OPERATIONS, CutterFile, CutterFileError, Stroke, flatten_cubic
from dechirer.formats.untrusted_files import read_regular

MOST_BYTES = 60_000_000
SHAPES = ("path", "line", "polyline", "polygon", "rect", "circle", "ellipse")
SKIPPED = ("title", "desc", "metadata", "defs", "style", "namedview")
UNITS = {"mm": 1.0, "cm": 10.0, "in": 25.4, "pt": 25.4 / 72, "pc": 25.4 / 6, "px": 25.4 / 96, "": 25.4 / 96}
NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?")


class Counting(Struct, frozen=True):
    """How a machine counts: the mat before it (mm), the corner of it that a plotter's file counts from, whether its
    first number runs down the mat, its units to the mm, and how large it draws what it is told (1: true)."""

    width: float = 0.0
    height: float = 0.0
    corner: str = "bottom-left"
    turned: bool = False
    per_mm: float = 40.0
    draws: tuple[float, float] = (1.0, 1.0)

    def on_mat(self, x: float, y: float) -> tuple[float, float]:
        """Where on the mat the machine goes when a plotter's file says x, y."""
        x, y = x / self.per_mm, y / self.per_mm
        if self.turned:
            x, y = y, x
        x, y = x * self.draws[0], y * self.draws[1]
        return self.width - x if "right" in self.corner else x, self.height - y if "bottom" in self.corner else y


AS_USUAL = Counting()


def read_cutter_file(path: Path, counting: Counting = AS_USUAL, operations: tuple[str, ...] = ()) -> CutterFile:
    """Read an SVG, a DXF or a plotter's file.

    Args:
        counting: how the machine takes a plotter's file; of an SVG it only tells how large it draws.
        operations: what each pen number of a plotter's file is, from 1.

    Raises:
        CutterFileError: it is not one of ours, nor could it be run.
        OSError: it cannot be read.
    """
    text = read_regular(path, MOST_BYTES, CutterFileError).decode("utf-8", "replace")
    if path.suffix.lower() == ".svg":
        found = read_svg(text, path.name)
        return found if counting.draws == (1.0, 1.0) else _drawn(found, counting.draws)
    if path.suffix.lower() in (".plt", ".hpgl"):
        return read_plotter(text, path.name, counting, operations)
    if path.suffix.lower() == ".dxf":
        return read_dxf(text, path.name, counting.height)
    raise CutterFileError(f"{path.name}: only .svg, .dxf and .plt files are run")


# --- SVG --------------------------------------------------------------------------------------------------------


def read_svg(text: str, name: str) -> CutterFile:
    """The strokes of an SVG in the order they stand in it; raises as `read_cutter_file`."""
    try:
        root = fromstring(text)
    except (ET.ParseError, DefusedXmlException, ValueError):
        raise CutterFileError(f"{name}: is not an SVG") from None
    if _tag(root) != "svg":
        raise CutterFileError(f"{name}: is not an SVG (it begins with “{_tag(root)}”)")
    width, height = (_size(root, side, name) for side in ("width", "height"))
    box = [float(each) for each in NUMBER.findall(root.get("viewBox") or "")]
    if len(box) != 4 or min(box[2:]) <= 0:
        box = [0.0, 0.0, width / UNITS["px"], height / UNITS["px"]]
    scale = np.array([[width / box[2], 0, -box[0] * width / box[2]], [0, height / box[3], -box[1] * height / box[3]]])
    strokes = tuple(_walk(root, name, np.vstack([scale, [0, 0, 1]]), "", ""))
    return CutterFile(name, width, height, strokes)


def _tag(element: Any) -> str:
    return str(element.tag).rpartition("}")[2]


def _size(root: Any, side: str, name: str) -> float:
    text = (root.get(side) or "").strip()
    found = re.fullmatch(r"([-+0-9.eE]+?)\s*([a-z]*)", text)
    try:
        size = float(found[1]) * UNITS[found[2]] if found is not None else 0.0
    except (ValueError, KeyError):
        size = 0.0
    if not (0 < size < 10_000):
        raise CutterFileError(f"{name}: its {side} “{text[:20]}” is not a mat size")
    return size


def _walk(element: Any, name: str, to_mat: Any, group: str, operation: str) -> Iterator[Stroke]:
    for child in element:
        tag = _tag(child)
        if tag in SKIPPED or not isinstance(child.tag, str):
            continue
        if "display:none" in (child.get("style") or "").replace(" ", "") or child.get("display") == "none":
            continue
        to_child = to_mat @ _transform(child.get("transform"), name)
        if tag in ("g", "svg", "a"):
            inner = child.get("data-operation") or operation
            if inner and inner not in OPERATIONS:
                raise CutterFileError(f"{name}: “{inner[:30]}” is not an operation")
            own = (child.get("id") or group) if child.get("data-piece") else group
            yield from _walk(child, name, to_child, own, inner)
        elif tag in SHAPES:
            for points, closed in _shape(child, tag, name, to_child):
                yield Stroke(operation, group, points, closed)
        else:
            raise CutterFileError(f"{name}: a machine cannot run “{tag}”; make paths of it")


def _transform(text: str | None, name: str) -> Any:
    whole = np.eye(3)
    for kind, inside in re.findall(r"(\w+)\s*\(([^)]*)\)", text or ""):
        values = [float(each) for each in NUMBER.findall(inside)]
        own = np.eye(3)
        if kind == "matrix" and len(values) == 6:
            own[:2] = np.array(values).reshape(3, 2).T
        elif kind == "translate" and values:
            own[:2, 2] = [*values, 0.0][:2]
        elif kind == "scale" and values:
            own[0, 0], own[1, 1] = values[0], values[-1]
        elif kind == "rotate" and len(values) in (1, 3):
            c, s = math.cos(math.radians(values[0])), math.sin(math.radians(values[0]))
            x, y = values[1:] or (0.0, 0.0)
            own = np.array([[c, -s, x - c * x + s * y], [s, c, y - s * x - c * y], [0, 0, 1]])
        else:
            raise CutterFileError(f"{name}: “{kind}({inside[:30]})” is not understood")
        whole = whole @ own
    return whole


def _shape(element: Any, tag: str, name: str, to_mat: Any) -> Iterator[tuple[Any, bool]]:
    def number(key: str) -> float:
        found = NUMBER.match((element.get(key) or "0").strip())
        return float(found[0]) if found else 0.0

    scale = math.sqrt(abs(np.linalg.det(to_mat[:2, :2]))) or 1.0
    if tag == "path":
        parts = _path(element.get("d") or "", name, FLAT_MM / scale)
    elif tag == "line":
        parts = iter([([(number("x1"), number("y1")), (number("x2"), number("y2"))], False)])
    elif tag in ("polyline", "polygon"):
        values = [float(each) for each in NUMBER.findall(element.get("points") or "")]
        parts = iter([(list(zip(values[::2], values[1::2], strict=False)), tag == "polygon")])
    elif tag == "rect":
        x, y, w, h = (number(key) for key in ("x", "y", "width", "height"))
        parts = iter([([(x, y), (x + w, y), (x + w, y + h), (x, y + h)], True)])
    else:
        rx = number("r") if tag == "circle" else number("rx")
        ry = number("r") if tag == "circle" else number("ry")
        count = max(16, math.ceil(math.pi / math.acos(1 - min(0.5, FLAT_MM / scale / max(rx, ry, 0.01)))))
        turn = np.linspace(0, math.tau, count, endpoint=False)
        ring = np.column_stack([number("cx") + rx * np.cos(turn), number("cy") + ry * np.sin(turn)])
        parts = iter([([tuple(each) for each in ring], True)])
    for points, closed in parts:
        if len(points) > 1:
            flat = np.column_stack([np.array(points, float), np.ones(len(points))]) @ to_mat[:2].T
            if not np.isfinite(flat).all():
                raise CutterFileError(f"{name}: a path lies nowhere")
            yield flat, closed


def _path(data: str, name: str, flat: float) -> Iterator[tuple[list[tuple[float, float]], bool]]:
    """The subpaths of path data (SVG 1.1, section 8.3), flattened."""
    pen = _Pen(re.findall(r"[A-Za-z]|[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?", data), name, flat)
    while pen.tokens:
        yield from pen.step()
    if len(pen.points) > 1:
        yield pen.points, False


class _Pen:
    """Follows path data word by word."""

    def __init__(self, tokens: list[str], name: str, flat: float) -> None:
        self.tokens, self.name, self.flat = tokens[::-1], name, flat
        self.command = ""
        self.here = self.start = (0.0, 0.0)
        self.arm: tuple[float, float] | None = None
        self.points: list[tuple[float, float]] = []

    def take(self, count: int) -> list[float]:
        """The next numbers, relative ones made absolute by pairs."""
        found = self.tokens[-count:][::-1]
        if len(found) < count or any(each.isalpha() for each in found):
            raise CutterFileError(f"{self.name}: path data ends in the middle of “{self.command}”")
        del self.tokens[-count:]
        return [float(each) for each in found]

    def step(self) -> Iterator[tuple[list[tuple[float, float]], bool]]:
        """One command; the subpath that ends with it, if one does."""
        if self.tokens[-1].isalpha():
            self.command = self.tokens.pop()
        elif self.command in "Zz":
            raise CutterFileError(f"{self.name}: path data does not begin with a move")
        kind = self.command.upper()
        base = self.here if self.command.islower() else (0.0, 0.0)
        if kind == "Z":
            if self.points:
                yield self.points, True
            self.points, self.here, self.arm = [], self.start, None
        elif kind == "M":
            if len(self.points) > 1:
                yield self.points, False
            x, y = self.take(2)
            self.here = self.start = (base[0] + x, base[1] + y)
            self.points, self.arm = [self.here], None
            self.command = "l" if self.command == "m" else "L"
        elif kind in ("L", "H", "V"):
            self._line(kind, base)
        elif kind in ("C", "S", "Q", "T"):
            self._curve(kind, base)
        else:
            raise CutterFileError(f"{self.name}: path data with “{self.command}” is not understood")

    def _line(self, kind: str, base: tuple[float, float]) -> None:
        if kind == "L":
            x, y = self.take(2)
            there = (base[0] + x, base[1] + y)
        elif kind == "H":
            there = (base[0] + self.take(1)[0], self.here[1])
        else:
            there = (self.here[0], base[1] + self.take(1)[0])
        self.points = self.points or [self.here]
        self.points.append(there)
        self.here, self.arm = there, None

    def _curve(self, kind: str, base: tuple[float, float]) -> None:
        values = self.take({"C": 6, "S": 4, "Q": 4, "T": 2}[kind])
        own = [(base[0] + x, base[1] + y) for x, y in zip(values[::2], values[1::2], strict=True)]
        if kind in ("S", "T"):
            own.insert(0, self.here if self.arm is None else _mirrored(self.arm, self.here))
        self.arm = own[-2]
        controls = [self.here, *own] if len(own) == 3 else _raised(self.here, own[0], own[1])
        self.points = self.points or [self.here]
        self.points += flatten_cubic(controls, self.flat)
        self.here = own[-1]


def _mirrored(arm: tuple[float, float], about: tuple[float, float]) -> tuple[float, float]:
    return 2 * about[0] - arm[0], 2 * about[1] - arm[1]


def _raised(start: Any, arm: Any, end: Any) -> list[Any]:
    """A quadratic curve as a cubic one."""
    first = tuple(a + 2 / 3 * (b - a) for a, b in zip(start, arm, strict=True))
    second = tuple(a + 2 / 3 * (b - a) for a, b in zip(end, arm, strict=True))
    return [start, first, second, end]


# --- pen plotters -----------------------------------------------------------------------------------------------


def _drawn(file: CutterFile, draws: tuple[float, float]) -> CutterFile:
    """An SVG's strokes as a machine draws them that draws larger or smaller."""
    strokes = tuple(
        Stroke(stroke.operation, stroke.group, stroke.points * np.array(draws), stroke.closed)
        for stroke in file.strokes
    )
    return CutterFile(file.name, file.width, file.height, strokes)


def read_plotter(text: str, name: str, counting: Counting, operations: tuple[str, ...]) -> CutterFile:
    """The strokes of a plotter's file: IN, SP, PU, PD, PA and PR; raises as `read_cutter_file` at anything else."""
    plotter = _Plotter(name, counting, operations)
    for word in re.split(r"[;\s]+", text.strip()):
        if word:
            plotter.obey(word)
    plotter.end()
    if not plotter.strokes:
        raise CutterFileError(f"{name}: nothing is drawn in it")
    return CutterFile(name, counting.width, counting.height, tuple(plotter.strokes))


class _Plotter:
    """A pen plotter: its pen, up or down, and where it is."""

    def __init__(self, name: str, counting: Counting, operations: tuple[str, ...]) -> None:
        self.name, self.counting, self.operations = name, counting, operations
        self.strokes: list[Stroke] = []
        self.here, self.down, self.pen, self.absolute = (0.0, 0.0), False, 0, True
        self.run: list[tuple[float, float]] = []

    def end(self) -> None:
        """The pen is lifted."""
        if len(self.run) > 1:
            points = np.array([self.counting.on_mat(x, y) for x, y in self.run])
            closed = len(points) > 3 and bool(np.hypot(*(points[0] - points[-1])) < 1e-9)
            known = 0 < self.pen <= len(self.operations)
            operation = self.operations[self.pen - 1] if known else str(self.pen)
            self.strokes.append(Stroke(operation, "", points[:-1] if closed else points, closed))
        self.run = []

    def obey(self, word: str) -> None:
        """Carry out one word."""
        command, values = word[:2].upper(), [float(each) for each in NUMBER.findall(word[2:])]
        if command == "IN":
            self.here, self.down, self.pen, self.absolute = (0.0, 0.0), False, 0, True
        elif command == "SP":
            self.end()
            self.pen = int(values[0]) if values else 0
        elif command in ("PA", "PR", "PU", "PD"):
            self._go(command, values, word)
        else:
            what = "is no word of a pen plotter's language that is run here"
            raise CutterFileError(f"{self.name}: “{word[:30]}” {what}")

    def _go(self, command: str, values: list[float], word: str) -> None:
        if len(values) % 2:
            raise CutterFileError(f"{self.name}: “{word[:30]}” has half a place")
        if command in ("PA", "PR"):
            self.absolute = command == "PA"
        else:
            if command == "PU":
                self.end()
            self.down = command == "PD"
        if self.down and not self.run:
            self.run = [self.here]
        for x, y in zip(values[::2], values[1::2], strict=True):
            self.here = (x, y) if self.absolute else (self.here[0] + x, self.here[1] + y)
            if self.down:
                self.run.append(self.here)
