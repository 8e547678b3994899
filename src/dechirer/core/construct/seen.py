"""What the checks of the whole card look at."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.construct.card import Card
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.whole import ConstructPlan


class CardSeen(Struct, frozen=True):
    """The decisions up to here, the card that was asked for, and what came of it."""

    brief: Brief
    construct: Construct
    facts: BriefPlan
    card: Card
    plan: ConstructPlan
    units: str
