"""Learning from entries: times, the narrowest web a paper holds, how much is spoiled, and where a machine cuts.

Little data moves little: every value starts from the trade's, with how sure that is, and is moved by what was seen in
proportion (conjugate normal updating; a beta posterior for shares; a grid for the threshold of webs). Medians and
median deviations are used where one bad day must not count (Rousseeuw and Croux 1993; 1.4826 makes the deviation that
of a normal one, and a median of n varies by 1.2533 of a mean).
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Iterable, Sequence

from dechirer.core.keep.entries import Entry, MadeUp, RunDone, Spoilt, WebTried
from dechirer.core.learned import Learned
from dechirer.core.paper.strength import web_it_holds
from dechirer.core.press.records import CornerTrial

SURE = 1.959964
"""A normal value lies within so many standard deviations in 95 of 100 cases."""
TIME_SURE = 0.30
"""A planned time is taken to be right to about a third before anything was timed (from memory)."""
LEAST_SPREAD = 0.03
WEB_SURE_MM, WEB_SOFT_MM = 0.25, 0.08
"""A paper's narrowest web is known to about so much by its weight; webs near it hold now and then (from memory)."""
SPOILED_BEFORE, SPOILED_WEIGHT = 0.03, 30.0
"""Of a hundred sheets about three are spoiled; that counts like thirty sheets seen (from memory)."""
CORNER_SURE_MM, TRIAL_MM = 4.0, 0.15
"""A corner may lie off by millimetres; one trial cut tells where to about so much (from memory)."""
MADE_OF_NORMAL, MEDIAN_LOSS = 1.4826, 1.2533
MOST_SPARES = 400
STEP_WORDS = {"pass": "tool at work", "load": "loading mats", "fit": "changing tools", "hold": "waiting"}


def learn(entries: Iterable[Entry]) -> tuple[Learned, ...]:
    """Everything that can be learned of some entries, the surest first of its kind."""
    known = list(entries)
    found = [
        *_learn_times((each for each in known if isinstance(each, RunDone)), "time"),
        *_learn_times((each for each in known if isinstance(each, MadeUp)), "making"),
        *_learn_webs([each for each in known if isinstance(each, WebTried)]),
        *_learn_spoiled(known),
        *_learn_places([each for each in known if isinstance(each, CornerTrial)]),
    ]
    return tuple(found)


def _learn_times(runs: Iterable[RunDone | MadeUp], prefix: str) -> Iterable[Learned]:
    """How many times its planned time each kind of step takes."""
    ratios: dict[str, list[tuple[float, str]]] = {}
    for run in runs:
        for took in run.took:
            if took.planned > 0 and took.seconds > 0:
                ratios.setdefault(took.kind, []).append((took.seconds / took.planned, run.made))
    for kind, seen in ratios.items():
        logs = [math.log(ratio) for ratio, _ in seen]
        middle, deviation = update_normal(logs, 0.0, TIME_SURE, TIME_SURE)
        yield Learned(
            f"{prefix}.{kind}",
            f"{STEP_WORDS.get(kind, kind)}: taken for each planned minute",
            math.exp(middle),
            math.exp(middle - SURE * deviation),
            math.exp(middle + SURE * deviation),
            len(seen),
            spread_of(logs),
            max(made for _, made in seen),
            1.0,
            "×",
        )


def spread_of(values: Sequence[float]) -> float:
    """The median deviation as that of a normal spread; 0 for fewer than two."""
    if len(values) < 2:
        return 0.0
    middle = _median(values)
    return MADE_OF_NORMAL * _median([abs(each - middle) for each in values])


def update_normal(
    values: Sequence[float], before: float, sure: float, single: float, least: float = LEAST_SPREAD
) -> tuple[float, float]:
    """The middle of what was held before and what was seen, each weighed by how sure it is, and how sure that is.

    With few values their spread is not trusted to be small: it is taken to be at least `single`, what one value is held
    to stray, by so much less as there are more.
    """
    count = len(values)
    if not count:
        return before, sure
    own = max(spread_of(values), least, single / count)
    seen = 1.0 / (MEDIAN_LOSS * own / math.sqrt(count)) ** 2
    held = 1.0 / sure**2
    return (seen * _median(values) + held * before) / (seen + held), 1.0 / math.sqrt(seen + held)


def _median(values: Sequence[float]) -> float:
    ordered, half = sorted(values), len(values) // 2
    return ordered[half] if len(ordered) % 2 else (ordered[half - 1] + ordered[half]) / 2


def _learn_webs(tried: list[WebTried]) -> Iterable[Learned]:
    """The narrowest web each paper holds."""
    papers: dict[str, list[WebTried]] = {}
    for each in tried:
        papers.setdefault(each.paper, []).append(each)
    for paper, own in papers.items():
        grams = next((each.grams for each in own if each.grams), 0.0)
        before = web_it_holds(grams) if grams else web_it_holds(200.0)
        value, low, high = fit_threshold([(each.width, each.held) for each in own], before)
        yield Learned(
            f"web.{paper}",
            f"narrowest web {paper} holds",
            value,
            low,
            high,
            len(own),
            WEB_SOFT_MM,
            max(each.made for each in own),
            before,
            "mm",
        )


def fit_threshold(seen: Sequence[tuple[float, bool]], before: float) -> tuple[float, float, float]:
    """The width (mm) at which webs hold as often as they tear, with its 95 % interval, from what was held before and
    webs that held or tore: a probit of fixed softness on a grid."""
    import numpy as np

    grid = np.linspace(0.05, max(4.0, 3 * before), 800)
    weight = -(((grid - before) / WEB_SURE_MM) ** 2) / 2
    erf = np.vectorize(math.erf)
    for (width, held), times in Counter(seen).items():  # a ladder's widths come again and again
        share = 0.5 * (1 + erf((width - grid) / (WEB_SOFT_MM * math.sqrt(2))))
        weight = weight + times * np.log(np.clip(share if held else 1 - share, 1e-9, 1.0))
    chance = np.exp(weight - weight.max())
    chance /= chance.sum()
    total = chance.cumsum()
    low, high = (float(np.interp(each, total, grid)) for each in (0.025, 0.975))
    return float((chance * grid).sum()), low, high


def _learn_spoiled(entries: list[Entry]) -> Iterable[Learned]:
    """The share of sheets that are spoiled, over all papers."""
    runs = [each for each in entries if isinstance(each, RunDone)]
    spoilt = [each for each in entries if isinstance(each, Spoilt)]
    sheets, bad = sum(each.sheets for each in runs), sum(each.sheets for each in spoilt)
    if not sheets:
        return
    value, low, high = share_of(bad, max(sheets, bad))
    made = max([*(each.made for each in runs), *(each.made for each in spoilt)])
    yield Learned("spoiled", "share of sheets spoiled", value, low, high, sheets, 0.0, made, SPOILED_BEFORE, "")


def share_of(bad: int, of: int) -> tuple[float, float, float]:
    """A share with its 95 % interval: the beta posterior of what was held before and what was seen, on a grid."""
    import numpy as np

    a, b = _beta(bad, of)
    grid = np.linspace(0.0005, 0.9995, 2000)
    log = (a - 1) * np.log(grid) + (b - 1) * np.log(1 - grid)
    chance = np.exp(log - log.max())
    total = chance.cumsum() / chance.sum()
    return a / (a + b), float(np.interp(0.025, total, grid)), float(np.interp(0.975, total, grid))


def _beta(bad: int, of: int) -> tuple[float, float]:
    return SPOILED_BEFORE * SPOILED_WEIGHT + bad, (1 - SPOILED_BEFORE) * SPOILED_WEIGHT + max(0, of - bad)


def spares_for(wanted: int, bad: int, of: int, certainty: float = 0.95) -> int:
    """How many spares to cut so that so many are good with a certainty: the least by the beta-binomial predictive."""
    a, b = _beta(bad, of)
    for spares in range(MOST_SPARES):
        total = wanted + spares
        if sum(_beta_binomial(number, total, a, b) for number in range(spares + 1)) >= certainty:
            return spares
    return MOST_SPARES


def _beta_binomial(number: int, total: int, a: float, b: float) -> float:
    """How likely so many of a total are bad, where the share of the bad is a beta's."""

    def log_beta(x: float, y: float) -> float:
        return math.lgamma(x) + math.lgamma(y) - math.lgamma(x + y)

    choose = math.lgamma(total + 1) - math.lgamma(number + 1) - math.lgamma(total - number + 1)
    return math.exp(choose + log_beta(number + a, total - number + b) - log_beta(a, b))


def _learn_places(trials: list[CornerTrial]) -> Iterable[Learned]:
    """Where each machine cuts in the corner of each mat."""
    groups: dict[tuple[str, str], list[CornerTrial]] = {}
    for each in trials:
        groups.setdefault((each.machine, each.mat), []).append(each)
    sides: tuple[tuple[str, Callable[[CornerTrial], float]], ...] = (
        ("right", lambda each: each.right),
        ("down", lambda each: each.down),
    )
    for (machine, mat), own in groups.items():
        for side, take in sides:
            values = [take(each) for each in own]
            middle, deviation = update_normal(values, 0.0, CORNER_SURE_MM, TRIAL_MM, 0.02)
            yield Learned(
                f"place.{machine}.{mat}.{side}",
                f"{machine}, {mat}: cut to the {side}" if side == "right" else f"{machine}, {mat}: cut lower",
                middle,
                middle - SURE * deviation,
                middle + SURE * deviation,
                len(own),
                spread_of(values),
                max(each.made for each in own),
                0.0,
                "mm",
            )
