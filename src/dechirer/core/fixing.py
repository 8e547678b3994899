"""What a fix may not do besides what it says: bring a new problem, lose or add a piece, sever one."""

from __future__ import annotations

from collections import Counter

from dechirer.core.finding import Finding, Mend
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import JobError
from dechirer.core.plan import Plan, Planner


def count_pieces(plan: Plan) -> Counter[str]:
    """Count the pieces of a plan by id."""
    return Counter({piece.id: piece.count for piece in plan.whole.pieces})


def find_harm(before: Plan, after: Plan, finding: Finding | None = None, *, may_change_pieces: bool = False) -> str:
    """Return what a fix did besides resolving its finding, in words; empty where it did nothing else.

    Args:
        finding: what it fixes; pieces of the element the finding is about may come and go (letters become one piece).
        may_change_pieces: whether the fix names the pieces it adds or removes.
    """
    problems = Counter(each.code for each in after.findings if each.severity == "stop")
    problems -= Counter(each.code for each in before.findings if each.severity == "stop")
    if problems:
        title = next(each.title for each in after.findings if each.code in problems)
        return f"it brings another problem: {title}"
    if may_change_pieces:
        return ""
    old, new = count_pieces(before), count_pieces(after)
    own = finding.element.partition("/")[0] if finding is not None else ""
    changed = [
        id for id in {*old, *new} if old[id] != new[id] and not (own and (id == own or id.startswith(f"{own}-")))
    ]
    return f"it adds or removes pieces: {', '.join(sorted(changed)[:3])}" if changed else ""


def fix_all(plan: Plan, planner: Planner, most: int = 40) -> tuple[Plan, list[str]]:
    """Make the safe fix of every finding, one after the other; a fix that does harm is left out.

    Returns:
        The plan after the fixes, and the labels of those that were made.
    """
    tried: set[tuple[str, str]] = set()
    made: list[str] = []
    while len(tried) < most:
        chosen = next_safe_fix(plan.findings, tried)
        if chosen is None:
            break
        finding, fix = chosen
        tried.add((finding.code, finding.element))
        try:
            after = planner.plan(apply_changes(plan.job, fix.changes))
        except JobError:
            continue
        if not find_harm(plan, after, finding):
            plan = after
            made.append(fix.label)
    return plan, made


def next_safe_fix(findings: tuple[Finding, ...], tried: set[tuple[str, str]]) -> tuple[Finding, Mend] | None:
    """Return the first finding that was not tried and has a safe fix, with that fix."""
    for finding in findings:
        fix = finding.safe_fix
        if fix is not None and (finding.code, finding.element) not in tried:
            return finding, fix
    return None
