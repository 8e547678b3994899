"""A card that stands by itself wants heavy paper: the one check of it, for every construction that stands."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.construct.card import Card
from dechirer.core.finding import Finding
from dechirer.core.paper.weight import parse_weight

LEAST_STANDING_GSM = 250.0
"""What must stand wants about 110 lb cover, 290 to 300 g/m2 (common practice); under this it sags."""


def find_light_paper(card: Card) -> Iterator[Finding]:
    """Whether the base's paper is too light for a concertina to stand in."""
    grammage = parse_weight(card.paper_facts().paper.weight).gsm
    if grammage is not None and grammage < LEAST_STANDING_GSM:
        yield Finding(
            "construct.will-not-stand",
            "look",
            "This paper is light for a card that stands",
            f"It weighs {grammage:.0f} g/m²; concertinas want 110 lb cover, about 290 to 300 g/m² (common practice).",
            "The panels sag when the card is put up.",
            "brief.base_paper",
        )
