"""Checks of the dress: art, paper, places, words."""
