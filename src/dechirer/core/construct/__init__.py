"""Construct: from the finished card to every flat piece, as a tree of panels joined at hinges."""

TITLE = "Construct"
ORDER = 20
"""What the strip calls it, and its place in the order of work."""
