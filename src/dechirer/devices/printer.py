"""A printer that draws real pages with faults of its own: wrong scale, skew, shift, an uneven feed, bands.

It renders the PDF that would be printed and moves its ink as a printer would. What became of any place is known
exactly, so that a reading can be held against it.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from msgspec import Struct

from dechirer.core.brief.printer import Printer
from dechirer.core.shape.affine import Affine

MM_PER_INCH = 25.4
WAVES = 3
"""An uneven feed is so many waves over the page, of random phase."""
STRIP_MM = 4.0
"""The page is moved in strips so narrow."""


class Faults(Struct, frozen=True):
    """What one printer does to one page: shares of scale, degrees, mm. `uneven` is the root mean square of what the
    feed strays each way; `bands` how much darker or lighter rows become, as a share; `seed` fixes the waves."""

    scale_x: float = 0.0
    scale_y: float = 0.0
    skew_deg: float = 0.0
    shift_x: float = 0.0
    shift_y: float = 0.0
    uneven: float = 0.0
    bands: float = 0.0
    seed: int = 0


def draw_faults(printer: Printer, seed: int) -> Faults:
    """Faults as a profile's typical errors make them likely, for a seed."""
    random = np.random.default_rng(seed)
    scale = printer.scale_share / 100
    scale_x, scale_y = random.normal(0.0, scale, 2).tolist()
    skew = float(random.normal(0.0, printer.skew_deg))
    shift_x, shift_y = random.normal(0.0, printer.placed_to, 2).tolist()
    return Faults(scale_x, scale_y, skew, shift_x, shift_y, uneven=printer.uneven, bands=0.02, seed=seed)


class Sheet(Struct, frozen=True):
    """A printed sheet: its picture (h, w, 3), its size in mm, and what became of places of the page."""

    picture: Any
    width: float
    height: float
    faults: Faults

    def printed_at(self, places: Any) -> Any:
        """Where ink that belongs at places (n, 2) of the page lies on the sheet, in mm."""
        map = affine_of(self.faults, self.width, self.height)
        points = np.asarray(places, dtype=float)
        x, y = points[:, 0], points[:, 1]
        moved = np.stack([map.a * x + map.c * y + map.e, map.b * x + map.d * y + map.f], axis=1)
        return moved + strays(self.faults, y, self.height)


def affine_of(faults: Faults, width: float, height: float) -> Affine:
    """The even part of a fault: scaled and turned about the sheet's middle, then shifted."""
    angle = math.radians(faults.skew_deg)
    c, s = math.cos(angle), math.sin(angle)
    about = Affine(e=-width / 2, f=-height / 2).then(Affine(1 + faults.scale_x, 0.0, 0.0, 1 + faults.scale_y))
    return about.then(Affine(c, s, -s, c)).then(Affine(e=width / 2 + faults.shift_x, f=height / 2 + faults.shift_y))


def strays(faults: Faults, y: Any, height: float) -> Any:
    """How far an uneven feed moves ink at heights y of a page: (n, 2) in mm."""
    random = np.random.default_rng(faults.seed + 7919)
    found = np.zeros((len(y), 2))
    for axis in (0, 1):
        weights = random.normal(size=WAVES)
        weights *= faults.uneven * math.sqrt(2) / max(float(np.hypot.reduce(weights)), 1e-9)
        phases = random.uniform(0, math.tau, WAVES)
        for wave in range(WAVES):
            found[:, axis] += weights[wave] * np.sin(math.tau * (wave + 1.5) * np.asarray(y) / height + phases[wave])
    return found


def render_page(pdf: bytes, px_per_inch: float) -> tuple[Any, float, float]:
    """A PDF page as an array (h, w, 3), and its width and height in mm.

    Raises:
        ValueError: it is no PDF that can be read.
    """
    import pypdfium2

    try:
        document = pypdfium2.PdfDocument(pdf)
    except pypdfium2.PdfiumError as error:
        raise ValueError(f"the page cannot be read ({error})") from None
    try:
        page = document[0]
        wide, high = (side / 72 * MM_PER_INCH for side in page.get_size())
        picture = np.asarray(page.render(scale=px_per_inch / 72 * (1 - 1e-6)).to_pil().convert("RGB"))
    finally:
        document.close()
    return picture, wide, high


def print_page(pdf: bytes, faults: Faults, *, px_per_inch: float = 300.0) -> Sheet:
    """Print a page with faults."""
    picture, wide, high = render_page(pdf, px_per_inch)
    return Sheet(smear(picture, wide, high, faults), wide, high, faults)


def smear(picture: Any, width: float, height: float, faults: Faults) -> Any:
    """A page's picture with its ink moved, strip by strip."""
    from PIL import Image

    rows, columns = picture.shape[:2]
    across, down = columns / width, rows / height
    back = affine_of(faults, width, height).inverse()
    strips = []
    edges = np.linspace(0, rows, max(2, int(height / STRIP_MM)) + 1).round().astype(int)
    for top, bottom in zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True):
        corners = []
        for x, y in ((0, top), (0, bottom), (columns, bottom), (columns, top)):
            place = (x / across, y / down)
            # Where the ink of this place comes from: the wave is slow, so once more round the loop is enough.
            from_y = back(place)[1]
            stray = strays(faults, [from_y], height)[0]
            source = back((place[0] - stray[0], place[1] - stray[1]))
            corners += [source[0] * across, source[1] * down]
        strips.append(((0, top, columns, bottom), corners))
    image = Image.fromarray(picture)
    moved = image.transform(
        image.size, Image.Transform.MESH, strips, resample=Image.Resampling.BICUBIC, fillcolor=(255, 255, 255)
    )
    found = np.asarray(moved)
    if not faults.bands:
        return found
    random = np.random.default_rng(faults.seed + 104729)
    period, phase = random.uniform(3.0, 7.0), random.uniform(0, math.tau)
    tint = 1 + faults.bands * np.sin(math.tau * np.arange(rows) / down / period + phase)
    ink = 255.0 - found
    return (255.0 - np.clip(ink * tint[:, None, None], 0, 255)).astype(np.uint8)
