"""Prints rows of measurements with their yardsticks."""

from __future__ import annotations

import statistics


def show(title: str, rows: list[tuple[str, str, str, str]]) -> None:
    """Print a table of (what, measured, yardstick, verdict)."""
    print(f"\n{title}")
    widths = [max(len(row[column]) for row in [("what", "measured", "yardstick", ""), *rows]) for column in range(4)]
    for row in [("what", "measured", "yardstick", ""), *rows]:
        print("  " + "  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip())


def spread(values: list[float]) -> str:
    """`median ms (least to most)`."""
    return f"{statistics.median(values):.1f} ms ({min(values):.1f} to {max(values):.1f})"


def verdict(holds: bool) -> str:
    """Whether a wanted bound holds in this run."""
    return "holds" if holds else "MISSED"
