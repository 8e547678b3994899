"""Checks of what is cut inside a piece: nothing runs into what else is cut there."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.card.piece import Line
from dechirer.core.construct.construct import make_construct
from dechirer.core.construct.seen import CardSeen
from dechirer.core.construct.specs import ATTACHMENTS
from dechirer.core.decide.change import Change
from dechirer.core.finding import CHECKS, Finding, Mend

INNER_ROLES = ("hole", "window", "slit", "flap", "peel")


@CHECKS.add("construct.cuts-cross", of=make_construct)
def find_cuts_that_cross(seen: CardSeen) -> Iterator[Finding]:
    """What is cut inside a piece must not run into what else is cut there."""
    removals = {spec.line: spec.path for spec in ATTACHMENTS if spec.line}
    for piece in seen.plan.pieces:
        inner = [line for line in piece.lines if line.role in INNER_ROLES]
        added = [line for line in inner if line.id.removeprefix(f"{piece.id}-") in removals]
        for line in added:
            crossed = next((other for other in inner if other is not line and _cross(line, other)), None)
            if crossed is not None:
                name = line.id.removeprefix(f"{piece.id}-")
                yield Finding(
                    "construct.cuts-cross",
                    "stop",
                    f"The {line.name} runs into the {crossed.name}",
                    f"Both are cut in the {piece.name}, one through the other.",
                    "Parts of it fall out.",
                    line.id,
                    (Mend(f"No {line.name}", (Change(removals[name], None),)),),
                )
                break


def _cross(one: Line, other: Line) -> bool:
    """Whether two lines of a piece meet, or one lies inside the other."""
    import shapely  # a card without cuts inside does without it

    shapes = [
        shapely.union_all([shapely.Polygon(path) if len(path) > 2 else shapely.LineString(path) for path in line.paths])
        for line in (one, other)
    ]
    return bool(shapely.intersects(*shapes))
