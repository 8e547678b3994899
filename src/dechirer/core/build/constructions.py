"""The constructions Dechirer can build, by the name the job uses."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from msgspec import Struct

from dechirer.core.build.concertina import check_concertina, make_concertina
from dechirer.core.build.flat_card import make_flat
from dechirer.core.build.folded_card import make_side_fold, make_top_fold
from dechirer.core.build.gate import check_gate, make_gate
from dechirer.core.build.hinged_shape import check_hinged_shape, make_hinged_shape
from dechirer.core.build.setting import Made, Setting
from dechirer.core.finding import Finding
from dechirer.core.job.model import Job


def no_checks(job: Job, made: Made) -> Iterable[Finding]:
    """For constructions without checks of their own."""
    return ()


class ConstructionKind(Struct, frozen=True):
    """A construction: its title, its builder, its own checks, and what a liner of it is.

    `liner` is `spread` (folded with the card), `centre` (on the middle panel) or empty (it takes none). `fields` are
    the job fields that have no place on the drawing, with their titles.
    """

    id: str
    title: str
    make: Callable[[Setting], Made]
    check: Callable[[Job, Made], Iterable[Finding]] = no_checks
    liner: str = ""
    fields: tuple[tuple[str, str], ...] = ()


KINDS: dict[str, ConstructionKind] = {
    kind.id: kind
    for kind in (
        ConstructionKind("side-fold", "Side fold", make_side_fold, liner="spread"),
        ConstructionKind("top-fold", "Top fold", make_top_fold, liner="spread"),
        ConstructionKind("flat", "Flat card", make_flat),
        ConstructionKind("gate", "Gate", make_gate, check_gate, liner="centre"),
        ConstructionKind(
            "hinged-shape", "Hinged shape", make_hinged_shape, check_hinged_shape,
            fields=(("build.hinged.rim", "Rim repeats (0: none)"), ("build.hinged.proud", "Rim stands proud by")),
        ),
        ConstructionKind(
            "concertina", "Concertina", make_concertina, check_concertina,
            fields=(("build.concertina.panels", "Panels"), ("build.concertina.step", "Each panel lower by")),
        ),
    )
}  # fmt: skip
