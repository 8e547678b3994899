"""Fold: how the cut parts are put together, in which order, with which glue, and how long that takes."""

TITLE = "Fold"
ORDER = 70
"""What the strip calls it, and its place in the order of work."""
