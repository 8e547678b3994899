"""Registries and stations: things are found in their folders, in their order, and parts see what came before them."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest
from msgspec import Struct

from dechirer.core.construct.specs import ATTACHMENTS, CONSTRUCTIONS
from dechirer.core.finding import CHECKS, Checks, Finding
from dechirer.core.lay.decisions import Lay
from dechirer.core.memory import Memory
from dechirer.core.plan import Planner, make_plan
from dechirer.core.registry import Registry, UnknownIdError
from dechirer.core.rooms import list_rooms, names_in
from dechirer.core.run.station import RUN
from dechirer.core.stations import STATIONS, Known
from dechirer.demo import load_demo_job
from tests.helpers import typed


class Spec(Struct, frozen=True):
    """The spec of a thing of the test."""

    id: str
    run: object
    order: int = 0


@pytest.fixture
def shelf(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Registry[Spec]:
    """A registry whose folder holds two files."""
    home = tmp_path / "a_shelf_of_a_test"
    home.mkdir()
    (home / "__init__.py").write_text("SHELF = None\n")
    for name, order in (("beta", 1), ("alpha", 2)):
        text = (
            f"import a_shelf_of_a_test as at\n@at.SHELF.add('{name}', order={order})\ndef run():\n    return '{name}'\n"
        )
        (home / f"{name}.py").write_text(text)
    (home / "notes.txt").write_text("not a module")
    monkeypatch.syspath_prepend(tmp_path)
    registry = Registry("book", Spec, folders=("a_shelf_of_a_test",))
    module = __import__("a_shelf_of_a_test")
    module.SHELF = registry
    yield registry  # type: ignore[misc]
    for name in [name for name in sys.modules if name.startswith("a_shelf_of_a_test")]:
        del sys.modules[name]


def test_a_folder_is_looked_through_once_and_kept_in_order(shelf: Registry[Spec]) -> None:
    assert shelf.ids() == ("beta", "alpha")
    assert [spec.order for spec in shelf] == [1, 2]
    assert len(shelf) == 2
    assert "alpha" in shelf
    assert "notes" not in shelf
    assert shelf["alpha"].run() == "alpha"  # type: ignore[operator]
    assert shelf.find() is shelf.find()


def test_an_id_that_is_not_known_is_answered_with_those_that_are(shelf: Registry[Spec]) -> None:
    with pytest.raises(UnknownIdError) as refused:
        shelf["gamma"]
    assert str(refused.value) == "book “gamma” is not one of beta, alpha"


def test_two_of_one_name_are_refused(shelf: Registry[Spec]) -> None:
    shelf.find()
    with pytest.raises(ValueError, match="two of book are called alpha"):
        shelf.add("alpha")(print)


def test_a_check_runs_for_what_it_is_a_check_of() -> None:
    checks, finding = Checks(), Finding("lay.odd", "look", "odd", "It is.")

    @checks.add("lay.odd", of="this")
    def find_odd(seen: list[int]) -> list[Finding]:
        return [finding for each in seen if each % 2]

    assert list(checks.run("this", [1, 2, 3])) == [finding, finding]
    assert list(checks.run("that", [1])) == []
    assert [check.codes for check in checks] == [("lay.odd",)]
    assert finding.station == "lay"


def test_rooms_are_folders_that_give_themselves_a_title() -> None:
    assert [room.id for room in list_rooms()] == list(STATIONS.ids())
    assert [room.title for room in list_rooms()] == [spec.title for spec in STATIONS]
    assert {"card", "decide", "shape"} <= set(names_in("dechirer.core", folders=True))
    assert "plan" in names_in("dechirer.core")
    assert "__init__" not in names_in("dechirer.core")


def test_parts_are_made_in_order_and_see_only_what_was_made_before() -> None:
    parts = STATIONS.parts()
    assert [part.order for part in parts] == sorted(part.order for part in parts)
    plan = make_plan(load_demo_job("kites"))
    made: dict[str, object] = {}
    for part in parts:
        known = Known(plan.job.units, {spec.decisions: getattr(plan.job, spec.id) for spec in STATIONS}, made, Memory())
        part.reads(known)  # raises KeyError when it asks for what is worked out later
        assert not known.has(part)
        made[part.id] = plan.part(part)
    with pytest.raises(KeyError):
        Known("in", {}, {}, Memory()).part(RUN)
    with pytest.raises(KeyError):
        Known("in", {}, {}, Memory()).of(Lay)


def test_an_edit_of_one_room_leaves_the_parts_before_it_as_they_are() -> None:
    planner, job = Planner(), load_demo_job("kites")
    before = planner.plan(job)
    after = planner.plan(typed(job, "run.score_passes", "3"))
    kept = [part.id for part in STATIONS.parts() if after.part(part) is before.part(part)]
    assert kept == [part.id for part in STATIONS.parts() if part.station not in ("run", "fold", "keep")]
    assert after.part(RUN) is not before.part(RUN)


def test_every_construction_and_attachment_keeps_decisions_of_its_own() -> None:
    construct = load_demo_job().construct
    for kind in CONSTRUCTIONS:
        assert type(kind.own(construct)) is kind.decisions
    for spec in ATTACHMENTS:
        assert hasattr(construct, spec.id)
        assert spec.path == f"construct.{spec.id}"
    assert len({check.run for check in CHECKS}) > 20
