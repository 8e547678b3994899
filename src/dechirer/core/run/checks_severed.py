"""Cut lines that part a piece which is one outline, wherever they come from; and folds that are cut through."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from functools import partial

from msgspec import structs

from dechirer.core.brought import Art, ArtGroup
from dechirer.core.card.piece import FoldMark, Line, Piece
from dechirer.core.construct.drawn_card import find_fold_lines, read_drawn_card
from dechirer.core.construct.kinds.from_file import Read
from dechirer.core.decide.change import Change
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.memory import Same
from dechirer.core.run.checks import RunSeen
from dechirer.core.run.run import make_run
from dechirer.core.shape.affine import Points
from dechirer.core.shape.severed import find_bodies, find_parting
from dechirer.core.words import count

ALONG_MM = 0.3
"""A cut that strays from a fold by less lies on it."""
CUT_SHARE = 0.5
"""A fold that is cut through for a larger share of its length is not a fold any more."""
OWN_ROLES = ("outline", "fold", "tick")


@CHECKS.add("construct.severed", "dress.severed", of=make_run)
def find_severed(seen: RunSeen) -> Iterator[Finding]:
    """A piece that its own cut lines part."""
    read = seen.whole.made.found
    for piece in seen.whole.pieces:
        bodies, parting = seen.memory.recall(("severed", Same(piece)), partial(_look_at, piece))
        if bodies < 2:
            continue
        groups: list[tuple[ArtGroup, Mend]] = []
        if isinstance(read, Read) and parting is not None and parting.role == "slit":
            groups = seen.memory.recall(("groups that part", Same(read.art)), partial(_groups_to_score, read.art))
        if groups:
            for group, mend in groups:
                yield _severed(piece, bodies, f"Lines of “{group.name}” run", f"{piece.id}-{group.id}", mend, group)
            continue
        cutting = f"“{parting.name}” runs" if parting is not None else "Its openings run"
        element = parting.id if parting is not None else piece.id
        item = next((each for each in seen.dress.items if f"{element}-".startswith(f"{piece.id}-{each.id}-")), None)
        if item is None:
            yield _severed(piece, bodies, cutting, element)
            continue
        guide = Mend("Keep it as a guide only", (Change(f"dress.items.{item.id}.made", "guide"),))
        yield _severed(piece, bodies, cutting, item.id, guide, code="dress.severed")


def _severed(
    piece: Piece,
    bodies: int,
    cutting: str,
    element: str,
    mend: Mend | None = None,
    group: ArtGroup | None = None,
    code: str = "construct.severed",
) -> Finding:
    return Finding(
        code,
        "stop",
        f"The {piece.name} is cut into {bodies} parts",
        f"{cutting} from edge to edge. A line that is folded is scored or perforated, not cut.",
        "The card comes off the mat in parts.",
        element,
        (mend,) if mend is not None else (),
        group.colour if group is not None else "",
    )


def _groups_to_score(art: Art) -> list[tuple[ArtGroup, Mend]]:
    """Groups of a file whose lines part its card, each with the fix that scores its lines from edge to edge."""
    found = []
    whole = _count_bodies(art)
    for id, places in find_fold_lines(art).items():
        group = next(each for each in art.groups if each.id == id)
        path = f"dress.art.{art.id}.groups"
        if len(places) == len(group.paths):
            scored: tuple[ArtGroup, ...] = (structs.replace(group, role="score"),)
            mend = Mend(f"Score “{group.name}”"[:46], (Change(f"{path}.{id}.role", "score"),), "chooses")
        else:
            scored = _split(group, places, {each.id for each in art.groups})
            label = f"Score {count(len(places), 'line')} of “{group.name}”"
            mend = Mend(label[:46], (Change(path, _with(art, group, scored)),), "chooses")
        if _count_bodies(structs.replace(art, groups=_with(art, group, scored))) < whole:
            found.append((group, mend))
    return found


def _split(group: ArtGroup, places: tuple[int, ...], taken: set[str]) -> tuple[ArtGroup, ArtGroup]:
    """A group without some of its paths, and those as a group of their own that is scored."""
    rest = tuple(line for place, line in enumerate(group.paths) if place not in places)
    folds = tuple(group.paths[place] for place in places)
    stem = f"{group.id[:24]}-folds"
    new_id = next(id for id in (stem, *(f"{stem}-{number}" for number in range(2, 500))) if id not in taken)
    scored = structs.replace(group, id=new_id, name=f"{group.name[:100]} folds", role="score", paths=folds)
    return structs.replace(group, paths=rest), scored


def _with(art: Art, group: ArtGroup, instead: tuple[ArtGroup, ...]) -> tuple[ArtGroup, ...]:
    return tuple(each for old in art.groups for each in (instead if old is group else (old,)))


def _count_bodies(art: Art) -> int:
    """Count the bodies that the parts of a file fall into."""
    kinds = read_drawn_card(art).kinds
    return sum(len(find_bodies(kind.part.outline, kind.part.holes, kind.part.slits)) for kind in kinds)


@CHECKS.add("construct.fold-cut", of=make_run)
def find_cut_folds(seen: RunSeen) -> Iterator[Finding]:
    """A fold along which the piece is cut through for most of its length."""
    for piece in seen.whole.pieces:
        mark = seen.memory.recall(("cut fold", Same(piece)), partial(_find_cut_fold, piece))
        if mark is not None:
            yield Finding(
                "construct.fold-cut",
                "stop",
                f"A fold of the {piece.name} is cut through",
                f"{mark.hinge} is cut along more than half of its length.",
                "The panels come apart there.",
                piece.id,
            )


def _cuts(piece: Piece) -> Iterator[Line]:
    yield from (line for line in piece.run_lines if line.operation == "cut" and line.role not in OWN_ROLES)


def _look_at(piece: Piece) -> tuple[int, Line | None]:
    """The number of bodies a piece is cut into, and a line that parts it."""
    holes: list[Points] = []
    slits: list[tuple[Line, Points]] = []
    for line in _cuts(piece):
        for path in line.paths:
            if line.closed:
                holes.append(path)
            elif len(path) > 1:
                slits.append((line, path))
    if not slits and len(holes) < 2:
        return 1, None
    lines = [path for _, path in slits]
    bodies = len(find_bodies(piece.outline, holes, lines))
    if bodies < 2:
        return bodies, None
    parting = find_parting(piece.outline, holes, lines)
    return bodies, slits[parting[0]][0] if parting else None


def _find_cut_fold(piece: Piece) -> FoldMark | None:
    slits = [path for line in _cuts(piece) if not line.closed for path in line.paths]
    if not slits:
        return None
    for mark in piece.folds:
        long = math.dist(mark.start, mark.end)
        cut = sum(_along(mark, path) for path in slits)
        if long > 0 and cut > CUT_SHARE * long:
            return mark
    return None


def _along(mark: FoldMark, path: Points) -> float:
    """How long a path runs on a fold, mm."""
    (x0, y0), (x1, y1) = mark.start, mark.end
    long = math.dist(mark.start, mark.end)
    ux, uy = (x1 - x0) / long, (y1 - y0) / long
    total = 0.0
    for (ax, ay), (bx, by) in itertools.pairwise(path):
        off = max(abs((ax - x0) * uy - (ay - y0) * ux), abs((bx - x0) * uy - (by - y0) * ux))
        if off < ALONG_MM:
            low, high = sorted(((ax - x0) * ux + (ay - y0) * uy, (bx - x0) * ux + (by - y0) * uy))
            total += max(0.0, min(high, long) - max(low, 0.0))
    return total
