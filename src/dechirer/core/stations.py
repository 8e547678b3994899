"""Stations: what is known of each in one place, and how its parts are worked out from what is known before them.

A *station* is a room of decisions and what follows from them. It is worked out in one or more *parts*, each at its own
place in the order of computation, so that nothing is needed before it is known. A part says what it reads; it is made
anew only when that changes, and it sees nothing else.
"""

from __future__ import annotations

import importlib
from collections.abc import Callable, Hashable, Iterable
from typing import Any, Generic, TypeVar

from msgspec import Struct

from dechirer.core.decide.change import value_at
from dechirer.core.decide.decisions import Decisions
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding
from dechirer.core.learned import Learned
from dechirer.core.memory import Memory
from dechirer.core.rooms import list_rooms

Result = TypeVar("Result")
Own = TypeVar("Own", bound=Decisions)


def _never() -> bool:
    return False


def _no_other(text: str) -> Any:
    raise LookupError("no other job can be planned here")


class Work(Struct, frozen=True):
    """How a part is worked out: asked to stop by `cancelled`, roughly when `coarse`, with what is remembered; and what
    plans another job that is given as text."""

    memory: Memory
    cancelled: Callable[[], bool] = _never
    coarse: bool = False
    other: Callable[[str], Any] = _no_other


class Handle(Struct, Generic[Result], frozen=True):
    """Asks for what a part has made by its id, where the part's room is further on."""

    id: str


class Part(Struct, Generic[Result], frozen=True):
    """One part of a station's computation.

    Attributes:
        id: its name among all parts; a station's main part is called as the station.
        station: the station it belongs to.
        order: when it is worked out.
        reads: the values it is made from, from what is known; equal values give the same result.
        make: from those values, and how to work, to the result, which has `figures()`.
        check: its findings, from what is known with it; None for none.
        skipped_while_dragged: while something is dragged the last result is shown instead.
        revises: the id of an earlier part whose result is given anew by this one, and where this result has it.
    """

    id: str
    station: str
    order: int
    reads: Callable[[Known], tuple[Hashable, ...]]
    make: Callable[..., Result]
    check: Callable[[Known], Iterable[Finding]] | None = None
    skipped_while_dragged: bool = False
    revises: tuple[str, Callable[[Any], Any]] | None = None


class Cost(Struct, frozen=True):
    """One figure of the consequences line: its key, its number and its words, and its place in the line."""

    figure: str
    number: str
    words: str
    order: int

    @property
    def station(self) -> str:
        """The station that shows it."""
        return self.figure.split(".", 1)[0]


class StationSpec(Struct, frozen=True):
    """A station.

    Attributes:
        id: its name in the job, in findings and in file names.
        title: what the strip calls it.
        order: its place in the order of work.
        decisions: what the maker decides in it.
        parts: how it is worked out.
        live: its one live figure in words, from what is known.
        about: what its screen does, for help.
        costs: its figures of the consequences line.
        finds: what of it can be looked for: (words, the element its screen points at).
    """

    id: str
    title: str
    order: int
    decisions: type[Decisions]
    parts: tuple[Part[Any], ...]
    live: Callable[[Known], str]
    about: str
    costs: Callable[[Known], tuple[Cost, ...]] = lambda known: ()
    finds: Callable[[Known], Iterable[tuple[str, str]]] = lambda known: ()


class Known:
    """What is known of a job so far: the decisions of every room, and the parts that have been made.

    It stands in place of the job in all rooms, so that a room cannot ask for decisions it has no business with.
    """

    def __init__(self, units: str, decisions: dict[type[Decisions], Any], made: dict[str, Any], memory: Memory) -> None:
        """`decisions` are by their class, `made` the results of parts by their ids; `memory` is for what checks find of
        things that have not changed."""
        self.units = units
        self.memory = memory
        self._decisions = decisions
        self._made = made

    def of(self, kind: type[Own]) -> Own:
        """A room's decisions.

        Raises:
            KeyError: no station has such decisions.
        """
        found: Own = self._decisions[kind]
        return found

    def at(self, path: str) -> Any:
        """The value of one decision by its path in the job, where its room is further on.

        Raises:
            PathError: no such field.
        """
        station, _, rest = path.partition(".")
        return value_at(self._decisions[STATIONS[station].decisions], rest)

    def part(self, part: Part[Result] | Handle[Result]) -> Result:
        """What a part has made.

        Raises:
            KeyError: it has not been made yet.
        """
        found: Result = self._made[part.id]
        return found

    def has(self, part: Part[Any]) -> bool:
        """Whether a part has been made."""
        return part.id in self._made


def learned_of(known: Known, begins: str) -> tuple[Learned, ...]:
    """The learned values a job uses whose keys begin so. What was learned is decided in a room at the end of the work,
    and used in those before it."""
    off = set(known.at("keep.off"))
    return tuple(each for each in known.at("keep.learned") if each.key.startswith(begins) and each.key not in off)


class Stations:
    """All stations by id in the order of work; each room keeps its own in a module `station`."""

    def __init__(self, package: str) -> None:
        self._package = package
        self._found: dict[str, StationSpec] | None = None

    def find(self) -> dict[str, StationSpec]:
        """The stations; imports their rooms the first time."""
        if self._found is None:
            specs = [importlib.import_module(f"{self._package}.{room.id}.station").STATION for room in list_rooms()]
            self._found = {spec.id: spec for spec in sorted(specs, key=lambda spec: spec.order)}
        return self._found

    def parts(self) -> tuple[Part[Any], ...]:
        """Every part in the order of computation."""
        return tuple(sorted((part for spec in self for part in spec.parts), key=lambda part: part.order))

    def ids(self) -> tuple[str, ...]:
        """Their ids in order."""
        return tuple(self.find())

    def __getitem__(self, id: str) -> StationSpec:
        return self.find()[id]

    def __contains__(self, id: object) -> bool:
        return id in self.find()

    def __iter__(self) -> Any:
        return iter(self.find().values())

    def __len__(self) -> int:
        return len(self.find())


STATIONS = Stations("dechirer.core")


def figures_of(results: Iterable[Any]) -> dict[str, Figure]:
    """Every figure of some results by key, those they come from included."""
    found: dict[str, Figure] = {}
    for result in results:
        for top in result.figures():
            for _, figure in top.walk():
                found.setdefault(figure.key, figure)
    return found
