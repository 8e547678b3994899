"""Run: which tool does what in which order on each mat, the path it takes, and how long that lasts."""
