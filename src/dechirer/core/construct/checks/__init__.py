"""Checks of the whole card: its folds, how it closes, what is cut in it, and a blank it may be made from."""
