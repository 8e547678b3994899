"""What can be added is found: folders register, fields say of themselves what is needed, stations are whole."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import msgspec
import pytest

from dechirer.core.construct.checks.closing import find_card_that_does_not_close, find_panels_that_collide
from dechirer.core.construct.seen import CardSeen
from dechirer.core.construct.specs import ATTACHMENTS, CONSTRUCTIONS, ENVELOPES
from dechirer.core.decide.decisions import Decisions, slots_of
from dechirer.core.decide.field import Slot
from dechirer.core.dress.step import STEPS
from dechirer.core.finding import CHECKS, Checks, Finding
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.core.registry import Registry
from dechirer.core.stations import STATIONS
from dechirer.demo import DEMOS, load_demo_job
from dechirer.formats.output import OUTPUTS
from tests.blanks import CATALOGUE as BLANK_CATALOGUE
from tests.core.test_catalogue import CATALOGUE
from tests.core.test_dress_catalogue import CATALOGUE as DRESS_CATALOGUE
from tests.core.test_fold_catalogue import CATALOGUE as FOLD_CATALOGUE
from tests.core.test_keep import CATALOGUE as KEEP_CATALOGUE
from tests.core.test_press_catalogue import CATALOGUE as PRESS_CATALOGUE
from tests.helpers import quick_job
from tests.house.rooms import all_decisions, import_core, modules_of

REGISTRIES: dict[str, Registry[Any] | list[Registry[Any]]] = {
    "dechirer.core.construct.kinds": CONSTRUCTIONS,
    "dechirer.core.construct.attachments": ATTACHMENTS,
    "dechirer.core.construct.envelopes": [ENVELOPES, ATTACHMENTS],
    "dechirer.core.dress.steps": STEPS,
    "dechirer.formats.outputs": OUTPUTS,
}
GUARDS = {"construct.folds-through", "construct.not-flat"}
"""Codes that no construction of today can provoke: they stand for those to come, and are tried on a bent tree."""
PAPER = {**CATALOGUE, **DRESS_CATALOGUE, **PRESS_CATALOGUE, **BLANK_CATALOGUE, **FOLD_CATALOGUE, **KEEP_CATALOGUE}


@pytest.mark.parametrize("folder", list(REGISTRIES))
def test_every_file_of_a_folder_registers_something(folder: str) -> None:
    found = REGISTRIES[folder]
    homes = {spec.run.__module__ for each in (found if isinstance(found, list) else [found]) for spec in each}
    for module in modules_of(folder):
        shared = module.__doc__ and "shared" in module.__doc__.lower()
        assert module.__name__ in homes or shared, f"{module.__name__} registers nothing"


@pytest.mark.parametrize("folder", [f"dechirer.core.{room}.checks" for room in ("construct", "dress", "press")])
def test_every_file_of_checks_registers_one(folder: str) -> None:
    modules = [module.__name__ for module in modules_of(folder)]
    homes = {check.run.__module__ for check in CHECKS}
    assert set(modules) <= homes


def fields_of_the_job() -> Iterator[tuple[type[Decisions], str]]:
    for kind in sorted(all_decisions(), key=lambda each: each.__qualname__):
        for field in msgspec.structs.fields(kind):
            yield kind, field.name


def test_every_field_says_its_name_and_its_bounds() -> None:
    seen = 0
    for kind, name in fields_of_the_job():
        slot: Slot | None = slots_of(kind).get(name)
        if slot is None or slot.kind in ("part", "other"):
            continue
        seen += 1
        assert slot.field.title, f"{kind.__name__}.{name} has no title"
        if slot.kind in ("length", "lengths", "mm", "count", "number"):
            assert slot.field.least is not None, f"{kind.__name__}.{name} has no least value"
            assert slot.field.most is not None, f"{kind.__name__}.{name} has no most"
    assert seen > 100


def test_every_field_a_maker_may_edit_is_a_field() -> None:
    """A value without a Field cannot be typed or chosen; only what is kept for other reasons may be so."""
    kept = {"format", "x", "y"}  # of the file, and where the maker has dropped a piece
    for kind, name in fields_of_the_job():
        if name in slots_of(kind) or name in kept:
            continue
        held = next(each.type for each in msgspec.structs.fields(kind) if each.name == name)
        assert not isinstance(held, type) or held not in (int, float), f"{kind.__name__}.{name} is a bare number"


def test_the_codes_declared_are_those_that_are_found(monkeypatch: pytest.MonkeyPatch) -> None:
    import_core()
    declared = {code for check in CHECKS for code in check.codes}
    stations = {code.split(".")[0] for code in declared}
    assert stations <= set(STATIONS.ids())
    assert declared == set(PAPER) | GUARDS

    def run(self: Checks, of: Any, seen: Any) -> Iterator[Finding]:
        for check in self._checks.get(of, ()):
            for finding in check.run(seen):
                assert finding.code in check.codes, f"{check.run.__name__} does not declare {finding.code}"
                yield finding

    monkeypatch.setattr(Checks, "run", run)
    for make in PAPER.values():
        make_plan(make())
    for name in DEMOS:
        make_plan(load_demo_job(name))


def test_a_tree_that_cannot_fold_is_found(demo: Job) -> None:
    """A gate whose second door is closed through the first, and a fold that stays open."""
    plan = make_plan(quick_job("5x7in", fold="gate"))
    tree = plan.construct.tree
    half = msgspec.structs.replace(
        tree, hinges=tuple(msgspec.structs.replace(each, closed_deg=90.0) for each in tree.hinges)
    )
    seen = CardSeen(plan.job.brief, plan.job.construct, plan.brief, None, plan.construct, "in")  # type: ignore[arg-type]
    bent = msgspec.structs.replace(seen, plan=msgspec.structs.replace(plan.construct, tree=half))
    assert [each.code for each in find_card_that_does_not_close(bent)] == ["construct.not-flat"]
    assert list(find_card_that_does_not_close(seen)) == []
    assert list(find_panels_that_collide(seen)) == []


def test_the_outputs_stand_in_the_docs() -> None:
    page = (Path(__file__).parents[2] / "docs" / "files.md").read_text()
    for spec in OUTPUTS:
        stem = spec.id.split("{")[0]
        assert stem in page, f"docs/files.md says nothing of {spec.id}"
