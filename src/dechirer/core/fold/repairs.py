"""What can be done when something goes wrong at the table, and whether cutting another is quicker. Common practice."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.run.run import RunPlan


class Repair(Struct, frozen=True):
    """A mishap and what is done about it; `minutes` is how long the mending takes (from memory)."""

    what: str
    do: str
    minutes: float


REPAIRS = (
    Repair("A web tore", "glue a scrap of the same paper behind it, 3 mm larger all round", 3.0),
    Repair("Taped over too much", "warm the tape with a hair dryer and peel it at a low angle; rub the rest off", 4.0),
    Repair("Glue was missed", "a thin line on a scrap of paper slid in under the edge, then pressed", 2.0),
    Repair("A crease was crushed", "damp it from behind with a brush, fold it right, and dry it under a weight", 6.0),
    Repair("A white rim round a print", "go along the cut edge with a marker of the print's colour, from behind", 2.0),
)


AGAIN_MIN = 3.0
"""Loading, weeding and sorting one more piece (from memory)."""


def quicker_to_cut(repair: Repair, run: RunPlan) -> bool:
    """Whether cutting the piece once more takes less time than mending."""
    shortest = min((mat.seconds for mat in run.mats), default=0.0) / 60
    return bool(run.mats) and shortest + AGAIN_MIN < repair.minutes
