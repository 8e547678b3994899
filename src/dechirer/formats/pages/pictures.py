"""Pictures on a page: at their own resolution, within their outline and its bleed, never made larger.

A JPEG that is shown as it is goes in as it is. Otherwise what is seen of it is cut out, its edge's colours are carried
into the bleed, and it is packed again: without loss where it has few colours, else as JPEG without visible loss.
"""

from __future__ import annotations

import io
import math
from typing import Any

from dechirer.core.card.print import Print, Raster
from dechirer.core.press.pixels import carry_out, decode
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.outline import bounds

FEW_COLOURS = 600
"""Fewer colours than this are drawn art, which JPEG would blur."""
JPEG_QUALITY = 95
SOLID = 250
"""More alpha than this is a pixel of the picture itself, whose colour may be carried on."""
AROUND_PX = 2


def draw_picture(canvas: Any, part: Print) -> None:
    """The pixels of a print within its areas and its bleed. The canvas counts mm, y down."""
    assert part.raster is not None
    if not part.rings:
        return
    image, to = _prepare(part, part.raster)
    canvas.saveState()
    path = canvas.beginPath()
    for area in (*part.rings, *part.bleed):
        for first, *rest in area:
            path.moveTo(*first)
            for point in rest:
                path.lineTo(*point)
            path.close()
    canvas.clipPath(path, stroke=0, fill=0, fillMode=0)
    # Pictures fill the unit square upwards from its corner: in a plane whose y runs down, from the foot of the picture.
    wide, high = image.getSize()
    canvas.transform(to.a * wide, to.b * wide, -to.c * high, -to.d * high, to.e + to.c * high, to.f + to.d * high)
    canvas.drawImage(image, 0, 0, 1, 1, mask="auto")
    canvas.restoreState()


def _prepare(part: Print, raster: Raster) -> tuple[Any, Affine]:
    """What of a picture is seen as something reportlab draws, and the map from its pixels to mm."""
    from PIL import Image
    from reportlab.lib.utils import ImageReader

    pixels, box = raster.pixels, _box_in_pixels(part, raster)
    carries = bool(part.bleed) and not raster.goes_on
    whole = (0, 0, pixels.width, pixels.height)
    if not carries and _share(box, whole) > 0.6 and pixels.data[:2] == b"\xff\xd8":
        return ImageReader(io.BytesIO(pixels.data)), raster.to
    left, top = box[:2]
    shown = _cut_out(decode(pixels), box)
    if carries:
        shown = _carried(shown, part, raster, (left, top))
    to = Affine(e=left, f=top).then(raster.to)
    image = Image.fromarray(shown)
    if shown[..., 3].min() == 255:
        image = image.convert("RGB")
        if len(image.resize((min(200, image.width), min(200, image.height)), 0).getcolors(40_001) or ()) > FEW_COLOURS:
            out = io.BytesIO()
            image.save(out, "JPEG", quality=JPEG_QUALITY, subsampling=0)
            out.seek(0)
            return ImageReader(out), to
    return ImageReader(image), to


def _box_in_pixels(part: Print, raster: Raster) -> tuple[int, int, int, int]:
    """The box of pixels round all that is printed, a little larger; past the picture's edge where its bleed is."""
    back = raster.to.inverse()
    box = bounds([back(point) for area in (*part.rings, *part.bleed) for point in area[0]])
    found = (
        math.floor(box.left) - AROUND_PX,
        math.floor(box.top) - AROUND_PX,
        math.ceil(box.right) + AROUND_PX,
        math.ceil(box.bottom) + AROUND_PX,
    )
    if part.bleed and not raster.goes_on:
        return found
    wide, high = raster.pixels.width, raster.pixels.height
    left, top = min(max(found[0], 0), wide - 1), min(max(found[1], 0), high - 1)
    return left, top, max(left + 1, min(found[2], wide)), max(top + 1, min(found[3], high))


def _share(box: tuple[int, int, int, int], whole: tuple[int, int, int, int]) -> float:
    return (box[2] - box[0]) * (box[3] - box[1]) / ((whole[2] - whole[0]) * (whole[3] - whole[1]))


def _cut_out(pixels: Any, box: tuple[int, int, int, int]) -> Any:
    """The part of a picture (h, w, 4) in a box of it; clear where the box reaches past its edge."""
    import numpy as np

    left, top, right, bottom = box
    high, wide = pixels.shape[:2]
    found = np.zeros((bottom - top, right - left, 4), dtype=np.uint8)
    inner = pixels[max(top, 0) : min(bottom, high), max(left, 0) : min(right, wide)]
    y, x = max(0, -top), max(0, -left)
    found[y : y + inner.shape[0], x : x + inner.shape[1]] = inner
    return found


def _carried(shown: Any, part: Print, raster: Raster, corner: tuple[int, int]) -> Any:
    """What is shown, with the colours of its own pixels carried as far as its bleed goes, and solid there."""
    import numpy as np

    own = _mask(part, raster, corner, shown.shape[:2]) & (shown[..., 3] > SOLID)
    found = shown.copy()
    if not own.any():
        return found
    step = min(math.hypot(raster.to.a, raster.to.b), math.hypot(raster.to.c, raster.to.d))
    by = math.ceil(_bleed_mm(part) / step) + 2 * AROUND_PX
    found[..., :3] = carry_out(shown[..., :3], own, by)
    found[..., 3] = np.where(own, shown[..., 3], 255)
    return found


def _bleed_mm(part: Print) -> float:
    """How far a print's bleed reaches at most past the box of its areas, in mm."""
    inner = bounds([point for area in part.rings for point in area[0]])
    outer = bounds([point for area in part.bleed for point in area[0]])
    return max(
        inner.left - outer.left, inner.top - outer.top, outer.right - inner.right, outer.bottom - inner.bottom, 3.0
    )


def _mask(part: Print, raster: Raster, corner: tuple[int, int], size: tuple[int, int]) -> Any:
    """Which pixels of a box (its corner, its height and width) lie within a print's areas."""
    import numpy as np
    from PIL import Image, ImageDraw

    back = raster.to.inverse().then(Affine(e=-corner[0] - 0.5, f=-corner[1] - 0.5))
    mask = Image.new("1", (size[1], size[0]))
    pen = ImageDraw.Draw(mask)
    for outer, *holes in part.rings:
        pen.polygon([back(point) for point in outer], fill=1)
        for hole in holes:
            pen.polygon([back(point) for point in hole], fill=0)
    return np.asarray(mask)
