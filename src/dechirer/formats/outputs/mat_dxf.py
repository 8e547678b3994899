"""Mats as DXF for other programs: mm, a layer for each operation, curves as splines, y upwards as drawings have it."""

from __future__ import annotations

import io
import re
from typing import Any

from dechirer.core.card.operations import OPERATION, OPERATIONS
from dechirer.core.card.piece import Line
from dechirer.core.card.placed import Placement
from dechirer.core.lay.mat import MatLayout
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Point
from dechirer.formats.fitted import fitted
from dechirer.formats.output import OUTPUTS, unless_skipped

KNOTS = (0.0, 0.0, 0.0, 0.0, 1.0, 1.0, 1.0, 1.0)
"""Of one cubic curve (Bezier) as a spline of degree 3."""


@OUTPUTS.add(
    "mats/{mat}.dxf",
    wanted=unless_skipped("dxf"),
    check=lambda content, layout, plan: read_back(content, layout),
    each="mat",
    order=11,
    about="the same mat as DXF: mm, a layer for each operation",
)
def write_mat_dxf(layout: MatLayout, plan: Plan) -> bytes:
    """One mat as DXF of 2010 in mm; the mat's lower left corner is the origin.

    Layers are called as the operations, a pen's or foil's colour after them; entities come in running order.
    """
    import ezdxf
    from ezdxf import units
    from ezdxf.document import Drawing

    options: Any = vars(ezdxf)["options"]
    options.write_fixed_meta_data_for_testing = True  # no time and no number of its own: equal plans, equal files
    document: Any = Drawing.new("R2010")
    document.units = units.MM
    document.header["$MEASUREMENT"] = 1
    space = document.modelspace()
    high = layout.sheet.mat.height
    for operation in OPERATIONS:
        for placed in layout.placements:
            lines = [line for line in placed.piece.run_lines if line.operation == operation]
            for line in sorted(lines, key=lambda each: each.role == "outline"):
                _draw(space, document, line, placed, high)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def read_back(content: bytes, layout: MatLayout) -> str:
    """Why a DXF does not hold the operations of a mat within its size; empty where it does."""
    layers = set(re.findall(rb"\n  8\n([A-Z]+)", content))
    wanted = {line.operation.upper().encode() for placed in layout.placements for line in placed.piece.run_lines}
    missing = wanted - layers
    if missing:
        return f"it has no {', '.join(sorted(each.decode() for each in missing))}"
    across = [float(x) for x in re.findall(rb"\n 10\n(-?[\d.]+)", content)]
    far = max((abs(x) for x in across), default=0.0)
    return f"a line of it lies {far:.0f} mm away" if far > 2 * layout.sheet.mat.width + 1000.0 else ""


def _draw(space: Any, document: Any, line: Line, placed: Placement, high: float) -> None:
    layer = line.operation.upper() + (f"-{line.colour.removeprefix('#').upper()}" if line.colour else "")
    if layer not in document.layers:
        colour = line.colour or OPERATION[line.operation].stroke
        made = document.layers.add(layer)
        made.rgb = tuple(int(colour[place : place + 2], 16) for place in (1, 3, 5))

    def up(point: Point) -> Point:
        x, y = placed.to_sheet(point)
        return x, high - y

    for path in line.paths:
        start, segments = fitted(path, line.closed)
        here, run = up(start), [up(start)]
        for segment in segments:
            points = [up(point) for point in segment]
            if len(points) == 1:
                run.append(points[0])
            else:
                _straight(space, run, layer)
                curve = space.add_open_spline([here, *points], degree=3, dxfattribs={"layer": layer})
                curve.knots = KNOTS
                run = [points[-1]]
            here = points[-1]
        _straight(space, run, layer)


def _straight(space: Any, run: list[Point], layer: str) -> None:
    """Straight chords one after the other, as one polyline; closed where it ends where it began."""
    if len(run) < 2:
        return
    closed = len(run) > 3 and abs(run[0][0] - run[-1][0]) + abs(run[0][1] - run[-1][1]) < 1e-9
    space.add_lwpolyline(run[:-1] if closed else run, close=closed, dxfattribs={"layer": layer})
