"""The constructions Dechirer can make, by the name the job uses.

Each lives in a module of its own, which is imported when a card is first built that way: starting the window on a
plain card does not wait for the others.
"""

from __future__ import annotations

import importlib
from collections.abc import Iterable
from typing import Any

from msgspec import Struct

from dechirer.core.construct.setting import Made, Setting
from dechirer.core.finding import Finding
from dechirer.core.job.model import Job


class ConstructionKind(Struct, frozen=True):
    """A construction: its title, where its builder and its own checks are, and what a liner of it is.

    `module` is in this package; `builder` and `checks` name functions in it (no checks: empty). `liner` is `spread`
    (folded with the card), `centre` (on the middle panel) or empty (it takes none). `fields` are the job fields that
    have no place on the drawing, with their titles.
    """

    id: str
    title: str
    module: str
    builder: str
    checks: str = ""
    liner: str = ""
    fields: tuple[tuple[str, str], ...] = ()

    def _find(self, name: str) -> Any:
        return getattr(importlib.import_module(f"dechirer.core.construct.{self.module}"), name)

    def make(self, setting: Setting) -> Made:
        """Make the card."""
        made: Made = self._find(self.builder)(setting)
        return made

    def check(self, job: Job, made: Made) -> Iterable[Finding]:
        """The construction's own checks."""
        found: Iterable[Finding] = self._find(self.checks)(job, made) if self.checks else ()
        return found


KINDS: dict[str, ConstructionKind] = {
    kind.id: kind
    for kind in (
        ConstructionKind("side-fold", "Side fold", "folded_card", "make_side_fold", liner="spread"),
        ConstructionKind("top-fold", "Top fold", "folded_card", "make_top_fold", liner="spread"),
        ConstructionKind("flat", "Flat card", "flat_card", "make_flat"),
        ConstructionKind("gate", "Gate", "gate", "make_gate", "check_gate", liner="centre"),
        ConstructionKind(
            "lock-gate",
            "Locking gate",
            "lock_gate",
            "make_lock_gate",
            "check_lock_gate",
            liner="centre",
            fields=(
                ("construct.lock.tongue", "Tongue"),
                ("construct.lock.first", "Closes first"),
                ("construct.lock.head_shows", "Its head lies"),
                ("construct.lock.clearance", "Clearance"),
                ("construct.lock.flap", "Top flap (0: none)"),
                ("construct.lock.flap_closes", "Top flap closes"),
            ),
        ),
        ConstructionKind(
            "hinged-shape",
            "Hinged shape",
            "hinged_shape",
            "make_hinged_shape",
            "check_hinged_shape",
            fields=(
                ("construct.hinged.shape", "Shape"),
                ("construct.hinged.rim", "Rim repeats (0: none)"),
                ("construct.hinged.proud", "Rim stands proud by"),
            ),
        ),
        ConstructionKind(
            "concertina",
            "Concertina",
            "concertina",
            "make_concertina",
            "check_concertina",
            fields=(
                ("construct.concertina.panels", "Panels"),
                ("construct.concertina.widths", "Own widths, a; b; c"),
                ("construct.concertina.step", "Each lower by"),
                ("construct.concertina.top", "Tops"),
                ("construct.concertina.rise", "Tops rise by"),
            ),
        ),
        ConstructionKind(
            "collar",
            "Collar card",
            "collar",
            "make_collar",
            "check_collar",
            liner="centre",
            fields=(
                ("construct.collar.facing", "Strap faced with"),
                ("construct.collar.reveal", "Facing smaller by"),
                ("construct.collar.clearance", "Clearance"),
            ),
        ),
        ConstructionKind(
            "money-holder",
            "Money holder",
            "money_holder",
            "make_money_holder",
            "check_money_holder",
            fields=(
                ("construct.money.note", "Note"),
                ("construct.money.holder", "Held by"),
                ("construct.money.shape", "Shape"),
                ("construct.money.core", "Rolled on"),
                ("construct.money.clearance", "Clearance"),
                ("construct.money.depth", "Dome depth"),
                ("construct.money.rim", "Dome flange"),
                ("construct.money.free", "Free of glue"),
                ("construct.money.hanging", "Hanging hole (0: none)"),
                ("construct.money.back_paper", "Back"),
            ),
        ),
        ConstructionKind(
            "flap-row",
            "Flap row",
            "flap_row",
            "make_flap_row",
            "check_flap_row",
            fields=(
                ("construct.row.edge", "Edge round motifs"),
                ("construct.row.strip", "Strip flaps hang on"),
                ("construct.row.lift_deg", "Lifted by, degrees"),
            ),
        ),
    )
}
