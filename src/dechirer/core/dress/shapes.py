"""Shapes that need no file: brought in as art drawn here, and from then on like any other."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.brought import Art, ArtGroup
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import FACE, Item
from dechirer.core.dress.edits import INK, add_item, new_id
from dechirer.core.dress.seen import Decided
from dechirer.core.dress.spots import Spot
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.length import make_length
from dechirer.core.shape.silhouettes import unit_outline

SHAPES: dict[str, tuple[str, float]] = {
    "rectangle": ("rectangle", 0.7),
    "disc": ("disc", 1.0),
    "heart": ("heart", 0.92),
    "star": ("star", 0.95),
    "tag": ("tag", 1.4),
    "hexagon": ("hexagon", 0.87),
    "octagon": ("octagon", 1.0),
    "kite": ("kite", 1.5),
    "hut": ("hut", 1.1),
    "cloud": ("cloud", 0.65),
    "gull": ("gull", 0.45),
    "bar": ("bar with round ends", 0.3),
    "line": ("straight line", 0.0),
}
"""What a shape is called, and how high it is for its width."""
DRAWN_MM, KEPT_MM = 400.0, 60.0
"""Curves are flattened for the larger size and kept at the smaller: enlarged, they are still true within 0.01 mm."""
SHARE = 0.4
LINE_MM = 0.2


def place_face_outline(job: Decided, spot: Spot) -> tuple[Change, ...]:
    """The changes that put a line of stitches along the outline of a face, set in from it and drawn by a pen.

    It follows the face when the card changes.
    """
    step = structs.replace(make_step_of("stitch"), by=job.dress.safe)
    item = Item(new_id(job, "edge"), "edge", spot.id, "pen", of=FACE, steps=(step,), colour=INK)
    return add_item(job, item)


def make_step_of(kind: str) -> Step:
    """A step of a kind as it begins.

    Raises:
        UnknownIdError: there is no such kind.
    """
    return STEPS[kind].decisions(f"{kind}-1")


def place_shape(job: Decided, shape: str, spot: Spot) -> tuple[Change, ...]:
    """The changes that put a shape in the middle of a face, two fifths as large as it.

    Raises:
        KeyError: no such shape.
    """
    title, _ = SHAPES[shape]
    width = make_length(max(5.0, min(spot.width, spot.height) * SHARE), job.units)
    item = Item(new_id(job, title), title, spot.id, "art", art=shape_art(shape), width=width)
    return add_shaped(job, item, shape)


def add_shaped(job: Decided, item: Item, shape: str) -> tuple[Change, ...]:
    """The changes that add an item drawn from a shape, and the shape's art where the job has it not yet."""
    there = any(art.id == shape_art(shape) for art in job.dress.art)
    new = () if there else (Change("dress.art", (*job.dress.art, make_shape(shape))),)
    return (*new, *add_item(job, item))


def shape_art(shape: str) -> str:
    """The id of a shape among the job's art."""
    return f"shape-{shape}"


def make_shape(shape: str) -> Art:
    """A shape as art of one group, to be cut; a line as one to be drawn.

    Raises:
        KeyError: no such shape.
    """
    title, ratio = SHAPES[shape]
    if shape == "line":
        group = ArtGroup("line", title, "pen", (f"M 0 0 L {KEPT_MM:g} 0",), stroke=LINE_MM)
    else:
        scale = KEPT_MM / DRAWN_MM
        ring = [(x * scale, y * scale) for x, y in unit_outline(shape, DRAWN_MM, DRAWN_MM * ratio)]
        path = " L ".join(f"{x:.5f} {y:.5f}" for x, y in ring)
        group = ArtGroup("outline", title, "cut", (f"M {path} Z",))
    return Art(shape_art(shape), title, KEPT_MM, KEPT_MM * ratio, (group,), settled="drawn here", licence="own")
