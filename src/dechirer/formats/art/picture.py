"""Reads PNG, JPEG, WebP and TIFF pictures: their pixels, and outlines from their transparency or from a plain
background, sub-pixel, with holes. A picture that fills its frame has its edge for an outline.

The level set of a lightly blurred mask is followed at half its height, which places an edge within a few hundredths
of a pixel; nodes that matter less than a stated tolerance are dropped.
"""

from __future__ import annotations

import io
import warnings
from typing import Any

from msgspec import structs

from dechirer.core.brought import NOISE, Art, Pixels
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.contour import find_rings
from dechirer.core.shape.curves import Run, areas_of
from dechirer.formats.art.collect import ArtError, Collector, Key, Segments, Sheet, make_art
from dechirer.formats.art.pixels import pack, to_eight_bits

FORMATS = ("PNG", "JPEG", "WEBP", "TIFF")
MOST_BYTES = 100_000_000
MOST_PIXELS = 80_000_000
WITHIN_PX = 0.05
"""How far a traced outline may be moved by dropping nodes, at the picture's own size."""
SPECK_PX = 12.0
"""Items smaller than this many pixels are specks."""
PLAIN = 28
"""How far a pixel's colour is from the background's, of 255, to count as the figure."""
MOST_ITEMS = 400
MOST_RINGS = 3000
NOISE_ITEMS, NOISE_PX = 100, 40.0
ORIENTATION, SIDEWAYS = 0x0112, (5, 6, 7, 8)
"""The tag of how a camera was held (EXIF 2.3), and the ways that lay it on its side."""


def read_picture(data: bytes, name: str, id: str = "art", *, px_per_inch: float | None = None) -> Art:
    """Read and trace a picture. Each item of it becomes a group of its own, in its mean colour, the largest first; one
    that fills its frame is printed whole.

    Args:
        px_per_inch: what its pixels are, when the maker knows better than the file.

    Raises:
        ArtError: not a picture, damaged, too large, or nothing to be seen in it.
    """
    if len(data) > MOST_BYTES:
        raise ArtError(f"{name}: is {len(data) / 1e6:.0f} MB; up to {MOST_BYTES / 1e6:.0f} MB is read")
    image, was, dpi, more = _open(data, name)
    packed = pack(image, data, was)
    collector = Collector(name)
    if more:
        collector.lose("a further picture of the file", more)
    outlines, colours = _find_outlines(image, name, collector)
    across, down, settled, doubt = _settle(px_per_inch, dpi)
    wide, high = 25.4 / across, 25.4 / down
    left, top, right, bottom = _total_bounds([polygon for _, polygon in outlines])
    for title, polygon in outlines:
        path = _path_of(polygon, Affine(wide, 0.0, 0.0, high, -left * wide, -top * high))
        collector.add(Key(title, _mean_colour(colours, polygon), 0.0), path)
    sheet = Sheet(collector.groups(), settled, doubt, (*collector.losses(), *packed.said))
    art = make_art(id, name, sheet, (0.0, 0.0, (right - left) * wide, (bottom - top) * high))
    each = (wide / packed.smaller, high / packed.smaller)
    said = "; ".join(packed.said)[:200]
    pixels = Pixels(packed.data, packed.width, packed.height, -left * wide, -top * high, *each, said)
    return structs.replace(art, pixels=pixels)


def _find_outlines(image: Any, name: str, collector: Collector) -> tuple[list[tuple[str, Any]], Any]:
    """The outlines of a picture in pixels, the largest first, each with a name, and its colours. The frame alone where
    nothing can be told from a ground; what was left out is counted.

    Raises:
        ArtError: there is nothing on its ground.
    """
    mask, how, colours = _mask(image)
    whole = [("picture", _frame(image))]
    if mask is None:
        return whole, colours
    try:
        polygons, specks = trace(mask)
    except ArtError:
        collector.lose("its own outlines, which are too many to be followed: it is taken whole")
        return whole, colours
    if not polygons:
        raise ArtError(f"{name}: nothing stands out from the {how}")
    if specks:
        collector.lose("a speck or line thinner than about 2 pixels", specks)
    if len(polygons) > NOISE_ITEMS and sum(polygon.area < NOISE_PX for polygon in polygons) > len(polygons) / 2:
        collector.lose(f"{NOISE} {len(polygons)} items, most of them tiny: is this noise, or a photograph?")
    polygons.sort(key=lambda polygon: -polygon.area)
    if len(polygons) > MOST_ITEMS:
        collector.lose(f"{len(polygons) - MOST_ITEMS} small items")
    return [(f"item {number}", polygon) for number, polygon in enumerate(polygons[:MOST_ITEMS], start=1)], colours


def _settle(px_per_inch: float | None, dpi: tuple[float, float] | None) -> tuple[float, float, str, str]:
    """Pixels to the inch across and down, where that comes from, and what speaks against it."""
    if px_per_inch:
        return px_per_inch, px_per_inch, f"by you: {px_per_inch:g} px to the inch", ""
    if dpi:
        said = f"{dpi[0]:g}" if dpi[0] == dpi[1] else f"{dpi[0]:g} by {dpi[1]:g}"
        words = f"at {said} px to the inch, as the file says"
        return *dpi, words, "pictures often carry a number nobody chose"
    return 300.0, 300.0, "at 300 px to the inch, as for print", "the picture does not say how large its pixels are"


def _path_of(polygon: Any, to_mm: Affine) -> str:
    """A polygon in pixels as path data in mm."""
    out = Segments()
    for ring in (polygon.exterior, *polygon.interiors):
        points = to_mm.all(ring.coords[:-1])
        out.add("M", points[0])
        for point in points[1:]:
            out.add("L", point)
        out.close()
    return out.text()


def _frame(image: Any) -> Any:
    """The edge of a picture as an outline, in pixels."""
    import shapely

    return shapely.box(0, 0, image.width, image.height)


def _open(data: bytes, name: str) -> tuple[Any, Any, tuple[float, float] | None, int]:
    """The first picture of a file turned as it was taken and as it is in the file, its pixels per inch across and down,
    and how many more the file has."""
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            image = Image.open(io.BytesIO(data), formats=FORMATS)
            wide, high = image.size
            if wide * high > MOST_PIXELS:
                raise ArtError(f"{name}: has {wide} x {high} pixels; up to {MOST_PIXELS / 1e6:.0f} million are read")
            more = getattr(image, "n_frames", 1) - 1
            image.load()
            dpi = image.info.get("dpi")
            turned = image.getexif().get(ORIENTATION, 1) in SIDEWAYS
            held = image.getexif().get(ORIENTATION, 1) != 1
            upright: Any = ImageOps.exif_transpose(image) if held else image
    except Image.DecompressionBombError:
        raise ArtError(f"{name}: has far over the {MOST_PIXELS / 1e6:.0f} million pixels that are read") from None
    except UnidentifiedImageError:
        raise ArtError(f"{name}: is not a PNG, JPEG, WebP or TIFF picture") from None
    except ArtError:
        raise
    except (OSError, ValueError, SyntaxError, MemoryError, OverflowError):
        raise ArtError(f"{name}: the picture is damaged") from None
    try:
        across, down = (round(float(each), 1) for each in dpi or ())
    except (TypeError, ValueError, ZeroDivisionError):
        return upright, image, None, more
    if not (20 < across < 5000 and 20 < down < 5000):
        return upright, image, None, more
    return upright, image, (down, across) if turned else (across, down), more


def _mask(image: Any) -> tuple[Any, str, Any]:
    """How much of each pixel is figure (0 to 255), what it was told from, and the picture's colours. There is no mask
    where the figure cannot be told from its ground: all of it is the picture."""
    import numpy as np

    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        whole = image.convert("RGBA")
        alpha = np.asarray(whole.getchannel("A"))
        most = int(alpha.max())
        if int(alpha.min()) < 250 and most:
            # What is nowhere solid is taken by its own half strength.
            alpha = alpha if most > 250 else (alpha.astype(np.float32) * (255 / most)).astype(np.uint8)
            return alpha, "transparent background", np.asarray(whole.convert("RGB"))
        image = whole
    colours = np.asarray(to_eight_bits(image).convert("RGB"))
    edge = np.concatenate([colours[0], colours[-1], colours[:, 0], colours[:, -1]]).astype(np.int16)
    ground = np.median(edge, axis=0)
    if np.mean(np.abs(edge - ground).max(axis=1) > PLAIN) > 0.25:
        return None, "picture", colours
    apart = np.abs(colours.astype(np.int16) - ground.astype(np.int16)).max(axis=2)
    # Full strength a little above the threshold, so that half strength lies where an edge's blend is half way.
    strength = (
        np.clip(apart * (127.5 / PLAIN), 0, 255)
        if apart.max() < 2 * PLAIN
        else np.clip(
            apart.astype(np.float32) * (255.0 / max(float(np.percentile(apart[apart > PLAIN], 50)), 1.0)), 0, 255
        )
        if (apart > PLAIN).any()
        else np.zeros_like(apart)
    )
    return strength.astype(np.uint8), "plain background", colours


def trace(mask: Any, within_px: float = WITHIN_PX) -> tuple[list[Any], int]:
    """The outlines of a mask (h, w) of 0 to 255 at half strength, as polygons with holes, in pixels from the picture's
    corner: the centre of the first pixel lies at (0.5, 0.5). And how many details are too small to be followed.

    Raises:
        ArtError: far more outlines than anybody draws.
    """
    import numpy as np
    import shapely

    pad = 4
    soft = np.pad(mask, pad).astype(np.uint16)
    # One step of 1-2-1 each way, kept sixteenfold: a blur of 0.7 px that takes the steps out of hard edges.
    soft = soft[:, :-2] + 2 * soft[:, 1:-1] + soft[:, 2:]
    soft = soft[:-2] + 2 * soft[1:-1] + soft[2:]
    rings = find_rings(soft, 16 * 127.5)
    rings = [ring - (pad - 1) for ring in rings if len(ring) >= 4 and _area(ring) >= SPECK_PX]
    if len(rings) > MOST_RINGS:
        raise ArtError(
            f"holds {len(rings):,} separate outlines, and up to {MOST_RINGS:,} are traced; it looks like noise or a "
            "photograph: smooth it, or save it with fewer shades"
        )
    runs = []
    for ring in rings:
        # Simplified without regard to itself, which is fast; the few that then cross themselves are cut into faces.
        slim = shapely.simplify(shapely.LinearRing(ring), within_px, preserve_topology=False)
        points = shapely.get_coordinates(slim)[:-1].tolist()
        if len(points) > 2:
            runs.append(Run([(x, y) for x, y in points], True))
    whole = areas_of(runs, "evenodd")
    found = [part for part in shapely.get_parts(whole) if part.geom_type == "Polygon" and part.area >= SPECK_PX]
    hard = find_rings(np.pad(mask, pad).astype(np.uint16), 127.5)
    followed = sum(1 + len(part.interiors) for part in found)
    return found, max(0, len(hard) - followed)


def _area(ring: Any) -> float:
    import numpy as np

    x, y = ring[:, 0], ring[:, 1]
    return abs(float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum())) / 2


def _total_bounds(polygons: list[Any]) -> tuple[float, float, float, float]:
    import shapely

    left, top, right, bottom = shapely.total_bounds(polygons).tolist()
    return left, top, right, bottom


def _mean_colour(colours: Any, polygon: Any) -> str:
    """The middle colour of an item, from pixels inside it."""
    import numpy as np
    import shapely

    left, top, right, bottom = polygon.bounds
    xs = np.linspace(left, right, 24)
    ys = np.linspace(top, bottom, 24)
    grid = np.array(np.meshgrid(xs, ys)).reshape(2, -1).T
    inside = grid[shapely.contains_xy(polygon.buffer(-1.0), grid[:, 0], grid[:, 1])]
    if not len(inside):
        spot = shapely.point_on_surface(polygon)
        inside = np.array([[spot.x, spot.y]])
    high, wide = colours.shape[:2]
    rows = np.clip(inside[:, 1].astype(int), 0, high - 1)
    columns = np.clip(inside[:, 0].astype(int), 0, wide - 1)
    middle = np.median(colours[rows, columns].reshape(-1, 3), axis=0).astype(int)
    return "#" + "".join(f"{part:02x}" for part in middle)
