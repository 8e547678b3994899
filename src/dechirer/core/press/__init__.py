"""Press: what is printed before it is cut, on which pages, how well print and cut will fit."""

TITLE = "Press"
ORDER = 40
