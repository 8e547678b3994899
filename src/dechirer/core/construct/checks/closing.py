"""Checks of the card as it folds: no panel runs through another, and closed it is flat and square."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.card.folding import fold_steps
from dechirer.core.card.hidden import find_collision
from dechirer.core.card.stack import find_closed_box
from dechirer.core.construct.construct import make_construct
from dechirer.core.construct.seen import CardSeen
from dechirer.core.finding import CHECKS, Finding
from dechirer.core.length import format_size

FOLD_SAMPLES = 12
"""Openings of each folding step at which panels are tried for running into each other."""
SLACK = 0.05
"""A packet that is larger than its finished size by less than this closes square, in mm."""


@CHECKS.add("construct.folds-through", of=make_construct)
def find_panels_that_collide(seen: CardSeen) -> Iterator[Finding]:
    """No panel may have to go through another one while the card is folded in its order."""
    tree, slabs = seen.plan.tree, seen.plan.slabs
    steps = fold_steps(tree)
    if len(steps) < 2:  # panels that all fold at once go to and fro or lift; those have nothing to run into
        return
    names = {panel.id: panel.name for panel in tree.panels}
    for sample in range(1, FOLD_SAMPLES * len(steps)):
        closed = sample / (FOLD_SAMPLES * len(steps))
        met = find_collision(tree, slabs, closed)
        if met is not None:
            step = steps[min(len(steps) - 1, int(closed * len(steps)))]
            yield Finding(
                "construct.folds-through",
                "stop",
                f"The {names[met[0]]} runs into the {names[met[1]]}",
                f"It happens at the step “{step}”.",
                "The card cannot be folded so.",
                "base",
            )
            return


@CHECKS.add("construct.not-flat", "construct.not-square", of=make_construct)
def find_card_that_does_not_close(seen: CardSeen) -> Iterator[Finding]:
    """Closed, every panel must lie flat and within the front's outline."""
    plan, brief = seen.plan, seen.brief
    whole = find_closed_box(plan.tree)
    if any(hinge.closed_deg != 180.0 and not hinge.lifts for hinge in plan.tree.hinges):
        yield Finding(
            "construct.not-flat",
            "stop",
            "The card does not close flat",
            "A fold stays open.",
            "It does not go into an envelope.",
            "base",
        )
    elif len(plan.tree.panels) > 2 and (whole.width > brief.width.mm + SLACK or whole.height > brief.height.mm + SLACK):
        yield Finding(
            "construct.not-square",
            "look",
            "The packet does not close square",
            f"Closed it is {format_size(whole.width, whole.height, seen.units)}: panels reach past the front.",
            "It looks uneven and catches in the envelope.",
            "base",
            tuple(plan.kind.to_close_square(plan.kind.own(seen.construct), seen.card)),
        )
