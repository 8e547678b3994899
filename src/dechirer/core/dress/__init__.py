"""Dress: art, words and recipes on the faces as they are seen, and the outlines and lines that follow."""
