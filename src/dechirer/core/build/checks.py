"""Checks of the build: does each piece fit its neighbours, and do its lines stay on it?"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.build.build import BuildPlan
from dechirer.core.build.foldline import line_ends
from dechirer.core.build.piece import Piece
from dechirer.core.finding import CheckList, Finding, Mend
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Fold, Job
from dechirer.core.length import format_length, parse_length
from dechirer.core.shape.outline import distance_outside, distance_to_edge


class BuildContext(Struct, frozen=True):
    """What the build's checks look at."""

    job: Job
    build: BuildPlan


CHECKS: CheckList[BuildContext] = CheckList("build")

LEAST_END_LAND_MM = 0.5
"""A dash that comes closer to the edge than this opens the edge when the fold is pressed."""


def fold_of(job: Job, piece_id: str) -> tuple[Fold, str] | None:
    """How a piece's fold is marked, and the path of that in the job."""
    if piece_id == "base":
        return job.build.fold, "build.fold"
    if piece_id == "liner" and job.build.liner is not None:
        return job.build.liner.fold, "build.liner.fold"
    return None


@CHECKS.register
def find_liner_not_smaller(context: BuildContext) -> Iterator[Finding]:
    """A liner must be smaller than its base, and have a fold to sit in."""
    job, liner = context.job, context.job.build.liner
    if liner is None:
        return
    if not context.build.kind.is_folded:
        yield Finding(
            "build.liner-on-flat-card", "look", "build", "A flat card has no inside for a liner",
            "The liner is left out while the card is flat.", "No liner is cut.", "liner",
            (
                Mend("Take the liner off", (Change("build.liner", None),)),
                Mend("Fold it at the side", (Change("brief.construction", "side-fold"),)),
            ),
        )  # fmt: skip
        return
    sixteenth = Mend("Use 1/16 in a side", (Change("build.liner.reveal", parse_length("1/16 in")),))
    if liner.reveal.mm <= 0:
        size = "as large as" if liner.reveal.mm == 0 else "larger than"
        yield Finding(
            "build.liner-not-smaller", "stop", "build", f"The liner is {size} its base",
            f"A reveal of {format_length(liner.reveal.mm, job.units)} a side leaves no border of the base to see.",
            "It will show past the edges and keep the card from closing.", "liner", (sixteenth,),
        )  # fmt: skip
    elif context.build.piece("liner") is None:
        yield Finding(
            "build.liner-vanished", "stop", "build", "Nothing is left of the liner",
            f"A reveal of {format_length(liner.reveal.mm, job.units)} on each side takes the whole card.",
            "No liner is cut.", "liner", (sixteenth,),
        )  # fmt: skip


@CHECKS.register
def find_fold_past_edge(context: BuildContext) -> Iterator[Finding]:
    """No score or perforation may run out of its piece, and no dash may open the edge."""
    for piece in context.build.pieces:
        marked = fold_of(context.job, piece.id)
        if marked is None:
            continue
        fold, path = marked
        for line in piece.lines:
            if line.role not in ("fold", "tick"):
                continue
            ends = line_ends(line.paths) if line.role == "fold" else tuple(path[0] for path in line.paths)
            beyond = max(distance_outside(piece.outline, point) for point in ends)
            if beyond > 1e-6:
                yield _past_edge(context.job, piece, line.name, line.id, beyond, path)
            elif fold.kind == "perforate" and fold.land.mm > 0:
                nearest = min(distance_to_edge(piece.outline, point) for point in ends)
                if nearest < LEAST_END_LAND_MM - 1e-9:
                    yield _dash_at_edge(context.job, piece, line.id, nearest, path)


@CHECKS.register
def find_perforation_that_fails(context: BuildContext) -> Iterator[Finding]:
    """A perforation needs lands to hold and at least one dash to fold at."""
    for piece in context.build.pieces:
        marked = fold_of(context.job, piece.id)
        if marked is None or not piece.folds or marked[0].kind != "perforate":
            continue
        fold, path = marked
        usual = Mend("Use 5 mm dashes and lands", (
            Change(f"{path}.dash", parse_length("5 mm")), Change(f"{path}.land", parse_length("5 mm")),
        ))  # fmt: skip
        if fold.land.mm <= 0:
            yield Finding(
                "build.perforation-without-land", "stop", "build", f"The perforation cuts the {piece.name} in two",
                "Dashes with no land between them are one long cut.", "The panels come apart.", f"{piece.id}-fold",
                (usual, Mend("Score it instead", (Change(f"{path}.kind", "score"),))),
            )  # fmt: skip
        elif not any(line.operation == "perforate" for line in piece.lines):
            yield Finding(
                "build.perforation-without-dash", "look", "build", f"No dash fits on the fold of the {piece.name}",
                f"The fold is shorter than one dash of {fold.dash} and a land of {fold.land} at each end.",
                "The fold is left unmarked.", f"{piece.id}-fold", (usual,),
            )  # fmt: skip


def _past_edge(job: Job, piece: Piece, name: str, line: str, beyond: float, path: str) -> Finding:
    return Finding(
        "build.fold-past-edge", "stop", "build", f"The {name} of the {piece.name} runs out of its edge",
        f"It goes {format_length(beyond, job.units)} past the edge at each end.",
        "It marks the mat and the next piece, and a dash there opens the edge.", line,
        (Mend("End it at the edge", (Change(f"{path}.ends", parse_length("0 mm")),)),),
    )  # fmt: skip


def _dash_at_edge(job: Job, piece: Piece, line: str, nearest: float, path: str) -> Finding:
    return Finding(
        "build.dash-at-edge", "look", "build", f"A dash of the {piece.name} meets the edge",
        f"The land at the end is {nearest:.1f} mm; under {LEAST_END_LAND_MM} mm it tears when the fold is pressed.",
        "The fold opens at its ends.", line,
        (
            Mend("Use 5 mm lands", (Change(f"{path}.land", parse_length("5 mm")),)),
            Mend("Stop 3 mm short", (Change(f"{path}.ends", parse_length("3 mm")),)),
        ),
    )  # fmt: skip
