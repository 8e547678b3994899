"""What the book knows that matters to one job, in words."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from html import escape

from dechirer.core.figure import format_minutes
from dechirer.core.keep.entries import Entry, RunDone, StockMoved
from dechirer.core.keep.stock import OnShelf, lacking, price_of
from dechirer.core.learned import Learned
from dechirer.core.needs import needs_of, pens_of
from dechirer.core.plan import Plan
from dechirer.core.press.records import Calibration, CornerTrial
from dechirer.core.words import plural


def job_lines(
    plan: Plan,
    entries: tuple[Entry, ...],
    learned: tuple[Learned, ...],
    shelf: dict[str, OnShelf],
    today: date | None = None,
) -> Iterator[str]:
    """What the book knows that matters to a job, a line each, as HTML: what is strong in it in <b>, names escaped."""
    keeping, job = plan.keeping, plan.job
    now = today or date.today()
    late = [each for each in entries if each.made > now.isoformat()]
    if late:
        days = f"{len(late)} {plural(len(late), 'entry', 'entries')}"
        yield f"<b>Is the clock right?</b> It says {now.isoformat()}, and {days} of the book were made later."
    low, high = format_minutes(keeping.low), format_minutes(keeping.high)
    yield f"<b>{format_minutes(keeping.minutes.value)}</b> in all, between {low} and {high}."
    spares = int(keeping.spares.value)
    advised = f"{spares} {plural(spares, 'spare')}, {keeping.spares.source}"
    yield f"Cut <b>{job.brief.count + spares}</b> for {job.brief.count}: {advised}."
    needs = needs_of(plan)
    short = [f"{escape(item)} ({amount:g})" for item, amount in lacking(needs, shelf).items()]
    yield f"<b>Lacking</b>: {', '.join(short)}." if short else "Nothing that was counted is lacking."
    pens = pens_of(plan)
    used_up = {item: need for item, need in needs.items() if item not in pens}
    price = price_of(used_up, shelf, keeping.minutes.value, job.keep.rate)
    if price.total:
        apart = f" ({price.materials:.2f} of it for materials)" if price.work else ""
        without = f", {len(price.unknown)} things without a price left out" if price.unknown else ""
        yield f"Costs <b>{price.total:.2f}</b>, {price.total / job.brief.count:.2f} a card{apart}{without}."
    yield from _corrections(plan, entries, now)
    yield from _last_times(plan, entries)
    papers = {paper.name for paper in job.brief.papers}
    for each in learned:
        if each.key.startswith("web.") and each.key.removeprefix("web.") in papers:
            yield f"{escape(each.words.capitalize())}: {each.value:.2f} mm ({each.rests_on})."


def _corrections(plan: Plan, entries: tuple[Entry, ...], now: date) -> Iterator[str]:
    """The corrections in force and how old they are."""
    machine, printer = plan.job.brief.machine.name, plan.job.brief.printer.name
    papers = {paper.name for paper in plan.job.brief.papers}
    trials = {each.mat: each for each in entries if isinstance(each, CornerTrial) and each.machine == machine}
    for mat, trial in trials.items():
        told = f"{trial.right:+.2f} mm across, {trial.down:+.2f} mm down"
        yield f"Corner of the mat ({escape(mat)}): {told}, tried {age_of(trial.made, now)}."
    pages = {each.paper: each for each in entries if isinstance(each, Calibration) and each.printer == printer}
    for paper, page in pages.items():
        if paper in papers:
            told = f"{page.right:+.2f} mm across, {page.down:+.2f} mm down"
            yield f"Print beside its cut on {escape(paper)}: {told}, measured {age_of(page.made, now)}."


def _last_times(plan: Plan, entries: tuple[Entry, ...]) -> Iterator[str]:
    """When the job was cut last, and its papers."""
    job = plan.job
    runs = [each for each in entries if isinstance(each, RunDone)]
    own = [each for each in runs if each.job == job.name]
    if own:
        last = own[-1]
        yield f"Cut last on {last.made}: {last.minutes:.0f} min, {last.planned:.0f} planned."
    used: dict[str, StockMoved] = {}
    for each in entries:
        if isinstance(each, StockMoved) and each.change < 0 and each.why.startswith("cut for "):
            used[each.item] = each
    for paper in job.brief.papers:
        if paper.name in used and not own:
            last_one = used[paper.name]
            named, why = escape(paper.name.capitalize()), escape(last_one.why.removeprefix("cut "))
            yield f"{named} was cut last on {last_one.made}, {why}."


def age_of(made: str, now: date) -> str:
    """How long ago a day was, in words."""
    days = (now - date.fromisoformat(made)).days
    if days < 0:
        return f"on {made}, a day still to come"
    return "today" if not days else f"{days} {plural(days, 'day')} ago"
