"""Keep: the book of what was done, what it teaches, and what of that a job is planned with."""

TITLE = "Keep"
ORDER = 80
"""What the strip calls it, and its place in the order of work."""
