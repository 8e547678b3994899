"""Checks of a money holder: the note fits what holds it, and what is cut out stays clear of edges and glue."""

import math
from collections.abc import Iterator

from dechirer.core.construct.kinds.money_holder import (
    BETWEEN_MM,
    FRAME_MM,
    PAST_MM,
    MoneyHolder,
    MoneySizes,
    make_money_holder,
)
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import format_length, format_size, make_length, parse_length
from dechirer.core.shape.affine import Points
from dechirer.core.shape.algebra import offset
from dechirer.core.shape.outline import bounds, is_inside


@CHECKS.add("construct.note-does-not-fit", "construct.straps-near-edge", "construct.glue-zone", of=make_money_holder)
def find_note_that_does_not_fit(seen: Seen[MoneyHolder]) -> Iterator[Finding]:
    """The note fits what holds it, and what is cut out stays clear of the edges."""
    wanted, units = seen.own, seen.units
    sizes = MoneySizes(wanted)
    if wanted.clearance.mm < 0:
        yield Finding(
            "construct.note-does-not-fit",
            "stop",
            "The note does not go into its holder",
            f"Rolled it is {format_length(sizes.roll.value, units)} thick, the hole "
            f"{format_length(sizes.hole.value, units)}."
            if wanted.holder == "straps"
            else f"The hole is {format_length(-wanted.clearance.mm, units)} smaller than the dome.",
            "It tears the strap, or the dome lifts the layers apart.",
            "base-hole-left",
            (Mend("Give it 1 mm clearance", (Change("construct.money_holder.clearance", parse_length("1 mm")),)),),
        )
    yield from (_check_straps if wanted.holder == "straps" else _check_dome)(seen, sizes)


@CHECKS.add("construct.holder-thick", "construct.small-parts", of=make_money_holder)
def find_bulk_and_small_parts(seen: Seen[MoneyHolder]) -> Iterator[Finding]:
    """A thick card and small parts are said."""
    wanted, made, units = seen.own, seen.made, seen.units
    thick = made.bulk.value if made.bulk is not None else 0.0
    yield Finding(
        "construct.holder-thick",
        "note",
        "With the note in, the card is thick",
        f"It stands {format_length(thick, units)} high, so it closes into no flat envelope.",
        "Give it by hand or in a box"
        + ("; flat, with its straps down, it can be posted and filled later." if wanted.holder == "straps" else "."),
        "base",
    )
    if wanted.holder == "dome":
        yield Finding(
            "construct.small-parts",
            "note",
            "A dome is a small part",
            "Domes and what they hold can choke small children.",
            "Keep it out of their reach.",
            "base-dome",
        )


def _within(outline: Points, ring: Points, frame: float) -> bool:
    """Whether a ring keeps that far inside an outline."""
    room = offset(outline, -frame, corners="mitre")
    return bool(room) and all(is_inside(room, point) for point in ring)


def _check_straps(seen: Seen[MoneyHolder], sizes: MoneySizes) -> Iterator[Finding]:
    wanted, made, units = seen.own, seen.made, seen.units
    outline = made.tree.root.outline
    if sizes.spacing.value < BETWEEN_MM:
        yield Finding(
            "construct.note-does-not-fit",
            "stop",
            "The note is too short for two straps",
            f"Its roll is {format_length(sizes.height.value, units)} long, {PAST_MM:.0f} mm of it past each strap.",
            "The straps run into each other.",
            "base-strap-left",
            (Mend("Hold it in a dome", (Change("construct.money_holder.holder", "dome"),)),),
        )
    elif not all(_within(outline, panel.outline, FRAME_MM) for panel in made.tree.panels[1:]):
        box = bounds([point for panel in made.tree.panels[1:] for point in panel.outline])
        factor = math.sqrt(2) if wanted.shape == "disc" else 1.0
        need = [
            make_length(max(now, math.ceil((side + 2 * FRAME_MM + 2) * factor)), units)
            for now, side in ((seen.card.width.value, box.width), (seen.card.height.value, box.height))
        ]
        if wanted.shape == "disc":
            need = [max(need, key=lambda each: each.mm)] * 2
        yield Finding(
            "construct.straps-near-edge",
            "stop",
            "The straps do not fit on the front",
            f"They take {format_size(box.width, box.height, units)} and want {FRAME_MM:.0f} mm of paper all round; "
            "they are not made smaller, because the note is not.",
            "The front tears at the straps.",
            "base-strap-left",
            (
                Mend(
                    f"Make the card {format_size(need[0].mm, need[1].mm, units)}",
                    (
                        Change("brief.width", need[0]),
                        Change("brief.height", need[1]),
                    ),
                ),
            ),
        )


def _name_dome(wanted: MoneyHolder, sizes: MoneySizes, units: str) -> str:
    if sizes.long:
        return f"{format_size(wanted.dome_length.mm, wanted.dome.mm, units)} with round ends"
    return f"{format_length(wanted.dome.mm, units)} across"


def _check_dome(seen: Seen[MoneyHolder], sizes: MoneySizes) -> Iterator[Finding]:
    wanted, made, units = seen.own, seen.made, seen.units
    roll = sizes.roll.value
    # The roll's corners lie in the round ends: what is straight between them is free to be added.
    straight = max(0.0, wanted.dome_length.mm - wanted.dome.mm)
    within = math.hypot(max(0.0, sizes.height.value - straight), roll)
    across = math.hypot(sizes.height.value, roll)
    if within > wanted.dome.mm or roll > wanted.depth.mm:
        larger = make_length(max(wanted.dome.mm, math.ceil(across + 2)), units)
        deeper = make_length(max(wanted.depth.mm, math.ceil(sizes.roll.value + 2)), units)
        yield Finding(
            "construct.note-does-not-fit",
            "stop",
            "The note does not go into its dome",
            f"The roll is {format_size(sizes.height.value, sizes.roll.value, units)}; the dome is "
            f"{_name_dome(wanted, sizes, units)} and {format_length(wanted.depth.mm, units)} deep.",
            "The dome does not close over it.",
            "base-dome",
            (
                Mend(
                    f"Use a dome of {format_length(larger.mm, units)}",
                    (
                        Change("construct.money_holder.dome", larger),
                        Change("construct.money_holder.depth", deeper),
                    ),
                ),
            ),
        )
    zone = sizes.glue_zone(bounds(made.tree.root.outline).middle)
    if not _within(made.tree.root.outline, zone, FRAME_MM):
        need = [math.ceil(each.value + 2 * FRAME_MM + 2) for each in (sizes.free_length, sizes.glue_free)]
        sides = max(seen.card.width.value, need[0]), max(seen.card.height.value, need[1])
        if wanted.shape != "rectangle":
            sides = (max(sides),) * 2
        wide, high = sides
        yield Finding(
            "construct.glue-zone",
            "stop",
            "No room is left to glue round the dome",
            f"With its flange and {format_length(wanted.free.mm, units)} free of glue it takes "
            f"{format_length(sizes.free_length.value, units)}, and {FRAME_MM:.0f} mm is wanted round that.",
            "Front and back come apart.",
            "base-dome",
            (
                Mend(
                    f"Make the card {format_size(wide, high, units)}",
                    tuple(
                        Change(f"brief.{side}", make_length(to, units))
                        for side, now, to in (
                            ("width", seen.card.width.value, wide),
                            ("height", seen.card.height.value, high),
                        )
                        if to > now
                    ),
                ),
            ),
        )
