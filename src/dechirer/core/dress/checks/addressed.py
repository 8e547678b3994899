"""Checks of an addressed envelope: the stamp's place stays free, and every copy has an address."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.dress.addressed import ADDRESS_SIDE, BLANKS, stamp_place
from dechirer.core.dress.checks.place import as_guide, ink_of, move_beside
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.seen import DressSeen
from dechirer.core.dress.words.copies import find_blanks
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.length import format_size

INKED = ("pen", "foil", "print")


@CHECKS.add("dress.over-stamp", of=make_dress)
def find_ink_where_the_stamp_goes(seen: DressSeen) -> Iterator[Finding]:
    """Words and pictures at the top right of an address side."""
    import shapely

    for dressed in seen.own_of_each():
        item, spot = dressed.item, dressed.spot
        kept = stamp_place(spot) if spot is not None else None
        if kept is None or item.made not in INKED:
            continue
        ink, stamp = ink_of(dressed, INKED), shapely.box(kept.left, kept.top, kept.right, kept.bottom)
        if ink is None or not shapely.intersects(ink, stamp):
            continue
        whole = shapely.box(*dressed.placed.drawn.box())
        yield Finding(
            "dress.over-stamp",
            "look",
            f"{item.name} lies where the stamp goes",
            f"{format_size(kept.width, kept.height, seen.units)} at the top right are kept for stamp and postmark "
            "(from memory; ask your own service).",
            "The stamp covers it, or machines at the post cannot read it.",
            item.id,
            (*move_beside(dressed, whole, stamp, (), "it"), as_guide(item)),
        )


@CHECKS.add("dress.address-missing", of=make_dress)
def find_copies_without_an_address(seen: DressSeen) -> Iterator[Finding]:
    """An envelope whose address has a blank that some copy leaves empty."""
    if not seen.is_first:
        return
    for item in seen.dress.items:
        if item.face != ADDRESS_SIDE or item.words is None or item.made == "guide":
            continue
        blanks = [blank for blank in find_blanks(item.words.text) if blank in BLANKS]
        bare = [
            copy
            for copy in seen.plan.copies
            if blanks and any(not dict(copy.entries).get(blank, "").strip() for blank in blanks)
        ]
        if bare:
            count = sum(copy.count for copy in bare)
            yield Finding(
                "dress.address-missing",
                "look",
                f"{count} of {seen.brief.count} envelopes have no whole address",
                f"{item.name} takes {', '.join('{' + blank + '}' for blank in blanks)} from the table of copies, where "
                f"some are empty.",
                "Those envelopes are drawn without it.",
                item.id,
            )
