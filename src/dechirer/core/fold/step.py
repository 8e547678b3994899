"""A step of making up, and what it needs done before it."""

from __future__ import annotations

import re
import zlib
from typing import Literal

from msgspec import Struct

from dechirer.core.decide.values import Identifier

Stage = Literal["weed", "crease", "glue", "put on", "fold", "put in", "envelope"]
STAGES: dict[Stage, str] = {
    "weed": "Weed and sort",
    "crease": "Crease",
    "glue": "Glue",
    "put on": "Put on",
    "fold": "Fold",
    "put in": "Put in",
    "envelope": "Envelope",
}
LONGEST_ID = 41


class MakeStep(Struct, frozen=True):
    """One step of making up a card.

    Attributes:
        id: its name, for the maker's own order.
        stage: the kind of work.
        words: what is done, in a few words; `more` how, and `why` why now, where the order matters.
        model: `card`, `envelope`, or empty where nothing is seen of it there.
        parts: pieces and items that are used, by their ids, each put in by one step.
        joint: the id of the joint that is made; empty for none.
        before, after: how far the model is closed before and after it, 0 to 1.
        needs: ids of steps that have to be done before, or it cannot be done.
        hands_s: hands at work for one card, s; `setup_s` to get ready for it, once however many cards follow.
        sets_min: how long it is left before the next thing is done to the card, minutes.
    """

    id: Identifier
    stage: Stage
    words: str
    more: str = ""
    why: str = ""
    model: str = ""
    parts: tuple[str, ...] = ()
    joint: str = ""
    before: float = 0.0
    after: float = 0.0
    needs: tuple[str, ...] = ()
    hands_s: float = 0.0
    setup_s: float = 0.0
    sets_min: float = 0.0


def step_id(*words: str) -> str:
    """An identifier of words, shortened where they are long, and still its own."""
    id = "-".join(re.sub(r"[^a-z0-9]+", "-", word.lower()).strip("-") for word in words)
    if len(id) > LONGEST_ID:
        id = f"{id[: LONGEST_ID - 9]}-{zlib.crc32(id.encode()):08x}"
    return id if id[:1].isalpha() else f"s{id}"[:LONGEST_ID]


def in_order(steps: tuple[MakeStep, ...], order: tuple[str, ...], skipped: tuple[str, ...]) -> tuple[MakeStep, ...]:
    """The steps in the maker's own order, those left out gone; a step the order does not name comes after the one it
    came after before."""
    ranks = {id: float(place) for place, id in enumerate(order)}
    last, found = -1.0, []
    for step in steps:
        if step.id in ranks:
            last = ranks[step.id]
        found.append((last, step))
    ordered = sorted(found, key=lambda each: each[0]) if order else found
    return tuple(step for _, step in ordered if step.id not in skipped)


def missing_before(steps: tuple[MakeStep, ...]) -> list[tuple[MakeStep, str]]:
    """The steps that come before something they need, each with the id of what that is; also where it is left out."""
    done: set[str] = set()
    found = []
    for step in steps:
        found += [(step, need) for need in step.needs if need not in done]
        done.add(step.id)
    return found
