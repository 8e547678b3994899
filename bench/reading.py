"""Reading 500 real icon files: against svgelements' parse and flatten, and against an independent renderer."""

from __future__ import annotations

import io
import statistics
import subprocess
import tarfile
import tempfile
import time
from pathlib import Path
from typing import Any

import numpy as np
import resvg_py
import shapely
import svgelements
from PIL import Image

from bench.table import show, verdict
from dechirer.core.brought import Art
from dechirer.core.dress.drawn import Drawn, draw_art
from dechirer.core.shape.curves import FLAT_MM, flatten_all
from dechirer.formats.art.collect import ArtError
from dechirer.formats.art.svg import read_svg

SETS = (("bootstrap-icons@1.13.1", "icons/", 250), ("lucide-static@0.544.0", "icons/", 250))
"""Icon sets of the npm registry: filled areas, and drawn lines."""
SIDE_PX = 512
LARGE_MM = 100.0
"""The size an icon is used at on a card; curves are flattened within 0.01 mm of it."""


def fetch_icons() -> list[tuple[str, bytes]]:
    """Every n-th icon of the sets, by the registry's own command; kept in the temporary folder."""
    found: list[tuple[str, bytes]] = []
    keep = Path(tempfile.gettempdir()) / "dechirer-bench"
    keep.mkdir(exist_ok=True)
    for package, inside, wanted in SETS:
        name = package.replace("@", "-").strip("-") + ".tgz"
        if not (keep / name).exists():
            subprocess.run(["npm", "pack", package, "--silent"], cwd=keep, check=True, capture_output=True)
        with tarfile.open(keep / name) as archive:
            members = [m for m in archive.getmembers() if inside in m.name and m.name.endswith(".svg")]
            members.sort(key=lambda member: member.name)
            step = max(1, len(members) // wanted)
            for member in members[::step][:wanted]:
                handle = archive.extractfile(member)
                if handle is not None:
                    found.append((Path(member.name).name, handle.read()))
    return found


def flatten_with_svgelements(data: bytes) -> int:
    """Parse and flatten with svgelements, at as many chords a curve as ours takes on average. Returns the points."""
    total = 0
    for element in svgelements.SVG.parse(io.BytesIO(data), reify=True).elements():
        if isinstance(element, svgelements.Shape):
            path = svgelements.Path(element)
            for segment in path:
                if isinstance(segment, (svgelements.CubicBezier, svgelements.QuadraticBezier, svgelements.Arc)):
                    total += len(segment.npoint(np.linspace(0, 1, 8)))
                elif segment.end is not None:
                    total += 1
    return total


def render(drawn: Drawn, size_mm: float) -> Any:
    """Where an item is, as a boolean picture of SIDE_PX a side: our outlines, painted by the same renderer."""
    paths = "".join(f'<path d="{word}"/>' for word in _by_polygon(drawn))
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" width="{SIDE_PX}" height="{SIDE_PX}" '
    svg += f'viewBox="0 0 {size_mm} {size_mm}">{paths}</svg>'
    return paint(svg)


def _by_polygon(drawn: Drawn) -> list[str]:
    """One path a polygon; its holes run the other way round."""
    found = []
    for polygon in drawn.areas:
        oriented = shapely.geometry.polygon.orient(polygon)
        rings = (oriented.exterior, *oriented.interiors)
        found.append("".join("M" + "L".join(f"{x:.4f} {y:.4f}" for x, y in ring.coords[:-1]) + "Z" for ring in rings))
    return found


def paint(svg: str) -> Any:
    """The renderer's picture as booleans."""
    return (
        np.asarray(Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=svg, width=SIDE_PX)))))[:, :, 3] > 127
    )


def compare(data: bytes, art: Art) -> float:
    """How well ours covers what the renderer paints: intersection over union at SIDE_PX."""
    size_mm = float(svgelements.SVG.parse(io.BytesIO(data)).width) * 25.4 / 96
    theirs = paint(data.decode())
    ours = render(draw_art(art, LARGE_MM / size_mm, role="print"), LARGE_MM)
    union = np.logical_or(ours, theirs).sum()
    return float(np.logical_and(ours, theirs).sum() / union) if union else 1.0


def main() -> None:
    """Measure and print."""
    icons = fetch_icons()
    read_svg(icons[0][1], icons[0][0])
    draw_art(read_svg(icons[0][1], icons[0][0]), 1.0)
    ours, areas, theirs, refused, shares = 0.0, 0.0, 0.0, [], []
    for name, data in icons:
        began = time.perf_counter()
        try:
            art = read_svg(data, name)
            for group in art.groups:
                flatten_all(group.paths, FLAT_MM, 1.0)
            ours += time.perf_counter() - began
            began = time.perf_counter()
            draw_art(art, 1.0, role="print")
            areas += time.perf_counter() - began
        except ArtError as error:
            refused.append(str(error))
            continue
        began = time.perf_counter()
        flatten_with_svgelements(data)
        theirs += time.perf_counter() - began
        shares.append((compare(data, art), name))
    values = sorted(share for share, _ in shares)
    median, low = statistics.median(values), values[len(values) // 20]
    rows = [
        ("ours: parse, roles, flatten", f"{1000 * ours / len(icons):.2f} ms a file", "", ""),
        ("ours: areas and outlines of lines", f"{1000 * areas / len(icons):.2f} ms a file", "on top of it", ""),
        ("svgelements: parse, flatten", f"{1000 * theirs / len(icons):.2f} ms a file", "the yardstick", ""),
        ("theirs over ours", f"{theirs / ours:.2f}", "wanted at least 2", verdict(theirs / ours >= 2)),
        (f"IoU with resvg at {SIDE_PX} px, median", f"{median:.4f}", "wanted over 0.997", verdict(median > 0.997)),
        ("the same, 5th percentile", f"{low:.4f}", "wanted over 0.99", verdict(low > 0.99)),
        ("refused", "; ".join(refused) or "none", "", verdict(not refused)),
    ]
    show(f"Reading {len(icons)} icon files", rows)
    print("lowest:", ", ".join(f"{name} {share:.4f}" for share, name in sorted(shares)[:6]))


if __name__ == "__main__":
    main()
