"""How narrow a web of paper may be, by its weight."""

from __future__ import annotations

import itertools

WEB_BY_GSM: tuple[tuple[float, float], ...] = ((60.0, 1.2), (120.0, 1.0), (160.0, 0.8), (220.0, 0.7), (300.0, 0.6))
"""Narrowest web in mm that survives weeding, by weight in g/m2 (common practice; a trial on the paper is better)."""


def web_it_holds(gsm: float) -> float:
    """The narrowest web in mm that paper of a weight (g/m2) holds, straight between known weights."""
    if gsm <= WEB_BY_GSM[0][0]:
        return WEB_BY_GSM[0][1]
    for (low, wide), (high, narrow) in itertools.pairwise(WEB_BY_GSM):
        if gsm <= high:
            return wide + (narrow - wide) * (gsm - low) / (high - low)
    return WEB_BY_GSM[-1][1]
