"""Twenty good jobs of every construction, in both units, dressed with words, a window and a glued piece: no stop."""

from __future__ import annotations

import pytest

from dechirer.core.audit import audit
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.core.starting import take_card
from tests.card_files import FILES, read
from tests.dressing import art, item, step, words
from tests.jobs.made import dress, start

SIZES = {
    "side-fold": ("5x7in", "105x148mm"),
    "top-fold": ("7x5in", "148x105mm"),
    "flat": ("5x7in", "148x105mm"),
    "gate": ("5x7in", "140x140mm"),
    "lock-gate": ("4.25x5.5in", "108x140mm"),
    "flap-lock": ("4.25x5.5in", "108x140mm"),
    "hinged-shape": ("5.25x5.25in", "120x120mm"),
    "concertina": ("4x6in", "100x150mm"),
    "collar": ("4.5x6in", "110x160mm"),
    "money-holder": ("6x4.5in", "150x110mm"),
    "flap-row": ("9x4in", "230x100mm"),
}
KITE = art("M 10 0 L 20 12 L 10 30 L 0 12 Z", width=20.0, height=30.0)


def good(kind: str, units: str) -> Job:
    size = SIZES.get(kind, ("5x7in", "130x180mm"))[units == "mm"]
    job = start(size, kind, count=3, paper="heavy", units=units)
    if kind == "from-file":
        job = apply_changes(job, take_card(job, read(*FILES["side fold"])))
    construct = make_plan(job).construct
    front, back = construct.tree.faces[0], construct.tree.faces[-1]
    low = {"within": "safe", "down": "bottom"} if kind == "money-holder" else {}  # clear of the holes for the note
    words_on = item("hello", face=back.name, made="pen", words=words("Ahoy", face="line-plain", size="7 mm"), **low)
    border = (step("border", by="2 mm"),)
    glued = {"made": "piece", "width": "12 mm", "within": "safe"}
    if kind in ("money-holder", "flap-row"):
        # Their fronts are cut through: what is glued goes to the back.
        return dress(
            job, words_on, item("kite", face=back.name, down="top", across="left", paper="navy", **glued), arts=(KITE,)
        )
    return dress(
        job,
        item("kite", face=front.name, down="bottom", paper="navy", steps=border, **glued),
        item(
            "hole", face=front.name, made="window", width="9 mm", within="safe", down="top", paper="foil", margin="4 mm"
        ),
        words_on,
        arts=(*job.dress.art, KITE),
    )


@pytest.mark.parametrize("units", ["in", "mm"])
@pytest.mark.parametrize("kind", CONSTRUCTIONS.ids())
def test_a_good_job_of_every_construction_is_not_stopped(kind: str, units: str) -> None:
    plan = make_plan(good(kind, units))
    assert [(each.code, each.reason) for each in plan.findings if each.severity == "stop"] == []
    assert audit(plan, again=True) == ()
    assert {piece.id for piece in plan.dress.pieces} >= {"kite"}
