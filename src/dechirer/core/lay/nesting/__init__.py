"""Nesting: pieces laid close by their true outlines, holes included."""
