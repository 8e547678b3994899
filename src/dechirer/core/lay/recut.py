"""Check that says when what is laid is not the whole job."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.lay.checks import LaySeen
from dechirer.core.lay.lay import make_lay
from dechirer.core.lay.wanted import counts_of, whole_again


@CHECKS.add("lay.recut", of=make_lay)
def find_recut(seen: LaySeen) -> Iterator[Finding]:
    """What is laid is not the whole job: said on every screen, so that nobody takes it for that."""
    counts = counts_of(seen.pieces, seen.lay)
    if counts is None:
        return
    names = {piece.id: piece.name for piece in seen.pieces}
    told = ", ".join(f"{count} × {names[id]}" for id, count in counts.items())
    yield Finding(
        "lay.recut",
        "look",
        f"Only what was spoiled is laid: {told}",
        "Mats, pages, files and times are those of these pieces alone.",
        "The rest of the job is not cut.",
        next(iter(counts)),
        (Mend("Lay the whole job again", (whole_again(),)),),
    )
