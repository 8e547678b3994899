"""The order of mats with least tool changes, proven where that can be had.

Mats that want the same tools, are cut as often, and come before and after the same others stand for each other, so what
is weighed is how many of each kind are left and which tool sits in each holder: dynamic programming over that finds the
least there is. Where it would take too long, the nearest next mat is taken, and how few changes there must be is told.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import cache

from msgspec import Struct

from dechirer.core.run.tools import ToolChoice

MOST_STATES = 5000
"""So many ways of what is left are weighed."""
Fitted = tuple[tuple[str, tuple[str, str, float]], ...]
"""What sits in each holder, by holder."""


class MatNeed(Struct, frozen=True):
    """What a mat asks of the order: its tools in the order of its passes, how often it is cut, the roles of lines
    before which something on it is glued on, and the roles of its own lines."""

    tools: tuple[ToolChoice, ...]
    repeats: int = 1
    befores: frozenset[str] = frozenset()
    roles: frozenset[str] = frozenset()


class MatOrder(Struct, frozen=True):
    """Places of mats in the order they are cut, the tool changes that takes, and the fewest there can be."""

    places: tuple[int, ...]
    changes: int
    least: int

    @property
    def is_proven(self) -> bool:
        """Whether no order takes fewer."""
        return self.changes <= self.least


def run_through(need: MatNeed, fitted: Fitted) -> tuple[int, Fitted]:
    """The changes a mat takes with some tools fitted, and what is fitted then; the first fit of a holder is set-up."""
    now = dict(fitted)
    rounds = []
    # The state repeats from the second time on, so two rounds tell all of them.
    for _ in range(min(2, need.repeats)):
        here = 0
        for choice in need.tools:
            old = now.get(choice.holder)
            here += old is not None and old != choice.fitted
            now[choice.holder] = choice.fitted
        rounds.append(here)
    changes = rounds[0] + (need.repeats - 1) * rounds[-1] if rounds else 0
    return changes, tuple(sorted(now.items()))


def count_changes(needs: Iterable[MatNeed]) -> int:
    """Tools fitted in place of another over mats in this order."""
    fitted: Fitted = ()
    total = 0
    for need in needs:
        changes, fitted = run_through(need, fitted)
        total += changes
    return total


def order_mats(needs: Sequence[MatNeed]) -> MatOrder:
    """The order with least changes; of equal ones the first."""
    kinds: dict[MatNeed, list[int]] = {}
    for place, need in enumerate(needs):
        kinds.setdefault(need, []).append(place)
    states = 1
    for places in kinds.values():
        states *= len(places) + 1
    least = least_changes(needs)
    if states <= MOST_STATES:
        order, changes = _weigh_all(kinds)
        return MatOrder(order, changes, changes)
    order = _nearest_next(needs, kinds)
    return MatOrder(order, count_changes(needs[place] for place in order), least)


def least_changes(needs: Sequence[MatNeed]) -> int:
    """How few changes there must be in any order: each holder takes every tool it is wanted for once, and what each
    mat changes by itself each time it is cut."""
    wanted: dict[str, set[tuple[str, str, float]]] = {}
    by_themselves = 0
    for need in needs:
        for choice in need.tools:
            wanted.setdefault(choice.holder, set()).add(choice.fitted)
        once = MatNeed(need.tools)
        first, fitted = run_through(once, ())
        by_themselves += first + (need.repeats - 1) * run_through(once, fitted)[0]
    return max(sum(len(tools) - 1 for tools in wanted.values()), by_themselves)


def _ready(left: tuple[int, ...], list_: list[MatNeed]) -> list[int]:
    """The kinds that may be cut now, which are those nothing that is left is glued on before; all where none may."""
    some = [kind for kind, count in enumerate(left) if count]
    first = [kind for kind in some if list_[kind].befores]

    def is_ready(kind: int) -> bool:
        roles = list_[kind].roles
        return not any(list_[other].befores & roles and (other != kind or left[kind] > 1) for other in first)

    return [kind for kind in some if is_ready(kind)] or some


State = tuple[tuple[int, ...], Fitted]
"""How many of each kind are left, and what is fitted."""


def _weigh_all(kinds: dict[MatNeed, list[int]]) -> tuple[tuple[int, ...], int]:
    """The first of the orders with least changes, and how many it takes."""
    list_ = list(kinds)
    waiting = [places[::-1] for places in kinds.values()]
    layers: list[dict[State, list[tuple[int, int, State]]]] = [{(tuple(len(each) for each in waiting), ()): []}]
    for _ in range(sum(len(places) for places in waiting)):
        following: dict[State, list[tuple[int, int, State]]] = {}
        for state, steps in layers[-1].items():
            steps += _steps(state, list_)
            following |= {after: [] for _, _, after in steps if after not in following}
        layers.append(following)
    least: dict[State, int] = dict.fromkeys(layers[-1], 0)
    for layer in reversed(layers[:-1]):
        least |= {state: min(changes + least[after] for _, changes, after in steps) for state, steps in layer.items()}
    (state,) = layers[0]
    total, order = least[state], []
    for layer in layers[:-1]:
        kind, _, state = min(layer[state], key=lambda step: (step[1] + least[step[2]], waiting[step[0]][-1]))
        order.append(waiting[kind].pop())
    return tuple(order), total


def _steps(state: State, list_: list[MatNeed]) -> list[tuple[int, int, State]]:
    """What may be cut next: (its kind, the changes it takes, what is left and fitted then)."""
    left, fitted = state
    found = []
    for kind in _ready(left, list_):
        changes, after = run_through(list_[kind], fitted)
        found.append((kind, changes, ((*left[:kind], left[kind] - 1, *left[kind + 1 :]), after)))
    return found


def _nearest_next(needs: Sequence[MatNeed], kinds: dict[MatNeed, list[int]]) -> tuple[int, ...]:
    """From each mat to the one that takes fewest changes next."""
    list_ = list(kinds)
    waiting = [places[::-1] for places in kinds.values()]
    fitted: Fitted = ()
    order = []
    # A few tools sit in a few holders, so that the same is asked again for nearly every mat.
    run = cache(lambda kind, fitted: run_through(list_[kind], fitted))
    while any(waiting):
        left = tuple(len(places) for places in waiting)
        kind = min(_ready(left, list_), key=lambda each: (run(each, fitted)[0], waiting[each][-1]))
        fitted = run(kind, fitted)[1]
        order.append(waiting[kind].pop())
    return tuple(order)
