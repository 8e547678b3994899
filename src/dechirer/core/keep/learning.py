"""Learning from entries: times, the narrowest web a paper holds, how much is spoiled, and where a machine cuts.

Every value starts from the trade's and is moved by what was seen (`estimates.py`).
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable

from dechirer.core.keep.entries import STEP_WORDS, Entry, MadeUp, RunDone, Spoilt, WebTried
from dechirer.core.keep.estimates import (
    SPOILED_BEFORE,
    WEB_SOFT_MM,
    fit_threshold,
    interval,
    share_of,
    spread_of,
    update_normal,
)
from dechirer.core.keep.places import learn_places, learn_prints
from dechirer.core.learned import Learned
from dechirer.core.paper.strength import web_it_holds
from dechirer.core.press.records import Calibration, CornerTrial

TIME_SURE, BESIDES_SURE = 0.30, 1.0
"""A planned time is taken to be right to about a third before anything was timed; what is done besides, hardly at all
(from memory)."""
MACHINE_STRAYS, HANDS_STRAY, KINDS_DIFFER = 0.10, 0.15, 0.20
"""One run tells the time of a machine to about a tenth, that of hands to a sixth; kinds of steps of one hand differ by
a fifth (from memory)."""
BY_HAND = frozenset({"load", "fit", "hold", "besides"})
CAUSE_BEFORE, MOST_CAUSES = 0.0075, 6
"""Before anything is counted each cause has a quarter of what is spoiled (from memory); the most frequent are told."""


def learn(entries: Iterable[Entry]) -> tuple[Learned, ...]:
    """Everything that can be learned of some entries, the surest first of its kind."""
    known = list(entries)
    found = [
        *_learn_times((each for each in known if isinstance(each, RunDone)), "time"),
        *_learn_times((each for each in known if isinstance(each, MadeUp)), "making"),
        *_learn_webs([each for each in known if isinstance(each, WebTried)]),
        *_learn_spoiled(known),
        *learn_places([each for each in known if isinstance(each, CornerTrial)]),
        *learn_prints([each for each in known if isinstance(each, Calibration)]),
    ]
    return tuple(found)


def _learn_times(runs: Iterable[RunDone | MadeUp], prefix: str) -> Iterable[Learned]:
    """How many times its planned time each kind of step takes.

    Whoever is slow at one thing is slow at others: what several kinds of steps of one hand, or of one machine, have in
    common is learned first, and each kind from there.
    """
    ratios: dict[str, list[tuple[float, str]]] = {}
    for run in runs:
        for took in run.took:
            if took.planned > 0 and took.seconds > 0:
                ratios.setdefault(took.kind, []).append((took.seconds / took.planned, run.made))
    logs = {kind: [math.log(ratio) for ratio, _ in seen] for kind, seen in ratios.items()}
    hands = {kind for kind in logs if prefix == "making" or kind in BY_HAND}
    for group, stray in ((hands, HANDS_STRAY), (logs.keys() - hands, MACHINE_STRAYS)):
        common, sure = _in_common([logs[kind] for kind in sorted(group) if kind != "besides"], stray)
        for kind in (each for each in logs if each in group):
            before = (0.0, BESIDES_SURE) if kind == "besides" else (common, math.hypot(sure, KINDS_DIFFER))
            middle, deviation = update_normal(logs[kind], *before, stray)
            low, high = interval(middle, deviation, len(logs[kind]))
            yield Learned(
                f"{prefix}.{kind}",
                f"{STEP_WORDS.get(kind, kind)}, against the plan",
                math.exp(middle),
                math.exp(low),
                math.exp(high),
                len(logs[kind]),
                spread_of(logs[kind]),
                max(made for _, made in ratios[kind]),
                1.0,
                "×",
            )


def _in_common(kinds: list[list[float]], stray: float) -> tuple[float, float]:
    """What the ratios of several kinds of steps (logarithms) have in common, and how sure that is."""
    middles = [update_normal(own, 0.0, TIME_SURE, stray)[0] for own in kinds]
    return update_normal(middles, 0.0, TIME_SURE, math.hypot(stray, KINDS_DIFFER))


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


def _learn_spoiled(entries: list[Entry]) -> Iterable[Learned]:
    """The share of sheets that are spoiled, over all papers, and by the most frequent causes."""
    runs = [each for each in entries if isinstance(each, RunDone)]
    spoilt = [each for each in entries if isinstance(each, Spoilt)]
    sheets, bad = sum(each.sheets for each in runs), sum(each.sheets for each in spoilt)
    if not sheets:
        return
    of = max(sheets, bad)
    days = [each.made for each in runs] + [each.made for each in spoilt]
    made = max(days)
    value, low, high = share_of(bad, of)
    yield Learned("spoiled", "share of sheets spoiled", value, low, high, sheets, 0.0, made, SPOILED_BEFORE, "")
    causes: Counter[str] = Counter()
    for each in spoilt:
        causes[" ".join(each.cause.lower().split())] += each.sheets
    del causes[""]
    for cause, times in causes.most_common(MOST_CAUSES):
        value, low, high = share_of(times, of, CAUSE_BEFORE)
        words = f"share of sheets spoiled: {cause[:120]}"
        yield Learned(f"spoiled.{cause[:120]}", words, value, low, high, sheets, 0.0, made, CAUSE_BEFORE, "")
