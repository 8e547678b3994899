"""A thousand files of strangers, of five unlike sets: read or refused with a reason, outlines and colours against an
independent renderer, typed widths, and time against svgelements' parse and flatten.

The sets are fetched from the package registries into the temporary folder and are not kept in the project; the plots
are written by matplotlib. Each file is read in this process, with its time and the process's peak memory told.
"""

from __future__ import annotations

import io
import re
import resource
import statistics
import subprocess
import sys
import tarfile
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import resvg_py
import shapely
from msgspec import Struct
from PIL import Image

from bench.reading import flatten_with_svgelements
from bench.table import show, verdict
from dechirer.core.brought import Art
from dechirer.core.dress.decisions import Item
from dechirer.core.dress.drawn import draw_art
from dechirer.core.dress.source import Given, draw_from_art
from dechirer.core.length import parse_length
from dechirer.core.shape.curves import FLAT_MM, flatten_all
from dechirer.formats.art.collect import ArtError
from dechirer.formats.art.read import read_art

KEEP = Path(tempfile.gettempdir()) / "dechirer-bench"
PACKED = {
    "icons": (("bootstrap-icons@1.13.1", r"icons/", 100), ("lucide-static@0.544.0", r"icons/", 100)),
    "emoji": (("openmoji@17.0.0", r"color/svg/", 200),),
    "flags": (("flag-icons@7.5.0", r"flags/4x3/", 200),),
    "clip art": (("devicon@2.17.0", r"-original(-wordmark)?\.svg$", 200),),
}
PLOTS = 200
SIDE_PX = 400
LARGE_MM = 100.0
"""The size it is used at on a card: curves are flattened within 0.01 mm of it."""
NEAR = 10
"""Colours this near, of 255 in each part, are the same: renderers round differently."""
SAID = re.compile("gradient|pattern|seen|mask|filter|picture|text|shades|clip|not in the file")
"""What a reader says of paint that it cannot take as it is."""

PLOT = """
import sys, random
import matplotlib
matplotlib.use("svg")
import matplotlib.pyplot as plt
random.seed(1)
for n in range(int(sys.argv[2])):
    fig, axes = plt.subplots(figsize=(3 + n % 4, 2 + n % 3))
    xs = list(range(5 + n % 40))
    ys = [random.random() for _ in xs]
    way = n % 6
    if way == 0: axes.plot(xs, ys, "-o", linewidth=1 + n % 3)
    if way == 1: axes.bar(xs, ys)
    if way == 2: axes.fill_between(xs, ys)
    if way == 3: axes.pie([y + 0.1 for y in ys[:9]])
    if way == 4: axes.scatter(xs, ys, s=40)
    if way == 5: axes.step(xs, ys, linestyle="--")
    matplotlib.rcParams["svg.fonttype"] = "path"
    fig.savefig(f"{sys.argv[1]}/plot-{n:03d}.svg")
    plt.close(fig)
"""


class Told(Struct):
    """What came of one file."""

    name: str
    ours_s: float = 0.0
    theirs_s: float = 0.0
    whole_s: float = 0.0
    refused: str = ""
    share: float = 0.0
    colours: float = 0.0
    said: bool = False
    off_mm: float = 0.0


def fetch(name: str) -> Iterator[tuple[str, bytes]]:
    """The files of a set."""
    KEEP.mkdir(exist_ok=True)
    if name == "plots":
        yield from draw_plots()
        return
    for package, inside, wanted in PACKED[name]:
        kept = KEEP / (package.replace("@", "-").replace("/", "-").strip("-") + ".tgz")
        if not kept.exists():
            subprocess.run(["npm", "pack", package, "--silent"], cwd=KEEP, check=True, capture_output=True)
        with tarfile.open(kept) as archive:
            members = [
                each for each in archive.getmembers() if each.name.endswith(".svg") and re.search(inside, each.name)
            ]
            members.sort(key=lambda member: member.name)
            for member in members[:: max(1, len(members) // wanted)][:wanted]:
                handle = archive.extractfile(member)
                if handle is not None:
                    yield Path(member.name).name, handle.read()


def draw_plots() -> Iterator[tuple[str, bytes]]:
    """Plots as matplotlib writes them."""
    folder, library = KEEP / "plots", KEEP / "matplotlib"
    if not library.exists():
        asked = [sys.executable, "-m", "pip", "install", "--quiet", "--target", str(library), "matplotlib==3.9.2"]
        subprocess.run(asked, check=True)
    folder.mkdir(exist_ok=True)
    if len(list(folder.glob("*.svg"))) < PLOTS:
        made = [sys.executable, "-c", PLOT, str(folder), str(PLOTS)]
        subprocess.run(made, check=True, env={"PYTHONPATH": str(library), "HOME": str(KEEP), "PATH": "/usr/bin:/bin"})
    for path in sorted(folder.glob("*.svg")):
        yield path.name, path.read_bytes()


def look_at(name: str, data: bytes) -> Told:
    """Read one file, and compare."""
    told = Told(name)
    began = time.perf_counter()
    try:
        art = read_art(data, name, set())
    except ArtError as error:
        told.refused = str(error)
        return told
    for group in art.groups:
        flatten_all(group.paths, FLAT_MM, 1.0)
    told.ours_s = time.perf_counter() - began
    scale = LARGE_MM / max(art.width, art.height)
    drawn = draw_art(art, scale, role="print")
    told.whole_s = time.perf_counter() - began
    began = time.perf_counter()
    try:
        flatten_with_svgelements(data)
        told.theirs_s = time.perf_counter() - began
    except (ValueError, TypeError, AttributeError, IndexError, KeyError):
        told.theirs_s = told.ours_s  # it does not read this file
    try:
        theirs = paint(data.decode("utf-8"))
    except ValueError:
        told.share = told.colours = 1.0  # the renderer refuses it
    else:
        told.share, told.colours = compare(paint(as_svg(art.name, drawn, data, scale)), theirs)
    told.said = any(SAID.search(lost) for lost in art.lost)
    told.off_mm = typed_width_missed(art)
    return told


def typed_width_missed(art: Art) -> float:
    """By how much a typed width of 83 mm is missed."""
    item = Item("a", "a", "front", "print", art="art", width=parse_length("83 mm"))
    left, _, right, _ = draw_from_art(item, Given(art, "", (), {}), None).drawn.box()
    return abs(right - left - 83.0) if art.width > 1e-3 else 0.0


def as_svg(name: str, drawn: Any, data: bytes, scale: float) -> str:
    """What we read at a scale, on the same page."""
    from dechirer.formats.art.svg import _parse, _root_size
    from dechirer.formats.art.svg_walk import Walker

    root = _parse(data, name)
    wide, high = _root_size(root, *Walker(root, name).view_box())
    paths = []
    for part in drawn.parts:
        for polygon in part.areas:
            oriented = shapely.geometry.polygon.orient(polygon)
            rings = (oriented.exterior, *oriented.interiors)
            words = "".join("M" + "L".join(f"{x:.4f} {y:.4f}" for x, y in ring.coords[:-1]) + "Z" for ring in rings)
            paths.append(f'<path d="{words}" fill="{part.colour}"/>')
    mm = 25.4 / 96 * scale
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide}" height="{high}" viewBox="0 0 {wide * mm} {high * mm}">'
        + "".join(paths)
        + "</svg>"
    )


def paint(svg: str) -> Any:
    """The renderer's picture: (h, w, 4)."""
    return np.asarray(Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=svg, width=SIDE_PX)))))


def compare(ours: Any, theirs: Any) -> tuple[float, float]:
    """Intersection over union of what is painted, and the share of what the renderer paints in our colour."""
    high = min(ours.shape[0], theirs.shape[0])
    ours, theirs = ours[:high].astype(int), theirs[:high].astype(int)
    one, other = ours[:, :, 3] > 127, theirs[:, :, 3] > 127
    union = np.logical_or(one, other).sum()
    solid = theirs[:, :, 3] > 250
    near = (np.abs(ours[:, :, :3] - theirs[:, :, :3]).max(axis=2) <= NEAR) & one
    # Edges are blends: a pixel beside another colour of theirs is not asked.
    inner = solid.copy()
    for dy, dx in ((0, 1), (0, -1), (1, 0), (-1, 0)):
        beside = np.roll(theirs, (dy, dx), axis=(0, 1))
        inner &= np.abs(beside - theirs).max(axis=2) <= NEAR
    share = np.logical_and(one, other).sum() / union if union else 1.0
    return float(share), float((near & inner).sum() / inner.sum()) if inner.any() else 1.0


def main() -> None:
    """Measure and print."""
    rows: list[tuple[str, str, str, str]] = []
    every: list[Told] = []
    for name in sys.argv[1:] or (*PACKED, "plots"):
        found = [look_at(*file) for file in fetch(name)]
        every += found
        read = [each for each in found if not each.refused]
        faster = statistics.median(each.theirs_s / each.ours_s for each in read)
        median = 1000 * statistics.median(each.ours_s for each in read)
        rows.append((f"{name}: {len(read)} of {len(found)} read", f"{median:.1f} ms", "median of a file", ""))
        rows.append((f"{name}: svgelements over ours", f"{faster:.2f}", "wanted at least 3", verdict(faster >= 3)))
    read = [each for each in every if not each.refused]
    shares = sorted(each.share for each in read)
    median, low = statistics.median(shares), shares[len(shares) // 20]
    right = [each for each in read if each.colours >= 0.99]
    told = [each for each in read if each.colours >= 0.99 or each.said]
    worst, slow = max(each.off_mm for each in read), max(each.whole_s for each in read)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    rows += [
        ("IoU with the renderer, median", f"{median:.4f}", "wanted over 0.999", verdict(median > 0.999)),
        ("the same, 5th percentile", f"{low:.4f}", "wanted over 0.995", verdict(low > 0.995)),
        ("colours right on 99 % of pixels", f"{100 * len(right) / len(read):.1f} % of files", "", ""),
        (
            "the same, or said what is not",
            f"{100 * len(told) / len(read):.1f} %",
            "wanted 95 %",
            verdict(len(told) >= 0.95 * len(read)),
        ),
        ("typed width missed by at most", f"{worst:.5f} mm", "wanted 0.01 mm", verdict(worst <= 0.01)),
        ("slowest file, drawn", f"{slow:.2f} s", "wanted under 5 s", verdict(slow < 5)),
        ("most memory of the process", f"{peak:.0f} MB", "wanted under 500 MB", verdict(peak < 500)),
    ]
    show(f"Reading {len(every)} files of strangers", rows)
    for each in every:
        if each.refused:
            print("refused:", each.refused)
    print(
        "lowest:", ", ".join(f"{each.name} {each.share:.4f}" for each in sorted(read, key=lambda each: each.share)[:12])
    )
    wrong = sorted((each for each in read if each not in told), key=lambda each: each.colours)[:12]
    print("colours:", ", ".join(f"{each.name} {each.colours:.3f}" for each in wrong))


if __name__ == "__main__":
    main()
