"""Brief: what the finished card is. Typed figures, and the facts of each paper on hand."""

TITLE = "Brief"
ORDER = 10
"""What the strip calls it, and its place in the order of work."""
