"""Nesting in a process of its own: what is asked comes as one line of JSON, each better layout goes out as one.

A search holds the interpreter, so that a window beside it would stand still; and ending the process is all it takes to
stop it.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator
from typing import Any

from dechirer.core.lay.closer import Ask
from dechirer.core.lay.nesting.search import Nested, Nester
from dechirer.core.shape.affine import Points

SEED = 5


def turns_of(turns: tuple[int, ...], held: bool) -> tuple[int, ...]:
    """The turns of an outline, of which one that is held keeps the half ones."""
    return tuple(turn for turn in turns if not held or turn % 2 == 0)


def _kinds(
    outlines: Any, holes: Any, turns: tuple[int, ...], held: Any
) -> list[tuple[tuple[Points, ...], tuple[int, ...]]]:
    """The rings of each kind, the outer one first, with the turns it may lie in."""
    own = holes or [()] * len(outlines)
    return [((outline, *own[number]), turns_of(turns, number in held)) for number, outline in enumerate(outlines)]


def look_for(ask: Ask, rounds: int) -> Iterator[Nested]:
    """Layouts for what is asked, each better than those before; the same ones for the same rounds on any machine."""
    kinds = _kinds(ask.outlines, ask.holes, ask.turns, ask.held)
    counts = [len(each) for each in ask.pieces]
    yield from Nester(kinds, counts, ask.room.width, ask.room.height, ask.gap, SEED).run(rounds)


def sheets_of(found: Nested) -> tuple[tuple[tuple[int, int, float, float], ...], ...]:
    """A layout as plain data: kind, turn and corner of each piece."""
    return tuple(tuple((put.kind, put.turn, put.x, put.y) for put in sheet) for sheet in found.sheets)


def write_ask(ask: Ask, rounds: int) -> str:
    """What is asked, as a line."""
    counts = [len(each) for each in ask.pieces]
    room = [ask.room.width, ask.room.height]
    plain = {
        "outlines": ask.outlines,
        "counts": counts,
        "turns": ask.turns,
        "held": ask.held,
        "holes": ask.holes,
        "room": room,
        "gap": ask.gap,
    }
    return json.dumps({**plain, "rounds": rounds})


def main() -> None:
    """Read one line, answer with many; a last line says that the search is over."""
    asked = json.loads(sys.stdin.readline())
    outlines = [tuple(map(tuple, outline)) for outline in asked["outlines"]]
    holes = [[tuple(map(tuple, ring)) for ring in own] for own in asked["holes"]]
    kinds = _kinds(outlines, holes, tuple(asked["turns"]), asked["held"])
    width, height = asked["room"]
    nester = Nester(kinds, asked["counts"], width, height, asked["gap"], SEED)
    for found in nester.run(asked["rounds"]):
        print(json.dumps({"needs": found.needs, "round": found.round, "sheets": sheets_of(found)}), flush=True)
    print(json.dumps({"over": True}), flush=True)


if __name__ == "__main__":
    main()
