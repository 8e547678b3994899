"""Scans of cut calibration pages, drawn by Pillow and by nothing of the project, with what is true of them."""

from __future__ import annotations

import math

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

SUPER = 3


def draw_scan(
    page: object,
    *,
    ppi: float = 300.0,
    skew_deg: float = 1.5,
    turned: bool = False,
    shift: tuple[float, float] = (0.35, -0.2),
    scale: tuple[float, float] = (0.003, -0.002),
    askew: float = 0.004,
    cutter: float = 0.0,
    shadow: float = 0.0,
    backing: int = 30,
    hair: bool = False,
    uneven: float = 0.06,
    noise: float = 2.5,
    seed: int = 0,
    ground: int = 235,
) -> tuple[np.ndarray, list[tuple[float, float]]]:
    """A scan, grey, and how far the print lies from the cut at each cross (mm).

    Args:
        shift, scale, askew: of the print (mm, shares, radians); `cutter` how far each square strays (mm).
        shadow: how broad the shadow of the paper's upper edges is on a white backing, in mm.
    """
    random = np.random.default_rng(seed)
    sheet = page.sheet
    per_mm = ppi / 25.4 * SUPER
    wide, high = int((sheet.width + 12) * per_mm / SUPER), int((sheet.height + 12) * per_mm / SUPER)
    middle = (sheet.width / 2, sheet.height / 2)
    angle = math.radians(skew_deg + (180 if turned else 0))
    c, s = math.cos(angle), math.sin(angle)

    def put(x: float, y: float) -> tuple[float, float]:
        x, y = x - middle[0], y - middle[1]
        # A scanner's own scale is off as well.
        x, y = (c * x - s * y) * 1.0008, (s * x + c * y) * 0.9994
        return (wide * SUPER / 2 + x * per_mm, high * SUPER / 2 + y * per_mm)

    def printed(x: float, y: float) -> tuple[float, float]:
        dx, dy = x - middle[0], y - middle[1]
        return x + shift[0] + scale[0] * dx - askew * dy, y + shift[1] + scale[1] * dy + askew * dx

    image = Image.new("L", (wide * SUPER, high * SUPER), 200)
    pen = ImageDraw.Draw(image)
    corners = [(0, 0), (sheet.width, 0), (sheet.width, sheet.height), (0, sheet.height)]
    pen.polygon([put(*each) for each in corners], fill=ground)

    def shape(points: list[tuple[float, float]], fill: int) -> None:
        pen.polygon([put(*printed(*each)) for each in points], fill=fill)

    rings = page.rings
    for number, (x, y) in enumerate(rings.places):
        radii = [(rings.outer, 20), (rings.inner, ground)] + ([(rings.dot, 20)] if number == 0 else [])
        for radius, fill in radii:
            angles = np.linspace(0, math.tau, 200)
            shape([(x + radius * math.cos(a), y + radius * math.sin(a)) for a in angles], fill)
    for x, y in page.crosses:
        for dx, dy in ((7.0, 0.175), (0.175, 7.0)):
            shape([(x - dx, y - dy), (x + dx, y - dy), (x + dx, y + dy), (x - dx, y + dy)], 25)
    off = []
    for x, y in page.crosses:
        ex, ey = random.normal(0, cutter, 2) if cutter else (0.0, 0.0)
        half = 4.0 + 0.04  # what the blade takes away
        square = [(x + ex + dx, y + ey + dy) for dx, dy in ((-half, -half), (half, -half), (half, half), (-half, half))]
        pen.polygon([put(*each) for each in square], fill=backing)
        if shadow:
            # Light comes from the top of the scan: the edge above throws its shadow into the hole.
            drawn = [put(*each) for each in square]
            top = sorted(drawn, key=lambda each: each[1])[:2]
            deep = shadow * per_mm
            pen.polygon([*top, *((px, py + deep) for px, py in reversed(top))], fill=backing - 90)
        px, py = printed(x, y)
        off.append((px - x - ex, py - y - ey))
    if hair:
        x, y = page.crosses[7]
        line = [put(x + 5.5 + 0.8 * math.sin(t), y - 8 + 3 * t) for t in np.linspace(0, 5, 40)]
        pen.line(line, fill=60, width=max(1, int(0.06 * per_mm)))
    image = image.reduce(SUPER).filter(ImageFilter.GaussianBlur(0.8))
    grey = np.asarray(image).astype(np.float32)
    grey *= 1 - uneven * np.linspace(0, 1, grey.shape[1])[None, :]
    grey += random.normal(0, noise, grey.shape)
    return np.clip(grey, 0, 255).astype(np.uint8), off
