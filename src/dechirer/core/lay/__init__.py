"""Lay: which piece goes where on which sheet, and how each sheet is loaded."""

TITLE = "Lay"
ORDER = 50
"""What the strip calls it, and its place in the order of work."""
