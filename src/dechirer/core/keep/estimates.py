"""Estimates that move little where there is little data: each starts from what was held before, with how sure that is,
and is moved by what was seen in proportion (conjugate normal updating; a beta posterior for shares; a grid for a
threshold). Medians and median deviations are used where one bad day must not count (Rousseeuw and Croux 1993; 1.4826
makes the deviation that of a normal one, and a median of n varies by 1.2533 of a mean).
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence

SURE = 1.959964
"""A normal value lies within so many standard deviations in 95 of 100 cases."""
LEAST_SPREAD = 0.03
MADE_OF_NORMAL, MEDIAN_LOSS = 1.4826, 1.2533
FEW, FAR = 3, 1.5
"""Of fewer values none counts as further off than so many standard deviations."""
MEDIAN_WORTH, LEAST_FREEDOM = 0.37, 4.0
WEB_SURE_MM, WEB_SOFT_MM = 0.25, 0.08
"""A paper's narrowest web is known to about so much by its weight; webs near it hold now and then (from memory)."""
SPOILED_BEFORE, SPOILED_WEIGHT = 0.03, 30.0
"""Of a hundred sheets about three are spoiled; that counts like thirty sheets seen (from memory)."""
MOST_SPARES = 400


def interval(middle: float, deviation: float, count: int) -> tuple[float, float]:
    """The 95 % interval of a middle and how sure it is, after so many values were seen.

    The spread itself is only known as well as so few values tell, and a median deviation tells it about as well as 0.37
    times as many squares would (Rousseeuw and Croux 1993): a Student quantile takes the place of the normal one, by its
    expansion (Abramowitz and Stegun 26.7.5).
    """
    freedom, z = max(LEAST_FREEDOM, MEDIAN_WORTH * (count - 1)), SURE
    wide = z + (z**3 + z) / (4 * freedom) + (5 * z**5 + 16 * z**3 + 3 * z) / (96 * freedom**2)
    return middle - wide * deviation, middle + wide * deviation


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
    to stray, by so much less as there are more. One or two that lie further off than could be expected count as what
    could be (Huber 1964): that was a bad day.
    """
    count = len(values)
    if not count:
        return before, sure
    if count < FEW:
        most = FAR * math.hypot(sure, single)
        values = [min(max(each, before - most), before + most) for each in values]
    own = max(spread_of(values), least, single / count)
    seen = 1.0 / (MEDIAN_LOSS * own / math.sqrt(count)) ** 2
    held = 1.0 / sure**2
    return (seen * _median(values) + held * before) / (seen + held), 1.0 / math.sqrt(seen + held)


def _median(values: Sequence[float]) -> float:
    ordered, half = sorted(values), len(values) // 2
    return ordered[half] if len(ordered) % 2 else (ordered[half - 1] + ordered[half]) / 2


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


def share_of(bad: int, of: int, before: float = SPOILED_BEFORE) -> tuple[float, float, float]:
    """A share with its 95 % interval: the beta posterior of what was held before and what was seen, on a grid that is
    finer where shares are small."""
    import numpy as np

    a, b = _beta(bad, of, before)
    grid = np.linspace(0.01, 0.9999, 2000) ** 2
    log = (a - 1) * np.log(grid) + (b - 1) * np.log(1 - grid)
    chance = np.exp(log - log.max()) * np.sqrt(grid)  # the steps of the grid grow as its root
    total = chance.cumsum() / chance.sum()
    return a / (a + b), float(np.interp(0.025, total, grid)), float(np.interp(0.975, total, grid))


def _beta(bad: int, of: int, before: float = SPOILED_BEFORE) -> tuple[float, float]:
    return before * SPOILED_WEIGHT + bad, (1 - before) * SPOILED_WEIGHT + max(0, of - bad)


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
