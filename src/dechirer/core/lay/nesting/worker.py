"""Nesting in a process of its own: what is asked comes as one line of JSON, each better layout goes out as one.

A search holds the interpreter, so that a window beside it would stand still; and ending the process is all it takes to
stop it.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator

from dechirer.core.lay.closer import Ask
from dechirer.core.lay.nesting.search import Nested, Nester

SEED = 5


def turns_of(turns: tuple[int, ...], held: bool) -> tuple[int, ...]:
    """The turns of an outline, of which one that is held keeps the half ones."""
    return tuple(turn for turn in turns if not held or turn % 2 == 0)


def look_for(ask: Ask, rounds: int) -> Iterator[Nested]:
    """Layouts for what is asked, each better than those before; the same ones for the same rounds on any machine."""
    kinds = [((outline,), turns_of(ask.turns, number in ask.held)) for number, outline in enumerate(ask.outlines)]
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
        "room": room,
        "gap": ask.gap,
    }
    return json.dumps({**plain, "rounds": rounds})


def main() -> None:
    """Read one line, answer with many; a last line says that the search is over."""
    asked = json.loads(sys.stdin.readline())
    kinds = [
        ((tuple(map(tuple, outline)),), turns_of(tuple(asked["turns"]), number in asked["held"]))
        for number, outline in enumerate(asked["outlines"])
    ]
    width, height = asked["room"]
    nester = Nester(kinds, asked["counts"], width, height, asked["gap"], SEED)
    for found in nester.run(asked["rounds"]):
        print(json.dumps({"needs": found.needs, "round": found.round, "sheets": sheets_of(found)}), flush=True)
    print(json.dumps({"over": True}), flush=True)


if __name__ == "__main__":
    main()
