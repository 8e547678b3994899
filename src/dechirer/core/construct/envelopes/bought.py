"""Bought envelopes: the standard ones by name, and whether the closed card goes into the one the maker has."""

from collections.abc import Iterator
from typing import Annotated

from dechirer.core.construct.attached import Attached
from dechirer.core.construct.envelopes.envelope import Envelope
from dechirer.core.construct.specs import ATTACHMENTS, Start
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Choices, Field
from dechirer.core.decide.values import Name, Size
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import format_size
from dechirer.core.paper.envelopes import (
    MOST_THICK_MM,
    SPARE_MM,
    BoughtEnvelope,
    find_least_inside,
    find_named_envelope,
)
from dechirer.core.paper.standards import load_sizes


def _names() -> Choices:
    names = [size.name.removesuffix(" envelope") for size in load_sizes() if size.kind == "envelope"]
    return tuple((name, name) for name in names)


class Bought(Decisions, frozen=True):
    """The envelope the card shall go into: a standard one by its name, or one of the maker's own by its inside."""

    name: Annotated[Name, Field("Bought envelope", choices=_names)]
    size: Annotated[Size | None, Field("Or its own inside", 40, 600, hint="as it is sold")] = None


def start_bought(at: Start) -> Bought:
    """The smallest standard envelope as large as the card, to be checked against it; the largest when none is."""
    need = sorted((at.card_width, at.card_height))
    sizes = [size for size in load_sizes() if size.kind == "envelope"]
    sizes.sort(key=lambda size: size.width_mm * size.height_mm)
    larger = (
        size
        for size in sizes
        if all(a <= b for a, b in zip(need, sorted((size.width_mm, size.height_mm)), strict=True))
    )
    return Bought(next(larger, sizes[-1]).name.removesuffix(" envelope"))


@ATTACHMENTS.add(
    "bought", title="Bought envelope", add="Bought envelope", order=90, decisions=Bought, start=start_bought
)
def keep_bought(_attached: Attached, _bought: Bought) -> None:
    """Nothing of it is cut: the closed card is checked against it."""


@CHECKS.add("construct.envelope-unknown", "construct.card-larger-than-envelope", of=keep_bought)
def find_card_larger_than_envelope(seen: Seen[Bought]) -> Iterator[Finding]:
    """The closed card goes into the envelope the maker has bought."""
    closed = seen.plan.closed
    width, height, bulk = closed.width.value, closed.height.value, closed.thickness.value
    better, name, units = seen.plan.bought, seen.own.name, seen.units
    own = seen.own.size
    envelope = find_named_envelope(name) if own is None else BoughtEnvelope("own", own.width.mm, own.height.mm)
    mends = []
    if better is not None:
        standard = (Change("construct.bought.name", better.name), Change("construct.bought.size", None))
        mends.append(Mend(f"Use a {better.name} envelope", standard))
    mends += [
        Mend(
            "Make an envelope for it",
            (
                Change("construct.bought", None),
                Change("construct.envelope", Envelope(seen.card.paper)),
            ),
        ),
        Mend("No bought envelope", (Change("construct.bought", None),)),
    ]
    if envelope is None:
        yield Finding(
            "construct.envelope-unknown",
            "look",
            f"There is no standard envelope {name}",
            "Its size is not known, so it cannot be checked.",
            "The card may not go in.",
            "envelope",
            tuple(mends),
        )
        return
    need = find_least_inside(width, height, bulk)
    inner = sorted((envelope.width, envelope.height))
    if need is not None and need[0] <= inner[0] + 1e-9 and need[1] <= inner[1] + 1e-9:
        return
    flat = sorted((width + SPARE_MM, height + SPARE_MM))
    thick = flat[0] <= inner[0] and flat[1] <= inner[1]
    why = f"{bulk:.1f} mm thick" if thick or need is None else "larger than it"
    most = f" None that is flat takes more than {MOST_THICK_MM:.0f} mm." if need is None else ""
    yield Finding(
        "construct.card-larger-than-envelope",
        "stop",
        f"The closed card does not go into {'your own' if own is not None else f'a {envelope.name}'} envelope",
        f"It is {format_size(width, height, units)} and {why}; the envelope is "
        f"{format_size(envelope.width, envelope.height, units)}, and {SPARE_MM:.0f} mm and the thickness are wanted to "
        f"spare each way.{most}",
        "It bulges, tears the envelope, or does not go in.",
        "envelope",
        tuple(mends),
    )
