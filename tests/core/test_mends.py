"""Every mend of every finding mends: what it was about is gone, and nothing worse has come in its place."""

from __future__ import annotations

from collections import Counter

import pytest

from dechirer.core.job.edit import apply_changes
from dechirer.core.plan import make_plan
from tests import blanks
from tests.core import test_catalogue, test_dress_catalogue, test_fold_catalogue, test_keep, test_press_catalogue

JOBS = {
    **test_catalogue.CATALOGUE,
    **test_dress_catalogue.CATALOGUE,
    **test_press_catalogue.CATALOGUE,
    **test_fold_catalogue.CATALOGUE,
    **test_keep.CATALOGUE,
    **blanks.CATALOGUE,
}


@pytest.mark.parametrize("code", list(JOBS))
def test_each_mend_takes_its_finding_away_and_stops_nothing_else(code: str) -> None:
    job = JOBS[code]()
    plan = make_plan(job)
    found = next(each for each in plan.findings if each.code == code)
    stops = Counter(each.code for each in plan.findings if each.severity == "stop")
    for mend in found.mends:
        after = make_plan(apply_changes(job, mend.changes))
        left = [each.reason for each in after.findings if (each.code, each.element) == (code, found.element)]
        assert not left, mend.label
        worse = Counter(each.code for each in after.findings if each.severity == "stop") - stops
        assert not worse, mend.label


@pytest.mark.parametrize("code", list(JOBS))
def test_every_stop_has_a_mend_or_is_known_to_have_none(code: str) -> None:
    plan = make_plan(JOBS[code]())
    without = {each.code for each in plan.findings if each.severity == "stop" and not each.mends}
    assert without <= test_dress_catalogue.NO_MEND
