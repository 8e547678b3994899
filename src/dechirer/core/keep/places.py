"""Learning where things come to lie: the corner each mat is cut in, and print beside its cut, by paper."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence

from dechirer.core.keep.estimates import interval, spread_of, update_normal
from dechirer.core.learned import Learned, place_key
from dechirer.core.press.records import Calibration, CornerTrial

CORNER_SURE_MM, TRIAL_MM = 4.0, 0.15
"""A corner may lie off by millimetres; one trial cut tells where to about so much (from memory)."""
PRINT_SURE_MM, PRINT_MM = 1.5, 0.1
SCALE_SURE, SCALE = 0.5, 0.05
"""Print may lie off by more than a millimetre and be wrong in size by half of a hundredth; one page tells these to a
tenth of a millimetre and a twentieth of a hundredth (from memory)."""
LEAST_MM = 0.02
BY = {"marks": "read by marks", "edge": "by its edge"}


def learn_places(trials: Iterable[CornerTrial]) -> Iterator[Learned]:
    """Where each machine cuts in the corner of each mat (mm)."""
    groups: dict[tuple[str, str], list[CornerTrial]] = {}
    for each in trials:
        groups.setdefault((each.machine, each.mat), []).append(each)
    sides: tuple[tuple[str, str, Callable[[CornerTrial], float]], ...] = (
        ("right", "cut to the right", lambda each: each.right),
        ("down", "cut lower", lambda each: each.down),
    )
    for (machine, mat), own in groups.items():
        for side, words, take in sides:
            values = [take(each) for each in own]
            key, said = place_key(machine, mat, side), f"{machine}, {mat}: {words}"
            yield _learn(key, said, values, own, (CORNER_SURE_MM, TRIAL_MM), "mm")


def learn_prints(pages: Iterable[Calibration]) -> Iterator[Learned]:
    """Where print lies beside its cut (mm) and how much too wide and high it is (%), for each paper at a printer.

    What was typed in tells of the place alone.
    """
    groups: dict[tuple[str, str, str], list[Calibration]] = {}
    for each in pages:
        groups.setdefault((each.paper, each.printer, each.by), []).append(each)
    sides: tuple[tuple[str, str, Callable[[Calibration], float], tuple[float, float], str], ...] = (
        ("right", "print to the right", lambda each: each.right, (PRINT_SURE_MM, PRINT_MM), "mm"),
        ("down", "print lower", lambda each: each.down, (PRINT_SURE_MM, PRINT_MM), "mm"),
        ("wide", "print too wide", lambda each: each.wide, (SCALE_SURE, SCALE), "%"),
        ("high", "print too high", lambda each: each.high, (SCALE_SURE, SCALE), "%"),
    )
    for (paper, printer, by), own in groups.items():
        for side, words, take, sure, unit in sides:
            seen = own if unit == "mm" else [each for each in own if each.how == "scan"]
            if seen:
                key = f"print.{paper}.{printer}.{by}.{side}"[:160]
                said = f"{paper} at {printer}, {BY[by]}: {words}"[:200]
                yield _learn(key, said, [take(each) for each in seen], seen, sure, unit)


def _learn(
    key: str,
    words: str,
    values: list[float],
    seen: Sequence[CornerTrial | Calibration],
    sure: tuple[float, float],
    unit: str,
) -> Learned:
    middle, deviation = update_normal(values, 0.0, *sure, LEAST_MM)
    low, high = interval(middle, deviation, len(values))
    made = max(each.made for each in seen)
    return Learned(key, words, middle, low, high, len(values), spread_of(values), made, 0.0, unit)
