"""Mates and locks: what lies on each other is the same, also seen from behind; what is locked is not scaled."""

from __future__ import annotations

import pytest
import shapely

from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, JobError
from dechirer.core.plan import make_plan
from tests.card_files import FILES, taken
from tests.dressing import art, dressed, item, step
from tests.helpers import changed, codes, finding, quick_job, typed

PAPER = {"paper": "liner-paper"}
FLAG = art("M 0 0 L 30 0 L 20 10 L 30 20 L 0 20 Z", id="flag", width=30.0, height=20.0)
"""Its notch is at its right: it is not the same mirrored."""


def pair(**more: object) -> Job:
    front = item("front-flag", art="flag", across="left", x="20 mm", **PAPER)
    back = item("back-flag", face="inside left", **{"of": "front-flag", "mate": "front-flag", **PAPER, **more})
    return dressed(front, back, job=quick_job("5x7in"), arts=(FLAG,))


def test_an_item_made_of_one_on_the_other_side_lies_behind_it_mirrored() -> None:
    """On the sheet, outside up, both cover the same place: the second is cut so that its good side is seen inside."""
    plan = make_plan(pair())
    assert "dress.mates-differ" not in codes(plan)
    lie = []
    for name in ("front-flag", "back-flag"):
        found = plan.dress.item(name)
        assert found is not None
        assert found.spot is not None
        assert found.spot.to_card is not None
        ring = found.placed.drawn.areas[0].exterior.coords
        lie.append(shapely.Polygon([found.spot.to_card((x, y)) for x, y in ring]))
    assert lie[0].symmetric_difference(lie[1]).area == pytest.approx(0, abs=0.01)
    front, back = (plan.dress.piece(name) for name in ("front-flag", "back-flag"))
    assert front is not None
    assert back is not None
    # The notch is on the right of the one and on the left of the other.
    corners = [min(piece.outline, key=lambda p: abs(p[1] - 10) + 0 * p[0])[0] for piece in (front, back)]
    assert corners[0] == pytest.approx(20, abs=0.05)
    assert corners[1] == pytest.approx(10, abs=0.05)


def test_a_mate_that_is_a_little_larger_stops_and_follows_when_it_is_told_to() -> None:
    bad = make_plan(pair(of=None, art="flag", width="30.4 mm"))
    found = finding(bad, "dress.mates-differ")
    assert found.severity == "stop"
    good = make_plan(apply_changes(bad.job, found.mends[0].changes))
    assert "dress.mates-differ" not in codes(good)
    near = make_plan(pair(of=None, art="flag", width="30.05 mm", steps=(step("mirror", side="left"),)))
    assert near.dress.item("back-flag") is not None


def test_a_mate_follows_when_the_first_is_changed() -> None:
    job = typed(pair(), "dress.items.front-flag.width", "45 mm")
    back = make_plan(job).dress.piece("back-flag")
    assert back is not None
    assert back.width.value == pytest.approx(45)


def test_what_is_locked_is_not_scaled_and_says_what_would_no_longer_fit() -> None:
    job = changed(pair(), **{"dress__items__front-flag__locked": True})
    with pytest.raises(JobError, match=r"front-flag is locked: back-flag would no longer fit\. Unlock it first"):
        typed(job, "dress.items.front-flag.width", "45 mm")
    opened = apply_changes(
        job,
        [Change("dress.items.front-flag.locked", False), Change("dress.items.front-flag.width", job.brief.width)],
    )
    assert opened.dress.items[0].width == job.brief.width
    assert changed(job, **{"dress__items__front-flag__name": "flag"}).dress.items[0].name == "flag"


def test_a_bought_design_can_be_locked() -> None:
    job = changed(taken(*FILES["gate with a slot"]), dress__art__i__locked=True)
    with pytest.raises(JobError, match="the card and its slots would no longer fit"):
        changed(job, dress__art__i__scale=1.02)
    assert changed(job, dress__art__i__locked=False, dress__art__i__scale=1.02).dress.art[0].scale == 1.02
    # The same file on a card that is not cut after it: only what is made of it is told of.
    elsewhere = changed(job, brief__construction="side-fold")
    with pytest.raises(JobError, match=r"is locked\. Unlock it first|is locked: ") as told:
        changed(elsewhere, dress__art__i__scale=1.02)
    assert "slots" not in str(told.value)
