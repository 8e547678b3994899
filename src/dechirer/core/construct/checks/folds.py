"""Checks of fold lines: none runs out of its piece, no dash opens an edge, a perforation holds and folds."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.card.foldline import line_ends
from dechirer.core.card.piece import Piece, fold_of
from dechirer.core.construct.construct import make_construct
from dechirer.core.construct.seen import CardSeen
from dechirer.core.decide.change import Change
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import format_length, parse_length
from dechirer.core.shape.outline import distance_outside, distance_to_edge

LEAST_END_LAND_MM = 0.5
"""A dash that comes closer to the edge than this opens the edge when the fold is pressed."""


@CHECKS.add("construct.fold-past-edge", "construct.dash-at-edge", of=make_construct)
def find_fold_past_edge(seen: CardSeen) -> Iterator[Finding]:
    """No score or perforation may run out of its piece, and no dash may open the edge."""
    for piece in seen.plan.pieces:
        fold, path = fold_of(seen, piece), piece.fold_field
        if fold is None:
            continue
        for line in piece.lines:
            if line.role not in ("fold", "tick"):
                continue
            ends = line_ends(line.paths) if line.role == "fold" else tuple(path[0] for path in line.paths)
            beyond = max(distance_outside(piece.outline, point) for point in ends)
            if beyond > 1e-6:
                yield _past_edge(seen.units, piece, line.name, line.id, beyond, path)
            elif line.operation == "perforate" and fold.land.mm > 0:
                nearest = min(distance_to_edge(piece.outline, point) for point in ends)
                if nearest < LEAST_END_LAND_MM - 1e-9:
                    yield _dash_at_edge(piece, line.id, nearest, path)


@CHECKS.add("construct.perforation-without-land", "construct.perforation-without-dash", of=make_construct)
def find_perforation_that_fails(seen: CardSeen) -> Iterator[Finding]:
    """A perforation needs lands to hold and at least one dash to fold at."""
    for piece in seen.plan.pieces:
        fold, path = fold_of(seen, piece), piece.fold_field
        dashed = [mark for mark in piece.folds if mark.kind == "perforate"]
        if fold is None or not dashed:
            continue
        scored = tuple(
            Change(f"construct.folds.{each.id}.kind", "score")
            for each in seen.construct.folds
            if each.kind == "perforate" and each.id in {f"{piece.id}-{mark.hinge}" for mark in dashed}
        )
        if fold.kind == "perforate":
            scored = (*scored, Change(f"{path}.kind", "score"))
        usual = Mend(
            "Use 5 mm dashes and lands",
            (
                Change(f"{path}.dash", parse_length("5 mm")),
                Change(f"{path}.land", parse_length("5 mm")),
            ),
        )
        if fold.land.mm <= 0:
            yield Finding(
                "construct.perforation-without-land",
                "stop",
                f"The perforation cuts the {piece.name} in two",
                "Dashes with no land between them are one long cut.",
                "The panels come apart.",
                f"{piece.id}-fold",
                (usual, Mend("Score it instead", scored)),
            )
        elif not any(line.operation == "perforate" for line in piece.lines):
            yield Finding(
                "construct.perforation-without-dash",
                "look",
                f"No dash fits on the fold of the {piece.name}",
                f"The fold is shorter than one dash of {fold.dash} and a land of {fold.land} at each end.",
                "The fold is left unmarked.",
                f"{piece.id}-fold",
                (usual,),
            )


def _past_edge(units: str, piece: Piece, name: str, line: str, beyond: float, path: str) -> Finding:
    return Finding(
        "construct.fold-past-edge",
        "stop",
        f"The {name} of the {piece.name} runs out of its edge",
        f"It goes {format_length(beyond, units)} past the edge at each end.",
        "It marks the mat and the next piece, and a dash there opens the edge.",
        line,
        (Mend("End it at the edge", (Change(f"{path}.ends", parse_length("0 mm")),)),),
    )


def _dash_at_edge(piece: Piece, line: str, nearest: float, path: str) -> Finding:
    return Finding(
        "construct.dash-at-edge",
        "look",
        f"A dash of the {piece.name} meets the edge",
        f"The land at the end is {nearest:.1f} mm; under {LEAST_END_LAND_MM} mm it tears when the fold is pressed.",
        "The fold opens at its ends.",
        line,
        (
            Mend("Use 5 mm lands", (Change(f"{path}.land", parse_length("5 mm")),)),
            Mend("Stop 3 mm short", (Change(f"{path}.ends", parse_length("3 mm")),)),
        ),
    )
