"""Check of outlines that shall come from a file: it must be there, and enclose something."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, get_args

from dechirer.core.construct.art_outline import FROM_FILE, outermost
from dechirer.core.construct.construct import make_construct
from dechirer.core.construct.seen import CardSeen
from dechirer.core.decide.change import Change, key_of
from dechirer.core.decide.decisions import Decisions, slots_of
from dechirer.core.finding import CHECKS, Finding, Mend


@CHECKS.add("construct.outline-missing", of=make_construct)
def find_outlines_without_a_file(seen: CardSeen) -> Iterator[Finding]:
    """An outline is wanted from a file that is not chosen, is gone, or encloses nothing."""
    kind = seen.plan.kind
    listed: list[tuple[str, Any]] = [(f"construct.{kind.field}", kind.own(seen.construct))]
    listed += [(spec.path, own) for spec, own in seen.construct.attached()]
    for path, own in (each for top in listed for each in _wanting(*top)):
        art = next((each for each in seen.card.arts if each.id == own.art), None)
        if art is not None and outermost(art):
            continue
        field = "shape" if hasattr(own, "shape") else "top"
        plain = next(each for each in get_args(slots_of(own.__class__)[field].type) if each != FROM_FILE)
        yield Finding(
            "construct.outline-missing",
            "stop",
            "The file for an outline is not there" if art is None else "The file encloses no outline",
            "Choose a file that was brought in, or bring one in and choose it."
            if art is None
            else f"Nothing that {art.name} cuts is closed.",
            "A plain outline is cut in its place.",
            getattr(own, "id", "base"),
            (Mend(f"Make it {plain}", (Change(f"{path}.{field}", plain),)),),
        )


def _wanting(path: str, own: Any) -> Iterator[tuple[str, Any]]:
    """The decisions at a path and below that want an outline from a file."""
    if isinstance(own, tuple):
        for each in own:
            yield from _wanting(f"{path}.{key_of(each)}", each)
    elif isinstance(own, Decisions):
        if FROM_FILE in (getattr(own, "shape", ""), getattr(own, "top", "")) and hasattr(own, "art"):
            yield path, own
        for name in own.__struct_fields__:
            value = getattr(own, name)
            if isinstance(value, (tuple, Decisions)):
                yield from _wanting(f"{path}.{name}", value)
