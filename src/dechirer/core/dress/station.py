"""Dress as a station. Its room is imported only for a card with something on it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from msgspec import structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.brief.station import BRIEF
from dechirer.core.card.stack import Stacked
from dechirer.core.construct.construct import stack_bare
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.station import CARD, CONSTRUCT, STACKED
from dechirer.core.construct.whole import CardPlan, ConstructPlan
from dechirer.core.dress import ORDER, TITLE
from dechirer.core.dress.decisions import Dress
from dechirer.core.dress.dressed import DressPlan, undressed
from dechirer.core.finding import CHECKS, SEVERITIES, Finding
from dechirer.core.registry import import_all
from dechirer.core.stations import Cost, Known, Part, StationSpec, Work
from dechirer.core.stopping import checkpoint
from dechirer.core.words import plural

if TYPE_CHECKING:
    from dechirer.core.dress.seen import DressSeen
    from dechirer.core.dress.words.copies import Copy


MOST_LETTERS = 30
"""So much of a copy's name is told."""


def _stack(brief: Brief, dress: Dress, facts: BriefPlan, card: CardPlan, work: Work) -> Stacked:
    if not dress.items:
        return stack_bare(card, facts)
    from dechirer.core.dress.dress import stack_card

    return stack_card(brief, dress, facts, card, work)


def stack_copy(card: CardPlan, facts: BriefPlan, dress: DressPlan) -> Stacked:
    """What lies on what on the copies that a dress shows."""
    from dechirer.core.dress.glued import GLUED, stack_dress

    items = tuple(each for each in dress.items if each.item.made in GLUED and "/" not in each.item.face)
    return stack_dress(card, facts, tuple(each for each in items if each.spot is not None), ())


STACK = Part(
    STACKED.id,
    "dress",
    30,
    lambda known: (known.of(Brief), known.of(Dress), known.part(BRIEF), known.part(CARD)),
    _stack,
)
"""The card as it will be: what goes round it is made for this."""


def _make(brief: Brief, dress: Dress, facts: BriefPlan, card: ConstructPlan, stacked: Stacked, work: Work) -> DressPlan:
    if not dress.items and not any(column.sets for column in dress.copies.columns):
        return undressed(card, stacked)
    from dechirer.core.dress.dress import make_dress

    return make_dress(brief, dress, facts, card, stacked, work)


def _check(known: Known) -> Iterator[Finding]:
    dress = known.of(Dress)
    if not dress.items:
        return
    from dechirer.core.dress.seen import DressSeen

    import_all("dechirer.core.dress.checks")
    seen = DressSeen(
        known.of(Brief),
        known.of(Construct),
        dress,
        known.units,
        known.part(BRIEF),
        known.part(CONSTRUCT),
        known.part(DRESS),
        known.memory,
    )
    yield from _check_copies(seen)


def _check_copies(seen: DressSeen) -> Iterator[Finding]:
    """What is found on the first copy, and what only other copies have: each once, with the first that has it."""
    from dechirer.core.dress.dress import make_dress

    told: dict[tuple[str, str], Finding] = {}
    first = structs.replace(seen.plan, weak=tuple(each for each in seen.plan.weak if not each.copy))
    for finding in CHECKS.run(make_dress, structs.replace(seen, plan=first)):
        told.setdefault((finding.code, finding.element), finding)
        yield finding
    on_others: dict[tuple[str, str], list[tuple[Finding, Copy]]] = {}
    for copy, dress in seen.plan.later_copies():
        checkpoint(f"checking the copy of row {copy.row + 1}", "")
        own = tuple(each for each in dress.items if each.item.id in (dress.own or ()))
        for finding in CHECKS.run(make_dress, structs.replace(seen, plan=dress, every=dress.items, own=own)):
            key = (finding.code, finding.element)
            if key not in told or SEVERITIES.index(finding.severity) < SEVERITIES.index(told[key].severity):
                on_others.setdefault(key, []).append((finding, copy))
    for (finding, copy), *more in on_others.values():
        others = len({copy.number for _, copy in more} - {copy.number})
        rest = f" and {others} more" if others else ""
        yield structs.replace(finding, title=f"{finding.title}, copy {copy.row + 1}: {copy.name[:MOST_LETTERS]}{rest}")


DRESS = Part(
    "dress",
    "dress",
    45,
    lambda known: (known.of(Brief), known.of(Dress), known.part(BRIEF), known.part(CONSTRUCT), known.part(STACK)),
    _make,
    check=_check,
)


def _live(known: Known) -> str:
    dress = known.of(Dress)
    items, faces = len(dress.items), len({item.face for item in dress.items})
    if not items:
        return "nothing on the faces yet"
    return f"{items} {plural(items, 'item')} on {faces} {plural(faces, 'face')}"


def _costs(known: Known) -> tuple[Cost, ...]:
    pieces = known.part(DRESS).piece_count
    return (Cost(pieces.key, f"{pieces.value:.0f}", plural(pieces.value, "piece"), 10),)


def _finds(known: Known) -> Iterator[tuple[str, str]]:
    for piece in known.part(DRESS).pieces:
        size = f"{piece.width.text(known.units)} by {piece.height.text(known.units)}"
        yield f"Piece: {piece.letter} {piece.name}, {size}", piece.id
    for item in known.of(Dress).items:
        yield f"On {item.face}: {item.name}", item.id


STATION = StationSpec(
    "dress",
    TITLE,
    ORDER,
    Dress,
    (STACK, DRESS),
    _live,
    "A face lies in front of you as it will be seen. Bring in art by the button, by dropping a file or by pasting; add "
    "words. Drag an item, or type into its measures; “across” and “down” say what it is kept to when the card changes. "
    "The recipe below makes its outline step by step: type a measure, or drag its name sideways. Hot marks show where "
    "the paper is too narrow; the small pictures show the card, and where everything lands on the flat piece.",
    _costs,
    _finds,
)
