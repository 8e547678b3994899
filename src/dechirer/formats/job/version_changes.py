"""What differs between two versions of a job, in the numbers a user compares cards by."""

from __future__ import annotations

from dechirer.core.plan import Plan

MOST_NAMED = 5


def describe_changes(old: Plan, new: Plan) -> str:
    """Return what differs from an old plan to a new one, as "mats 3 › 2, minutes 22 › 15"; or that nothing does."""
    before = {cost.figure: cost for cost in old.costs()}
    changes = []
    if old.job.name != new.job.name:
        changes.append(f"name “{old.job.name}” › “{new.job.name}”")
    for cost in new.costs():
        earlier = before.get(cost.figure)
        if earlier is not None and earlier.number != cost.number:
            changes.append(f"{cost.words} {earlier.number} › {cost.number}")
    pieces = {piece.id for piece in old.whole.pieces} ^ {piece.id for piece in new.whole.pieces}
    if pieces:
        changes.append(f"pieces that differ: {len(pieces)}")
    if not changes:
        return "the same numbers" if old.job != new.job else "the same as now"
    more = f" and {len(changes) - MOST_NAMED} more" if len(changes) > MOST_NAMED else ""
    return ", ".join(changes[:MOST_NAMED]) + more
