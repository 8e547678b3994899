"""Dress: art, words and recipes on the faces as they are seen, and the outlines and lines that follow."""

TITLE = "Dress"
ORDER = 30
"""What the strip calls it, and its place in the order of work."""
