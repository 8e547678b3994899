"""Lengths whose Fourier transform is fast."""

from __future__ import annotations


def fast_length(length: int) -> int:
    """The next length, that one included, of factors 2, 3 and 5 alone."""
    while True:
        left = length
        for factor in (2, 3, 5):
            while left % factor == 0:
                left //= factor
        if left == 1:
            return length
        length += 1
