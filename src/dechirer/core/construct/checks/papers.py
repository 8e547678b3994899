"""Checks of paper against paper: what is glued on in the colour of what it lies on, and strips that do not hold."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.card.piece import Piece
from dechirer.core.construct.construct import make_construct
from dechirer.core.construct.seen import CardSeen
from dechirer.core.construct.specs import ATTACHMENTS
from dechirer.core.decide.change import Change
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import format_length
from dechirer.core.paper.colours import ALIKE, difference, told_apart
from dechirer.core.paper.strength import web_it_holds

SHOWN = ("insert", "backer", "peel-backer")
"""What is seen against the card it is put in or behind, by the ids of the pieces; a liner may be of its paper."""
MET_MM = 0.01
LEAST_STRIP_MM = 1.5
"""A strip of a construction carries more than a web of a picture does (common practice, no published figure)."""


@CHECKS.add("construct.colours-alike", of=make_construct)
def find_colours_alike(seen: CardSeen) -> Iterator[Finding]:
    """An insert, a window's backer or what shows when a shape is peeled away, in nearly the card's own colour."""
    base = seen.facts.paper(seen.card.paper).paper
    paths = {spec.piece: f"{spec.path}.paper" for spec in ATTACHMENTS if spec.piece}
    for piece in seen.plan.pieces:
        own = seen.facts.paper(piece.paper).paper
        apart = difference(own.colour, base.colour)
        if piece.id not in SHOWN or apart >= ALIKE:
            continue
        yield Finding(
            "construct.colours-alike",
            "look",
            f"The {piece.name} hardly shows",
            f"{own.name} with {base.name}: the colours differ by {apart:.1f} (CIEDE2000); from about {ALIKE:.0f} they "
            "are told apart.",
            "Tone on tone disappears, above all in photographs.",
            piece.id,
            tuple(
                Mend(f"Use {paper.name}", (Change(paths[piece.id], paper.id),))
                for paper in told_apart(seen.brief.papers, base.colour)[:2]
            ),
        )


@CHECKS.add("construct.strip-narrow", of=make_construct)
def find_narrow_strips(seen: CardSeen) -> Iterator[Finding]:
    """Paper left narrow between what is cut inside a piece."""
    for piece in seen.plan.pieces:
        if not any(line.operation == "cut" for line in piece.lines[:-1]):
            continue
        gsm = seen.facts.paper(piece.paper).grammage.value
        holds = web_it_holds(gsm) if gsm > 0 else 1.0
        wanted = max(holds, LEAST_STRIP_MM)
        worst = _narrowest(piece, wanted)
        if worst is None:
            continue
        yield Finding(
            "construct.strip-narrow",
            "look",
            f"A strip of the {piece.name} is narrow",
            f"{format_length(worst, 'mm')} of paper is left between two cuts; it holds from "
            f"{format_length(wanted, 'mm')} (common practice).",
            "It tears when the card is used.",
            piece.id,
        )


def _narrowest(piece: Piece, width: float) -> float | None:
    """The least paper between two cuts inside a piece, when it is less than that (mm); None otherwise. Cuts that meet
    belong together, and what is too near the edge is told where it is cut."""
    import shapely

    cuts = [
        shapely.LineString((*path, path[0]) if line.closed else path)
        for line in piece.lines[:-1]
        if line.operation == "cut" and line.role != "tick"
        for path in line.paths
        if len(path) > 1
    ]
    if len(cuts) < 2:
        return None
    tree = shapely.STRtree(cuts)
    pairs = tree.query(cuts, predicate="dwithin", distance=width - 1e-6).T.tolist()
    apart = [shapely.distance(cuts[one], cuts[other]) for one, other in pairs if one < other]
    return min((float(each) for each in apart if each > MET_MM), default=None)
