"""Mats as SVG at true size: root in mm, one group per piece, inside it one group per operation in running order."""

from __future__ import annotations

import re
from xml.sax.saxutils import escape, quoteattr

from defusedxml.ElementTree import fromstring

from dechirer.core.brief.files import FilesTaken
from dechirer.core.card.operations import OPERATION, OPERATIONS
from dechirer.core.card.placed import Placement
from dechirer.core.lay.mat import MatLayout
from dechirer.core.plan import Plan
from dechirer.core.run.run import MatRun, Pass
from dechirer.core.run.tools import Kind, kind_of
from dechirer.core.shape.affine import Affine, Point, Points
from dechirer.formats.fitted import fitted
from dechirer.formats.output import OUTPUTS, unless_skipped

BLACK = "#000000"
DECIMALS = 4
"""Coordinates are rounded once, here, to a ten-thousandth of a millimetre."""


@OUTPUTS.add(
    "mats/{mat}.svg",
    wanted=unless_skipped("svg"),
    check=lambda content, layout, plan: read_back(content, layout),
    each="mat",
    order=10,
    about="a mat at true size, a group for each piece and operation",
)
def write_mat_svg(layout: MatLayout, plan: Plan, only: Kind | None = None) -> bytes:
    """One mat as SVG.

    The root's `width` and `height` are the mat's in mm and the `viewBox` counts mm, so 1 user unit is 1 mm.
    Sheets, margins and guides are not written: every line in the file is a line to be run. With `only` one
    kind of pass alone.
    """
    title = f"{plan.job.name}: mat {layout.number}, cut {layout.repeats} times"
    width, height = _number(layout.sheet.mat.width), _number(layout.sheet.mat.height)
    parts = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="0 0 {width} {height}" fill="none" stroke-width="0.2">',
        f"  <title>{escape(title)}</title>",
    ]
    files = plan.job.brief.machine.files
    if files.stretch is not None:
        larger = f"{files.across:g} by {files.down:g} times as large"
        parts.append(f"  <desc>Written {larger} for {escape(plan.job.brief.machine.name)}</desc>")
    for placed in layout.placements:
        parts += _write_piece(placed, only, files)
    parts.append("</svg>\n")
    return "\n".join(parts).encode()


def read_back(content: bytes, layout: MatLayout) -> str:
    """Why an SVG does not hold what is run on a mat, each path once and in its place; empty where it does."""
    root = fromstring(content)
    if root.get("width") != f"{_number(layout.sheet.mat.width)}mm":
        return f"its width is {root.get('width')}"
    paths = [each for each in root.iter() if each.tag.endswith("path")]
    wanted = sum(len(line.paths) for placed in layout.placements for line in placed.piece.run_lines)
    if len(paths) != wanted or len({each.get("id") for each in paths}) != wanted:
        return f"it has {len(paths)} paths for {wanted} lines"
    far = max(
        (abs(float(number)) for each in paths for number in re.findall(r"-?\d+\.?\d*", each.get("d") or "")), default=0
    )
    largest = 2 * max(layout.sheet.mat.width, layout.sheet.mat.height)
    return f"a line of it lies {far:.0f} mm away" if far > largest else ""


@OUTPUTS.add(
    "passes/{pass}.svg",
    wanted=lambda plan: plan.job.run.split,
    each="pass",
    order=10,
    about="one pass of a mat alone, for machines that take a tool at a time",
)
def write_pass_svg(what: tuple[MatRun, Pass], plan: Plan) -> bytes:
    """One pass of a mat as SVG, in the frame of its mat."""
    mat, made = what
    return write_mat_svg(mat.layout, plan, made.tool.kind)


def _write_piece(placed: Placement, only: Kind | None, files: FilesTaken) -> list[str]:
    """A piece's lines, refitted to curves as they lie on the piece, then mapped: each shape is fitted once."""
    to_mat = placed.to_sheet if files.stretch is None else placed.to_sheet.then(files.stretch)
    parts = [f"  <g id={quoteattr(placed.id)} data-piece={quoteattr(placed.piece.name)}>"]
    lines = placed.piece.run_lines
    kinds = {kind_of(each) for each in lines if only in (None, kind_of(each))}
    for kind in sorted(kinds, key=lambda kind: (OPERATIONS.index(kind.operation), *kind[1:])):
        # Inner cuts come before the outline, so that the piece stays put until the last.
        mine = sorted(
            (each for each in lines if kind_of(each) == kind),
            key=lambda each: each.role == "outline",
        )
        stroke = BLACK if files.one_colour else kind.colour or OPERATION[kind.operation].stroke
        tip = f' data-tip="{kind.tip:g}mm"' if kind.tip else ""
        parts.append(f'    <g data-operation="{kind.operation}" stroke="{stroke}"{tip}>')
        for line in mine:
            for number, path in enumerate(line.paths, start=1):
                name = f"{placed.id}-{line.id.removeprefix(placed.piece.id + '-')}"
                name = name if len(line.paths) == 1 else f"{name}-{number}"
                parts.append(f'      <path id={quoteattr(name)} d="{_path(path, line.closed, to_mat)}"/>')
        parts.append("    </g>")
    parts.append("  </g>")
    return parts


def _path(path: Points, closed: bool, to_sheet: Affine) -> str:
    start, segments = fitted(path, closed)
    if closed and segments and len(segments[-1]) == 1:
        segments = segments[:-1]  # Z draws the last straight line
    words = [f"M{_point(to_sheet(start))}"]
    for segment in segments:
        letter = "L" if len(segment) == 1 else "C"
        words.append(f"{letter}{' '.join(_point(to_sheet(point)) for point in segment)}")
    return " ".join(words) + (" Z" if closed else "")


def _point(point: Point) -> str:
    return f"{_number(point[0])} {_number(point[1])}"


def _number(value: float) -> str:
    text = f"{value:.{DECIMALS}f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text
