"""Run: which tool does what in which order on each mat, the path it takes, and how long that lasts."""

TITLE = "Run"
ORDER = 60
"""What the strip calls it, and its place in the order of work."""
