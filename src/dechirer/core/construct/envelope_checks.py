"""Checks of envelopes: flaps that meet, and whether the closed card goes into a bought one."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.construct.envelope_shapes import STYLES
from dechirer.core.construct.setting import Made
from dechirer.core.finding import Finding, Mend
from dechirer.core.job.constructing import Envelope
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import format_length, format_size
from dechirer.core.paper.standards import load_sizes

SPARE_MM = 2.0
"""Least room each way for a card to slide into a bought envelope, besides its thickness (common sizes leave 1/8 in)."""
THICK_MM = 5.0
"""From about this thickness many postal services charge more (from memory; the local service's rules count)."""
TITLES = {
    "glued": "glued side flaps",
    "fold-over": "a fold-over back",
    "hexagon": "half-hexagon flaps",
    "petal": "petals",
}


def check_envelope(job: Job, made: Made) -> Iterator[Finding]:
    """Flaps must meet; a petal envelope wants a square card."""
    envelope = job.construct.envelope
    assert envelope is not None
    figures = {figure.key: figure for figure in made.figures}
    overlap = figures["envelope.overlap"].value
    fits = figures["envelope.fits"].source
    works = tuple(
        Mend(f"Use {TITLES[style]}", (Change("construct.envelope.style", style),))
        for style in STYLES
        if style in fits and style != envelope.style
    ) or (Mend("Use glued side flaps", (Change("construct.envelope.style", "glued"),)),)
    inner = figures["envelope.inner-width"].value, figures["envelope.inner-height"].value
    if envelope.style == "hexagon" and overlap < 0:
        yield Finding(
            "construct.flaps-apart",
            "stop",
            "construct",
            "The envelope's flaps do not meet",
            f"A gap of {format_length(-overlap, job.units)} is left: half-hexagon flaps meet only where 0.866 × the "
            "width is at least the height.",
            "The card falls out.",
            "envelope",
            works,
        )
    if envelope.style == "petal" and abs(inner[0] - inner[1]) > 3.0:
        yield Finding(
            "construct.petals-not-square",
            "look",
            "construct",
            "The petal envelope is larger than the card one way",
            f"Round petals want a square body; the card asks for {format_size(*inner, job.units)}.",
            "The card slides about in it.",
            "envelope",
            works,
        )


class BoughtEnvelope(Struct, frozen=True):
    """A standard envelope: its name and size in mm."""

    name: str
    width: float
    height: float


def find_bought_envelope(width: float, height: float, bulk: float) -> BoughtEnvelope | None:
    """The smallest standard envelope the closed card goes into, with SPARE_MM and its thickness to spare each way."""
    need = sorted((width + bulk + SPARE_MM, height + bulk + SPARE_MM))
    fits = []
    for size in load_sizes():
        inner = sorted((size.width_mm, size.height_mm))
        if size.kind == "envelope" and inner[0] >= need[0] and inner[1] >= need[1]:
            fits.append((inner[0] * inner[1], size.name, size.width_mm, size.height_mm))
    if not fits:
        return None
    _, name, wide, high = min(fits)
    return BoughtEnvelope(name.removesuffix(" envelope"), wide, high)


def find_named_envelope(name: str) -> BoughtEnvelope | None:
    """The standard envelope of that name, with or without the word envelope; or None."""
    wanted = name.lower().removesuffix(" envelope")
    for size in load_sizes():
        if size.kind == "envelope" and size.name.lower().removesuffix(" envelope") == wanted:
            return BoughtEnvelope(size.name.removesuffix(" envelope"), size.width_mm, size.height_mm)
    return None


def check_bought_envelope(
    job: Job, width: float, height: float, bulk: float, better: BoughtEnvelope | None
) -> Iterator[Finding]:
    """Whether the closed card of that size and thickness (mm) goes into the bought envelope the maker has."""
    if job.construct.bought is None:
        return
    envelope, units = find_named_envelope(job.construct.bought), job.units
    mends = []
    if better is not None:
        mends.append(Mend(f"Use a {better.name} envelope", (Change("construct.bought", better.name),)))
    mends += [
        Mend(
            "Make an envelope for it",
            (
                Change("construct.bought", None),
                Change("construct.envelope", Envelope(job.brief.base_paper)),
            ),
        ),
        Mend("No bought envelope", (Change("construct.bought", None),)),
    ]
    if envelope is None:
        yield Finding(
            "construct.envelope-unknown",
            "look",
            "construct",
            f"There is no standard envelope {job.construct.bought}",
            "Its size is not known, so it cannot be checked.",
            "The card may not go in.",
            "envelope",
            tuple(mends),
        )
        return
    need = sorted((width + bulk + SPARE_MM, height + bulk + SPARE_MM))
    inner = sorted((envelope.width, envelope.height))
    if need[0] <= inner[0] + 1e-9 and need[1] <= inner[1] + 1e-9:
        return
    flat = sorted((width + SPARE_MM, height + SPARE_MM))
    thick = flat[0] <= inner[0] and flat[1] <= inner[1]
    why = f"{bulk:.1f} mm thick" if thick else "larger than it"
    yield Finding(
        "construct.card-larger-than-envelope",
        "stop",
        "construct",
        f"The closed card does not go into a {envelope.name} envelope",
        f"It is {format_size(width, height, units)} and {why}; the envelope is "
        f"{format_size(envelope.width, envelope.height, units)}, and {SPARE_MM:.0f} mm and the thickness are wanted to "
        "spare each way.",
        "It bulges, tears the envelope, or does not go in.",
        "envelope",
        tuple(mends),
    )
