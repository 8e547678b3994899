"""Checks of which side is printed."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.card.piece import Piece
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.press.checks.sheet import items_of, print_apart
from dechirer.core.press.pages import make_pages
from dechirer.core.press.seen import PressSeen

OTHER = {"outside-up": "inside-up", "inside-up": "outside-up"}
SIDES = {"outside-up": "outside", "inside-up": "inside"}


@CHECKS.add("press.face-down", of=make_pages)
def find_face_down(seen: PressSeen) -> Iterator[Finding]:
    """A side that is printed and lies down on its page."""
    told = set()
    for page in seen.pages.pages:
        for placed in page.placements:
            piece = placed.piece
            sides = {each.side for each in piece.prints}
            if not sides or page.face in sides or piece.id in told:
                continue
            told.add(piece.id)
            up, down = SIDES[page.face], SIDES[OTHER[page.face]]
            paper = seen.brief.paper(page.paper).name
            yield Finding(
                "press.face-down",
                "stop",
                f"The {piece.name} would be printed on its {up}",
                f"{paper} is loaded {up} up, and what is printed belongs on the {down}.",
                "Every copy is printed on the wrong side.",
                piece.id,
                (Mend("Load each sheet as it is printed on", seen.load_again(page.paper, face="as-drawn")),),
            )


@CHECKS.add("press.both-sides", of=make_pages)
def find_both_sides(seen: PressSeen) -> Iterator[Finding]:
    """A piece that is printed on both sides goes through the printer twice."""
    for piece in seen.plan.printed:
        if len(piece.printed_sides) < 2:
            continue
        back = seen.brief.printer.back_to
        yield Finding(
            "press.both-sides",
            "look",
            f"The {piece.name} is printed on both sides",
            f"Its sheet goes through the printer twice, turned about its long edge; the {seen.brief.printer.name} lays "
            f"the back to {back:g} mm of the front, and only the front is cut in register.",
            "What is printed on the back may lie as far from its place.",
            piece.id,
            tuple(_one_apart(seen, piece)),
        )


def _one_apart(seen: PressSeen, piece: Piece) -> Iterator[Mend]:
    """One of the sides is printed on paper of its own, cut out and glued on."""
    for side in ("inside-up", "outside-up"):
        items = items_of(seen, piece, side)
        if items and all(item.words is None and item.made == "print" and item.of is None for item in items):
            yield Mend(f"Print the {SIDES[side]} apart and glue it on", print_apart(items))
