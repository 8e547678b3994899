"""Dechirer: from the finished paper card back to every flat piece, mat and run."""

__version__ = "0.1.0"
