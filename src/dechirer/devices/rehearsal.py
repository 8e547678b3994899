"""A page rehearsed: printed by the simulated printer, read by the reader of marks, and cut by a carriage that is off.

What comes out is how far every cut lies from its print, which nothing but the simulated printer knows.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from msgspec import Struct

from dechirer.core.card.registration import sign_of
from dechirer.core.plan import Plan
from dechirer.core.press.pages import Page
from dechirer.core.shape.affine import Affine, Point
from dechirer.core.stopping import checkpoint
from dechirer.devices.eye import Light, Spot, look_at
from dechirer.devices.printer import Faults, Sheet, draw_faults, print_page
from dechirer.devices.reader import Reading, read_marks
from dechirer.formats.outputs.press_page import write_page_pdf

LOOKED_AT_PPI = 200.0
TRIALS = {
    "": "a good sheet",
    "covered": "two marks covered",
    "smudged": "one mark smudged",
    "turned": "the sheet laid in turned by half",
    "glare": "a lamp shining on it",
    "wrong": "another page laid in",
}
"""What can be tried, besides a good sheet."""
PLACES = 24


class Rehearsed(Struct, frozen=True):
    """How a page came out.

    Attributes:
        picture: what the camera saw (h, w), grey.
        size: of the sheet in mm.
        reading: what the reader says; None where the sheet is cut by its edge.
        cut: where the machine cuts what belongs at a place of the page.
        off: how far cut and print lie apart along what is cut, in mm; empty where nothing was cut.
    """

    picture: Any
    size: tuple[float, float]
    faults: Faults
    reading: Reading | None
    cut: Affine | None
    off: tuple[float, ...]

    @property
    def typical(self) -> float:
        """The middle of them, mm."""
        return float(np.median(self.off)) if self.off else math.nan

    @property
    def worst(self) -> float:
        """The largest, mm."""
        return max(self.off, default=math.nan)


def print_and_read(plan: Plan, page: Page, seed: int, trial: str = "") -> Rehearsed:
    """Rehearse one page on one sheet.

    Args:
        seed: which sheet; the same one comes out the same.
        trial: a key of TRIALS.
    """
    brief = plan.job.brief
    faults = draw_faults(brief.printer, seed)
    checkpoint("printing the page")
    sheet = print_page(write_page_pdf((page, page.face), plan), faults, px_per_inch=LOOKED_AT_PPI)
    size = (sheet.width, sheet.height)
    marks = page.sheet.registration
    colour = brief.paper(page.paper).face(good=True)
    red, green, blue = (int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5))
    light = Light(paper=(red, green, blue), seed=seed, glare=0.9 if trial == "glare" else 0.0)
    checkpoint("looking at the sheet")
    spots = _spots(sheet, marks.places, trial) if marks is not None else ()
    picture = look_at(sheet.picture, size, light, spots)
    if trial == "turned":
        picture = np.ascontiguousarray(np.rot90(picture, 2))
    reading, cut = None, Affine()
    reader = brief.machine.reader
    if marks is not None and reader is not None:
        checkpoint("finding the marks")
        number = page.number + (1 if trial == "wrong" else 0)
        reading = read_marks(picture, size, reader, marks.places, sign_of(number))
        if reading.map is None:
            return Rehearsed(picture, size, faults, reading, None, ())
        cut = reading.map
    random = np.random.default_rng(seed + 65537)
    if reading is None:
        laid = random.normal(0, brief.machine.laid_to, 2)
        cut = Affine(e=float(laid[0]), f=float(laid[1]))
    return Rehearsed(picture, size, faults, reading, cut, _apart(page, sheet, cut, random, brief.machine.cuts_to))


def _spots(sheet: Sheet, places: tuple[Point, ...], trial: str) -> tuple[Spot, ...]:
    where = sheet.printed_at(places).tolist()
    if trial == "covered":
        return tuple(Spot(x, y, 11.0, 11.0, 0.75) for x, y in where[1:3])
    if trial == "smudged":
        x, y = where[3]
        return (Spot(x + 2.5, y, 5.0, 12.0, 0.55),)
    return ()


def _apart(page: Page, sheet: Sheet, cut: Affine, random: Any, carriage: float) -> tuple[float, ...]:
    """How far the cut lies from its print, at places along every outline."""
    import shapely

    places = []
    for placed in page.placements:
        ring = shapely.LinearRing(placed.outline)
        at = np.linspace(0, ring.length, PLACES, endpoint=False)
        places += shapely.get_coordinates(shapely.line_interpolate_point(ring, at)).tolist()
    if not places:
        return ()
    cuts = np.array([cut((x, y)) for x, y in places]) + random.normal(0, carriage, (len(places), 2))
    return tuple(np.hypot(*(cuts - sheet.printed_at(places)).T).tolist())
