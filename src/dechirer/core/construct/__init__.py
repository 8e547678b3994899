"""Construct: from the finished card to every flat piece, as a tree of panels joined at hinges."""
