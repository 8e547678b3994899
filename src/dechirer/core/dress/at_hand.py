"""Things at hand that are stuck on or put in: their usual sizes, and how they come onto a face."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Item, Made, Place
from dechirer.core.dress.edits import exact_mm, new_id
from dechirer.core.dress.seen import Decided
from dechirer.core.dress.shapes import add_shaped, shape_art
from dechirer.core.dress.spots import Spot
from dechirer.core.length import make_length
from dechirer.core.paper.banknotes import load_banknotes

NOTE_MM, NOTE_G = 0.11, 1.0
"""How thick a banknote is and what it weighs (from memory)."""
ACROSS = 0.0
"""As wide as the face it is put on."""


class Thing(Struct, frozen=True):
    """Something at hand: its name, how it is used, its outline, its usual size and thickness in mm, its weight in g."""

    title: str
    made: Made
    shape: str
    width: float
    height: float
    thick: float
    grams: float
    colour: str = ""


THINGS: dict[str, Thing] = {
    "gem": Thing("gem", "stuck", "disc", 5.0, 5.0, 2.0, 0.05, "#c9d9e8"),
    "button": Thing("button", "stuck", "disc", 12.0, 12.0, 2.5, 0.4, "#d8c9a3"),
    "ribbon": Thing("ribbon", "stuck", "rectangle", ACROSS, 10.0, 0.4, 0.3, "#8a4a76"),
    # ISO/IEC 7810, format ID-1: 85.60 x 53.98 x 0.76 mm. The others are usual sizes, from memory.
    "gift-card": Thing("gift card", "held", "rectangle", 85.6, 53.98, 0.76, 5.0, "#7fa7b8"),
    "seed-packet": Thing("seed packet", "held", "rectangle", 80.0, 115.0, 3.0, 8.0, "#a9b98a"),
}


def list_things() -> dict[str, Thing]:
    """What can be put on a face, by id: the usual things, and every banknote that is known."""
    found = dict(THINGS)
    for note in load_banknotes():
        id = "note-" + note.name.lower().replace(" ", "-")
        found[id] = Thing(
            f"{note.name} note", "held", "rectangle", note.length_mm, note.height_mm, NOTE_MM, NOTE_G, "#b9c4a5"
        )
    return found


def place_thing(job: Decided, thing_id: str, spot: Spot) -> tuple[Change, ...]:
    """The changes that put something at hand in the middle of a face.

    Something long that is put in is turned to lie along the face's longer side.

    Raises:
        KeyError: there is no such thing.
    """
    thing = list_things()[thing_id]
    width, height = thing.width or spot.width, thing.height
    turned = thing.made == "held" and width > spot.width and spot.height > spot.width
    item = Item(
        new_id(job, thing.title),
        thing.title,
        spot.id,
        thing.made,
        art=shape_art(thing.shape),
        width=exact_mm(width) if thing.width else make_length(width, job.units),
        height=exact_mm(height),
        colour=thing.colour or None,
        thick=exact_mm(thing.thick),
        grams=thing.grams,
        place=Place(turn_deg=90.0) if turned else Place(),
    )
    return add_shaped(job, item, thing.shape)
