"""An envelope that is addressed: the address from the table of copies, the sender's, and a place kept for the stamp."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Column, Copies, Item, Place, Words
from dechirer.core.dress.edits import INK, exact_mm, new_id
from dechirer.core.dress.seen import Decided
from dechirer.core.dress.spots import Spot
from dechirer.core.length import make_length
from dechirer.core.paper.colours import difference
from dechirer.core.shape.outline import Box, bounds

ADDRESS_SIDE = "envelope/address side"
BLANKS = ("name", "street", "town")
STAMP_MM = (74.0, 40.0)
"""What is kept free at the top right for stamp and postmark (German practice, from memory; ask your own service)."""
MOST_SHARE = 0.45
"""On a small envelope no more of its width is kept free."""
LEFT_SHARE, DOWN_SHARE = 0.42, 0.52
"""Where an address begins, as shares of the body."""
EDGE_MM = 10.0
WHITE = "#ffffff"


def stamp_place(spot: Spot) -> Box | None:
    """Where the stamp goes on a face (mm), or None on a face that has none."""
    if spot.id != ADDRESS_SIDE:
        return None
    box = bounds(spot.outline)
    wide, high = min(STAMP_MM[0], MOST_SHARE * box.width), min(STAMP_MM[1], MOST_SHARE * box.height)
    return Box(box.right - wide, box.top, box.right, box.top + high)


def address_envelope(job: Decided, spot: Spot) -> tuple[Change, ...]:
    """The changes that put an address and a sender on an envelope, drawn with a pen; the table of copies gets the
    columns it lacks, whose entries are then typed there."""
    table = job.dress.copies
    missing = [blank for blank in BLANKS if blank not in table.words]
    rows = tuple(structs.replace(row, entries=(*row.entries, *("" for _ in missing))) for row in table.rows)
    copies = Copies((*table.columns, *(Column(blank) for blank in missing)), rows)
    size = make_length(max(4.5, min(8.0, spot.height * 0.07)), "mm")
    small = make_length(max(3.5, size.mm * 0.6), "mm")
    paper = job.brief.paper(spot.paper).face(good=spot.good)
    ink = INK if difference(INK, paper) > difference(WHITE, paper) else WHITE
    lines = "\n".join("{" + blank + "}" for blank in BLANKS)
    address = Item(
        new_id(job, "address"),
        "address",
        spot.id,
        "pen",
        words=Words(lines, face="line-plain", size=size, align="left"),
        colour=ink,
        place=Place(
            across="left",
            down="top",
            x=exact_mm(round(spot.width * LEFT_SHARE)),
            y=exact_mm(round(spot.height * DOWN_SHARE)),
        ),
    )
    sender = Item(
        new_id(job, "sender", address.id),
        "sender",
        spot.id,
        "pen",
        words=Words("Your name\nYour street\nYour town", face="line-plain", size=small, align="left"),
        colour=ink,
        place=Place(across="left", down="top", x=exact_mm(EDGE_MM), y=exact_mm(EDGE_MM)),
    )
    changes = (Change("dress.copies", copies),) if missing else ()
    return (*changes, Change("dress.items", (*job.dress.items, sender, address)))
